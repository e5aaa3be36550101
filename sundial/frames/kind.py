"""What every kind of frame answers: which tilts it reaches and what sets each, its lines from the side, its pieces and holes, and where the
force of wind and weight goes.

::

              . glass                     t  tilt
            .'|                           p  rail point, from the hinge
          .'  | l                         l  prop
        .' t  |                           q  base hole, from the hinge
       o------x----   q
     hinge

A kind is a class of its own with the section of a brief that tells it. What is abstract here must be answered by each
(:mod:`sundial.frames.registry` refuses one that leaves something out); the rest holds for frames that say nothing else. A structure is made
valid at birth: BriefError names the measure.
"""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property
from math import atan2, ceil, degrees, floor, radians, sin
from typing import TYPE_CHECKING, Annotated, Any, ClassVar

from pydantic import Field

from sundial.brief_section import BriefSection
from sundial.errors import BriefError
from sundial.frames.feet import Hold
from sundial.frames.ground import Plane, square_to_ground
from sundial.frames.lines import Dimension, Line, Point, point_from
from sundial.frames.load_path import Burden, Paths, bar_force, bar_members
from sundial.frames.pieces import Drilled, Piece, drilled_rail

if TYPE_CHECKING:
    from sundial.frames.jack import Jack
    from sundial.frames.prop import Prop

Length = Annotated[float, Field(gt=0, le=20, description="m")]
Lengths = Annotated[list[Length], Field(min_length=1, max_length=40)]
Across = Annotated[float, Field(ge=-45, le=45, description="degrees")]

SLOPPY = 0.005  # m by which a hand-drilled hole may sit off
SAME = 0.25  # degrees: two holes this near set one tilt
WIDE = 2.0  # degrees: a wider step leaves angles that no hole reaches


@dataclass(frozen=True)
class Hole:
    """One way to set the frame. ``tilt``: degrees from level in the side view; ``set_by``: what is chosen for it, m (or
    degrees), by name; ``error``: degrees off for one measure 5 mm off, the worst of them."""

    number: int
    tilt: float
    set_by: dict[str, float]
    plane: Plane
    error: float = 0.0


@dataclass(frozen=True)
class Unclosed:
    """A combination that sets no tilt, and why."""

    set_by: dict[str, float]
    why: str


@dataclass(frozen=True)
class HoleSetting:
    """A combination with the tilt it sets, or why it sets none."""

    set_by: dict[str, float]
    tilt: float | None
    error: float = 0.0
    why: str = ""


class StructureBrief(BriefSection):
    """What every kind is asked: how high and on what ground it stands, and what its moving part weighs."""

    front_height: Annotated[
        float | None, Field(ge=0, le=20, description="height of the front support or hinge, m; left out: array.clearance")
    ] = None
    overhang: Annotated[float, Field(ge=0, le=10, description="glass below the front support, m along the slope")] = 0.0
    slope: Annotated[Across, Field(description="degrees by which the ground falls the way the array faces")] = 0.0
    cross_slope: Annotated[Across, Field(description="degrees by which it falls to the right as you look at the glass")] = 0.0
    mass: Annotated[float, Field(ge=0, le=2000, description="of rails and purlins that move with the panels, kg")] = 0.0
    depth: Annotated[float, Field(ge=0, le=1, description="of legs and props, measured along the cut's slant, m")] = 0.09
    frames: Annotated[int, Field(ge=1, le=60, description="trestles side by side along the row")] = 2

    if TYPE_CHECKING:
        kind: str

    def structure(self, clearance: float, slope_length: float) -> Structure:
        """The structure under an array of ``slope_length`` m whose lower edge is ``clearance`` m over the ground unless the frame says how
        high it stands. BriefError for what cannot be built, with the path of the measure."""
        if self.overhang >= slope_length:
            raise BriefError("frame.overhang", f"is longer than the glass up the slope ({slope_length:.2f} m)")
        common = {name: getattr(self, name) for name in ("overhang", "slope", "cross_slope", "mass", "depth", "frames")}
        return self.build({"front_height": clearance if self.front_height is None else self.front_height, **common}, slope_length)

    @abstractmethod
    def build(self, common: dict[str, Any], slope_length: float) -> Structure:
        """The structure with what is ``common`` to all kinds, m and degrees."""


