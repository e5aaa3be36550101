"""Frames as they are built: tilts, holes, lengths, saw angles and weights, against hand values and an independent geometry."""

from __future__ import annotations

import cmath
import json
from math import asin, atan, cos, degrees, hypot, radians, sin, tan

import numpy as np
import pytest
from scipy.optimize import brentq
from scipy.spatial.transform import Rotation

from sundial.answers.frame.report import frame_report
from sundial.brief.read import brief_of
from sundial.cli import main
from sundial.errors import BriefError
from sundial.frames.a_frame import AFrame
from sundial.frames.ground import on_plumb_legs, square_to_ground
from sundial.frames.jack import Jack
from sundial.frames.kind import SLOPPY, Structure
from sundial.frames.legs import Legs
from sundial.frames.load_path import GRAVITY
from sundial.frames.loads import loosened, thrusts
from sundial.frames.pole import Pole
from sundial.frames.prop import Prop
from sundial.frames.wall import Wall
from sundial.frames.wedge import Wedge
from tests.core.conftest import brief_data, study_of

PROP = {"kind": "prop", "rail_points": [1.10], "lengths": [0.80], "base_holes": [1.50, 1.20, 0.90], "front_height": 0.30}
JACK = {"kind": "jack", "base": [0.9, -0.25], "rail_point": 1.2, "retracted": 0.72, "extended": 1.30, "speed": 0.01}


def framed(frame: dict, **changes):
    return study_of(**{"mount": {"kind": "stepped"}, "frame": frame, **changes})


# --- Chapter's reference values


def test_front_and_rear_leg_by_hand():
    legs = Legs(front_height=0.40, spacing=1.45)
    found = {piece.name: piece for piece in legs.pieces([35.0], 3.46, 4.6)}
    assert found["rear leg"].length == pytest.approx(1.232, abs=5e-4)
    assert found["base"].length == pytest.approx(1.188, abs=5e-4)
    assert (found["rear leg"].angle, found["rear leg"].foot) == (35.0, 0.0)


@pytest.mark.parametrize(
    ("front", "base", "slope", "height"),
    [(0.8, (0.9, -0.25), 7.0, 0.8 - 0.25 / cos(radians(7))), (2.1, (0.6, 0.15), -4.0, 2.1 + 0.15 / cos(radians(4))), (0.30, (0.9, -0.25), 0.0, 0.0)],
)  # fmt: skip
def test_what_carries_an_actuator_high_above_the_ground(front, base, slope, height):
    jack = Jack(front_height=front, slope=slope, frames=3, base=base, rail_point=1.2, stroke=(0.72, 1.30))
    lines = {line.name: line for line in jack.parts(30.0, None, {})}
    pieces = {piece.name: piece for piece in jack.pieces([30.0], 3.4, 4.6)}
    assert jack.back_height == pytest.approx(height, abs=1e-12)
    if height:
        foot, head = lines["back post"].ends
        assert head == lines["actuator"].start and foot[0] == head[0], "plumb, under the actuator's base"
        assert foot[1] == pytest.approx(foot[0] * tan(radians(slope)), abs=1e-12), "on the ground"
        assert (pieces["back post"].length, pieces["back post"].count) == (pytest.approx(height), 3)
    else:
        assert "back post" not in lines and "back post" not in pieces, "it stands on its own foot"


def test_prop_with_holes_by_hand():
    study = framed({**PROP, "base_holes": [1.50, 1.20, 0.90, 2.20]})
    report = frame_report(study.scene)
    assert [round(one.tilt, 2) for one in report.standings] == [31.29, 40.42, 45.82]
    assert [one.set_by["base_hole"] for one in report.standings] == [1.50, 1.20, 0.90]
    assert [(one.set_by["base_hole"], one.why) for one in report.unclosed] == [
        (2.20, "the prop is too short to bridge rail and base")
    ]
    assert report.unreached == [(0.0, 31.29), (31.29, 40.42), (40.42, 45.82), (45.82, 90.0)]
    assert study.scene.reachable.tolist() == [31.29, 40.42, 45.82]
    assert study.scene.array.clearance == 0.30


