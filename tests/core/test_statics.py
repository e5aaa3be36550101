"""Statics of frames in the wind: forces and moment close about any point, a harder gust never asks less, wind and footing agree."""

from dataclasses import replace
from math import atan2, cos, degrees, hypot, pi, radians

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from sundial.answers.footing.command import footing_answer
from sundial.answers.wind.command import wind_answer
from sundial.answers.wind.report import wind_report
from sundial.brief.read import brief_of
from sundial.errors import BriefError
from sundial.footing.posts import pier_weight
from sundial.frames.a_frame import AFrame
from sundial.frames.feet import Resultant, shared
from sundial.frames.jack import Jack
from sundial.frames.legs import Legs
from sundial.frames.load_path import GRAVITY
from sundial.frames.pole import Pole
from sundial.frames.prop import Prop
from sundial.frames.wall import Wall
from sundial.frames.wedge import Wedge
from sundial.study import studied
from sundial.wind.members import load_paths
from sundial.wind.pressure import standard_coefficients
from sundial.wind.stance import Rig, stance
from sundial.wind.standing import Air, ballast_for, pushes, weights

AIR = Air(1.225, standard_coefficients(), measured_at=None)
SLOPES = st.sampled_from([0.0, -12.0, 7.0, 20.0])


def cross(at, force):
    return at[0] * force[1] - at[1] * force[0]


@st.composite
def folding(draw, slope):
    """A folding A-frame whose spreader opens it by a drawn angle."""
    legs, opened = (draw(st.floats(1.6, 2.4)), draw(st.floats(2.4, 3.0))), draw(st.floats(35, 75))
    rail, back = draw(st.floats(0.5, 1.4)), draw(st.floats(0.5, 1.9))
    bar = (rail**2 + back**2 - 2 * rail * back * cos(radians(opened))) ** 0.5
    return AFrame(front_height=0.0, rail_points=(rail,), lengths=(bar,), base_holes=(back,), legs=legs, slope=slope)


@st.composite
def trestles(draw):
    """Racks of every kind on level and on falling ground, anchored or loose, with ballast on their feet."""
    kind, slope, front = (
        draw(st.sampled_from(["legs", "prop", "a-frame", "wedge", "jack"])),
        draw(SLOPES),
        draw(st.floats(0.0, 0.8)),
    )
    if kind == "legs":
        structure = Legs(front_height=front, spacing=draw(st.floats(0.8, 1.7)), slope=slope)
    elif kind == "prop":
        structure = Prop(
            front_height=front, rail_points=(1.1,), lengths=(0.9,), base_holes=(draw(st.floats(1.0, 1.7)),), slope=slope
        )
    elif kind == "a-frame":
        structure = draw(folding(slope))
    elif kind == "wedge":
        structure = Wedge(front_height=0.1, rise=0.5, slope_length=1.6, slope=slope)
    else:
        structure = Jack(
            front_height=front, base=(draw(st.floats(0.9, 1.4)), -0.3), rail_point=0.8, stroke=(0.7, 1.1), slope=slope
        )
    rig = Rig(
        structure=structure, length=2.0, breadth=3.0, area=6.0, moving=draw(st.floats(20, 120)), fixed=draw(st.floats(0, 150)),
        ballast=draw(st.floats(0, 900)), anchored=draw(st.booleans()),
    )  # fmt: skip
    return rig, draw(st.floats(max(5.0, slope + 5), 70.0))


@given(trestles(), st.sampled_from(["front", "back", "side"]), st.floats(0, 2500), st.floats(-3, 3), st.floats(-3, 3))
def test_forces_and_moment_close_about_any_point(made, direction, pressure, x, z):
    rig, tilt = made
    how = stance(rig, tilt)
    assume(how.feet is not None and how.feet[1][0] - how.feet[0][0] > 0.05)
    for push in pushes(rig, AIR, how)[direction]:
        loads = [(push.at, (push.level * pressure, push.up * pressure))] + [(w.at, (0.0, -w.newtons)) for w in weights(rig, how)]
        front, back = load_paths(rig, how, push, pressure).feet
        held = [
            (at, (-one.level * one.count, one.down * one.count)) for at, one in zip(how.feet, (front, back), strict=True)
        ]  # of the ground on the feet
        every = loads + held
        size = sum(abs(force[0]) + abs(force[1]) for _, force in every) + 1.0
        assert abs(sum(force[0] for _, force in every)) < 1e-9 * size
        assert abs(sum(force[1] for _, force in every)) < 1e-9 * size
        assert abs(sum(cross((at[0] - x, at[1] - z), force) for at, force in every)) < 1e-9 * size * 5


