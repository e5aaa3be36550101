"""Where the force goes: what a prop, a jack, a hinge, each bolt and each fixing must take, at one tilt and one gust. Planning
estimates by plane statics of pinned bars: friction in joints, bending stiffness and the bars' own weight are left out.

::

    M = F d + W w        moment of wind and weight about the hinge, Nm
    P = M / lever        along the prop; the hinge takes what is left
"""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot

from sundial.errors import BriefError
from sundial.frame.loads import GRAVITY
from sundial.frame.side import Line, Point, side_lines
from sundial.frame.structure import Jack, Legs, Pole, Prop, Wall, Wedge
from sundial.wind.feet import Hold, Vector, resultant, shared, turning, worst_pressures
from sundial.wind.stance import NARROW, Rig, Stance
from sundial.wind.standing import Push, weights

Loads = list[tuple[Vector, Point]]


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
    """Members and reactions of a rig under one push; the first ``inner`` reactions go into the thing that stands on the feet (a trailer's
    roof under a flap), the others into the ground."""

    members: list[Member]
    reactions: list[Reaction]
    inner: int = 0

    @property
    def feet(self) -> list[Reaction]:
        """The reactions that go into the ground, a line of feet each."""
        return self.reactions[self.inner :]


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
        return Paths(_spreader(rig, structure, lines, reactions[-1]), reactions)
    hinge = (0.0, structure.front_height)
    bar = _bar(structure, lines)
    if bar is None:
        return Paths([], _feet(rig, how, loads, many))
    name, line, pivot = (bar[0], bar[1], lines["glass"].end if isinstance(structure, Wall) else hinge)
    along, rest = _held(loads, pivot, line)
    joint = "upper ledger bolt" if isinstance(structure, Wall) else "hinge bolt"
    bars = 1 if isinstance(structure, Jack) else many  # one actuator moves all frames
    inner = 0
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
        inner = 2
    else:
        reactions = _feet(rig, how, loads, many)
    return Paths(members, reactions, inner)


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


def _held(loads: Loads, hinge: Point, bar: Line) -> tuple[float, Vector]:
    """Force along a bar, N, above zero pressed, that balances ``loads`` about the hinge; and what the hinge then brings into its
    support, N."""
    dx, dz = bar.end[0] - bar.start[0], bar.end[1] - bar.start[1]
    size = hypot(dx, dz) or 1.0
    unit = (dx / size, dz / size)  # a pressed bar pushes the rail this way
    lever = turning(unit, bar.end, hinge)
    moment = sum(turning(force, at, hinge) for force, at in loads)
    along = -moment / lever if abs(lever) > 1e-9 else 0.0
    rest = (sum(f[0] for f, _ in loads) + along * unit[0], sum(f[1] for f, _ in loads) + along * unit[1])
    return along, rest


def _thrust_at(name: str, bar: Line, along: float, many: int) -> Reaction:
    """What a bar brings into what it stands on."""
    dx, dz = bar.end[0] - bar.start[0], bar.end[1] - bar.start[1]
    size = hypot(dx, dz) or 1.0
    return Reaction(name, along * dz / size / many, -along * dx / size / many, many)


def _feet(rig: Rig, how: Stance, loads: Loads, many: int) -> list[Reaction]:
    """What front and back feet bring into the ground, frame and ballast with it."""
    if how.feet is None:
        down, level = -sum(f[1] for f, _ in loads) + rig.fixed * GRAVITY, sum(f[0] for f, _ in loads)
        return [Reaction("foot", down / many, level / many, many)]
    front, back = how.feet
    total = resultant([*loads, *_on_feet(rig, how)], front)
    each = shared(total, _apart(how.feet), _hold(rig))
    return [
        Reaction(name, -up / many, level / many, many)
        for name, (level, up) in zip(("front foot", "back foot"), each, strict=True)
    ]


def _on_feet(rig: Rig, how: Stance) -> Loads:
    """Weights that the glass does not carry: of the frame, and ballast on its feet."""
    return [((0.0, -weight.newtons), weight.at) for weight in weights(rig, how)[1:]]


def _apart(feet: tuple[Point, Point]) -> Vector:
    """From the front to the back feet, m. BriefError where they are one line: what turns the frame then has no lever."""
    (x0, z0), (x1, z1) = feet
    if x1 - x0 < NARROW:
        raise BriefError(
            "wind.feet",
            "at this tilt its front and back feet stand on one line, so nothing holds what turns it: say how far apart the lines are on "
            "which it is held",
        )
    return x1 - x0, z1 - z0


def _hold(rig: Rig) -> Hold:
    """How its feet share the level force."""
    if rig.anchored:
        return "anchored"
    return "front" if isinstance(rig.structure, Prop) and rig.structure.legs else "friction"


def feet_pressures(rig: Rig, how: Stance, push: Push, most: float) -> list[float]:
    """Velocity pressures from 0 to ``most``, Pa, among which is the one that asks most of each foot: a load that turns from pressing into
    pulling is not worst in the strongest wind."""
    if how.feet is None or isinstance(rig.structure, Pole | Wall):
        return [0.0, most]
    front = how.feet[0]
    still = resultant([((0.0, -weight.newtons), weight.at) for weight in weights(rig, how)], front)
    per_pascal = resultant([((push.level, push.up), push.at)], front)
    return worst_pressures(still, per_pascal, _apart(how.feet), _hold(rig), most)


def _spreader(rig: Rig, prop: Prop, lines: dict[str, Line], back: Reaction) -> list[Member]:
    """Of a folding A-frame: its back leg as a free body, hinged at the top, with the ground's reaction at its foot (ballast presses the foot
    and does not pass through the leg) and the spreader along its own line; the top bolt takes the vector sum of both."""
    leg, bar, many = lines["back leg"], lines["spreader"], prop.frames
    ground: Vector = (-back.level * many, back.down * many - rig.ballast * GRAVITY)
    dx, dz = bar.start[0] - bar.end[0], bar.start[1] - bar.end[1]
    size = hypot(dx, dz) or 1.0
    toward_front: Vector = (dx / size, dz / size)  # a pulled spreader draws the back leg this way
    lever = turning(toward_front, bar.end, leg.start)
    pulled = -turning(ground, leg.end, leg.start) / lever if abs(lever) > 1e-9 else 0.0
    top = hypot(ground[0] + pulled * toward_front[0], ground[1] + pulled * toward_front[1])
    return [
        Member("spreader bar", -pulled / many, many),
        Member("spreader bolt", abs(pulled) / many, 2 * many),
        Member("top bolt", top / many, many),
    ]


def _pole(rig: Rig, pole: Pole, loads: Loads, lines: dict[str, Line]) -> Paths:
    joint, foot = (0.0, pole.height), (0.0, 0.0)
    at_joint = sum(turning(force, at, joint) for force, at in loads)
    at_foot = sum(turning(force, at, foot) for force, at in loads)
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
    turned = turning(wind, push.at, hinge) + turning((0.0, -rig.moving * GRAVITY), how.on_glass(rig.length / 2), hinge)
    return -turned