def test_rise_over_slope_and_over_run_by_hand():
    slope = Wedge(front_height=0.1, rise=0.5, slope_length=3.0)
    run = Wedge(front_height=0.1, rise=0.5, run=3.0)
    assert [round(one.holes[0].tilt, 2) for one in (slope, run)] == [9.59, 9.46]


# --- An independent geometry: intersections of circles in the complex plane


def meeting(centre: complex, radius: float, other: complex, far: float) -> complex | None:
    """The upper of the two points ``radius`` from ``centre`` and ``far`` from ``other``; None where the circles do not meet."""
    apart = abs(other - centre)
    if not abs(radius - far) < apart < radius + far:
        return None
    along = (apart**2 + radius**2 - far**2) / (2 * apart)
    aside = (radius**2 - along**2) ** 0.5
    unit = (other - centre) / apart
    return max((centre + unit * complex(along, side) for side in (aside, -aside)), key=lambda point: point.imag)


def random_frames(count: int) -> list[Prop | Jack | Legs]:
    rng = np.random.default_rng(4)
    frames: list[Prop | Jack | Legs] = []
    for number in range(count):
        p, length, q = (float(value) for value in rng.uniform(0.4, 2.0, 3))
        slope = float(rng.uniform(-8, 8))
        common = {"front_height": float(rng.uniform(0.1, 0.8)), "slope": slope}
        if number % 4 == 0:
            frames.append(Prop(rail_points=(p,), lengths=(length,), base_holes=(q,), **common))
        elif number % 4 == 1:
            frames.append(
                AFrame(rail_points=(p,), lengths=(length,), base_holes=(q,), legs=tuple(rng.uniform(1.8, 2.6, 2)), **common)
            )
        elif number % 4 == 2:
            frames.append(Legs(spacing=p, rear_heights=(common["front_height"] + length - 0.5,), **common))
        else:
            base = (float(rng.uniform(0.3, 1.2)), float(rng.uniform(-0.6, 0.1)))
            low = float(rng.uniform(0.4, 0.8))
            frames.append(Jack(base=base, rail_point=p, stroke=(low, low * float(rng.uniform(1.3, 1.8))), **common))
    return frames


def drawn(frame: Prop | Jack | Legs) -> list[float]:
    """Tilts of a frame by drawing it: circles that meet, the hinge at 0, the ground turned by its slope."""
    turn = cmath.rect(1, radians(frame.slope))  # ground falls toward the front: it rises behind the hinge
    if isinstance(frame, Legs):
        (rear,) = frame.rear_heights

        def over(tilt: float) -> float:
            """Height of the rail's rear point over the top of the rear leg, which stands where the point is."""
            rail = complex(0, frame.front_height) + cmath.rect(frame.spacing, radians(tilt))
            return rail.imag - (rear + rail.real * tan(radians(frame.slope)))

        return [] if over(0) * over(90) > 0 else [float(brentq(over, 0, 90, xtol=1e-10))]
    if isinstance(frame, Jack):
        base = complex(*frame.base) * turn
        ends = [meeting(0, frame.rail_point, base, length) for length in frame.stroke]
        return [degrees(cmath.phase(end)) for end in ends if end is not None]
    (p,), (length,), (q,) = frame.rail_points, frame.lengths, frame.base_holes
    if not isinstance(frame, AFrame):
        rail = meeting(0, p, q * turn, length)
        return [] if rail is None else [degrees(cmath.phase(rail))]
    point = meeting(0, p, complex(q), length)
    if point is None:
        return []
    front, back = frame.legs[0] * point / p, complex(frame.legs[1])  # both feet, the hinge at the top at 0
    return [abs(degrees(cmath.phase((front - 0) / (front - back)))) + frame.slope]


