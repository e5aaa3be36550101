"""A joint on top of a pole, free, with pinch holes, or set by a jack."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from math import cos, hypot, radians, sin
from typing import Annotated, Any, ClassVar, Literal

from pydantic import Field

from sundial.brief_section import Upright
from sundial.errors import BriefError
from sundial.frames.feet import turning
from sundial.frames.ground import Plane
from sundial.frames.jack import ActuatorBrief, Jack
from sundial.frames.kind import HoleSetting, Length, Structure, StructureBrief, on_rail
from sundial.frames.lines import Dimension, Line, Point, point_from
from sundial.frames.load_path import GRAVITY, Burden, Member, Paths, Reaction, bar_force, bar_members
from sundial.frames.pieces import Drilled, Piece, drilled_rail


class PoleBrief(StructureBrief):
    kind: Literal["pole"]
    height: Annotated[Length, Field(description="of the joint above ground, m")]
    offset: Annotated[float, Field(ge=0, le=3, description="of the glass before the joint, m")] = 0.0
    min_tilt: Upright = 0.0
    max_tilt: Upright = 90.0
    joint: Annotated[float | None, Field(ge=0, le=20, description="up the slope, m; left out: the middle")] = None
    holes: Annotated[
        list[Upright] | None, Field(max_length=60, description="tilts of its pinch-bolt holes; left out: any between the two")
    ] = None
    jack: Annotated[
        ActuatorBrief | None,
        Field(description="an actuator or screw jack between the pole and the rail, measured from the joint; it sets the tilt"),
    ] = None

    def build(self, common: dict[str, Any], slope_length: float) -> Structure:
        if self.max_tilt < self.min_tilt:
            raise BriefError("frame.max_tilt", f"must not be under the flattest tilt ({self.min_tilt:g} degrees)")
        if self.joint is not None and self.joint > slope_length:
            raise BriefError("frame.joint", f"lies beyond the upper edge: the glass is {slope_length:.2f} m up the slope")
        if self.jack is not None and self.holes:
            raise BriefError("frame.holes", "a joint that a jack sets has no holes: give either")
        screw = None
        if self.jack is not None:
            at = slope_length / 2 if self.joint is None else self.joint
            on_rail("frame.jack.rail_point", at, self.jack.rail_point, slope_length)
            hinged = {**common, "front_height": self.height, "overhang": 0.0, "slope": 0.0, "cross_slope": 0.0}
            screw = self.jack.actuator("frame.jack", hinged)
        pole = Pole(
            height=self.height, ends=(self.min_tilt, self.max_tilt), offset=self.offset, joint=self.joint,
            pins=tuple(self.holes or ()), screw=screw, **common,
        )  # fmt: skip
        steepest = max(self.holes or pole.span or ())
        low = pole.lower_edge(steepest, slope_length)
        if low < 0:
            raise BriefError(
                "frame.height",
                f"at {steepest:g} degrees the lower edge would stand {-low:.2f} m in the ground: a longer pole, or less tilt",
            )
        return pole


@dataclass(frozen=True, kw_only=True)
class Pole(Structure):
    """A joint on top of a pole, ``height`` m over the ground, ``joint`` m up the slope (None: the middle) and ``offset`` m behind
    the glass; ``pins``: tilts of its holes (empty: any between ``ends``); ``screw``: a jack between the pole and the rail, hinged at
    the joint."""

    kind: ClassVar[str] = "pole"
    name: ClassVar[str] = "pole"
    on_trestles: ClassVar[bool] = False
    stands_on: ClassVar[str] = "pole"
    centre_pivot: ClassVar[bool] = True
    row_grows: ClassVar[bool] = False

    height: float
    ends: tuple[float, float]
    offset: float = 0.0
    joint: float | None = None
    pins: tuple[float, ...] = ()
    screw: Jack | None = None

    @cached_property
    def settings(self) -> list[HoleSetting]:
        return [HoleSetting({"pin": tilt}, tilt) for tilt in self.pins]

    @cached_property
    def span(self) -> tuple[float, float] | None:
        """The joint's ends, or what the stroke of its jack reaches between them."""
        if self.pins or self.screw is None or self.screw.span is None:
            return None if self.pins else self.ends
        low, high = max(self.ends[0], self.screw.span[0]), min(self.ends[1], self.screw.span[1])
        if high - low < 1e-6:
            raise BriefError(
                "frame.jack.extended",
                f"this stroke reaches {self.screw.span[0]:.0f} to {self.screw.span[1]:.0f} degrees; the joint turns from "
                f"{self.ends[0]:g} to {self.ends[1]:g}",
            )
        return low, high

    @property
    def jack(self) -> Jack | None:
        return self.screw

    @property
    def hinge(self) -> Point:
        return 0.0, self.height

    @property
    def load_height(self) -> float:
        return self.height

    @property
    def feet_in_all(self) -> int:
        return 1

    def lowest_edge(self, length: float) -> float:
        """As it stands upright, but not in the ground."""
        return max(0.0, self.height - length / 2)

    def plane(self, tilt: float) -> Plane:
        """A pole stands plumb whatever the ground does."""
        return Plane(tilt, 0.0)

    def along(self, length: float) -> float:
        """Where the joint sits, m up the slope from the lower edge."""
        return length / 2 if self.joint is None else self.joint

    def lower_edge(self, tilt: float, length: float) -> float:
        lean = radians(tilt)
        return self.height + self.offset * cos(lean) - self.along(length) * sin(lean)

    def pivot(self, length: float) -> tuple[float, float] | None:
        return self.along(length), self.offset

    def glass(self, tilt: float, length: float) -> Line:
        joint = point_from(self.hinge, self.offset, tilt + 90)
        low = point_from(joint, -self.along(length), tilt)
        return Line("glass", low, point_from(low, length, tilt))

    def parts(self, tilt: float, glass: Line, set_by: dict[str, float]) -> list[Line]:
        top = self.hinge
        lines = [Line("pole", (0.0, 0.0), top), Line("joint", top, point_from(top, self.offset, tilt + 90))]
        return [*lines, self.screw.actuator(top, tilt)] if self.screw else lines

    def measures(self, lines: dict[str, Line], set_by: dict[str, float]) -> list[Dimension]:
        high = Dimension("height", "pole", *lines["pole"].ends, 1 if self.screw else -1)
        return [high, *self.screw.actuator_measures(lines, self.hinge)] if self.screw else [high]

    def pieces(self, tilts: list[float], length: float, breadth: float) -> list[Piece]:
        return [Piece("rail", length, self.frames), Piece("pole above ground", self.height, 1)]

    def rail_holes(self) -> tuple[float, tuple[tuple[str, float], ...]] | None:
        return None

    def drills(self, piece: Piece, edge: float, bolt: float) -> Drilled:
        if piece.name != "rail" or self.screw is None:
            return piece.length, ()
        return drilled_rail(piece, edge, bolt, self.along(piece.length), ("joint", 0.0), ("actuator", self.screw.rail_point))

    def sawn(self, piece: Piece, tilts: list[float], in_ground: float) -> Piece | None:
        """The pole goes ``in_ground`` m down."""
        if piece.name == "pole above ground":
            return replace(piece, name="pole", length=piece.length + in_ground)
        return super().sawn(piece, tilts, in_ground)

    def feet(self, tilt: float) -> tuple[float, float] | None:
        return None

    def load_path(self, burden: Burden) -> Paths:
        loads, joint, foot = burden.on_glass, self.hinge, (0.0, 0.0)
        at_joint = sum(turning(force, at, joint) for force, at in loads)
        at_foot = sum(turning(force, at, foot) for force, at in loads)
        level, down = sum(f[0] for f, _ in loads), -sum(f[1] for f, _ in loads)
        if self.screw:
            along, rest = bar_force(loads, joint, burden.lines["actuator"])
            held = bar_members("actuator", along, self.screw.jacks, "joint bolt", rest, 1)
        else:
            held = [Member("joint", None, 1, abs(at_joint)), Member("joint bolt", hypot(level, down), 1)]
        members = [*held, Member("pole at its foot", None, 1, abs(at_foot))]
        return Paths(members, [Reaction("foot of the pole", down + burden.fixed * GRAVITY, level, 1)])
