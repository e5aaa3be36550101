"""The log: entries on one time line, a monitor's file taken in by a worker, what is learned and taken over."""

from __future__ import annotations

import io
import json
import random
import re
import uuid
from datetime import UTC, date, datetime, timedelta
from types import SimpleNamespace
from typing import Any

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.utils import timezone
from icalendar import Calendar
from PIL import Image

from sundial.expected.moment import expected_at
from sundial.expected.simulate import simulate, written
from sundial.record.entries import Change, Inspection, Move
from sundial.record.series import Series
from tests.web.conftest import build_for
from web.builds.models import Build, StoredResult
from web.builds.results import Results
from web.devices import jobs as log_jobs
from web.devices.models import Chunk, Upload
from web.jobs.models import Job
from web.jobs.queue import submit
from web.jobs.tasks import run_job
from web.log.models import Aside, Entry, LogBook, Photo, SeriesDay, Source
from web.log.store import add_entry, moves_of, series_of, source_named, take_rows
from web.log.words import quiet_sentences

pytestmark = pytest.mark.django_db
SCRIPT = {"X-Log": "1", "HX-Request": "true"}
FIRST = date(2026, 1, 1)


@pytest.fixture
def build(person: Any) -> Build:
    """A rack in an open yard, whose plan is worked out at once."""
    return build_for(person, yard=None)


def add(site: Any, build: Build, kind: str, **data: Any) -> Any:
    return site.post(f"/builds/{build.pk}/log/add/{kind}/", data, headers=SCRIPT)


def reread(build: Build) -> Build:
    return Build.objects.whole().get(pk=build.pk)


@pytest.fixture(scope="module")
def year() -> Any:
    """Half a year of the honey house with a tree that the survey lacks."""
    from sundial.brief.read import brief_of
    from sundial.study import studied
    from tests.web.conftest import TILTS
    from web.accounts.demo import demo_brief

    told = {**demo_brief("Honey house"), "mount": {"kind": "stepped", "tilts": TILTS}, "frame": None, "wind": None, "yard": None}
    return simulate(studied(brief_of(told)), FIRST, 200, 900, ("tree",), tilt=47.5)


# -- entries --------------------------------------------------------------------------------------------------------------


def test_an_empty_log_says_what_this_sun_would_give(site, build):
    page = site.get(f"/builds/{build.pk}/log/").content.decode()
    assert "Nothing is logged yet." in page and "I moved it" in page and "It reads…" in page
    assert "Take a monitor’s file in" in site.get(f"/builds/{build.pk}/log/judged/").content.decode()
    assert ">Log it</button>" in site.get(f"/builds/{build.pk}/log/field/").content.decode()


def test_a_move_is_where_it_stands_on_every_page(site, build):
    assert add(site, build, "move", tilt="47,5", minutes="11", by="Maren").json() == {"kept": True, "stands": 47.5}
    entry = Entry.objects.get(build=build)
    assert entry.data["tilt"] == 47.5 and entry.data["by"] == "Maren" and reread(build).stands_at == 47.5
    page = site.get(f"/builds/{build.pk}/tilt/").content.decode()
    assert 'value="47.5"' in page and "yours stands at 47.5°" in page
    site.post(f"/builds/{build.pk}/stands/", {"stands": "36"}, headers={"HX-Request": "true"})
    assert [move.tilt for move in moves_of(build)] == [47.5, 36.0], "what is said beside the line of the day is a move too"
    site.post(f"/builds/{build.pk}/stands/", {"stands": "36"}, headers={"HX-Request": "true"})
    assert len(moves_of(build)) == 2
    site.post(f"/builds/{build.pk}/log/entry/{Entry.objects.first().pk}/remove/")
    assert reread(build).stands_at == 47.5, "without the last one it stands as the one before left it"


def test_late_moves_are_told_with_their_cost(site, build, monkeypatch):
    chosen = Results(build).plan.chosen
    autumn = max(chosen.stretches, key=lambda stretch: stretch.tilt)
    today = timezone.localdate()
    start = date(today.year, 1, 1) + timedelta(days=autumn.start)
    start = start if start < today - timedelta(days=6) else start.replace(year=today.year - 1)
    late = datetime(start.year, start.month, start.day, 9, tzinfo=UTC) + timedelta(days=4)
    add_entry(build, Move(at=late, tilt=autumn.tilt, before=min(stretch.tilt for stretch in chosen.stretches)))
    page = site.get(f"/builds/{build.pk}/log/").content.decode()
    assert "four days late: cost" in page and "How the plan was kept" in page