def test_three_hundred_frames_agree_with_circles_that_meet():
    checked = 0
    for frame in random_frames(300):
        theirs = drawn(frame)
        if isinstance(frame, Jack):
            try:
                low, high = frame.span or (0.0, 0.0)
            except BriefError:
                continue
            for tilt, length in ((low, frame.stroke[0]), (high, frame.stroke[1])):
                if 0.0 < tilt < 90.0 and len(theirs) == 2:
                    assert min(abs(tilt - other) for other in theirs) < 1e-6, frame
                    assert frame.length(tilt) == pytest.approx(length, abs=1e-9)
                    checked += 1
            continue
        mine = [hole.tilt for hole in frame.holes]
        inside = [tilt for tilt in theirs if 0 <= tilt <= 90]
        assert mine == pytest.approx(inside, abs=1e-6), frame
        assert len(frame.unclosed) == (0 if inside else 1)
        checked += 1
    assert checked > 200


# --- The true plane on sloping ground


@pytest.mark.parametrize(("tilt", "slope", "cross"), [(33.0, 7.0, 4.0), (12.0, -5.0, 9.0), (71.0, 3.0, -11.0)])
def test_a_frame_square_on_sloping_ground_is_a_rotation(tilt, slope, cross):
    # The ground's own axes: forward in the plane of the side view, out of the ground.
    normal = np.array([tan(radians(slope)), tan(radians(cross)), 1.0])
    normal /= np.linalg.norm(normal)
    forward = np.array([cos(radians(slope)), 0.0, -sin(radians(slope))])
    across = np.cross(normal, forward)  # f x r x u is left-handed here, so a rise to the rear is a turn about +across
    glass = Rotation.from_rotvec(across * radians(tilt)).apply(normal)
    found = square_to_ground(tilt, slope, cross)
    assert found.tilt == pytest.approx(degrees(np.arccos(glass[2])), abs=1e-9)
    assert found.turn == pytest.approx(-degrees(np.arctan2(glass[1], glass[0])), abs=1e-9)


def test_ground_that_falls_forward_adds_to_the_tilt_and_sideways_turns_toward_the_fall():
    assert square_to_ground(30.0, 6.0, 0.0).tilt == pytest.approx(36.0)
    # Facing south (180), the right hand as you look at the glass is east (90): the glass turns there.
    right = square_to_ground(30.0, 0.0, 5.0)
    assert right.turn < -5 and square_to_ground(30.0, 0.0, -5.0).turn == pytest.approx(-right.turn)
    steep, flat = on_plumb_legs(60.0, 5.0), on_plumb_legs(15.0, 5.0)
    assert abs(steep.turn) < abs(flat.turn)
    assert flat.turn == pytest.approx(-degrees(atan(tan(radians(5)) / tan(radians(15)))))


def test_plumb_legs_hold_the_tilt_that_their_tops_draw():
    for slope in (-9.0, 4.0, 12.0):
        legs = Legs(front_height=0.35, spacing=1.3, rear_heights=(0.9, 1.4), slope=slope)
        for hole in legs.holes:
            assert legs.rear_height(hole.tilt) == pytest.approx(hole.set_by["rear_height"], abs=1e-9)
    equal = Legs(front_height=0.5, spacing=1.3, rear_heights=(0.5,), slope=8.0)
    assert equal.holes[0].tilt == pytest.approx(8.0)  # equal legs follow the ground


def test_sloping_ground_feeds_the_energy():
    level, tipped = framed(PROP), framed({**PROP, "slope": 5.0, "cross_slope": 6.0})
    assert tipped.scene.reachable.min() > level.scene.reachable.min() + 5
    assert level.scene.azimuth == 180 and 165 < tipped.scene.azimuth < 175
    assert tipped.surface().azimuth == tipped.scene.azimuth


# --- Holes


def test_the_error_of_sloppy_drilling_is_that_of_a_hole_off():
    prop = Prop(front_height=0.3, rail_points=(1.1,), lengths=(0.8,), base_holes=(1.3,))
    (hole,) = prop.holes
    off = []
    for rail, length, base in ((SLOPPY, 0, 0), (0, SLOPPY, 0), (0, 0, SLOPPY)):
        drilled = Prop(front_height=0.3, rail_points=(1.1 + rail,), lengths=(0.8 + length,), base_holes=(1.3 + base,))
        off.append(abs(drilled.holes[0].tilt - hole.tilt))
    assert hole.error == pytest.approx(max(off), rel=0.02)
    assert hole.error > 1.5 * min(off)


