"""What a build stands on: heights, roof slopes, and what each fixing takes, by statics worked out by hand (manual, chapter 9)."""

from __future__ import annotations

from math import cos, dist, hypot, radians, sin, sqrt

import numpy as np
import pytest

from sundial.answers.wind.report import refuse_wind, wind_report
from sundial.errors import BriefError
from sundial.frames.load_path import GRAVITY, Burden
from sundial.sun import Site
from sundial.wind.fixings import driving, gust_of_fixings, worst_fixing
from sundial.wind.pressure import air_density
from sundial.wind.site import air_of, gusts_of, rig_of, stand_in
from sundial.wind.standing import standing
from tests.core.conftest import GREENSBORO, study_of

SEA = {**GREENSBORO, "elevation": 0.0}
PANEL = {"power": 430.0, "length": 1.7, "width": 1.1, "gamma": -0.0034, "mass": 20.0}
ROW = {
    "rows": 1,
    "columns": 2,
    "azimuth": 270.0,
    "orientation": "portrait",
    "clearance": 0.2,
}  # 1.7 m up the slope, 2.2 m along it
AREA = 2 * 1.7 * 1.1
Q30 = 0.5 * 1.225 * 30.0**2


def stood(stand, tilt=90.0, **changes):
    wind = {"gust": 30.0, "gust_height": "panel", **changes.pop("wind", {})}
    return study_of(
        site=SEA, panel=PANEL, array={**ROW, **changes.pop("array", {})}, mount={"kind": "fixed", "tilt": tilt}, stand=stand, wind=wind,
        **changes,
    )  # fmt: skip


def railing(apart=0.8, **fixings):
    return {"on": "railing", "height": 4.0, "fixings": {"count": 4, "lines_apart": apart, **fixings}}


def breadth(scene):
    return scene.array.area / scene.array.slope_length


def test_an_upright_plate_pulls_at_its_upper_clamps():
    """Wind from behind at a quarter from the upper edge: F (1/2 + L/4d) on the upper line; its weight hangs in the clamps."""
    scene = stood(railing()).scene
    found = worst_fixing(scene, 30.0)
    force, length = 1.8 * Q30 * scene.array.area, scene.array.slope_length
    assert found is not None and found.line == "upper line" and found.direction == "back"
    assert found.pull == pytest.approx(force * (0.5 + length / 4 / 0.8) / 2, rel=1e-9)
    assert found.shear == pytest.approx(2 * 20.0 * GRAVITY / 4, rel=1e-9)
    assert scene.array.area == pytest.approx(AREA, rel=0.02)


def test_lines_twice_as_far_apart_are_pulled_by_less_moment():
    near, far = (worst_fixing(stood(railing(apart)).scene, 30.0) for apart in (0.4, 0.8))
    force, length = 1.8 * Q30 * breadth(stood(railing()).scene) * 1.7, 1.7
    assert near is not None and far is not None
    assert near.pull - far.pull == pytest.approx(force * length / 4 * (1 / 0.4 - 1 / 0.8) / 2, rel=0.02)


def test_an_upright_plate_without_a_distance_is_refused_in_words():
    with pytest.raises(BriefError, match="no footprint") as refused:
        refuse_wind(stood({"on": "railing", "height": 4.0}).scene)
    assert refused.value.path == "stand.fixings.lines_apart"


def test_the_height_of_what_it_stands_on_counts_for_the_gust_and_not_for_its_legs():
    low, high = (stood({**railing(), "height": height}, wind={"gust_height": 10.0}).scene for height in (3.0, 9.0))
    assert rig_of(low).structure == rig_of(high).structure
    speeds = [float(standing(rig_of(one), air_of(one), np.array([90.0])).speed_up[0]) for one in (low, high)]
    assert speeds[1] / speeds[0] == pytest.approx(((9.0 + 0.2 + 0.85) / (3.0 + 0.2 + 0.85)) ** 0.16, rel=0.01)
    pulls = [worst_fixing(one, 30.0) for one in (low, high)]
    assert pulls[0] and pulls[1] and pulls[1].pull / pulls[0].pull == pytest.approx((speeds[1] / speeds[0]) ** 2, rel=1e-9)
    assert high.geometry.height == pytest.approx(9.2) and low.geometry.height == pytest.approx(3.2), "as the yard sees it"


