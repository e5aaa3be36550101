"""Drawings of the balance: where a kWh goes, a week by the hour, the year as a carpet, the battery through the year."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.answers.balance.report import Battery, UseReport
from sundial.days import DAYS, MONTH_NAMES, date_of_day, spoken_day
from web.builds.drawing import Scale, Tick, month_ticks, nice_step

Floats = NDArray[np.float64]
UP = ("used", "charged", "sold", "curtailed")
DOWN = ("discharged", "bought", "generator", "unmet")
NAMES = {
    "used": "used at once",
    "charged": "stored",
    "sold": "sold",
    "curtailed": "thrown away",
    "discharged": "out of the battery",
    "bought": "bought",
    "generator": "from the generator",
    "unmet": "missing",
    "made": "made",
    "demand": "wanted",
    "stored": "in the battery",
}
OF_A_TANK = {"charged": "into the tank", "discharged": "out of the tank", "stored": "in the tank"}
WEEKDAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
LEFT, RIGHT, TOP, BASE = 44.0, 712.0, 12.0, 214.0
STRIP_TOP, STRIP_BASE = 244.0, 284.0
LEVELS = 7


def flow_names(direct: bool) -> dict[str, str]:
    """What the flows are called on a screen."""
    return NAMES | (OF_A_TANK if direct else {})


@dataclass(frozen=True)
class Share:
    """One part of the bar of a kWh: its start and width of 1000, its words, its kWh and whole percent."""

    key: str
    name: str
    left: float
    width: float
    kwh: float
    percent: int

    @property
    def told(self) -> str:
        return f"{self.percent} %" if self.percent else "under 1 %"


def shares(report: UseReport, direct: bool) -> list[Share]:
    """The parts of a kWh as a bar of 100 %."""
    names, left, found = flow_names(direct), 0.0, []
    for part, percent in zip(report.parts, _percents([part.share for part in report.parts]), strict=True):
        found.append(Share(part.key, names[part.key], round(left * 1000, 1), round(part.share * 1000, 1), part.kwh, percent))
        left += part.share
    return found


def _percents(shares: Sequence[float]) -> list[int]:
    """Whole percents that sum to 100: what is lost by cutting goes to the largest remainders."""
    whole = [int(share * 100) for share in shares]
    order = sorted(range(len(shares)), key=lambda at: whole[at] - shares[at] * 100)
    for at in order[: max(0, round(100 * sum(shares)) - sum(whole))]:
        whole[at] += 1
    return whole


@dataclass(frozen=True)
class Flow:
    """One kind of flow in the week: its area, its name, and its kWh in the week."""

    key: str
    name: str
    path: str
    kwh: float


@dataclass(frozen=True)
class Week:
    """The week around a day: areas above the line (what becomes of what is made) and below (what else covers the use), the use as a
    line, days as marks, and the battery's state as a strip (empty: there is none)."""

    flows: list[Flow]
    use: str
    days: list[Tick]
    lines: list[float]
    marks: list[Tick]
    zero: float
    chosen: tuple[float, float]
    state: str
    full: str
    words: str
    rows: list[tuple[str, list[float]]]
    heads: list[str]


def week_drawing(report: UseReport, day: int, year: int, direct: bool) -> Week:
    """The week that has the day in its middle."""
    hours = {name: np.array(values) for name, values in report.week(day).items()}
    names = flow_names(direct)
    up = [name for name in UP if hours[name].max() > 1]
    down = [name for name in DOWN if hours[name].max() > 1]
    top = max(float(sum(hours[name] for name in up).max()) if up else 0.0, float(hours["demand"].max()), 1.0) / 1000  # type: ignore[union-attr]
    low = max(float(sum(hours[name] for name in down).max()) if down else 0.0, 0.0) / 1000  # type: ignore[union-attr]
    x, y = Scale(0, 168, LEFT, RIGHT), Scale(-low * 1.04, top * 1.04, BASE, TOP)
    flows = _stack(up, hours, x, y, names, 1.0) + _stack(down, hours, x, y, names, -1.0)
    step = nice_step(top + low, 5)
    marks = [Tick(y(value * step), f"{abs(value * step):g}") for value in range(-int(low / step), int(top / step) + 1)]
    days = [(day - 3 + number) % DAYS for number in range(7)]
    named = [Tick(x(number * 24 + 12), _day_name(one, year)) for number, one in enumerate(days)]
    state, full = "", ""
    capacity = report.battery.capacity if report.battery else 0.0
    if capacity:
        strip = Scale(0, capacity * 1000, STRIP_BASE, STRIP_TOP)
        points = " L".join(f"{x(hour):.1f} {strip(value):.1f}" for hour, value in enumerate(hours["stored"]))
        state, full = f"M{x(0)} {STRIP_BASE} L{points} L{x(168)} {STRIP_BASE}Z", f"{capacity:g} kWh"
    by_day = {name: hours[name].reshape(7, 24).sum(axis=1) / 1000 for name in (*up, *down)}
    rows = [(_day_name(one, year), [float(by_day[name][number]) for name in (*up, *down)]) for number, one in enumerate(days)]
    return Week(
        flows,
        _steps(hours["demand"] / 1000, x, y),
        named,
        [x(24 * number) for number in range(8)],
        marks,
        y(0),
        (x(72), x(96)),
        state,
        full,
        f"{spoken_day(days[0])} to {spoken_day(days[-1])}",
        rows,
        [names[name] for name in (*up, *down)],
    )


