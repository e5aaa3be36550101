"""Changing a build: answers in place, refusals beside their field, and two tabs that do not overwrite each other."""

from __future__ import annotations

import random
import re
import uuid

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from tests.core.conftest import load
from tests.odd import ODD
from tests.web.conftest import build_for
from web.builds.briefs import brief_data
from web.builds.models import Build
from web.builds.results import Results

pytestmark = pytest.mark.django_db


def refused(answer, field: str) -> str:
    """The refusal that the answer sets beside a field."""
    assert answer["HX-Reswap"] == "none"
    _, _, rest = answer.content.decode().partition(f'id="err-{field}"')
    return rest.partition(">")[2].partition("</span>")[0].strip()


def test_a_save_is_answered_and_the_new_figures_follow(build, fill):
    answer = fill(build, "tilt", settings="4")
    page = answer.content.decode()
    assert "Move it 4 times a year" in page
    assert '<span id="state" hx-swap-oob="innerHTML">saved</span>' in page
    assert 'id="version" value="2"' in page
    build.plan.refresh_from_db()
    assert build.plan.settings == 4


def test_an_unchanged_form_changes_nothing(build, fill):
    before = Results(build).brief
    for station in ("place", "frame", "tilt", "worth"):
        assert "saved</span>" in fill(build, station).content.decode(), station
    assert Results(Build.objects.get(pk=build.pk)).brief == before


@pytest.mark.parametrize("typed", ["inf", "-inf", "nan", "1e400", "∞"])
@pytest.mark.parametrize(
    ("station", "field"), [("tilt", "settings"), ("tilt", "people"), ("frame", "rows"), ("frame", "power"), ("worth", "life")]
)
def test_non_finite_numbers_are_refused_by_every_form(build, fill, station, field, typed):
    assert refused(fill(build, station, **{field: typed}), field).startswith("Give a")


@pytest.mark.parametrize("seed", range(3))
def test_fuzzed_answers_never_cause_a_server_error(build, fill, seed):
    rng = random.Random(seed)
    typed = [str(value) for value in ODD if not isinstance(value, list | dict)] + ["\x00", "<b>", "12;13", "9" * 400]
    fields = {
        "place": ("latitude", "longitude", "elevation", "timezone"),
        "frame": ("power", "length", "width", "rows", "columns", "tilts", "clearance", "azimuth", "soiling", "gamma"),
        "tilt": ("settings", "minutes_per_move", "people", "value_of_hour", "tilt_now", "goal"),
        "worth": ("import_price", "export_price", "self_consumption", "life", "interest", "panel_cost"),
    }
    for _ in range(25):
        station = rng.choice(list(fields))
        answers = {name: rng.choice(typed) for name in rng.sample(fields[station], 2)}
        answer = fill(Build.objects.get(pk=build.pk), station, **answers)
        assert answer.status_code == 200, answers
        assert not re.search(r">\s*[-−]?(nan|inf)\b", answer.content.decode()), answers


def test_what_a_brief_brought_and_no_form_asks_stays(person, fill):
    """Facing limits, leaning to both sides, losses by month, odd weekdays and slack."""
    for mount in (
        {"kind": "two-axis", "azimuth_limit": 70.0, "max_tilt": 75.0},
        {"kind": "stepped", "tilts": [-20.0, 0.0, 20.0, 45.0], "both_sides": True},
    ):
        build = build_for(
            person,
            mount=mount,
            system={"losses": {"soiling": [0.05] * 6 + [0.01] * 6}, "transposition": "perez"},
            plan={"weekdays": [2, 3], "slack": 0.003},
            horizon=[[0, 2], [180, 9]],
        )
        before = Results(build).brief
        for station in ("place", "frame", "tilt", "worth"):
            assert "saved</span>" in fill(build, station).content.decode(), station
        assert Results(Build.objects.get(pk=build.pk)).brief == before


