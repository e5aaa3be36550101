"""A frame drawn from the side: its parts as lines, m behind and above the ground under its front support.

The browser draws the same lines while a hand drags them (``web/static/js/side.js``); a test holds both together.
"""

from __future__ import annotations

from dataclasses import dataclass
from math import atan2, cos, degrees, hypot, radians, sin, tan

from sundial.frame.structure import Jack, Legs, Pole, Prop, Structure, Wall, Wedge

Point = tuple[float, float]


@dataclass(frozen=True)
class Line:
    """One part from ``start`` to ``end``, m."""

    name: str
    start: Point
    end: Point


def _from(start: Point, length: float, angle: float) -> Point:
    """The point ``length`` m from ``start`` at ``angle`` degrees over the level, toward the rear."""
    return start[0] + length * cos(radians(angle)), start[1] + length * sin(radians(angle))


def glass_line(structure: Structure, tilt: float, length: float) -> Line:
    """The glass, ``length`` m up the slope, at ``tilt`` degrees from level in the side view."""
    if isinstance(structure, Pole):
        joint = _from((0.0, structure.height), structure.offset, tilt + 90)
        low = _from(joint, -structure.along(length), tilt)
    else:
        low = _from((0.0, structure.front_height), -structure.overhang, tilt)
    return Line("glass", low, _from(low, length, tilt))


def side_lines(structure: Structure, tilt: float, length: float, set_by: dict[str, float] | None = None) -> list[Line]:
    """All parts at ``tilt`` degrees; of a frame with holes, as ``set_by`` one of them."""
    glass, hinge = glass_line(structure, tilt, length), (0.0, structure.front_height)
    held = set_by or {}
    if isinstance(structure, Legs):
        rear = _from(hinge, structure.spacing, tilt)
        foot = (rear[0], rear[0] * tan(radians(structure.slope)))
        return [glass, Line("front leg", (0.0, 0.0), hinge), Line("rear leg", foot, rear), Line("base", (0.0, 0.0), foot)]
    if isinstance(structure, Pole):
        top = (0.0, structure.height)
        lines = [glass, Line("pole", (0.0, 0.0), top), Line("joint", top, _from(top, structure.offset, tilt + 90))]
        return [*lines, _actuator(structure.screw, top, tilt)] if structure.screw else lines
    if isinstance(structure, Prop):
        return [glass, *(_a_frame if structure.legs else _prop)(structure, tilt, hinge, held)]
    if isinstance(structure, Jack):
        return [glass, Line("post", (0.0, 0.0), hinge), _actuator(structure, hinge, tilt)]
    if isinstance(structure, Wall):
        at = glass.end[0]
        wall = Line("wall", (at, 0.0), (at, max(glass.end[1], structure.lower_height) + 0.3))
        return [glass, wall, Line("strut", (at, structure.lower_height), glass.start)]
    if isinstance(structure, Wedge):
        board = structure.slope_length or hypot(structure.run or 0.0, structure.rise)
        end = _from(hinge, board, tilt)
        foot = _from(hinge, board * cos(radians(tilt - structure.slope)), structure.slope)
        return [glass, Line("base", hinge, foot), Line("upright", foot, end)]
    return [glass]


def _actuator(jack: Jack, hinge: Point, tilt: float) -> Line:
    base = _from(hinge, hypot(*jack.base), degrees(atan2(jack.base[1], jack.base[0])) + jack.slope)
    return Line("actuator", base, _from(hinge, jack.rail_point, tilt))


def _prop(prop: Prop, tilt: float, hinge: Point, held: dict[str, float]) -> list[Line]:
    end = _from(hinge, max(prop.base_holes), prop.slope)
    foot = _from(hinge, held.get("base_hole", prop.base_holes[0]), prop.slope)
    rail = _from(hinge, held.get("rail_point", prop.rail_points[0]), tilt)
    lines = [Line("base bar", hinge, end), Line("prop", foot, rail)]
    if prop.front_height > 0:
        under = (end[0], end[0] * tan(radians(prop.slope)))
        lines += [Line("front post", (0.0, 0.0), hinge), Line("rear post", under, end)]
    return lines