@given(trestles(), st.floats(0, 1500))
def test_loose_feet_slide_at_one_share_of_what_presses_them_and_one_that_lifts_takes_nothing(made, pressure):
    rig, tilt = made
    rig = replace(rig, anchored=False)
    how = stance(rig, tilt)
    assume(not getattr(rig.structure, "legs", None) and how.feet is not None and how.feet[1][0] - how.feet[0][0] > 0.05)
    for push in pushes(rig, AIR, how)["front"] + pushes(rig, AIR, how)["back"]:
        front, back = load_paths(rig, how, push, pressure).feet
        if min(front.down, back.down) > 1e-6:
            assert front.level * back.down == pytest.approx(back.level * front.down, abs=1e-6 * (front.down + back.down))
        elif max(front.down, back.down) > 1e-6:
            assert min(front, back, key=lambda one: one.down).level == 0.0


def test_the_share_of_the_level_force_is_continuous_where_a_foot_lifts():
    apart = (1.4, 0.3)
    for nearly in (-1e-7, 1e-7):
        front, back = shared(Resultant((300.0, -900.0), -nearly * 1000), apart, "friction")
        assert front == pytest.approx((300.0, -900.0), abs=1e-3) and back == pytest.approx((0.0, 0.0), abs=1e-3)


@given(st.data(), st.sampled_from([0, 1]), st.floats(0, 1200), st.floats(0, 900), st.booleans())
def test_the_back_leg_of_a_folding_frame_is_a_free_body(data, which, pressure, ballast, anchored):
    """Its foot, its spreader and its top bolt alone: no ballast passes through it, and the bolt takes the vector sum."""
    structure = data.draw(folding(data.draw(SLOPES)))
    assume(structure.holes)
    rig = Rig(structure=structure, length=2.0, breadth=3.0, area=6.0, moving=70.0, fixed=20.0, ballast=ballast, anchored=anchored)
    hole = rig.structure.holes[0]
    how = stance(rig, hole.tilt)
    push = [*pushes(rig, AIR, how)["front"], *pushes(rig, AIR, how)["back"]][which]
    found = load_paths(rig, how, push, pressure, hole.set_by)
    members = {one.name: one for one in found.members}
    leg, bar = (next(one for one in rig.structure.side_lines(hole.tilt, rig.length, hole.set_by) if one.name == name) for name in ("back leg", "spreader"))  # fmt: skip
    along = np.array(bar.end) - np.array(bar.start)
    bar_on_leg = members["spreader bar"].force * rig.structure.frames * along / np.hypot(*along)  # pressed pushes the leg away
    ground = np.array([-found.feet[1].level, found.feet[1].down]) * rig.structure.frames - [0, rig.ballast * GRAVITY]
    about_top = cross(np.array(leg.end) - leg.start, ground) + cross(np.array(bar.end) - leg.start, bar_on_leg)
    assert about_top == pytest.approx(0, abs=1e-7 * (1 + np.abs(ground).sum() + np.abs(bar_on_leg).sum()))
    assert members["top bolt"].force * rig.structure.frames == pytest.approx(np.hypot(*(ground + bar_on_leg)))
    heavier = {
        one.name: one.force
        for one in load_paths(replace(rig, ballast=rig.ballast + 200), how, push, pressure, hole.set_by).members
    }
    if not rig.anchored:
        assert heavier["spreader bar"] == pytest.approx(members["spreader bar"].force, abs=1e-6)