def test_an_unchanged_form_in_feet_keeps_the_metres(person, fill):
    build = build_for(person)
    Build.objects.filter(pk=build.pk).update(units="us")
    page = fill(build, "frame").content.decode()
    assert "11 ft 4 3/8 in up the slope" in page
    build.frame.refresh_from_db()
    assert build.frame.length == 1.722


def test_without_htmx_the_whole_page_comes_back(build, fill):
    page = fill(build, "tilt", htmx=False, settings="1").content.decode()
    assert "and leave it." in page
    assert "<!doctype html>" in page
    wrong = fill(build, "tilt", htmx=False, settings="99")
    assert wrong.status_code == 422
    assert "Give a number from 1 to 12" in wrong.content.decode()


def test_a_second_tab_is_noticed_and_nothing_is_overwritten(build, fill):
    fill(build, "tilt", settings="3")
    late = fill(build, "tilt", settings="6", version=1)
    assert late["HX-Retarget"] == "#notice"
    assert "Somebody changed this build meanwhile" in late.content.decode()
    build.plan.refresh_from_db()
    assert build.plan.settings == 3


@pytest.mark.parametrize("version", ["", "x", "-1"])
def test_a_form_without_its_version_is_not_taken(build, fill, version):
    assert "changed this build meanwhile" in fill(build, "tilt", settings="6", version=version).content.decode()


PLACE = [
    ({"latitude": "91"}, "latitude", "beyond the pole"),
    ({"latitude": "90"}, "latitude", "At a pole"),
    ({"latitude": "-90"}, "latitude", "At a pole"),
    ({"latitude": "north"}, "latitude", "not an angle"),
    ({"latitude": "42 E"}, "latitude", "ends in N or S"),
    ({"longitude": "5000"}, "longitude", "no longitude"),
    ({"longitude": ""}, "longitude", "Give the longitude"),
    ({"elevation": "9 km"}, "elevation", "Give a length from"),
    ({"elevation": "high"}, "elevation", "is not a length"),
    ({"ghi": "1, 2, 3"}, "ghi", "not 3"),
    ({"ghi": "1, 2, ?, 4, 5, 6, 7, 6, 5, 4, 3, 2"}, "ghi", "March has no number"),
    ({"ghi": "1, 2, x, 4, 5, 6, 7, 6, 5, 4, 3, 2"}, "ghi", "Number 3"),
    ({"ghi": "9, 9, 9, 9, 9, 9, 9, 9, 9, 9, 9, 9"}, "ghi", "cloudless sky"),
    ({"ghi": None}, "ghi", "Give twelve numbers"),
    ({"albedo": "2"}, "albedo", "must lie from 0 to 1"),
    ({"sky_kind": "file"}, "weather_file", "Choose an EPW, TMY3 or CSV file"),
    ({"goal": "months"}, "months", "at least one month"),
    ({"goal": "demand"}, "demand", "twelve numbers in kWh"),
]


@pytest.mark.parametrize(("answers", "field", "said"), PLACE)
def test_wrong_answers_about_the_place(build, fill, answers, field, said):
    assert said in refused(fill(build, "place", **answers), field)
    build.place.refresh_from_db()
    assert (build.place.latitude, build.place.longitude) == (42.9, -6.1)


FRAME = [
    ({"rows": "0"}, "rows", "from 1 to 50"),
    ({"columns": "2.5"}, "columns", "a whole number"),
    ({"power": "0"}, "power", "Give a number"),
    ({"tilts": "15, 95"}, "tilts", "95 degrees"),
    ({"tilts": ""}, "tilts", "empty"),
    ({"tilts": "15, 22, 22"}, "tilts", "22° is there twice"),
    ({"tilts": "15\nsteep"}, "tilts", "Line 2"),
    ({"tilts": "-5, 10"}, "tilts", "from 0 (flat) to 90"),
    ({"kind": "fixed", "tilt": None}, "tilt", "Give a number"),
    ({"kind": "fixed", "tilt": "100"}, "tilt", "from 0 to 90"),
    ({"kind": "two-axis", "min_tilt": "60", "max_tilt": "30"}, "max_tilt", "must not be under"),
    ({"kind": "sail"}, "kind", "sail"),
    ({"length": "2 cubits"}, "length", "is not a length"),
    ({"azimuth": "400"}, "azimuth", "from 0 to 360"),
    ({"soiling": "120"}, "soiling", "from 0 to 100"),
    ({"gamma": "0.4"}, "gamma", "from -1 to 0"),
]


