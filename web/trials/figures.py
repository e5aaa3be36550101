"""The drawing of a trial: each repeat a mark, the ratio with its interval, and what the core expects."""

from __future__ import annotations

from dataclasses import dataclass
from math import log

from sundial.trials.result import TrialResult
from web.builds.drawing import Scale, Tick, nice_step

ROW = 22
TOP = 14


@dataclass(frozen=True)
class Mark:
    """One repeat: its place, ``kind`` (set, swapped, alike, out), and words."""

    x: float
    y: float
    kind: str
    words: str
    name: str


@dataclass(frozen=True)
class TrialDrawn:
    """Places on an axis of per cent. ``low`` and ``high`` None: no interval yet."""

    marks: list[Mark]
    x: float
    low: float | None
    high: float | None
    none: float
    expected: float | None
    y: float
    height: float
    ticks: list[Tick]

    @property
    def all_y(self) -> float:
        """Where the result of all repeats stands."""
        return self.y + 14

    @property
    def tall(self) -> float:
        """Of the picture with its axis."""
        return self.height + 22


def trial_drawn(found: TrialResult, expected: float | None) -> TrialDrawn:
    """Repeats downward in their order, the result under them; nothing (0 %) is always in sight."""
    shares = [one.ratio for one in found.said if one.ratio is not None and not one.why]
    values = [
        100 * (value - 1) for value in (*shares, found.ratio, *(v for v in (found.low, found.high, expected) if v is not None))
    ]
    values = [max(-60.0, min(value, 120.0)) for value in (*values, 0.0)]
    span = max(max(values) - min(values), 2.0)
    x = Scale(min(values) - 0.08 * span, max(values) + 0.08 * span, 128, 588)

    def at(ratio: float) -> float:
        return x(max(x.low, min(100 * (ratio - 1), x.high)))

    marks = []
    for place, one in enumerate(found.said):
        kind = "out" if one.why else "alike" if one.alike else "swapped" if one.swapped else "set"
        words = one.why or f"{100 * ((one.ratio or 1) - 1):+.1f} %".replace("-", "\N{MINUS SIGN}")
        marks.append(
            Mark(
                at(one.ratio) if one.ratio is not None and one.ratio > 0 else x(0),
                TOP + place * ROW,
                kind,
                words,
                f"repeat {one.number}",
            )
        )
    y = TOP + len(found.said) * ROW + 8
    step = nice_step(x.high - x.low, 6)
    first = int(x.low / step) - 1
    axis = [step * (first + place) for place in range(20)]
    ticks = [
        Tick(x(value), f"{value:+g} %".replace("-", "\N{MINUS SIGN}") if abs(value) > 1e-9 else "0 %")
        for value in axis
        if x.low <= value <= x.high
    ]
    low, high = (None, None) if found.low is None or found.high is None else (at(found.low), at(found.high))
    return TrialDrawn(
        marks,
        at(found.ratio),
        low,
        high,
        x(0),
        None if expected is None or abs(log(expected)) > 3 else at(expected),
        y,
        y + 44,
        ticks,
    )