def test_forces_on_walls_and_poles_close():
    rng = np.random.default_rng(7)
    for _ in range(100):
        tilt, q = float(rng.uniform(3, 60)), float(rng.uniform(0, 1500))
        wall = Wall(front_height=2.4, lower_height=float(rng.uniform(0.8, 2.2)), overhang=float(rng.uniform(0, 0.3)), frames=3)
        rig = Rig(structure=wall, length=1.8, breadth=3.0, area=5.4, moving=75.0, anchored=True)
        how = stance(rig, tilt)
        lines = {line.name: line for line in wall.side_lines(tilt, 1.8)}
        for push in (one for each in pushes(rig, AIR, how).values() for one in each):
            upper, lower = load_paths(rig, how, push, q).reactions
            every = [
                (push.at, (push.level * q, push.up * q)), (how.on_glass(0.9), (0.0, -75 * GRAVITY)),
                (lines["glass"].end, (-3 * upper.level, 3 * upper.down)), (lines["strut"].start, (-3 * lower.level, 3 * lower.down)),
            ]  # fmt: skip
            size = sum(abs(f[0]) + abs(f[1]) for _, f in every)
            assert np.abs(np.sum([f for _, f in every], axis=0)).max() < 1e-9 * size
            assert abs(sum(cross(at, f) for at, f in every)) < 1e-9 * size * 4
        pole = Pole(front_height=3.0, height=3.0, ends=(0.0, 90.0), offset=float(rng.uniform(0, 0.3)), frames=1)
        rig = Rig(structure=pole, length=2.0, breadth=2.0, area=4.0, moving=80.0, fixed=60.0, anchored=True)
        how = stance(rig, tilt)
        for push in (one for each in pushes(rig, AIR, how).values() for one in each):
            found = load_paths(rig, how, push, q)
            (foot,) = found.reactions
            turned = cross(push.at, (push.level * q, push.up * q)) + cross(how.on_glass(1.0), (0.0, -80 * GRAVITY))
            assert {one.name: one.moment for one in found.members}["pole at its foot"] == pytest.approx(abs(turned), rel=1e-9)
            assert (foot.level, foot.down) == (pytest.approx(push.level * q), pytest.approx(140 * GRAVITY - push.up * q))


RACK = {
    "format": "crooked-sundial-brief", "version": 1, "name": "Rack",
    "site": {"latitude": 42.9, "longitude": -6.1, "elevation": 0, "timezone": "Europe/Madrid"},
    "sky": {"kind": "made-up", "name": "dry-upland"},
    "panel": {"power": 430, "length": 1.722, "width": 1.134, "mass": 21.5},
    "array": {"rows": 2, "columns": 3, "azimuth": 180, "clearance": 0.5},
    "mount": {"kind": "fixed", "tilt": 23},
    "frame": {"kind": "legs", "support_spacing": 3.2, "front_height": 0.5, "mass": 30, "frames": 2},
    "wind": {"gust": 10.6, "gust_height": "panel", "frame_mass": 120, "anchored": True, "factor": 1.5},
    "footing": {"kind": "post", "diameter": 0.3, "soil": "sand", "depth": 0.6},
}  # fmt: skip


def rack(gust=None, wind=None, footing=None, frame=None, **sections):
    made = {**RACK, **sections}
    made["wind"] = {**RACK["wind"], **(wind or {}), **({"gust": gust} if gust else {})}
    made["footing"] = {**RACK["footing"], **(footing or {})}
    made["frame"] = {**RACK["frame"], **(frame or {})}
    return studied(brief_of(made))


def test_a_slightly_harder_gust_never_asks_less():
    """Where the back foot begins to lift, between 10.6 and 10.7 m/s, the post at the front once lost half of what pushed it."""
    before = None
    for gust in np.arange(9.0, 14.0, 0.1):
        answer = footing_answer(rack(gust=float(gust)).scene)
        asked = [answer[key] for key in ("load_per_foot", "pull_per_foot", "level_per_foot", "depth")]
        assert before is None or all(now >= then - 1e-9 for now, then in zip(asked, before, strict=True)), gust
        before = asked


