"""A folding A-frame: two legs hinged at the top, and a spreader whose holes set the angle between them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import atan2, cos, degrees, hypot, radians, sin, sqrt
from typing import ClassVar

from sundial.errors import BriefError
from sundial.frames.feet import Hold, Vector, turning
from sundial.frames.lines import Dimension, Line, place_in, point_from
from sundial.frames.load_path import GRAVITY, Burden, Member, Paths, Reaction
from sundial.frames.pieces import Drilled, Piece, holes
from sundial.frames.prop import Prop


@dataclass(frozen=True, kw_only=True)
class AFrame(Prop):
    """``legs`` (front, back; m from the hinge at the top); ``rail_points`` are holes of the front leg, ``base_holes`` of the back leg, both
    from the top, and ``lengths`` those of the spreader: it sets the angle between the legs, and these the tilt. A brief tells it as a prop
    with legs."""

    name: ClassVar[str] = "a-frame"
    one_prop: ClassVar[bool] = False
    setting_names: ClassVar[dict[str, str]] = Prop.setting_names | {
        "rail_point": "front leg",
        "length": "rod",
        "base_hole": "back leg",
    }

    legs: tuple[float, float]

    def _measured(self, *bars: float) -> tuple[float, ...]:
        return (*bars, *self.legs)

    def _tilt_at(self, angle: float, measures: Sequence[float]) -> float:
        front, back = measures[3:]
        return degrees(atan2(back * sin(angle), front - back * cos(angle))) + self.slope

    def _why(self, rail: float, length: float, base: float, name: str = "rod", other: str = "leg") -> str:
        return super()._why(rail, length, base, name, other)

    @property
    def bar_length(self) -> float:
        return self.base_length or self.legs[1]

    @property
    def bar_told(self) -> bool:
        return True

    @property
    def drilled_line(self) -> str:
        return "back leg"

    def parts(self, tilt: float, glass: Line, set_by: dict[str, float]) -> list[Line]:
        (front, back), foot = self.legs, self.hinge
        rail = set_by.get("rail_point", self.rail_points[0])
        bar = set_by.get("length", self.lengths[0])
        leg = set_by.get("base_hole", self.base_holes[0])
        spread = (rail**2 + leg**2 - bar**2) / (2 * rail * leg)  # cosine of the angle between the legs
        top = point_from(foot, front, tilt)
        end = point_from(foot, (front**2 + back**2 - 2 * front * back * spread) ** 0.5, self.slope)
        at_front = point_from(top, -rail, tilt)
        share = leg / back
        at_back = (top[0] + (end[0] - top[0]) * share, top[1] + (end[1] - top[1]) * share)
        return [Line("front leg", foot, top), Line("back leg", top, end), Line("spreader", at_front, at_back)]

    def measures(self, lines: dict[str, Line], set_by: dict[str, float]) -> list[Dimension]:
        return [
            Dimension("front_leg", "front leg", *lines["front leg"].ends, 1),
            Dimension("back_leg", "back leg", *lines["back leg"].ends, 1),
            Dimension("lengths", "rod", *lines["spreader"].ends, -1, place_in(self.lengths, set_by.get("length"))),
        ]

    def pieces(self, tilts: list[float], length: float, breadth: float) -> list[Piece]:
        (front, back), many = self.legs, self.frames
        bars = [Piece("rod" if self.rod else "spreader bar", size, many) for size in self.cut_lengths]
        return [Piece("front leg", front, many), Piece("back leg", back, many), *bars, Piece("rail", length, many)]

    def rail_holes(self) -> tuple[float, tuple[tuple[str, float], ...]] | None:
        return None

    def drills(self, piece: Piece, edge: float, bolt: float) -> Drilled:
        if piece.name in ("spreader bar", "rod"):
            return self._rod(piece, edge, bolt)
        if piece.name == "front leg":  # its lower end here is the hinge at the top
            self._refuse_near_foot(piece, "rail_points", self.rail_points, edge)
            return piece.length + edge, holes(bolt, ("hinge", edge), *self._numbered("front leg hole", self.rail_points, edge))
        if piece.name == "back leg":
            self._refuse_near_foot(piece, "base_holes", self.base_holes, edge)
            return piece.length + edge, holes(bolt, ("hinge", edge), *self._numbered("hole", self.base_holes, edge))
        return super().drills(piece, edge, bolt)

    @staticmethod
    def _refuse_near_foot(leg: Piece, path: str, points: Sequence[float], edge: float) -> None:
        """BriefError where a hole of a leg lies nearer than ``edge`` m to its foot."""
        far = max(points)
        if far > leg.length - edge + 1e-9:
            raise BriefError(
                f"frame.{path}[{points.index(far)}]",
                f"its hole lies {max(leg.length - far, 0.0) * 1000:.0f} mm from the foot of the {leg.name}; {edge * 1000:.0f} mm are the "
                "least there",
            )

    def brace_height(self, tilts: list[float]) -> float:
        return 0.0

    def held_readings(self, tilt: float) -> dict[str, float]:
        front, back = self.legs
        height = front * sin(radians(tilt - self.slope))
        return {"back leg": degrees(atan2(height, max(back**2 - height**2, 0.0) ** 0.5)) - self.slope}

    def hold(self, anchored: bool) -> Hold:
        """Its back foot slides freely."""
        return "anchored" if anchored else "front"

    def feet(self, tilt: float) -> tuple[float, float] | None:
        front, back = self.legs
        lean = radians(tilt - self.slope)
        under = back**2 - (front * sin(lean)) ** 2
        if under < 0:
            return None
        return 0.0, (front * cos(lean) + sqrt(under)) * cos(radians(self.slope))

    def load_path(self, burden: Burden) -> Paths:
        reactions = burden.into_feet(self.hold(burden.anchored), self.frames)
        return Paths(self._members(burden, reactions[-1]), reactions)

    def _members(self, burden: Burden, back: Reaction) -> list[Member]:
        """Its back leg as a free body, hinged at the top, with the ground's reaction at its foot (ballast presses the foot and does not
        pass through the leg) and the spreader along its own line; the top bolt takes the vector sum of both."""
        leg, bar, many = burden.lines["back leg"], burden.lines["spreader"], self.frames
        ground: Vector = (-back.level * many, back.down * many - burden.ballast * GRAVITY)
        dx, dz = bar.start[0] - bar.end[0], bar.start[1] - bar.end[1]
        size = hypot(dx, dz) or 1.0
        toward_front: Vector = (dx / size, dz / size)  # a pulled spreader draws the back leg this way
        lever = turning(toward_front, bar.end, leg.start)
        pulled = -turning(ground, leg.end, leg.start) / lever if abs(lever) > 1e-9 else 0.0
        top = hypot(ground[0] + pulled * toward_front[0], ground[1] + pulled * toward_front[1])
        return [
            Member("spreader bar", -pulled / many, many),
            Member("spreader bolt", abs(pulled) / many, 2 * many),
            Member("top bolt", top / many, many),
        ]