def on_rail(path: str, start: float, further: float, slope_length: float) -> None:
    """BriefError for a hole ``further`` m up the rail from the one at ``start`` that lies past the end of the rail."""
    if start + further > slope_length + 1e-9:
        raise BriefError(
            path,
            f"lies past the end of the rail: {start + further:.2f} m from its lower end, and the glass is {slope_length:.2f} m",
        )


def some_hole(structure: Structure, measure: str) -> Structure:
    """The structure, or BriefError where none of its combinations closes."""
    if structure.settings and not structure.holes:
        first = structure.unclosed[0]
        raise BriefError(f"frame.{measure}", f"no combination sets a tilt from 0 to 90 degrees: {first.why}")
    return structure


@dataclass(frozen=True, kw_only=True)
class Structure(ABC):
    """What every kind has. ``front_height`` m of the front support or hinge; ``overhang`` m of glass below it;
    ``slope``, ``cross_slope`` degrees of the ground; ``mass`` kg that moves beside the panels; ``depth`` m of legs and
    props; ``frames`` trestles side by side."""

    kind: ClassVar[str]  # as a brief calls it
    name: ClassVar[str]  # as its parts and its picture are called
    on_trestles: ClassVar[bool] = True  # it stands on the ground by front and back supports, not on one pole or a wall
    stands_on: ClassVar[str] = "ground"  # where a brief does not say: ground, pole or wall
    centre_pivot: ClassVar[bool] = False  # it turns about the middle of its glass
    row_grows: ClassVar[bool] = True  # its row can be made longer
    setting_names: ClassVar[dict[str, str]] = {
        "rear_height": "rear leg", "rail_point": "rail", "length": "prop", "base_hole": "base", "pin": "pin", "rise": "raised",
    }  # where a tilt is set, in a word  # fmt: skip
    takes_rows: ClassVar[bool] = False  # further rows of supports can stand under its rail

    front_height: float
    overhang: float = 0.0
    slope: float = 0.0
    cross_slope: float = 0.0
    mass: float = 0.0
    depth: float = 0.09
    frames: int = 2

    @cached_property
    def settings(self) -> list[HoleSetting]:
        """Every combination of its holes; empty where the frame does not say its tilts."""
        return []

    @property
    def span(self) -> tuple[float, float] | None:
        """Flattest and steepest of a frame that stops anywhere between, degrees; None for one with holes."""
        return None

    def plane(self, tilt: float) -> Plane:
        """The glass as it truly stands, for ``tilt`` degrees from level in the side view."""
        return square_to_ground(tilt - self.slope, self.slope, self.cross_slope)

    @cached_property
    def holes(self) -> list[Hole]:
        """The settings that close, by tilt; of a frame that stops anywhere, one for each whole degree and its ends."""
        if self.span is not None:
            low, high = self.span
            whole = [float(tilt) for tilt in range(ceil(low - 1e-9), floor(high + 1e-9) + 1)]
            tilts = sorted({round(low, 2), *whole, round(high, 2)})
            return [Hole(number, tilt, {}, self.plane(tilt)) for number, tilt in enumerate(tilts, 1)]
        closed = [setting for setting in self.settings if setting.tilt is not None]
        closed.sort(key=lambda setting: setting.tilt or 0.0)
        return [
            Hole(number, setting.tilt or 0.0, setting.set_by, self.plane(setting.tilt or 0.0), setting.error)
            for number, setting in enumerate(closed, 1)
        ]

    @cached_property
    def unclosed(self) -> list[Unclosed]:
        return [Unclosed(setting.set_by, setting.why) for setting in self.settings if setting.tilt is None]

    @property
    def says_tilts(self) -> bool:
        """Whether the tilts it reaches follow from its measures."""
        return self.span is not None or bool(self.settings)

    @cached_property
    def tilts(self) -> list[float]:
        """True tilts that it reaches, degrees to a hundredth, rising, each once."""
        found: list[float] = []
        for tilt in sorted(round(hole.plane.tilt, 2) for hole in self.holes):
            if not found or tilt - found[-1] >= 0.01 - 1e-9:
                found.append(tilt)
        return found

    @property
    def twins(self) -> list[tuple[int, int]]:
        """Numbers of holes that follow one another and set one tilt."""
        pairs = zip(self.holes, self.holes[1:], strict=False)
        return [(one.number, other.number) for one, other in pairs if other.tilt - one.tilt < SAME and self.span is None]

    @property
    def unreached(self) -> list[tuple[float, float]]:
        """Stretches of angle between 0 and 90 in which no hole lies, where they are wider than ``WIDE`` degrees (at the ends:
        any)."""
        if not self.holes:
            return []
        tilts = self.tilts
        ends = [(0.0, tilts[0]), *zip(tilts, tilts[1:], strict=False), (tilts[-1], 90.0)]
        last = len(ends) - 1
        return [(low, high) for number, (low, high) in enumerate(ends) if high - low > (1e-9 if number in (0, last) else WIDE)]

    def lower_edge(self, tilt: float, length: float) -> float:
        """Height of the lower edge of glass ``length`` m up the slope, m over the ground under the front support."""
        return self.front_height - self.overhang * sin(radians(tilt))

    def upper_edge(self, tilt: float, length: float) -> float:
        """Height of the upper edge, m."""
        return self.lower_edge(tilt, length) + length * sin(radians(tilt))

    def pivot(self, length: float) -> tuple[float, float] | None:
        """Where it turns: m up the slope from the lower edge, and m behind the glass; None where it does not turn."""
        return self.overhang, 0.0

    @property
    def jack(self) -> Jack | None:
        """The actuator or screw jack that sets it, hinged where it turns; None where none does."""
        return None

    @property
    def bar(self) -> Prop | None:
        """The frame itself, where it has a bar with holes that may be drilled elsewhere."""
        return None

    @property
    def hinge(self) -> Point:
        """Where the glass turns or is held in front, m in the side view."""
        return 0.0, self.front_height

    @property
    def fall(self) -> float:
        """Degrees by which the ground falls under it to the front, as its drawing shows it."""
        return self.slope if self.on_trestles else 0.0

    @property
    def load_height(self) -> float:
        """Height at which the level load pushes what it stands on, m."""
        return max(self.front_height, 0.05)

    @property
    def feet_in_all(self) -> int:
        return 2 * max(1, self.frames)

    def shares_of_rail(self, length: float) -> tuple[float, ...]:
        """What each of its rows of feet, front first, takes of a load laid evenly on glass ``length`` m up the slope; they sum to 1."""
        return (1.0,) if self.feet_in_all == 1 else (0.5, 0.5)

    def lowest_edge(self, length: float) -> float:
        """Height of the lower edge for the yard, m."""
        return self.front_height

    def hold(self, anchored: bool) -> Hold:
        """How its feet share the level force."""
        return "anchored" if anchored else "friction"

    def glass(self, tilt: float, length: float) -> Line:
        """The glass, ``length`` m up the slope, at ``tilt`` degrees from level in the side view."""
        low = point_from((0.0, self.front_height), -self.overhang, tilt)
        return Line("glass", low, point_from(low, length, tilt))

    def side_lines(self, tilt: float, length: float, set_by: dict[str, float] | None = None) -> list[Line]:
        """All parts at ``tilt`` degrees, the glass first; of a frame with holes, as ``set_by`` one of them."""
        glass = self.glass(tilt, length)
        return [glass, *self.parts(tilt, glass, set_by or {})]

    @abstractmethod
    def parts(self, tilt: float, glass: Line, set_by: dict[str, float]) -> list[Line]:
        """What holds the glass at ``tilt`` degrees, as ``set_by`` one of its holes."""

    def dimensions(self, tilt: float, length: float, set_by: dict[str, float] | None = None) -> list[Dimension]:
        """What a kind is asked, as dimension lines beside its parts at ``tilt`` degrees."""
        lines = {line.name: line for line in self.side_lines(tilt, length, set_by)}
        told = self.on_trestles and self.front_height > 0.05
        high = [Dimension("front_height", "front height", (0.0, 0.0), self.hinge, 1)] if told else []
        return [*high, *self.measures(lines, set_by or {})]

    @abstractmethod
    def measures(self, lines: dict[str, Line], set_by: dict[str, float]) -> list[Dimension]:
        """Dimension lines of its own measures beside its ``lines`` by name."""

    @abstractmethod
    def pieces(self, tilts: list[float], length: float, breadth: float) -> list[Piece]:
        """The pieces that carry glass ``length`` m up the slope and ``breadth`` m along it, for the ``tilts`` it is set to (degrees
        from level in the side view; cut anew for each only where the kind needs it)."""

    @abstractmethod
    def rail_holes(self) -> tuple[float, tuple[tuple[str, float], ...]] | None:
        """Where its rail is drilled: the first hole, m from the lower end, and all by name, m from the first; None: nowhere."""

    def rail_supports(self, length: float) -> list[tuple[float, ...]]:
        """Where a rail of ``length`` m lies on what carries it, m from its lower end: one way for each of its holes; none where it lies on none."""
        held = self.rail_holes()
        return [] if held is None else [(held[0], held[0] + at) for _, at in held[1] if at > 0]

    def drills(self, piece: Piece, edge: float, bolt: float) -> Drilled:
        """Cut length, m, and holes of a piece. Pieces that are measured from hole to hole get ``edge`` m beyond the outermost bolt at
        each end."""
        rail = self.rail_holes() if piece.name == "rail" else None
        return (piece.length, ()) if rail is None else drilled_rail(piece, edge, bolt, rail[0], *rail[1])

    def sawn(self, piece: Piece, tilts: list[float], in_ground: float) -> Piece | None:
        """A piece as the cut list has it, ``in_ground`` m of a pole under the ground; None where it is not cut."""
        return piece if piece.length > 0 else None

    def bevel(self, name: str) -> float:
        """Degrees across the foot of a piece, above zero where it falls to the right."""
        return 0.0

    def brace_height(self, tilts: list[float]) -> float:
        """How high braces between its rear supports reach, m; 0: there are none."""
        return 0.0

    def readings(self, tilt: float) -> dict[str, float]:
        """What an inclinometer shows on each part, degrees from level, at ``tilt`` degrees in the side view: on the glass laid along
        its fall, on the rail, and on what holds it."""
        found = {"glass": self.plane(tilt).tilt, "rail": tilt, **self.held_readings(tilt)}
        if self.jack is None:
            return found
        actuator = next(line for line in self.side_lines(tilt, 1.0) if line.name == "actuator")
        run, rise = (end - start for start, end in zip(*actuator.ends, strict=True))
        return found | {"actuator": degrees(atan2(abs(rise), abs(run)))}

    def held_readings(self, tilt: float) -> dict[str, float]:
        """What it shows on what holds the glass, degrees."""
        return {}

    @abstractmethod
    def feet(self, tilt: float) -> tuple[float, float] | None:
        """Where it meets the ground, m behind its front support; None where it stands on a point or on none."""

    @abstractmethod
    def load_path(self, burden: Burden) -> Paths:
        """What its parts and feet take of a burden."""

    def braced(self, burden: Burden, bar: str) -> Paths:
        """The load path where one ``bar`` a frame keeps the glass from turning about the hinge, and the feet take it all."""
        along, rest = bar_force(burden.on_glass, self.hinge, burden.lines[bar])
        members = bar_members(bar, along, self.frames, "hinge bolt", rest, self.frames)
        return Paths(members, burden.into_feet(self.hold(burden.anchored), self.frames))


def sloppy(tilt_of: Callable[[Sequence[float]], float | None], measures: Sequence[float], each: float = SLOPPY) -> float:
    """Degrees off for one of ``measures`` (m) ``each`` m off, the worst of them, to first order."""
    small, worst = 1e-6, 0.0
    for number in range(len(measures)):
        ends = []
        for step in (small, -small):
            changed = list(measures)
            changed[number] += step
            ends.append(tilt_of(changed))
        if ends[0] is not None and ends[1] is not None:
            worst = max(worst, abs(ends[0] - ends[1]) / (2 * small) * each)
    return worst
