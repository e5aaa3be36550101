"""Long work: asked for once, taken once, told, cancelled, mended."""

from __future__ import annotations

import socket
import time
from datetime import timedelta

import pytest
from celery.exceptions import SoftTimeLimitExceeded
from django.utils import timezone

from sundial.errors import BriefError
from web.builds.asking import Pending, ask, purge_thrown
from web.builds.models import Build, StoredResult
from web.builds.results import Results
from web.jobs import broker, kinds, queue
from web.jobs.models import Job
from web.jobs.tasks import run_job

State = Job.State


@pytest.fixture
def kind(monkeypatch):
    """A kind of work that does what the test says."""

    def make(run, seconds: int = 60):
        monkeypatch.setitem(kinds._kinds, "test", kinds.Kind("test", run, seconds))

    return make


def submitted(owner, digest: str = "d", **more) -> Job:
    return queue.submit("test", "test", digest, owner, **more)


def state(job: Job) -> str:
    job.refresh_from_db()
    return job.state


def test_submitting_is_idempotent_by_digest(build, person, kind):
    kind(lambda job, report: None)
    one, two = submitted(person, build=build), submitted(person, build=build)
    assert one.pk == two.pk
    assert submitted(person, "other", build=build).pk != one.pk
    assert state(one) == State.CANCELLED, "the same question about an older state is not wanted any more"


def test_duplicate_messages_run_a_job_once(person, kind):
    runs = []
    kind(lambda job, report: runs.append(job.pk))
    job = submitted(person)
    for _ in range(3):
        run_job(job.pk)
    assert runs == [job.pk]
    assert state(job) == State.DONE
    assert job.attempt == 1


def test_progress_is_told_and_a_cancelled_job_stops(person, kind):
    def run(job, report):
        report(1, 4)
        seen.append(Job.objects.get(pk=job.pk).share)
        Job.objects.filter(pk=job.pk).update(state=State.CANCELLED)
        report(4, 4)
        seen.append("went on")

    seen: list[object] = []
    kind(run)
    job = submitted(person)
    run_job(job.pk)
    assert seen == [0.25]
    assert state(job) == State.CANCELLED


@pytest.mark.parametrize(
    ("error", "ended", "words"),
    [
        (kinds.CannotBeAnswered("no room here"), State.REFUSED, "no room here"),
        (SoftTimeLimitExceeded(), State.ENDED, "longer than 60 seconds"),
        (MemoryError(), State.ENDED, "more memory"),
        (ValueError("secret"), State.GIVEN_UP, "went wrong on our side"),
    ],
)
def test_how_a_job_ends_is_told_in_words(person, kind, error, ended, words):
    def run(job, report):
        raise error

    kind(run)
    job = submitted(person)
    run_job(job.pk)
    assert state(job) == ended
    assert words in job.words
    assert "secret" not in job.words
    assert submitted(person, build=None).pk != job.pk, "a chore is asked anew"


def test_what_failed_is_tried_again_only_when_asked(build, person, kind):
    kind(lambda job, report: 1 / 0)
    job = submitted(person, build=build)
    run_job(job.pk)
    assert submitted(person, build=build).state == State.GIVEN_UP
    again = submitted(person, build=build, again=True)
    assert (again.pk, again.state, again.words) == (job.pk, State.WAITING, "")


def test_one_at_a_time_for_a_person_and_the_next_follows(person, stranger, kind):
    order = []

    def run(job, report):
        order.append(job.digest)
        if job.digest == "a":
            assert queue.claim(second.pk) is None, "this person's other one waits its turn"
            assert queue.claim(theirs.pk) is not None, "another's does not"

    kind(run)
    first, second, theirs = submitted(person, "a"), submitted(person, "b"), submitted(stranger, "c")
    run_job(first.pk)
    assert order == ["a", "b"], "the next was sent when the first was done"
    assert state(second) == State.DONE


def test_a_persons_queue_is_bounded(person, stranger, kind):
    kind(lambda job, report: None)
    for number in range(queue.MOST_OPEN):
        submitted(person, str(number))
    with pytest.raises(queue.QueueIsFull):
        submitted(person, "one too many")
    assert submitted(person, "3").digest == "3", "what is there already is given"
    submitted(stranger, "room of their own")


