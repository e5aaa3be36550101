"""What is done by workers for accounts: visitors of the demo are thrown away, its original is kept worked out."""

from __future__ import annotations

from contextlib import suppress
from datetime import timedelta

from axes.models import AccessAttempt, AccessFailureLog, AccessLog
from django.contrib.auth.models import User
from django.utils import timezone

from sundial.errors import BriefError
from web.builds import registry
from web.builds.models import Build
from web.builds.results import Results
from web.jobs.kinds import Kind, Report, register
from web.jobs.models import Job

LOGGED = timedelta(days=30)  # sign-ins and tries


def purge_visitors() -> int:
    """Throw away the visitors of the demo whose day is over; how many."""
    over = User.objects.filter(account__demo_until__lt=timezone.now())
    count = 0
    for user in over.iterator():
        user.delete()
        count += 1
    return count


def _visitors(job: Job, report: Report) -> None:
    purge_visitors()
    for log in (AccessAttempt, AccessFailureLog, AccessLog):
        log.objects.filter(attempt_time__lt=timezone.now() - LOGGED).delete()


def _warm(job: Job, report: Report) -> None:
    """Work out what the pages of the demo's original show, so that a visitor's copy has it from the first moment."""
    builds = list(Build.objects.of(job.owner_id).whole())
    shown = [result for one in registry.stations() for result in one.results if result.dear is False and not result.asked]
    plays = [*(one.play for one in registry.stations()), *(one.play for one in registry.pages_of())]
    names = ["summary", *(result.name for result in shown)]
    for number, build in enumerate(builds):
        report(number, len(builds))
        for play in plays:
            if play is not None:
                play(build)
        results = Results(build)
        for name in names:
            with suppress(BriefError):
                _ = results[name]
    report(len(builds), len(builds))


register(Kind("visitors", _visitors, seconds=300))
register(Kind("warm-demo", _warm, seconds=300))