def test_a_reading_becomes_shares_and_says_whether_it_was_fair(site, build):
    noon = datetime(2026, 6, 21, 14, 25)
    assert add(site, build, "reading", power="2810", sky="clear", at=noon.isoformat(), tilt="16").status_code == 200
    page = site.get(f"/builds/{build.pk}/log/?only=reading").content.decode().replace("\u202f", " ").replace("\u00a0", " ")
    assert "82 % of the nameplate; a fair test" in page and "read 2.81 kW" in page
    share = 2810 / expected_at(Results(build).study, datetime(2026, 6, 21, 12, 25, tzinfo=UTC), 16.0).clear_power
    add(site, build, "reading", power="900", sky="broken", at=noon.isoformat(), tilt="16")
    broken = site.get(f"/builds/{build.pk}/log/?only=reading").content.decode().replace("\u202f", " ").replace("\u00a0", " ")
    assert "within the" in broken and "that broken cloud leaves; no fair test: the sky is not clear" in broken
    assert f"On 21 June: 2.81 kW, {share * 100:.0f} % of what this sun gives." in page
    assert Entry.objects.first().at == datetime(2026, 6, 21, 12, 25, tzinfo=UTC), "typed by the clock of the place"


@pytest.mark.parametrize(
    ("kind", "data", "field", "words"),
    [
        ("move", {"tilt": "120"}, "tilt", "from -90 to 90"),
        ("move", {"tilt": "nan"}, "tilt", "Give a number"),
        ("move", {}, "tilt", "Give a number"),
        ("move", {"tilt": "40", "at": "2099-01-01T10:00"}, "at", "future"),
        ("move", {"tilt": "40", "at": "1970-01-01T10:00"}, "at", "long past"),
        ("move", {"tilt": "40", "at": "soon"}, "at", "such as"),
        ("reading", {}, "power", "what the display shows"),
        ("reading", {"power": "9000"}, "power", "9000 W from 3440 W"),
        ("reading", {"volts": "30"}, "amps", "belong together"),
        ("reading", {"quantity": "3"}, "unit", "missing"),
        ("inspection", {"what": "bolts", "due": "2001-01-01"}, "due", "after the day"),
        ("inspection", {"what": "mood"}, "what", "valid choice"),
        ("change", {"what": "magic"}, "what", "valid choice"),
        ("note", {}, "note", "few words"),
    ],
)
def test_what_cannot_be_is_refused_beside_its_field(site, build, kind, data, field, words):
    answer = add(site, build, kind, **data)
    assert answer.status_code == 422 and words in answer.json()["errors"][field]
    assert not Entry.objects.exists()
    plain = site.post(f"/builds/{build.pk}/log/add/{kind}/", data)  # without a script the page comes back
    assert plain.status_code == 422 and words.replace("'", "&#x27;") in plain.content.decode()


def test_an_odd_reading_is_kept_once_the_person_is_sure(site, build):
    assert add(site, build, "reading", power="9000").status_code == 422
    assert add(site, build, "reading", power="9000", sure="on").status_code == 200


def test_what_is_sent_late_counts_when_it_was_typed(site, build):
    assert add(site, build, "move", tilt="30", moment="2026-03-04T09:10:11.123Z").status_code == 200
    assert Entry.objects.get().at == datetime(2026, 3, 4, 9, 10, 11, tzinfo=UTC)
    add(site, build, "note", note="a clock ahead", moment="2199-01-01T00:00:00.000Z")
    assert abs((Entry.objects.get(kind="note").at - timezone.now()).total_seconds()) < 60
    add(site, build, "note", note="told", moment="2026-03-04T09:10:11.123Z", at="2026-02-01T10:00")
    assert Entry.objects.filter(at=datetime(2026, 2, 1, 9, tzinfo=UTC)).exists(), "what is typed goes before"


def test_the_same_entry_sent_twice_is_one(site, build):
    key = str(uuid.uuid4())
    for _ in range(3):
        assert add(site, build, "note", note="late post", client_id=key).status_code == 200
    assert Entry.objects.filter(build=build).count() == 1


def test_inspections_come_due_and_go_into_the_calendar(site, build):
    add(site, build, "inspection", what="bolts", fine="on", at="2026-03-01T10:00")
    add(site, build, "inspection", what="growth", at="2026-03-01T10:00", due="2026-04-02")
    add_entry(build, Inspection(at=datetime(2026, 3, 20, tzinfo=UTC), what="growth", fine=True, due=date(2026, 7, 1)))
    page = site.get(f"/builds/{build.pk}/log/").content.decode()
    assert "Growth <small>was due on 1 July" in page and "Bolts <small>was due on 30 August" in page
    events = Calendar.from_ical(site.get(f"/builds/{build.pk}/log/inspections.ics").content).walk("VEVENT")
    assert [(str(event["summary"]), event.decoded("dtstart")) for event in events] == [
        ("Honey house: look at the bolts", date(2026, 8, 30)), ("Honey house: look at the growth", date(2026, 7, 1)),
    ]  # fmt: skip


