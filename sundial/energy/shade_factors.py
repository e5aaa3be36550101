"""The rule from light per bypass section to what a plane loses, hour by hour: factors on its irradiance and its DC power.

Direct light reaches the sections unevenly (:mod:`sundial.shade.block_irradiance`), and so does the dome's, of which each
section sees its own part; the ground's lies evenly. For every lit hour the currents of the sections are

    i = (diffuse left to the section + direct x share of the section) / irradiance of the open plane

and the electrical rule (:mod:`sundial.shade.strings`) turns them into the power of the wired array. ``direct``, ``sky`` and
``ground`` scale the components of irradiance; ``electrical_mismatch`` scales the DC power that such irradiance would make
if it lay uniformly.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.energy.irradiance import Floats, IrradianceComponents
from sundial.shade.array_trace import SunTrace
from sundial.shade.block_irradiance import BlockIrradiance
from sundial.shade.rays import RayTrace
from sundial.shade.strings import Wired

PIECE = 512  # hours sorted at a time: they stay close to the processor
UNEVEN_SKY = 0.002  # sections whose shares of the dome differ by less are lit by it evenly


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
    """Ray-tracing results for one orientation, independent of weather: the ``sun``'s shadows with the direct ``irradiance`` of
    the sections, and the ``sky``'s patches as each section sees them."""

    sun: SunTrace
    irradiance: BlockIrradiance
    sky: RayTrace


@dataclass(frozen=True, eq=False)
class SkyView:
    """Share of the dome's light that obstacles leave on P planes: ``mean`` (P, 12) over the array by month, and of each
    section (P, S, B) by group of months, ``state`` (12,) being the group of each month."""

    mean: Floats
    sections: Floats
    state: NDArray[np.int64]


@dataclass(frozen=True, eq=False)
class PartialShade:
    """Hours ``touched`` by shade with the ``mean`` direct share left; and the ``hours`` (n,) in which light lies unevenly, with
    the sections' currents (n, B), in single precision, and the ``mean_current`` (n,) of the array, as shares of the open plane's."""

    touched: NDArray[np.int64]
    mean: Floats
    hours: NDArray[np.int64]
    currents: NDArray[np.float32]
    mean_current: Floats


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
    view: SkyView,
    over: Floats,
    transmittance: Floats,
    plane: NDArray[np.int64] | None = None,
) -> PartialShade:
    """The hours that any obstacle touches, and those in which light lies unevenly.

    ``of_hour`` (lit,): direction of each hour in ``blocks``; ``facing``: tilts and azimuths, degrees; ``view`` of the dome
    from the planes, ``plane`` (lit,) being that of each hour (one for all where None); ``over`` (lit,): share of the dome's
    light over the skyline; ``transmittance`` (lit,) or (1,): share of direct light past the skyline.
    """
    months = light.months
    at = np.zeros(len(months), dtype=np.int64) if plane is None else plane
    row, state = blocks.row[of_hour], blocks.state[months]
    touched = np.flatnonzero(row >= 0)
    mean = blocks.mean[state[touched], row[touched]]
    sky = over * view.mean[at, months]
    open_plane, base, cosine = plane_components(light, *facing, sky)
    uneven_sky = np.ptp(view.sections, axis=2) > UNEVEN_SKY
    patchy = uneven_sky[at, view.state[months]] & (light.isotropic > 0)
    patchy[touched] |= blocks.patchy[state[touched], row[touched]] & (cosine[touched] > 0)
    hours = np.flatnonzero(patchy & (open_plane > 0))
    past = np.broadcast_to(transmittance, open_plane.shape)[hours]
    gain = (light.beam + light.circumsolar)[hours] * cosine[hours] * past / open_plane[hours]
    dome = light.isotropic * (1 + np.cos(np.radians(facing[0]))) / 2 * over / open_plane.clip(1e-9)
    rest = (base[hours] / open_plane[hours]) - (dome * view.mean[at, months])[hours]  # the ground's
    currents = view.sections.astype(np.float32)[at[hours], view.state[months[hours]]]
    currents *= dome[hours, None].astype(np.float32)
    currents += rest[:, None].astype(np.float32)
    scale = gain.astype(np.float32)
    sunlit = np.flatnonzero(row[hours] >= 0)
    clear = np.flatnonzero(row[hours] < 0)
    currents[clear] += scale[clear, None]
    here = hours[sunlit]
    currents[sunlit] += scale[sunlit, None] * blocks.sections[state[here], row[here]]
    direct = np.ones(len(row))
    direct[touched] = mean
    return PartialShade(touched, mean, hours, currents, base[hours] / open_plane[hours] + gain * direct[hours])


def direct_factors(part: PartialShade, wired: Wired, hours: int) -> tuple[Floats, Floats]:
    """``direct`` and ``electrical_mismatch`` (hours,): the electrical rule applied to every hour with partial shade."""
    direct, mismatch = np.ones(hours), np.ones(hours)
    direct[part.touched] = part.mean
    shared = np.empty(len(part.hours))
    for start in range(0, len(part.hours), PIECE):
        piece = slice(start, start + PIECE)
        shared[piece] = wired.share(wired.ranked(part.currents[piece]))
    lit = part.mean_current > 1e-9
    mismatch[part.hours] = np.divide(shared, part.mean_current, out=np.ones_like(shared), where=lit).clip(0, 1)
    return direct, mismatch
