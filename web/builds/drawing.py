"""Shared parts of the drawings: a scale, paths, labels that keep out of each other's way."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from math import cos, radians, sin

import numpy as np
from numpy.typing import NDArray

from sundial.days import MONTH_NAMES, MONTH_STARTS

NOTHING = 1e-9  # of any unit that is drawn: less is what arithmetic leaves where there is nothing


@dataclass(frozen=True)
class Scale:
    """A straight scale from ``low``..``high`` to pixels ``start``..``end``."""

    low: float
    high: float
    start: float
    end: float

    @property
    def _span(self) -> float:
        """What it spans; of nothing, or of what arithmetic leaves of nothing, one."""
        span = self.high - self.low
        return span if abs(span) > NOTHING else 1.0

    def __call__(self, value: float) -> float:
        span = self._span
        return round(self.start + (value - self.low) / span * (self.end - self.start), 2)

    def many(self, values: Sequence[float] | NDArray[np.float64]) -> list[float]:
        """The same of many values at once."""
        span = self._span
        placed = self.start + (np.asarray(values, dtype=float) - self.low) / span * (self.end - self.start)
        return placed.round(2).tolist()


@dataclass(frozen=True)
class Tick:
    """A mark on an axis."""

    at: float
    text: str


def ticks(scale: Scale, step: float, pattern: str = "{:g}") -> list[Tick]:
    """Marks every ``step`` inside the scale."""
    count = int((scale.high - scale.low) / step + 1e-9)
    return [Tick(scale(scale.low + i * step), pattern.format(scale.low + i * step)) for i in range(count + 1)]


def nice_step(span: float, wanted: int = 4) -> float:
    """A step of 1, 2 or 5 times a power of ten that gives about so many marks."""
    if span <= NOTHING:
        return 1.0
    power = 10.0 ** int(f"{span / wanted:e}".partition("e")[2])
    return next(m * power for m in (1, 2, 5, 10) if span / (m * power) <= wanted + 0.5)


def month_ticks(scale: Scale, letters: int = 1) -> list[Tick]:
    """A mark in the middle of each month."""
    return [Tick(scale((MONTH_STARTS[i] + MONTH_STARTS[i + 1]) / 2), MONTH_NAMES[i][:letters]) for i in range(12)]


def path(points: Iterable[tuple[float, float]]) -> str:
    """An SVG path through points."""
    return "M" + " L".join(f"{x:.1f} {y:.1f}" for x, y in points)


def bars(xs: Sequence[float], base: float, tops: Sequence[float]) -> str:
    """One path of upright strokes."""
    return " ".join(f"M{x:.1f} {base:.1f}V{top:.1f}" for x, top in zip(xs, tops, strict=True))


def arc(x: float, y: float, radius: float, degrees: float) -> str:
    """An arc from level up to an angle (degrees, upward), about a corner."""
    end_x, end_y = x + radius * cos(radians(degrees)), y - radius * sin(radians(degrees))
    return f"M{x + radius:.1f} {y:.1f} A{radius:.1f} {radius:.1f} 0 0 0 {end_x:.1f} {end_y:.1f}"


def spread(wanted: Sequence[float], gap: float, low: float, high: float) -> list[float]:
    """Positions near those wanted, at least ``gap`` apart, within ``low``..``high``."""
    order = sorted(range(len(wanted)), key=lambda i: wanted[i])
    placed = [0.0] * len(wanted)
    last = low - gap
    for i in order:
        last = placed[i] = max(wanted[i], last + gap)
    over = last - high
    if over > 0:
        limit = high
        for i in reversed(order):
            placed[i] = min(placed[i], limit)
            limit = placed[i] - gap
    return placed


def year_pieces(start: int, days: int) -> list[tuple[int, int]]:
    """A circular stretch as one or two pieces (first day, one past the last) inside the year."""
    end = start + days
    return [(start, min(end, 365))] + ([(0, end - 365)] if end > 365 else [])
