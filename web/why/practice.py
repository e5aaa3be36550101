"""The trainer: an invented day, checks that cost minutes, a cause to name, and what gave it away."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from django.db import transaction
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views import View

from sundial.days import spoken_day
from sundial.diagnosis.faults import CAUSES
from sundial.diagnosis.rules import rule_base
from sundial.diagnosis.trainer import METER_MINUTES, Exercise, Level, exercise, levels
from sundial.expected.day import DayMade
from web.builds.shell import SignedIn, own_build
from web.log.figures import day_drawn
from web.numbers import whole
from web.requests import HtmxHttpRequest
from web.why.models import Practice

MOST = 400  # days of one person that are remembered


@dataclass(frozen=True)
class Check:
    """A check that can be asked: its text, minutes and caution; ``found`` in words once it was asked."""

    key: str
    text: str
    minutes: float
    caution: str
    found: tuple[str, ...] = ()


@dataclass(frozen=True)
class Record:
    """What a person did at a level: days read, how many right, and the middle of the minutes."""

    level: Level
    days: int
    right: int
    minutes: float | None


class Trainer(SignedIn, View):
    """The day that is open, or the last one with its answer."""

    def get(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        asked = request.GET.get("level", "")
        level = int(asked) if asked in {str(one.number) for one in levels()} else None
        rows = Practice.objects.filter(owner=build.owner)
        row = rows.filter(level=level).first() if level else rows.first()
        if row is None:
            row = new_day(build.owner, level or 1)
        return render(request, "why/practice.html", practice_context(build, row))

    def post(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        """A new day, a check, or the causes that are named."""
        build = own_build(request, pk)
        if "new" in request.POST:
            wanted = request.POST["new"]
            level = int(wanted) if wanted in {str(one.number) for one in levels()} else 1
            new_day(build.owner, level)
            return redirect(f"{request.path}?level={level}")
        with transaction.atomic():
            rows = Practice.objects.select_for_update().filter(owner=build.owner)
            row = get_object_or_404(rows, pk=whole(request.POST.get("row")) or 0)
            if row.done_at is None:
                _note(row, request)
        if not request.htmx:
            return redirect(f"{request.path}?level={row.level}")
        return render(request, "why/_practice.html", practice_context(build, row) | {"swapped": True})


def _note(row: Practice, request: HtmxHttpRequest) -> None:
    """Take down a check or what was named."""
    day = exercise(row.level, row.seed)
    check = request.POST.get("check", "")
    if check and check not in row.asked and check in ("meter", *rule_base().questions):
        row.asked = [*row.asked, check]
        row.minutes = day.minutes(row.asked)
    named = [cause for cause in request.POST.getlist("named") if cause in CAUSES][: day.level.hidden]
    if "name" in request.POST and named:
        row.named, row.hits, row.hidden = named, day.hits(named), day.level.hidden
        row.done_at = timezone.now()
    row.save()


def new_day(owner: Any, level: int) -> Practice:
    """A day that this person has not read yet; one that lies open at that level is given up."""
    Practice.objects.filter(owner=owner, level=level, done_at=None).delete()
    old = Practice.objects.filter(owner=owner).values_list("pk", flat=True)[MOST:]
    Practice.objects.filter(pk__in=list(old)).delete()
    return Practice.objects.create(owner=owner, level=level, seed=secrets.randbelow(2**31), hidden=levels()[level - 1].hidden)


def practice_context(build: Any, row: Practice) -> dict[str, Any]:
    """The page of an exercise; its answer only once a cause was named."""
    day = exercise(row.level, row.seed)
    base = rule_base()
    made = _as_day(day)
    site = day.study.scene.site
    context: dict[str, Any] = {
        "build": build, "row": row, "level": day.level, "levels": levels(), "page": "why:practice", "drawn": day_drawn(made), "made": made,
        "place": day.study.brief.name, "when": spoken_day(day.day.day.timetuple().tm_yday - 1),
        "where": f"{abs(site.latitude):.0f}° {'north' if site.latitude >= 0 else 'south'}",
        "array": f"{day.day.joined.panels} panels of {day.study.brief.panel.power:.0f} W in one string",
        "checks": [one for one in _checks(day, row.asked) if one.key not in row.asked], "made_checks": [one for one in _checks(day, row.asked) if one.found],
        "causes": [base.causes[key] for key in CAUSES if key not in day.season.impossible], "records": records(row.owner_id),
    }  # fmt: skip
    if row.done_at is not None:
        context |= _told(day, row, base.causes)
    return context


def _told(day: Exercise, row: Practice, causes: Any) -> dict[str, Any]:
    found = day.judged(row.asked)
    hidden = [(causes[key], day.gave_away(key)) for key in day.day.causes]
    suspects = [
        (one.cause, one.probability, round(200 * one.probability, 1), one.cause.key in day.day.causes)
        for one in found.suspects[:5]
    ]
    return {
        "hidden": hidden, "named": [causes[key] for key in row.named], "suspects": suspects, "right": row.hits == row.hidden,
        "in_words": " and ".join(cause.short for cause, _ in hidden),
    }  # fmt: skip


def _checks(day: Exercise, asked: Sequence[str]) -> list[Check]:
    """The hand meter and every question, with what was found where it was asked; in the order in which they were asked, then as listed."""
    base = rule_base()
    every = ["meter", *base.questions]
    order = [*asked, *(key for key in every if key not in asked)]
    found = []
    for key in order:
        words = tuple(base.words(name, value) for name, value in day.answer(key).items()) if key in asked else ()
        if key == "meter":
            text, minutes, caution = (
                "Hold a meter to the string: volts and amps, now",
                METER_MINUTES,
                base.questions["voc"].caution,
            )
        else:
            question = base.questions[key]
            text, minutes, caution = question.text, question.minutes, question.caution
        found.append(Check(key, text, minutes, caution, words))
    return found


def _as_day(day: Exercise) -> DayMade:
    """The played day as the log draws a day: hours of the site's standard time."""
    played = day.day
    hours = (played.unix - played.unix[0]) / 3600
    expected = tuple(played.expected.round(1).tolist())
    measured = tuple(zip((hours + 1 / 24).round(4).tolist(), played.measured.round(1).tolist(), strict=True))
    kwh, wanted = float(played.measured.sum()) / 12000, float(played.expected.sum()) / 12000
    return DayMade(played.day, tuple(hours.round(4).tolist()), expected, expected, measured, (), (), kwh, wanted)


def records(owner: int) -> list[Record]:
    """What a person did, level by level."""
    found = []
    for level in levels():
        rows = list(
            Practice.objects.filter(owner=owner, level=level.number, done_at__isnull=False).values_list(
                "hits", "hidden", "minutes"
            )
        )
        right = sorted(minutes for hits, hidden, minutes in rows if hits == hidden)
        found.append(Record(level, len(rows), len(right), right[len(right) // 2] if right else None))
    return found
