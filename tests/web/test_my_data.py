"""Everything of a person as a zip, and an account made anew from it."""

from __future__ import annotations

import io
import json
import zipfile

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from tests.core.conftest import load
from tests.web.conftest import build_for
from tests.web.test_shade import PNG
from web.accounts import data as accounts_data
from web.accounts.data import opened
from web.builds import quota
from web.builds.briefs import brief_data
from web.builds.models import Build
from web.builds.results import Results
from web.jobs.models import Job
from web.shade.models import Picture
from web.shade.pictures import take

pytestmark = pytest.mark.django_db


def zip_of(client) -> bytes:
    answer = client.get("/account/my-data/")
    assert answer["Content-Type"] == "application/zip"
    return b"".join(answer.streaming_content)


def send(client, data: bytes, work) -> str:
    """Send a zip, let the worker do its part, and read the account's page."""
    page = client.post("/account/my-data/", {"archive": SimpleUploadedFile("d.zip", data)}, follow=True).content.decode()
    return client.get("/account/").content.decode() if work() else page


def test_an_account_is_made_anew_from_its_zip(site, client, person, stranger, build, fill, work):
    tmy = SimpleUploadedFile("mine.csv", load("723170TYA.CSV"))
    assert (
        "saved"
        in fill(
            build, "place", sky_kind="file", latitude="36.1", longitude="-79.95", files={"weather_file": tmy}
        ).content.decode()
    )
    build.refresh_from_db()
    take(build, PNG)
    work()
    Build.objects.filter(pk=build.pk).update(stands_at=36.0, chosen_day=12, units="us", currency="$")
    build_for(stranger)
    thrown = build_for(person, name="Thrown")
    site.post(f"/builds/{thrown.pk}/delete/")
    data = zip_of(site)
    inside = zipfile.ZipFile(io.BytesIO(data)).namelist()
    assert sum(name.endswith("brief.json") for name in inside) == 2  # nobody else's
    assert {"builds/001/files/mine.csv", "builds/001/own/yard-picture.png"} <= set(inside)
    before = brief_data(Build.objects.whole().get(pk=build.pk))
    energy = Results(Build.objects.whole().get(pk=build.pk)).plan.chosen.energy
    site.post("/account/delete/", {"word": "delete"})
    client.force_login(stranger)
    page = send(client, data, work)
    assert "2 builds taken in" in page
    again = Build.objects.whole().get(owner=stranger, name=build.name, deleted_at=None, units="us")
    assert brief_data(again) == before
    assert (again.stands_at, again.chosen_day, again.currency, again.where) == (36.0, 12, "$", "Sorrel Hill")
    assert Results(again).plan.chosen.energy == pytest.approx(energy)
    work()
    assert Picture.objects.get(yard__build=again).width == 640
    assert Build.objects.get(owner=stranger, name="Thrown").deleted_at is not None


def spoiled(change) -> bytes:
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as made:
        change(made)
    return out.getvalue()


def about(builds) -> str:
    return json.dumps({"format": "crooked-sundial-data", "version": 1, "builds": builds})


def test_what_is_no_zip_of_ours_is_refused_in_words(site, person, work):
    wrong = [
        b"PK no zip",
        spoiled(lambda made: made.writestr("a.txt", "b")),
        spoiled(lambda made: made.writestr("about.json", "[" * 5000)),
        spoiled(lambda made: made.writestr("about.json", "[]")),
        spoiled(lambda made: made.writestr("about.json", about(7))),
    ]
    for data in wrong:
        assert "Nothing was taken in" in send(site, data, work)
    assert "Choose the zip" in site.post("/account/my-data/", {}, follow=True).content.decode()
    assert not Build.objects.exists()


def test_one_build_that_cannot_be_read_keeps_all_of_them_out_and_is_named(site, person, build, work):
    good = json.dumps(brief_data(build), default=str)

    def change(made):
        made.writestr("about.json", about([{"folder": "a"}, {"folder": "gone"}, {"folder": "b"}, 5]))
        made.writestr("a/brief.json", good)
        made.writestr("b/brief.json", "{}")

    page = send(site, spoiled(change), work)
    assert "Nothing was taken in" in page and "builds taken in" not in page
    assert [f"Build {number} of the zip" in page for number in (1, 2, 3, 4)] == [False, True, True, True]
    assert Build.objects.filter(owner=person).count() == 1, "not even the good one, nor hidden"


def test_the_same_zip_again_doubles_nothing(site, client, person, stranger, build, work):
    build_for(person, name="Second")
    data = zip_of(site)
    page = send(site, data, work)
    assert "0 builds taken in" in page and "2 were there already and stay as they are" in page
    assert Build.objects.of(person).count() == 2, "where it was written, all of it is there"
    client.force_login(stranger)
    assert "2 builds taken in" in send(client, data, work)
    again = Build.objects.of(stranger).get(name="Second")
    Build.objects.filter(pk=again.pk).update(name="Second, changed since")
    client.post(f"/builds/{Build.objects.of(stranger).exclude(pk=again.pk).get().pk}/delete/")
    page = send(client, data, work)
    assert "1 build taken in" in page and "1 was there already and stays as it is" in page, "what was thrown away comes again"
    assert sorted(Build.objects.of(stranger).values_list("name", flat=True)) == sorted([build.name, "Second, changed since"])


def test_a_zip_without_marks_is_known_again_by_what_it_says(site, person, build, work):
    def change(made):
        made.writestr("about.json", about([{"folder": "a", "where": "Fen"}]))
        made.writestr("a/brief.json", json.dumps(brief_data(build), default=str))

    assert "1 build taken in" in send(site, spoiled(change), work)
    assert "1 was there already" in send(site, spoiled(change), work)
    assert Build.objects.of(person).count() == 2


