"""The horizon line of a spot and what it hides."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.errors import BriefError


@dataclass(frozen=True)
class Skyline:
    """Pairs of azimuth and elevation in degrees, sorted by azimuth, closed over the north, linear between."""

    points: tuple[tuple[float, float], ...]

    def __post_init__(self) -> None:
        azimuths = [point[0] for point in self.points]
        if not self.points:
            raise BriefError("horizon", "needs at least one pair of azimuth and elevation")
        for index, (azimuth, elevation) in enumerate(self.points):
            if not 0 <= azimuth < 360:
                raise BriefError(f"horizon[{index}]", "azimuth must be from 0 to under 360 degrees")
            if not 0 <= elevation <= 90:
                raise BriefError(f"horizon[{index}]", "elevation must be from 0 to 90 degrees")
        for index in range(1, len(azimuths)):
            if azimuths[index] <= azimuths[index - 1]:
                raise BriefError(f"horizon[{index}]", "azimuths must rise from point to point")

    def elevation_at(self, azimuth: NDArray[np.float64]) -> NDArray[np.float64]:
        """Elevation of the skyline at ``azimuth`` (any shape), degrees."""
        x, y = (np.array(column, dtype=float) for column in zip(*self.points, strict=True))
        x = np.concatenate([[x[-1] - 360], x, [x[0] + 360]])
        y = np.concatenate([[y[-1]], y, [y[0]]])
        found: NDArray[np.float64] = np.interp(np.mod(azimuth, 360), x, y)
        return found

    def sky_share(self, tilts: NDArray[np.float64], azimuths: NDArray[np.float64]) -> NDArray[np.float64]:
        """Share of a uniform dome's light that reaches planes over this skyline; tilts and azimuths (P,), result (P,).

        The cosine-weighted integral over the dome, in closed form up each of 720 slices of azimuth: for a flat
        skyline it is (1 + cos tilt) / 2.
        """
        around = (np.arange(720) + 0.5) / 2
        rim = np.radians(self.elevation_at(around))[None, :]
        tilt = np.radians(tilts)[:, None]
        toward = np.sin(tilt) * np.cos(np.radians(around[None, :] - azimuths[:, None]))
        up = np.cos(tilt)
        # Behind the plane the glass begins to see the sky only above its own edge.
        edge = np.where(toward < 0, np.arctan2(-toward, np.maximum(up, 1e-12)), 0.0)
        low = np.maximum(rim, edge)
        share = up * np.cos(low) ** 2 / 2 + toward * (np.pi / 2 - low - np.sin(low) * np.cos(low)) / 2
        total: NDArray[np.float64] = np.maximum(share, 0).mean(axis=1) * 2
        return total
