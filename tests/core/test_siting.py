"""Prices, maps, spots, what-ifs, surveys and files of a yard."""

from __future__ import annotations

import json
import random

import numpy as np
import pytest

from sundial.answers.command import finite
from sundial.answers.energy.command import plane_answer
from sundial.answers.siting.command import shade_answer, spots_answer, yard_answer, yard_csv
from sundial.answers.siting.report import shade_report
from sundial.brief.geojson import read_yard_geojson, write_yard_geojson
from sundial.brief.read import brief_of
from sundial.brief.yard import yard_of
from sundial.errors import BriefError
from sundial.shade import survey
from sundial.shade.skyline_file import read_skyline_csv, write_skyline_csv
from sundial.siting.costs import shade_costs
from sundial.siting.day import day_in_yard
from sundial.siting.ground import Window, yard_map
from sundial.siting.spots import best_spots
from sundial.siting.whatif import ways_of, what_if, with_spot, with_thing, without_thing, year_of
from sundial.study import studied
from sundial.sun import Site, noon_and_length
from tests.core.conftest import brief_data, load, study_of
from tests.core.test_shade import HOUSE, POST, QUARTERS, TREE, WALL, YARD, fixed
from tests.odd import ODD, spoiled

SITE = Site(36.1, -79.95, 273.0, "America/New_York")


@pytest.fixture(scope="module")
def shaded():
    return study_of(yard=YARD, horizon=[[90, 4], [180, 6], [270, 4]])


# -- prices and what-ifs -------------------------------------------------------------------------------------------


def test_shade_costs_add_up_and_equal_what_removal_returns(shaded):
    report, prices = shade_report(shaded), shade_costs(shaded)
    assert sum(price.share for price in prices) == pytest.approx(report.loss)
    assert report.loss == pytest.approx(sum(report.loss_by_month))
    dear = prices[0]
    assert dear.kwh == pytest.approx(what_if(shaded, without_thing(shaded.brief, dear.name)).gain, abs=0.01)
    assert dear.season == pytest.approx(what_if(shaded, without_thing(shaded.brief, dear.name)).season_gain, abs=0.01)
    assert [price.kwh for price in prices] == sorted((price.kwh for price in prices), reverse=True)
    assert (np.array(report.sun_hours) <= np.array(report.open_hours) + 1e-9).all()
    assert report.sun_hours[11] < report.sun_hours[5], "winter shade does not show in June"


def test_cutting_less_returns_less_energy(shaded):
    gains = [what_if(shaded, with_thing(shaded.brief, "Walnut", height=h)).gain for h in (8.0, 5.0, 2.0)]
    assert 0 <= gains[0] < gains[1] < gains[2]
    thin = what_if(shaded, with_thing(shaded.brief, "Walnut", thinned=0.5)).gain
    assert 0 < thin < what_if(shaded, without_thing(shaded.brief, "Walnut")).gain
    assert what_if(shaded, with_spot(shaded.brief, clearance=3.0)).gain > 0
    assert what_if(shaded, with_spot(shaded.brief, 0.0, 0.0)).gain == pytest.approx(0, abs=1e-9)


@pytest.mark.parametrize(
    ("change", "words"),
    [
        (lambda b: with_thing(b, "Walnut", height=12), "is 9 m high"),
        (lambda b: with_thing(b, "House", thinned=0.5), "cannot be thinned"),
        (lambda b: with_thing(b, "Nobody", height=1), "nothing in this yard"),
        (lambda b: without_thing(b, "Nobody"), "nothing in this yard"),
        (lambda b: with_thing(b, "The skyline", height=1), "The skyline cannot be lowered"),
        (lambda b: without_thing(b, "The array's own rows"), "set them farther apart"),
    ],
)
def test_impossible_changes_are_refused(shaded, change, words):
    with pytest.raises(BriefError, match=words):
        change(shaded.brief)


def test_properties_of_other_programs_are_left_out_and_told():
    feature = {
        "type": "Feature", "geometry": {"type": "Point", "coordinates": [3, -8]},
        "properties": {"name": "Oak", "height": 9, "crown_radius": 3, "@id": "way/1", "source": "survey"},
    }  # fmt: skip
    held = read_yard_geojson(json.dumps({"type": "FeatureCollection", "features": [feature]}).encode(), SITE)
    assert held.objects == [{"kind": "tree", "name": "Oak", "height": 9, "crown_radius": 3, "at": [3.0, -8.0]}]
    assert held.notes == ("Properties that mean nothing here were left out: @id, source.",)