def van(**more):
    return {"on": "vehicle", "height": 2.7, "fixings": {"count": 8, "lines_apart": 1.2}, **more}


def test_driving_at_110_against_a_head_wind_of_ten():
    """40.6 m/s, 1 010 Pa; lying flat the coefficient is the assumed 1.0, not the table's 0.5."""
    scene = stood(van(road_speed=110 / 3.6), 0.0).scene
    found = driving(scene)
    assert found is not None and found.pressure == pytest.approx(1010, abs=4)
    force, length = found.pressure * scene.array.area, scene.array.slope_length
    weight = 40.0 * GRAVITY
    assert found.pull == pytest.approx((force * (0.5 + length / 4 / 1.2) - weight / 2) / 4, rel=1e-9)
    assert found.shear == pytest.approx(0.0, abs=1e-9)


def test_driving_takes_the_tables_lifting_where_that_is_more():
    scene = stood(van(road_speed=25.0), 30.0).scene
    found = driving(scene)
    assert found is not None
    force = 1.8 * 0.5 * 1.225 * 35.0**2 * scene.array.area
    assert found.shear == pytest.approx(force * sin(radians(30.0)) / 8, rel=1e-9)


def test_twice_the_speed_of_the_air_is_four_times_the_force():
    one, two = (driving(stood(van(road_speed=speed), 30.0).scene) for speed in (20.0, 50.0))
    assert one is not None and two is not None
    assert two.shear / one.shear == pytest.approx(4.0, rel=1e-12), "30 and 60 m/s of air"


def test_nothing_drives_but_a_vehicle():
    assert driving(stood({**railing(), "road_speed": 30.0}).scene) is None
    assert driving(stood(van(), 10.0).scene) is None
    report = wind_report(stood(van(road_speed=110 / 3.6), 10.0))
    assert (
        report.driving is not None and report.air_speed == pytest.approx(40.56, abs=0.01) and "Lower what moves" in report.caution
    )


def test_fixings_on_a_pergola_by_moments_about_the_other_line():
    """Lines 1.4 m apart on the level; glass at 12 degrees, wind from behind at 28 m/s; the lower edge 0.2 m over them."""
    scene = stood({"on": "pergola", "height": 2.4, "fixings": {"count": 6, "lines_apart": 1.4}}, 12.0, wind={"gust": 28.0}).scene
    found = worst_fixing(scene, 28.0)
    length, lean = scene.array.slope_length, radians(12.0)
    lift = float(np.interp(12.0, [10.0, 15.0], [0.9, 1.1])) * 0.5 * 1.225 * 28.0**2 * scene.array.area
    level, up, weight = -lift * sin(lean), lift * cos(lean), 40.0 * GRAVITY
    rig = rig_of(scene)
    feet = rig.structure.feet(12.0)
    assert feet is not None
    first = sum(feet) / 2 - 0.7
    at = (0.75 * length * cos(lean), 0.2 + 0.75 * length * sin(lean))
    middle = 0.5 * length * cos(lean)
    second = ((at[0] - first) * up - at[1] * level - (middle - first) * weight) / 1.4
    assert found is not None and found.line == "back line"
    assert found.pull == pytest.approx(second / 3, rel=1e-9)
    assert found.shear == pytest.approx(abs(level) / 6, rel=1e-9)


