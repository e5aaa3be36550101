"""Shade in the core: published and hand values, what must be conserved, and rays cast a second way."""

from __future__ import annotations

import sys
from concurrent.futures import ThreadPoolExecutor
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sundial.energy.production import produce
from sundial.energy.shaded import SKYLINE, Shade
from sundial.errors import BriefError
from sundial.frame.panels import Array, Panel
from sundial.mounts.fixed import Fixed
from sundial.shade.array_trace import trace_array
from sundial.shade.budget import MOST_WORK, trace_work
from sundial.shade.dome import dome
from sundial.shade.geometry import ArrayGeometry, Split, Spot
from sundial.shade.shadows import skyline_of
from sundial.shade.skyline import Skyline
from sundial.shade.spacing import clear_pitch, declination, pitch_for_hours
from sundial.shade.strings import best_share
from sundial.shade.yard import Barrier, Yard
from sundial.siting.costs import shade_costs
from tests.core.conftest import study_of

ARRAY = Array(Panel(430, 1.722, 1.134), 2, 4, 180.0)
WALL = {"kind": "wall", "name": "Wall", "line": [[-15, -5], [15, -5]], "height": 2.5}
TREE = {"kind": "tree", "name": "Walnut", "at": [4, -7], "crown_radius": 3, "height": 9, "crown_base": 2.5}
HOUSE = {
    "kind": "building", "name": "House", "footprint": [[-14, -12], [-6, -12], [-6, -6], [-9, -6], [-9, -9], [-14, -9]],
    "height": 3.0, "top": "gable", "ridge": 5.0, "roof_azimuth": 90,
}  # fmt: skip
POST = {"kind": "post", "name": "Mast", "at": [1.5, -2.5], "height": 5, "width": 0.1}
YARD = {"objects": [WALL, TREE, HOUSE, POST]}
QUARTERS = ([1, 2, 5, 6], [3, 4, 7, 8])


def fixed(tilt: float = 35.0, **changes: Any):
    return study_of(mount={"kind": "fixed", "tilt": tilt}, **changes)


# -- values by hand ------------------------------------------------------------------------------------------------


def test_a_wall_twenty_metres_south_five_metres_up():
    """tan 14.04 = 5 / 20 due south; 28.28 m along the ray at 45 degrees gives 10.02."""
    yard = Yard((Barrier("Wall", ((-60, -20), (60, -20)), 6.0, thickness=0.001),))
    found = skyline_of(yard, np.array([0.0, 0.0, 1.0]), np.array([180.0, 135.0, 225.0, 0.0]))
    np.testing.assert_allclose(found, [14.04, 10.02, 10.02, 0.0], atol=0.02)


@pytest.mark.parametrize(
    ("currents", "share"),
    [
        ([0.2] + [1.0] * 8, 8 / 9),
        ([1.0, 1, 0.5] * 3, 6 / 9),
        ([0.5] * 9, 0.5),
        ([1.0] * 9, 1.0),
        ([0.0] * 9, 0.0),
    ],
)
def test_blocks_in_series(currents, share):
    assert best_share(np.array(currents)) == pytest.approx(share)
    assert best_share(np.array(currents[::-1])) == pytest.approx(share), "the order does not matter"


def test_two_rows_at_45_north():
    """2.0 cos 40 + 2.0 sin 40 / tan 21.56 = 1.532 + 3.254."""
    assert clear_pitch(2.0, 40.0, 21.56) == pytest.approx(4.786, abs=0.001)
    at_noon = pitch_for_hours(2.0, 40.0, 45.0, 180.0, hours=(12, 12))
    assert at_noon == pytest.approx(4.786, abs=0.001)
    assert pitch_for_hours(2.0, 40.0, 45.0, 180.0, hours=(10, 14)) > at_noon + 0.2
    assert pitch_for_hours(2.0, 40.0, -45.0, 0.0) == pytest.approx(pitch_for_hours(2.0, 40.0, 45.0, 180.0))


def test_the_pitch_at_ten_in_the_morning():
    """By hand: 30 degrees of hour angle put the sun 16.29 up at azimuth 151.45; turned rows are overlooked by less."""
    assert pitch_for_hours(2.0, 40.0, 45.0, 180.0, hours=(10, 10)) == pytest.approx(5.396, abs=0.001)
    assert pitch_for_hours(2.0, 40.0, 45.0, 200.0, hours=(10, 10)) == pytest.approx(4.444, abs=0.001)
    assert pitch_for_hours(2.0, 40.0, 45.0, 180.0, hours=(10, 14)) == pytest.approx(5.396, abs=0.001)
    assert [declination(day) for day in (59, 120)] == pytest.approx([-8.294, 14.894], abs=0.005)
    assert declination(171) == 23.44 == -declination(354)


