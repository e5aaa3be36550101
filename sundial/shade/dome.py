"""The sky dome in patches, for diffuse light."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.shade.solids import directions_dot

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Dome:
    """Patches of the sky: unit vectors (K, 3) and solid angles (K,), which sum to 2 pi; ``azimuth`` of their middles, and
    elevations ``low`` and ``high`` between which they lie, degrees."""

    directions: Floats
    angles: Floats
    azimuth: Floats
    low: Floats
    high: Floats

    def over(self, line: Floats) -> Floats:
        """Share of each patch that lies over a skyline at elevation ``line`` (K,) degrees, by solid angle."""
        low, high, edge = (np.sin(np.radians(part)) for part in (self.low, self.high, np.clip(line, self.low, self.high)))
        found: Floats = (high - edge) / (high - low)
        return found

    def weights(self, tilts: Floats, azimuths: Floats) -> Floats:
        """Cosine-weighted share of each patch in the uniform dome's light on planes (P,): (P, K)."""
        t, a = np.radians(tilts), np.radians(azimuths)
        normal = np.stack([np.sin(t) * np.sin(a), np.sin(t) * np.cos(a), np.cos(t)], axis=1)
        found: Floats = np.maximum(directions_dot(normal, self.directions), 0) * self.angles / np.pi
        return found


def dome(rings: int = 16) -> Dome:
    """A sky of patches of nearly equal size: ``rings`` bands of elevation, 16 give some 650 patches of about 5.6 degrees."""
    step = np.pi / 2 / rings
    parts = []
    for ring in range(rings):
        low, high = ring * step, (ring + 1) * step
        middle = np.arcsin((np.sin(low) + np.sin(high)) / 2)
        count = max(3, round(2 * np.pi * np.cos(middle) / step))
        around = (np.arange(count) + 0.5) * 2 * np.pi / count
        level = np.cos(middle)
        to = np.stack([level * np.sin(around), level * np.cos(around), np.full(count, np.sin(middle))], axis=1)
        size = 2 * np.pi / count * (np.sin(high) - np.sin(low))
        parts.append((to, np.full(count, size), np.degrees(around), *(np.full(count, np.degrees(e)) for e in (low, high))))
    return Dome(*(np.concatenate(part) for part in zip(*parts, strict=True)))