def test_two_holes_of_one_tilt_are_told():
    # q and p^2 - l^2 over q set one tilt: both circles meet the bar twice.
    prop = Prop(front_height=0.3, rail_points=(1.1,), lengths=(0.7,), base_holes=(0.6, (1.1**2 - 0.7**2) / 0.6, 0.9))
    assert prop.twins == [(1, 2)] and len(prop.tilts) == 2


def test_forty_combinations_are_found_with_their_numbers():
    prop = Prop(
        front_height=0.3, rail_points=(1.0, 1.2), lengths=(0.7, 0.9), base_holes=tuple(0.5 + 0.1 * step for step in range(10))
    )
    tilts = [hole.tilt for hole in prop.holes]
    assert len(tilts) + len(prop.unclosed) == 40
    assert tilts == sorted(tilts) and [hole.number for hole in prop.holes] == list(range(1, len(tilts) + 1))


# --- Pieces


def test_a_mitred_leg_is_longer_on_one_side_by_what_its_cut_takes():
    legs = Legs(front_height=0.4, spacing=1.45, depth=0.095, slope=6.0)
    rear = next(piece for piece in legs.pieces([35.0], 3.46, 4.6) if piece.name == "rear leg")
    # The leg drawn: its rear face meets rail and ground 95 mm behind its front face.
    front_face = rear.length - 0.0475 * (tan(radians(35)) - tan(radians(6)))
    assert rear.heel == pytest.approx(front_face)
    assert rear.toe - rear.heel == pytest.approx(0.095 * (tan(radians(35)) - tan(radians(6))))


def test_a_wall_bracket_closes_its_triangle():
    wall = Wall(front_height=2.1, lower_height=1.6, frames=3)
    found = {piece.name: piece for piece in wall.pieces([25.0], 2.0, 4.0)}
    out, rise = 2.0 * cos(radians(25)), 2.1 - 1.6
    assert found["strut"].length == pytest.approx(hypot(out, rise))
    # The strut rises 17.8 degrees to the outer end, the rafter 25 back to the wall: 42.8 between them, however the whole is turned.
    lean = degrees(atan(rise / out))
    assert found["strut"].foot == pytest.approx(lean) and lean == pytest.approx(15.42, abs=0.01)
    assert found["strut"].angle == pytest.approx(25.0 + lean)
    assert found["strut"].seated == pytest.approx(90 - 25.0 - lean)
    assert found["ledger"].count == 2 and found["rafter"].count == 3


def test_what_the_phone_reads_on_the_back_leg():
    prop = AFrame(front_height=0.0, rail_points=(1.0,), lengths=(0.8,), base_holes=(1.0,), legs=(2.0, 1.7))
    (hole,) = prop.holes
    apex = 2.0 * sin(radians(hole.tilt))
    assert prop.readings(hole.tilt)["back leg"] == pytest.approx(degrees(asin(apex / 1.7)))


def test_what_the_phone_reads_on_an_actuator_over_sloping_ground():
    flat = Jack(front_height=0.4, base=(0.9, -0.25), rail_point=1.2, stroke=(0.72, 1.30))
    sloping = Jack(front_height=0.4, base=(0.9, -0.25), rail_point=1.2, stroke=(0.72, 1.30), slope=7.0)
    rise, run = 1.2 * sin(radians(25)) + 0.25, 1.2 * cos(radians(25)) - 0.9
    assert flat.readings(25.0)["actuator"] == pytest.approx(degrees(atan(rise / run)))
    # The same frame turned with its ground: everything reads seven degrees more.
    assert sloping.readings(32.0)["actuator"] == pytest.approx(degrees(atan(rise / run)) + 7)


# --- Weights