def _day_name(day: int, year: int) -> str:
    when = date_of_day(day, year)
    return f"{WEEKDAYS[when.weekday()]} {when.day}"


def _stack(keys: Sequence[str], hours: dict[str, Floats], x: Scale, y: Scale, names: dict[str, str], sign: float) -> list[Flow]:
    below, found = np.zeros(168), []
    for key in keys:
        values = np.maximum(hours[key], 0) / 1000
        above = below + values
        found.append(Flow(key, names[key], _area(below * sign, above * sign, x, y), float(values.sum())))
        below = above
    return found


def _area(low: Floats, high: Floats, x: Scale, y: Scale) -> str:
    """Where something is: a closed path along the hours, none where it is nothing."""
    there = np.abs(high - low) > 1e-4
    edges = np.flatnonzero(np.diff(np.concatenate([[False], there, [False]]).astype(int)))
    parts = []
    for start, end in zip(edges[::2], edges[1::2], strict=True):
        over = "".join(
            f"H{x(hour + 1):.1f}V{y(high[hour + 1]):.1f}" if hour + 1 < end else f"H{x(hour + 1):.1f}"
            for hour in range(start, end)
        )
        under = "".join(f"V{y(low[hour]):.1f}H{x(hour):.1f}" for hour in range(end - 1, start - 1, -1))
        parts.append(f"M{x(start):.1f} {y(high[start]):.1f}{over}{under}Z")
    return "".join(parts)


def _steps(values: Floats, x: Scale, y: Scale) -> str:
    return f"M{x(0):.1f} {y(values[0]):.1f}" + "".join(f"V{y(value):.1f}H{x(hour + 1):.1f}" for hour, value in enumerate(values))


@dataclass(frozen=True)
class Carpet:
    """The year by the hour: a path of cells for each level, the value at which the darkest begins, months, and a table of months and hours."""

    levels: list[tuple[int, str]]
    most: float
    months: list[Tick]
    rows: list[tuple[str, list[float]]]
    day: float


def carpet_drawing(report: UseReport, quantity: str, day: int) -> Carpet:
    """One cell a day (across) and hour (down)."""
    values = report.carpet(quantity) / 1000
    most = float(values.max())
    level = np.zeros(values.shape, dtype=int) if most <= 0 else np.ceil(values / most * LEVELS - 1e-9).clip(0, LEVELS).astype(int)
    paths = [(number, _cells(np.asarray(number == level.T))) for number in range(1, LEVELS + 1)]
    ends = np.concatenate([[0], np.cumsum([31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31])])
    rows = [(MONTH_NAMES[month][:3], (values[ends[month] : ends[month + 1]].mean(axis=0)).tolist()) for month in range(12)]
    return Carpet(paths, most, month_ticks(Scale(0, DAYS, 0, DAYS)), rows, float(day))


def _cells(there: NDArray[np.bool_]) -> str:
    """Rows of cells (24, 365) as one path; neighbours in a row are drawn as one."""
    padded = np.zeros((there.shape[0], there.shape[1] + 2), dtype=np.int8)
    padded[:, 1:-1] = there
    turns = np.diff(padded, axis=1)
    starts, ends = np.argwhere(turns == 1), np.argwhere(turns == -1)
    return "".join(
        f"M{start} {row}h{end - start}v1h{start - end}z"
        for (row, start), (_, end) in zip(starts.tolist(), ends.tolist(), strict=True)
    )


@dataclass(frozen=True)
class BatteryYear:
    """The battery through the year: the band from each day's lowest to its highest state, the empty days as strokes and in words."""

    band: str
    empty: str
    months: list[Tick]
    day: float
    words: str


def battery_drawing(battery: Battery, day: int) -> BatteryYear:
    x, y = Scale(0, DAYS, 30, 712), Scale(0, battery.capacity, 96, 10)
    over = " L".join(f"{x(at + 0.5):.1f} {y(value):.1f}" for at, value in enumerate(battery.high))
    under = " L".join(f"{x(at + 0.5):.1f} {y(value):.1f}" for at, value in reversed(list(enumerate(battery.low))))
    strokes = "".join(f"M{x(at + 0.5):.1f} 98V106" for at in battery.empty)
    return BatteryYear(f"M{over} L{under}Z", strokes, month_ticks(x, 3), x(day + 0.5), _stretches(battery.empty))


def _stretches(days: Sequence[int]) -> str:
    """Empty days as their stretches: "3 to 9 January, 20 December"."""
    if not days:
        return ""
    there = set(days)
    starts = [day for day in days if (day - 1) % DAYS not in there] or [days[0]]
    words = []
    for start in starts:
        end = start
        while (end + 1) % DAYS in there and (end + 1) % DAYS != start:
            end = (end + 1) % DAYS
        words.append(spoken_day(start) if end == start else f"{spoken_day(start)} to {spoken_day(end)}")
    return ", ".join(words)
