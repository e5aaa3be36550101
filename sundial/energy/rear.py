"""Irradiance on the back of bifacial glass: a long table over level ground, in the plane across its row.

::

        far edge  (L cos t, c + L sin t)
            \\
             \\   back looks down and behind
              \\
    near edge (0, c)
    -----------------=====shadow=====------- ground

The back sees ground (bright, or in the table's own shadow), sky behind, and at times the sun itself. View factors by
crossed strings (Hottel 1954); the ground under the table sees less sky by the angle the table covers. Endless in
length, so for a short table the shadow is a little too dark and the result a little low.
"""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from sundial.energy.irradiance import Floats, IrradianceComponents

REACH = 60.0  # ground counted to this many slope lengths behind the table


def rear_irradiance(
    light: IrradianceComponents, tilts: Floats, azimuths: Floats, slope_length: float, clearance: float
) -> Floats:
    """W/m2 on the back, mean over the slope; tilts and azimuths broadcast to (..., lit), result likewise."""
    tilt = np.radians(tilts)
    sin_t, cos_t = np.sin(tilt), np.cos(tilt)
    facing = np.radians(azimuths)
    along = light.north * np.cos(facing) + light.east * np.sin(facing)  # sun's level part toward the front
    cosine = light.up * cos_t + along * sin_t
    sky_part, diffuse_ground = _static_views(tilts, slope_length, clearance)
    run = along / np.maximum(light.up, 0.02)
    near = clearance * run
    far = slope_length * cos_t + (clearance + slope_length * sin_t) * run
    shadow = _strip_view(np.minimum(near, far), np.maximum(near, far), tilt, slope_length, clearance)
    ground_view = (1 + cos_t) / 2
    beam_on_ground = np.maximum(light.ghi - light.dhi, 0)
    ground = light.albedo * (beam_on_ground * np.maximum(ground_view - shadow, 0) + light.dhi * diffuse_ground)
    sun_behind = (light.beam + light.circumsolar) * np.maximum(-cosine, 0)
    total: Floats = ground + light.isotropic * sky_part + sun_behind
    return total


def _strip_view(start: Floats, end: Floats, tilt: Floats, length: float, clearance: float) -> Floats:
    """View factor from the back of the slope to the ground between ``start`` and ``end`` (m behind the near edge)."""
    sin_t, cos_t = np.sin(tilt), np.cos(tilt)
    # Ground in front of where the glass's plane meets the earth is seen by the other face.
    meets = np.where(np.abs(sin_t) > 1e-6, -clearance * cos_t / np.where(np.abs(sin_t) > 1e-6, sin_t, 1), -np.inf)
    a = np.maximum(start, meets)
    b = np.maximum(end, a)
    top_x, top_y = length * cos_t, clearance + length * sin_t
    level, high = clearance**2, top_y**2  # roots of sums: np.hypot is several times slower
    crossed = np.sqrt(b * b + level) + np.sqrt((a - top_x) ** 2 + high)
    straight = np.sqrt(a * a + level) + np.sqrt((b - top_x) ** 2 + high)
    view: Floats = np.maximum(crossed - straight, 0) / (2 * length)
    return view


def _static_views(tilts: Floats, length: float, clearance: float) -> tuple[Floats, Floats]:
    """Sky share of the back, and ground share weighted by the sky its ground sees; same shape as ``tilts``."""
    grid, weighted = _diffuse_ground_table(round(length, 3), round(clearance, 3))
    sky = (1 - np.cos(np.radians(tilts))) / 2
    return sky, np.interp(np.abs(tilts), grid, weighted)


@lru_cache(maxsize=32)
def _diffuse_ground_table(length: float, clearance: float) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """For tilts 0 to 90: sum over ground strips of view factor x share of sky that the strip sees."""
    grid = np.arange(0.0, 91.0)
    edges = np.concatenate([-np.geomspace(REACH, 0.01, 150), np.linspace(0, 2, 200)[1:], np.geomspace(2.01, REACH, 150)])
    edges = edges * length
    middle = (edges[1:] + edges[:-1]) / 2
    tilt = np.radians(grid)[:, None]
    views = _strip_view(edges[None, :-1], edges[None, 1:], tilt, length, clearance)
    # Angles (from straight up) under which a ground point sees the table's two edges.
    to_near = np.arctan2(-middle[None, :], clearance)
    to_far = np.arctan2(length * np.cos(tilt) - middle[None, :], clearance + length * np.sin(tilt))
    hidden = np.abs(np.sin(to_far) - np.sin(to_near)) / 2
    views = np.where(np.isfinite(views), views, 0.0)
    rest = np.maximum((1 + np.cos(tilt[:, 0])) / 2 - views.sum(axis=1), 0)  # the far ground sees the whole sky
    return grid, (views * (1 - hidden)).sum(axis=1) + rest