@pytest.mark.parametrize("tilt", [12.0, 37.0, 66.0])
def test_a_loosened_frame_drops_the_way_its_weight_falls(tilt):
    # Virtual work: the moment is the change of the weight's height with the angle.
    frames: list[tuple[Structure, float]] = [
        (Prop(front_height=0.4, overhang=0.3, rail_points=(1.0,), lengths=(0.8,), base_holes=(1.1,)), 0.0),
        (Pole(front_height=0.0, height=2.2, ends=(0, 80), offset=0.25), 0.25),
        (Pole(front_height=0.0, height=2.2, ends=(0, 80), offset=0.1, joint=0.9), 0.1),
    ]
    length, mass, small = 3.0, 140.0, 1e-5
    for frame, offset in frames:

        def height(angle: float, frame: Structure = frame, offset: float = offset) -> float:
            pivot = frame.pivot(length)
            assert pivot is not None
            return (length / 2 - pivot[0]) * sin(angle) + offset * cos(angle)

        found = loosened(frame, tilt, length, mass)
        assert found is not None
        slope = (height(radians(tilt) + small) - height(radians(tilt) - small)) / (2 * small)
        assert found.moment == pytest.approx(mass * GRAVITY * slope, rel=1e-6)
        assert found.drops == ("flatter" if slope > 0 else "steeper")


def test_the_hands_at_the_edge_by_hand():
    found = loosened(Prop(front_height=0.4, rail_points=(1,), lengths=(1,), base_holes=(1,)), 30.0, 3.46, 172.0)
    assert found is not None
    assert found.at_edge == pytest.approx(172 * 9.80665 * 1.73 * cos(radians(30)) / 3.46)
    assert found.people == 3


def test_thrust_times_stroke_is_the_work_of_lifting():
    jack = Jack(front_height=0.4, base=(0.9, -0.25), rail_point=1.2, stroke=(0.72, 1.30))
    low, high = jack.span or (0, 0)
    tilts = np.linspace(low, high, 4001)
    force = np.array([one.force for one in thrusts(jack, tilts.tolist(), 3.46, 172.0)])
    lengths = np.array([jack.length(tilt) for tilt in tilts])
    work = np.trapezoid(force, lengths)
    assert work == pytest.approx(172 * GRAVITY * 1.73 * (sin(radians(high)) - sin(radians(low))), rel=1e-5)
    assert lengths[0] == pytest.approx(0.72, abs=1e-9) and jack.travel((low, high)) == pytest.approx(lengths[-1] - lengths[0])


SCREW = {"base": [0.08, -0.72], "rail_point": 0.62, "retracted": 0.98, "extended": 1.26, "thrust": 900, "speed": 0.004}
POLE = {"kind": "pole", "height": 3.1, "offset": 0.11, "min_tilt": 10.0, "max_tilt": 50.0, "jack": SCREW}


def test_a_screw_jack_on_a_pole_sets_the_joint_within_its_ends():
    """The lengths by complex numbers: base and rail point about the joint; the stroke reaches 9.6 to 55.4 degrees, the joint 10 to 50."""
    report, structure = frame_report(framed(POLE).scene), framed(POLE).scene.structure
    tilts = [one.tilt for one in report.standings]
    assert (tilts[0], tilts[-1], len(tilts)) == (10.0, 50.0, 41)
    wide = framed({**POLE, "min_tilt": 0.0, "max_tilt": 80.0}).scene.structure
    low, high = wide.span
    assert (low, high) == (pytest.approx(9.608, abs=1e-3), pytest.approx(55.384, abs=1e-3))
    for tilt, wanted in ((low, 0.98), (high, 1.26)):
        assert abs(0.62 * cmath.exp(1j * radians(tilt)) - (0.08 - 0.72j)) == pytest.approx(wanted, abs=1e-9)
    actuator = next(line for line in structure.side_lines(30.0, 3.44) if line.name == "actuator")
    assert actuator.start == pytest.approx((0.08, 3.1 - 0.72))
    assert actuator.end == pytest.approx((0.62 * cos(radians(30)), 3.1 + 0.62 * sin(radians(30))))
    # The glass hangs 0.11 m before the joint, so that its weight steepens it: the jack is pulled.
    mass, at = report.moving_mass, next(one for one in report.thrusts if one.tilt == 30.0)
    assert at.force == pytest.approx(-mass * GRAVITY * 0.11 * sin(radians(30)) / at.lever)
    stroke = abs(0.62 * cmath.exp(1j * radians(50)) - (0.08 - 0.72j)) - abs(0.62 * cmath.exp(1j * radians(10)) - (0.08 - 0.72j))
    assert report.travel_seconds == pytest.approx(stroke / 0.004)


