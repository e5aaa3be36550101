"""Where the force goes: what a prop, a jack, a hinge, each bolt and each fixing must take, at one tilt and one gust. Planning
estimates by plane statics of pinned bars: friction in joints, bending stiffness and the bars' own weight are left out.

::

    M = F d + W w        moment of wind and weight about the hinge, Nm
    P = M / lever        along the prop; the hinge takes what is left
"""

from __future__ import annotations

from dataclasses import dataclass
from math import atan2, cos, hypot, sin

from sundial.frame.loads import GRAVITY
from sundial.frame.side import Line, Point, side_lines
from sundial.frame.structure import Jack, Legs, Pole, Prop, Wall, Wedge
from sundial.wind.stance import Rig, Stance
from sundial.wind.standing import Push, weights

Vector = tuple[float, float]


@dataclass(frozen=True)
class Member:
    """What one part takes: ``force`` N (a bar: above zero pressed, below zero pulled; a bolt: shear) or ``moment`` Nm; ``count``
    of them share the whole, and this is one's share."""

    name: str
    force: float | None
    count: int
    moment: float | None = None


@dataclass(frozen=True)
class Reaction:
    """What one of ``count`` feet or fixings brings into what carries it: ``down`` N (below zero it pulls up), ``level`` N (above zero
    to the back)."""

    name: str
    down: float
    level: float
    count: int


@dataclass(frozen=True)
class Paths:
    """Members and reactions of a rig under one push."""

    members: list[Member]
    reactions: list[Reaction]


def load_paths(rig: Rig, how: Stance, push: Push, pressure: float, set_by: dict[str, float] | None = None) -> Paths:
    """What the parts of a rig take at a velocity ``pressure``, Pa, of the wind's ``push``, its weight counted."""
    structure, many = rig.structure, rig.structure.frames
    wind: Vector = (push.level * pressure, push.up * pressure)
    weight: Vector = (0.0, -rig.moving * GRAVITY)
    loads = [(wind, push.at), (weight, how.on_glass(rig.length / 2))]
    lines = {line.name: line for line in side_lines(structure, how.tilt, rig.length, set_by)}
    if isinstance(structure, Pole):
        return _pole(rig, structure, loads, lines)
    if isinstance(structure, Prop) and structure.legs:
        reactions = _feet(rig, how, loads, many)
        return Paths(_spreader(structure, lines, reactions), reactions)
    hinge = (0.0, structure.front_height)
    bar = _bar(structure, lines)
    if bar is None:
        return Paths([], _feet(rig, how, loads, many))
    name, line, pivot = (bar[0], bar[1], lines["glass"].end if isinstance(structure, Wall) else hinge)
    along, rest = _held(loads, pivot, line)
    joint = "upper ledger bolt" if isinstance(structure, Wall) else "hinge bolt"
    bars = 1 if isinstance(structure, Jack) else many  # one actuator moves all frames
    members = [
        Member(name, along / bars, bars),
        Member(f"{name} bolt", abs(along) / bars, 2 * bars),
        Member(joint, hypot(*rest) / many, many),
    ]
    if isinstance(structure, Wall):
        reactions = [
            Reaction("upper ledger", -rest[1] / many, rest[0] / many, many),
            _thrust_at("lower ledger", line, along, many),
        ]
    elif isinstance(structure, Jack) and rig.feet is not None:
        reactions = [
            Reaction("hinge", -rest[1] / many, rest[0] / many, many),
            _thrust_at("foot of the actuator", line, along, 1),
            *_feet(rig, how, loads, 2),
        ]
    else:
        reactions = _feet(rig, how, loads, many)
    return Paths(members, reactions)


def _bar(structure: object, lines: dict[str, Line]) -> tuple[str, Line] | None:
    """The bar that keeps the glass from turning, from its foot to the rail."""
    if isinstance(structure, Legs):
        return "rear leg", lines["rear leg"]
    if isinstance(structure, Prop):
        return "prop", lines["prop"]
    if isinstance(structure, Jack):
        return "actuator", lines["actuator"]
    if isinstance(structure, Wall):
        return "strut", lines["strut"]
    if isinstance(structure, Wedge):
        return "upright", lines["upright"]
    return None


def _turning(force: Vector, at: Point, about: Point) -> float:
    """Moment, Nm, above zero where it would raise what lies behind the point."""
    return (at[0] - about[0]) * force[1] - (at[1] - about[1]) * force[0]


