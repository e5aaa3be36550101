"""The drawings of the bench: the day on one time axis, the mount that follows, the trade curve, the months."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np

from sundial.answers.bench.report import AxisDay, DayReport, YearReport
from sundial.bench.controller import Why
from sundial.bench.settings import Settings
from sundial.days import MONTH_NAMES
from web.builds.drawing import Scale, Tick, nice_step, path, ticks

LEFT, RIGHT = 46, 504
EVERY = 2  # minutes of a point
LANE = {
    Why.BAND: "follows", Why.WAITS: "waits", Why.MOVES: "moves", Why.DULL: "dull", Why.LIMIT: "end", Why.STOW: "stow", Why.UNSEEN: "unseen",
    Why.TIMED_OUT: "late", Why.NIGHT: "night", Why.BY_HAND: "hand",
}  # fmt: skip
SAID = {
    "follows": "within its dead band", "waits": "off, waits for its look", "moves": "moves", "dull": "dull", "end": "at its end stop", "stow": "in its wind position",
    "unseen": "sun behind the cells", "late": "time-out", "night": "night", "hand": "by hand",
}  # fmt: skip


@dataclass(frozen=True)
class AxisDrawn:
    """One axis: its angle and the sun's as paths, ticks of degrees, spans of the lane below."""

    name: str
    angle: str
    sun: str
    degrees: list[Tick]
    lane: list[tuple[float, float, str]]
    starts: list[float]


@dataclass(frozen=True)
class DayDrawn:
    """A day: its axes, the light on both cells of the first one, hours; ``data`` for the script that plays it; ``lane`` kinds that occur."""

    axes: list[AxisDrawn]
    cells: tuple[str, str]
    watts: list[Tick]
    hours: list[Tick]
    data: dict[str, Any]
    kinds: list[tuple[str, str]]
    dials: list[str]