def test_fuzzed_files_are_refused_with_a_message_or_read():
    rng, whole, read = random.Random(3), write_yard_geojson(YARD["objects"]), 0
    for _ in range(1500):
        try:
            held = read_yard_geojson(json.dumps(spoiled(whole, rng)).encode(), SITE)
        except BriefError:
            continue
        read += 1
        json.dumps(held.objects, allow_nan=False)
    assert read > 100
    for _ in range(1500):
        rows = (
            ",".join(str(rng.choice([*ODD, 10, 200, 30.5])) for _ in range(rng.randint(1, 4))) for _ in range(rng.randint(0, 5))
        )
        try:
            held = read_skyline_csv("\n".join(rows).encode())
        except BriefError:
            continue
        assert all(0 <= azimuth < 360 and 0 <= elevation <= 90 for azimuth, elevation in held.points)


def test_what_can_be_tried_follows_from_what_it_is(shaded):
    part = {"name": "Clamp", "along": [0, 0.1], "up": [0, 0.1], "off": [0, 0.1]}
    spot = shaded.brief.spot.model_copy(update={"parts": study_of(spot={"parts": [part]}).brief.spot.parts})
    brief = shaded.brief.model_copy(update={"spot": spot})
    assert ways_of(brief, "Walnut") == ("gone", "lower", "thinned")
    assert ways_of(brief, "House") == ways_of(brief, "Wall") == ("gone", "lower")
    assert ways_of(brief, "The skyline") == ways_of(brief, "Clamp") == ("gone",)
    assert ways_of(brief, "The array's own rows") == ()


def test_parallel_strings_that_part_are_told():
    report = shade_report(study_of(yard=YARD, wiring={"kind": "parallel", "strings": [list(q) for q in QUARTERS]}))
    assert any("strings in parallel" in note for note in report.notes)
    assert not any("strings in parallel" in note for note in shade_report(study_of(yard=YARD)).notes)


def test_an_open_yard_says_so():
    report = shade_report(study_of())
    assert report.loss == 0
    assert shade_costs(study_of()) == ()
    assert "Nothing stands in the way" in report.notes[0]


# -- map and spots -------------------------------------------------------------------------------------------------


def test_the_map_is_open_far_off_and_empty_where_things_stand(shaded):
    study = study_of(yard={"objects": [WALL, HOUSE]})
    found = yard_map(study, 1.0, Window(-20, -14, 20, 40))
    assert found.year.shape == (54, 40)
    assert found.year[-1].min() == pytest.approx(found.open_year, rel=0.01)
    assert np.isnan(found.year[3, 8]), "inside the house"
    behind = found.year[9, 20]  # half a metre behind the wall
    assert behind < 0.75 * found.open_year
    assert (np.nan_to_num(found.season) <= np.nan_to_num(found.year)).all()
    whole = yard_map(shaded, 3.0)
    parts = np.concatenate([yard_map(shaded, 3.0, None, (n, 3)).year for n in range(3)])
    np.testing.assert_allclose(parts, whole.year, rtol=1e-6)


def test_the_map_says_what_a_plane_there_would_get():
    """One cell against the core's own year of a small array at that place."""
    tree = {**TREE, "at": [0, -6]}
    tiny = {"rows": 1, "columns": 1, "azimuth": 180.0, "clearance": 1.0}
    panel = {"power": 100.0, "length": 0.2, "width": 0.2}
    study = fixed(yard={"objects": [tree]}, array=tiny, panel=panel)
    found = yard_map(study, 0.5, Window(-0.25, -0.25, 0.25, 0.25))
    assert found.year[0, 0] == pytest.approx(float(study.production().irradiation.sum()), rel=0.01)


def test_the_best_spots_differ_are_possible_and_better():
    study = study_of(yard={"objects": [WALL, TREE, HOUSE]})
    spots = best_spots(study, 3)
    assert [spot.energy for spot in spots] == sorted((spot.energy for spot in spots), reverse=True)
    assert spots[0].gain > 50
    for index, spot in enumerate(spots):
        assert spot.energy == pytest.approx(year_of(study, with_spot(study.brief, spot.x, spot.y, spot.azimuth)).year)
        assert all(np.hypot(spot.x - other.x, spot.y - other.y) >= 2.9 for other in spots[:index])
    inside = best_spots(study, 1, area=[(-4, 4), (4, 4), (4, 9), (-4, 9)])[0]
    assert -4 <= inside.x <= 4
    assert 4 <= inside.y <= 9


