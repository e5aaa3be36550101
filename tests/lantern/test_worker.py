"""Long work by a real worker over the real broker: killed, starved, timed out, cancelled."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from django.conf import settings
from django.contrib.auth.models import User
from django.db import connection

from tests.web.conftest import build_for
from web.builds.asking import ask
from web.builds.models import Build
from web.builds.results import Results
from web.celery import app
from web.jobs import queue
from web.jobs.models import Job

pytestmark = [pytest.mark.django_db(transaction=True), pytest.mark.worker]
ROOT = Path(__file__).parents[2]
PATIENCE = 240  # seconds; a loaded machine takes ten times as long as a quiet one
State = Job.State


class Worker:
    """A worker process with two children, on the test's database and the test process's own broker database."""

    def __init__(self) -> None:
        self.env = {
            **os.environ,
            "SUNDIAL_DB": connection.settings_dict["NAME"],
            "SUNDIAL_BROKER_DB": settings.CELERY_BROKER_URL.rpartition("/")[2],
            "SUNDIAL_JOB_STALE": "6",
            "DJANGO_SETTINGS_MODULE": "tests.lantern.settings",
        }
        self.process: subprocess.Popen[bytes] | None = None

    def start(self) -> None:
        command = [
            sys.executable, "-m", "celery", "-A", "web.celery", "worker", "--beat", "--schedule", f"/tmp/beat-{os.getpid()}",  # noqa: S108
            "--concurrency", "2", "--loglevel", "warning", "--without-gossip", "--without-mingle",
        ]  # fmt: skip
        self.process = subprocess.Popen(command, cwd=ROOT, env=self.env, start_new_session=True)

    def kill(self) -> None:
        """Kill it, its children and its beat, with no chance to say anything."""
        if self.process:
            os.killpg(self.process.pid, signal.SIGKILL)
            self.process.wait()
            self.process = None


@pytest.fixture
def worker() -> Iterator[Worker]:
    made = Worker()
    yield made
    made.kill()
    with app.connection_for_write() as held:
        held.default_channel.client.flushdb()


def lantern(note: str) -> Build:
    person = User.objects.create_user("lucie", password=None)
    return build_for(person, lantern={"note": note})


def wait_for(job: Job, check: Callable[[Job], bool]) -> Job:
    end = time.monotonic() + PATIENCE
    while time.monotonic() < end:
        job.refresh_from_db()
        if check(job):
            return job
        time.sleep(0.1)
    raise AssertionError(f"still {job.state}, attempt {job.attempt}, after {PATIENCE} s")


def asked(build: Build) -> Job:
    return ask(Results(build), "candle").job


def test_a_killed_worker_has_its_job_taken_again(worker: Worker):
    worker.start()
    job = wait_for(asked(lantern("takes its time")), lambda job: job.done > 3)
    worker.kill()
    assert job.state == State.RUNNING
    worker.start()
    job = wait_for(job, lambda job: job.state == State.DONE)
    assert (job.attempt, job.deaths) == (2, 1)
    assert ask(Results(job.build), "candle") == b"burnt"


def test_work_asked_for_while_no_worker_was_there_is_done_when_one_comes(worker: Worker):
    job = asked(lantern(""))
    assert job.state == State.WAITING
    worker.start()
    wait_for(job, lambda job: job.state == State.DONE)


def test_a_job_that_kills_its_worker_twice_is_given_up_and_others_go_on(worker: Worker):
    worker.start()
    job = wait_for(asked(lantern("kills its worker")), lambda job: job.state == State.GIVEN_UP)
    assert "died twice" in job.words
    assert job.attempt == 2
    other = build_for(User.objects.create_user("olaf", password=None))
    wait_for(asked(other), lambda job: job.state == State.DONE)


def test_over_its_memory_and_over_its_time_a_job_is_ended_in_words(worker: Worker):
    worker.start()
    job = wait_for(asked(lantern("wants the whole memory")), lambda job: job.state == State.ENDED)
    assert "memory" in job.words
    slow = build_for(User.objects.create_user("olaf", password=None), lantern={"note": "takes for ever"})
    job = wait_for(asked(slow), lambda job: job.state == State.ENDED)
    assert "20 seconds" in job.words


def test_a_running_job_is_cancelled_and_its_child_freed(worker: Worker):
    worker.start()
    job = wait_for(asked(lantern("takes for ever")), lambda job: job.done > 2)
    queue.cancel(job)
    job.refresh_from_db()
    assert job.state == State.CANCELLED
    build_of_same_person = build_for(job.owner)
    wait_for(asked(build_of_same_person), lambda job: job.state == State.DONE)
    job.refresh_from_db()
    assert job.state == State.CANCELLED


def test_the_broker_needs_its_password():
    import redis

    bare = settings.REDIS.replace(settings.REDIS.partition("//")[2].partition("@")[0] + "@", "")
    with pytest.raises(redis.exceptions.AuthenticationError):
        redis.Redis.from_url(f"{bare}/0").ping()