def test_the_pitch_by_hand():
    """The formula written out; hours and days at their limits."""
    cos40, sin40 = np.cos(np.radians(40)), np.sin(np.radians(40))
    assert clear_pitch(2.0, 40.0, 21.56) == pytest.approx(2 * (cos40 + sin40 / np.tan(np.radians(21.56))), rel=1e-9)
    assert clear_pitch(3.0, 40.0, 30.0, 180.0) == pytest.approx(3 * cos40), "the sun behind the rows: only their own depth"
    assert clear_pitch(3.0, 40.0, 30.0, 90.0) == pytest.approx(3 * cos40)
    summer = 2 * (cos40 + sin40 / np.tan(np.radians(90 - 45 + 23.44)))
    assert pitch_for_hours(2.0, 40.0, 45.0, 180.0, day=171, hours=(12, 12)) == pytest.approx(summer, rel=1e-9)
    assert pitch_for_hours(2.0, 40.0, -45.0, 0.0, day=354, hours=(12, 12)) == pytest.approx(summer, rel=1e-9)
    assert pitch_for_hours(2.0, 40.0, 0.0, 180.0, hours=(12, 12)) == pytest.approx(
        2 * (cos40 + sin40 / np.tan(np.radians(66.56))), rel=1e-9
    ), "on the equator the December sun stands to the south"
    assert pitch_for_hours(2.0, 40.0, 45.0, 0.0) == pytest.approx(2 * cos40), "rows that face away"
    low = 2 * (cos40 + sin40 / np.tan(np.radians(90 - 65.5 - 23.44)))
    assert pitch_for_hours(2.0, 40.0, 65.5, 180.0, hours=(12, 12)) == pytest.approx(low, rel=1e-9)
    with pytest.raises(BriefError, match="not up"):
        pitch_for_hours(2.0, 40.0, 65.6, 180.0, hours=(12, 12))  # 0.96 degrees up


@pytest.mark.parametrize("hours", [(14, 10), (-0.5, 12), (10, 24.5), (25, 26), (-2, -1)])
def test_impossible_hours_are_refused(hours):
    with pytest.raises(BriefError, match="from the earlier to the later") as refused:
        pitch_for_hours(2.0, 40.0, 45.0, 180.0, hours=hours)
    assert refused.value.path == "hours"


def test_hours_may_be_the_whole_day():
    assert pitch_for_hours(2.0, 40.0, -75.0, 0.0, day=354, hours=(0, 24)) > 2 * np.cos(np.radians(40))


