"""The queue of long work: asked for, taken, finished, cancelled, and mended when a worker dies.

Every change of state is one short transaction on the job's row. A message to a worker carries the row's number only: a lost
one is sent again, a repeated one finds nothing to take. All times are the database's: the clocks of several machines differ.
"""

from __future__ import annotations

import logging
from datetime import timedelta
from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.cache import cache
from django.db import transaction
from django.db.models.functions import Now
from django.utils import timezone
from kombu.exceptions import OperationalError

from web.jobs.broker import broker_is_up
from web.jobs.kinds import kind_named
from web.jobs.models import Job

log = logging.getLogger("web.jobs")
MOST_OPEN = 12  # jobs of one person, waiting and running
STALE = timedelta(seconds=settings.JOB_STALE)  # without a sign of life a worker counts as dead
SEND_AGAIN = timedelta(seconds=40)
DEATHS = 2  # after so many a job is given up
WORKER_SEEN = "worker-seen"  # key of the cache: there while a worker does what the beat asks
GRACE = 20  # seconds between asking a job to end and ending its process


class QueueIsFull(Exception):
    """This person has as much long work open as one may."""


@transaction.atomic
def submit(
    kind: str, name: str, digest: str, owner: Any, build: Any = None, params: dict[str, Any] | None = None,
    shaded: bool = True, again: bool = False, seconds: int | None = None,
) -> Job:  # fmt: skip
    """The job of a question: the one that is there, or a new one, sent when the transaction is committed.

    A job that is done (its result has been forgotten since) begins anew; one that failed only when asked ``again``.
    """
    budget = seconds or kind_named(kind).seconds
    if build is None and owner is not None:  # whose chores are asked for one after the other, so that none is there twice
        get_user_model().objects.select_for_update().get(pk=owner.pk)
    same = Job.objects.select_for_update().filter(kind=kind, name=name, digest=digest)
    # A chore is there once at a time for each owner.
    job = (same.filter(build=build) if build else same.filter(build=None, owner=owner, state__in=Job.OPEN)).first()
    if job is not None and (job.state in Job.OPEN or not (again or job.state == Job.State.DONE)):
        return job
    if owner is not None and Job.objects.filter(owner=owner, state__in=Job.OPEN).count() >= MOST_OPEN:
        raise QueueIsFull
    if job is None:
        job, made = Job.objects.get_or_create(
            build=build, kind=kind, name=name, digest=digest,
            defaults={"owner": owner, "params": params or {}, "shaded": shaded, "seconds": budget, "created_at": Now()},
        ) if build is not None else (Job.objects.create(
            owner=owner, kind=kind, name=name, digest=digest, params=params or {}, shaded=shaded, seconds=budget, created_at=Now()
        ), True)  # fmt: skip
        if not made:
            return job
        job.refresh_from_db(fields=["created_at"])
    else:
        Job.objects.filter(pk=job.pk).update(
            state=Job.State.WAITING, words="", done=0, steps=0, deaths=0, sent_at=None, created_at=Now()
        )
        job.refresh_from_db()
    if build is not None:  # the same question about an older state of the build is not wanted any more
        older = Job.objects.filter(build=build, kind=kind, name=name, state=Job.State.WAITING).exclude(pk=job.pk)
        older.filter(params=params or {}).update(state=Job.State.CANCELLED, finished_at=Now())
    pk = job.pk
    transaction.on_commit(lambda: send(pk))
    return job


def send(pk: int) -> None:
    """Tell the workers of a job. Where the broker is away it stays waiting, and is sent later."""
    from web.jobs.tasks import run_job

    job = Job.objects.filter(pk=pk, state=Job.State.WAITING).first()
    if job is None or not broker_is_up():
        return
    try:
        run_job.apply_async((pk,), retry=False, soft_time_limit=job.seconds, time_limit=job.seconds + GRACE)
    except OperationalError as error:
        log.warning("job %s stays waiting: %s", pk, error)
        return
    Job.objects.filter(pk=pk).update(sent_at=Now())


@transaction.atomic
def claim(pk: int) -> Job | None:
    """Take a waiting job, or None: it is taken, finished or cancelled already, or this person's other one still runs."""
    job = Job.objects.select_for_update().filter(pk=pk, state=Job.State.WAITING).first()
    if job is None:
        return None
    if job.owner_id is not None:
        get_user_model().objects.select_for_update().get(pk=job.owner_id)  # one claim of a person at a time
        if Job.objects.filter(owner=job.owner_id, state=Job.State.RUNNING).exists():
            return None
    job.state, job.attempt = Job.State.RUNNING, job.attempt + 1
    Job.objects.filter(pk=job.pk).update(state=job.state, attempt=job.attempt, started_at=Now(), heartbeat_at=Now())
    return job


def beat(job: Job, **fields: Any) -> bool:
    """A sign of life, with progress; False where the job is not this worker's any more."""
    held = Job.objects.filter(pk=job.pk, attempt=job.attempt, state=Job.State.RUNNING)
    return bool(held.update(heartbeat_at=Now(), **fields))


def finish(job: Job, state: Job.State, words: str = "") -> None:
    """End a job in a state, if it is still this worker's; then the person's next one is sent."""
    held = Job.objects.filter(pk=job.pk, attempt=job.attempt, state=Job.State.RUNNING)
    held.update(state=state, words=words[:400], finished_at=Now())
    send_next(job.owner_id)


def send_next(owner: int | None) -> None:
    """Send the oldest waiting job of a person."""
    following = Job.objects.filter(owner=owner, state=Job.State.WAITING).order_by("created_at", "pk").first()
    if following is not None:
        send(following.pk)


def cancel(job: Job) -> None:
    """Take a job back; one that runs is ended with its process."""
    from web.celery import app

    running = Job.objects.filter(pk=job.pk, state=Job.State.RUNNING).exists()
    Job.objects.filter(pk=job.pk, state__in=Job.OPEN).update(state=Job.State.CANCELLED, words="", finished_at=Now())
    if running and job.message_id and broker_is_up():
        try:
            app.control.revoke(job.message_id, terminate=True)
        except OperationalError as error:
            log.warning("job %s runs on until it looks: %s", job.pk, error)
    send_next(job.owner_id)


def tend() -> None:
    """Take again what a dead worker left, give up what keeps killing workers, send what was lost. Repeated by the beat."""
    cache.set(WORKER_SEEN, timezone.now().isoformat(), timeout=60)
    for job in Job.objects.filter(state=Job.State.RUNNING, heartbeat_at__lt=Now() - STALE):
        held = Job.objects.filter(pk=job.pk, attempt=job.attempt, state=Job.State.RUNNING)
        if job.deaths + 1 >= DEATHS:
            words = "Its worker died twice over it, so it is given up. Something here is too much: make the yard simpler."
            if held.update(state=Job.State.GIVEN_UP, words=words, deaths=job.deaths + 1, finished_at=Now()):
                log.error("job %s (%s %s) given up", job.pk, job.kind, job.name)
                send_next(job.owner_id)
        elif held.update(state=Job.State.WAITING, deaths=job.deaths + 1, sent_at=None):
            log.warning("job %s (%s %s) is taken again", job.pk, job.kind, job.name)
            send(job.pk)
    lost = Job.objects.filter(state=Job.State.WAITING, created_at__lt=Now() - timedelta(seconds=5))
    for job in lost.exclude(sent_at__gt=Now() - SEND_AGAIN).order_by("created_at")[:200]:
        if not Job.objects.filter(owner=job.owner_id, state=Job.State.RUNNING).exclude(owner=None).exists():
            send(job.pk)
