"""Lines and dimension lines of a frame drawn from the side: m behind and above the ground under its front support."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import cos, radians, sin

Point = tuple[float, float]


@dataclass(frozen=True)
class Line:
    """One part from ``start`` to ``end``, m."""

    name: str
    start: Point
    end: Point

    @property
    def ends(self) -> tuple[Point, Point]:
        return self.start, self.end


@dataclass(frozen=True)
class Dimension:
    """A measure of the frame from ``start`` to ``end``, m: the key of the brief's ``frame`` that holds it (None: it follows from
    others), which of its list where it is one, and on which ``side`` of the way from start to end its line stands off: 1 left, -1 right."""

    key: str | None
    name: str
    start: Point
    end: Point
    side: int
    number: int | None = None


def point_from(start: Point, length: float, angle: float) -> Point:
    """The point ``length`` m from ``start`` at ``angle`` degrees over the level, toward the rear."""
    return start[0] + length * cos(radians(angle)), start[1] + length * sin(radians(angle))


def place_in(values: Sequence[float], value: float | None) -> int | None:
    """Where a value stands in a list; the first where none is told, None for an empty list."""
    if not values:
        return None
    return values.index(value) if value in values else 0
