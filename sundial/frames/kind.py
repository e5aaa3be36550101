"""Frames as they are built, from the side: which tilts they reach, and what sets each of them.

::

              . glass                     t  tilt
            .'|                           p  rail point, from the hinge
          .'  | l                         l  prop
        .' t  |                           q  base hole, from the hinge
       o------x----   q
     hinge

A structure is made valid at birth (BriefError names the measure), and every kind answers the same questions.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import product
from math import acos, asin, atan, atan2, ceil, cos, degrees, floor, hypot, radians, sin, tan

from sundial.errors import BriefError
from sundial.frame.ground import Plane, on_plumb_legs, square_to_ground, tilt_on_legs

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
class Setting:
    """A combination with the tilt it sets, or why it sets none."""

    set_by: dict[str, float]
    tilt: float | None
    error: float = 0.0
    why: str = ""


@dataclass(frozen=True, kw_only=True)
class Structure:
    """What every kind has. ``front_height`` m of the front support or hinge; ``overhang`` m of glass below it;
    ``slope``, ``cross_slope`` degrees of the ground; ``mass`` kg that moves beside the panels; ``depth`` m of legs and
    props; ``frames`` trestles side by side."""

    front_height: float
    overhang: float = 0.0
    slope: float = 0.0
    cross_slope: float = 0.0
    mass: float = 0.0
    depth: float = 0.09
    frames: int = 2

    @cached_property
    def settings(self) -> list[Setting]:
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


@dataclass(frozen=True, kw_only=True)
class Legs(Structure):
    """Front and rear legs, plumb, ``spacing`` m apart along the slope; ``rear_heights`` m of legs that are swapped or
    telescoped (empty: cut to the wanted tilt)."""

    spacing: float
    rear_heights: tuple[float, ...] = ()

    def _tilt(self, measures: Sequence[float]) -> float | None:
        rear, spacing, front = measures
        return tilt_on_legs(rear - front, spacing, self.slope)

    @cached_property
    def settings(self) -> list[Setting]:
        found = []
        for rear in self.rear_heights:
            measures = (rear, self.spacing, self.front_height)
            tilt, by = self._tilt(measures), {"rear_height": rear}
            if tilt is None:
                low = rear < self.front_height
                why = (
                    "shorter than the front leg: it leans the other way" if low else "longer than front leg and spacing together"
                )
                found.append(Setting(by, None, why=why))
            else:
                found.append(Setting(by, max(tilt, 0.0), sloppy(self._tilt, measures)))
        return found

    def plane(self, tilt: float) -> Plane:
        return on_plumb_legs(tilt, self.cross_slope)

    def rear_height(self, tilt: float) -> float:
        """Rear leg, m, from the ground to the rail, for ``tilt`` degrees from level."""
        rise = sin(radians(tilt)) - cos(radians(tilt)) * tan(radians(self.slope))
        return self.front_height + self.spacing * rise

    def pivot(self, length: float) -> tuple[float, float] | None:
        return (self.overhang, 0.0) if self.rear_heights else None


@dataclass(frozen=True, kw_only=True)
class Prop(Structure):
    """A rail hinged at the front foot, held by a prop: l^2 = p^2 + q^2 - 2 p q cos t. With ``legs`` (front, back; m from the
    hinge at the top) a folding A-frame: the spreader sets the angle between its legs, and these the tilt."""

    rail_points: tuple[float, ...]
    lengths: tuple[float, ...]
    base_holes: tuple[float, ...]
    legs: tuple[float, float] | None = None
    base_length: float | None = None  # m of the base bar, where it is told

    def _tilt(self, measures: Sequence[float]) -> float | None:
        rail, length, base, *legs = measures
        cosine = (rail**2 + base**2 - length**2) / (2 * rail * base)
        if not -1 < cosine < 1:
            return None
        angle = acos(cosine)
        if not legs:
            return degrees(angle) + self.slope
        front, back = legs
        return degrees(atan2(back * sin(angle), front - back * cos(angle))) + self.slope

    def _why(self, rail: float, length: float, base: float) -> str:
        name, other = ("spreader", "leg") if self.legs else ("prop", "base")
        if length >= rail + base:
            return f"the {name} is longer than rail and {other} together"
        return f"the {name} is too short to bridge rail and {other}"

    @cached_property
    def settings(self) -> list[Setting]:
        found = []
        for rail, length, base in product(self.rail_points, self.lengths, self.base_holes):
            by = {"rail_point": rail, "length": length, "base_hole": base}
            measures = (rail, length, base, *(self.legs or ()))
            tilt = self._tilt(measures)
            if tilt is None:
                found.append(Setting(by, None, why=self._why(rail, length, base)))
            elif not 0 <= tilt <= 90:
                where = "past upright" if tilt > 90 else "under the level"
                found.append(Setting(by, None, why=f"leans {where} ({tilt:.0f} degrees)"))
            else:
                found.append(Setting(by, tilt, sloppy(self._tilt, measures)))
        return found

    def rail_angle(self, tilt: float) -> float:
        """Angle between rail and base (or the legs of an A-frame), degrees, at ``tilt`` degrees from level."""
        return tilt - self.slope


@dataclass(frozen=True, kw_only=True)
class Pole(Structure):
    """A joint on top of a pole, ``height`` m over the ground, ``joint`` m up the slope (None: the middle) and ``offset`` m behind
    the glass; ``pins``: tilts of its holes (empty: any between ``ends``); ``screw``: a jack between the pole and the rail, hinged at
    the joint."""

    height: float
    ends: tuple[float, float]
    offset: float = 0.0
    joint: float | None = None
    pins: tuple[float, ...] = ()
    screw: Jack | None = None

    @cached_property
    def settings(self) -> list[Setting]:
        return [Setting({"pin": tilt}, tilt) for tilt in self.pins]

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


@dataclass(frozen=True, kw_only=True)
class Jack(Structure):
    """An actuator or screw jack from ``base`` (m behind and above the hinge) to ``rail_point`` m along the rail, ``stroke``
    (retracted, extended; m) long; ``thrust`` N and ``speed`` m/s where they are known."""

    base: tuple[float, float]
    rail_point: float
    stroke: tuple[float, float]
    thrust: float | None = None
    speed: float | None = None

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


@dataclass(frozen=True, kw_only=True)
class Wall(Structure):
    """Two ledgers on a wall: rafters under the glass hang from the upper one, struts stand on the lower one at
    ``lower_height`` m and hold their outer ends."""

    lower_height: float

    def plane(self, tilt: float) -> Plane:
        """A wall stands plumb."""
        return Plane(tilt, 0.0)

    def pivot(self, length: float) -> tuple[float, float] | None:
        return None


@dataclass(frozen=True, kw_only=True)
class Wedge(Structure):
    """A board raised at one end by ``rise`` m: asin(rise / slope length) or atan(rise / run) from the ground."""

    rise: float
    slope_length: float | None = None
    run: float | None = None

    @cached_property
    def settings(self) -> list[Setting]:
        angle = asin(self.rise / self.slope_length) if self.slope_length else atan(self.rise / (self.run or 1.0))
        tilt = degrees(angle) + self.slope
        if not 0 <= tilt <= 90:
            raise BriefError("frame.slope", f"with it the wedge stands at {tilt:.0f} degrees; 0 to 90 are of use")
        return [Setting({"rise": self.rise}, tilt)]

    def pivot(self, length: float) -> tuple[float, float] | None:
        return None