def test_a_yard_that_would_take_too_long_is_refused_before_it_is_traced():
    turn = np.linspace(0, 2 * np.pi, 60, endpoint=False)
    round_house = np.column_stack([4 * np.sin(turn), 4 * np.cos(turn)])
    houses = [
        {"kind": "building", "name": f"Silo {n}", "footprint": (round_house + [12 * (n % 20) - 120, -20 - 12 * (n // 20)]).tolist(),
         "height": 5.0, "top": "flat"} for n in range(200)
    ]  # fmt: skip
    many = fixed(array={"rows": 12, "columns": 14}, yard={"objects": houses})
    with pytest.raises(BriefError, match="168 panels looking past them take .* times what can be computed") as refused:
        many.production()
    assert refused.value.path == "yard.objects"
    few = fixed(array={"rows": 12, "columns": 14}, yard={"objects": houses[:12]})
    assert (
        trace_work(few.scene.yard, few.scene.geometry)
        == 12 * 61 * (36 * len(few.scene.geometry.sections.panels) + 1000)
        < MOST_WORK
    )
    trees = [{"kind": "tree", "name": f"Birch {n}", "at": [n * 2.0 - 190, -20.0], "crown_radius": 1.0, "height": 6.0,
              "crown_base": 2.0} for n in range(200)]  # fmt: skip
    assert (
        trace_work(fixed(yard={"objects": trees}).scene.yard, few.scene.geometry)
        > MOST_WORK
        > trace_work(fixed(yard={"objects": trees}).scene.yard, fixed(array={"rows": 2, "columns": 4}).scene.geometry)
    )


def test_rows_that_never_clear_say_so():
    with pytest.raises(BriefError, match="not up"):
        pitch_for_hours(2.0, 40.0, 66.0, 180.0, hours=(8, 16))


def test_the_pitch_by_hours_is_just_enough():
    """Traced with the rows as objects: the rear row is clear at that pitch and touched at a little less."""
    study = fixed(40.0, site={"latitude": 45.0, "longitude": 0.0, "elevation": 100.0, "timezone": "UTC"},
                  sky={"kind": "made-up", "name": "green-maritime"})  # fmt: skip
    pitch = pitch_for_hours(study.scene.array.slope_length / 2 - 0.01, 40.0, 45.0, 180.0, hours=(12, 12))
    noon = np.array([[0.0, -np.cos(np.radians(21.56)), np.sin(np.radians(21.56))]])
    for distance, touched in ((pitch + 0.12, False), (pitch - 0.2, True)):
        geometry = ArrayGeometry(study.scene.array, Spot(split=Split(2, "behind", distance)))
        met = trace_array(geometry, Yard(), noon, np.array([40.0]), np.array([180.0])).layers
        assert bool(met) == touched


# -- what a shade must keep ----------------------------------------------------------------------------------------


def test_no_objects_give_the_unshaded_year_exactly():
    bare, empty = fixed(), fixed(yard={"objects": []})
    assert empty.scene.shade is None
    assert empty.production().year == bare.production().year
    light = bare.scene.light
    nothing = Shade(light, bare.scene.geometry, Yard(), Skyline(((0.0, 0.0),)))
    made = produce(light, bare.scene.system, Fixed(35, 180).facing(None), None, nothing)
    assert made.year == pytest.approx(bare.production().year, rel=1e-5)


def test_wall_to_the_zenith_blocks_all_light():
    ring = [[4, -3], [4, 5], [-4, 5], [-4, -3], [4, -3]]
    walls = {"objects": [{"kind": "wall", "name": "Ring", "line": ring, "height": 150.0, "thickness": 1.0}]}
    made = fixed(yard=walls).production()
    assert made.year < 0.02 * fixed().production().year
    assert fixed(horizon=[[0, 90]]).production().year == pytest.approx(0, abs=1e-9)


@given(st.floats(0.5, 6), st.floats(0.1, 4))
@settings(max_examples=8)
def test_loss_never_falls_with_height(height, more):
    low, high = (fixed(yard={"objects": [{**WALL, "height": h}]}).production().year for h in (height, height + more))
    assert high <= low * (1 + 1e-9)


def test_fully_open_fence_costs_nothing():
    years = [fixed(yard={"objects": [{**WALL, "kind": "fence", "open": share}]}).production().year for share in (0, 0.3, 0.7, 1)]
    assert years == sorted(years)
    assert years[-1] == pytest.approx(fixed().production().year, rel=1e-12)


def mirrored(thing: dict[str, Any]) -> dict[str, Any]:
    turned = dict(thing)
    for key in ("footprint", "line"):
        if key in thing:
            turned[key] = [[-x, y] for x, y in thing[key]][::-1]
    if "at" in thing:
        turned["at"] = [-thing["at"][0], thing["at"][1]]
    if "roof_azimuth" in thing:
        turned["roof_azimuth"] = (360 - thing["roof_azimuth"]) % 360
    return turned


def rotated(thing: dict[str, Any], angle: float) -> dict[str, Any]:
    """Clockwise about the origin, as azimuths run."""
    c, s = np.cos(np.radians(angle)), np.sin(np.radians(angle))

    def turn(point):
        return [point[0] * c + point[1] * s, -point[0] * s + point[1] * c]

    turned = dict(thing)
    for key in ("footprint", "line"):
        if key in thing:
            turned[key] = [turn(point) for point in thing[key]]
    if "at" in thing:
        turned["at"] = turn(thing["at"])
    if "roof_azimuth" in thing:
        turned["roof_azimuth"] = (thing["roof_azimuth"] + angle) % 360
    return turned


def year_under(light, things, azimuth, skyline=None):
    study = fixed(yard={"objects": things}, array={"rows": 2, "columns": 4, "azimuth": azimuth})
    shade = Shade(light, study.scene.geometry, study.scene.yard, skyline, size=0)
    return produce(light, study.scene.system, Fixed(35, azimuth).facing(None), None, shade)


def turned_light(light, angle=None):
    """The light with its sun mirrored east to west, or turned by an angle."""
    from dataclasses import replace

    if angle is None:
        return replace(light, east=-light.east, azimuth=(360 - light.azimuth) % 360)
    c, s = np.cos(np.radians(angle)), np.sin(np.radians(angle))
    east, north = light.east * c + light.north * s, -light.east * s + light.north * c
    return replace(light, east=east, north=north, azimuth=(light.azimuth + angle) % 360)


def test_loss_is_invariant_under_mirroring(greensboro):
    light = greensboro.scene.light
    skyline, other = Skyline(((90.0, 5.0), (200.0, 25.0), (300.0, 2.0))), Skyline(((60.0, 2.0), (160.0, 25.0), (270.0, 5.0)))
    things = [WALL, TREE, HOUSE]
    ours = year_under(light, things, 170.0, skyline)
    theirs = year_under(turned_light(light), [mirrored(thing) for thing in things], 190.0, other)
    # The sun's disc is looked at in the same few points whichever way the yard lies.
    np.testing.assert_allclose(ours.energy, theirs.energy, rtol=0.015, atol=2e-3)
    assert ours.year == pytest.approx(theirs.year, rel=5e-4)


@pytest.mark.parametrize("angle", [30.0, 137.0, 251.5])
def test_loss_is_invariant_under_rotation(greensboro, angle):
    things = [WALL, TREE, HOUSE, POST]
    ours = year_under(greensboro.scene.light, things, 180.0)
    theirs = year_under(turned_light(greensboro.scene.light, angle), [rotated(t, angle) for t in things], (180 + angle) % 360)
    assert ours.year == pytest.approx(theirs.year, rel=2e-3), "the dome's patches stay where they are"


def test_leaves_fall_and_come_back():
    evergreen = fixed(yard={"objects": [TREE]}).production().by_month
    leafy = fixed(yard={"objects": [{**TREE, "leaf_months": [5, 6, 7, 8, 9, 10]}]}).production().by_month
    np.testing.assert_allclose(leafy[4:10], evergreen[4:10], rtol=1e-9)
    assert (leafy[[0, 1, 10, 11]] > evergreen[[0, 1, 10, 11]] * 1.05).all()


def test_a_leafy_skyline_hides_less_in_winter():
    solid = fixed(horizon=[[90, 25], [270, 25]]).production().by_month
    leafy = fixed(horizon=[[90, 25, "leafy"], [270, 25, "leafy"]]).production().by_month
    assert (leafy[[0, 11]] > solid[[0, 11]] * 1.1).all()
    assert leafy[6] == pytest.approx(solid[6], rel=0.03)


# -- bins, nodes, samples ------------------------------------------------------------------------------------------


def random_yard(seed: int) -> list[dict[str, Any]]:
    """A few invented things round the array, clear of it."""
    rng = np.random.default_rng(seed)
    things: list[dict[str, Any]] = []
    for index in range(3):
        a, r = rng.uniform(90, 270), rng.uniform(7, 14)
        x, y = r * np.sin(np.radians(a)), r * np.cos(np.radians(a))
        things.append({"kind": "tree", "name": f"Tree {index}", "at": [x, y], "crown_radius": rng.uniform(1, 2.5),
                       "height": rng.uniform(4, 11), "crown_base": rng.uniform(0.5, 2.5)})  # fmt: skip
    x, y, w, d = rng.uniform(-9, 9), rng.uniform(-16, -10), rng.uniform(2, 6), rng.uniform(2, 5)
    things.append({"kind": "building", "name": "Barn", "footprint": [[x, y], [x + w, y], [x + w, y + d], [x, y + d]],
                   "height": rng.uniform(2, 4), "top": "gable", "ridge": rng.uniform(4, 6), "roof_azimuth": 90})  # fmt: skip
    x, y = rng.uniform(-6, 6), rng.uniform(-6, -4)
    things.append({"kind": "wall", "name": "Wall", "line": [[x - 4, y], [x + 5, y - 1]], "height": rng.uniform(0.8, 2.4)})
    return things


@pytest.mark.parametrize("seed", range(6))
def test_bins_agree_with_the_sum_hour_by_hour(greensboro, seed):
    """Half a per cent of the year, one of any month."""
    study = fixed(yard={"objects": random_yard(seed)})
    hourly = produce(
        study.scene.light,
        study.scene.system,
        *study.own_facing,
        Shade(study.scene.light, study.scene.geometry, study.scene.yard, None, 0),
    )
    binned = study.production()
    assert binned.year < 0.99 * study.open_sky.production().year, "there is shade to compare"
    assert binned.year == pytest.approx(hourly.year, rel=0.005)
    np.testing.assert_allclose(binned.by_month, hourly.by_month, rtol=0.01)


@pytest.mark.parametrize("tilt", [7.0, 22.5, 37.0, 52.0])
def test_tilts_between_those_traced(tilt, monkeypatch):
    study = fixed(tilt, yard=YARD)
    between = study.production().year
    monkeypatch.setattr("sundial.energy.shaded.NODE", 0.5)
    assert between == pytest.approx(fixed(tilt, yard=YARD).production().year, rel=0.004)


def test_the_dome_is_whole():
    sky = dome()
    assert sky.angles.sum() == pytest.approx(2 * np.pi)
    np.testing.assert_allclose(sky.weights(np.array([0.0, 40.0]), np.array([180.0, 120.0])).sum(axis=1), [1, 0.883], atol=0.004)


def test_patches_are_cut_by_a_skyline():
    """By solid angle: what is left on the flat under a ring of height h is cos(h)^2, to a hundredth with 7.5 degree bands."""
    sky = dome()
    flat = sky.weights(np.array([0.0]), np.array([0.0]))[0]
    for height in (0.0, 2.0, 5.0, 9.0, 20.0, 37.0, 90.0):
        left = flat @ sky.over(np.full(len(flat), height))
        assert left == pytest.approx(np.cos(np.radians(height)) ** 2, abs=0.01)


def test_a_low_skyline_beside_a_yard_costs_what_a_finer_sky_says(monkeypatch):
    """Skyline and wall stand before the same patches: a dome of 48 bands agrees to 0.2 % of the year, 2 kWh of a price."""
    low = [[0, 2], [60, 3], [95, 5], [130, 9], [165, 5], [210, 4], [265, 8], [310, 4]]
    ours = fixed(yard=YARD, horizon=low)
    prices = {price.name: price for price in shade_costs(ours)}
    assert min(prices[SKYLINE].by_month) > 0, "to take it away never costs anything"
    monkeypatch.setattr("sundial.energy.shaded.dome", lambda: dome(48))
    fine = fixed(yard=YARD, horizon=low)
    assert ours.production().year == pytest.approx(fine.production().year, rel=0.002)
    assert prices[SKYLINE].kwh == pytest.approx(next(p.kwh for p in shade_costs(fine) if p.name == SKYLINE), abs=2)


def test_shade_cache_is_thread_safe():
    """Prices are worked out beside the page's own figures, in one process: what one lets go the other still has."""
    things = {"objects": [WALL, TREE, HOUSE, POST]}
    names = [frozenset({thing["name"]}) for thing in things["objects"]] * 6
    alone = {name: fixed(yard=things) for name in set(names)}
    wanted = {name: produce(s.scene.light, s.scene.system, *s.own_facing, s.scene.shade, name).year for name, s in alone.items()}
    study = fixed(yard=things)
    shade, facing = study.scene.shade, study.own_facing

    def year(name: frozenset[str]) -> float:
        return produce(study.scene.light, study.scene.system, *facing, shade, name).year

    usual = sys.getswitchinterval()
    sys.setswitchinterval(1e-6)  # seconds: threads change places wherever they can
    try:
        with ThreadPoolExecutor(8) as pool:
            assert list(pool.map(year, names)) == [wanted[name] for name in names]
    finally:
        sys.setswitchinterval(usual)


# -- things, and the array among them ------------------------------------------------------------------------------


def test_a_plane_that_tilts_hour_by_hour_sees_what_each_of_its_tilts_sees():
    study = study_of(yard=YARD, horizon=[[90, 9], [180, 3, "leafy"], [270, 12]])
    shade, lit = study.scene.shade, len(study.scene.light.hours)
    tilts = np.random.default_rng(8).uniform(-12, 57, lit)
    tilts[:40] = 30.0  # on a tilt that is traced
    found = shade.of_facing(tilts, np.full(lit, study.scene.azimuth))
    for hour in (*range(0, 40, 13), *range(100, lit, 611)):
        alone = shade.at_tilts(tilts[hour : hour + 1], study.scene.azimuth)
        for name in ("direct", "sky", "ground", "electrical_mismatch"):
            value = np.broadcast_to(getattr(alone, name), (1, lit))[0, hour]
            assert getattr(found, name)[hour] == pytest.approx(value, abs=2e-4 if name == "sky" else 1e-9), (hour, name)
