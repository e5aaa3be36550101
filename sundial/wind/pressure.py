"""From a gust to the pressure it carries, and the coefficients that make a force of it.

::

    q = 0.5 rho V^2      Pa, with V the gust (3 s) at the panels' height
    F = q c A            N square to the glass, c pressing or lifting
"""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
SEA_LEVEL = 1.225  # kg/m3 at 15 degC, standard atmosphere (ISO 2533)
LOWEST = 2.0  # m: a gust is taken as at this height where the panels stand lower


@cache
def _data() -> dict[str, Any]:
    found: dict[str, Any] = json.loads((Path(__file__).parent / "data" / "coefficients.json").read_text("utf-8"))
    return found


def sources() -> tuple[str, ...]:
    """Where the coefficients are from, a line each."""
    return tuple(_data()["sources"])


@dataclass(frozen=True)
class Surroundings:
    """``exponent`` of the power law of wind over height; ``gust_factor``: a gust over the hour's mean."""

    name: str
    exponent: float
    gust_factor: float
    source: str


def surroundings_named(name: str) -> Surroundings:
    """Surroundings by name; KeyError where there are none of that name."""
    return Surroundings(name, **_data()["surroundings"][name])


@dataclass(frozen=True, eq=False)
class Coefficients:
    """Net peak pressure coefficients by ``tilts`` (n,) degrees, rising: ``pressing`` and ``lifting`` (n,), linear between."""

    tilts: Floats
    pressing: Floats
    lifting: Floats

    def press(self, tilts: Floats) -> Floats:
        found: Floats = np.interp(tilts, self.tilts, self.pressing)
        return found

    def lift(self, tilts: Floats, blocked: bool = False) -> Floats:
        """Lifting; ``blocked``: something is stacked under the plane, so that the air cannot pass below."""
        free: Floats = np.interp(tilts, self.tilts, self.lifting)
        if not blocked:
            return free
        stacked = _data()["blocked"]
        under: Floats = np.interp(tilts, [0.0, stacked["from"]], [stacked["flat"], stacked["lifting"]])
        return np.maximum(free, under)


@cache
def standard_coefficients() -> Coefficients:
    rows = _data()["rows"]
    tilts, pressing, lifting = (np.array([row[key] for row in rows]) for key in ("tilt", "pressing", "lifting"))
    return Coefficients(tilts, pressing, lifting)


def air_density(elevation: float) -> float:
    """Density of the air, kg/m3, ``elevation`` m above the sea (standard atmosphere, ISO 2533)."""
    return SEA_LEVEL * float((1 - 2.25577e-5 * elevation) ** 4.25588)


def velocity_pressure(gust: float, density: float = SEA_LEVEL) -> float:
    """q = 0.5 rho V^2, Pa."""
    return 0.5 * density * gust**2


def at_height(height: Floats, measured_at: float | None, exponent: float) -> Floats:
    """Gust at ``height`` m over that at ``measured_at`` m, by the power law, never under the value at 2 m; 1 where the gust is
    told at the panels (None)."""
    if measured_at is None:
        return np.ones_like(height)
    return (np.maximum(height, LOWEST) / measured_at) ** exponent


def scaled_force(force: float, gust: float, other: float) -> float:
    """A force known at one gust at another: it grows with the square of the speed. ZeroDivisionError for a known gust of 0."""
    return force * (other / gust) ** 2
