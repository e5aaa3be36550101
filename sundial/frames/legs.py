"""Front and rear legs, plumb: swapped, telescoped, or cut to the tilt; and any number of rows of posts between them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from math import cos, hypot, radians, sin, tan
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from sundial.errors import BriefError
from sundial.frames.feet import resultant
from sundial.frames.ground import Plane, on_plumb_legs, tilt_on_legs
from sundial.frames.kind import HoleSetting, Length, Lengths, Structure, StructureBrief, on_rail, sloppy, some_hole
from sundial.frames.lines import Dimension, Line, place_in, point_from
from sundial.frames.load_path import Burden, Loads, Member, Paths, Reaction, feet_apart
from sundial.frames.pieces import Piece
from sundial.frames.rows import rail_reactions, shared_by_rows

NEAR = 1e-6  # m: what lies this near a foot lies on it
TURNING = ("front leg", "base")  # of a rack whose rear legs are swapped: cut once
ROW = 0.2  # m along the slope that rows are apart at least


class LegsBrief(StructureBrief):
    kind: Literal["legs"]
    support_spacing: Annotated[Length, Field(description="between front and rear support along the slope, m")]
    rear_heights: Annotated[
        Lengths | None,
        Field(description="rear legs that are swapped, or holes of telescoping ones; left out: cut to mount.tilts"),
    ] = None
    middle_supports: Annotated[
        list[Length],
        Field(max_length=10, description="further rows of legs between, each m behind the front support along the slope"),
    ] = []

    def build(self, common: dict[str, Any], slope_length: float) -> Structure:
        on_rail("frame.support_spacing", self.overhang, self.support_spacing, slope_length)
        middle = tuple(self.middle_supports)
        rows = (0.0, *middle, self.support_spacing)
        if any(after - before < ROW - 1e-9 for before, after in zip(rows, rows[1:], strict=False)):
            raise BriefError(
                "frame.middle_supports",
                f"must rise and lie between front and rear support ({self.support_spacing:g} m), {ROW:g} m from row to row at least",
            )
        if middle and self.rear_heights:
            raise BriefError(
                "frame.middle_supports", "a rack whose rear legs are swapped stands on two rows: leave one of them out"
            )
        return some_hole(
            Legs(spacing=self.support_spacing, rear_heights=tuple(self.rear_heights or ()), middle=middle, **common),
            "rear_heights",
        )


@dataclass(frozen=True, kw_only=True)
class Legs(Structure):
    """Front and rear legs, plumb, ``spacing`` m apart along the slope; ``rear_heights`` m of legs that are swapped or
    telescoped (empty: cut to the wanted tilt); ``middle`` m behind the front support of further rows between."""

    kind: ClassVar[str] = "legs"
    name: ClassVar[str] = "legs"
    takes_rows: ClassVar[bool] = True

    spacing: float
    rear_heights: tuple[float, ...] = ()
    middle: tuple[float, ...] = ()

    @property
    def rows(self) -> tuple[tuple[str, float], ...]:
        """Every row of legs, front first: its name, and m behind the front support along the slope."""
        several = len(self.middle) > 1
        between = ((f"middle leg {number}" if several else "middle leg", at) for number, at in enumerate(self.middle, 1))
        return (("front leg", 0.0), *between, ("rear leg", self.spacing))

    @property
    def feet_in_all(self) -> int:
        return len(self.rows) * max(1, self.frames)

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
        return self.leg_height(self.spacing, tilt)

    def leg_height(self, at: float, tilt: float) -> float:
        """The same of a leg ``at`` m behind the front support along the slope."""
        rise = sin(radians(tilt)) - cos(radians(tilt)) * tan(radians(self.slope))
        return self.front_height + at * rise

    def pivot(self, length: float) -> tuple[float, float] | None:
        return (self.overhang, 0.0) if self.rear_heights else None

    def parts(self, tilt: float, glass: Line, set_by: dict[str, float]) -> list[Line]:
        legs = []
        for name, at in self.rows:
            top = point_from(self.hinge, at, tilt)
            legs.append(Line(name, (top[0], top[0] * tan(radians(self.slope))), top))
        return [*legs, Line("base", (0.0, 0.0), legs[-1].start)]

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
            found += [replace(leg, name=name, length=self.leg_height(at, tilt)) for name, at in self.rows[1:-1]]
            if self.front_height > 0:
                found.append(replace(leg, name="front leg", length=self.front_height))
            found.append(Piece("base", self.spacing * cos(radians(tilt)) / cos(radians(self.slope)), many, tilt=named))
        return found

    def rail_holes(self) -> tuple[float, tuple[tuple[str, float], ...]] | None:
        return self.overhang, self.rows

    def rail_supports(self, length: float) -> list[tuple[float, ...]]:
        return [self._supports]

    def sawn(self, piece: Piece, tilts: list[float], in_ground: float) -> Piece | None:
        """Where rear legs are swapped, the front leg with its hinge and the base stay: cut once and square, as long as the flattest tilt
        asks."""
        if piece.length <= 0:
            return None
        if not self.rear_heights or piece.name not in TURNING:
            return piece
        return None if piece.tilt not in (None, min(tilts)) else replace(piece, angle=0.0, tilt=None)

    def bevel(self, name: str) -> float:
        return self.cross_slope if name in dict(self.rows) else 0.0  # plumb: their feet meet the ground

    def brace_height(self, tilts: list[float]) -> float:
        return max((self.rear_height(tilt) for tilt in tilts), default=0.0)

    def held_readings(self, tilt: float) -> dict[str, float]:
        return {"leg": 90.0}

    def feet(self, tilt: float) -> tuple[float, float] | None:
        return 0.0, self.spacing * cos(radians(tilt))

    def load_path(self, burden: Burden) -> Paths:
        if not self.middle or burden.told or burden.feet is None:
            return self.braced(burden, "rear leg")
        feet_apart(burden.feet)
        feet = [burden.lines[name].start for name, _ in self.rows]
        rail = self._on_rail(burden.on_glass, burden.lines["glass"])
        laid = [sum(force[1] for force, at in burden.on_feet if abs(at[0] - foot[0]) < NEAR) for foot in feet]
        held = shared_by_rows(
            resultant([*burden.on_glass, *burden.on_feet], feet[0]), rail, laid, feet, self.hold(burden.anchored)
        )
        members, reactions, many = [], [], max(1, self.frames)
        for (name, _), on, (level, up) in zip(self.rows, rail, held, strict=True):
            members += [Member(name, -on / many, many), Member(f"{name} bolt", hypot(on, level) / many, many)]
            reactions.append(Reaction(name.replace("leg", "foot").replace("rear", "back"), -up / many, level / many, many))
        return Paths(members, reactions)

    def shares_of_rail(self, length: float) -> tuple[float, ...]:
        return rail_reactions(length, self._supports, 1.0, length / 2) if self.middle else super().shares_of_rail(length)

    @property
    def _supports(self) -> tuple[float, ...]:
        """Every row, m up the slope from the lower edge of the glass."""
        return tuple(self.overhang + at for _, at in self.rows)

    def _on_rail(self, loads: Loads, glass: Line) -> tuple[float, ...]:
        """What each row takes through the rail, N upward."""
        (x0, z0), (x1, z1) = glass.ends
        length = hypot(x1 - x0, z1 - z0)
        along = ((x1 - x0) / length, (z1 - z0) / length)
        force = sum(one[1] for one, _ in loads)
        moment = sum(one[1] * ((at[0] - x0) * along[0] + (at[1] - z0) * along[1]) for one, at in loads)
        return rail_reactions(length, self._supports, force, moment / force) if abs(force) > 1e-9 else (0.0,) * len(self.rows)
