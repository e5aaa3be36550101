"""Panels as their labels describe them, and how they stand together."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

FRAME_DEPTH = 0.04  # m, of a panel


@dataclass(frozen=True)
class Panel:
    """One panel: ``power`` W at 1000 W/m2 and 25 degC, ``length`` and ``width`` m, ``mass`` kg,
    ``gamma`` power temperature coefficient 1/K (negative), ``bifaciality`` 0 to 1, ``bypass_sections`` with a bypass diode each,
    side by side across the width; in a ``half_cut`` panel two halves of each lie in parallel, one along each end."""

    power: float
    length: float
    width: float
    mass: float = 0.0
    gamma: float = -0.0035
    bifaciality: float = 0.0
    bypass_sections: int = 3
    half_cut: bool = True

    @property
    def area(self) -> float:
        """Glass area, m2."""
        return self.length * self.width


@dataclass(frozen=True)
class Array:
    """``rows`` up the slope by ``columns`` along it, all in one plane facing ``azimuth``; ``clearance`` m is
    the height of the lower edge above ground. ``unwired`` of the panels are on no string, and give nothing."""

    panel: Panel
    rows: int
    columns: int
    azimuth: float
    portrait: bool = True
    clearance: float = 0.5
    unwired: int = 0

    @property
    def count(self) -> int:
        return self.rows * self.columns

    @property
    def wired(self) -> int:
        """Panels that give power."""
        return self.count - self.unwired

    @property
    def power(self) -> float:
        """Nameplate of the panels that give power, W."""
        return self.wired * self.panel.power

    @property
    def slope_length(self) -> float:
        """Length up the slope, m, panels butted with 2 cm gaps."""
        each = self.panel.length if self.portrait else self.panel.width
        return self.rows * each + (self.rows - 1) * 0.02

    @property
    def breadth(self) -> float:
        """Length along the row, m."""
        each = self.panel.width if self.portrait else self.panel.length
        return self.columns * each + (self.columns - 1) * 0.02

    @property
    def area(self) -> float:
        """Glass area, m2."""
        return self.count * self.panel.area


def plane_axes(tilts: NDArray[np.float64], azimuths: NDArray[np.float64]) -> NDArray[np.float64]:
    """Unit vectors along the row, up the slope and out of planes at ``tilts`` and ``azimuths`` (D,) degrees: (D, 3, 3)."""
    t, a = np.radians(tilts), np.radians(azimuths)
    flat = np.zeros_like(t)
    along = np.stack([-np.cos(a), np.sin(a), flat], axis=-1)
    up = np.stack([-np.cos(t) * np.sin(a), -np.cos(t) * np.cos(a), np.sin(t)], axis=-1)
    out = np.stack([np.sin(t) * np.sin(a), np.sin(t) * np.cos(a), np.cos(t)], axis=-1)
    found: NDArray[np.float64] = np.stack([along, up, out], axis=1)
    return found