def test_a_photo_is_drawn_anew_and_tells_no_place(site, build, work, stranger, client):
    picture = Image.new("RGB", (640, 480), "olive")
    exif = Image.Exif()
    exif[0x8825] = {1: "N", 2: (42.0, 54.0, 0.0)}
    out = io.BytesIO()
    picture.save(out, "JPEG", exif=exif)
    assert b"Exif" in out.getvalue()
    photo = SimpleUploadedFile("a.jpg", out.getvalue(), "image/jpeg")
    assert add(site, build, "move", tilt="40", photo=photo).status_code == 200
    entry = Entry.objects.get()
    assert site.get(f"/builds/{build.pk}/log/entry/{entry.pk}/photo/").status_code == 404, "not before it is drawn anew"
    work()
    kept = bytes(Photo.objects.get().data)
    assert kept.startswith(b"\xff\xd8") and b"Exif" not in kept and Photo.objects.get().raw is None
    assert site.get(f"/builds/{build.pk}/log/entry/{entry.pk}/photo/").content == kept
    bad = add(site, build, "move", tilt="41", photo=SimpleUploadedFile("a.jpg", b"no picture", "image/jpeg"))
    assert bad.status_code == 422 and "PNG or JPEG" in bad.json()["errors"]["photo"] and Entry.objects.count() == 1


# -- files ----------------------------------------------------------------------------------------------------------------


def taken_in(site: Any, build: Build, data: bytes, name: str = "shed.csv", source: str = "Shed", **answers: Any) -> Upload:
    shown = site.post(f"/builds/{build.pk}/log/file/", {"file": SimpleUploadedFile(name, data)}, follow=True)
    upload = Upload.objects.first()
    form = shown.context["form"]
    assert (
        ">12/31/2026 18:05:09<" in shown.content.decode() and ">%" not in shown.content.decode()
    )  # ways to write times, by example
    told = {name: form[name].value() for name in form.fields} | {"source": source} | answers
    answer = site.post(f"/builds/{build.pk}/log/file/{upload.pk}/", told)
    assert answer.status_code == 302, answer.content.decode()
    return upload