def test_turning_away_from_the_equator_can_be_the_answer():
    """A tall block to the south-west: the array looks to the south-east."""
    block = {"kind": "building", "name": "Mill", "footprint": [[-30, -16], [-1, -16], [-1, -2.2], [-30, -2.2]], "height": 14.0}
    study = study_of(yard={"objects": [block]})
    spot = best_spots(study, 1, area=[(-1, 1), (1, 1), (1, 3), (-1, 3)])[0]
    assert 140 < spot.azimuth < 175


@pytest.mark.parametrize(
    ("area", "words"), [([(0, 0), (1, 1)], "three corners"), ([(0, 0), (4, 4), (4, 0), (0, 4)], "cross itself")]
)
def test_impossible_areas_are_refused(shaded, area, words):
    with pytest.raises(BriefError, match=words):
        best_spots(shaded, 1, area=area)


def test_a_day_in_the_yard(shaded):
    winter, summer = day_in_yard(shaded, 354, 2026), day_in_yard(shaded, 171, 2026)
    assert len(summer) > len(winter) > 15
    noon = max(winter, key=lambda moment: moment.elevation)
    assert noon.elevation == pytest.approx(90 - 36.1 - 23.44, abs=0.5)
    assert {shadow.name for shadow in noon.shadows} == {"Wall", "Walnut", "House", "Mast"}
    assert noon.array


# -- answers -------------------------------------------------------------------------------------------------------


def test_answers_of_the_command_line(shaded):
    shade = shade_answer(shaded)
    assert shade["unshaded_energy"] - shade["energy"] == pytest.approx(shade["loss"])
    assert len(shade["skyline"]) == 72
    assert plane_answer(shaded)["unshaded_energy"] > plane_answer(shaded)["energy"]
    assert "unshaded_energy" not in plane_answer(study_of())
    yard = yard_answer(shaded, 4.0, "winter")
    assert yard["season"] == "in the winter half-year"
    assert yard_csv(shaded, 4.0).count("\n") == len(yard["x"]) * len(yard["y"]) + 1
    assert spots_answer(shaded, 1)["spots"][0]["energy"] >= spots_answer(shaded, 1)["now"]["energy"]
    for grid in (0.0, 80.0, 0.1):
        with pytest.raises(BriefError, match="--grid|cells"):
            yard_answer(shaded, grid)


# -- surveying -----------------------------------------------------------------------------------------------------


def test_a_stick_and_its_shadow():
    assert survey.stick_height(1.2, 1.8, 13.5) == pytest.approx(9.0)
    falling = survey.stick_height(1.2, 1.8, 13.5, 5.0)
    assert falling < 9.0 < survey.stick_height(1.2, 1.8, 13.5, -5.0)


def test_readings_by_hand_at_odd_angles():
    """Figures worked out by hand, at angles and slopes whose sine, cosine and tangent all differ."""
    assert survey.clinometer_height(20, 38, 1.6) == pytest.approx(17.2257, abs=1e-4)
    assert survey.clinometer_height(20, -3, 1.6) == pytest.approx(0.5518, abs=1e-4)
    assert survey.clinometer_height_on_slope(20, 31, -7, 12.0) == pytest.approx(14.1566, abs=1e-4)
    assert survey.clinometer_height_on_slope(20, 31, -7) == pytest.approx(14.4729, abs=1e-4)
    assert survey.stick_height(1.2, 1.8, 13.5, 5.0) == pytest.approx(7.7892, abs=1e-4)
    assert survey.stick_height(1.2, 1.8, 13.5, -5.0) == pytest.approx(10.1424, abs=1e-4)
    assert survey.true_azimuth(120, -7) == 113
    assert survey.magnetic_bearing(3, 10) == 353
    assert survey.magnetic_bearing(350, -21) == 11
    assert survey.elevation_of(1.0, 20, 3.0) == pytest.approx(-5.7106, abs=1e-4)


def test_a_clinometer_level_and_on_a_slope():
    assert survey.clinometer_height(20, 45, 1.6) == pytest.approx(21.6)
    level = survey.clinometer_height_on_slope(20, 45, -np.degrees(np.arctan(1.6 / 20)))
    assert level == pytest.approx(21.6)
    assert survey.paced_distance(40, 0.75) == 30
    assert survey.true_azimuth(355, 10) == 5
    assert survey.magnetic_bearing(5, 10) == 355
    assert survey.elevation_of(6, 20, 1) == pytest.approx(14.04, abs=0.01)


