"""The frame's own parts in the side view, to scale, and what the browser needs to drag them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict, dataclass, field
from math import dist, radians, tan
from typing import Any

from sundial.frames.kind import Hole, Structure
from sundial.frames.lines import Dimension, Line
from sundial.quantities import Units, format_length
from web.frame.kinds.registry import choices

THIN = ("prop", "spreader", "actuator", "strut", "joint", "upright")
ASIDE = 15.0  # px from a part to its dimension line
ToPixels = Callable[[tuple[float, float]], tuple[float, float]]
MOST_DRAWN = 24  # holes looked at for the size of the drawing


@dataclass(frozen=True)
class PartDrawn:
    """One part as a path."""

    name: str
    d: str
    thin: bool


@dataclass(frozen=True)
class Measure:
    """A dimension line as a path; what is written at ``x``, ``y`` px, and the ``field`` that asks it ("" where none does), with its place
    among several."""

    name: str
    d: str
    text: str
    x: float
    y: float
    anchor: str
    field: str
    number: int | None


@dataclass(frozen=True)
class BarHole:
    """A hole in the base bar (or the back leg): its place in px, and its number in the field."""

    number: int
    x: float
    y: float
    at: float
    used: bool


@dataclass(frozen=True)
class BuiltView:
    """``glass`` px from the lower to the upper edge; ``parts``; ``measures``; ``bar`` holes; ``jack`` whether one sets it; ``ground`` as a path; ``scale`` px per metre;
    ``data`` for the browser."""

    glass: tuple[tuple[float, float], tuple[float, float]]
    hinge: tuple[float, float]
    parts: list[PartDrawn]
    measures: list[Measure]
    bar: list[BarHole]
    jack: bool
    ground: str
    scale: float
    data: dict[str, Any] = field(repr=False)


def hole_of(structure: Structure, true_tilt: float) -> Hole:
    """The hole that sets a true tilt, or a plain setting of it."""
    holes = structure.holes
    if holes:
        return min(holes, key=lambda hole: abs(hole.plane.tilt - true_tilt))
    return Hole(0, true_tilt, {}, structure.plane(true_tilt))


def built_view(structure: Structure, true_tilt: float, length: float, units: Units, width: float, ground: float) -> BuiltView:
    """The frame at a tilt, ``width`` px broad over ``ground`` px, as large as all its holes leave room for."""
    hole = hole_of(structure, true_tilt)
    step = max(1, len(structure.holes) // MOST_DRAWN)
    looked_at = [hole, *structure.holes[::step], *structure.holes[-1:]]
    boxes = [line for one in looked_at for line in structure.side_lines(one.tilt, length, one.set_by)]
    xs, zs = zip(*[point for line in boxes for point in (line.start, line.end)], strict=True)
    low, high, top = min(xs), max(xs), max(zs)
    scale = min((width - 64) / (high - low), (ground - 26) / max(top, 0.1))
    origin = (width / 2 - (low + high) / 2 * scale, ground)

    def px(point: tuple[float, float]) -> tuple[float, float]:
        return round(origin[0] + point[0] * scale, 1), round(origin[1] - point[1] * scale, 1)

    lines = {line.name: line for line in structure.side_lines(hole.tilt, length, hole.set_by)}
    glass = lines.pop("glass")
    bar = _bar(structure, lines, hole, px)
    return BuiltView(
        glass=(px(glass.start), px(glass.end)),
        hinge=px(structure.hinge),
        parts=[_part(line, px) for line in lines.values() if dist(line.start, line.end) > 1e-6],
        measures=[_measure(one, structure, units, px) for one in structure.dimensions(hole.tilt, length, hole.set_by)],
        bar=bar,
        jack=structure.jack is not None,
        ground=_ground(structure.fall, origin, width),
        scale=scale,
        data={
            "frame": {"kind": structure.kind, **asdict(structure)},
            "length": length,
            "scale": scale,
            "origin": list(origin),
            "us": units == "us",
            "holes": [
                {"tilt": one.tilt, "true": round(one.plane.tilt, 2), "by": one.set_by} for one in structure.holes if one.set_by
            ],
        },
    )


def _ground(fall: float, origin: tuple[float, float], width: float) -> str:
    left, right = (round(origin[1] - (x - origin[0]) * tan(radians(fall)), 1) for x in (8, width - 8))
    return f"M8 {left}L{width - 8:g} {right}"


def _part(line: Line, px: ToPixels) -> PartDrawn:
    start, end = px(line.start), px(line.end)
    return PartDrawn(line.name, f"M{start[0]} {start[1]}L{end[0]} {end[1]}", line.name in THIN)


def _measure(one: Dimension, structure: Structure, units: Units, px: ToPixels) -> Measure:
    """A dimension line: ``dimensionLine`` of side.js draws the same."""
    (x1, y1), (x2, y2) = px(one.start), px(one.end)
    far = dist((x1, y1), (x2, y2)) or 1.0
    nx, ny = (y2 - y1) / far * one.side, -(x2 - x1) / far * one.side
    ends = [(x + nx * ASIDE, y + ny * ASIDE) for x, y in ((x1, y1), (x2, y2))]
    marks = "".join(f"M{x - nx * 4:.1f} {y - ny * 4:.1f}L{x + nx * 4:.1f} {y + ny * 4:.1f}" for x, y in ends)
    (ax, ay), (bx, by) = ends
    anchor = "start" if nx > 0.35 else "end" if nx < -0.35 else "middle"
    kind = "pole-jack" if structure.name == "pole" and structure.jack else structure.name
    field = "clearance" if one.key == "front_height" else choices()[kind].measures.get(one.key or "", "")
    return Measure(
        one.name,
        f"M{ax:.1f} {ay:.1f}L{bx:.1f} {by:.1f}{marks}",
        _written(dist(one.start, one.end), units),
        round((ax + bx) / 2 + nx * 5, 1),
        round((ay + by) / 2 + ny * 10 + 4, 1),
        anchor,
        field,
        one.number,
    )


def _written(metres: float, units: Units) -> str:
    return format_length(metres, "us") if units == "us" else f"{metres:.2f} m"


def _bar(structure: Structure, lines: dict[str, Line], hole: Hole, px: ToPixels) -> list[BarHole]:
    """The holes of the base bar, or of an A-frame's back leg."""
    drilled = structure.bar
    if drilled is None:
        return []
    start, end = lines[drilled.drilled_line].ends
    whole = dist(start, end)
    found = []
    for number, at in enumerate(drilled.base_holes):
        share = at / whole
        x, y = px((start[0] + (end[0] - start[0]) * share, start[1] + (end[1] - start[1]) * share))
        found.append(BarHole(number, x, y, at, at == hole.set_by.get("base_hole")))
    return found