@pytest.mark.parametrize(("answers", "field", "said"), FRAME)
def test_wrong_answers_about_the_frame(build, fill, answers, field, said):
    assert said in refused(fill(build, "frame", **answers), field)


TILT = [
    ({"settings": "13"}, "settings", "from 1 to 12"),
    ({"cap": "10"}, "cap", "January is left with no tilt"),
    ({"cap": ", ".join(["60"] * 3 + ["10"] + ["60"] * 8)}, "cap", "April is left with no tilt"),
    ({"cap": "30", "floor": "40"}, "cap", "January is left with no tilt"),
    ({"cap": "30, 40"}, "cap", "not 2"),
    ({"tilt_now": "120"}, "tilt_now", "from 0 to 90"),
    ({"minutes_per_move": "-5"}, "minutes_per_move", "from 0"),
    ({"value_of_hour": "lots"}, "value_of_hour", "Give a number"),
]


@pytest.mark.parametrize(("answers", "field", "said"), TILT)
def test_wrong_answers_about_the_plan(build, fill, answers, field, said):
    assert said in refused(fill(build, "tilt", **answers), field)


WORTH = [
    ({"life": "0"}, "life", "from 1 to 60"),
    ({"interest": "-100"}, "interest", "from -99"),
    ({"self_consumption": "140"}, "self_consumption", "from 0 to 100"),
    ({"two-axis_cost": "cheap"}, "two-axis_cost", "Give a number"),
    ({"two-moves_upkeep": "-3"}, "two-moves_upkeep", "from 0"),
]


@pytest.mark.parametrize(("answers", "field", "said"), WORTH)
def test_wrong_answers_about_money(build, fill, answers, field, said):
    assert said in refused(fill(build, "worth", **answers), field)


def test_a_pasted_pair_fills_both_fields_and_finds_the_zone(build, fill):
    fill(build, "place", latitude="41°18'S 147°E", sky_kind="made-up", sky_name="green-maritime")
    build.place.refresh_from_db()
    assert (build.place.latitude, build.place.longitude) == pytest.approx((-41.3, 147.0))
    assert build.place.timezone == "Australia/Hobart"


def test_a_longitude_beyond_180_is_wrapped_and_said(build, fill):
    page = fill(build, "place", longitude="353.9").content.decode()
    assert "wrapped to -6.1°" in page
    assert "wrapped to -180°" in fill(build, "place", longitude="540").content.decode()


def test_a_weather_file_becomes_the_sky(build, fill):
    upload = {"weather_file": SimpleUploadedFile("723170TYA.CSV", load("723170TYA.CSV"))}
    page = fill(build, "place", files=upload, sky_kind="file", latitude="36.1", longitude="-79.95").content.decode()
    assert "GREENSBORO PIEDMONT TRIAD INT" in page
    build.place.refresh_from_db()
    assert build.place.sky_kind == "tmy3"


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"\x89PNG\0\0\0", "not a text file"),
        (b"time,ghi\n2023-01-01 00:00,abc", "Row 2, column ghi"),
        (b"hello", "column &#x27;time&#x27; is missing"),
        (b"LOCATION,x", "cut short"),
    ],
)
def test_a_refused_upload_loses_nothing(build, fill, content, said):
    good = {"weather_file": SimpleUploadedFile("723170TYA.CSV", load("723170TYA.CSV"))}
    fill(build, "place", files=good, sky_kind="file", latitude="36.1", longitude="-79.95")
    bad = fill(build, "place", files={"weather_file": SimpleUploadedFile("x.csv", content)})
    assert said in refused(bad, "weather_file")
    build.place.refresh_from_db()
    assert bytes(build.place.file_data) == load("723170TYA.CSV")