@st.composite
def built(draw):
    """Briefs of racks, poles and folding frames with what holds them."""
    slope = draw(st.sampled_from([0.0, 8.0]))
    frame = draw(st.sampled_from([
        {"kind": "legs", "support_spacing": 1.6, "front_height": 0.5}, {"kind": "legs", "support_spacing": 3.2, "front_height": 0.1},
        {"kind": "prop", "rail_points": [1.4], "lengths": [1.1], "base_holes": [1.5], "front_height": 0.3},
        {"kind": "pole", "height": 3.2, "offset": 0.1, "frames": 1},
    ]))  # fmt: skip
    if frame["kind"] != "pole":
        frame = {**frame, "slope": slope}
    tilt = studied(brief_of({**RACK, "frame": {**frame, "mass": 20}, "mount": {"kind": "stepped"}})).scene.structure.tilts[0] if frame["kind"] == "prop" else draw(st.floats(slope + 6, 60))  # fmt: skip
    footing = {
        "kind": draw(st.sampled_from(["post", "pier"])), "diameter": draw(st.sampled_from([0.3, 0.5, 0.63])), "depth": draw(st.floats(0.5, 2.2)),
        "soil": draw(st.sampled_from(["sand", "silt", "gravel"])), **draw(st.sampled_from([{}, {"feet": 7}, {"feet": 4}, {"stored": 120}])),
    }  # fmt: skip
    return {**RACK, "frame": {**frame, "mass": 20}, "mount": {"kind": "fixed", "tilt": tilt}, "footing": footing}


@given(built(), st.booleans(), st.floats(5, 45), st.floats(0.01, 5))
def test_no_depth_or_force_asked_falls_as_the_gust_rises(made, anchored, gust, more):
    def asked(strongest):
        wind = {**RACK["wind"], "anchored": anchored or made["frame"]["kind"] == "pole", "gust": strongest}
        answer = footing_answer(studied(brief_of({**made, "wind": wind})).scene)
        return [answer[key] for key in ("load_per_foot", "pull_per_foot", "level_per_foot", "depth")] + [
            answer["bearing"]["pressure"]
        ]

    for now, then in zip(asked(gust + more), asked(gust), strict=True):
        assert now >= then * (1 - 1e-9) - 1e-9


@given(trestles(), st.floats(5, 40), st.floats(0.01, 5))
def test_no_ballast_asked_falls_as_the_gust_rises(made, gust, more):
    rig, tilt = made
    rig = replace(rig, anchored=False, ballast=0.0)
    how = stance(rig, tilt)
    assume(how.feet is not None and how.feet[1][0] - how.feet[0][0] > 0.05)
    for sliding in (False, True):
        assert ballast_for(rig, AIR, tilt, gust + more, 1.5, sliding) >= ballast_for(rig, AIR, tilt, gust, 1.5, sliding) - 2e-3


@given(built())
def test_wind_and_footing_agree_where_it_gives_way(made):
    """With no factor in hand, a footing is enough up to the gust at which the wind says that it gives way, and no further."""

    def at(gust):
        return studied(brief_of({**made, "wind": {**RACK["wind"], "gust": gust, "factor": 1}}))

    report = wind_report(at(20.0))
    breaks = min((one.breaks for one in report.own if one.breaks is not None), default=None)
    if breaks is None or breaks > 115:
        assert footing_answer(at(110.0).scene)["enough"] is True
        return
    if breaks < 0.2:
        assert footing_answer(at(0.2).scene)["enough"] is False
        return
    assert footing_answer(at(breaks - 0.05).scene)["enough"] is True, breaks
    assert footing_answer(at(breaks + 0.05).scene)["enough"] is False, breaks


def test_the_feet_of_a_pole_share_alike_in_wind_and_footing():
    pole = {"kind": "pole", "height": 3.0, "mass": 30, "frames": 1}
    pier = {"kind": "pier", "diameter": 0.63, "depth": 0.95, "soil": "silt", "feet": 7}
    made = studied(brief_of({**RACK, "frame": pole, "footing": pier, "wind": {"gust": 18, "frame_mass": 120, "factor": 1}}))
    foot, blown = footing_answer(made.scene), wind_answer(made)
    assert blown["breaks_at"] == pytest.approx(18 * (foot["level_capacity"] / foot["level_per_foot"]) ** 0.5, rel=1e-6)
    assert blown["first"] == "breaks" and blown["foot"] == "pushed"


def test_what_gives_way_first_names_the_wind_that_does_it():
    """Anchored by light posts, a steep rack is pushed over with the wind behind; a tall narrow one is pulled out in front of it."""
    for tilt in (12, 30, 55):
        report = wind_report(rack(mount={"kind": "fixed", "tilt": tilt}, gust=20))
        point = report.own[0]
        each = dict(zip(("front", "back", "side"), point.by_direction, strict=True))
        assert point.breaks == pytest.approx(min(one for one in each.values() if one is not None))
        assert each[point.direction] == pytest.approx(point.breaks)
        assert dict(zip(("front", "back", "side"), point.ways, strict=True))[point.direction] == point.by_foot != ""


