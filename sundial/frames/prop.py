"""A rail hinged at its foot, held by a prop from a hole in a bar on the ground."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from itertools import product
from math import acos, cos, degrees, radians, tan
from typing import Annotated, Any, ClassVar, Literal, Self

from pydantic import Field

from sundial.errors import BriefError
from sundial.frames.kind import HoleSetting, Length, Lengths, Structure, StructureBrief, on_rail, sloppy, some_hole
from sundial.frames.lines import Dimension, Line, place_in, point_from
from sundial.frames.load_path import Burden, Paths
from sundial.frames.pieces import Drilled, Piece, holes

MOST_COMBINATIONS = 1000


class PropBrief(StructureBrief):
    kind: Literal["prop"]
    rail_points: Annotated[Lengths, Field(description="holes in the rail, m from the hinge")]
    lengths: Annotated[Lengths, Field(description="of the prop, or holes of the spreader bar, m")]
    base_holes: Annotated[Lengths, Field(description="holes in the base bar (or the back leg), m from the hinge")]
    base_length: Annotated[Length | None, Field(description="of the base bar, m")] = None
    rod: Annotated[bool, Field(description="the lengths are holes of one rod on each side, not bars of their own")] = False
    front_leg: Annotated[
        Length | None, Field(description="a folding A-frame: from its hinge at the top down to the front foot, m")
    ] = None
    back_leg: Annotated[Length | None, Field(description="a folding A-frame: from its hinge at the top to the back foot, m")] = (
        None
    )

    def build(self, common: dict[str, Any], slope_length: float) -> Structure:
        from sundial.frames.a_frame import AFrame

        if (self.front_leg is None) != (self.back_leg is None):
            missing = "front_leg" if self.front_leg is None else "back_leg"
            raise BriefError(f"frame.{missing}", "is missing: a folding A-frame has two legs")
        self._refuse_holes(slope_length)
        bars: dict[str, Any] = {name: tuple(getattr(self, name)) for name in ("rail_points", "lengths", "base_holes")}
        if self.front_leg is None or self.back_leg is None:
            return some_hole(Prop(base_length=self.base_length, rod=self.rod, **bars, **common), "lengths")
        return some_hole(
            AFrame(legs=(self.front_leg, self.back_leg), base_length=self.base_length, rod=self.rod, **bars, **common), "lengths"
        )

    def _refuse_holes(self, slope_length: float) -> None:
        """BriefError for too many combinations, holes past the end of their bar, and holes that are there twice."""
        count = len(self.rail_points) * len(self.lengths) * len(self.base_holes)
        if count > MOST_COMBINATIONS:
            raise BriefError("frame.base_holes", f"{count} combinations are too many; {MOST_COMBINATIONS} are the most")
        ends = {"rail_points": self.front_leg, "base_holes": self.base_length or self.back_leg}
        for name, end in ends.items():
            for number, at in enumerate(getattr(self, name)):
                if end is not None and at > end:
                    raise BriefError(f"frame.{name}[{number}]", f"{at:g} m lies beyond the end of the bar ({end:g} m)")
        if self.front_leg is None:
            for number, at in enumerate(self.rail_points):
                on_rail(f"frame.rail_points[{number}]", self.overhang, at, slope_length)
        for name in ("rail_points", "lengths", "base_holes"):
            told = getattr(self, name)
            for number, value in enumerate(told):
                if value in told[:number]:
                    raise BriefError(f"frame.{name}[{number}]", f"{value:g} is there twice: name each once")


@dataclass(frozen=True, kw_only=True)
class Prop(Structure):
    """A rail hinged at the front foot, held by a prop: l^2 = p^2 + q^2 - 2 p q cos t. Every combination of its holes that closes sets a
    tilt."""

    kind: ClassVar[str] = "prop"
    name: ClassVar[str] = "prop"

    one_prop: ClassVar[bool] = True  # one prop of another length could serve two tilts

    rail_points: tuple[float, ...]
    lengths: tuple[float, ...]
    base_holes: tuple[float, ...]
    base_length: float | None = None  # m of the base bar, where it is told
    rod: bool = False  # one with holes on each side, not a bar for each length

    def _tilt(self, measures: Sequence[float]) -> float | None:
        rail, length, base = measures[:3]
        cosine = (rail**2 + base**2 - length**2) / (2 * rail * base)
        return None if not -1 < cosine < 1 else self._tilt_at(acos(cosine), measures)

    def _tilt_at(self, angle: float, measures: Sequence[float]) -> float:
        """Degrees from level where the bars meet at an ``angle``, radians."""
        return degrees(angle) + self.slope

    def _measured(self, *bars: float) -> tuple[float, ...]:
        """All measures that a tilt follows from."""
        return bars

    def _why(self, rail: float, length: float, base: float, name: str = "prop", other: str = "base") -> str:
        if length >= rail + base:
            return f"the {name} is longer than rail and {other} together"
        return f"the {name} is too short to bridge rail and {other}"

    def tilt_by(self, rail_point: float, length: float, base_hole: float) -> float | None:
        """Degrees from level that bars and holes of these measures, m, set; None where they do not close or lean out of 0 to 90."""
        tilt = self._tilt(self._measured(rail_point, length, base_hole))
        return tilt if tilt is not None and 0 <= tilt <= 90 else None

    def with_hole(self, number: int, at: float) -> Self:
        """The same frame with one hole of its bar ``at`` m."""
        return replace(self, base_holes=tuple(at if one == number else held for one, held in enumerate(self.base_holes)))

    @cached_property
    def settings(self) -> list[HoleSetting]:
        found = []
        for rail, length, base in product(self.rail_points, self.lengths, self.base_holes):
            by = {"rail_point": rail, "length": length, "base_hole": base}
            measures = self._measured(rail, length, base)
            tilt = self._tilt(measures)
            if tilt is None:
                found.append(HoleSetting(by, None, why=self._why(rail, length, base)))
            elif not 0 <= tilt <= 90:
                where = "past upright" if tilt > 90 else "under the level"
                found.append(HoleSetting(by, None, why=f"leans {where} ({tilt:.0f} degrees)"))
            else:
                found.append(HoleSetting(by, tilt, sloppy(self._tilt, measures)))
        return found

    @property
    def bar(self) -> Prop | None:
        return self

    @property
    def bar_length(self) -> float:
        """How far along the bar holes can be drilled, m."""
        return self.base_length or max(self.base_holes)

    @property
    def bar_told(self) -> bool:
        """Whether it is told where the bar ends."""
        return self.base_length is not None

    @property
    def drilled_line(self) -> str:
        """The name of the line in which the holes of the bar lie, from the end that they are measured from."""
        return "base bar"

    def parts(self, tilt: float, glass: Line, set_by: dict[str, float]) -> list[Line]:
        hinge = self.hinge
        end = point_from(hinge, max(self.base_holes), self.slope)
        foot = point_from(hinge, set_by.get("base_hole", self.base_holes[0]), self.slope)
        rail = point_from(hinge, set_by.get("rail_point", self.rail_points[0]), tilt)
        lines = [Line("base bar", hinge, end), Line("prop", foot, rail)]
        if self.front_height > 0:
            under = (end[0], end[0] * tan(radians(self.slope)))
            lines += [Line("front post", (0.0, 0.0), hinge), Line("rear post", under, end)]
        return lines

    def measures(self, lines: dict[str, Line], set_by: dict[str, float]) -> list[Dimension]:
        prop = lines["prop"]
        return [
            Dimension("rail_points", "rail point", self.hinge, prop.end, 1, place_in(self.rail_points, set_by.get("rail_point"))),
            Dimension("lengths", "prop", *prop.ends, -1, place_in(self.lengths, set_by.get("length"))),
            Dimension("base_holes", "base hole", self.hinge, prop.start, -1, place_in(self.base_holes, set_by.get("base_hole"))),
        ]

    def pieces(self, tilts: list[float], length: float, breadth: float) -> list[Piece]:
        many = self.frames
        props = [Piece("prop", size, many) for size in self.cut_lengths]
        base = Piece("base bar", max(self.base_holes), many)
        posts = [Piece("post", self.front_height, 2 * many)] if self.front_height > 0 else []
        return [Piece("rail", length, many), *props, base, *posts]

    def rail_holes(self) -> tuple[float, tuple[tuple[str, float], ...]] | None:
        numbered = ((f"rail hole {number}", at) for number, at in enumerate(self.rail_points, 1))
        return self.overhang, (("hinge", 0.0), *numbered)

    def drills(self, piece: Piece, edge: float, bolt: float) -> Drilled:
        if piece.name == "prop":
            return self._rod(piece, edge, bolt)
        if piece.name == "base bar":
            whole = max(piece.length + 2 * edge, self.base_length or 0.0)
            return whole, holes(bolt, ("hinge", edge), *self._numbered("hole", self.base_holes, edge))
        return super().drills(piece, edge, bolt)

    @property
    def cut_lengths(self) -> tuple[float, ...]:
        """Bars that are cut for its lengths, m from bolt to bolt: one rod as long as the longest, or one for each."""
        return (max(self.lengths),) if self.rod else self.lengths

    def _rod(self, piece: Piece, edge: float, bolt: float) -> Drilled:
        """A bar from bolt to bolt; a rod has a hole for each length, all measured from its foot."""
        heads = (
            self._numbered("hole", sorted(self.lengths), edge)
            if self.rod and len(self.lengths) > 1
            else [("head", edge + piece.length)]
        )
        return piece.length + 2 * edge, holes(bolt, ("foot", edge), *heads)

    @staticmethod
    def _numbered(name: str, places: Sequence[float], edge: float) -> list[tuple[str, float]]:
        """Holes of a bar, measured from its hinge, ``edge`` m from its end."""
        return [(f"{name} {number}", edge + at) for number, at in enumerate(places, 1)]

    def brace_height(self, tilts: list[float]) -> float:
        return max(self.lengths)

    def feet(self, tilt: float) -> tuple[float, float] | None:
        return 0.0, max(self.base_holes) * cos(radians(self.slope))

    def load_path(self, burden: Burden) -> Paths:
        return self.braced(burden, "prop")