def week(days: int = 7, step: int = 300) -> Series:
    unix = datetime(2026, 3, 27, 23, tzinfo=UTC).timestamp() + step * np.arange(days * 86400 // step, dtype=float)
    return Series(unix, np.round(np.maximum(2400 * np.sin((unix % 86400) / 86400 * 2 * np.pi - 1.6), 0), 1), float(step))


@pytest.mark.parametrize("dialect", ["plain", "comma", "american"])
def test_a_file_is_shown_confirmed_and_taken_in_once(site, build, work, dialect):
    series = week()
    data = written(series, dialect, "Europe/Madrid")
    upload = taken_in(site, build, data)
    assert work() >= 1
    upload.refresh_from_db()
    assert (upload.state, upload.added, upload.known, upload.differing) == ("in", len(series.unix), 0, 0)
    source = Source.objects.get()
    held = series_of(source)
    assert held.unix.tolist() == series.unix.tolist() and held.power == pytest.approx(series.power, abs=0.15) and held.step == 300
    assert reread(build).logbook.main == source and not Chunk.objects.exists()
    before = bytes(SeriesDay.objects.order_by("day")[2].data)
    again = taken_in(site, build, data)
    assert again.pk != upload.pk and source_columns(source) and work() >= 1
    again.refresh_from_db()
    assert (again.added, again.known) == (0, len(series.unix)) and bytes(SeriesDay.objects.order_by("day")[2].data) == before
    page = site.get(f"/builds/{build.pk}/log/").content.decode()
    assert "The year against the plan" in page and "were there already" in page


def test_a_file_of_another_time_zone_lands_at_its_own_times(site, build, work):
    series = week()
    upload = taken_in(site, build, written(series, "comma", "America/Denver"), zone="America/Denver")
    assert work() >= 1
    upload.refresh_from_db()
    held = series_of(Source.objects.get())
    assert upload.state == "in" and held.unix.tolist() == series.unix.tolist()


def source_columns(source: Source) -> bool:
    source.refresh_from_db()
    return bool(source.columns["time"])


def test_what_is_put_right_counts_and_not_what_was_guessed(site, build, work):
    rows = "\n".join(["when,a,b", *(f"2026-03-{day:02d}T12:00:00Z,{day},{day * 100}" for day in range(1, 20)),
                      *(f"2026-03-{day:02d}T12:15:00Z,{day},{day * 100}" for day in range(1, 20))])  # fmt: skip
    upload = taken_in(site, build, rows.encode(), value="b", kind="power", unit="W")
    work()
    upload.refresh_from_db()
    assert upload.state == "in" and max(series_of(Source.objects.get()).power) == 1900
    wrong = site.post(f"/builds/{build.pk}/log/file/", {"file": SimpleUploadedFile("x.csv", rows.encode())}, follow=True)
    form = wrong.context["form"]
    told = {name: form[name].value() for name in form.fields} | {"kind": "energy", "unit": "kW"}
    answer = site.post(f"/builds/{build.pk}/log/file/{Upload.objects.first().pk}/", told)
    assert answer.status_code == 422 and "Energy is told in Wh or kWh" in answer.content.decode()


def test_a_file_in_pieces_with_bad_rows_is_taken_in_and_told(site, build, work):
    rows = ["time,power"] + [
        f"2026-02-{1 + n // 96:02d}T{n // 4 % 24:02d}:{n % 4 * 15:02d}:00Z,{n % 96 * 10}" for n in range(28 * 96)
    ]
    rows[5], rows[900] = "2026-02-01T01:00:00Z,9999", "yesterday,4"
    data = "\n".join(rows).encode() + b"\n" * 1_200_000  # a little over the first piece
    head, size = data[:1_000_000], len(data)
    first = site.post(
        f"/builds/{build.pk}/log/file/",
        {"file": SimpleUploadedFile("a.csv", head), "size": size, "name": "a.csv"},
        headers=SCRIPT,
    )
    upload = first.json()["upload"]
    early = site.post(f"/builds/{build.pk}/log/file/{upload}/", {
        "source": "A", "time": "time", "time_format": "ISO8601", "value": "power", "kind": "power", "unit": "W"})  # fmt: skip
    assert early.status_code == 422 and "not arrived whole" in early.content.decode()
    part = {"first": 1_000_000, "file": SimpleUploadedFile("a.csv", data[1_000_000:])}
    assert site.post(f"/builds/{build.pk}/log/file/{upload}/part/", part, headers=SCRIPT).json() == {"whole": True}
    odd = {"first": 7, "file": SimpleUploadedFile("a.csv", b"x")}
    assert site.post(f"/builds/{build.pk}/log/file/{upload}/part/", odd, headers=SCRIPT).status_code == 422
    site.post(f"/builds/{build.pk}/log/file/{upload}/", {
        "source": "A", "time": "time", "time_format": "ISO8601", "value": "power", "kind": "power", "unit": "W"})  # fmt: skip
    work()
    page = site.get(f"/builds/{build.pk}/log/").content.decode().replace("\u202f", " ").replace("\u00a0", " ")
    for words in ("row 901: &#x27;yesterday&#x27;", "kept aside", "10.00 kW on 1 February 2026"):
        assert words in page, words
    assert Aside.objects.get().power == 9999
    site.post(f"/builds/{build.pk}/log/aside/", {"true": "1"})
    assert not Aside.objects.exists() and max(series_of(Source.objects.get()).power) == 9999


def test_files_that_nobody_spoke_of_are_forgotten(site, build):
    site.post(f"/builds/{build.pk}/log/file/", {"file": SimpleUploadedFile("a.csv", written(week(1), "plain", "UTC"))})
    Upload.objects.update(created_at=timezone.now() - timedelta(days=2))
    site.post(f"/builds/{build.pk}/log/file/", {"file": SimpleUploadedFile("b.csv", written(week(1), "plain", "UTC"))})
    assert [upload.name for upload in Upload.objects.all()] == ["b.csv"]
    assert set(Chunk.objects.values_list("upload__name", flat=True)) == {"b.csv"}


def test_a_worker_that_dies_half_way_goes_on_and_counts_nothing_twice(site, build, work, monkeypatch):
    series = week(14)
    upload = taken_in(site, build, written(series, "counter", "Europe/Madrid"))
    real, calls = log_jobs.take_rows, []

    def dies(*args: Any) -> Any:
        calls.append(1)
        if len(calls) == 3:
            raise KeyboardInterrupt
        return real(*args)

    monkeypatch.setattr(log_jobs, "take_rows", dies)
    monkeypatch.setattr(log_jobs.Stream.pieces, "__defaults__", (900, 0))
    job = Job.objects.get(kind="intake")
    with pytest.raises(KeyboardInterrupt):
        log_jobs._intake(job, lambda *_: None)
    upload.refresh_from_db()
    assert upload.state == "coming" and upload.rows == 1800 and upload.added > 1500
    log_jobs._intake(job, lambda *_: None)
    upload.refresh_from_db()
    assert upload.state == "in" and series_of(Source.objects.get()).unix.size == len(series.unix) - 2
    assert upload.added == len(series.unix) - 2


def test_a_file_that_was_given_up_goes_on_at_a_button(site, build, work, monkeypatch):
    series = week(14)
    upload = taken_in(site, build, written(series, "counter", "Europe/Madrid"))
    real, calls = log_jobs.take_rows, []

    def fails(*args: Any) -> Any:
        calls.append(1)
        if len(calls) == 3:
            raise RuntimeError("a bad day")
        return real(*args)

    monkeypatch.setattr(log_jobs, "take_rows", fails)
    monkeypatch.setattr(log_jobs.Stream.pieces, "__defaults__", (900, 0))
    work()
    page = site.get(f"/builds/{build.pk}/log/").content.decode()
    assert "1,800 rows are in" in page.replace("\u202f", ",").replace("\u2009", ",") and "Go on from there" in page
    state = f"/builds/{build.pk}/log/file/{upload.pk}/state/"
    assert "waits for its turn" in site.post(state).content.decode()
    assert "waits for its turn" in site.get(f"/builds/{build.pk}/log/").content.decode(), (
        "a page that is opened anew tells it too"
    )
    work()
    upload.refresh_from_db()
    assert upload.state == "in" and upload.added == len(series.unix) - 2
    assert site.post(state).status_code == 404, "what is in does not come again"


def test_a_file_counts_as_it_comes_in(site, build, monkeypatch):
    """Not only its first piece: a person could else fill the disk with what follows."""
    noise = random.Random(4).randbytes(900_000)
    head = b"time,power\n" + b"\n".join(f"2026-02-01T{n // 60:02d}:{n % 60:02d}:00Z,{n}".encode() for n in range(1440))
    first = site.post(
        f"/builds/{build.pk}/log/file/",
        {"file": SimpleUploadedFile("a.csv", head + b"\n" * (1_000_000 - len(head))), "size": 4_000_000, "name": "a.csv"},
        headers=SCRIPT,
    )
    monkeypatch.setattr("web.builds.quota.MOST_BYTES", 1_000_000)
    address = f"/builds/{build.pk}/log/file/{first.json()['upload']}/part/"
    answers = [
        site.post(address, {"first": n * 1_000_000, "file": SimpleUploadedFile("a.csv", noise)}, headers=SCRIPT) for n in (1, 2)
    ]
    assert [answer.status_code for answer in answers] == [200, 422] and "MB are the most" in answers[1].json()["error"]
    assert Chunk.objects.count() == 2


def test_abandoned_files_go_once_a_day_whoever_began_them(site, build, work):
    data = written(week(1), "plain", "UTC")
    site.post(f"/builds/{build.pk}/log/file/", {"file": SimpleUploadedFile("a.csv", data)})
    coming = taken_in(site, build, data, name="b.csv")
    Upload.objects.update(created_at=timezone.now() - timedelta(days=2))
    Job.objects.filter(kind="intake").update(state=Job.State.RUNNING)
    submit("purge", "purge", "purge", None)
    run_job(Job.objects.get(kind="purge").pk)
    assert list(Upload.objects.values_list("pk", flat=True)) == [coming.pk], "what is on its way stays"


@pytest.mark.parametrize(
    ("data", "words"),
    [(b"", "empty"), (b"hello", "not a table"), (b"time,power\n2026-01-01,x\n2026-01-02,y\n", "no column holds")],
)
def test_a_file_that_is_no_series_is_refused_in_words(site, build, data, words):
    answer = site.post(f"/builds/{build.pk}/log/file/", {"file": SimpleUploadedFile("x.csv", data)}, headers=SCRIPT)
    assert answer.status_code == 422 and words in answer.json()["error"].lower() or "empty" in answer.content.decode()
    large = site.post(
        f"/builds/{build.pk}/log/file/", {"file": SimpleUploadedFile("x.csv", b"a,b\n1,2\n"), "size": 200_000_000}, headers=SCRIPT
    )
    assert large.status_code == 422 and "200 MB; 120 MB are the most" in large.json()["error"]


# -- judged and taken over ------------------------------------------------------------------------------------------------


@pytest.fixture
def judged(site, person, year, work) -> Build:
    build = build_for(person, yard=None)
    source = source_named(build, "Shed", 1.0)
    take_rows(source, year.series.unix, year.series.power, 900.0)
    Source.objects.update(step=900.0)
    add_entry(build, Move(at=datetime(2026, 1, 1, tzinfo=UTC), tilt=47.5, before=47.5))
    add_entry(build, Change(at=datetime(2026, 4, 10, 12, tzinfo=UTC), what="pruned"))
    pending = site.get(f"/builds/{build.pk}/log/judged/").content.decode()
    assert "Waiting for its turn" in pending
    work()
    return reread(build)


def test_the_missed_tree_is_found_and_taken_into_the_skyline(site, judged):
    page = site.get(f"/builds/{judged.pk}/log/judged/").content.decode()
    assert "On clear days it gives" in page and "Something shades that the survey lacks" in page and "from 100° to 125°" in page
    assert "Pruned, 10 April 2026" in page and "not shown" in page
    before = Results(judged).plan.chosen.energy
    site.post(f"/builds/{judged.pk}/log/take-over/", {"what": "shade", "number": "0"})
    after = reread(judged)
    heights = {round(r["azimuth"]): r["elevation"] for r in after.yard.skyline}
    assert heights[110] == 24.0 and after.version == judged.version + 1
    assert Results(after).plan.chosen.energy < before - 5, "the plan counts it"
    site.post(f"/builds/{judged.pk}/log/take-over/", {"what": "shade", "number": "7"})
    assert reread(judged).version == after.version


def test_a_reading_has_one_share_on_every_page(site, judged):
    """What clear days teach of the air counts for it: a page that was made before that learns it with the judgement."""
    StoredResult.objects.filter(build=judged, kind="judgement").update(kind="judgement-aside")
    before = re.search(r'id="air" name="air" value="(\w+)"', site.get(f"/builds/{judged.pk}/log/").content.decode())[1]
    StoredResult.objects.filter(build=judged, kind="judgement-aside").update(kind="judgement")
    anew = f'hx-get="/builds/{judged.pk}/log/?part=answer"'
    assert anew in site.get(f"/builds/{judged.pk}/log/judged/?air={before}").content.decode()
    after = re.search(r'id="air" name="air" value="(\w+)"', site.get(f"/builds/{judged.pk}/log/").content.decode())[1]
    assert after != before and anew not in site.get(f"/builds/{judged.pk}/log/judged/?air={after}").content.decode()


def test_the_sky_that_was_learned_becomes_the_sky_of_the_plan(site, judged):
    site.post(f"/builds/{judged.pk}/log/take-over/", {"what": "sky"})
    after = reread(judged)
    assert after.place.sky_kind == "monthly" and after.place.learned_days > 150
    assert "learned here, from" in Results(after).weather.source
    months = after.place.ghi
    site.get(f"/builds/{judged.pk}/place/")
    assert 0.5 < months[3] < 9


def test_an_entry_or_a_reading_computes_no_plan_anew(site, judged, monkeypatch):
    from web.builds import results as results_module

    _ = Results(judged).plan
    monkeypatch.setattr(results_module, "plan_report", lambda study: pytest.fail("a plan was computed"))
    add_entry(judged, Move(at=datetime(2026, 5, 1, tzinfo=UTC), tilt=36.0))
    assert Results(reread(judged)).plan and Results(reread(judged)).peek("judgement") is None, "only the judgement is stale"


def test_two_builds_stand_beside_one_another_per_kw(site, person, judged):
    other = build_for(person)
    Build.objects.filter(pk=other.pk).update(name="Twin")
    series = series_of(judged.logbook.main)
    take_rows(source_named(other, "B", 1.0), series.unix, series.power * 1.246, 900.0)
    page = site.get(f"/builds/{judged.pk}/log/").content.decode()
    assert f"/log/beside/{other.pk}/" in page
    beside = (
        site.get(f"/builds/{judged.pk}/log/beside/{other.pk}/").content.decode().replace("\u202f", " ").replace("\u00a0", " ")
    )
    assert "24.6 % more for each kW" in beside.replace("\u2009", " ")


def test_two_monitors_of_one_rack_stand_beside_one_another(site, judged):
    series = series_of(judged.logbook.main)
    arm = source_named(judged, "Arm B", 1.0)
    take_rows(arm, series.unix, series.power * 0.9, 900.0)
    page = site.get(f"/builds/{judged.pk}/log/").content.decode()
    assert "Two monitors on one rack are never added up" in page and f"source/{arm.pk}/beside/" in page
    beside = site.get(f"/builds/{judged.pk}/log/source/{arm.pk}/beside/").content.decode().replace("\u202f", " ")
    assert "10.0 % less for each kW" in beside and "Shed" in beside
    site.post(f"/builds/{judged.pk}/log/source/{arm.pk}/main/")
    assert reread(judged).logbook.main == arm and Results(reread(judged)).peek("judgement") is None


# -- data ----------------------------------------------------------------------------------------------------------------


def test_all_of_it_goes_out_and_a_span_goes_away(site, build):
    add(site, build, "note", note="=1+1", at="2026-02-01T10:00")
    add(site, build, "change", what="cleaned", at="2026-03-01T10:00")
    series = week(3)
    source = source_named(build, "Shed", 1.0)
    take_rows(source, series.unix, series.power)
    rows = site.get(f"/builds/{build.pk}/log/source/{source.pk}/series.csv").getvalue().decode().splitlines()
    assert len(rows) == len(series.unix) + 1 and rows[1] == f"2026-03-27T23:00:00Z,{series.power[0]:.1f}"
    entries = json.loads(b"".join(site.get(f"/builds/{build.pk}/log/log.json").streaming_content))
    assert [entry["kind"] for entry in entries] == ["note", "change"]
    assert "'=1+1" in site.get(f"/builds/{build.pk}/log/log.csv").content.decode()
    site.post(f"/builds/{build.pk}/log/delete/", {"start": "2026-02-20", "end": "2026-03-28", "entries": "1", "series": "1"})
    assert [entry.kind for entry in Entry.objects.all()] == ["note"] and SeriesDay.objects.count() == 2
    said = site.post(f"/builds/{build.pk}/log/delete/", {"start": "2026-03-20", "end": "2026-03-01", "entries": "1"}, follow=True)
    assert "lies before the first" in said.content.decode()


def test_the_zip_of_all_data_holds_the_log_and_takes_it_back(site, build, person, stranger, work, monkeypatch):
    from web.accounts.data import begin, write_data

    add(site, build, "move", tilt="42", at="2026-02-01T10:00")
    series = week(2)
    take_rows(source_named(build, "Shed", 1.0), series.unix, series.power)
    monkeypatch.setattr("web.log.store.PART", 8_000)  # so that it takes several files
    out = io.BytesIO()
    write_data(person, out)
    begin(stranger, out.getvalue())
    work()
    twin = Build.objects.get(owner=stranger)
    assert moves_of(twin)[0].tilt == 42 and reread(twin).stands_at == 42
    assert series_of(Source.objects.get(build=twin)).power.tolist() == pytest.approx(series.power.tolist(), abs=0.06)


def test_a_copy_to_try_something_has_no_log_of_its_own(build, stranger):
    add_entry(build, Move(at=timezone.now(), tilt=30.0))
    series = week(1)
    take_rows(source_named(build, "Shed", 1.0), series.unix, series.power)
    twin = build.copy()
    assert not Entry.objects.filter(build=twin).exists() and not Source.objects.filter(build=twin).exists()
    theirs = reread(build).copy(owner=stranger)
    assert (
        Entry.objects.filter(build=theirs).count() == 1 and series_of(reread(theirs).logbook.main).unix.size == series.unix.size
    )


def test_nothing_of_another_person_is_reached(client, build, stranger):
    add_entry(build, Move(at=timezone.now(), tilt=30.0))
    source = source_named(build, "Shed", 1.0)
    upload = Upload.objects.create(build=build, name="x", size=3)
    client.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    entry = Entry.objects.get().pk
    mine = build_for(stranger)
    for path in ("", "field/", "field/worker.js", "judged/", "log.json", "log.csv", "inspections.ics", f"source/{source.pk}/series.csv",
                 f"entry/{entry}/photo/", f"file/{upload.pk}/", f"file/{upload.pk}/state/", f"beside/{mine.pk}/"):  # fmt: skip
        assert client.get(f"/builds/{build.pk}/log/{path}").status_code == 404, path
    for path in ("add/note/", f"entry/{entry}/remove/", "file/", "take-over/", "token/", "aside/", "delete/", f"source/{source.pk}/main/",
                 f"file/{upload.pk}/", f"file/{upload.pk}/part/"):  # fmt: skip
        assert client.post(f"/builds/{build.pk}/log/{path}", {"note": "x"}).status_code == 404, path
    # Through a build of one's own, the things of another's stay out of reach too.
    for path in (f"source/{source.pk}/series.csv", f"entry/{entry}/photo/", f"file/{upload.pk}/", f"beside/{build.pk}/"):
        assert client.get(f"/builds/{mine.pk}/log/{path}").status_code == 404, path
    assert client.post(f"/builds/{mine.pk}/log/entry/{entry}/remove/").status_code == 404
    assert client.post(f"/builds/{mine.pk}/log/source/{source.pk}/main/").status_code == 404
    assert Entry.objects.filter(build=build).count() == 1


def test_the_demo_has_a_year_behind_it(person, work):
    from web.log.demo import PLAYED, play

    build = build_for(person)
    play(build)
    book = LogBook.objects.get(build=build)
    assert build.name in PLAYED and book.revision and Entry.objects.filter(build=build, kind="move").count() >= 1
    assert SeriesDay.objects.filter(source__build=build).count() in (420, 421)
    count = Entry.objects.count()
    play(reread(build))
    assert Entry.objects.count() == count, "once"


def test_the_calendar_moves_with_what_was_done(site, build):
    chosen, today = Results(build).plan.chosen, timezone.localdate()

    def summaries() -> list[str]:
        events = Calendar.from_ical(site.get(f"/builds/{build.pk}/tilt/moves.ics").content).walk("VEVENT")
        return [str(event["summary"]) for event in events]

    assert not any("still at" in summary for summary in summaries())
    add_entry(build, Move(at=timezone.now() - timedelta(minutes=2), tilt=5.0))
    late = [summary for summary in summaries() if "still at" in summary]
    wanted = chosen.tilt_by_day[(today - date(today.year, 1, 1)).days % 365]
    assert late == [f"Honey house: still at 5°, the plan wants {wanted:g}°"]
    add_entry(build, Move(at=timezone.now(), tilt=wanted))
    assert len(summaries()) == len(chosen.stretches)


def test_the_list_says_what_waiting_a_week_costs(site, build, work):
    Build.objects.filter(pk=build.pk).update(chosen_day=0)
    site.get("/builds/")
    work()
    assert "waiting a week" not in site.get("/builds/").content.decode()
    wanted = Results(build).plan.chosen.tilt_by_day[(timezone.localdate() - date(timezone.localdate().year, 1, 1)).days % 365]
    add_entry(build, Move(at=timezone.now(), tilt=5.0 if wanted > 30 else 80.0))
    page = site.get("/builds/").content.decode()
    assert "and waiting a week costs" in page
    assert "waiting a week costs" in site.get(f"/builds/{build.pk}/tilt/").content.decode()


def test_a_sweep_becomes_its_best_point(site, build):
    volts = np.linspace(25, 37, 13)
    lines = "\n".join(f"{v:.2f} {9 * (1 - np.exp((v - 38) / 1.9)):.3f}" for v in volts)
    assert add(site, build, "reading", sweep=lines).status_code == 200
    data = Entry.objects.get().data
    assert data["volts"] * data["amps"] == pytest.approx(276.32, abs=0.6) and "by a fit through its top" in data["note"]
    for wrong, words in (("30 x", "Line 1"), ("30 5", "too few"), ("20 5\n22 5\n24 5\n26 5\n28 5", "still rises")):
        answer = add(site, build, "reading", sweep=wrong)
        assert answer.status_code == 422 and words in answer.json()["errors"]["sweep"]


def test_a_row_of_the_log_tells_its_clock_time(site, build):
    add_entry(build, Change(at=datetime(2026, 4, 10, 12, 5, tzinfo=UTC), what="pruned"))
    page = site.get(f"/builds/{build.pk}/log/").content.decode()
    assert re.search(r"10 Apr(?: 2026)? <time[^>]*>14:05</time>", page)
    assert re.search(r"10 Apr(?: 2026)? <time[^>]*>14:05</time>", site.get(f"/builds/{build.pk}/log/field/").content.decode())


def test_what_was_not_judged_is_not_praised():
    nothing = {"throttled_minutes": 0.0, "step": None, "shade": (), "clock": 0.0, "level": (1.0, 0.98, 1.02)}
    fine = quiet_sentences(SimpleNamespace(**nothing))
    assert fine == ["No throttling, no sudden loss, no shade that the survey lacks, and the clock is right."]
    few = quiet_sentences(SimpleNamespace(**{**nothing, "level": None}))
    assert (
        few[0] == "No throttling, and the clock is right."
        and "Not judged yet" in few[1]
        and not any("sudden loss," in one for one in few)
    )
    none = quiet_sentences(SimpleNamespace(**{**nothing, "level": None, "clock": None}))
    assert none[0] == "No throttling." and none[2] == "Whether its clock is right cannot be told yet."
    found = quiet_sentences(SimpleNamespace(**{**nothing, "clock": 60.0}))
    assert found == []


def test_a_night_hour_of_two_sided_panels_has_a_page(site, person, monkeypatch):
    build = build_for(person, yard=None, panel={"power": 440, "length": 1.722, "width": 1.134, "bifaciality": 0.7})
    monkeypatch.setattr("django.utils.timezone.now", lambda: datetime(2026, 1, 10, 0, 30, tzinfo=UTC))
    assert site.get(f"/builds/{build.pk}/log/").status_code == 200
    assert site.get(f"/builds/{build.pk}/log/field/").status_code == 200


@pytest.mark.parametrize(("day", "first", "last"), [
    ("2026-10-25", "2026-10-24T22:30Z", "2026-10-25T22:30Z"), ("2026-03-29", "2026-03-28T23:30Z", "2026-03-29T21:30Z"),
])  # fmt: skip
def test_a_day_is_deleted_by_the_calendar_when_the_clock_changes(site, build, day, first, last):
    """Of 25 and of 23 hours: from its midnight to its midnight, and not an hour of its neighbours."""
    inside = [datetime.fromisoformat(first), datetime.fromisoformat(last)]
    beside = [inside[0] - timedelta(hours=1), inside[1] + timedelta(hours=1)]
    for at in (*inside, *beside):
        add_entry(build, Change(at=at, what="pruned"))
    site.post(f"/builds/{build.pk}/log/delete/", {"start": day, "end": day, "entries": "1"})
    assert sorted(Entry.objects.filter(build=build).values_list("at", flat=True)) == sorted(beside)
    for odd in ("0001-01-01", "9999-12-31"):
        assert site.post(f"/builds/{build.pk}/log/delete/", {"start": odd, "end": odd, "entries": "1"}).status_code == 302
    assert Entry.objects.filter(build=build).count() == 2