def test_an_empty_upload_is_told(build, fill):
    assert "empty" in refused(fill(build, "place", files={"weather_file": SimpleUploadedFile("x.csv", b"")}), "weather_file")


def test_a_fixed_frame_a_roller_and_a_pole_are_kept_as_typed(build, fill):
    fill(build, "frame", kind="fixed", tilt="12,5")
    build.frame.refresh_from_db()
    assert build.frame.mount == {"kind": "fixed", "tilt": 12.5}
    fill(build, "frame", kind="one-axis", axis_tilt="20", limit="45", axis_tilts="10, 30", standby_watts="2")
    build.frame.refresh_from_db()
    assert build.frame.mount["axis_tilts"] == [10.0, 30.0]
    page = fill(build, "frame", kind="two-axis", min_tilt="0", max_tilt="75", aim="light").content.decode()
    assert "two axes" in page
    assert "Motor and controller" in page


def test_a_pasted_hole_table_is_read(build, fill):
    page = fill(build, "frame", tilts="hole\ttilt\n1\t18\n2\t31.5\n3\t44").content.decode()
    assert "3 tilts" in page
    build.frame.refresh_from_db()
    assert build.frame.mount["tilts"] == [18.0, 31.5, 44.0]


def test_a_frame_that_leans_to_both_sides_takes_tilts_below_zero(build, fill):
    page = fill(build, "frame", tilts="-20, 0, 20, 40", both_sides="on").content.decode()
    assert "from -20° to 40°" in page.replace("−", "-")


def test_a_one_hole_frame_is_told_that_there_is_nothing_to_move(build, fill, site):
    fill(build, "frame", tilts="35")
    page = site.get(f"/builds/{build.pk}/tilt/").content.decode()
    assert "Fixed at <em>35°</em>" in page
    assert "nothing to move" in page


def test_rows_are_switched_priced_added_and_removed(build, fill, site):
    page = fill(build, "worth", **{"two-axis_on": "on", "two-axis_cost": "900"}).content.decode()
    assert re.search(r'id="v-two-axis-energy" hx-swap-oob="true">\d', page)
    added = {
        "version": Build.objects.get(pk=build.pk).version,
        "name": "=Steel frame",
        "kind": "stepped",
        "tilts": "20, 50",
        "settings": "2",
        "extra_cost": "120",
        "upkeep": "",
    }
    assert site.post(f"/builds/{build.pk}/worth/rows/", added).status_code == 302
    row = build.options.get(row=None)
    assert "=Steel frame" in site.get(f"/builds/{build.pk}/worth/").content.decode()
    assert "'=Steel frame" in site.get(f"/builds/{build.pk}/worth/comparison.csv").content.decode()
    fill(build, "worth", **{f"own{row.pk}_cost": "140"})
    row.refresh_from_db()
    assert row.extra_cost == 140
    site.post(f"/builds/{build.pk}/worth/rows/{row.pk}/delete/")
    assert not build.options.filter(row=None).exists()


def test_a_wrong_row_keeps_what_was_typed(build, site):
    answer = site.post(
        f"/builds/{build.pk}/worth/rows/",
        {"version": build.version, "name": "Sail", "kind": "stepped", "tilts": "steep", "settings": "2"},
    )
    page = answer.content.decode()
    assert answer.status_code == 422
    assert "not a tilt" in page
    assert 'value="Sail"' in page


