"""What a frame is cut from, at a tilt: lengths, saw angles, and what a phone reads on each part."""

from __future__ import annotations

from dataclasses import dataclass
from math import atan2, cos, degrees, hypot, radians, sin, tan

from sundial.errors import BriefError
from sundial.frame.side import side_lines
from sundial.frame.structure import Legs, Pole, Prop, Structure, Wall, Wedge


@dataclass(frozen=True)
class Piece:
    """``length`` m along its middle line; ``angle`` degrees off a square cut at its upper (or outer) end, ``foot`` at the other;
    ``toe`` and ``heel`` m along its longer and shorter side; ``tilt`` where it is for one tilt only; ``seated``: the cut instead of ``angle``
    where the end sits under what it holds and is not lapped beside it (None: it is always so cut)."""

    name: str
    length: float
    count: int
    angle: float = 0.0
    foot: float = 0.0
    depth: float = 0.0
    tilt: float | None = None
    seated: float | None = None

    @property
    def toe(self) -> float:
        return self.length + self._slant

    @property
    def heel(self) -> float:
        return self.length - self._slant

    @property
    def _slant(self) -> float:
        """Half of what the two sides differ by, m: the cuts of a leg lean the same way, and the foot's takes from the top's."""
        return abs(tan(radians(self.angle)) - tan(radians(self.foot))) * self.depth / 2


def pieces(structure: Structure, tilts: list[float], length: float, breadth: float) -> list[Piece]:
    """The pieces that carry glass ``length`` m up the slope and ``breadth`` m along it, for the ``tilts`` it is set to (degrees
    from level in the side view; cut anew for each only where the kind needs it)."""
    many = structure.frames
    rail = Piece("rail", length, many)
    if isinstance(structure, Legs):
        return [rail, *_legs(structure, tilts, many)]
    if isinstance(structure, Prop):
        return _prop(structure, rail, many)
    if isinstance(structure, Wall):
        return [*_wall(structure, tilts, length, many), Piece("ledger", breadth, 2)]
    if isinstance(structure, Wedge):
        run = (
            structure.run
            if structure.run is not None
            else (structure.slope_length or 0.0) * cos(radians(_only(tilts) - structure.slope))
        )
        board = hypot(run, structure.rise)
        return [
            Piece("board", board, many),
            Piece("base", run, many),
            Piece("upright", structure.rise, many, angle=_only(tilts) - structure.slope, depth=structure.depth),
        ]
    if isinstance(structure, Pole):
        return [rail, Piece("pole above ground", structure.height, 1)]
    posts = [Piece("post", structure.front_height, many)] if structure.front_height > 0 else []
    return [rail, *posts]


def _only(tilts: list[float]) -> float:
    return tilts[0] if tilts else 0.0


def _legs(legs: Legs, tilts: list[float], many: int) -> list[Piece]:
    several = len(tilts) > 1
    found = []
    for tilt in tilts:
        named = tilt if several else None
        rear = legs.rear_height(tilt)
        if rear <= 0:
            raise BriefError("frame.front_height", f"at {tilt:g} degrees the rear support would stand in the ground")
        cuts = {"angle": tilt, "foot": legs.slope, "depth": legs.depth, "tilt": named}
        found.append(Piece("rear leg", rear, many, **cuts))  # type: ignore[arg-type]
        if legs.front_height > 0:
            found.append(Piece("front leg", legs.front_height, many, **cuts))  # type: ignore[arg-type]
        found.append(Piece("base", legs.spacing * cos(radians(tilt)) / cos(radians(legs.slope)), many, tilt=named))
    return found


def _prop(prop: Prop, rail: Piece, many: int) -> list[Piece]:
    if prop.legs:
        front, back = prop.legs
        bars = [Piece("spreader bar", length, many) for length in prop.lengths]
        return [Piece("front leg", front, many), Piece("back leg", back, many), *bars, rail]
    props = [Piece("prop", length, many) for length in prop.lengths]
    base = Piece("base bar", max(prop.base_holes), many)
    posts = [Piece("post", prop.front_height, 2 * many)] if prop.front_height > 0 else []
    return [rail, *props, base, *posts]


def _wall(wall: Wall, tilts: list[float], length: float, many: int) -> list[Piece]:
    found = []
    for tilt in tilts:
        out, named = length * cos(radians(tilt)), tilt if len(tilts) > 1 else None
        rise = wall.front_height - wall.overhang * sin(radians(tilt)) - wall.lower_height
        lean = degrees(atan2(rise, out))
        between = tilt + lean  # the rafter falls to its outer end, the strut rises to it
        found.append(Piece("rafter", length, many, angle=tilt, foot=0.0, depth=wall.depth, tilt=named))
        found.append(
            Piece("strut", hypot(rise, out), many, angle=between, foot=lean, depth=wall.depth, tilt=named, seated=90 - between)
        )
    return found


def readings(structure: Structure, tilt: float) -> dict[str, float]:
    """What an inclinometer shows on each part, degrees from level, at ``tilt`` degrees in the side view: on the glass laid along
    its fall, on the rail, and on what holds it."""
    found = {"glass": structure.plane(tilt).tilt, "rail": tilt}
    if isinstance(structure, Legs):
        return found | {"leg": 90.0}
    if isinstance(structure, Prop) and structure.legs:
        front, back = structure.legs
        height = front * sin(radians(tilt - structure.slope))
        return found | {"back leg": degrees(atan2(height, max(back**2 - height**2, 0.0) ** 0.5)) - structure.slope}
    if structure.jack:
        actuator = next(line for line in side_lines(structure, tilt, 1.0) if line.name == "actuator")
        run, rise = (end - start for start, end in zip(actuator.start, actuator.end, strict=True))
        return found | {"actuator": degrees(atan2(abs(rise), abs(run)))}
    return found
