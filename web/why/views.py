"""Why is it low? The day's curve, the suspects, and the question that tells most next."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any

import numpy as np
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views import View

from sundial.diagnosis.case import Case, Evidence, answers_of_reading, case_of
from sundial.diagnosis.rules import Cause, Judged, next_questions, rule_base, settled
from sundial.errors import BriefError
from sundial.expected.day import DayMade, day_made
from sundial.record.moves import tilt_at_times
from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import SignedIn, own_build
from web.log import words
from web.log.figures import day_drawn
from web.log.judging import EPOCH, day_to_show
from web.log.models import Entry
from web.log.store import moves_of, series_of
from web.requests import HtmxHttpRequest
from web.why.models import MOST_CASES, WhyLow

LATELY = 14  # days within which a change or a move may have to do with it
SHOWN = 6  # suspects in sight
OTHERS = 4  # questions offered beside the next one


@dataclass(frozen=True)
class SuspectShown:
    """A suspect as a line: its bar of 200, what speaks for it, what settles it, and what mending it returns, kWh a year."""

    cause: Cause
    share: float
    width: float
    why: tuple[str, ...]
    returns: float


@dataclass(frozen=True)
class Said:
    """An answer that was given, or a sign that the log gave: in words; ``key`` to take it back (empty: it came from the log)."""

    key: str
    words: str


class Why(SignedIn, View):
    """One day of a build."""

    def get(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        results = Results(build)
        return render(request, "why/why.html", why_context(build, results, day_of(build, results, request.GET.get("day", ""))))

    def post(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        """An answer, a question that nobody can answer, an answer taken back, or all of them."""
        build = own_build(request, pk)
        results = Results(build)
        day = day_of(build, results, request.POST.get("day", ""))
        row, made = WhyLow.objects.get_or_create(build=build, day=day)
        if made:
            old = WhyLow.objects.filter(build=build).values_list("pk", flat=True)[MOST_CASES:]
            WhyLow.objects.filter(pk__in=list(old)).delete()
        _note(row, request.POST.get("answer", ""))
        row.save(update_fields=["answers", "passed"])
        if not request.htmx:
            return redirect(f"{request.path}?day={day.isoformat()}")
        return render(request, "why/_why.html", why_context(build, results, day, row) | {"swapped": True})


def _note(row: WhyLow, said: str) -> None:
    """Take down what was said: ``question:value``, ``pass:question``, ``back:question`` or ``anew``; anything else is no answer."""
    first, _, second = said.partition(":")
    base = rule_base()
    if first == "anew":
        row.answers, row.passed = {}, []
    elif first == "pass" and second in base.questions:
        row.passed = [*(one for one in row.passed if one != second), second]
    elif first == "back":
        row.answers = {key: value for key, value in row.answers.items() if key != second}
        row.passed = [one for one in row.passed if one != second]
    elif first in base.questions and second in dict(base.questions[first].answers):
        row.answers = {**row.answers, first: second}
        row.passed = [one for one in row.passed if one != first]


def day_of(build: Build, results: Results, asked: str) -> date:
    """The day that was asked for; else the chosen one as the monitor has it, the last reading's, or today."""
    try:
        day = date.fromisoformat(asked)
        if date(2000, 1, 1) <= day <= timezone.localdate() + timedelta(days=1):
            return day
    except ValueError:
        pass
    found = day_to_show(build.logbook.main, build.chosen_day)
    if found is not None:
        return found
    last = Entry.objects.filter(build=build, kind="reading").first()
    return last.at.astimezone(results.scene.site.zone).date() if last else timezone.localdate()


def why_context(build: Build, results: Results, day: date, row: WhyLow | None = None) -> dict[str, Any]:
    """Everything that the page shows of a day."""
    row = row or WhyLow.objects.filter(build=build, day=day).first() or WhyLow(build=build, day=day)
    context: dict[str, Any] = {
        "build": build, "day": day, "day_title": words.spoken(day, timezone.localdate()), "page": "why:day",
        "earlier": day - timedelta(days=1), "later": day + timedelta(days=1) if day < timezone.localdate() else None,
    }  # fmt: skip
    try:
        case, made = case_of_day(build, results, day, row)
        energy = float(sum(results.plan.daily))
    except BriefError as error:
        return context | {"trouble": error.message}
    return context | {"made": made, "drawn": day_drawn(made)} | judged_parts(case, row, energy)


