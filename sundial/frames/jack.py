"""A hinged rail that an actuator or a screw jack sets to any tilt of its stroke."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from math import acos, atan2, cos, degrees, hypot, radians, sin, tan
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from sundial.brief_section import BriefSection
from sundial.errors import BriefError
from sundial.frames.kind import Length, Structure, StructureBrief, on_rail
from sundial.frames.lines import Dimension, Line, Point, point_from
from sundial.frames.load_path import NARROW, Burden, Paths, Reaction, bar_force, bar_members, thrust_at
from sundial.frames.pieces import Piece

LOW = 0.1  # m: an actuator whose base is no higher than this stands on its foot


class ActuatorBrief(BriefSection):
    """An actuator or screw jack between a base and the rail: with the hinge the third corner of a triangle."""

    base: Annotated[tuple[float, float], Field(description="of the actuator, m behind and above the hinge")]
    rail_point: Annotated[Length, Field(description="where it meets the rail, m from the hinge")]
    retracted: Length
    extended: Length
    thrust: Annotated[float | None, Field(gt=0, le=1e6, description="what it is rated for, N")] = None
    speed: Annotated[float | None, Field(gt=0, le=10, description="of its stroke, m/s")] = None
    jacks: Annotated[int, Field(ge=1, le=20, description="of them side by side, alike; each takes its share")] = 1

    def actuator(self, path: str, common: dict[str, Any]) -> Jack:
        """The jack on a hinge as the ``common`` measures have it; BriefError for a stroke that reaches no tilt."""
        if self.extended <= self.retracted:
            raise BriefError(f"{path}.extended", f"must be longer than retracted ({self.retracted:g} m)")
        far = hypot(*self.base)
        if far < 0.01:
            raise BriefError(f"{path}.base", "the actuator needs a base away from the hinge: at it, it has no lever")
        nearest, farthest = abs(self.rail_point - far), self.rail_point + far
        if self.extended <= nearest or self.retracted >= farthest:
            raise BriefError(
                f"{path}.extended",
                f"this stroke reaches no tilt: base and rail point are {nearest:.2f} to {farthest:.2f} m apart, whatever the tilt",
            )
        jack = Jack(
            base=self.base, rail_point=self.rail_point, stroke=(self.retracted, self.extended), thrust=self.thrust,
            speed=self.speed, jacks=self.jacks, **common,
        )  # fmt: skip
        if jack.span is None:
            raise BriefError(
                f"{path}.extended", "this stroke reaches no tilt from 0 to 90 degrees: move its base or its rail point"
            )
        return jack


class JackBrief(ActuatorBrief, StructureBrief):
    kind: Literal["jack"]

    def build(self, common: dict[str, Any], slope_length: float) -> Structure:
        on_rail("frame.rail_point", self.overhang, self.rail_point, slope_length)
        return self.actuator("frame", common)


@dataclass(frozen=True, kw_only=True)
class Jack(Structure):
    """An actuator or screw jack from ``base`` (m behind and above the hinge) to ``rail_point`` m along the rail, ``stroke``
    (retracted, extended; m) long; ``thrust`` N of one and ``speed`` m/s where they are known; ``jacks`` of them side by side."""

    kind: ClassVar[str] = "jack"
    name: ClassVar[str] = "jack"

    base: tuple[float, float]
    rail_point: float
    stroke: tuple[float, float]
    thrust: float | None = None
    speed: float | None = None
    jacks: int = 1

    @property
    def _base_angle(self) -> float:
        return degrees(atan2(self.base[1], self.base[0]))

    def length(self, tilt: float) -> float:
        """Of the actuator, m, at ``tilt`` degrees from level."""
        lean = radians(tilt - self.slope)
        return hypot(self.rail_point * cos(lean) - self.base[0], self.rail_point * sin(lean) - self.base[1])

    def lever(self, tilt: float) -> float:
        """Distance of the hinge from the actuator's line, m: the moment divided by it is the thrust."""
        lean = radians(tilt - self.slope)
        x, z = self.rail_point * cos(lean), self.rail_point * sin(lean)
        return abs(z * self.base[0] - x * self.base[1]) / self.length(tilt)

    @cached_property
    def span(self) -> tuple[float, float] | None:
        """The tilts that its stroke reaches, on the side on which longer is steeper; None where these are none of 0 to 90."""
        far = hypot(*self.base)
        ends = []
        for length in self.stroke:
            cosine = (self.rail_point**2 + far**2 - length**2) / (2 * self.rail_point * far)
            angle = degrees(acos(max(-1.0, min(1.0, cosine))))
            ends.append(self._base_angle + angle + self.slope)
        low, high = max(ends[0], 0.0), min(ends[1], 90.0)
        return (low, high) if high - low >= 1e-6 else None

    @property
    def jack(self) -> Jack | None:
        return self

    def travel(self, span: tuple[float, float]) -> float:
        """Stroke used from the flattest to the steepest of ``span`` degrees, m."""
        return self.length(span[1]) - self.length(span[0])

    def actuator(self, hinge: Point, tilt: float) -> Line:
        """The actuator at ``tilt`` degrees, on its ``hinge``."""
        base = point_from(hinge, hypot(*self.base), degrees(atan2(self.base[1], self.base[0])) + self.slope)
        return Line("actuator", base, point_from(hinge, self.rail_point, tilt))

    @staticmethod
    def actuator_measures(lines: dict[str, Line], hinge: Point) -> list[Dimension]:
        """Dimension lines of an actuator and where it meets the rail."""
        actuator = lines["actuator"]
        return [Dimension("rail_point", "rail point", hinge, actuator.end, 1), Dimension(None, "actuator", *actuator.ends, -1)]

    def parts(self, tilt: float, glass: Line, set_by: dict[str, float]) -> list[Line]:
        actuator = self.actuator(self.hinge, tilt)
        behind, height = actuator.start[0], self.back_height
        back = [Line("back post", (behind, actuator.start[1] - height), actuator.start)] if height > 0 else []
        return [Line("post", (0.0, 0.0), self.hinge), *back, actuator]

    @property
    def back_height(self) -> float:
        """Of the posts that carry the actuator where its base is well above the ground, m; 0 where it rests on it, or the frame has no posts."""
        behind, above = self.actuator(self.hinge, 0.0).start
        height = above - behind * tan(radians(self.slope))
        return height if self.front_height > 0 and behind > NARROW and height > LOW else 0.0

    def measures(self, lines: dict[str, Line], set_by: dict[str, float]) -> list[Dimension]:
        return self.actuator_measures(lines, self.hinge)

    def pieces(self, tilts: list[float], length: float, breadth: float) -> list[Piece]:
        posts = [Piece("post", self.front_height, self.frames)] if self.front_height > 0 else []
        back = [Piece("back post", self.back_height, self.frames)] if self.back_height > 0 else []
        return [Piece("rail", length, self.frames), *posts, *back]

    def rail_holes(self) -> tuple[float, tuple[tuple[str, float], ...]] | None:
        return self.overhang, (("hinge", 0.0), ("actuator", self.rail_point))

    def feet(self, tilt: float) -> tuple[float, float] | None:
        return (0.0, self.base[0]) if self.base[0] > NARROW else None

    def load_path(self, burden: Burden) -> Paths:
        """Its actuators move all frames. On feet that are told (a trailer's), hinge and actuator stand on what stands on them."""
        many, bar = self.frames, burden.lines["actuator"]
        along, rest = bar_force(burden.on_glass, self.hinge, bar)
        members = bar_members("actuator", along, self.jacks, "hinge bolt", rest, many)
        hold = self.hold(burden.anchored)
        if not burden.told:
            return Paths(members, burden.into_feet(hold, many))
        inner = [
            Reaction("hinge", -rest[1] / many, rest[0] / many, many),
            thrust_at("foot of the actuator", bar, along, self.jacks),
        ]
        return Paths(members, [*inner, *burden.into_feet(hold, 2)], len(inner))