def test_a_screw_is_not_judged_as_a_pad():
    screw = {"kind": "screw", "rating": 20000, "reduction": 1.0, "soil": "clay", "depth": None}
    heavy = footing_answer(rack(gust=25, footing={**screw, "stored": 9000}).scene)
    assert heavy["bearing"] == {"pressure": None, "allowed": None} and heavy["enough"] is True
    assert "pressing" in " ".join(heavy["notes"])


def test_a_frame_upright_on_one_line_is_refused_in_words():
    upright = rack(
        mount={"kind": "fixed", "tilt": 90}, gust=25, wind={"carried_by": "railing", "feet": None}, frame={"support_spacing": 1.0}
    )
    for command in (wind_answer, lambda study: footing_answer(study.scene)):
        with pytest.raises(BriefError, match="one line") as error:
            command(upright)
        assert error.value.path == "wind.feet"
    held = rack(
        mount={"kind": "fixed", "tilt": 90},
        gust=25,
        wind={"carried_by": "railing", "feet": [0, 0.9]},
        frame={"support_spacing": 1.0},
    )
    assert max(-one["down"] for load in wind_answer(held)["loads"] for one in load["reactions"]) < 20000


def between(one, other):
    """Angle, degrees, between two lines that meet, whichever way they are drawn."""
    u, v = (np.array(line.end) - np.array(line.start) for line in (one, other))
    angle = degrees(np.arccos(np.clip(u @ v / (np.hypot(*u) * np.hypot(*v)), -1, 1)))
    return min(angle, 180 - angle)


@given(st.floats(5, 60), st.floats(0.3, 2.0), st.floats(0, 0.4))
def test_a_struts_cut_is_the_angle_between_strut_and_rafter(tilt, lower, overhang):
    wall = Wall(front_height=2.1, lower_height=lower, overhang=overhang)
    cut = {piece.name: piece for piece in wall.pieces([tilt], 1.9, 4.0)}["strut"]
    lines = {line.name: line for line in wall.side_lines(tilt, 1.9)}
    assert min(cut.angle, 180 - cut.angle) == pytest.approx(between(lines["strut"], lines["glass"]), abs=1e-6)
    start, end = lines["strut"].start, lines["strut"].end
    assert cut.length == pytest.approx(hypot(end[0] - start[0], end[1] - start[1]))
    assert cut.foot == pytest.approx(degrees(atan2(end[1] - start[1], start[0] - end[0])))


def test_the_manuals_strut_by_hand():
    """Tilt 25, ledgers at 2.1 and 1.6 m, 1.72 m of rafter: 42.8 degrees where it is lapped, 47.2 where it sits under the rafter."""
    wall = Wall(front_height=2.1, lower_height=1.6)
    cut = {piece.name: piece for piece in wall.pieces([25.0], 1.722, 4.0)}["strut"]
    assert (cut.angle, cut.seated) == (pytest.approx(42.8, abs=0.1), pytest.approx(47.2, abs=0.1))


def test_what_is_stored_presses_its_beams():
    """5 000 kg on four 89 x 114 of C24 over 2.4 m: 5 108 N/m each, by hand."""
    beam = {"name": "floor", "section": "89x114 C24", "span": 2.4, "spacing": 0.6, "members": 4, "outdoors": False}
    from sundial.answers.beams.command import beams_answer

    def floor(**changes):
        return beams_answer(rack(beams=[{**beam, **changes}], footing={"stored": 5000}).scene)["beams"][0]

    bare, full = floor(), floor(stored=True)
    per_metre = 5000 * GRAVITY / 4 / 2.4
    added = full["loads"]["weight, and what it carries"] - bare["loads"]["weight"]
    assert added == pytest.approx(4 * per_metre, rel=1e-9)
    bent = 5 * per_metre * 2.4**4 / (384 * 11e9 * 0.089 * 0.114**3 / 12)
    strained = per_metre * 2.4**2 / 8 / (0.089 * 0.114**2 / 6)
    assert full["margin"] == pytest.approx(min(2.4 / 180 / bent, 0.8 * 24e6 / 1.3 / strained), rel=0.05)
    assert bare["margin"] > 10 * full["margin"]
    assert floor(load=4 * per_metre)["margin"] == pytest.approx(full["margin"])
    two = beams_answer(rack(beams=[{**beam, "members": 2, "stored": True}] * 2, footing={"stored": 5000}).scene)["beams"]
    assert two[0]["margin"] == pytest.approx(full["margin"], rel=0.01) == two[1]["margin"]
    with pytest.raises(BriefError) as error:
        beams_answer(rack(beams=[{**beam, "stored": True}]).scene)
    assert error.value.path == "beams[0].stored"