def test_the_three_steps_lead_to_a_plan(site, person):
    site.post("/builds/new/", {"name": "Hut", "creation_key": "7b0d8f3e-0000-4000-8000-000000000001"})
    build = Build.objects.get()

    def step(name, **answers):
        build.refresh_from_db()
        return site.post(f"/builds/{build.pk}/start/{name}/", {"version": build.version, **answers})

    wrong = step("place", latitude="99", longitude="0", elevation="100 ft", sky_kind="made-up", sky_name="monsoon")
    assert wrong.status_code == 422
    assert 'value="99"' in wrong.content.decode()
    assert step("place", latitude="-33", longitude="18.5", elevation="100 ft", sky_kind="made-up", sky_name="dry-upland")[
        "Location"
    ].endswith("/start/panels/")
    assert step(
        "panels",
        power="400",
        rows="1",
        columns="4",
        orientation="portrait",
        length="5 ft 8 in",
        width="3 ft 9 in",
    )["Location"].endswith("/start/angles/")
    assert step("angles", stand_on="ground", moves="hand", tilts="10 to 60 by 10", clearance="2 ft", azimuth="")[
        "Location"
    ].endswith("/tilt/")
    page = site.get(f"/builds/{build.pk}/tilt/").content.decode()
    assert "Move it twice a year" in page and "not finished" not in page
    build = Build.objects.get()
    assert build.place.timezone == "Africa/Johannesburg"
    assert build.frame.length == pytest.approx(1.7272)
    assert site.get(f"/builds/{build.pk}/start/dance/").status_code == 404


def test_a_start_left_half_way_says_so_and_leads_back(site, person):
    site.post("/builds/new/", {"name": "Hut", "creation_key": uuid.uuid4()})
    build = Build.objects.get()
    pages = [f"/builds/{build.pk}/{key}/" for key in ("tilt", "place", "worth")]
    for page in pages:
        text = site.get(page).content.decode()
        assert "The start is not finished" in text and f'href="/builds/{build.pk}/start/place/"' in text, page
    assert "Its start is not finished: the place" in site.get("/builds/").content.decode()
    answers = {"latitude": "-33", "longitude": "18.5", "elevation": "30 m", "sky_kind": "world"}
    site.post(f"/builds/{build.pk}/start/place/", {"version": build.version, **answers})
    assert f'href="/builds/{build.pk}/start/panels/"' in site.get(pages[0]).content.decode()
    # Going back and on again does not lose the place; a copy is as unfinished.
    site.post(f"/builds/{build.pk}/start/place/", {"version": Build.objects.get().version, **answers})
    assert Build.objects.get().start_step == "panels"
    assert Build.objects.get().copy(name="Twin").start_step == "panels"
    site.post(f"/builds/{build.pk}/start-done/")
    assert "The start is not finished" not in site.get(pages[0]).content.decode()
    assert Build.objects.get(pk=build.pk).start_step == ""


def test_coordinates_alone_lead_to_a_sky_with_the_money_and_units_of_the_place(site, person):
    site.post("/builds/new/", {"name": "Cabin", "creation_key": uuid.uuid4()})
    build = Build.objects.get()
    address = f"/builds/{build.pk}/start/place/"
    answers = {"version": build.version, "longitude": "", "elevation": "4000 ft", "sky_kind": "world"}
    site.post(address, {**answers, "latitude": "47°36' N 121°40' W"})
    build = Build.objects.get()
    assert (build.units, build.currency) == ("us", "$")
    assert build.place.longitude == pytest.approx(-121.6667, abs=1e-4)
    assert Results(build).weather.source.startswith("World sky")
    assert "180, south" in site.get(f"/builds/{build.pk}/start/angles/").content.decode()
    # Told otherwise, it stays so, wherever the build moves.
    Build.objects.update(units="metric")
    build.refresh_from_db()
    site.post(address, {**answers, "version": build.version, "latitude": "33 52 S, 151 12 E"})
    build.refresh_from_db()
    assert (build.units, build.currency) == ("metric", "$")
    assert "0, north" in site.get(f"/builds/{build.pk}/start/angles/").content.decode()