def day_drawn(day: DayReport) -> DayDrawn:
    """From half an hour before light to half an hour after."""
    up = np.flatnonzero(day.elevation > 0)
    low, high = (max(0, int(up[0]) - 40), min(1440, int(up[-1]) + 40)) if len(up) else (360, 1080)
    x = Scale(low, high, LEFT, RIGHT)
    place = np.arange(low, high, EVERY, dtype=np.int64)
    axes = [_axis(axis, x, place, low, high) for axis in day.axes]
    first = day.axes[0]
    most = max(float(np.max(first.cells)), 50.0) * 1.06
    y = Scale(0, most, 98, 8)
    cells = tuple(path(zip(x.many(place.astype(np.float64)), y.many(cell[place]), strict=True)) for cell in first.cells)
    hours = [Tick(x(60 * hour), f"{hour}:00") for hour in range(low // 60 + 1, high // 60 + 1) if hour % 2 == 0]
    data = {
        "from": low, "every": EVERY, "left": LEFT, "right": RIGHT, "to": high, "kind": day.kind,
        "beam": np.round(day.beam[place] / 10).astype(int).tolist(),
        "axes": [
            {
                "name": axis.name, "angle": np.round(axis.angle[place], 1).tolist(), "sun": np.round(axis.sun[place], 1).tolist(),
                "why": [LANE[Why(int(code))] for code in axis.why[place]],
            }
            for axis in day.axes
        ],
        "said": SAID,
    }  # fmt: skip
    kinds = sorted({kind for axis in axes for _, _, kind in axis.lane}, key=list(SAID).index)
    return DayDrawn(
        axes,
        (cells[0], cells[1]),
        ticks(y, nice_step(most, 2)),
        hours,
        data,
        [(kind, SAID[kind]) for kind in kinds],
        [axis.name for axis in day.axes],
    )


def _axis(axis: AxisDay, x: Scale, place: Any, low: int, high: int) -> AxisDrawn:
    ends = (
        min(float(axis.angle[low:high].min()), float(axis.sun[low:high].min()), axis.low if axis.low > -100 else 0.0),
        max(float(axis.angle[low:high].max()), float(axis.sun[low:high].max())),
    )
    y = Scale(ends[0] - 4, ends[1] + 4, 126, 8)
    step = 30 if ends[1] - ends[0] > 70 else 15
    marks = [
        Tick(y(value), f"{value:g}°".replace("-", "\N{MINUS SIGN}"))
        for value in range(-360, 361, step)
        if y.low <= value <= y.high
    ]
    lane, start = [], low
    for minute in range(low + 1, high + 1):
        if minute == high or axis.why[minute] != axis.why[start]:
            lane.append((x(start), round(x(minute) - x(start), 2), LANE[Why(int(axis.why[start]))]))
            start = minute
    xs = x.many(place.astype(np.float64))
    return AxisDrawn(
        axis.name,
        path(zip(xs, y.many(axis.angle[place]), strict=True)),
        path(zip(xs, y.many(axis.sun[place]), strict=True)),
        marks,
        lane,
        [],
    )


@dataclass(frozen=True)
class PointDrawn:
    """A setting on the trade curve: its place, ``kind`` (yours, suggested, front, other), and words."""

    x: float
    y: float
    kind: str
    words: str
    number: int


@dataclass(frozen=True)
class TradeDrawn:
    points: list[PointDrawn]
    front: str
    moves: list[Tick]
    kwh: list[Tick]


def trade_drawn(year: YearReport) -> TradeDrawn:
    """Moves a day across, kWh a year upward; what is far worse than the rest lies at the edge."""
    points = year.trade.points
    good = sorted(point.energy for point in points)
    floor = max(good[0], good[-1] - 8 * max(good[-1] - good[len(good) // 2], 0.002 * good[-1]))
    most = sorted(point.moves_a_day for point in points)
    right = max(min(most[-1], 2.5 * most[len(most) * 3 // 4] + 5), points[0].moves_a_day, 1.0)
    x, y = (
        Scale(0, right * 1.05, 58, 590),
        Scale(floor - 0.05 * (good[-1] - floor), good[-1] + 0.05 * (good[-1] - floor), 208, 12),
    )
    drawn = []
    for number, point in enumerate(points):
        kind = "yours" if number == 0 else "suggested" if number == year.trade.suggested else "front" if point.front else "other"
        words = f"{point.moves_a_day:.0f} moves a day, {point.energy:.0f} kWh a year: {said(point.settings)}"
        drawn.append(PointDrawn(x(min(point.moves_a_day, x.high)), y(max(point.energy, y.low)), kind, words, number))
    front = sorted(((point.x, point.y) for point in drawn if points[point.number].front), key=lambda pair: pair[0])
    order = {"other": 0, "front": 1, "suggested": 2, "yours": 3}
    drawn.sort(key=lambda point: order[point.kind])
    kwh_step = nice_step(y.high - y.low, 4)
    first = (int(y.low / kwh_step) + 1) * kwh_step
    marks = [
        Tick(y(first + kwh_step * place), f"{first + kwh_step * place:.0f}")
        for place in range(6)
        if first + kwh_step * place < y.high
    ]
    return TradeDrawn(drawn, path(front) if len(front) > 1 else "", ticks(x, nice_step(x.high, 5)), marks)


def said(settings: Settings) -> str:
    """A setting by what matters for its kind of control."""
    if settings.control == "manual":
        return f"held at {settings.manual_angle:g}°"
    if settings.control == "clock":
        return f"steps of {settings.step:g}°, a look every {settings.cycle:g} min"
    unit = "" if settings.threshold_kind == "share" else " W/m²"
    dull = {"stay": "stays when dull", "flat": "flat when dull", "clock": "by clock when dull"}[settings.dull]
    return f"difference of {settings.threshold:.2g}{unit}, a look every {settings.cycle:g} min, sunny above {settings.sunny:g} W/m², {dull}"


def month_rows(year: YearReport) -> list[tuple[str, float, float, float]]:
    """Month, kWh made, moves a day, share lost."""
    return [(MONTH_NAMES[month.month], month.made, month.moves, month.lost) for month in year.months]


def loss_rows(losses: dict[str, float], ideal: float) -> list[tuple[str, float, float, float]]:
    """Each loss by name: kWh, share of the ideal, and the width of its bar of 100; largest first, what is nothing left out."""
    most = max((abs(kwh) for kwh in losses.values()), default=0.0) or 1.0
    rows = [
        (name, kwh, kwh / ideal if ideal else 0.0, round(100 * max(kwh, 0) / most, 1))
        for name, kwh in losses.items()
        if abs(kwh) > 1e-4 * max(ideal, 1e-9)
    ]
    return sorted(rows, key=lambda row: -row[1])


def clock_text(minute: int) -> str:
    return f"{minute // 60}:{minute % 60:02d}"


def event_rows(events: Sequence[Any]) -> list[tuple[str, str, str, int]]:
    """Time, axis, words, and the minute."""
    return [
        (clock_text(event.minute), event.axis, event.words.replace(" -", " \N{MINUS SIGN}"), event.minute) for event in events
    ]
