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
from math import cos, radians, sin, tan

from sundial.frames.kind import Structure
from sundial.frames.lines import Point

SUPPORTS = 0.6  # of the breadth between the outermost frames: at the fifth points, near where rails bend least (thumb)


@dataclass(frozen=True, kw_only=True)
class Rig:
    """What stands in the wind. ``length`` m of glass up the slope, ``breadth`` m along it, ``area`` m2 of it; ``moving`` kg of glass
    and rails, ``fixed`` kg of the rest, ``ballast`` kg on each side (front and back), ``friction`` under the feet. ``feet``: the lines
    it stands on, m behind the front support (None: as its kind says), ``width`` m between the outermost feet along the row; ``raised`` m:
    what it stands on over the ground, which the gust knows and the legs do not."""

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
    raised: float = 0.0

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
    low = structure.glass(tilt, rig.length).start
    ends = rig.feet or structure.feet(tilt)
    if ends is None:
        return Stance(tilt, low, None)
    fall = tan(radians(structure.slope))
    front, back = sorted(ends)
    return Stance(tilt, low, ((front, front * fall), (back, back * fall)))
