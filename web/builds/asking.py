"""Asking for a result that may take its time: what is stored is given at once, what is dear becomes a job."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from django.contrib.auth import get_user_model
from django.core.management import call_command
from django.db.models.functions import Now
from django.utils import timezone

from sundial.errors import BriefError
from web.builds.models import Build
from web.builds.quota import trim_answers
from web.builds.results import Results, named
from web.builds.signals import purging
from web.jobs.broker import broker_is_up
from web.jobs.kinds import CannotBeAnswered, Kind, Report, register
from web.jobs.models import Job
from web.jobs.queue import QueueIsFull, submit


@dataclass(frozen=True)
class Pending:
    """A result that is being worked out: its job (None where the person's queue is full), and whether workers can be told."""

    job: Job | None
    later: bool

    @property
    def words(self) -> str:
        """What became of it, where it will not come by itself."""
        if self.job is None:
            return "Enough is being worked out for you already: this follows when one of it is done."
        if self.job.state == Job.State.CANCELLED:
            return "You took this back."
        return self.job.words

    @property
    def open(self) -> bool:
        """Whether it may still come by itself."""
        return self.job is None or self.job.state in Job.OPEN


def ask(results: Results, name: str, params: Mapping[str, str] | None = None, again: bool = False) -> Any:
    """A result, or :class:`Pending` while a worker makes it. BriefError where the brief cannot be worked with."""
    result = named(name)
    if results.has(name, params):
        return results.peek(name, params)
    dear = result.dear(results) if callable(result.dear) else result.dear
    if not dear:
        return results.get(result, params)
    build = results.build
    digest = results.key(result, params)
    try:
        job = submit("result", name, digest, build.owner, build, dict(params or {}), results.shaded, again, result.seconds)
    except QueueIsFull:
        return Pending(None, not broker_is_up())
    if results.has(name, params):  # it was made meanwhile, or here and now
        return results.peek(name, params)
    job.refresh_from_db()
    return Pending(job, not broker_is_up())


def _make_result(job: Job, report: Report) -> None:
    """Compute a result of a build as it stands now; a build that changed meanwhile has another question open."""
    build = Build.objects.whole().get(pk=job.build_id)  # type: ignore[misc]
    results = Results(build, job.shaded)
    try:
        results.get(named(job.name), job.params, report)
    except BriefError as error:
        raise CannotBeAnswered(str(error)) from None
    results.forget_old()


def _refresh_list(job: Job, report: Report) -> None:
    """Work out what the list of builds shows of those that are stale."""
    builds = list(Build.objects.of(job.owner_id).whole().filter(pk__in=job.params["builds"]))
    for number, build in enumerate(builds):
        report(number, len(builds))
        try:
            Results(build)["summary"]
        except BriefError:
            continue  # the list says so
    report(len(builds), len(builds))


KEPT = timedelta(days=14)  # finished jobs
THROWN = timedelta(days=30)  # so long a build that was thrown away can be taken back


def _purge(job: Job, report: Report) -> None:
    """Old jobs, ended sessions, builds that were thrown away long ago, and what the stations hold that nobody wants any more."""
    now = timezone.now()
    purging.send(sender=Job)
    purge_thrown(now - THROWN)
    Job.objects.exclude(state__in=Job.OPEN).filter(created_at__lt=Now() - KEPT).delete()
    for owner in get_user_model().objects.filter(builds__isnull=False).distinct().iterator():
        trim_answers(owner)
    call_command("clearsessions")


def purge_thrown(before: datetime) -> int:
    """Delete for good what was thrown away before a moment; how many builds."""
    old = Build.objects.filter(deleted_at__lt=before)
    count = old.count()
    old.delete()
    return count


register(Kind("result", _make_result))
register(Kind("list", _refresh_list))
register(Kind("purge", _purge, seconds=600))
