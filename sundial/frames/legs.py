"""Front and rear legs, plumb: swapped, telescoped, or cut to the tilt."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from math import cos, radians, sin, tan
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from sundial.errors import BriefError
from sundial.frames.ground import Plane, on_plumb_legs, tilt_on_legs
from sundial.frames.kind import HoleSetting, Length, Lengths, Structure, StructureBrief, on_rail, sloppy, some_hole
from sundial.frames.lines import Dimension, Line, place_in, point_from
from sundial.frames.load_path import Burden, Paths
from sundial.frames.pieces import Piece

TURNING = ("front leg", "base")  # of a rack whose rear legs are swapped: cut once
PLUMB = ("front leg", "rear leg")  # stand plumb: their feet meet the ground


class LegsBrief(StructureBrief):
    kind: Literal["legs"]
    support_spacing: Annotated[Length, Field(description="between front and rear support along the slope, m")]
    rear_heights: Annotated[
        Lengths | None,
        Field(description="rear legs that are swapped, or holes of telescoping ones; left out: cut to mount.tilts"),
    ] = None

    def build(self, common: dict[str, Any], slope_length: float) -> Structure:
        on_rail("frame.support_spacing", self.overhang, self.support_spacing, slope_length)
        return some_hole(
            Legs(spacing=self.support_spacing, rear_heights=tuple(self.rear_heights or ()), **common), "rear_heights"
        )


@dataclass(frozen=True, kw_only=True)
class Legs(Structure):
    """Front and rear legs, plumb, ``spacing`` m apart along the slope; ``rear_heights`` m of legs that are swapped or
    telescoped (empty: cut to the wanted tilt)."""

    kind: ClassVar[str] = "legs"
    name: ClassVar[str] = "legs"

    spacing: float
    rear_heights: tuple[float, ...] = ()

    def _tilt(self, measures: Sequence[float]) -> float | None:
        rear, spacing, front = measures
        return tilt_on_legs(rear - front, spacing, self.slope)

    @cached_property
    def settings(self) -> list[HoleSetting]:
        found = []
        for rear in self.rear_heights:
            measures = (rear, self.spacing, self.front_height)
            tilt, by = self._tilt(measures), {"rear_height": rear}
            if tilt is None:
                low = rear < self.front_height
                why = (
                    "shorter than the front leg: it leans the other way" if low else "longer than front leg and spacing together"
                )
                found.append(HoleSetting(by, None, why=why))
            else:
                found.append(HoleSetting(by, max(tilt, 0.0), sloppy(self._tilt, measures)))
        return found

    def plane(self, tilt: float) -> Plane:
        return on_plumb_legs(tilt, self.cross_slope)

    def rear_height(self, tilt: float) -> float:
        """Rear leg, m, from the ground to the rail, for ``tilt`` degrees from level."""
        rise = sin(radians(tilt)) - cos(radians(tilt)) * tan(radians(self.slope))
        return self.front_height + self.spacing * rise

    def pivot(self, length: float) -> tuple[float, float] | None:
        return (self.overhang, 0.0) if self.rear_heights else None

    def parts(self, tilt: float, glass: Line, set_by: dict[str, float]) -> list[Line]:
        rear = point_from(self.hinge, self.spacing, tilt)
        foot = (rear[0], rear[0] * tan(radians(self.slope)))
        return [Line("front leg", (0.0, 0.0), self.hinge), Line("rear leg", foot, rear), Line("base", (0.0, 0.0), foot)]

    def measures(self, lines: dict[str, Line], set_by: dict[str, float]) -> list[Dimension]:
        rear = lines["rear leg"]
        number = place_in(self.rear_heights, set_by.get("rear_height"))
        return [
            Dimension("support_spacing", "spacing", self.hinge, rear.end, 1),
            Dimension("rear_heights" if number is not None else None, "rear leg", *rear.ends, -1, number),
        ]

    def pieces(self, tilts: list[float], length: float, breadth: float) -> list[Piece]:
        many, several = self.frames, len(tilts) > 1
        found = [Piece("rail", length, many)]
        for tilt in tilts:
            named = tilt if several else None
            rear = self.rear_height(tilt)
            if rear <= 0:
                raise BriefError("frame.front_height", f"at {tilt:g} degrees the rear support would stand in the ground")
            leg = Piece("rear leg", rear, many, angle=tilt, foot=self.slope, depth=self.depth, tilt=named)
            found.append(leg)
            if self.front_height > 0:
                found.append(replace(leg, name="front leg", length=self.front_height))
            found.append(Piece("base", self.spacing * cos(radians(tilt)) / cos(radians(self.slope)), many, tilt=named))
        return found

    def rail_holes(self) -> tuple[float, tuple[tuple[str, float], ...]] | None:
        return self.overhang, (("front leg", 0.0), ("rear leg", self.spacing))

    def sawn(self, piece: Piece, tilts: list[float], in_ground: float) -> Piece | None:
        """Where rear legs are swapped, the front leg with its hinge and the base stay: cut once and square, as long as the flattest tilt
        asks."""
        if piece.length <= 0:
            return None
        if not self.rear_heights or piece.name not in TURNING:
            return piece
        return None if piece.tilt not in (None, min(tilts)) else replace(piece, angle=0.0, tilt=None)

    def bevel(self, name: str) -> float:
        return self.cross_slope if name in PLUMB else 0.0

    def brace_height(self, tilts: list[float]) -> float:
        return max((self.rear_height(tilt) for tilt in tilts), default=0.0)

    def held_readings(self, tilt: float) -> dict[str, float]:
        return {"leg": 90.0}

    def feet(self, tilt: float) -> tuple[float, float] | None:
        return 0.0, self.spacing * cos(radians(tilt))

    def load_path(self, burden: Burden) -> Paths:
        return self.braced(burden, "rear leg")