def test_a_worker_that_dies_half_way_shows_nothing_and_the_next_goes_on(site, client, person, stranger, build, work, monkeypatch):
    for name in ("Second", "Third"):
        build_for(person, name=name)
    data = zip_of(site)
    client.force_login(stranger)
    made: list[str] = []
    real = accounts_data._build_again

    def dies(user, archive, shown, key):
        if len(made) == 2:
            real(user, archive, shown, key)  # it was there, but nobody had noted it
            raise SystemExit
        made.append(str(shown["folder"]))
        return real(user, archive, shown, key)

    monkeypatch.setattr(accounts_data, "_build_again", dies)
    client.post("/account/my-data/", {"archive": SimpleUploadedFile("d.zip", data)})
    with pytest.raises(SystemExit):
        work()
    assert Build.objects.of(stranger).count() == 0
    monkeypatch.setattr(accounts_data, "_build_again", lambda *given: made.append(str(given[2]["folder"])) or real(*given))
    Job.objects.filter(state=Job.State.RUNNING).update(state=Job.State.WAITING)
    work()
    assert Build.objects.of(stranger).count() == 3 == Build.objects.filter(owner=stranger).count()
    assert sorted(made) == ["builds/001", "builds/002", "builds/003"], "each is made once, and the half of one anew"


@pytest.mark.parametrize("method", [zipfile.ZIP_DEFLATED, zipfile.ZIP_LZMA, zipfile.ZIP_BZIP2])
def test_packed_bytes_that_cannot_be_unpacked_are_said_so(site, person, build, work, method):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as made:
        made.writestr("about.json", about([{"folder": "a"}]))
        made.writestr("a/brief.json", json.dumps(brief_data(build), default=str) * 50, method)
    held = bytearray(out.getvalue())
    with zipfile.ZipFile(io.BytesIO(bytes(held))) as made:
        info = made.getinfo("a/brief.json")
        start = info.header_offset + 30 + len(info.filename.encode()) + 9
    held[start : start + 40] = b"\xff" * 40
    before = Build.objects.of(person).count()
    page = send(site, bytes(held), work)
    assert "Nothing was taken in" in page and "its files cannot be read" in page
    assert Build.objects.of(person).count() == before


@pytest.mark.parametrize(
    ("name", "told"),
    [("log-trials.json", '{"a": 1}'), ("log-trials.json", "[5]"), ("log-trials.json", '[{"name": []}]'), ("log-sources.json", "7"), ("log-sources.json", '{"0": 1}')],
)  # fmt: skip
def test_what_no_brief_carries_is_taken_in_with_its_build_or_not_at_all(site, person, build, work, name, told):
    def change(made):
        made.writestr(
            "about.json", about([{"folder": "a", "units": [], "currency": {}, "stands_at": 1e308, "chosen_day": "9" * 5000}])
        )
        made.writestr("a/brief.json", json.dumps(brief_data(build), default=str))
        made.writestr(f"a/own/{name}", told)
        made.writestr("a/own/series-0-x.csv", "time,W\n")

    before = Build.objects.of(person).count()
    page = send(site, spoiled(change), work)
    taken = "1 build taken in" in page
    assert taken or "Nothing was taken in" in page
    assert Build.objects.filter(owner=person).count() == before + taken


def test_a_bomb_is_refused_before_it_is_unpacked(person):
    def change(made):
        made.writestr("about.json", about([]))
        made.writestr("builds/001/files/w.csv", b"0" * 201_000_000, zipfile.ZIP_DEFLATED)

    with pytest.raises(Exception, match="200 MB"):
        opened(person, spoiled(change))


def test_files_beyond_what_one_person_may_keep_are_refused_in_words(site, person, build, fill, monkeypatch):
    tmy = load("723170TYA.CSV")
    here = {"sky_kind": "file", "latitude": "36.1", "longitude": "-79.95"}
    monkeypatch.setattr(quota, "MOST_BYTES", len(tmy) + 1000)
    assert "saved" in fill(build, "place", **here, files={"weather_file": SimpleUploadedFile("a.csv", tmy)}).content.decode()
    # Another file in its place is no more; a second build's is.
    assert "saved" in fill(build, "place", **here, files={"weather_file": SimpleUploadedFile("b.csv", tmy)}).content.decode()
    second = build_for(person)
    refused = fill(second, "place", **here, files={"weather_file": SimpleUploadedFile("a.csv", tmy)}).content.decode()
    assert "MB are the most" in refused
    picture = site.post(f"/builds/{second.pk}/shade/picture/", {"file": SimpleUploadedFile("a.png", PNG)})
    assert picture.status_code == 422 and "MB are the most" in picture.json()["error"]
    key = "0e5b9a2c-0000-4000-8000-000000000001"
    assert "MB are the most" in site.post(f"/builds/{build.pk}/copy/", {"creation_key": key}, follow=True).content.decode()
    assert quota.bytes_held(person) == len(tmy)


def test_the_oldest_answers_are_thrown_away_beyond_what_is_kept(person, build, monkeypatch):
    Results(build).plan  # noqa: B018
    kinds = list(build.results.order_by("pk").values_list("kind", flat=True))
    monkeypatch.setattr(quota, "MOST_ANSWERS", 10)
    assert quota.trim_answers(person) >= len(kinds) - 1
    assert quota.trim_answers(person) == 0
