"""The horizon line of a spot, what hides behind it, and what it lets through."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import lru_cache
from typing import Literal, get_args

import numpy as np
from numpy.typing import NDArray

from sundial.errors import BriefError
from sundial.shade.leaves import BARE_LIGHT, EVERGREEN_LIGHT, LEAF_LIGHT

Kind = Literal["solid", "evergreen", "leafy"]
KINDS: tuple[Kind, ...] = get_args(Kind)
Floats = NDArray[np.float64]
MOST = 5000  # readings
SLICES = 720  # of azimuth, for the share of the dome


@dataclass(frozen=True)
class Skyline:
    """Pairs of azimuth and elevation in degrees, sorted by azimuth, closed over the north, linear between.

    ``kinds``: what the stretch from each point to the next is made of (all solid when left out). ``leaf_months``:
    the months, 1 to 12, in which leafy stretches stand in leaf.
    """

    points: tuple[tuple[float, float], ...]
    kinds: tuple[Kind, ...] = ()
    leaf_months: frozenset[int] = field(default_factory=frozenset)

    def __post_init__(self) -> None:
        azimuths = [point[0] for point in self.points]
        if not self.points:
            raise BriefError("horizon", "needs at least one pair of azimuth and elevation")
        if len(self.points) > MOST:
            raise BriefError("horizon", f"has {len(self.points)} readings; {MOST} are the most, and 30 are plenty")
        for index, (azimuth, elevation) in enumerate(self.points):
            if not 0 <= azimuth < 360:
                raise BriefError(f"horizon[{index}]", "azimuth must be from 0 to under 360 degrees")
            if not 0 <= elevation <= 90:
                raise BriefError(f"horizon[{index}]", "elevation must be from 0 to 90 degrees")
        for index in range(1, len(azimuths)):
            if azimuths[index] <= azimuths[index - 1]:
                raise BriefError(f"horizon[{index}]", "azimuths must rise from point to point")
        if self.kinds and len(self.kinds) != len(self.points):
            raise BriefError("horizon", "give each reading its kind, or none of them")
        for index, kind in enumerate(self.kinds):
            if kind not in KINDS:
                raise BriefError(f"horizon[{index}]", f"kind must be one of {', '.join(KINDS)}")

    @property
    def gaps(self) -> list[tuple[float, float]]:
        """Stretches of azimuth of more than 120 degrees without a reading, as (from, to)."""
        azimuths = [point[0] for point in self.points]
        turned = [*azimuths[1:], azimuths[0] + 360]
        return [(a, b % 360) for a, b in zip(azimuths, turned, strict=True) if b - a > 120]

    def elevation_at(self, azimuth: Floats) -> Floats:
        """Elevation of the skyline at ``azimuth`` (any shape), degrees."""
        x, y = (np.array(column, dtype=float) for column in zip(*self.points, strict=True))
        x = np.concatenate([[x[-1] - 360], x, [x[0] + 360]])
        y = np.concatenate([[y[-1]], y, [y[0]]])
        found: Floats = np.interp(np.mod(azimuth, 360), x, y)
        return found

    def light_at(self, azimuth: Floats, month: NDArray[np.int64] | int) -> Floats:
        """Share of light that the stretch at ``azimuth`` lets through in ``month`` (0 to 11), of their shape."""
        azimuth, month = np.broadcast_arrays(np.mod(azimuth, 360), month)
        if not self.kinds:
            return np.zeros(azimuth.shape)
        leaf = np.isin(month + 1, sorted(self.leaf_months))
        starts = np.array([point[0] for point in self.points])
        kind = np.array([KINDS.index(kind) for kind in self.kinds])[np.searchsorted(starts, azimuth, side="right") - 1]
        leafy = np.where(leaf, LEAF_LIGHT, BARE_LIGHT)
        passed: Floats = np.select([kind == 1, kind == 2], [np.full(azimuth.shape, EVERGREEN_LIGHT), leafy], 0.0)
        return passed

    def passes(self, azimuth: Floats, elevation: Floats, month: NDArray[np.int64] | int) -> Floats:
        """Share of light from ``azimuth`` and ``elevation`` that gets past the skyline in ``month`` (0 to 11)."""
        line = self.elevation_at(azimuth)
        return np.where((elevation >= line) | (line <= 0), 1.0, self.light_at(azimuth, month))

    def sky_share(self, tilts: Floats, azimuths: Floats, month: int | None = None) -> Floats:
        """Share of a uniform dome's light that reaches planes over this skyline; tilts and azimuths (P,), result (P,).

        The cosine-weighted integral over the dome, in closed form up each of 720 slices of azimuth: for a flat
        skyline it is (1 + cos tilt) / 2. In ``month`` (0 to 11) the leaves let some light through; without it all
        stretches count as solid.
        """
        leafy = None if month is None or not self.kinds else month
        return np.array(_sky_share(self, tuple(tilts.tolist()), tuple(azimuths.tolist()), leafy))


@lru_cache(maxsize=512)
def _sky_share(skyline: Skyline, tilts: tuple[float, ...], azimuths: tuple[float, ...], month: int | None) -> Floats:
    """:meth:`Skyline.sky_share`, kept: the same planes are asked about after every change of something else."""
    around = (np.arange(SLICES) + 0.5) * 360 / SLICES
    rim = np.radians(skyline.elevation_at(around))[None, :]
    clear = _slice_share(np.array(tilts), np.array(azimuths), around, rim)
    total: Floats = clear.sum(axis=1)
    if month is not None:
        behind = _slice_share(np.array(tilts), np.array(azimuths), around, np.zeros_like(rim)) - clear
        total += (behind * skyline.light_at(around, month)).sum(axis=1)
    return total


def _slice_share(tilts: Floats, azimuths: Floats, around: Floats, rim: Floats) -> Floats:
    """Light of the dome over ``rim`` (1, slices) radians in each slice of azimuth, per plane (P, slices)."""
    tilt = np.radians(tilts)[:, None]
    toward = np.sin(tilt) * np.cos(np.radians(around[None, :] - azimuths[:, None]))
    up = np.cos(tilt)
    # Behind the plane the glass begins to see the sky only above its own edge.
    edge = np.where(toward < 0, np.arctan2(-toward, np.maximum(up, 1e-12)), 0.0)
    low = np.maximum(rim, edge)
    share = up * np.cos(low) ** 2 / 2 + toward * (np.pi / 2 - low - np.sin(low) * np.cos(low)) / 2
    found: Floats = np.maximum(share, 0) * 2 / around.size
    return found
