"""Builds: made, renamed, copied, thrown away and taken back; and nobody sees anybody else's."""

from __future__ import annotations

import json
import uuid
from dataclasses import replace

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test.utils import CaptureQueriesContext
from django.utils import timezone

from sundial.days import day_of_date
from tests.core.conftest import load
from tests.web.conftest import build_for
from web.builds import results as results_module
from web.builds.briefs import brief_data
from web.builds.models import Build, StoredResult
from web.builds.results import SUMMARY, Results
from web.builds.views import parse_day

pytestmark = pytest.mark.django_db

GETS = ["", "place/", "frame/", "tilt/", "worth/", "start/place/", "brief.json", "place/weather", "tilt/moves.ics", "tilt/plan.csv", "tilt/drawing.svg", "tilt/hours.csv", "tilt/field-card.pdf", "worth/comparison.csv", "worth/drawing.svg", "together/"]  # fmt: skip
POSTS = [
    "place/",
    "frame/",
    "tilt/",
    "worth/",
    "start/place/",
    "start-done/",
    "rename/",
    "copy/",
    "delete/",
    "undelete/",
    "day/",
    "worth/rows/",
    "together/",
    "together/leave/",
    "together/string/",
]


@pytest.mark.parametrize("address", GETS)
def test_another_owners_build_cannot_be_read(site, stranger, address):
    theirs = build_for(stranger)
    assert site.get(f"/builds/{theirs.pk}/{address}").status_code == 404


@pytest.mark.parametrize("address", POSTS)
def test_another_owners_build_cannot_be_changed(site, stranger, address):
    theirs = build_for(stranger)
    before = brief_data(theirs)
    answer = site.post(f"/builds/{theirs.pk}/{address}", {"name": "mine now", "day": "5", "version": theirs.version})
    assert answer.status_code == 404 or (address == "undelete/" and answer.status_code == 302)
    theirs.refresh_from_db()
    assert (theirs.name, theirs.deleted_at, brief_data(theirs)) == ("Honey house", None, before)
    assert Build.objects.count() == 1


def test_another_owners_row_cannot_be_removed_through_ones_own_build(site, build, stranger):
    theirs = build_for(stranger)
    row = theirs.options.create(name="Theirs", mount={"kind": "fixed", "tilt": 10.0})
    assert site.post(f"/builds/{build.pk}/worth/rows/{row.pk}/delete/").status_code == 404
    assert theirs.options.filter(pk=row.pk).exists()


@pytest.mark.parametrize("address", [*GETS, "tilt/?part=answer"])
def test_anonymous_requests_are_redirected_to_sign_in(client, build, address):
    assert client.get(f"/builds/{build.pk}/{address}").status_code == 302


def test_expired_sessions_get_401_for_htmx(client, build):
    assert client.post(f"/builds/{build.pk}/tilt/", {}, headers={"HX-Request": "true"}).status_code == 401


def test_the_list_says_what_comes_next(site, build, work):
    assert "Being worked out anew" in site.get("/builds/").content.decode(), "the list computes nothing itself"
    assert work() == 1
    page = site.get("/builds/").content.decode()
    assert "Next: <em>Honey house</em>" in page
    assert "Next move" in page


def test_a_double_click_makes_one_build(site, person):
    key = str(uuid.uuid4())
    for _ in range(2):
        answer = site.post("/builds/new/", {"name": "Shed", "creation_key": key})
        assert answer.status_code == 302
    assert Build.objects.of(person).count() == 1
    assert Build.objects.get().chosen_day == day_of_date(timezone.localdate())  # it opens on today


def test_a_build_needs_a_name(site, person):
    assert "needs a name" in site.post("/builds/new/", {"name": "", "creation_key": uuid.uuid4()}, follow=True).content.decode()
    for page in ("new", "import"):  # typed into the line of addresses
        assert site.get(f"/builds/{page}/").headers["Location"] == "/builds/"
    assert not Build.objects.exists()


def test_rename_copy_throw_away_and_take_back(site, build, person):
    site.post(f"/builds/{build.pk}/rename/", {"name": "Wax house"})
    site.post(f"/builds/{build.pk}/copy/", {"creation_key": uuid.uuid4()})
    twin = Build.objects.exclude(pk=build.pk).get()
    assert twin.name == "Wax house (copy)"
    assert {**brief_data(twin), "name": ""} == {**brief_data(Build.objects.get(pk=build.pk)), "name": ""}
    site.post(f"/builds/{build.pk}/delete/")
    page = site.get("/builds/").content.decode()
    assert "Take it back" in page
    assert site.get(f"/builds/{build.pk}/tilt/").status_code == 404
    site.post(f"/builds/{build.pk}/undelete/")
    assert Build.objects.of(person).count() == 2


