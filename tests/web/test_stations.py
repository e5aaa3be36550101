"""What holds for every station, whichever are plugged in: run with the product's own and with one that tests bring."""

from __future__ import annotations

import json
import random
import re
import uuid
from pathlib import Path

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from django.urls import reverse

from tests.odd import ODD
from tests.web.conftest import build_for
from web.accounts.demo import demo_brief
from web.builds import registry
from web.builds.models import Build
from web.builds.part import Part
from web.builds.results import Results
from web.jobs.models import Job

STATIONS = registry.stations()
EXPORTS = [(station, export) for station in STATIONS for export in station.exports]
station = pytest.mark.parametrize("station", STATIONS, ids=lambda one: one.key)
exported = pytest.mark.parametrize(("station", "export"), EXPORTS, ids=lambda one: getattr(one, "key", getattr(one, "name", "")))
HTMX = {"HX-Request": "true"}


@pytest.fixture
def build(person) -> Build:
    """One of which every station has been told something."""
    wind, cutting = (demo_brief("Honey house")[key] for key in ("wind", "cutting"))
    legs = {"kind": "legs", "support_spacing": 2.0, "front_height": 0.6}
    return build_for(person, wind={**wind, "in_plan": []}, frame=legs, cutting={**cutting, "base": {"bolt_circle": 0.25}})


def address(build: Build, key: str) -> str:
    return f"/builds/{build.pk}/{key}/"


def reread(build: Build) -> Build:
    return Build.objects.whole().get(pk=build.pk)


@station
def test_own_station_page_renders(site, build, station):
    page = site.get(address(build, station.key))
    assert page.status_code == 200
    text = page.content.decode()
    current = re.findall(r'<a href="([^"]+)"[^>]*aria-current="page"', text)
    assert current == [address(build, station.key)]
    stops = [stop for group in page.context["rail"] for stop in group.stops]
    assert [stop.key for stop in stops] == [one.key for one in STATIONS]
    assert [stop.number for stop in stops] == list(range(1, len(STATIONS) + 1))
    assert all(f"<span>{stop.title}" in text.replace("&#x27;", "'") for stop in stops)


@station
def test_another_owners_station_is_not_found(client, build, stranger, station):
    before = Results(reread(build)).brief
    assert client.get(address(build, station.key)).status_code == 302, "without a person every page leads to the door"
    assert client.post(address(build, station.key), {}, headers=HTMX).status_code == 401, "and htmx is told"
    client.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    assert client.get(address(build, station.key)).status_code == 404
    assert client.post(address(build, station.key), {"version": build.version}).status_code == 404
    assert Results(reread(build)).brief == before


@station
def test_a_post_needs_a_token(person, build, station):
    strict = Client(enforce_csrf_checks=True)
    strict.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
    assert strict.post(address(build, station.key), {"version": build.version}).status_code == 403


@station
def test_an_untouched_form_saves_and_changes_nothing(build, fill, station):
    before = Results(reread(build)).brief
    answer = fill(build, station.key)
    assert "saved</span>" in answer.content.decode()
    assert reread(build).version == build.version + 1
    assert Results(reread(build)).brief == before


@station
def test_a_second_tab_is_noticed(build, fill, station):
    fill(build, station.key)
    late = fill(build, station.key, version=build.version)
    assert late["HX-Retarget"] == "#notice"
    assert "meanwhile" in late.content.decode()
    assert reread(build).version == build.version + 1


@station
def test_a_save_between_check_and_lock_is_noticed(build, fill, station, monkeypatch):
    """Another tab's save lands while this one's draft is being checked: nothing is overwritten."""
    from web.builds import editing

    write = editing.write

    def late(draft, version, changed, sharing):
        Build.objects.filter(pk=draft.pk).update(version=version + 1)
        return write(draft, version, changed, sharing)

    monkeypatch.setattr(editing, "write", late)
    before = Results(reread(build)).brief
    assert "meanwhile" in fill(build, station.key).content.decode()
    assert Results(reread(build)).brief == before


@station
def test_no_transaction_is_held_while_a_draft_is_checked(build, fill, station, monkeypatch, django_db_blocker):
    from django.db import connection

    depth = len(connection.savepoint_ids)  # the test's own transaction
    seen = []
    check = Results.check

    def watched(self):
        seen.append(len(connection.savepoint_ids))
        return check(self)

    monkeypatch.setattr(Results, "check", watched)
    fill(build, station.key)
    assert all(found == depth for found in seen)


@station
@pytest.mark.parametrize("seed", range(2))
def test_fuzzed_values_never_cause_a_server_error(build, fill, station, seed):
    rng = random.Random(f"{station.key} {seed}")
    form = station.form(reread(build))
    for _ in range(6):
        names = rng.sample(sorted(form.fields), min(2, len(form.fields)))
        typed = {name: rng.choice([value for value in ODD if isinstance(value, str | int | float)]) for name in names}
        answer = fill(build, station.key, **{name: str(value) for name, value in typed.items()})
        assert answer.status_code == 200, typed
        assert not re.search(r">\s*[-−]?(nan|inf)\b", answer.content.decode()), typed