@pytest.mark.parametrize(
    ("wrong", "path", "words"),
    [
        (lambda: survey.stick_height(0, 1, 1), "stick", "the stick must be more than 0"),
        (lambda: survey.stick_height(1, -1, 1), "stick_shadow", "the stick's shadow must be more than 0"),
        (lambda: survey.stick_height(1, 1, float("nan")), "shadow", "the shadow must be more than 0"),
        (lambda: survey.stick_height(1, 1, 1, 60), "slope", "shade: check the sign"),
        (lambda: survey.clinometer_height(-3, 30, 1.6), "distance", "the distance must be more than 0"),
        (lambda: survey.clinometer_height(10, -30, 1.6), "angle", "puts the top under the ground"),
        (lambda: survey.clinometer_height(10, 0, 0), "angle", "puts the top under the ground"),
        *((lambda angle=angle: survey.clinometer_height(10, angle, 1.6), "angle", "under 90") for angle in (90, 120, -90, -100)),
        *(
            (lambda top=top, foot=foot: survey.clinometer_height_on_slope(10, top, foot), "foot_angle", "the foot must be seen")
            for top, foot in ((10, 20), (10, 10), (90, 10), (120, 10), (10, -90), (10, -100))
        ),
        (lambda: survey.clinometer_height_on_slope(0, 20, 10), "distance", "more than 0"),
        (lambda: survey.paced_distance(10, 0), "pace", "a pace must"),
        (lambda: survey.paced_distance(-1, 0.7), "paces", "the number of paces must"),
        (lambda: survey.elevation_of(3, 0), "distance", "more than 0"),
    ],
)
def test_impossible_readings_are_refused(wrong, path, words):
    with pytest.raises(BriefError, match=words) as refused:
        wrong()
    assert refused.value.path == path


# -- files ---------------------------------------------------------------------------------------------------------


def test_skylines_round_trip_and_are_mended_in_words():
    held = read_skyline_csv(b"azimuth,elevation,kind\n90,4,leafy\n10,5\n180,12.5,solid\n90,6,evergreen\n")
    assert held.points == ((10.0, 5.0), (90.0, 6.0), (180.0, 12.5))
    assert held.kinds == ("solid", "evergreen", "solid")
    assert any("not in order" in note for note in held.notes)
    assert any("twice" in note for note in held.notes)
    assert any("From 180° to 10°" in note for note in held.notes)
    again = read_skyline_csv(write_skyline_csv(held.points, held.kinds).encode())
    assert (again.points, again.kinds) == (held.points, held.kinds)
    assert read_skyline_csv(b"90;4,5\n200;6,25").points == ((90.0, 4.5), (200.0, 6.25))
    assert "all round" in read_skyline_csv(b"90,4").notes[0]


@pytest.mark.parametrize(
    ("text", "path", "words"),
    [
        (b"400,5", "row 1", "azimuth 400"),
        (b"az,el\n10,95", "row 2", "elevation 95"),
        (b"10,-3", "row 1", "elevation -3"),
        (b"10,x", "row 1", "not a number"),
        (b"10,5,hedge", "row 1", "hedge"),
        (b"10", "row 1", "needs an azimuth"),
        (b"", "", "no reading"),
        (b"\xff\xfe\x00", "", "no text"),
        ("\n".join(f"{i * 0.05:.2f},3" for i in range(5100)).encode(), "row 5001", "at most 5000"),
    ],
)
def test_skylines_that_cannot_be_read(text, path, words):
    with pytest.raises(BriefError, match=words) as refused:
        read_skyline_csv(text)
    assert refused.value.path == path


def test_yards_round_trip_as_geojson():
    study = study_of(yard=YARD)
    objects = [thing.model_dump(mode="json", exclude_none=True) for thing in study.brief.yard.objects]
    held = read_yard_geojson(json.dumps(write_yard_geojson(objects)).encode(), SITE)
    assert yard_of(study_of(yard={"objects": held.objects}).brief.yard) == study.scene.yard
    assert held.notes == ()


def test_degrees_are_told_from_metres():
    def feature(shape, points, **properties):
        return {"type": "Feature", "geometry": {"type": shape, "coordinates": points}, "properties": properties}

    near = [[-79.95, 36.1], [-79.9499, 36.1], [-79.9499, 36.1001], [-79.95, 36.1]]
    file = {"type": "FeatureCollection", "features": [feature("Polygon", [near], name="Shed", height=3)] * 2}
    held = read_yard_geojson(json.dumps(file).encode(), SITE)
    assert held.objects[0]["footprint"][1] == pytest.approx([8.99, 0], abs=0.02)
    assert held.objects[0]["footprint"][2] == pytest.approx([8.99, 11.13], abs=0.02)
    assert "longitude and latitude" in held.notes[0]
    assert held.objects[1]["name"] == "Shed 2"
    assert "Shed 2" in held.notes[1]
    metres = {"type": "FeatureCollection", "features": [feature("Point", [3.0, -8.0], crown_radius=2, height=6)]}
    assert read_yard_geojson(json.dumps(metres).encode(), SITE).objects[0]["at"] == [3.0, -8.0]