def test_open_sea_is_told_beside_the_sky(site, person, build, fill):
    answer = fill(build, "place", latitude="-45", longitude="-120", sky_kind="world").content.decode()
    assert "This is open sea" in answer
    assert 'id="err-sky_kind"' in answer


def test_the_world_skys_twelve_numbers_can_be_taken_over(site, person, fill):
    build = build_for(person, sky={"kind": "world"}, yard=None, horizon=None)
    page = site.get(f"/builds/{build.pk}/place/").content.decode()
    assert "within 8 %" in page
    assert "Take them over" in page
    before = Results(build).weather
    site.post(f"/builds/{build.pk}/place/take-over")
    build = Build.objects.get()
    assert build.place.sky_kind == "monthly"
    np.testing.assert_allclose(build.place.ghi, before.ghi_per_day, atol=0.006)
    np.testing.assert_allclose(build.place.temp_air, before.temp_air_by_month, atol=0.06)
    low = ", ".join(f"{number / 2:.2f}" for number in build.place.ghi)
    assert "saved" in fill(build, "place", dhi=low).content.decode()
    build = Build.objects.get()
    assert Results(build).weather.dhi.sum() == pytest.approx(before.ghi.sum() / 2, rel=0.01)
    assert "January has" in fill(build, "place", dhi="9").content.decode()
    fill(build, "place", dhi="")
    assert Build.objects.get().place.dhi is None


def test_panels_that_come_stand_unwired_and_every_station_says_so(site, person, fill):
    build = build_for(person, wiring={"kind": "series", "strings": [[4, 3, 2, 1, 5, 6, 7, 8]]}, array={"rows": 2, "columns": 4})
    before = Results(build).plan.chosen.energy
    answer = fill(build, "frame", columns="5").content.decode()
    assert "saved</span>" in answer and "2 panels are on no string" in answer
    for station in ("shade", "tilt", "worth", "cutting"):
        page = site.get(f"/builds/{build.pk}/{station}/")
        assert page.status_code == 200 and "2 panels are on no string: they stand there and give nothing" in page.content.decode()
        assert "cannot be worked out" not in page.content.decode()
    build = Build.objects.whole().get(pk=build.pk)
    wiring = brief_data(build)["wiring"]
    assert (wiring["strings"], wiring["unwired"]) == ([[4, 3, 2, 1, 6, 7, 8, 9]], [5, 10]), "each panel keeps its place"
    assert Results(build).plan.chosen.energy == pytest.approx(before, rel=0.02), "what is on no string gives nothing"
    fill(build, "frame", columns="4")
    build = Build.objects.whole().get(pk=build.pk)
    assert brief_data(build)["wiring"]["strings"] == [[4, 3, 2, 1, 5, 6, 7, 8]] and Results(build).plan.chosen.energy == before


def test_a_refusal_of_what_another_station_asks_names_that_station(person, fill):
    build = build_for(person, spot={"split": {"groups": 2, "how": "behind", "distance": 4.0}}, array={"rows": 2, "columns": 4})
    answer = fill(build, "frame", rows="3").content.decode()
    assert "The shade: " in answer and "parted" in answer
    assert "spot.split" not in answer


@pytest.mark.parametrize("typed", ["42.9, -6.1", "42°54' N 6°06' W", "42,9; -6,1"])
def test_a_position_typed_as_a_name_is_taken_as_a_position(build, fill, typed):
    fill(build, "place", where=typed, latitude="10", longitude="20")
    held = Build.objects.whole().get(pk=build.pk)
    assert (held.place.latitude, held.place.longitude) == (pytest.approx(42.9), pytest.approx(-6.1))
    assert held.where == ""


def test_a_name_with_a_number_stays_a_name(build, fill):
    fill(build, "place", where="Mill 7, yard 2")
    assert Build.objects.whole().get(pk=build.pk).where == "Mill 7, yard 2"