@exported
def test_files_of_ones_own_and_not_of_anothers(site, client, build, stranger, work, station, export):
    path = reverse(f"{station.key}:{export.name}", args=[build.pk])
    answer = site.get(path)
    if export.result:
        assert "It is being made" in answer.content.decode()
        assert work() == 1
        answer = site.get(path)
    assert answer.status_code == 200
    assert answer["Content-Type"] == export.content_type
    assert answer["Content-Disposition"].endswith(f'-{export.ending}"')
    assert answer.content
    client.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    assert client.get(path).status_code == 404


@station
def test_a_missing_part_is_made_when_asked_for(site, build, station):
    for part in station.parts:
        part.objects.filter(build=build).delete()
    assert site.get(address(build, station.key)).status_code == 200
    for part in station.parts:
        assert part.objects.filter(build=build).count() == 1
        assert isinstance(part.of(reread(build)), Part)


def test_a_build_is_copied_thrown_away_and_taken_back_with_all_its_parts(site, build):
    site.post(f"/builds/{build.pk}/copy/", {"creation_key": uuid.uuid4()})
    twin = Build.objects.whole().exclude(pk=build.pk).get()
    mine, theirs = (Results(one).brief.model_dump() for one in (reread(build), twin))
    assert mine | {"name": ""} == theirs | {"name": ""}
    for part in registry.parts():
        assert part.of(twin).pk != part.of(build).pk
    site.post(f"/builds/{build.pk}/delete/")
    assert all(site.get(address(build, one.key)).status_code == 404 for one in STATIONS)
    site.post(f"/builds/{build.pk}/undelete/")
    assert all(site.get(address(build, one.key)).status_code == 200 for one in STATIONS)


def test_a_brief_takes_every_part_along(site, build):
    exported = site.get(f"/builds/{build.pk}/brief.json").content
    assert {key for part in registry.parts() for key in part.of(build).to_brief()} >= {"site", "panel", "plan", "worth"}
    file = SimpleUploadedFile("b.json", exported, "application/json")
    site.post("/builds/import/", {"brief": file, "creation_key": uuid.uuid4()})
    again = Build.objects.whole().exclude(pk=build.pk).get()
    assert Results(again).brief == Results(reread(build)).brief
    assert json.loads(site.get(f"/builds/{again.pk}/brief.json").content) == json.loads(exported)


def test_a_price_or_a_note_recomputes_no_plan(build, fill, monkeypatch):
    """Results follow from the keys they declare: computations are counted in a process that remembers nothing."""
    from sundial import scene, study
    from web.builds import results

    monkeypatch.setattr(results, "_process", results.ProcessCache())
    for one in STATIONS:
        fill(build, one.key)
    counted = []

    def counting(name, real):
        return lambda *args, **options: counted.append(name) or real(*args, **options)

    for module, name in ((study, "make_plans"), (study, "tilt_surface"), (scene, "produce")):
        monkeypatch.setattr(module, name, counting(name, getattr(module, name)))

    def fresh() -> None:
        monkeypatch.setattr(results, "_process", results.ProcessCache())
        counted.clear()

    fresh()
    fill(build, "worth", import_price="0.31", **{"two-axis_cost": "1900"})
    assert counted == []
    if "lantern" in [one.key for one in STATIONS]:
        fresh()
        fill(build, "lantern", power="9")
        assert counted == []
    fresh()
    fill(build, "tilt", settings="3")
    assert "make_plans" in counted
    fresh()
    fill(build, "frame", power="500")
    assert {"make_plans", "tilt_surface"} <= set(counted)


def test_another_owners_job_cannot_be_cancelled(client, build, stranger, site):
    site.get(f"/builds/{build.pk}/shade/prices/")
    job = Job.objects.get()
    client.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    assert client.post(f"/jobs/{job.pk}/cancel/").status_code == 404
    job.refresh_from_db()
    assert job.state == Job.State.WAITING


def test_unique_constraints_hold(build):
    from django.db import IntegrityError, transaction

    for part in registry.parts():
        with pytest.raises(IntegrityError), transaction.atomic():
            part.objects.create(build=build)
    build.options.filter(row="two-moves").delete()
    build.options.create(row="two-moves")
    with pytest.raises(IntegrityError), transaction.atomic():
        build.options.create(row="two-moves")
    for _ in range(2):
        build.options.create(name="Own", mount={"kind": "fixed", "tilt": 10.0})


def test_a_stranger_may_have_a_build_of_the_same_name(stranger, build):
    assert build_for(stranger).name == build.name


def test_every_colour_that_a_style_asks_for_is_told():
    """A custom property that nobody sets makes its whole rule void: what it fills turns black."""
    static = Path(__file__).parents[2] / "web"
    told = [
        path.read_text("utf-8")
        for kind in ("css", "html", "svg", "js")
        for path in static.rglob(f"*.{kind}")
        if "vendor" not in path.parts
    ]
    asked = {name for text in told for name in re.findall(r"var\((--[\w-]+)\)", text) if not name.startswith("--bs-")}
    known = {name for text in told for name in re.findall(r"(--[\w-]+)(?:\s*:|\", )", text)}
    assert len(asked) > 15 and asked <= known, asked - known