def test_a_pier_weighs_on_the_soil_too():
    foot = footing_answer(rack(gust=12, footing={"kind": "pier", "diameter": 0.5, "depth": 1.0}).scene)
    area = pi / 4 * 0.25
    assert foot["bearing"]["pressure"] == pytest.approx((foot["load_per_foot"] + pier_weight(1.0, 0.5)) / area)


@pytest.mark.parametrize(("frame", "path"), [
    ({"kind": "legs", "support_spacing": 3.6}, "frame.support_spacing"),
    ({"kind": "legs", "support_spacing": 3.2, "overhang": 0.4}, "frame.support_spacing"),
    ({"kind": "prop", "rail_points": [1.0, 3.6], "lengths": [2.0], "base_holes": [2.0]}, "frame.rail_points[1]"),
    ({"kind": "jack", "base": [0.9, -0.3], "rail_point": 3.5, "retracted": 3.0, "extended": 3.6}, "frame.rail_point"),
    ({"kind": "pole", "height": 3, "jack": {"base": [0.1, -0.8], "rail_point": 1.9, "retracted": 1.6, "extended": 2.4}}, "frame.jack.rail_point"),
])  # fmt: skip
def test_a_hole_past_the_end_of_its_rail_is_refused(frame, path):
    with pytest.raises(BriefError, match="past the end of the rail") as error:
        _ = studied(brief_of({**RACK, "frame": frame, "mount": {"kind": "fixed", "tilt": 20}})).scene.structure
    assert error.value.path == path


@pytest.mark.parametrize("frame", [
    {"kind": "legs", "support_spacing": 3.44}, {"kind": "legs", "support_spacing": 3.0, "overhang": 0.44},
    {"kind": "prop", "rail_points": [1.2, 3.44], "lengths": [2.6], "base_holes": [2.0], "front_height": 0.3, "base_length": 2.4},
    {"kind": "jack", "base": [0.9, -0.3], "rail_point": 3.43, "retracted": 2.7, "extended": 3.4},
])  # fmt: skip
def test_every_hole_keeps_its_distance_from_both_ends(frame):
    from sundial.answers.cutting.command import cutting_answer

    mount = (
        {"kind": "fixed", "tilt": 20} if frame["kind"] == "legs" else {"kind": "hinge" if frame["kind"] == "jack" else "stepped"}
    )
    answer = cutting_answer(studied(brief_of({**RACK, "frame": frame, "mount": mount, "cutting": {"end_distance": 0.05}})).scene)
    holes = [(piece["length"], hole["at"]) for piece in answer["pieces"] for hole in piece["holes"]]
    assert len(holes) >= 2
    for length, at in holes:
        assert 0.05 - 1e-9 <= at <= length - 0.05 + 1e-9
    if frame["kind"] == "prop":
        assert next(piece["length"] for piece in answer["pieces"] if piece["name"] == "base bar") == pytest.approx(2.4)


@pytest.mark.parametrize("plate", [{"turn": 0}, {"turn": 0, "plate": 0.26}, {"plate": 0.25}, {"turn": 30, "bolts": 6}])
def test_bolts_on_or_near_the_edge_of_a_plate_are_refused(plate):
    with pytest.raises(BriefError) as error:
        brief_of({**RACK, "cutting": {"base": plate}})
    assert error.value.path == "cutting.base.bolt_circle"


def test_the_usual_plate_keeps_bolts_and_air_holes_on_it():
    from sundial.brief.model import BasePlateBrief
    from sundial.cutting.template import template

    for made in (BasePlateBrief(), BasePlateBrief(plate=0.256), BasePlateBrief(turn=0, plate=0.344)):
        drawn = template(made)
        for hole in (*drawn.bolts, *drawn.air):
            assert max(abs(hole.x), abs(hole.y)) + hole.radius < drawn.side / 2
