"""Where the force goes: what a prop, a jack, a hinge, each bolt and each fixing must take, at one tilt and one gust. Planning
estimates by plane statics of pinned bars: friction in joints, bending stiffness and the bars' own weight are left out.

::

    M = F d + W w        moment of wind and weight about the hinge, Nm
    P = M / lever        along the prop; the hinge takes what is left
"""

from __future__ import annotations

from dataclasses import dataclass, field
from math import hypot

from sundial.errors import BriefError
from sundial.frames.feet import Hold, Vector, resultant, shared, turning
from sundial.frames.lines import Line, Point

GRAVITY = 9.80665  # m/s2, standard (CGPM 1901)
NARROW = 0.05  # m: feet nearer than this are one line
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


@dataclass(frozen=True, kw_only=True)
class Burden:
    """What a frame must pass on at one tilt: forces N at points m ``on_glass`` (wind and weight), weights ``on_feet`` (the frame's own,
    ballast), its ``lines`` at that tilt by name, the ``feet`` that it stands on (None: on one point, or none; ``told``: by the brief, not by
    its kind), ``fixed`` kg of what does not move, ``ballast`` kg on each side, and whether its footing is ``anchored``."""

    on_glass: Loads
    lines: dict[str, Line]
    on_feet: Loads = field(default_factory=list)
    feet: tuple[Point, Point] | None = None
    told: bool = False
    fixed: float = 0.0
    ballast: float = 0.0
    anchored: bool = False

    def into_feet(self, hold: Hold, many: int) -> list[Reaction]:
        """What front and back feet bring into the ground, frame and ballast with it, each line shared by ``many``."""
        if self.feet is None:
            down = -sum(force[1] for force, _ in self.on_glass) + self.fixed * GRAVITY
            return [Reaction("foot", down / many, sum(force[0] for force, _ in self.on_glass) / many, many)]
        total = resultant([*self.on_glass, *self.on_feet], self.feet[0])
        each = shared(total, feet_apart(self.feet), hold)
        return [
            Reaction(name, -up / many, level / many, many)
            for name, (level, up) in zip(("front foot", "back foot"), each, strict=True)
        ]


def feet_apart(feet: tuple[Point, Point]) -> Vector:
    """From the front to the back feet, m. BriefError where they are one line: what turns the frame then has no lever."""
    (x0, z0), (x1, z1) = feet
    if x1 - x0 < NARROW:
        raise BriefError(
            "wind.feet",
            "at this tilt its front and back feet stand on one line, so nothing holds what turns it: say how far apart the lines are on "
            "which it is held",
        )
    return x1 - x0, z1 - z0


def bar_force(loads: Loads, hinge: Point, bar: Line) -> tuple[float, Vector]:
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


def bar_members(name: str, along: float, bars: int, joint: str, rest: Vector, many: int) -> list[Member]:
    """A bar that keeps the glass from turning, its bolts, and the bolt about which it would turn."""
    return [
        Member(name, along / bars, bars),
        Member(f"{name} bolt", abs(along) / bars, 2 * bars),
        Member(joint, hypot(*rest) / many, many),
    ]


def thrust_at(name: str, bar: Line, along: float, many: int) -> Reaction:
    """What a bar brings into what it stands on."""
    dx, dz = bar.end[0] - bar.start[0], bar.end[1] - bar.start[1]
    size = hypot(dx, dz) or 1.0
    return Reaction(name, along * dz / size / many, -along * dx / size / many, many)
