"""The rule from light per bypass section to what a plane loses, hour by hour: factors on its irradiance and its DC power.

Direct light reaches the sections unevenly (:mod:`sundial.shade.block_irradiance`), diffuse light evenly. For every lit
hour the currents of the sections are

    i = (diffuse left + direct x share of the section) / irradiance of the open plane

and the electrical rule (:mod:`sundial.shade.strings`) turns them into the power of the wired array. ``direct``, ``sky`` and
``ground`` scale the components of irradiance; ``electrical_mismatch`` scales the DC power that such irradiance would make
if it lay uniformly.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.energy.irradiance import Floats, IrradianceComponents
from sundial.shade.block_irradiance import BlockIrradiance
from sundial.shade.rays import RayTrace
from sundial.shade.strings import Wired


@dataclass(frozen=True, eq=False)
class ShadeFactors:
    """Shares left of the ``direct``, ``sky`` and ``ground`` irradiance, and of the DC power (``electrical_mismatch``); each
    (..., lit)."""

    direct: Floats
    sky: Floats
    ground: Floats
    electrical_mismatch: Floats


@dataclass(frozen=True, eq=False)
class FixedFacing:
    """Factors of one fixed orientation: ``direct`` and ``electrical_mismatch`` (lit,), ``view`` (12,) the share of the dome's
    light that obstacles leave, by month."""

    direct: Floats
    electrical_mismatch: Floats
    view: Floats

    def toward(self, other: FixedFacing, share: float) -> FixedFacing:
        """Linear between two orientations: ``share`` 0 is this one, 1 the other."""
        return FixedFacing(
            self.direct + (other.direct - self.direct) * share,
            self.electrical_mismatch + (other.electrical_mismatch - self.electrical_mismatch) * share,
            self.view + (other.view - self.view) * share,
        )


@dataclass(frozen=True, eq=False)
class TracedFacing:
    """Ray-tracing results for one orientation, independent of weather: the ``sun``'s directions with the direct
    ``irradiance`` of the sections, the ``sky``'s patches with the share ``through`` from each by month (12, K)."""

    sun: RayTrace
    irradiance: BlockIrradiance
    sky: RayTrace
    through: Floats


@dataclass(frozen=True, eq=False)
class PartialShade:
    """Hours ``touched`` by shade with the ``mean`` direct share left, and those of them in which it lies unevenly: ``hours``
    (n,), section currents as their strings rank them, ``ranked`` (n, B), and their mean, ``uniform`` (n,), as shares of
    the open plane."""

    touched: NDArray[np.int64]
    mean: Floats
    hours: NDArray[np.int64]
    ranked: Floats
    uniform: Floats


def incidence_cosine(light: IrradianceComponents, tilts: Floats, azimuths: Floats) -> Floats:
    """Cosine of incidence on planes, 0 where the sun is behind (lit,); tilts and azimuths in degrees, () or (lit,)."""
    t, a = np.radians(tilts), np.radians(azimuths)
    return np.maximum(np.sin(t) * (light.east * np.sin(a) + light.north * np.cos(a)) + light.up * np.cos(t), 0)


def plane_components(light: IrradianceComponents, tilts: Floats, azimuths: Floats, sky: Floats) -> tuple[Floats, Floats, Floats]:
    """Irradiance of the open plane and its diffuse part with the share ``sky`` (lit,) of the dome left, W/m2 (lit,); and the
    cosine of incidence."""
    t = np.radians(tilts)
    cosine = incidence_cosine(light, tilts, azimuths)
    dome, ground = light.isotropic * (1 + np.cos(t)) / 2, light.ground * (1 - np.cos(t)) / 2
    return dome + ground + (light.beam + light.circumsolar) * cosine, dome * sky + ground, cosine


def partial_shade(
    light: IrradianceComponents,
    blocks: BlockIrradiance,
    of_hour: NDArray[np.int64],
    facing: tuple[Floats, Floats],
    sky: Floats,
    transmittance: Floats,
) -> PartialShade:
    """The hours that any obstacle touches.

    ``of_hour`` (lit,): direction of each hour in ``blocks``; ``facing``: tilts and azimuths, degrees; ``sky`` (lit,): share
    of the dome left; ``transmittance`` (lit,) or (1,): share of direct light past the skyline.
    """
    row, state = blocks.row[of_hour], blocks.state[light.months]
    touched = np.flatnonzero(row >= 0)
    row, state = row[touched], state[touched]
    mean = blocks.mean[state, row]
    open_plane, base, cosine = plane_components(light, *facing, sky)
    patchy = blocks.patchy[state, row] & (cosine[touched] > 0) & (open_plane[touched] > 0)
    hours = touched[patchy]
    past = np.broadcast_to(transmittance, open_plane.shape)[hours]
    gain = (light.beam + light.circumsolar)[hours] * cosine[hours] * past / open_plane[hours]
    rest = base[hours] / open_plane[hours]
    ranked = rest[:, None] + gain[:, None] * blocks.ranked[state[patchy], row[patchy]]
    return PartialShade(touched, mean, hours, ranked, rest + gain * mean[patchy])


def direct_factors(part: PartialShade, wired: Wired, hours: int) -> tuple[Floats, Floats]:
    """``direct`` and ``electrical_mismatch`` (hours,): the electrical rule applied to every hour with partial shade."""
    direct, mismatch = np.ones(hours), np.ones(hours)
    direct[part.touched] = part.mean
    shared = wired.share(part.ranked)
    mismatch[part.hours] = np.divide(shared, part.uniform, out=np.ones_like(shared), where=part.uniform > 1e-9).clip(0, 1)
    return direct, mismatch
