"""The drawings of the log: a day on what its sun could give, a month as a carpet, the year against the plan, a change, two racks."""

from __future__ import annotations

import calendar
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from sundial.days import MONTH_NAMES, day_of_date
from sundial.expected.clear import Change
from sundial.expected.day import DayMade
from sundial.expected.missed import Missed
from sundial.record.actual import Beside
from web.builds.drawing import Scale, Tick, month_ticks, nice_step, path, ticks
from web.log.judging import YearMade

GAP = 0.6  # hours between readings beyond which the line breaks


@dataclass(frozen=True)
class DayDrawn:
    """Paths of a day: the band that this sun could give, the same without shade, what was measured; throttled spans and tilts."""

    expected: str
    unshaded: str
    shade: str
    measured: str
    spans: list[tuple[float, float]]
    tilts: list[Tick]
    hours: list[Tick]
    watts: list[Tick]
    rows: list[tuple[str, float, float | None]]
    base: float


def day_drawn(made: DayMade) -> DayDrawn:
    """A day from its first to its last light."""
    lit = [hour for hour, watts in zip(made.hours, made.unshaded, strict=True) if watts > 1]
    low, high = (max(0.0, min(lit) - 0.5), min(24.0, max(lit) + 0.5)) if lit else (6.0, 18.0)
    top = max([*made.unshaded, *(watts for _, watts in made.measured), 1.0]) * 1.06
    x, y = Scale(low, high, 44, 590), Scale(0, top, 226, 22)

    def line(values: Sequence[float]) -> list[tuple[float, float]]:
        return [(x(hour), y(watts)) for hour, watts in zip(made.hours, values, strict=True) if low <= hour <= high]

    should, bare = line(made.expected), line(made.unshaded)
    area = path([*should, (should[-1][0], 226), (should[0][0], 226)]) + "Z" if should else ""
    between = path([*bare, *reversed(should)]) + "Z" if made.expected != made.unshaded and should else ""
    pieces: list[list[tuple[float, float]]] = [[]]
    last: float | None = None
    for hour, watts in made.measured:
        if last is not None and hour - last > GAP:
            pieces.append([])
        if low <= hour <= high:
            pieces[-1].append((x(hour), y(watts)))
        last = hour
    measured = " ".join(path(piece) for piece in pieces if len(piece) > 1)
    step = 2 if high - low > 9 else 1
    marks = [Tick(x(hour), f"{hour}:00") for hour in range(int(low) + 1, int(high) + 1) if hour % step == 0]
    return DayDrawn(
        area, path(bare) if bare else "", between, measured, [(x(max(a, low)), x(min(b, high))) for a, b in made.throttled if b > low],
        [Tick(x(max(hour, low)), f"{tilt:g}°") for hour, tilt in made.tilts], marks,
        ticks(y, nice_step(top, 4)), _day_rows(made), 226.0,
    )  # fmt: skip


def _day_rows(made: DayMade) -> list[tuple[str, float, float | None]]:
    """Means by the hour, as a table."""
    found = []
    for hour in range(24):
        should = [watts for at, watts in zip(made.hours, made.expected, strict=True) if hour <= at < hour + 1]
        did = [watts for at, watts in made.measured if hour <= at < hour + 1]
        if should and max(should) > 1:
            found.append((f"{hour}:00", sum(should) / len(should), sum(did) / len(did) if did else None))
    return found


@dataclass(frozen=True)
class CarpetDay:
    """One day of a month: its place, how dark it is drawn (1 to 7; 0: not there), kWh, and the share of the plan."""

    x: float
    y: float
    day: int
    shade: int
    kwh: float | None
    chosen: bool


@dataclass(frozen=True)
class Carpet:
    title: str
    days: list[CarpetDay]
    most: float
    weeks: int

    @property
    def height(self) -> int:
        return 32 * self.weeks + 20

    @property
    def heads(self) -> list[tuple[int, str]]:
        """The letters of the days over their columns."""
        return [(38 * place + 18, letter) for place, letter in enumerate("MTWTFSS")]


