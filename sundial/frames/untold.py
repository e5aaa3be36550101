"""Glass at a height, while nobody has told what carries it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from sundial.frames.kind import Structure
from sundial.frames.lines import Dimension, Line
from sundial.frames.load_path import Burden, Paths
from sundial.frames.pieces import Piece


@dataclass(frozen=True, kw_only=True)
class Untold(Structure):
    """The glass alone, with its lower edge at ``front_height``: for drawings."""

    kind: ClassVar[str] = ""
    name: ClassVar[str] = ""

    def parts(self, tilt: float, glass: Line, set_by: dict[str, float]) -> list[Line]:
        return []

    def measures(self, lines: dict[str, Line], set_by: dict[str, float]) -> list[Dimension]:
        return []

    def pieces(self, tilts: list[float], length: float, breadth: float) -> list[Piece]:
        return []

    def rail_holes(self) -> tuple[float, tuple[tuple[str, float], ...]] | None:
        return None

    def feet(self, tilt: float) -> tuple[float, float] | None:
        return None

    def load_path(self, burden: Burden) -> Paths:
        return Paths([], burden.into_feet(self.hold(burden.anchored), self.frames))
