"""What holds a frame: posts by their own equation, screws, soils, settling, snow; and the beams that carry the panels."""

from math import cos, pi, radians

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from sundial.answers.beams.command import beams_answer
from sundial.answers.beams.own import own_beams
from sundial.answers.beams.report import beams_report, heat_gap
from sundial.answers.footing.command import footing_answer
from sundial.beams.bending import Load, bent, longest_span, margin, sag_line, side_by_side
from sundial.beams.sections import parse_section, usual_sections
from sundial.brief.read import brief_of
from sundial.errors import BriefError
from sundial.footing.posts import depth_needed, formula_depth, lateral_capacity, pier_weight
from sundial.footing.settling import remedy, settling
from sundial.footing.snow import pile_height, shape_coefficient, snow_on_glass
from sundial.footing.soils import soil_named, soils
from sundial.frames.load_path import GRAVITY
from sundial.study import studied
from sundial.wind.pressure import air_density, standard_coefficients

POLE = {
    "format": "crooked-sundial-brief", "version": 1, "name": "Pole",
    "site": {"latitude": 36.4, "longitude": -105.6, "elevation": 2300, "timezone": "America/Denver"},
    "sky": {"kind": "made-up", "name": "windy-mesa"},
    "panel": {"power": 410, "length": 1.722, "width": 1.134, "mass": 21.0},
    "array": {"rows": 2, "columns": 2, "azimuth": 180, "clearance": 1.4},
    "mount": {"kind": "stepped"},
    "frame": {"kind": "pole", "height": 3.1, "offset": 0.1, "holes": [10, 20, 30, 40, 50], "mass": 26, "frames": 1},
    "wind": {"gust": 36, "frame_mass": 120},
    "footing": {"kind": "pier", "diameter": 0.7, "soil": "sandy gravel", "frost_depth": 0.8, "depth": 2.2},
}  # fmt: skip


def study(**sections):
    return studied(brief_of({**POLE, **sections}))


def footing(**changes):
    return footing_answer(study(footing={**POLE["footing"], **changes}).scene)


@given(st.floats(50, 20000), st.floats(0.1, 1.5), st.floats(0.2, 5), st.sampled_from([15700.0, 23600.0, 31400.0]))
def test_a_depth_satisfies_its_own_equation(load, diameter, height, lateral):
    depth = depth_needed(load, diameter, height, lateral)
    assert formula_depth(load, diameter, height, lateral, depth) == pytest.approx(depth, rel=1e-9)
    assert lateral_capacity(depth, diameter, height, lateral) == pytest.approx(load, rel=1e-9)
    assert depth_needed(load * 1.3, diameter, height, lateral) > depth


def test_the_post_formula_by_hand():
    # d = 1.5 m, b = 0.4 m, h = 1.2 m in sand: A = 2.25 / (1.5 + 1.308) = 0.8013 m; S1 = 23.6 x 0.5 = 11.8 kPa; P = A S1 b / 2.34 = 1616 N.
    assert lateral_capacity(1.5, 0.4, 1.2, 23600) == pytest.approx(1616.2, abs=0.5)
    assert pier_weight(1.5, 0.4) == pytest.approx(24000 * pi * 0.04 * 1.5)


def test_a_pier_is_judged_by_level_load_uplift_and_frost():
    answer = footing()
    assert answer["depth"] == pytest.approx(max(answer["depth_for"].values()))
    assert answer["enough"] is (answer["depth"] <= 2.2)
    assert answer["uplift_margin"] == pytest.approx(pier_weight(2.2, 0.7) / answer["pull_per_foot"])
    assert answer["bearing"]["pressure"] == pytest.approx((answer["load_per_foot"] + pier_weight(2.2, 0.7)) / (pi / 4 * 0.49))
    assert answer["depth_for"]["uplift"] == pytest.approx(answer["pull_per_foot"] * 1.5 / (pi / 4 * 0.49 * 24000))
    shallow, frosty = footing(depth=1.0), footing(frost_depth=3.0)
    assert shallow["enough"] is False and "less than" in shallow["why"]
    assert frosty["enough"] is False and "frost" in frosty["why"] and frosty["depth"] == 3.0
    untold = footing(depth=None)
    assert untold["enough"] is None and untold["depth"] == pytest.approx(answer["depth"])
    assert footing(soil="clay")["depth"] > answer["depth"]


