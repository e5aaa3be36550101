"""What a worker does with a message: take the job's row, do the work, say how it ended."""

from __future__ import annotations

import logging
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager

from celery import shared_task
from celery.exceptions import SoftTimeLimitExceeded
from django.db import DatabaseError, connection

from web.jobs import queue
from web.jobs.kinds import CannotBeAnswered, Report, kind_named
from web.jobs.models import Job

log = logging.getLogger("web.jobs")
EVERY = 5.0  # seconds between signs of life
SEEN = 0.4  # seconds between reports of progress that are written


class _Cancelled(BaseException):
    """The job was taken back while it ran; not an Exception, so that nothing on the way swallows it."""


@shared_task(name="jobs.run", bind=True)
def run_job(self: object, pk: int) -> None:
    """Do one job, if it is still to be done."""
    job = queue.claim(pk)
    if job is None:
        return
    request = getattr(self, "request", None)
    Job.objects.filter(pk=pk).update(message_id=getattr(request, "id", None) or "")
    state, words = Job.State.DONE, ""
    try:
        with _heartbeat(job):
            kind_named(job.kind).run(job, _reporter(job))
    except CannotBeAnswered as error:
        state, words = Job.State.REFUSED, str(error)
    except SoftTimeLimitExceeded:
        state, words = Job.State.ENDED, f"This took longer than {job.seconds} seconds, so it was ended."
    except MemoryError:
        state, words = Job.State.ENDED, "This needs more memory than one question may have, so it was ended."
    except _Cancelled:
        return
    except DatabaseError:
        raise  # the row cannot be written either: without a heartbeat it is taken again
    except Exception:
        log.exception("job %s (%s %s) failed", job.pk, job.kind, job.name)
        state, words = Job.State.GIVEN_UP, "That went wrong on our side. What was saved is safe."
    queue.finish(job, state, words)


@shared_task(name="jobs.tend")
def tend() -> None:
    """Every few seconds: mend what dead workers and a lost broker left."""
    queue.tend()


@shared_task(name="jobs.purge")
def purge() -> None:
    """Every day: old jobs, ended sessions, and what the apps throw away."""
    queue.submit("purge", "purge", "purge", None)


@shared_task(name="jobs.visitors")
def visitors() -> None:
    """Every hour: visitors whose day is over, and old lines of the log of sign-ins."""
    queue.submit("visitors", "visitors", "visitors", None)


def _reporter(job: Job) -> Report:
    last, resumes, began = 0.0, kind_named(job.kind).resumes, job.done
    alive = False  # whether it got further than where it was taken up, and so is not what kills workers

    def report(done: int, of: int) -> None:
        nonlocal last, alive
        further = resumes and not alive and done > began
        if time.monotonic() - last < SEEN and done < of and not further:
            return
        last = time.monotonic()
        if not queue.beat(job, done=done, steps=of, **({"deaths": 0} if further else {})):
            raise _Cancelled
        alive = alive or further

    return report


@contextmanager
def _heartbeat(job: Job) -> Iterator[None]:
    """Signs of life from a thread of its own while the work goes on."""
    over = threading.Event()

    def live() -> None:
        try:
            while not over.wait(EVERY):
                try:
                    queue.beat(job)
                except DatabaseError:
                    connection.close()  # it may come back
        finally:
            connection.close()

    thread = threading.Thread(target=live, daemon=True, name=f"heartbeat of job {job.pk}")
    thread.start()
    try:
        yield
    finally:
        over.set()
        thread.join(timeout=2)