def test_stale_jobs_are_retried_once_then_given_up(person, kind):
    runs = []
    kind(lambda job, report: runs.append(job.attempt))
    job = submitted(person)
    for death in (1, 2):
        assert queue.claim(job.pk) is not None
        queue.tend()
        assert state(job) == State.RUNNING, "it lives still"
        Job.objects.filter(pk=job.pk).update(heartbeat_at=timezone.now() - queue.STALE - timedelta(seconds=1))
        if death == 1:
            Job.objects.filter(pk=job.pk).update(owner=None)  # so that nothing is sent on by itself
            with pytest.MonkeyPatch.context() as patch:
                patch.setattr(queue, "send", lambda pk: None)
                queue.tend()
            assert state(job) == State.WAITING
        else:
            queue.tend()
    assert state(job) == State.GIVEN_UP
    assert "died twice" in job.words
    assert runs == []


@pytest.mark.parametrize("ahead", [-90, 90])
def test_a_machine_whose_clock_is_off_gives_nothing_up(person, kind, monkeypatch, ahead):
    """All ages are told by the database's clock: that of the machine that looks is never asked."""
    kind(lambda job, report: None)
    sent = []
    monkeypatch.setattr(queue, "send", sent.append)
    job, waiting = submitted(person, "runs"), submitted(person, "waits")
    assert queue.claim(job.pk) is not None
    real = timezone.now
    monkeypatch.setattr(timezone, "now", lambda: real() + timedelta(seconds=ahead))
    queue.tend()
    assert state(job) == State.RUNNING and state(waiting) == State.WAITING and sent == []
    assert queue.beat(job)
    job.refresh_from_db()
    assert abs(job.heartbeat_at - real()) < timedelta(seconds=20) and abs(job.created_at - real()) < timedelta(seconds=20)


def test_a_death_counts_no_more_once_it_got_further(person, kind, monkeypatch):
    """A worker may die a hundred times over a long file: given up is only what dies twice at the same place."""
    monkeypatch.setattr(queue, "send", lambda pk: None)
    kept = [0]

    def run(job, report):
        for piece in range(kept[0], 6):
            if piece in (2, 4) and job.attempt == piece // 2 or piece == 5:
                raise SystemExit  # the worker is gone
            kept[0] = piece + 1
            report(kept[0], 6)

    monkeypatch.setitem(kinds._kinds, "test", kinds.Kind("test", run, 60, resumes=True))
    job = submitted(person)
    ended = []
    for _ in range(5):
        with pytest.raises(SystemExit):
            run_job(job.pk)
        Job.objects.filter(pk=job.pk).update(heartbeat_at=timezone.now() - queue.STALE - timedelta(seconds=1))
        queue.tend()
        ended.append((state(job), kept[0]))
        if job.state == State.GIVEN_UP:
            break
    assert ended == [(State.WAITING, 2), (State.WAITING, 4), (State.WAITING, 5), (State.GIVEN_UP, 5)]


def test_what_does_not_resume_is_given_up_however_far_it_got(person, kind, monkeypatch):
    monkeypatch.setattr(queue, "send", lambda pk: None)

    def run(job, report):
        report(3, 6)
        raise SystemExit

    kind(run)
    job = submitted(person)
    for _ in range(2):
        with pytest.raises(SystemExit):
            run_job(job.pk)
        Job.objects.filter(pk=job.pk).update(heartbeat_at=timezone.now() - queue.STALE - timedelta(seconds=1))
        queue.tend()
    assert state(job) == State.GIVEN_UP


def test_a_broker_that_takes_connections_and_never_answers_is_away(settings, monkeypatch):
    settings.CELERY_TASK_ALWAYS_EAGER = False
    with socket.socket() as hung:
        hung.bind(("127.0.0.1", 0))
        hung.listen(8)
        settings.CELERY_BROKER_URL = f"redis://:x@127.0.0.1:{hung.getsockname()[1]}/0"
        monkeypatch.setattr(broker, "_last", (-1e9, True))
        start = time.monotonic()
        assert not broker.broker_is_up()
        assert time.monotonic() - start < 3
        start = time.monotonic()
        assert not broker.broker_is_up() and time.monotonic() - start < 0.05, "not asked again at once"