def test_a_screw_counts_its_rating_reduced_for_the_soil():
    answer = footing(kind="screw", rating=9000, reduction=0.6)
    assert answer["uplift_margin"] == pytest.approx(5400 / answer["pull_per_foot"])
    assert answer["enough"] is (answer["uplift_margin"] >= 1.5)
    with pytest.raises(BriefError) as error:
        footing(kind="screw")
    assert error.value.path == "footing.rating"


@pytest.mark.parametrize(("changes", "path"), [({"soil": "peat"}, "footing.soil"), ({"soil": "fill"}, "footing.soil"), ({"fresh_fill": True}, "footing.fresh_fill"), ({"fresh_fill": True, "kind": "screw", "rating": 9000}, "footing.fresh_fill")])  # fmt: skip
def test_what_bears_nothing_is_refused_with_the_reason(changes, path):
    with pytest.raises(BriefError, match="counted on") as error:
        footing(**changes)
    assert error.value.path == path


def test_soils_are_those_of_the_code():
    assert (soil_named("gravel").bearing, soil_named("gravel").lateral) == (144000, 31400)
    assert (soil_named("silt").bearing, soil_named("silt").lateral) == (72000, 15700)
    assert {soil.name for soil in soils() if soil.bearing is None} == {"peat", "fill"}


def test_snow_and_what_is_stored_press_on_the_feet():
    bare = footing()
    white = footing_answer(study(snow={"load": 0.9}).scene)
    wood = footing(stored=300)
    assert white["load_per_foot"] - bare["load_per_foot"] == pytest.approx(white["snow"]["on_glass"])
    assert wood["load_per_foot"] - bare["load_per_foot"] == pytest.approx(300 * GRAVITY)
    assert white["pull_per_foot"] == pytest.approx(bare["pull_per_foot"])


def test_snow_on_the_glass_by_tilt():
    assert [shape_coefficient(tilt) for tilt in (0, 30, 45, 60, 75)] == pytest.approx([0.8, 0.8, 0.4, 0.0, 0.0])
    assert shape_coefficient(75, slides=False) == 0.8
    assert snow_on_glass(40, 600, 12, True) == pytest.approx(0.8 * 20 / 30 * 600 * 12 * cos(radians(40)))
    assert pile_height(20, 600, 3) == 0.0  # nothing has slid off
    assert pile_height(60, 1000, 3) == pytest.approx((0.5 * 3 * 0.5) ** 0.5)


def test_uneven_settling_is_told_from_a_two_hundredth():
    first, second = settling([("2026-05-01", [0.010, 0.012, 0.011]), ("2026-11-01", [0.007, 0.0005, 0.006])], 1.6)
    assert first.worst == 0 and not first.uneven
    assert second.sunk == pytest.approx((0.003, 0.0115, 0.005))
    assert second.worst == pytest.approx(0.0085) and second.allowed == pytest.approx(0.008) and second.uneven
    with pytest.raises(BriefError, match="2 feet"):
        settling([("2026-05-01", [0.01, 0.0, 0.0]), ("2026-06-01", [0.01, 0.0])], 1.6)
    told = footing(
        levels=[{"date": "2026-01-01", "levels": [0.0, 0.0]}, {"date": "2026-06-01", "levels": [0.0, -0.02]}], spacing=2.0
    )
    assert told["settling"][1]["uneven"] and any("L/200" in note for note in told["notes"])


