"""The yard of a group from above, to scale, and its months."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from math import cos, radians, sin

import numpy as np

from sundial.answers.group.report import GroupReport, Member
from web.builds.drawing import Scale, Tick, month_ticks

WIDE, HIGH = 560.0, 380.0
MARGIN = 2.0  # m around what stands there
LARGEST = 60.0  # m of a yard shown about the arrays
BAR, BASE, TOP = 26.0, 348.0, 22.0
SCALES = (1, 2, 5, 10, 20, 50)
Point = tuple[float, float]


@dataclass(frozen=True)
class Shape:
    """Something in the plan: an SVG path, and its name where there is room for it."""

    name: str
    kind: str
    path: str
    x: float
    y: float


@dataclass(frozen=True)
class Rack:
    """A build in the plan: the glass of its groups, an arrow the way it faces, its number among the builds."""

    number: int
    name: str
    path: str
    arrow: str
    x: float
    y: float


@dataclass(frozen=True)
class YardPlan:
    """The yard in ``WIDE`` by ``HIGH`` pixels; the scale bar is ``bar`` pixels for ``metres``."""

    things: list[Shape]
    racks: list[Rack]
    bar: float
    metres: int

    @property
    def bar_middle(self) -> float:
        return 14 + self.bar / 2


def yard_plan(report: GroupReport) -> YardPlan:
    """The yard about its arrays; what lies far off is left out."""
    glass = np.array([point for member in report.members for ring in member.plan for point in ring])
    middle = (glass.min(axis=0) + glass.max(axis=0)) / 2
    near = [thing for thing in report.things if np.abs(np.array(thing.outline) - middle).max(axis=1).min() < LARGEST / 2]
    every = np.concatenate([glass, *(np.array(thing.outline) for thing in near)])
    low = np.maximum(every.min(axis=0), middle - LARGEST / 2) - MARGIN
    high = np.minimum(every.max(axis=0), middle + LARGEST / 2) + MARGIN
    unit = min(WIDE / (high[0] - low[0]), HIGH / (high[1] - low[1]))
    start = (low + high) / 2 - np.array([WIDE, HIGH]) / unit / 2

    def at(point: Point) -> Point:
        return float((point[0] - start[0]) * unit), float(HIGH - (point[1] - start[1]) * unit)

    def ring(points: Sequence[Point]) -> str:
        return "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in map(at, points)) + "Z"

    things = []
    for thing in near:
        x, y = at(_middle(thing.outline))
        things.append(Shape(thing.name, thing.kind, ring(thing.outline), round(x, 1), round(y, 1)))
    racks = []
    for number, member in enumerate(report.members, 1):
        first = member.plan[0]
        x, y = at(_middle([point for one in member.plan for point in one]))
        racks.append(
            Rack(number, member.name, "".join(map(ring, member.plan)), _arrow(member, at, first), round(x, 1), round(y, 1))
        )
    metres = next((size for size in SCALES if size * unit >= 50), SCALES[-1])
    return YardPlan(things, racks, round(metres * unit, 1), metres)


def _middle(points: Sequence[Point]) -> Point:
    x, y = np.mean(points, axis=0)
    return float(x), float(y)


def _arrow(member: Member, at: Callable[[Point], Point], ring: Sequence[Point]) -> str:
    """From the middle of the lower edge the way it faces."""
    x, y = at(((ring[0][0] + ring[1][0]) / 2, (ring[0][1] + ring[1][1]) / 2))
    turn = radians(member.azimuth)
    tip = x + 18 * sin(turn), y - 18 * cos(turn)
    wings = [(tip[0] - 7 * sin(turn + side), tip[1] + 7 * cos(turn + side)) for side in (0.5, -0.5)]
    return (
        f"M{x:.1f} {y:.1f}L{tip[0]:.1f} {tip[1]:.1f}"
        f"M{wings[0][0]:.1f} {wings[0][1]:.1f}L{tip[0]:.1f} {tip[1]:.1f}L{wings[1][0]:.1f} {wings[1][1]:.1f}"
    )


@dataclass(frozen=True)
class Stack:
    """The months of a group, one part of a bar a build."""

    parts: list[tuple[int, float, float, float]]
    months: list[Tick]
    totals: list[tuple[float, float, str]]


def month_stack(report: GroupReport) -> Stack:
    """Bars of the months (number of the build, x, y, height), their names, and the kWh above them."""
    x = Scale(0, 364, 18, WIDE - 18)
    months = month_ticks(x, 3)
    y = Scale(0, max(report.by_month) or 1.0, 0, BASE - TOP - 12)
    parts, totals = [], []
    for month, tick in enumerate(months):
        top = BASE
        for number, member in enumerate(report.members, 1):
            height = y(member.by_month[month])
            top -= height
            parts.append((number, round(tick.at - BAR / 2, 1), round(top, 1), height))
        totals.append((tick.at, round(top - 4, 1), f"{report.by_month[month]:.0f}"))
    return Stack(parts, months, totals)
