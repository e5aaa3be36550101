"""How a frame stands on sloping ground: the true tilt and azimuth of its glass.

::

    u  up                   slope        degrees by which the ground falls toward f
    |    .f  where it faces cross_slope  degrees by which it falls toward r
    |  .'
    |.'________ r  to the right as you look at the glass: azimuth - 90
"""

from __future__ import annotations

from dataclasses import dataclass
from math import asin, atan2, cos, degrees, hypot, radians, sin, tan


@dataclass(frozen=True)
class Plane:
    """``tilt`` degrees from level; ``turn`` degrees that its azimuth is off the frame's own, clockwise positive."""

    tilt: float
    turn: float


def square_to_ground(tilt: float, slope: float, cross_slope: float) -> Plane:
    """The glass of a frame that stands square on the ground (a bar on the ground, a wedge): ``tilt`` degrees from the ground."""
    fall, across, lean = radians(slope), tan(radians(cross_slope)), radians(tilt)
    length = hypot(tan(fall), across, 1.0)
    normal = (tan(fall) / length, across / length, 1 / length)
    forward = (cos(fall), 0.0, -sin(fall))
    f, r, u = (sin(lean) * ahead + cos(lean) * out for ahead, out in zip(forward, normal, strict=True))
    return _plane(f, r, u)


def on_plumb_legs(tilt: float, cross_slope: float) -> Plane:
    """The glass on plumb legs of one length left and right: ``tilt`` degrees from level in the side view."""
    if tilt >= 90:
        return Plane(90.0, 0.0)
    return _plane(tan(radians(tilt)), tan(radians(cross_slope)), 1.0)


def tilt_on_legs(rise: float, spacing: float, slope: float) -> float | None:
    """Tilt in the side view, degrees from level, of rails ``spacing`` m along the slope on plumb legs, of which the rear is
    ``rise`` m longer, on ground that falls ``slope`` degrees to the front: sin t - cos t tan g = rise / spacing. None where
    no tilt from 0 to 90 closes."""
    reach = rise / spacing * cos(radians(slope))
    if abs(reach) > 1:
        return None
    tilt = slope + degrees(asin(reach))
    return tilt if -1e-9 <= tilt <= 90 else None


def _plane(f: float, r: float, u: float) -> Plane:
    length = hypot(f, r, u)
    level = hypot(f, r)
    return Plane(degrees(atan2(level, u)), -degrees(atan2(r, f)) if level > 1e-12 * length else 0.0)
