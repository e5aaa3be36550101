"""Two ledgers on a wall: rafters hang from the upper one, struts stand on the lower one."""

from __future__ import annotations

from dataclasses import dataclass
from math import atan2, cos, degrees, hypot, radians
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from sundial.errors import BriefError
from sundial.frames.ground import Plane
from sundial.frames.kind import Structure, StructureBrief
from sundial.frames.lines import Dimension, Line
from sundial.frames.load_path import Burden, Paths, Reaction, bar_force, bar_members, thrust_at
from sundial.frames.pieces import Piece


class WallBrief(StructureBrief):
    kind: Literal["wall"]
    lower_height: Annotated[float, Field(ge=0, le=20, description="of the lower ledger on the wall, m")]

    def build(self, common: dict[str, Any], slope_length: float) -> Structure:
        if self.lower_height > common["front_height"] + slope_length:
            raise BriefError("frame.lower_height", "lies over the upper edge at any tilt: a strut stands on the lower ledger")
        return Wall(lower_height=self.lower_height, **common)


@dataclass(frozen=True, kw_only=True)
class Wall(Structure):
    """Two ledgers on a wall: rafters under the glass hang from the upper one, struts stand on the lower one at
    ``lower_height`` m and hold them at the front support, ``overhang`` m from their outer ends."""

    kind: ClassVar[str] = "wall"
    name: ClassVar[str] = "wall"
    on_trestles: ClassVar[bool] = False
    stands_on: ClassVar[str] = "wall"

    lower_height: float

    def plane(self, tilt: float) -> Plane:
        """A wall stands plumb."""
        return Plane(tilt, 0.0)

    def pivot(self, length: float) -> tuple[float, float] | None:
        return None

    def parts(self, tilt: float, glass: Line, set_by: dict[str, float]) -> list[Line]:
        at = glass.end[0]
        wall = Line("wall", (at, 0.0), (at, max(glass.end[1], self.lower_height) + 0.3))
        return [wall, Line("strut", (at, self.lower_height), self.hinge)]

    def measures(self, lines: dict[str, Line], set_by: dict[str, float]) -> list[Dimension]:
        at = lines["wall"].start[0]
        return [Dimension("lower_height", "lower ledger", (at, 0.0), (at, self.lower_height), -1)]

    def pieces(self, tilts: list[float], length: float, breadth: float) -> list[Piece]:
        found, many = [], self.frames
        for tilt in tilts:
            out, named = (length - self.overhang) * cos(radians(tilt)), tilt if len(tilts) > 1 else None
            rise = self.front_height - self.lower_height
            lean = degrees(atan2(rise, out))
            between = tilt + lean  # the rafter falls to its outer end, the strut rises to it
            held = (self.overhang,) if self.overhang else ()
            found.append(Piece("rafter", length, many, angle=tilt, foot=0.0, depth=self.depth, tilt=named, supports=held))
            found.append(
                Piece(
                    "strut", hypot(rise, out), many, angle=between, foot=lean, depth=self.depth, tilt=named, seated=90 - between
                )
            )
        return [*found, Piece("ledger", breadth, 2)]

    def rail_holes(self) -> tuple[float, tuple[tuple[str, float], ...]] | None:
        return None

    def rail_supports(self, length: float) -> list[tuple[float, ...]]:
        return [(self.overhang, length)]

    def feet(self, tilt: float) -> tuple[float, float] | None:
        return None

    def load_path(self, burden: Burden) -> Paths:
        many, strut = self.frames, burden.lines["strut"]
        along, rest = bar_force(burden.on_glass, burden.lines["glass"].end, strut)
        return Paths(
            bar_members("strut", along, many, "upper ledger bolt", rest, many),
            [
                Reaction("upper ledger", -rest[1] / many, rest[0] / many, many),
                thrust_at("lower ledger", strut, along, many),
            ],
        )
