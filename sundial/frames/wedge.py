"""A board raised at one end."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from math import asin, atan, cos, degrees, hypot, radians, sqrt
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from sundial.errors import BriefError
from sundial.frames.kind import HoleSetting, Length, Structure, StructureBrief
from sundial.frames.lines import Dimension, Line, point_from
from sundial.frames.load_path import Burden, Paths
from sundial.frames.pieces import Piece


class WedgeBrief(StructureBrief):
    kind: Literal["wedge"]
    rise: Annotated[float, Field(ge=0, le=20, description="m")]
    slope_length: Annotated[Length | None, Field(description="from the low end to the high end along the board, m")] = None
    run: Annotated[Length | None, Field(description="the same on the level, m")] = None

    def build(self, common: dict[str, Any], slope_length: float) -> Structure:
        if (self.slope_length is None) == (self.run is None):
            raise BriefError("frame.run", "give either slope_length (along the board) or run (on the level), not both")
        if self.slope_length is not None and self.rise > self.slope_length:
            raise BriefError("frame.rise", f"is more than the board is long ({self.slope_length:g} m)")
        wedge = Wedge(rise=self.rise, slope_length=self.slope_length, run=self.run, **common)
        _ = wedge.settings
        return wedge


@dataclass(frozen=True, kw_only=True)
class Wedge(Structure):
    """A board raised at one end by ``rise`` m: asin(rise / slope length) or atan(rise / run) from the ground."""

    kind: ClassVar[str] = "wedge"
    name: ClassVar[str] = "wedge"

    rise: float
    slope_length: float | None = None
    run: float | None = None

    @cached_property
    def settings(self) -> list[HoleSetting]:
        angle = asin(self.rise / self.slope_length) if self.slope_length else atan(self.rise / (self.run or 1.0))
        tilt = degrees(angle) + self.slope
        if not 0 <= tilt <= 90:
            raise BriefError("frame.slope", f"with it the wedge stands at {tilt:.0f} degrees; 0 to 90 are of use")
        return [HoleSetting({"rise": self.rise}, tilt)]

    def pivot(self, length: float) -> tuple[float, float] | None:
        return None

    def parts(self, tilt: float, glass: Line, set_by: dict[str, float]) -> list[Line]:
        board = self.slope_length or hypot(self.run or 0.0, self.rise)
        end = point_from(self.hinge, board, tilt)
        foot = point_from(self.hinge, board * cos(radians(tilt - self.slope)), self.slope)
        return [Line("base", self.hinge, foot), Line("upright", foot, end)]

    def measures(self, lines: dict[str, Line], set_by: dict[str, float]) -> list[Dimension]:
        upright = lines["upright"]
        found = [Dimension("rise", "rise", *upright.ends, -1)]
        if self.slope_length is not None:
            found.append(Dimension("slope_length", "board", self.hinge, upright.end, 1))
        return found

    def pieces(self, tilts: list[float], length: float, breadth: float) -> list[Piece]:
        lean = (tilts[0] if tilts else 0.0) - self.slope
        run = self.run if self.run is not None else (self.slope_length or 0.0) * cos(radians(lean))
        many = self.frames
        return [
            Piece("board", hypot(run, self.rise), many),
            Piece("base", run, many),
            Piece("upright", self.rise, many, angle=lean, depth=self.depth),
        ]

    def rail_holes(self) -> tuple[float, tuple[tuple[str, float], ...]] | None:
        return None

    def feet(self, tilt: float) -> tuple[float, float] | None:
        board = self.slope_length or sqrt((self.run or 0.0) ** 2 + self.rise**2)
        return 0.0, board * cos(radians(tilt - self.slope)) * cos(radians(self.slope))

    def load_path(self, burden: Burden) -> Paths:
        return self.braced(burden, "upright")