def judged_parts(case: Case, row: WhyLow, energy: float) -> dict[str, Any]:
    """Suspects, what was said, and what to ask next."""
    found, base = case.judged, rule_base()
    possible = [key for key in base.questions if key not in row.passed]
    questions = [asked.question for asked in next_questions(found, case.evidence, possible)]
    done = settled(found) and bool(case.evidence)
    suspects = [
        SuspectShown(one.cause, one.probability, round(200 * one.probability, 1), one.why, case.returns(one.cause.key, energy))
        for one in found.suspects
    ]
    said = [Said("" if key in case.known else key, base.words(key, value)) for key, value in case.evidence.items()]
    return {
        "case": case, "suspects": suspects[:SHOWN], "others": [one for one in suspects[SHOWN:] if one.share >= 0.005], "said": said,
        "question": None if done else next(iter(questions), None), "more": questions if done else questions[1 : 1 + OTHERS], "settled": done,
        "clashes": found.clashes, "together": _together(found), "passed": [base.questions[key] for key in row.passed if key in base.questions],
    }  # fmt: skip


def _together(found: Judged) -> tuple[Cause, Cause, float] | None:
    if found.pair is None or found.pair[2] < 0.3:
        return None
    causes = rule_base().causes
    return causes[found.pair[0]], causes[found.pair[1]], found.pair[2]


def case_of_day(build: Build, results: Results, day: date, row: WhyLow) -> tuple[Case, DayMade]:
    """The case of a day with all that the log knows, and its curve beside what the plan would have given."""
    study, zone = results.study, results.study.scene.site.zone
    number = (day - EPOCH).days
    source = build.logbook.main
    series = series_of(source, number - 1, number + 1) if source is not None else None
    start = datetime(day.year, day.month, day.day, tzinfo=zone)
    end = start + timedelta(days=1)
    reading = Entry.objects.filter(build=build, kind="reading", at__gte=start, at__lt=end).first()
    core = reading.core if reading else None
    if series is not None and not ((series.unix >= start.timestamp()) & (series.unix < end.timestamp())).any():
        series = None
    noon = np.array([start.timestamp() + 43200])
    lean = tilt_at_times(moves_of(build), noon)[0]
    changes = Entry.objects.filter(build=build, kind="change", at__lt=end)
    washed = next((one.at for one in changes if one.data.get("what") in ("cleaned", "rain")), None)
    lately = start - timedelta(days=LATELY)
    told = Evidence(
        on=day, at=core.at if core and core.watts is not None else None, watts=core.power if core else None, volts=core.volts if core else None,
        amps=core.amps if core else None, tilt=core.tilt if core else None, answers=row.answers,
        dry_days=None if washed is None else min(max((start - washed).total_seconds() / 86400, 0.0), 3650.0),
        changed=any(one.data.get("what") not in ("cleaned", "rain") for one in changes.filter(at__gte=lately))
        or Entry.objects.filter(build=build, kind="move", at__gte=lately, at__lt=end).exists(),
    )  # fmt: skip
    history = _history(results)
    if core is not None:
        history |= answers_of_reading(core)
    made = day_made(study, day, series, ())
    return case_of(study, told, series, None if np.isnan(lean) else float(lean), history), made


def _history(results: Results) -> dict[str, str]:
    """What the judgement of the whole series answers by itself, where it is there."""
    found = results.peek("judgement")
    if found is None:
        return {}
    health, answers = found.health, {}
    if health.clock:
        answers["clock"] = "off"
    if health.step is not None:
        answers["since"] = "sudden"
    elif health.dirt is not None and health.dirt.sure and health.dirt.slope < 0:
        answers["since"] = "gradual"
    return answers