def _held(loads: list[tuple[Vector, Point]], hinge: Point, bar: Line) -> tuple[float, Vector]:
    """Force along a bar, N, above zero pressed, that balances ``loads`` about the hinge; and what the hinge then brings into its
    support, N."""
    dx, dz = bar.end[0] - bar.start[0], bar.end[1] - bar.start[1]
    size = hypot(dx, dz) or 1.0
    unit = (dx / size, dz / size)  # a pressed bar pushes the rail this way
    lever = _turning(unit, bar.end, hinge)
    moment = sum(_turning(force, at, hinge) for force, at in loads)
    along = -moment / lever if abs(lever) > 1e-9 else 0.0
    rest = (sum(f[0] for f, _ in loads) + along * unit[0], sum(f[1] for f, _ in loads) + along * unit[1])
    return along, rest


def _thrust_at(name: str, bar: Line, along: float, many: int) -> Reaction:
    """What a bar brings into what it stands on."""
    dx, dz = bar.end[0] - bar.start[0], bar.end[1] - bar.start[1]
    size = hypot(dx, dz) or 1.0
    return Reaction(name, along * dz / size / many, -along * dx / size / many, many)


def _feet(rig: Rig, how: Stance, loads: list[tuple[Vector, Point]], many: int) -> list[Reaction]:
    """What front and back feet bring into the ground: downward by moments, the level force shared as they are pressed (halves where
    one pulls)."""
    if how.feet is None:
        down, level = -sum(f[1] for f, _ in loads) + rig.fixed * GRAVITY, sum(f[0] for f, _ in loads)
        return [Reaction("foot", down / many, level / many, many)]
    front, back = how.feet
    rest = [((0.0, -weight.newtons), weight.at) for weight in weights(rig, how)[1:]]
    everything = [*loads, *rest]
    span = back[0] - front[0]
    turning = sum(_turning(force, at, front) for force, at in everything)
    level = sum(force[0] for force, _ in everything)
    at_back = (-turning - level * (back[1] - front[1]) / 2) / span
    at_front = -sum(force[1] for force, _ in everything) - at_back
    share = at_back / (at_front + at_back) if min(at_front, at_back) > 0 else 0.5
    return [
        Reaction("front foot", at_front / many, level * (1 - share) / many, many),
        Reaction("back foot", at_back / many, level * share / many, many),
    ]


def _spreader(prop: Prop, lines: dict[str, Line], feet: list[Reaction]) -> list[Member]:
    """Of a folding A-frame: the back foot stands on the ground alone, so that the spreader takes what would let it slide out."""
    leg, bar, many = lines["back leg"], lines["spreader"], prop.frames
    down = feet[-1].down * many
    out = leg.end[0] - leg.start[0]
    tilted = atan2(bar.end[1] - bar.start[1], bar.end[0] - bar.start[0])
    pulled = _turning((cos(tilted), sin(tilted)), bar.end, leg.start)
    force = -(down * out) / pulled if abs(pulled) > 1e-9 else 0.0
    top = hypot(down, force) / many
    return [
        Member("spreader bar", -abs(force) / many if force * pulled < 0 else abs(force) / many, many),
        Member("spreader bolt", abs(force) / many, 2 * many),
        Member("top bolt", top, many),
    ]


def _pole(rig: Rig, pole: Pole, loads: list[tuple[Vector, Point]], lines: dict[str, Line]) -> Paths:
    joint, foot = (0.0, pole.height), (0.0, 0.0)
    at_joint = sum(_turning(force, at, joint) for force, at in loads)
    at_foot = sum(_turning(force, at, foot) for force, at in loads)
    level, down = sum(f[0] for f, _ in loads), -sum(f[1] for f, _ in loads)
    if pole.screw:
        along, rest = _held(loads, joint, lines["actuator"])
        held = [Member("actuator", along, 1), Member("actuator bolt", abs(along), 2), Member("joint bolt", hypot(*rest), 1)]
    else:
        held = [Member("joint", None, 1, abs(at_joint)), Member("joint bolt", hypot(level, down), 1)]
    members = [*held, Member("pole at its foot", None, 1, abs(at_foot))]
    return Paths(members, [Reaction("foot of the pole", down + rig.fixed * GRAVITY, level, 1)])


def glass_moment(rig: Rig, how: Stance, push: Push, pressure: float) -> float:
    """Moment of wind and weight about the hinge (or the joint of a pole), Nm, above zero where it would lie flatter: what an actuator
    must overcome."""
    hinge = (0.0, rig.structure.height if isinstance(rig.structure, Pole) else rig.structure.front_height)
    wind = (push.level * pressure, push.up * pressure)
    turned = _turning(wind, push.at, hinge) + _turning((0.0, -rig.moving * GRAVITY), how.on_glass(rig.length / 2), hinge)
    return -turned
