"""Two runners with a board hinged between their noses and propped at its tail: it is dragged to where the sun is."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from math import asin, cos, degrees, radians
from typing import Any, ClassVar, Literal

from sundial.frames.kind import HoleSetting, Length, Structure, StructureBrief
from sundial.frames.lines import Dimension, Line, point_from
from sundial.frames.load_path import Burden, Paths
from sundial.frames.pieces import Piece


class SledgeBrief(StructureBrief):
    kind: Literal["sledge"]
    runner: Length
    lift: Length

    def build(self, common: dict[str, Any], slope_length: float) -> Structure:
        return Sledge(runner=self.runner, lift=self.lift, **common)


@dataclass(frozen=True, kw_only=True)
class Sledge(Structure):
    kind: ClassVar[str] = "sledge"
    name: ClassVar[str] = "sledge"

    runner: float
    lift: float

    @cached_property
    def settings(self) -> list[HoleSetting]:
        return [HoleSetting({"lift": self.lift}, degrees(asin(self.lift / self.runner)) + self.slope)]

    def pivot(self, length: float) -> tuple[float, float] | None:
        return None

    def parts(self, tilt: float, glass: Line, set_by: dict[str, float]) -> list[Line]:
        tail = point_from(self.hinge, self.runner, tilt)
        foot = point_from(self.hinge, self.runner * cos(radians(tilt - self.slope)), self.slope)
        return [Line("runner", self.hinge, foot), Line("tail post", foot, tail)]

    def measures(self, lines: dict[str, Line], set_by: dict[str, float]) -> list[Dimension]:
        return [Dimension("lift", "lift", *lines["tail post"].ends, -1)]

    def pieces(self, tilts: list[float], length: float, breadth: float) -> list[Piece]:
        return [Piece("runner", self.runner, 2), Piece("tail post", self.lift, self.frames, angle=tilts[0])]

    def rail_holes(self) -> tuple[float, tuple[tuple[str, float], ...]] | None:
        return None

    def feet(self, tilt: float) -> tuple[float, float] | None:
        return 0.0, self.runner * cos(radians(tilt - self.slope)) * cos(radians(self.slope))

    def load_path(self, burden: Burden) -> Paths:
        return self.braced(burden, "tail post")
