"""The frame's own parts in the side view, to scale, and what the browser needs to drag them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from math import ceil, dist, floor, radians, tan
from typing import Any

from sundial.frames.kind import Hole, Structure
from sundial.frames.lines import Dimension, Line
from sundial.quantities import INCH, Units, format_length
from web.frame.kinds.registry import choices

THIN = ("prop", "spreader", "actuator", "strut", "joint", "upright")
ASIDE = 15.0  # px from a part to its dimension line
ToPixels = Callable[[tuple[float, float]], tuple[float, float]]
MOST_DRAWN = 24  # holes looked at for the size of the drawing
LEAST_HOLE = 0.05  # m from the end of a bar
SPARE = 0.5  # m beyond the last hole of a bar whose length is not told
MOST_PLACES = 400  # of a hole that is moved


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
class Pose:
    """The frame as it is drawn at one of its stops. ``tilt``: of the glass, degrees; ``glass`` px from the lower to the upper edge; ``parts``;
    ``measures``; ``bar`` holes."""

    tilt: float
    glass: tuple[tuple[float, float], tuple[float, float]]
    parts: list[PartDrawn]
    measures: list[Measure]
    bar: list[BarHole]

    @property
    def told(self) -> dict[str, Any]:
        """What the browser sets, by the names that the drawing has."""
        return {
            "tilt": self.tilt,
            "glass": self.glass,
            "parts": {part.name: part.d for part in self.parts},
            "measures": {one.name: [one.d, one.x, one.y, one.anchor, one.text, one.number] for one in self.measures},
            "bar": [[hole.x, hole.y] for hole in self.bar],
            "used": next((hole.number for hole in self.bar if hole.used), None),
        }


@dataclass(frozen=True)
class BuiltView:
    """``pose`` as it stands now; ``jack`` whether one sets it; ``ground`` as a path; ``scale`` px per metre, ``origin`` px of
    the ground under the front support; ``data`` for the browser."""

    pose: Pose
    hinge: tuple[float, float]
    jack: bool
    ground: str
    scale: float
    origin: tuple[float, float]
    data: dict[str, Any] = field(repr=False)


def hole_of(structure: Structure, true_tilt: float) -> Hole:
    """The hole that sets a true tilt, or a plain setting of it."""
    holes = structure.holes
    if holes:
        return min(holes, key=lambda hole: abs(hole.plane.tilt - true_tilt))
    return Hole(0, true_tilt, {}, structure.plane(true_tilt))


class Drawing:
    """A frame's side on a picture ``width`` px broad over ``ground`` px, as large as all its holes and the one of ``true_tilt`` leave room
    for; what it stands on is ``raised`` m over that ground."""

    def __init__(
        self,
        structure: Structure,
        true_tilt: float,
        length: float,
        units: Units,
        width: float,
        ground: float,
        raised: float = 0.0,
    ) -> None:
        self.structure, self.length, self.units, self.width = structure, length, units, width
        self.now = hole_of(structure, true_tilt)
        step = max(1, len(structure.holes) // MOST_DRAWN)
        looked_at = [self.now, *structure.holes[::step], *structure.holes[-1:]]
        boxes = [line for one in looked_at for line in structure.side_lines(one.tilt, length, one.set_by)]
        xs, zs = zip(*[point for line in boxes for point in (line.start, line.end)], strict=True)
        low, high, top = min(xs), max(xs), max(zs)
        self.scale = min((width - 64) / (high - low), (ground - 26) / max(top + raised, 0.1))
        self.origin = (width / 2 - (low + high) / 2 * self.scale, ground - raised * self.scale)

    def px(self, point: tuple[float, float]) -> tuple[float, float]:
        return round(self.origin[0] + point[0] * self.scale, 1), round(self.origin[1] - point[1] * self.scale, 1)

    def pose(self, hole: Hole, structure: Structure | None = None) -> Pose:
        """The frame (or ``structure``, which is like it) in one of its holes."""
        frame, px = structure or self.structure, self.px
        lines = {line.name: line for line in frame.side_lines(hole.tilt, self.length, hole.set_by)}
        glass = lines.pop("glass")
        return Pose(
            round(hole.plane.tilt, 2),
            (px(glass.start), px(glass.end)),
            [_part(line, px) for line in lines.values() if dist(line.start, line.end) > 1e-6],
            [_measure(one, frame, self.units, px) for one in frame.dimensions(hole.tilt, self.length, hole.set_by)],
            _bar(frame, lines, hole, px),
        )

    def poses(self, stops: Sequence[float]) -> list[Pose]:
        """The frame in each of its holes, or at each of ``stops`` where none are told."""
        holes = [hole for hole in self.structure.holes if hole.set_by]
        return [self.pose(hole) for hole in holes or [Hole(0, stop, {}, self.structure.plane(stop)) for stop in stops]]

    def places(self, number: int) -> list[tuple[float, Pose]]:
        """Where a drill can put one hole of the bar, m, and the frame in it: by whole centimetres or quarter inches, the nearest ones, where
        all that it is used with still sets a tilt."""
        bar = self.structure.bar
        if bar is None or number >= len(bar.base_holes):
            return []
        old, step = bar.base_holes[number], INCH / 4 if self.units == "us" else 0.01
        used = [hole.set_by for hole in self.structure.holes if hole.set_by.get("base_hole") == old]
        last = floor((bar.bar_length if bar.bar_told else bar.bar_length + SPARE) / step + 1e-9)
        wanted = sorted(range(ceil(LEAST_HOLE / step), last + 1), key=lambda one: abs(one * step - old))[:MOST_PLACES]
        found = []
        for at in (round(one * step, 6) for one in sorted(wanted)):
            if any(abs(at - other) < 1e-6 for other in bar.base_holes if other != old):
                continue
            tilts = [bar.tilt_by(by["rail_point"], by["length"], at) for by in used]
            if used and tilts[0] is not None and None not in tilts:
                moved = bar.with_hole(number, at)
                found.append((at, self.pose(Hole(0, tilts[0], {**used[0], "base_hole": at}, moved.plane(tilts[0])), moved)))
        return found


def built_view(drawing: Drawing, poses: str) -> BuiltView:
    """The frame as it stands; ``poses``: the address of all its stops."""
    structure = drawing.structure
    several = {
        field: list(held)
        for key, field in choices()[kind_of(structure)].measures.items()
        if isinstance(held := getattr(structure, key, None), tuple)
    }
    return BuiltView(
        pose=drawing.pose(drawing.now),
        hinge=drawing.px(structure.hinge),
        jack=structure.jack is not None,
        ground=_ground(structure.fall, drawing.origin, drawing.width),
        scale=drawing.scale,
        origin=drawing.origin,
        data={"poses": poses, "us": drawing.units == "us", "several": several},
    )


def _ground(fall: float, origin: tuple[float, float], width: float) -> str:
    left, right = (round(origin[1] - (x - origin[0]) * tan(radians(fall)), 1) for x in (8, width - 8))
    return f"M8 {left}L{width - 8:g} {right}"


def _part(line: Line, px: ToPixels) -> PartDrawn:
    start, end = px(line.start), px(line.end)
    return PartDrawn(line.name, f"M{start[0]} {start[1]}L{end[0]} {end[1]}", line.name in THIN)


def _measure(one: Dimension, structure: Structure, units: Units, px: ToPixels) -> Measure:
    """A dimension line: a mark at each end, and where its number stands."""
    (x1, y1), (x2, y2) = px(one.start), px(one.end)
    far = dist((x1, y1), (x2, y2)) or 1.0
    nx, ny = (y2 - y1) / far * one.side, -(x2 - x1) / far * one.side
    ends = [(x + nx * ASIDE, y + ny * ASIDE) for x, y in ((x1, y1), (x2, y2))]
    marks = "".join(f"M{x - nx * 4:.1f} {y - ny * 4:.1f}L{x + nx * 4:.1f} {y + ny * 4:.1f}" for x, y in ends)
    (ax, ay), (bx, by) = ends
    anchor = "start" if nx > 0.35 else "end" if nx < -0.35 else "middle"
    kind = kind_of(structure)
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


def kind_of(structure: Structure) -> str:
    """As the form calls it."""
    return "pole-jack" if structure.name == "pole" and structure.jack else structure.name


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