def bent_by_numbers(section, span, per_metre):
    """The middle of the bending line by adding up moment over stiffness twice, and the moment there, by plain sums."""
    count = 20001
    x = np.linspace(0, span, count)
    moment = per_metre * x * (span - x) / 2
    curvature = moment / (section.stiffness * section.inertia)
    step = x[1]
    slope = np.concatenate([[0.0], np.cumsum((curvature[1:] + curvature[:-1]) / 2 * step)])
    sag = np.concatenate([[0.0], np.cumsum((slope[1:] + slope[:-1]) / 2 * step)])
    line = sag - sag[-1] * x / span
    return abs(line[count // 2]), moment[count // 2]


@pytest.mark.parametrize("words", ["45x95 C24", "strut 41x41x2.5", "box 60x40x3 steel", "angle 50x70x5 aluminium"])
def test_beams_against_the_bending_line_added_up(words):
    section = parse_section(words)
    sag, moment = bent_by_numbers(section, 2.3, 640.0)
    found = bent(section, 2.3, 640.0)
    assert (found.sag, found.moment) == (pytest.approx(sag, rel=1e-6), pytest.approx(moment, rel=1e-9))


def test_sections_by_hand():
    timber = parse_section("45x95 C24")
    assert timber.inertia == pytest.approx(0.045 * 0.095**3 / 12) and timber.stiffness == 11e9
    assert timber.allowed("short", outdoors=True) == pytest.approx(0.7 * 24e6 / 1.3)
    assert timber.allowed("permanent", outdoors=False) == pytest.approx(0.6 * 24e6 / 1.3)
    box = parse_section("box 40x60x3 aluminium")
    assert box.inertia == pytest.approx((0.04 * 0.06**3 - 0.034 * 0.054**3) / 12) and box.stiffness == 70e9
    assert parse_section("strut 41x41x2.5").inertia == pytest.approx(7.7e-8 * 0.875)
    # An angle by small squares: the moment of inertia about its own level middle.
    angle = parse_section("angle 40x60x5 steel")
    ys = [(y + 0.5) * 1e-4 for y in range(600)]
    wide = [0.040 if y < 0.005 else 0.005 for y in ys]
    middle = sum(w * y for w, y in zip(wide, ys, strict=True)) / sum(wide)
    inertia = sum(w * 1e-4 * (y - middle) ** 2 for w, y in zip(wide, ys, strict=True))
    assert angle.inertia == pytest.approx(inertia, rel=1e-4)
    assert angle.modulus == pytest.approx(inertia / (0.06 - middle), rel=1e-4)
    for name in usual_sections():
        parse_section(name)


@pytest.mark.parametrize("words", ["oak", "45x95", "45 C24", "strut 50x50x3", "box 40x40x25 steel", "45x9500 C24", "0x95 C24"])
def test_sections_nobody_sells_are_refused_in_words(words):
    with pytest.raises(ValueError, match=words.split()[0][:4].split("x")[0]):
        parse_section(words)


def test_members_side_by_side_and_joined():
    one = parse_section("45x95 C16")
    two, deep = side_by_side(one, 2), side_by_side(one, 2, joined=True)
    assert two.inertia == pytest.approx(2 * one.inertia) and two.modulus == pytest.approx(2 * one.modulus)
    assert deep.inertia == pytest.approx(0.045 * 0.19**3 / 12) and deep.modulus == pytest.approx(0.045 * 0.19**2 / 6)


def test_the_longest_span_meets_its_limit_exactly():
    beam = {"name": "purlin", "section": "45x95 C24", "span": 1.8, "spacing": 0.9}
    snow = {"load": 0.8}
    found = beams_answer(study(beams=[beam], snow=snow).scene)["beams"][0]
    at_limit = beams_answer(study(beams=[{**beam, "span": found["max_span"]}], snow=snow).scene)["beams"][0]
    assert at_limit["margin"] == pytest.approx(1.0, rel=1e-9)
    assert found["margin"] == pytest.approx(min(found["limit"] / found["deflection"], found["allowed"] / found["stress"]))
    assert found["limit"] == pytest.approx(0.01)
    # Weight alone, at the flattest tilt: panels and the beam itself, square to the glass.
    own = 0.045 * 0.095 * 420
    weight = (21.0 / (1.722 * 1.134) * 0.9 + own) * GRAVITY * cos(radians(10))
    assert found["loads"]["weight"] == pytest.approx(weight)
    # With snow and wind: at each tilt the weight, the snow twice across the slope, and the wind pressing on 0.9 m; the worst of them.
    panel = (21.0 / (1.722 * 1.134) * 0.9 + own) * GRAVITY
    down, up = [], []
    for tilt in (10, 20, 30, 40, 50):
        c, q = cos(radians(tilt)), 0.5 * air_density(2300) * 36**2 * (max(3.1 + 0.1 * cos(radians(tilt)), 2) / 10) ** 0.32
        press, lift = (float(one(np.array([tilt]))[0]) for one in (standard_coefficients().press, standard_coefficients().lift))
        white = 0.8 * min(1, (60 - tilt) / 30) * 800 * 0.9 * c * c
        down.append(panel * c + white + press * q * 0.9)
        up.append(lift * q * 0.9 - panel * c)
    assert found["loads"]["weight, snow and wind pressing"] == pytest.approx(max(down), rel=1e-3)
    assert found["loads"]["wind lifting"] == pytest.approx(max(up), rel=1e-3)
    with pytest.raises(BriefError) as error:
        beams_answer(study(beams=[beam, {**beam, "section": "pine"}]).scene)
    assert error.value.path == "beams[1].section"
    with pytest.raises(BriefError, match="empty"):
        beams_answer(study().scene)


def test_heat_gaps_of_the_manual():
    gap = heat_gap("aluminium", 7.5, 50)
    assert gap.change == pytest.approx(0.00866, abs=1e-5) and gap.beside_steel == pytest.approx(0.0042, abs=5e-5)


def test_settling_is_told_in_words_with_what_levels_it_again():
    four = [("2026-11-01", [-0.002, 0.0115, 0.0105, 0.0098]), ("2026-05-01", [0.010, 0.012, 0.011, 0.010])]
    assert remedy(four, 0.003) == "Front left sank 12 mm since May 2026: shim 12 mm or turn the jack 3.9 turns."
    assert remedy(four, None) == "Front left sank 12 mm since May 2026: shim 12 mm."
    two = [("2026-03-01", [0.0, 0.0]), ("2026-09-01", [-0.0254, -0.0127])]
    assert remedy(two, 0.0127, "us") == "The left foot sank 1 in since March 2026: shim 1/2 in or turn the jack 1 turn."
    three = [("2026-03-01", [0.0, 0.0, 0.0]), ("2026-09-01", [-0.020, -0.030, 0.001])]
    told = remedy(three, None)
    assert told.index("Foot 2 sank 30 mm") < told.index("foot 1 sank 20 mm") and "shim 31 mm" in told
    assert remedy(four[:1], 0.003) == "" and remedy([("2026-03-01", [0, 0]), ("2026-09-01", [0, -0.001])], None).startswith(
        "Level since March 2026"
    )


@pytest.mark.parametrize(("span", "beyond"), [(2.3, (0.6, 0.0)), (1.9, (0.45, 0.8)), (1.2, (0.0, 1.4)), (3.1, (0.0, 0.0))])
def test_a_beam_that_reaches_beyond_its_supports_by_finite_elements(span, beyond):
    """Bending line and moments of 400 cubic elements over two supports; the tip of one overhang by the closed formula too."""
    section, w = parse_section("45x120 C24"), 730.0
    rigidity = section.stiffness * section.inertia
    whole, number = span + sum(beyond), 400
    size = whole / number
    nodes = np.linspace(0, whole, number + 1)
    supports = [beyond[0], beyond[0] + span]
    nodes = np.sort(np.unique(np.round(np.concatenate([nodes, supports]), 9)))
    stiff, force = np.zeros((2 * len(nodes), 2 * len(nodes))), np.zeros(2 * len(nodes))
    for at, size in enumerate(np.diff(nodes)):
        k = rigidity / size**3 * np.array([[12, 6 * size, -12, 6 * size], [6 * size, 4 * size**2, -6 * size, 2 * size**2], [-12, -6 * size, 12, -6 * size], [6 * size, 2 * size**2, -6 * size, 4 * size**2]])  # fmt: skip
        stiff[2 * at : 2 * at + 4, 2 * at : 2 * at + 4] += k
        force[2 * at : 2 * at + 4] += w * np.array([size / 2, size**2 / 12, size / 2, -(size**2) / 12])
    held = [2 * int(np.argmin(abs(nodes - place))) for place in supports]
    free = [one for one in range(len(force)) if one not in held]
    moved = np.zeros(len(force))
    moved[free] = np.linalg.solve(stiff[np.ix_(free, free)], force[free])
    line = sag_line(section, span, w, beyond)
    assert line[0][0] == pytest.approx(-beyond[0]) and line[-1][0] == pytest.approx(span + beyond[1])
    for at, sag in line[::20]:
        assert sag == pytest.approx(np.interp(at + beyond[0], nodes, moved[::2]), abs=2e-6)
    curve = np.gradient(np.gradient(moved[::2], nodes), nodes)
    found = bent(section, span, w, beyond)
    assert found.moment == pytest.approx(np.abs(curve[3:-3]).max() * rigidity, rel=0.01)
    if beyond[1] == 0 < beyond[0]:
        a, tip = beyond[0], -(line[0][1])
        assert -tip == pytest.approx(w * a * (3 * a**3 + 4 * a**2 * span - span**3) / (24 * rigidity))


def test_longest_span_of_a_beam_with_a_free_end_is_where_it_has_nothing_to_spare():
    section, load = parse_section("45x120 C24"), Load("snow", 900.0, "medium")
    longest = longest_span(section, [load], True, (0.5, 0.0))
    assert margin(section, longest, load, True, (0.5, 0.0)) == pytest.approx(1.0, abs=1e-6)
    assert margin(section, longest * 1.02, load, True, (0.5, 0.0)) < 1
    assert longest_span(section, [load], True, (3.5, 0.0)) == 0.0  # the free end alone is too long
    assert longest_span(section, [load], True, (1e-9, 0.0)) == pytest.approx(longest_span(section, [load], True), rel=1e-4)


def test_a_floors_beam_carries_what_lies_on_it_and_no_glass():
    told = {"name": "joist", "section": "45x195 C24", "span": 2.6, "spacing": 0.6, "load": 1150.0}
    glass, floor = (
        beams_answer(study(beams=[told | {"carries": what}], snow={"load": 0.8}).scene)["beams"][0] for what in ("glass", "floor")
    )
    own = 0.045 * 0.195 * 420 * GRAVITY
    assert floor["loads"] == {"its own weight, and what it carries": pytest.approx(1150 + own)}
    assert floor["load"] < glass["load"] and floor["margin"] > glass["margin"]


def test_a_note_names_the_worst_beam_and_what_would_do():
    weak = {"name": "weak", "section": "45x95 C24", "span": 3.0, "spacing": 1.4}
    strong = {"name": "strong", "section": "45x195 C24", "span": 1.0, "spacing": 0.9}
    report = beams_report(study(beams=[strong, weak], snow={"load": 0.8}).scene)
    assert report.beams[1].margin < 1 and report.notes[0].startswith("The worst of them is weak")
    members = int(report.notes[1].split()[0])
    enough, fewer = (
        beams_report(study(beams=[weak | {"members": many}], snow={"load": 0.8}).scene).beams[0].margin
        for many in (members, members - 1)
    )
    assert enough >= 1 > fewer
    assert f"{report.beams[1].max_span:.2f} m" in report.notes[2]


def test_the_frames_own_pieces_as_beams_by_hand():
    """Three frames 0.8 m apart under 2.288 m of glass: the middle one carries a bay, the outer ones half a bay and 0.344 m."""
    frame = {"kind": "legs", "front_height": 1.2, "overhang": 0.5, "support_spacing": 2.0, "frames": 3}
    scene = study(frame=frame, wind={"gust": 30.0, "width": 1.6}, mount={"kind": "fixed", "tilt": 25}).scene
    own = {one.name: one for one in own_beams(scene)}
    breadth, length = scene.array.breadth, scene.array.slope_length
    rail = own["rail"]
    assert (rail.span, rail.beyond) == (2.0, (pytest.approx(0.5), pytest.approx(length - 2.5, abs=0.01)))
    assert rail.spacing == pytest.approx(max(0.4 + (breadth - 1.6) / 2, 0.8))
    assert own["purlin"].span == pytest.approx(0.8) and own["purlin"].beyond == (0.0, 0.0)
    assert own["purlin, its end"].beyond == (pytest.approx((breadth - 1.6) / 2), 0.0)
    assert own_beams(study(frame=None).scene) == ()
