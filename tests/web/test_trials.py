"""Trials, why is it low, and the trainer as pages: what is typed wrong is told, what is another's stays theirs, what is kept is kept once."""

from __future__ import annotations

import uuid
from datetime import date, timedelta
from typing import Any

import numpy as np
import pytest
from django.utils import timezone

from sundial.diagnosis.trainer import exercise
from sundial.expected.moment import expected_series
from sundial.record.entries import Change, Move, Reading
from tests.web.conftest import build_for
from web.builds.models import Build
from web.builds.results import Results
from web.log.models import LogBook
from web.log.store import add_entry, source_named, take_rows
from web.trials.keeper import TrialKeeper
from web.trials.models import Trial, TrialRepeat
from web.why.models import Practice, WhyLow

pytestmark = pytest.mark.django_db
DESIGN = {
    "differs": "tilt", "arm_a": "flat", "arm_b": "tilted", "value_a": "0", "value_b": "33", "nameplate_a": "430", "nameplate_b": "405",
    "swap": "on", "gain": "3", "scatter": "1,5", "elsewhere": "on",
}  # fmt: skip


@pytest.fixture
def build(person: Any) -> Build:
    """A rack in an open yard, whose plan is worked out at once."""
    return build_for(person, yard=None)


@pytest.fixture
def trial(site: Any, build: Build) -> Trial:
    assert site.post(f"/builds/{build.pk}/log/trials/", DESIGN).status_code == 302
    return Trial.objects.get(build=build)


def repeat(site: Any, trial: Trial, a: str, b: str, **more: Any) -> Any:
    told = {
        "a": a,
        "b": b,
        "unit": "Wh",
        "order": "set",
        "on": (timezone.localdate() - timedelta(days=2)).isoformat(),
        "stopped": "",
    }
    return site.post(f"/builds/{trial.build_id}/log/trials/{trial.pk}/repeat/", told | more)


def page_of(site: Any, trial: Trial) -> str:
    return site.get(f"/builds/{trial.build_id}/log/trials/{trial.pk}/").content.decode()


# -- trials ---------------------------------------------------------------------------------------------------------------


def test_a_trial_from_five_questions_to_a_sentence(site, build, trial):
    listed = site.get(f"/builds/{build.pk}/log/trials/").content.decode()
    assert "tilted against flat" in listed and "No repeat is logged yet" in listed
    empty = page_of(site, trial)
    assert "Set up “flat” at position 1" in empty and "Half of the day" in empty and "By reckoning tilted should give" in empty
    assert "About 6 show a gain of 3.0" in empty
    assert repeat(site, trial, "1000", "970").status_code == 302
    alone = page_of(site, trial)
    assert "one more is needed before anything is shown" in alone
    repeat(site, trial, "1.02", "0.90", unit="kWh", order="swapped")
    repeat(site, trial, "900", "870")
    repeat(site, trial, "900", "300", stopped="throttled")
    shown = page_of(site, trial)
    assert "Repeat 4 is left out: the battery or a limit held it back." in shown and "1.030" in shown
    core = trial.measured
    assert core is not None and core.repeats[1].swapped and core.repeats[1].a == pytest.approx(1020)
    row = TrialRepeat.objects.filter(trial=trial).last()
    assert row is not None and site.post(f"/builds/{build.pk}/log/trials/{trial.pk}/repeat/{row.pk}/remove/").status_code == 302
    assert TrialRepeat.objects.filter(trial=trial).count() == 3
    site.post(f"/builds/{build.pk}/log/trials/{trial.pk}/remove/")
    assert not Trial.objects.filter(build=build).exists()


def test_the_same_repeat_sent_twice_is_one(site, trial):
    number = str(uuid.uuid4())
    for _ in range(2):
        repeat(site, trial, "1000", "970", client_id=number)
    assert TrialRepeat.objects.filter(trial=trial).count() == 1


@pytest.mark.parametrize(
    ("field", "value", "words"),
    [
        ("arm_b", "Flat ", "Both arms have the same name"), ("value_b", "99", "One of the two cannot be"), ("nameplate_a", "0", "Give a number from 0.1"),
        ("nameplate_b", "", "Give a number from 0.1"), ("gain", "0", "Give a number"), ("scatter", "much", "Give a number"),
    ],
)  # fmt: skip
def test_a_wrong_design_is_told_beside_what_was_typed(site, build, field, value, words):
    answer = site.post(f"/builds/{build.pk}/log/trials/", DESIGN | {field: value})
    text = answer.content.decode()
    assert answer.status_code == 422 and words in text and not Trial.objects.exists()
    assert f'value="{value}"' in text or value == "", "what was typed stays"


