"""Arrays of other tilts and facings on one string: what the weaker holds back."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.mounts.facing import Facing

Floats = NDArray[np.float64]
APART = 5.0  # degrees between two planes from which a string is warned about: cos 5 is a loss of 0.4 % at square light (thumb)


@dataclass(frozen=True)
class SharedString:
    """Arrays on one string: kWh a year that they lose by it, the share of what they would make apart, and the widest angle
    between two of them at any hour of daylight, degrees."""

    name: str
    builds: tuple[str, ...]
    lost: float
    share: float
    apart: float
    other_panels: bool

    @property
    def matters(self) -> bool:
        """Whether to warn."""
        return self.apart > APART or self.other_panels


def string_power(power: Floats, counts: Sequence[int]) -> Floats:
    """What arrays in series give (H,), from the ``power`` (N, H) of one panel of each and the ``counts`` (N,) of panels.

    One current runs through all: the best of carrying the weakest's through every panel, or a stronger one past the
    weaker arrays by their bypass diodes. Panels alike, voltages taken as equal: max over k of p_k times the panels that
    give p_k or more.
    """
    order = np.argsort(-power, axis=0)
    falling = np.take_along_axis(power, order, axis=0)
    held = np.cumsum(np.asarray(counts)[order], axis=0)
    best: Floats = (falling * held).max(axis=0)
    return best


def widest_angle(facings: Sequence[Facing], light: NDArray[np.bool_]) -> float:
    """The widest angle between two of some planes at any hour of ``light`` (8760,), degrees."""
    normals = []
    for facing in facings:
        t, a = np.radians(facing.surface_tilt), np.radians(facing.surface_azimuth)
        normals.append(np.stack([np.sin(t) * np.sin(a), np.sin(t) * np.cos(a), np.cos(t)])[:, light])
    widest = 0.0
    for first, normal in enumerate(normals):
        for other in normals[first + 1 :]:
            between = np.arccos(np.clip((normal * other).sum(axis=0), -1, 1))
            widest = max(widest, float(np.degrees(between.max(initial=0.0))))
    return widest