def test_copies_are_independent(site, build, fill):
    site.post(f"/builds/{build.pk}/copy/", {"creation_key": uuid.uuid4()})
    twin = Build.objects.exclude(pk=build.pk).get()
    fill(twin, "tilt", settings="4")
    build.plan.refresh_from_db()
    assert build.plan.settings == 2


def test_a_build_opens_where_it_was_left(site, build):
    site.get(f"/builds/{build.pk}/worth/")
    assert site.get(f"/builds/{build.pk}/")["Location"].endswith("/worth/")


def test_export_and_import_give_the_same_build(site, build, person):
    exported = site.get(f"/builds/{build.pk}/brief.json")
    assert 'filename="honey-house-brief.json"' in exported["Content-Disposition"]
    file = SimpleUploadedFile("b.json", exported.content, "application/json")
    site.post("/builds/import/", {"brief": file, "creation_key": uuid.uuid4()})
    again = Build.objects.exclude(pk=build.pk).get()
    assert Results(again).brief == Results(build).brief


def test_a_brief_that_names_a_weather_file_takes_it_along(site, person):
    data = {
        "format": "crooked-sundial-brief", "version": 1, "name": "From a file",
        "site": {"latitude": 36.1, "longitude": -79.95, "timezone": "America/New_York"}, "sky": {"kind": "tmy3", "file": "723170TYA.CSV"},
        "panel": {"power": 430, "length": 1.7, "width": 1.1}, "array": {"rows": 1, "columns": 2}, "mount": {"kind": "fixed", "tilt": 20},
    }  # fmt: skip
    brief = json.dumps(data).encode()

    def send(**files):
        return site.post(
            "/builds/import/", {"brief": SimpleUploadedFile("b.json", brief), "creation_key": uuid.uuid4(), **files}, follow=True
        ).content.decode()

    assert "choose it too" in send()
    assert not Build.objects.exists()
    send(weather=SimpleUploadedFile("723170TYA.CSV", load("723170TYA.CSV")))
    build = Build.objects.get()
    assert site.get(f"/builds/{build.pk}/place/weather").content == load("723170TYA.CSV")
    assert "GREENSBORO" in site.get(f"/builds/{build.pk}/place/").content.decode()


@pytest.mark.parametrize(
    ("content", "said"),
    [
        (b"", "The brief file is empty"),
        (b"\x00\x01\x02", "not JSON"),
        (b'{"format": "soup"}', "format: must be"),
        (b'{"format": "crooked-sundial-brief", "version": 9}', "version: this brief is of version 9"),
        (b'{"format": "crooked-sundial-brief", "version": 1, "colour": 1}', "is missing"),
    ],
)
def test_a_refused_import_says_why_and_makes_nothing(site, person, content, said):
    page = site.post(
        "/builds/import/", {"brief": SimpleUploadedFile("b.json", content), "creation_key": uuid.uuid4()}, follow=True
    ).content.decode()
    assert "Nothing was imported" in page
    assert said in page
    assert not Build.objects.exists()


def test_a_brief_with_an_unknown_key_is_refused_by_name(site, build):
    data = json.loads(site.get(f"/builds/{build.pk}/brief.json").content)
    data["panel"]["colour"] = "blue"
    file = SimpleUploadedFile("b.json", json.dumps(data).encode())
    assert (
        "panel.colour: is not a key of a brief"
        in site.post("/builds/import/", {"brief": file, "creation_key": uuid.uuid4()}, follow=True).content.decode()
    )


@pytest.mark.parametrize(
    ("typed", "day"),
    [("12 November", 315), ("Nov 12", 315), ("11-12", 315), ("29 February", 58), ("0", 0), ("364", 364), ("2026-01-31", 30)],
)
def test_days_as_people_type_them(site, build, typed, day):
    answer = site.post(f"/builds/{build.pk}/day/", {"day": typed})
    assert json.loads(answer["HX-Trigger"]) == {"day-changed": {"day": day}}
    build.refresh_from_db()
    assert build.chosen_day == day


@pytest.mark.parametrize("typed", ["", "400", "32 March", "tomorrow", "31 February"])
def test_days_that_do_not_exist(site, build, typed):
    answer = site.post(f"/builds/{build.pk}/day/", {"day": typed})
    assert answer.status_code == 422
    assert "12 November" in answer.content.decode()
    assert parse_day(typed) is None


def test_opening_a_page_computes_nothing_twice(site, build, monkeypatch):
    for station in ("place", "shade", "frame", "tilt", "worth"):
        site.get(f"/builds/{build.pk}/{station}/")
    kept = set(StoredResult.objects.values_list("kind", "digest"))
    for name in ("study.make_plans", "scene.produce", "study.tilt_surface"):
        monkeypatch.setattr(f"sundial.{name}", None)  # calling it again would fail
    for station in ("place", "shade", "frame", "tilt", "worth"):
        assert site.get(f"/builds/{build.pk}/{station}/").status_code == 200
    assert set(StoredResult.objects.values_list("kind", "digest")) == kept