@pytest.mark.parametrize(
    ("told", "words"),
    [
        ({"a": "-4"}, "Give a number from 0"), ({"b": ""}, "Give a number from 0"), ({"on": "2031-01-01"}, "lies in the future"),
        ({"on": "soon"}, "Type a day such as"), ({"hours": "1000"}, "Give a number from 0.01 to 240"), ({"unit": "J"}, "valid choice"),
    ],
)  # fmt: skip
def test_a_wrong_repeat_is_told_and_nothing_is_kept(site, trial, told, words):
    answer = repeat(site, trial, **({"a": "1000", "b": "970"} | told))
    assert answer.status_code == 422 and words in answer.content.decode() and not TrialRepeat.objects.exists()


def test_spot_readings_become_the_weaker_kind_of_repeat(site, build, trial):
    day = timezone.localdate() - timedelta(days=3)
    url = f"/builds/{build.pk}/log/trials/{trial.pk}/spots/"
    wrong = site.post(url, {"on": day.isoformat(), "lines": "13:05 1 184\n13:08 3 191"})
    assert (
        wrong.status_code == 422 and "Line 2, “13:08 3 191”" in wrong.content.decode() and "13:05 1 184" in wrong.content.decode()
    )
    apart = site.post(url, {"on": day.isoformat(), "lines": "12:05 1 184\n13:08 2 191"})
    assert "within 15 minutes" in apart.content.decode()
    assert (
        site.post(
            url, {"on": day.isoformat(), "lines": "13:05 1 184\n13:08 2 191\n\n9:10 2 80,5\n9:13 1 79", "order": "set"}
        ).status_code
        == 302
    )
    assert TrialRepeat.objects.filter(trial=trial).count() == 2
    assert "weaker design" in page_of(site, trial)


def test_a_dead_position_and_a_shaded_yard_are_said(site, person):
    walled = build_for(person, yard=None, horizon=[[0, 75]])
    site.post(f"/builds/{walled.pk}/log/trials/", {name: value for name, value in DESIGN.items() if name != "elsewhere"})
    trial = Trial.objects.get(build=walled)
    repeat(site, trial, "0", "970")
    text = page_of(site, trial)
    assert "leaves no 1.5 hours without shade" in text and "position a gave nothing" in text


def test_trials_go_out_with_the_log_and_come_in_again(site, build, trial, stranger):
    repeat(site, trial, "1000", "970", order="alike")
    repeat(site, trial, "1000", "1010")
    LogBook.objects.filter(build=build).update(revision=1)
    files = TrialKeeper.of(build).keepsakes()
    other = build_for(stranger, yard=None)
    TrialKeeper.of(other).take_keepsakes(files)
    twin = Trial.objects.get(build=other)
    assert twin.told == trial.told and len(twin.told["repeats"]) == 2


# -- why is it low --------------------------------------------------------------------------------------------------------


def with_series(build: Build, day: date, share: float) -> None:
    """A monitor's day at a share of what it should give."""
    results = Results(build)
    zone = results.study.scene.site.zone
    from datetime import datetime

    start = datetime(day.year, day.month, day.day, tzinfo=zone).timestamp()
    unix = np.asarray(start + 300.0 * np.arange(288), dtype=np.float64)
    source = source_named(build, "Meter", 1.0)
    take_rows(source, unix, share * expected_series(results.study, unix + 150), 300.0)
    LogBook.objects.filter(build=build).update(main=source, revision=1)


def reread(build: Build) -> Build:
    return Build.objects.whole().get(pk=build.pk)


def ask(site: Any, build: Build, day: date, answer: str) -> str:
    told = {"day": day.isoformat(), "answer": answer}
    answered = site.post(f"/builds/{build.pk}/log/why/", told, headers={"HX-Request": "true"})
    assert answered.status_code == 200
    return answered.content.decode()


def test_without_a_log_it_asks_first_and_every_answer_moves_the_suspects(site, build):
    page = site.get(f"/builds/{build.pk}/log/why/").content.decode()
    assert "Nothing is known of this day yet." in page and "The first answer changes it." in page
    day = timezone.localdate()
    dusty = ask(site, build, day, "glass:dusty")
    assert "The glass is dusty" in dusty and WhyLow.objects.get(build=build).answers == {"glass": "dusty"}
    ask(site, build, day, "sky:clear")
    passed = ask(site, build, day, "pass:load")
    assert "Left open:" in passed
    for nonsense in ("glass:pink", "weather:fine", "pass:nothing", "", ":::"):
        ask(site, build, day, nonsense)
    assert WhyLow.objects.get(build=build).answers == {"glass": "dusty", "sky": "clear"}
    assert "back:glass" in ask(site, build, day, "back:sky")
    assert "Nothing is known of this day yet." in ask(site, build, day, "anew")
    plain = site.post(f"/builds/{build.pk}/log/why/", {"day": day.isoformat(), "answer": "sky:clear"})
    assert plain.status_code == 302, "without a script too"