def _a_frame(prop: Prop, tilt: float, foot: Point, held: dict[str, float]) -> list[Line]:
    front, back = prop.legs or (1.0, 1.0)
    rail = held.get("rail_point", prop.rail_points[0])
    bar = held.get("length", prop.lengths[0])
    leg = held.get("base_hole", prop.base_holes[0])
    spread = (rail**2 + leg**2 - bar**2) / (2 * rail * leg)  # cosine of the angle between the legs
    top = _from(foot, front, tilt)
    end = _from(foot, (front**2 + back**2 - 2 * front * back * spread) ** 0.5, prop.slope)
    at_front = _from(top, -rail, tilt)
    share = leg / back
    at_back = (top[0] + (end[0] - top[0]) * share, top[1] + (end[1] - top[1]) * share)
    return [Line("front leg", foot, top), Line("back leg", top, end), Line("spreader", at_front, at_back)]


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


def dimensions(structure: Structure, tilt: float, length: float, set_by: dict[str, float] | None = None) -> list[Dimension]:
    """What a kind is asked, as dimension lines beside its parts at ``tilt`` degrees."""
    held, hinge = set_by or {}, (0.0, structure.front_height)
    lines = {line.name: line for line in side_lines(structure, tilt, length, held)}
    found: list[Dimension] = []
    if structure.front_height > 0.05 and not isinstance(structure, Pole | Wall):
        found.append(Dimension("front_height", "front height", (0.0, 0.0), hinge, 1))
    if isinstance(structure, Legs):
        rear = lines["rear leg"]
        number = _place(structure.rear_heights, held.get("rear_height"))
        found.append(Dimension("support_spacing", "spacing", hinge, rear.end, 1))
        found.append(Dimension("rear_heights" if number is not None else None, "rear leg", rear.start, rear.end, -1, number))
    elif isinstance(structure, Pole):
        found.append(Dimension("height", "pole", *_ends(lines["pole"]), 1 if structure.screw else -1))
        if structure.screw:
            found += _jack_dimensions(lines, (0.0, structure.height))
    elif isinstance(structure, Prop):
        found += _prop_dimensions(structure, lines, hinge, held)
    elif isinstance(structure, Jack):
        found += _jack_dimensions(lines, hinge)
    elif isinstance(structure, Wall):
        at = lines["wall"].start[0]
        found.append(Dimension("lower_height", "lower ledger", (at, 0.0), (at, structure.lower_height), -1))
    elif isinstance(structure, Wedge):
        upright = lines["upright"]
        found.append(Dimension("rise", "rise", *_ends(upright), -1))
        if structure.slope_length is not None:
            found.append(Dimension("slope_length", "board", hinge, upright.end, 1))
    return found


def _jack_dimensions(lines: dict[str, Line], hinge: Point) -> list[Dimension]:
    actuator = lines["actuator"]
    return [Dimension("rail_point", "rail point", hinge, actuator.end, 1), Dimension(None, "actuator", *_ends(actuator), -1)]


def _prop_dimensions(prop: Prop, lines: dict[str, Line], hinge: Point, held: dict[str, float]) -> list[Dimension]:
    rail, size, base = (
        _place(values, held.get(name))
        for name, values in (("rail_point", prop.rail_points), ("length", prop.lengths), ("base_hole", prop.base_holes))
    )
    if prop.legs:
        front, back, spreader = lines["front leg"], lines["back leg"], lines["spreader"]
        return [
            Dimension("front_leg", "front leg", *_ends(front), 1),
            Dimension("back_leg", "back leg", *_ends(back), 1),
            Dimension("lengths", "spreader", *_ends(spreader), -1, size),
        ]
    one = lines["prop"]
    return [
        Dimension("rail_points", "rail point", hinge, one.end, 1, rail),
        Dimension("lengths", "prop", *_ends(one), -1, size),
        Dimension("base_holes", "base hole", hinge, one.start, -1, base),
    ]


def _ends(line: Line) -> tuple[Point, Point]:
    return line.start, line.end


def _place(values: tuple[float, ...], value: float | None) -> int | None:
    """Where a value stands in a list; the first where none is told."""
    if not values:
        return None
    return values.index(value) if value in values else 0
