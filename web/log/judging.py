"""What a build's log says, worked out by the core: how the plan was kept, what readings mean, and whether it makes what it should."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

import numpy as np
from django.utils import timezone

from sundial.errors import BriefError
from sundial.expected.clear import Change
from sundial.expected.day import DayMade, day_made
from sundial.expected.health import Health, changed, health
from sundial.expected.reading import OtherMeter, Said, judged_reading, other_meter
from sundial.progress import Report
from sundial.record.actual import Beside, MonthActual, beside, by_month
from sundial.record.entries import Move
from sundial.record.moves import Kept, kept, tilt_at_times
from web.builds.models import Build, StoredResult
from web.builds.results import Results
from web.log.models import Entry, SeriesDay, Source
from web.log.store import moves_of, series_of

EPOCH = date(1970, 1, 1)
JUDGED_CHANGES = 6
WASHES = ("cleaned", "rain")


@dataclass(frozen=True)
class ChangeSaid:
    """A change that was logged, and what it did: a ratio with its interval, or why none can be told."""

    entry: int
    what: str
    on: date
    change: Change | None
    why: str


@dataclass(frozen=True)
class Judgement:
    """The health of the source that is judged, and what the changes did."""

    source: str
    health: Health
    changes: tuple[ChangeSaid, ...]


def judgement(results: Results, params: Mapping[str, str], report: Report) -> Judgement:
    """Judge the main source of a build whole. BriefError where there is no series."""
    build = results.build
    source = build.logbook.main
    series = series_of(source) if source is not None else None
    if source is None or series is None:
        raise BriefError("", "no series of a monitor is there yet")
    report(1, 4)
    study = results.study
    moves = moves_of(build)
    tilt = tilt_at_times(moves, series.unix) if moves else None
    rows = Entry.objects.filter(build=build, kind="change").order_by("at")
    zone = study.scene.site.zone
    entries = [(row.pk, row.core) for row in rows]
    days = [(pk, one.what, one.at.astimezone(zone).date()) for pk, one in entries]
    found = health(study, series, tilt, [day for _, what, day in days if what in WASHES], [day for _, _, day in days])
    report(3, 4)
    said = []
    done = [(pk, what, day) for pk, what, day in days if what != "rain"]
    for pk, what, day in done[-JUDGED_CHANGES:]:
        try:
            change = changed(found.clear, day, [other for _, _, other in done if other != day])
            said.append(ChangeSaid(pk, what, day, change, ""))
        except BriefError as error:
            said.append(ChangeSaid(pk, what, day, None, error.message))
    return Judgement(source.name, found, tuple(said))


def how_kept(build: Build, results: Results, moves: list[Move]) -> Kept:
    """The plan against the moves until today."""
    return kept(
        results.study.plan_surface,
        results.plan.chosen,
        moves,
        results.study.scene.site.zone,
        timezone.localdate() + timedelta(days=1),
    )


@dataclass(frozen=True)
class ReadingSaid:
    """A reading with what it means."""

    entry: Entry
    reading: Any
    said: Said | None
    other: OtherMeter | None


def reading_said(results: Results, entry: Entry, moves: list[Move], haze: tuple[float | None, ...] = ()) -> ReadingSaid:
    """What a logged reading means, by the tilt that the log knows."""
    reading = entry.core
    stood = tilt_at_times(moves, np.array([entry.at.timestamp()]))[0]
    tilt = None if np.isnan(stood) else float(stood)
    other = None
    if reading.quantity is not None:
        rows = Entry.objects.filter(build=entry.build_id, kind="reading", at__lt=entry.at, data__unit=reading.unit)[:20]
        other = other_meter(results.study, reading, tuple(row.core for row in rows), tilt)
    said = judged_reading(results.study, reading, tilt, haze) if reading.watts is not None else None
    return ReadingSaid(entry, reading, said, other)


def learned_haze(results: Results) -> tuple[float | None, ...]:
    """What the clear days here have shown of each month's air; empty where nothing is judged yet."""
    kept = StoredResult.objects.filter(build=results.build, kind="judgement").order_by("-pk")
    payload = kept.values_list("payload", flat=True).first()  # the newest, be it stale: air does not change with an entry
    try:  # one key of it: ten years of clear days stay unread
        return tuple(json.loads(bytes(payload))["health"]["haze"]) if payload else ()
    except (ValueError, KeyError):  # of another version
        return ()


def air_mark(haze: tuple[float | None, ...]) -> str:
    """A short mark of what was learned of the air: a page that shows readings by another is not of now."""
    return hashlib.sha256(repr(haze).encode()).hexdigest()[:12]


def last_reading(results: Results, moves: list[Move], haze: tuple[float | None, ...] = ()) -> ReadingSaid | None:
    entry = Entry.objects.filter(build=results.build, kind="reading").first()
    return reading_said(results, entry, moves, haze) if entry else None


def day_to_show(source: Source | None, chosen_day: int) -> date | None:
    """The latest date with the chosen day of the year that the source has; None where it has none."""
    if source is None:
        return None
    known = SeriesDay.objects.filter(source=source)
    last = known.order_by("-day").values_list("day", flat=True).first()
    if last is None:
        return None
    end = EPOCH + timedelta(days=last)
    for year in range(end.year, end.year - 30, -1):
        day = _date_of(chosen_day, year)
        if day <= end and known.filter(day=(day - EPOCH).days).exists():
            return day
    return None


def _date_of(day: int, year: int) -> date:
    found = date(2025, 1, 1) + timedelta(days=day)
    return date(year, found.month, found.day)


def the_day(results: Results, source: Source | None, day: date, moves: list[Move]) -> DayMade:
    """One day of the source on what this sun could give."""
    number = (day - EPOCH).days
    series = series_of(source, number - 1, number + 1) if source else None
    return day_made(results.study, day, series, moves)


@dataclass(frozen=True)
class YearMade:
    """kWh by date of a source, its months beside the plan, and kWh of the plan by day of the year (365)."""

    days: dict[date, float]
    months: tuple[MonthActual, ...]
    planned: tuple[float, ...]


def year_made(results: Results, source: Source) -> YearMade:
    """The last 366 days of a source against the plan. The days that are not whole count for the months by what is there."""
    rows = SeriesDay.objects.filter(source=source).order_by("-day").values_list("day", "energy")[:366]
    days = {EPOCH + timedelta(days=day): energy / 1000 for day, energy in reversed(list(rows))}
    planned = tuple(float(value) for value in results.plan.daily)
    return YearMade(days, by_month(days, planned), planned)


def both(first: tuple[Build, Source], second: tuple[Build, Source]) -> Beside | None:
    """Two monitors on their common days of the last year, per kW of nameplate."""
    last = min(
        (SeriesDay.objects.filter(source=source).order_by("-day").values_list("day", flat=True).first() or 0)
        for _, source in (first, second)
    )
    found = [series_of(source, last - 366, last) for _, source in (first, second)]
    if found[0] is None or found[1] is None:
        return None
    kw = [Results(build).scene.array.power / 1000 for build, _ in (first, second)]
    return beside(found[0], found[1], (kw[0], kw[1]), first[1].utc_offset)