def test_the_log_speaks_by_itself_and_what_mending_returns_is_said(site, build):
    day = timezone.localdate() - timedelta(days=3)
    with_series(build, day, 0.875)
    add_entry(build, Change(at=timezone.now() - timedelta(days=4), what="panel swapped"))
    page = ask(site, reread(build), day, "sky:clear")
    assert "Just what one panel gives is missing" in page and "from the log" in page
    sure = ask(site, reread(build), day, "voc:a panel less")
    assert "A dead panel:" in sure and "kWh a year" in sure and "licensed person" in sure


def test_what_contradicts_itself_is_named(site, build):
    day = timezone.localdate() - timedelta(days=3)
    with_series(build, day, 1.0)
    assert "These do not go together" in ask(site, reread(build), day, "glass:snow")


def test_a_reading_and_a_tilt_of_the_log_are_evidence(site, build):
    zone = Results(build).scene.site.zone
    noon = (timezone.now() - timedelta(days=2)).astimezone(zone).replace(hour=13, minute=10, second=0, microsecond=0)
    add_entry(build, Move(at=noon - timedelta(days=1), tilt=16.0))
    add_entry(build, Reading(at=noon, power=900.0, sky="clear", battery="full"))
    page = site.get(f"/builds/{build.pk}/log/why/?day={noon.date().isoformat()}").content.decode()
    assert "The battery is full, or a limit holds" in page and "The sky is clear" in page
    tilts = Results(reread(build)).plan.chosen.tilt_by_day
    if abs(tilts[noon.timetuple().tm_yday - 1] - 16) > 6:
        assert "It stands at 16 degrees" in page


# -- the trainer ----------------------------------------------------------------------------------------------------------


def test_a_day_is_read_checked_named_and_remembered(site, build, person):
    url = f"/builds/{build.pk}/log/trainer/"
    assert site.post(url, {"new": "3"}).status_code == 302
    row = Practice.objects.get(owner=person)
    hidden = exercise(3, row.seed).day.causes[0]
    page = site.get(url).content.decode()
    assert "what is wrong here?" in page and "What gave it away" not in page
    site.post(url, {"row": row.pk, "check": "meter"}, headers={"HX-Request": "true"})
    site.post(url, {"row": row.pk, "check": "meter"}, headers={"HX-Request": "true"})
    site.post(url, {"row": row.pk, "check": "weather"}, headers={"HX-Request": "true"})
    row.refresh_from_db()
    assert row.asked == ["meter"] and row.minutes == pytest.approx(4.0)
    empty = site.post(url, {"row": row.pk, "name": "1", "named": ""}, headers={"HX-Request": "true"})
    assert "what is wrong here?" in empty.content.decode()
    told = site.post(url, {"row": row.pk, "name": "1", "named": hidden}, headers={"HX-Request": "true"}).content.decode()
    assert "<h1>Right:" in told and "What gave it away" in told and "1 of 1" in told
    site.post(url, {"row": row.pk, "check": "glass"}, headers={"HX-Request": "true"})
    row.refresh_from_db()
    assert row.asked == ["meter"] and row.hits == 1, "what is done is done"
    site.post(url, {"new": "99"})
    assert Practice.objects.filter(owner=person).first().level == 1


# -- whose it is ----------------------------------------------------------------------------------------------------------


def test_what_is_another_persons_stays_theirs(client, site, build, trial, stranger, person):
    repeat(site, trial, "1000", "970")
    row = TrialRepeat.objects.get()
    practice = Practice.objects.create(owner=person, level=1, seed=3)
    client.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    mine = build_for(stranger, yard=None)
    base = f"/builds/{build.pk}/log"
    for path in ("trials/", f"trials/{trial.pk}/", "why/", "trainer/"):
        assert client.get(f"{base}/{path}").status_code == 404
    own = f"/builds/{mine.pk}/log"
    for root in (base, own):
        assert client.get(f"{root}/trials/{trial.pk}/").status_code == 404
        for path in (f"trials/{trial.pk}/repeat/", f"trials/{trial.pk}/remove/", f"trials/{trial.pk}/repeat/{row.pk}/remove/"):
            assert (
                client.post(f"{root}/{path}", {"a": "1", "b": "1", "unit": "Wh", "on": "2026-01-01", "order": "set"}).status_code
                == 404
            )
    assert client.post(f"{own}/trainer/", {"row": practice.pk, "check": "meter"}).status_code == 404
    assert client.post(f"{base}/why/", {"answer": "sky:clear"}).status_code == 404
    assert TrialRepeat.objects.count() == 1 and not WhyLow.objects.exists()