def test_late_worker_cannot_overwrite_a_retried_job(person, kind):
    kind(lambda job, report: None)
    job = submitted(person)
    slow = queue.claim(job.pk)
    Job.objects.filter(pk=job.pk).update(state=State.WAITING)
    quick = queue.claim(job.pk)
    assert (slow.attempt, quick.attempt) == (1, 2)
    assert not queue.beat(slow)
    queue.finish(slow, State.GIVEN_UP, "late")
    assert state(job) == State.RUNNING
    queue.finish(quick, State.DONE)
    assert state(job) == State.DONE


def test_lost_messages_are_sent_again(person, kind, monkeypatch):
    kind(lambda job, report: None)
    sent = []
    monkeypatch.setattr(queue, "send", sent.append)
    lost, fresh = submitted(person, "lost"), submitted(person, "fresh")
    old = timezone.now() - timedelta(minutes=2)
    Job.objects.filter(pk=lost.pk).update(created_at=old, sent_at=old)
    Job.objects.filter(pk=fresh.pk).update(created_at=old, sent_at=timezone.now())
    queue.tend()
    assert sent == [lost.pk]


def test_without_a_broker_work_waits_and_the_page_says_later(
    site, build, settings, monkeypatch, django_capture_on_commit_callbacks
):
    settings.CELERY_TASK_ALWAYS_EAGER = False
    settings.CELERY_BROKER_URL = "redis://127.0.0.1:1/0"
    monkeypatch.setattr(broker, "_last", (-1e9, False))
    with django_capture_on_commit_callbacks(execute=True):
        page = site.get(f"/builds/{build.pk}/shade/prices/").content.decode()
    assert "this comes later, by itself" in page
    assert Job.objects.get().state == State.WAITING
    for station in ("tilt", "frame", "worth", "shade"):
        assert site.get(f"/builds/{build.pk}/{station}/").status_code == 200
    assert "This comes later." in site.get(f"/builds/{build.pk}/tilt/field-card.pdf").content.decode()


def test_a_result_is_worked_out_by_a_job_and_found_again(build, work):
    results = Results(build)
    pending = ask(results, "shade_costs")
    assert isinstance(pending, Pending)
    assert pending.open
    assert work() == 1
    found = ask(Results(Build.objects.get(pk=build.pk)), "shade_costs")
    assert found[0].name == "Walnut"
    StoredResult.objects.filter(kind="shade_costs").delete()
    again = ask(Results(build), "best_spots", {"goal": "year", "area": ""})
    assert again.job.state == State.WAITING
    forgotten = ask(Results(Build.objects.get(pk=build.pk)), "shade_costs")
    assert forgotten.job.state == State.WAITING, "a result that was forgotten is worked out anew"


def test_a_dear_plan_is_saved_at_once_and_comes_later(site, build, fill, work):
    many = {"tilts": "0 to 90 by 1"}
    answer = fill(build, "frame", **many)
    assert "saved</span>" in answer.content.decode()
    saved = fill(build, "tilt", goal="worst-month", settings="12").content.decode()
    assert "saved</span>" in saved
    assert "The plan is being worked out." in saved
    page = site.get(f"/builds/{build.pk}/tilt/").content.decode()
    assert "The plan is being worked out." in page
    assert Job.objects.filter(name="plan").count() == 1, "asked twice, worked out once"
    work()
    page = site.get(f"/builds/{build.pk}/tilt/").content.decode()
    assert "a year, next on" in page
    impossible = fill(build, "tilt", settings="2", cap="10 10 10 90 10 90 10 90 10 10 10 10", floor="0 0 0 40 0 40 0 40 0 0 0 0")
    assert "cannot be met with 2 setting(s)" in impossible.content.decode()


def test_a_refusal_inside_a_job_is_told(build, work, monkeypatch):
    def refuse(*args):
        raise BriefError("area", "needs at least three corners")

    monkeypatch.setattr("web.shade.results.best_spots", refuse)
    asked = {"goal": "year", "area": ""}
    ask(Results(build), "best_spots", asked)
    work()
    pending = ask(Results(build), "best_spots", asked)
    assert not pending.open
    assert "three corners" in pending.words


def test_thrown_builds_are_purged_after_their_time(build, person):
    Build.objects.filter(pk=build.pk).update(deleted_at=timezone.now() - timedelta(days=29))
    assert purge_thrown(timezone.now() - timedelta(days=30)) == 0
    Build.objects.filter(pk=build.pk).update(deleted_at=timezone.now() - timedelta(days=31))
    assert purge_thrown(timezone.now() - timedelta(days=30)) == 1
    assert not Build.objects.filter(pk=build.pk).exists()