@pytest.mark.parametrize(
    ("text", "words"),
    [
        (b"[1, 2]", "FeatureCollection"),
        (b"hello", "not GeoJSON"),
        (
            b'{"type": "FeatureCollection", "features": [{"geometry": {"type": "Polygon", "coordinates": [[[0, 0]], [[1, 1]]]}}]}',
            "hole",
        ),
        (
            b'{"type": "FeatureCollection", "features": [{"geometry": {"type": "Point", "coordinates": ["a", 1]}}]}',
            "pairs of numbers",
        ),
        (b'{"type": "FeatureCollection", "features": [{"geometry": null}]}', "must be a Point"),
    ],
)
def test_yards_that_cannot_be_read(text, words):
    with pytest.raises(BriefError, match=words):
        read_yard_geojson(text, SITE)


def test_an_outline_round_the_sky_of_its_own_post():
    """A post under the array's middle is no obstacle, and nothing breaks where a thing stands all round."""
    study = study_of(yard={"objects": [{**POST, "at": [0, 0.6], "height": 0.3}]})
    assert study.production().year == pytest.approx(study.open_sky.production().year, rel=1e-3)


@pytest.mark.parametrize("seed", range(2))
def test_fuzzed_briefs_are_refused_by_path_or_answered(greensboro, seed):
    """Whatever stands in the keys about the yard and the array: a refusal with its path, or figures that hold together."""
    rng, answered, refused = random.Random(seed), 0, []
    whole = brief_data(
        yard=YARD, horizon=[[90, 4], [180, 6, "leafy"], [270, 4]], wiring={"kind": "series", "strings": []},
        spot={"x": 0.0, "y": 0.0, "split": None, "parts": []}, mount={"kind": "stepped", "tilts": [15.0, 35.0, 55.0]},
    )  # fmt: skip
    for _ in range(150):
        data = spoiled(whole, rng, ("yard", "horizon", "wiring", "spot", "array", "panel", "mount"))
        try:
            study = studied(brief_of(data), load, greensboro.scene.weather)
            found = finite(shade_answer(study))
        except BriefError as error:
            refused.append(error)
            continue
        answered += 1
        assert found["energy"] <= found["unshaded_energy"] * (1 + 1e-9) or found["unshaded_energy"] < 0
        if found["loss"] > 1e-3:
            assert sum(thing["share"] for thing in found["objects"]) == pytest.approx(found["loss"])
    assert answered > 5
    assert all(error.message and (error.path or "“" in error.message) for error in refused)


def test_sun_hours_follow_the_sun_and_not_the_weather():
    """A wall round the south-west quarter takes the sun from solar noon (azimuth 180) on, in any month: half of an
    equinox month's hours; a dull sky takes none."""
    site = {"latitude": 44.0, "longitude": 0.0, "elevation": 0.0, "timezone": "UTC"}
    ring = [[0, -4], [-30, -4], [-30, 30]]
    walls = {"objects": [{"kind": "wall", "name": "West", "line": ring, "height": 60.0, "thickness": 0.1}]}
    study = study_of(site=site, sky={"kind": "made-up", "name": "green-maritime"}, yard=walls, horizon=None)
    report = shade_report(study)
    lengths = np.array(noon_and_length(study.scene.site)[1])
    for month, day in ((2, 74), (5, 166), (8, 258)):
        assert report.open_hours[month] == pytest.approx(lengths[day - 15 : day + 16].mean(), abs=0.1)
    assert report.sun_hours[2] == pytest.approx(report.open_hours[2] / 2, abs=0.25)
    other = shade_report(study_of(site=site, sky={"kind": "made-up", "name": "dry-upland"}, yard=walls, horizon=None))
    np.testing.assert_allclose(other.sun_hours, report.sun_hours)
    leaves = {"objects": [{"kind": "fence", "name": "West", "line": ring, "height": 60.0, "open": 0.4}]}
    open_fence = shade_report(study_of(site=site, sky={"kind": "made-up", "name": "green-maritime"}, yard=leaves, horizon=None))
    lost = report.open_hours[2] - report.sun_hours[2]
    assert report.open_hours[2] - open_fence.sun_hours[2] == pytest.approx(0.6 * lost, rel=0.03)
