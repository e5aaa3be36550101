"""Settling: levels at the feet over time, and where they part."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date as day

from sundial.days import MONTH_NAMES
from sundial.errors import BriefError
from sundial.quantities import Units, fine_length

LIMIT = 200.0  # a foot may part from its neighbour by the distance between them over this (the trade's rule, L/200)


@dataclass(frozen=True)
class Settling:
    """Since the first reading: ``sunk`` m of each foot, ``parted`` m between neighbours, ``worst`` m of them against ``allowed`` m."""

    date: str
    sunk: tuple[float, ...]
    parted: tuple[float, ...]
    worst: float
    allowed: float

    @property
    def uneven(self) -> bool:
        return self.worst > self.allowed


def settling(readings: Sequence[tuple[str, Sequence[float]]], spacing: float) -> list[Settling]:
    """What every reading says against the first; ``spacing`` m from foot to foot. BriefError where their feet differ in number."""
    if not readings:
        return []
    ordered = sorted(readings, key=lambda one: one[0])
    first = ordered[0][1]
    found = []
    for number, (date, levels) in enumerate(ordered):
        if len(levels) != len(first):
            raise BriefError(f"footing.levels[{number}]", f"{date} has {len(levels)} feet, the first reading {len(first)}")
        sunk = tuple(begun - now for begun, now in zip(first, levels, strict=True))
        parted = tuple(abs(one - other) for one, other in zip(sunk, sunk[1:], strict=False))
        found.append(Settling(date, sunk, parted, max(parted), spacing / LIMIT))
    return found


LEAST = 0.002  # m: less is how well a mark is read
FEET = {
    2: ("the left foot", "the right foot"),
    4: ("front left", "front right", "back left", "back right"),
}  # as they are read, where there are so many; else by number


def remedy(readings: Sequence[tuple[str, Sequence[float]]], thread: float | None, units: Units = "metric") -> str:
    """Which feet sank since the first reading and what levels them again, in words: shims, or turns of a jack that rises ``thread`` m a turn. Empty
    with fewer than two readings."""
    if len(readings) < 2:
        return ""
    ordered = sorted(readings, key=lambda one: one[0])
    begun = day.fromisoformat(ordered[0][0])
    since = f"{MONTH_NAMES[begun.month - 1]} {begun.year}"
    sunk = [before - now for before, now in zip(ordered[0][1], ordered[-1][1], strict=True)]
    low = [(one - min(sunk), one, number) for number, one in enumerate(sunk) if one - min(sunk) >= LEAST]
    if not low:
        return f"Level since {since}: no foot parted from the others by more than a mark is read."
    names = FEET.get(len(sunk), tuple(f"foot {number}" for number in range(1, len(sunk) + 1)))
    told = []
    for lift, one, number in sorted(low, reverse=True):
        turns = (
            ""
            if not thread
            else f" or turn the jack {lift / thread:.1f}".removesuffix(".0")
            + (" turn" if abs(lift / thread - 1) < 0.05 else " turns")
        )
        told.append(f"{names[number]} sank {fine_length(one, units)} since {since}: shim {fine_length(lift, units)}{turns}")
    return "; ".join(told)[:1].upper() + "; ".join(told)[1:] + "."