def test_a_rating_names_the_lowest_gust_at_which_a_fixing_gives_way():
    scene = stood(railing(rating=900.0)).scene
    gust = gust_of_fixings(scene, rig_of(scene), air_of(scene), np.array([90.0]))
    assert gust is not None
    at_it, over = worst_fixing(scene, float(gust.min())), worst_fixing(scene, float(gust.min()) * 1.01)
    assert at_it is not None and at_it.together == pytest.approx(900.0, rel=1e-6)
    assert over is not None and over.together > 900.0
    report = wind_report(stood(railing(rating=900.0)))
    assert report.steepest.first == "breaks" and report.steepest.by_foot == "fixing"
    assert report.steepest.direction == "back" and report.steepest.ways[1] == "fixing"
    assert report.steepest.by_direction[1] == report.steepest.gives_way
    assert report.steepest.gives_way == pytest.approx(float(gust.min()))
    assert report.steepest.allowed == pytest.approx(float(gust.min()) / sqrt(1.5))


def test_a_rating_that_the_weight_alone_passes_stands_no_wind():
    scene = stood(railing(rating=50.0)).scene
    gust = gust_of_fixings(scene, rig_of(scene), air_of(scene), np.array([90.0]))
    assert gust is not None and gust.max() == 0.0, "98 N hang in each of four clamps"


def test_an_awnings_ledgers_take_what_its_strut_and_rafters_bring():
    frame = {"kind": "wall", "front_height": 2.2, "lower_height": 1.5, "frames": 3}
    scene = stood({"on": "wall", "height": 0.0, "fixings": {"count": 12}}, 25.0, frame=frame).scene
    found = worst_fixing(scene, 30.0)
    assert found is not None and found.line in ("upper ledger", "lower ledger") and found.count == 12
    report = wind_report(stood({"on": "wall"}, 25.0, frame=frame))
    worst = max(hypot(max(-one.level, 0.0), one.down) * one.count for way in report.loads for one in way.reactions)
    assert found.together == pytest.approx(worst / 6, rel=0.02)


def test_a_roofs_slope_and_a_wedge_make_the_tilt():
    """Rafters at 4 degrees and a wedge of 0.12 m on 0.9 m: asin(0.12 / 0.9) = 7.66 degrees, and 4 more."""
    frame = {"kind": "wedge", "rise": 0.12, "slope_length": 0.9}
    scene = stood({"on": "pergola", "height": 2.3, "slope": 4.0}, 11.66, frame=frame).scene
    assert scene.structure is not None and scene.structure.tilts == pytest.approx([11.66], abs=0.01)
    assert scene.structure.slope == 4.0
    scene.refuse()
    with pytest.raises(BriefError, match="stands at 11.7"):
        stood({"on": "pergola", "height": 2.3, "slope": 4.0}, 7.66, frame=frame).scene.refuse()


def test_a_roof_that_falls_sideways_turns_the_glass():
    """Roof falling 20 degrees to the right as one looks at the glass, wedge of 15: normal by rotation matrices, worked out here."""
    frame = {"kind": "wedge", "rise": sin(radians(15.0)), "slope_length": 1.0, "cross_slope": 20.0}
    scene = stood({"on": "roof", "height": 3.0}, 24.8, frame=frame, array={"azimuth": 180.0}).scene
    structure = scene.structure
    assert structure is not None
    plane = structure.plane(15.0)
    # Facing south, x east, y north: the wedge leans the level normal by 15 to the south, the roof then turns it by 20 about the north-south line.
    lean, fall = radians(15.0), radians(20.0)
    wedge = np.array([0.0, -sin(lean), cos(lean)])
    turn = np.array([[cos(fall), 0.0, sin(fall)], [0.0, 1.0, 0.0], [-sin(fall), 0.0, cos(fall)]])
    normal = turn @ wedge
    tilt = np.degrees(np.arccos(normal[2]))
    facing = np.degrees(np.arctan2(normal[0], normal[1])) % 360
    assert plane.tilt == pytest.approx(tilt, abs=1e-6)
    assert min(abs((180.0 + plane.turn) % 360 - facing), abs((180.0 - plane.turn) % 360 - facing)) < 1e-6


def test_what_older_briefs_say_stands_as_it_did():
    scene = study_of(site=SEA, panel=PANEL, array=ROW, wind={"gust": 30.0, "carried_by": "pergola"}).scene
    assert stand_in(scene).on == "pergola" and scene.raised == 0.0 and worst_fixing(scene, 30.0) is None
    assert gusts_of(scene).strongest == 30.0
    ground = study_of(site=SEA, panel=PANEL, array=ROW, wind={"gust": 30.0}, stand={"on": "ground", "height": 1.0}).scene
    assert worst_fixing(ground, 30.0) is None and ground.raised == 1.0