# --- What cannot be built


@pytest.mark.parametrize(
    ("frame", "path", "words"),
    [
        ({**PROP, "lengths": [3.5]}, "frame.lengths", "longer than rail and base together"),
        ({**PROP, "lengths": [0.1]}, "frame.lengths", "too short to bridge"),
        ({**PROP, "base_length": 1.3}, "frame.base_holes[0]", "1.5 m lies beyond the end of the bar (1.3 m)"),
        ({**PROP, "base_holes": [1.2, 0.9, 1.2]}, "frame.base_holes[2]", "there twice"),
        ({**PROP, "front_leg": 2.0}, "frame.back_leg", "two legs"),
        ({"kind": "pole", "height": 1.2, "max_tilt": 70.0}, "frame.height", "in the ground"),
        ({"kind": "pole", "height": 3.0, "min_tilt": 50.0, "max_tilt": 20.0}, "frame.max_tilt", "not be under"),
        ({**JACK, "retracted": 2.3, "extended": 2.6}, "frame.extended", "reaches no tilt"),
        ({**JACK, "extended": 0.5}, "frame.extended", "longer than retracted"),
        ({**JACK, "base": [0.0, 0.0]}, "frame.base", "no lever"),
        (
            {"kind": "legs", "support_spacing": 1.4, "front_height": 0.5, "rear_heights": [3.0]},
            "frame.rear_heights",
            "longer than",
        ),
        ({**POLE, "jack": {**SCREW, "extended": 0.9}}, "frame.jack.extended", "longer than retracted"),
        ({**POLE, "jack": {**SCREW, "retracted": 2.0, "extended": 2.2}}, "frame.jack.extended", "reaches no tilt"),
        ({**POLE, "min_tilt": 60.0, "max_tilt": 80.0}, "frame.jack.extended", "the joint turns from 60 to 80"),
        ({**POLE, "holes": [10, 20]}, "frame.holes", "has no holes"),
        ({"kind": "wedge", "rise": 0.5}, "frame.run", "either slope_length"),
        ({"kind": "wedge", "rise": 2.0, "slope_length": 1.5}, "frame.rise", "more than the board"),
        ({"kind": "wall", "lower_height": 9.0}, "frame.lower_height", "over the upper edge"),
        ({**PROP, "overhang": 9.0}, "frame.overhang", "longer than the glass"),
    ],
)
def test_what_cannot_be_built_is_refused_at_its_measure(frame, path, words):
    with pytest.raises(BriefError) as refused:
        frame_report(framed(frame).scene)
    assert refused.value.path == path
    assert words in refused.value.message


def test_a_frame_that_says_no_tilt_needs_the_mount_to():
    with pytest.raises(BriefError, match=r"mount\.tilts: give the list"):
        _ = framed({"kind": "legs", "support_spacing": 1.4}).scene.reachable
    with pytest.raises(BriefError, match="frame: is missing"):
        frame_report(study_of().scene)


def test_a_jack_reaches_what_its_stroke_reaches_and_says_its_worst(tmp_path, capsys):
    brief = tmp_path / "jack.json"
    brief.write_text(json.dumps(brief_data(mount={"kind": "stepped"}, frame={**JACK, "thrust": 900.0}, sky={"kind": "world"})))
    assert main(["frame", str(brief)]) == 0
    answer = json.loads(capsys.readouterr().out)
    tilts = [hole["tilt"] for hole in answer["holes"]]
    assert tilts[0] == answer["thrust"][0]["tilt"] and len(tilts) > 20
    worst = max(answer["thrust"], key=lambda one: abs(one["thrust"]))
    assert answer["worst_tilt"] == worst["tilt"]
    assert answer["travel_seconds"] == pytest.approx((1.30 - 0.72) / 0.01, abs=0.5)
    assert brief_of(json.loads(brief.read_text())).frame is not None