def test_only_a_few_answers_of_each_kind_are_kept(site, build, fill):
    for moves in (1, 3, 4, 5, 6, 7, 8, 9, 10, 11):
        fill(build, "tilt", settings=str(moves))
    assert 4 <= StoredResult.objects.filter(kind="plan").count() <= 8


def test_the_place_tells_todays_sun_beside_the_chosen_days(site, build):
    build.chosen_day = 171
    build.save()
    page = site.get(f"/builds/{build.pk}/place/")
    (_, today), (name, chosen) = page.context["days"]
    assert name == "21 June"
    assert chosen.day_length == pytest.approx(15.35, abs=0.02)  # hour angle 115.12 degrees at declination 23.44
    assert f"{today.sunrise:%H:%M}" in page.content.decode()
    assert f"{chosen.solar_noon:%H:%M}" in page.content.decode()


def test_an_axis_set_by_hand_is_shown_as_it_rolls(client, demo):
    """What the drawing says of one tilt, the plan's sum and the mount's year are about the same rolling panels."""
    client.force_login(demo, backend="django.contrib.auth.backends.ModelBackend")
    pole = Build.objects.of(demo).get(name="Lookout pole")
    page = client.get(f"/builds/{pole.pk}/frame/")
    side, made, plan = page.context["side"], page.context["made"], page.context["plan"]
    assert made.year == pytest.approx(plan.chosen.energy, rel=1e-3)
    assert 0.9 * plan.chosen.energy < side.year_energy <= plan.chosen.energy * 1.02
    assert client.get(f"/builds/{pole.pk}/shade/").context["report"].energy == pytest.approx(made.year, rel=1e-3)


def test_how_it_stands_is_kept_compared_and_only_ones_own(build, site, stranger):
    address = f"/builds/{build.pk}/stands/"
    assert site.post(address, {"stands": "36", "back": "frame"})["Location"].endswith("/frame/")
    assert "yours stands at 36°" in site.get(f"/builds/{build.pk}/frame/").content.decode()
    assert "Give a number from -90 to 90." in site.post(address, {"stands": "95"}, follow=True).content.decode()
    assert Build.objects.get().stands_at == 36
    site.post(address, {"stands": ""})
    assert Build.objects.get().stands_at is None
    theirs = build_for(stranger)
    assert site.post(f"/builds/{theirs.pk}/stands/", {"stands": "36"}).status_code == 404


def test_a_result_stored_by_another_version_is_a_miss_and_no_error(site, build, monkeypatch):
    """After a deploy: bytes of a type with one field less, bytes that are cut off, and none of them a server error."""
    results = Results(build)
    wanted = results["summary"]
    rows = StoredResult.objects.filter(build=build)
    for payload in (b'{"energy": 1.0}', b"", b"\x93not numpy", b'{"energy": "x"'):
        rows.update(payload=payload)
        assert site.get("/builds/").status_code == 200 and site.get(f"/builds/{build.pk}/tilt/").status_code == 200
        assert Results(build)["summary"].energy == wanted.energy
    more = replace(SUMMARY.codec, shape=SUMMARY.codec.shape + " and a field more")
    assert Results(build).key(replace(SUMMARY, codec=more)) != Results(build).key(SUMMARY)
    before = results.key(SUMMARY)
    monkeypatch.setattr(results_module, "core_fingerprint", lambda: "another core or another lock file")
    assert Results(build).key(SUMMARY) != before


def test_the_sky_that_is_stored_keeps_its_own_doubt(person):
    build = build_for(person, sky={"kind": "world"})
    assert Results(build).weather.reanalysis and Results(build).weather.reanalysis  # computed, then read back


def test_the_list_asks_as_often_for_many_builds_as_for_few(site, person):
    """A page of it reads what is stored of all its builds together."""
    first = build_for(person)
    _ = Results(first)["summary"]

    def queries() -> int:
        with CaptureQueriesContext(connection) as asked:
            page = site.get("/builds/")
        assert [row.stale for row in page.context["rows"]] == [False] * Build.objects.count()
        return len(asked)

    def another() -> None:
        twin = first.copy()
        for stored in StoredResult.objects.filter(build=first):
            StoredResult.objects.get_or_create(
                build=twin, kind=stored.kind, digest=stored.digest, defaults={"payload": stored.payload}
            )

    another()
    few = queries()
    for _ in range(4):
        another()
    assert queries() == few
