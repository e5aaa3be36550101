"""Snow on the glass and at its lower edge (EN 1991-1-3:2003)."""

from __future__ import annotations

from math import cos, radians, sqrt

SETTLED = 2.0  # kN/m3 of settled snow (EN 1991-1-3:2003, table E.1)
SHAPE = 0.8  # coefficient up to 30 degrees (EN 1991-1-3:2003, table 5.2)
SLIDES = 45.0  # degrees from which it slides off bare glass (thumb)


def shape_coefficient(tilt: float, slides: bool = True) -> float:
    """Share of the ground's load that lies on glass at ``tilt`` degrees: 0.8 up to 30, straight to 0 at 60 where it can slide."""
    if not slides or tilt <= 30:
        return SHAPE
    return SHAPE * max(0.0, (60 - tilt) / 30)


def ground_load(load: float | None, depth: float | None) -> float:
    """Load on the ground, Pa, from kN/m2 or from m of settled snow."""
    if load is not None:
        return load * 1000
    return (depth or 0.0) * SETTLED * 1000


def snow_on_glass(tilt: float, ground: float, area: float, slides: bool = True) -> float:
    """Weight on the glass, N: the load counts per m2 of ground under it."""
    return shape_coefficient(tilt, slides) * ground * area * cos(radians(tilt))


def pile_height(tilt: float, ground: float, length: float, slides: bool = True) -> float:
    """Height of what has slid off, heaped at 45 degrees to both sides under the lower edge, m (thumb)."""
    gone = ground / (SETTLED * 1000) * length * cos(radians(tilt)) * (1 - shape_coefficient(tilt, slides) / SHAPE)
    return sqrt(gone)