def test_a_stand_told_goes_before_what_the_wind_says():
    scene = stood({**railing()}, wind={"carried_by": "pergola"}).scene
    assert stand_in(scene).on == "railing" and wind_report(stood(railing())).foreign
    assert air_density(Site(**SEA).elevation) == 1.225


def test_the_backs_over_a_roof_see_the_roof_and_over_a_railing_the_ground():
    panel = {**PANEL, "bifaciality": 0.7}
    roof, wall = ({"on": on, "height": 6.0, "fixings": {"lines_apart": 0.8}} for on in ("flat-roof", "railing"))
    of_roof, of_wall = (stood(one, 30.0).scene for one in (roof, wall))
    assert of_roof.system.tables.height == pytest.approx(0.2) and of_wall.system.tables.height == pytest.approx(6.2)
    assert panel["bifaciality"] == 0.7


@pytest.mark.parametrize(
    ("stand", "path"),
    [({"on": "tree"}, "stand.on"), ({"height": 2.0}, "stand.on"), ({"on": "roof", "slope": 80.0}, "stand.slope"),
     ({"on": "wall", "fixings": {"count": 1}}, "stand.fixings.count"), ({"on": "vehicle", "road_speed": 0.0}, "stand.road_speed")],
)  # fmt: skip
def test_a_stand_that_cannot_be_is_named(stand, path):
    with pytest.raises(BriefError) as refused:
        stood(stand)
    assert refused.value.path == path


def test_what_ballast_holds_on_a_flat_roof_has_no_fixings():
    stand = {"on": "flat-roof", "height": 6.0}
    loose = stood(stand, 15.0, wind={"anchored": False, "ballast": 90.0}).scene
    fixed = stood({**stand, "fixings": {"lines_apart": 1.0}}, 15.0).scene
    assert worst_fixing(loose, 30.0) is None and worst_fixing(fixed, 30.0) is not None
    report = wind_report(stood(stand, 15.0, wind={"anchored": False, "ballast": 90.0}))
    assert report.ballast is not None and report.fixings is None and "edges and corners" in report.caution


def test_an_awnings_strut_in_from_the_edge_balances_moments_about_the_upper_ledger():
    """The strut's thrust by hand: weight and wind through the middle of the glass, turned about the wall."""
    frame = {"kind": "wall", "front_height": 2.2, "lower_height": 1.1, "overhang": 0.5, "frames": 3}
    scene = stood({"on": "wall", "height": 0.0}, 25.0, frame=frame).scene
    structure, length = scene.structure, scene.array.slope_length
    lines = {line.name: line for line in structure.side_lines(25.0, length)}
    assert lines["strut"].end == pytest.approx((0.0, 2.2))
    wall, middle = (
        lines["glass"].end,
        ((lines["glass"].start[0] + lines["glass"].end[0]) / 2, sum(z for _, z in lines["glass"].ends) / 2),
    )
    down, back = -900.0, 210.0
    paths = structure.load_path(Burden(on_glass=[((back, down), middle)], lines=lines))
    foot = lines["strut"].start
    size = dist(foot, (0.0, 2.2))
    along = next(member.force for member in paths.members if member.name == "strut") * 3
    pushes = ((0.0 - foot[0]) / size * along, (2.2 - foot[1]) / size * along)
    turned = (
        (middle[0] - wall[0]) * down - (middle[1] - wall[1]) * back + (0.0 - wall[0]) * pushes[1] - (2.2 - wall[1]) * pushes[0]
    )
    assert turned == pytest.approx(0.0, abs=1e-6) and along > 0
    upper = next(one for one in paths.reactions if one.name == "upper ledger")
    assert (-upper.down * 3, upper.level * 3) == pytest.approx((down + pushes[1], back + pushes[0]))
