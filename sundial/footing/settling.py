"""Settling: levels at the feet over time, and where they part."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sundial.errors import BriefError

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