def carpet(year: YearMade, shown: date) -> Carpet:
    """The month of a day: weeks downward, Monday first."""
    first, count = calendar.monthrange(shown.year, shown.month)
    most = max(year.days.values(), default=0.0) or 1.0
    found = []
    for day in range(1, count + 1):
        at = first + day - 1
        kwh = year.days.get(date(shown.year, shown.month, day))
        shade = 0 if kwh is None else min(7, 1 + int(kwh / most * 6.99))
        found.append(CarpetDay(at % 7 * 38, at // 7 * 32, day, shade, kwh, day == shown.day))
    return Carpet(f"{MONTH_NAMES[shown.month - 1]} {shown.year}", found, most, (first + count + 6) // 7)


@dataclass(frozen=True)
class YearDrawn:
    """Strokes of the days that were made (brass) and the plan's line over the calendar year; notches of the moves."""

    strokes: str
    dull: str
    plan: str
    months: list[Tick]
    moves: list[Any]
    top: float
    watts: list[Tick]


@dataclass(frozen=True)
class MoveDrawn:
    x: float
    text: str
    anchor: str


def year_drawn(year: YearMade, moves: Sequence[tuple[date, str]]) -> YearDrawn:
    """By day of the year; where two years have the same day the later one is drawn."""
    by_day = {day_of_date(day): kwh for day, kwh in sorted(year.days.items())}
    smooth = [sum(year.planned[(day + step) % 365] for step in range(-7, 8)) / 15 for day in range(365)]
    top = max([*by_day.values(), *smooth, 0.1]) * 1.08
    x, y = Scale(0, 364, 34, 590), Scale(0, top, 170, 14)
    good = " ".join(f"M{x(day)} 170V{y(kwh)}" for day, kwh in by_day.items() if kwh >= 0.5 * year.planned[day])
    dull = " ".join(f"M{x(day)} 170V{y(kwh)}" for day, kwh in by_day.items() if kwh < 0.5 * year.planned[day])
    notches, last = [], -1e9
    for day, words in sorted(moves, key=lambda move: day_of_date(move[0]))[:24]:
        at = x(day_of_date(day))
        room = at - last > 90
        last = at if room else last
        notches.append(MoveDrawn(at, words if room else "", "end" if at > 500 else "start"))
    plan = path((x(day), y(kwh)) for day, kwh in enumerate(smooth))
    return YearDrawn(good, dull, plan, month_ticks(x, 3), notches, top, ticks(y, nice_step(top, 3)))


@dataclass(frozen=True)
class ChangeDrawn:
    """A ratio with its interval on an axis of per cent."""

    x: float
    low: float
    high: float
    none: float
    ticks: list[Tick]


def change_drawn(change: Change) -> ChangeDrawn:
    """From a little under the interval to a little over it, nothing always in sight."""
    values = [change.low - 1, change.high - 1, 0.0]
    span = max(max(values) - min(values), 0.02)
    x = Scale((min(values) - 0.15 * span) * 100, (max(values) + 0.15 * span) * 100, 14, 286)
    step = nice_step((x.high - x.low), 4)
    first = int(x.low / step) * step
    marks = [
        Tick(x(at), f"{at:+g} %".replace("-", "−") if abs(at) > 1e-9 else "0 %")
        for at in (first + i * step for i in range(8))
        if x.low <= at <= x.high
    ]
    return ChangeDrawn(x(100 * (change.ratio - 1)), x(100 * (change.low - 1)), x(100 * (change.high - 1)), x(0.0), marks)


@dataclass(frozen=True)
class SkyDrawn:
    """What the survey missed in the sky view: bearings across, elevation up, with the skyline that is known."""

    known: str
    things: list[tuple[str, float, float, str]]
    bearings: list[Tick]
    heights: list[Tick]


def sky_drawn(missed: Sequence[Missed], horizon: Sequence[Sequence[float]]) -> SkyDrawn:
    """Bearings 0 to 360 with south in the middle (north of the equator)."""
    top = max([60.0, *(thing.top + 10 for thing in missed)])
    x, y = Scale(0, 360, 30, 590), Scale(0, top, 130, 12)
    points = sorted((float(point[0]) % 360, float(point[1])) for point in horizon)
    ends = [(0.0, points[0][1]), *points, (360.0, points[-1][1])] if points else [(0.0, 0.0), (360.0, 0.0)]
    known = path([(x(0), 130), *((x(a), y(e)) for a, e in ends), (x(360), 130)]) + "Z"
    things = []
    for thing in missed:
        steps = [(x(middle + side), y(height)) for middle, height in thing.tops for side in (-2.5, 2.5)]
        words = f"{thing.taken:.0%} taken"
        things.append(
            (path([(steps[0][0], 130), *steps, (steps[-1][0], 130)]) + "Z", steps[0][0], min(s[1] for s in steps) - 5, words)
        )
    names = {0: "N", 90: "E", 180: "S", 270: "W", 360: "N"}
    return SkyDrawn(known, things, [Tick(x(a), name) for a, name in names.items()], ticks(y, 20, "{:g}°"))


@dataclass(frozen=True)
class BesideDrawn:
    first: str
    second: str
    hours: list[Tick]
    watts: list[Tick]


def beside_drawn(found: Beside) -> BesideDrawn:
    """Mean power of each hour per kW of nameplate, one line each."""
    top = max([*found.hours_first, *found.hours_second, 1.0]) * 1.08
    x, y = Scale(0, 24, 40, 400), Scale(0, top, 140, 12)
    lines = [
        path((x(hour + 0.5), y(watts)) for hour, watts in enumerate(values)) for values in (found.hours_first, found.hours_second)
    ]
    return BesideDrawn(lines[0], lines[1], [Tick(x(h), f"{h}:00") for h in range(0, 25, 6)], ticks(y, nice_step(top, 3)))
