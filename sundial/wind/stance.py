"""How a frame meets the wind: where its glass and its feet are at a tilt, in the side view.

::

            . upper edge            x   m behind the ground under the front support
          .'                        z   m above it
        .'   o middle of the glass
      .' |  |
    _/___|__|_____ feet: the lines about which it would tip
"""

from __future__ import annotations

from dataclasses import dataclass
from math import cos, radians, sin, sqrt, tan

from sundial.frame.side import Point, glass_line
from sundial.frame.structure import Jack, Legs, Prop, Structure, Wedge

SUPPORTS = 0.6  # of the breadth between the outermost frames: at the fifth points, near where rails bend least (thumb)
NARROW = 0.05  # m: feet nearer than this are one line


@dataclass(frozen=True, kw_only=True)
class Rig:
    """What stands in the wind. ``length`` m of glass up the slope, ``breadth`` m along it, ``area`` m2 of it; ``moving`` kg of glass
    and rails, ``fixed`` kg of the rest, ``ballast`` kg on each side (front and back), ``friction`` under the feet. ``feet``: the lines
    it stands on, m behind the front support (None: as its kind says), ``width`` m between the outermost feet along the row."""

    structure: Structure
    length: float
    breadth: float
    area: float
    moving: float
    fixed: float = 0.0
    ballast: float = 0.0
    friction: float = 0.5
    feet: tuple[float, float] | None = None
    width: float | None = None
    anchored: bool = False

    @property
    def mass(self) -> float:
        """Of all of it, ballast on both sides too, kg."""
        return self.moving + self.fixed + 2 * self.ballast

    @property
    def span(self) -> float:
        """Between the outermost feet along the row, m."""
        return SUPPORTS * self.breadth if self.width is None else self.width


@dataclass(frozen=True)
class Stance:
    """A rig at one tilt: the lower edge of its glass and its feet, m in the side view (``feet`` None: it stands on none)."""

    tilt: float
    low: Point
    feet: tuple[Point, Point] | None

    def on_glass(self, along: float) -> Point:
        """The point of the glass ``along`` m up the slope."""
        lean = radians(self.tilt)
        return self.low[0] + along * cos(lean), self.low[1] + along * sin(lean)


def stance(rig: Rig, tilt: float) -> Stance:
    """A rig at ``tilt`` degrees from level."""
    structure = rig.structure
    low = glass_line(structure, tilt, rig.length).start
    ends = rig.feet or _feet(structure, tilt)
    if ends is None:
        return Stance(tilt, low, None)
    fall = tan(radians(structure.slope))
    front, back = sorted(ends)
    return Stance(tilt, low, ((front, front * fall), (back, back * fall)))


def _feet(structure: Structure, tilt: float) -> tuple[float, float] | None:
    """Where a kind of frame meets the ground, m behind its front support; None for one that stands on a point or on none."""
    level = cos(radians(structure.slope))
    if isinstance(structure, Legs):
        return 0.0, structure.spacing * cos(radians(tilt))
    if isinstance(structure, Prop):
        if structure.legs is None:
            return 0.0, max(structure.base_holes) * level
        front, back = structure.legs
        lean = radians(tilt - structure.slope)
        under = back**2 - (front * sin(lean)) ** 2
        if under < 0:
            return None
        return 0.0, (front * cos(lean) + sqrt(under)) * level
    if isinstance(structure, Wedge):
        board = structure.slope_length or sqrt((structure.run or 0.0) ** 2 + structure.rise**2)
        return 0.0, board * cos(radians(tilt - structure.slope)) * level
    if isinstance(structure, Jack) and structure.base[0] > NARROW:
        return 0.0, structure.base[0]
    return None
