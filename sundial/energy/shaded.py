"""A year of shade: factors on the irradiance components of a weather year, for any orientation of the array.

Where each rule is:

1. trace              :mod:`sundial.shade.rays`, :mod:`sundial.shade.array_trace`
2. light per section  :mod:`sundial.shade.block_irradiance`
3. electrical rule    :mod:`sundial.shade.strings`, applied to an hour in :mod:`sundial.energy.shade_factors`
4. the year           here: fixed orientations at tracing nodes, interpolated between; turning planes at their own facings

Direct light is traced per bin of sun positions (:mod:`sundial.shade.sun_bins`) and read back hour by hour; diffuse light
per patch of the dome (:mod:`sundial.shade.dome`), the skyline in closed form.
"""

from __future__ import annotations

from collections.abc import Callable, Hashable, Sequence
from dataclasses import dataclass, field
from functools import cached_property
from hashlib import sha256
from typing import Any

import numpy as np
from numpy.typing import NDArray

from sundial.caching import Cache
from sundial.days import DAY_OF_HOUR
from sundial.energy.irradiance import Floats, IrradianceComponents
from sundial.energy.shade_factors import (
    FixedFacing,
    PartialShade,
    ShadeFactors,
    SkyView,
    TracedFacing,
    direct_factors,
    incidence_cosine,
    partial_shade,
)
from sundial.shade.array_trace import trace_array, trace_dome
from sundial.shade.block_irradiance import BlockIrradiance, block_irradiance, coverage
from sundial.shade.dome import Dome, dome
from sundial.shade.geometry import ArrayGeometry
from sundial.shade.rays import Keep, RayTrace, anew
from sundial.shade.skyline import Skyline
from sundial.shade.sun_bins import BIN, SunBins, sun_bins
from sundial.shade.yard import Thing, Yard

MANY_TILTS = 200  # of a plane in a year: more are looked at hour by hour, not each through all hours
NODE = 15.0  # degrees: fixed orientations are traced at tilts this far apart, factors between are linear
FACING = 0.1  # radians: a turning plane is traced at facings about this far apart, each at the mean of its hours
SKYLINE = "The skyline"
MANY_SECTIONS = 120  # of so many the shadows of single things are too much to keep
NOTHING: frozenset[str] = frozenset()


class ThingCache(Cache):
    """Shadows and hits of single ``things`` on an array, by array, spot and thing: those that stay where they are need not be
    traced again when others change. May be shared under one path of the sun."""

    sizes = {"things": 120}


class DomeCache(Cache):
    """What holds for one shape of array at one spot in one yard whatever the sun does: ``domes``: RayTrace of the sky's patches
    by tilt and azimuth; a motor's mount may be asked about at any azimuth, so only the latest are kept."""

    sizes = {"domes": 60}


class TraceCache(Cache):
    """What holds for the same under one path of the sun: ``facings``: TracedFacing by tilt and azimuth; ``clear``: tilts at which
    the array is known to stand clear of everything."""

    sizes = {"facings": None, "clear": None}

    def __init__(self, known: ThingCache | None = None, domes: DomeCache | None = None) -> None:
        super().__init__()
        self.known = known or ThingCache()
        self.domes = domes or DomeCache()


class ShadeCache(Cache):
    """What else holds for one sky and skyline: ``facings``: FixedFacing by tilt and azimuth; ``without``: the same with
    obstacles removed; ``turning``: traces of turning planes (the tilts of a hand-set axis, and what its plan makes of
    them)."""

    sizes = {"facings": None, "without": 16, "turning": 8}


@dataclass(frozen=True, eq=False)
class Shade:
    """The shade of one array in one yard behind one skyline, in the light of one year.

    ``size`` of the sun's bins in degrees, 0 for every hour by itself. ``given_bins`` (hours of the light) saves gathering
    them; ``traces`` and ``cache`` may be shared by shades of the same bins, array and yard (and, for ``cache``, light
    and skyline).
    """

    light: IrradianceComponents
    geometry: ArrayGeometry
    yard: Yard
    skyline: Skyline | None = None
    size: float = BIN
    given_bins: SunBins | None = None
    traces: TraceCache = field(default_factory=TraceCache)
    cache: ShadeCache = field(default_factory=ShadeCache)

    @cached_property
    def things(self) -> bool:
        """Whether anything but the skyline stands in the way."""
        return bool(self.yard.things or self.geometry.spot.parts or self.geometry.groups > 1)

    @cached_property
    def bins(self) -> SunBins:
        light = self.light
        return self.given_bins or sun_bins(light.east, light.north, light.up, self.size)

    @cached_property
    def dome(self) -> Dome:
        return dome()

    @cached_property
    def skyline_transmittance(self) -> Floats:
        """Share of direct light that passes the skyline (lit,)."""
        if self.skyline is None:
            return np.ones(len(self.light.hours))
        return self.skyline.passes(self.light.azimuth, self.light.elevation, self.light.months)

    @cached_property
    def dome_transmittance(self) -> Floats:
        """The same for the patches of the dome, by month (12, K)."""
        if self.skyline is None:
            return np.ones((12, len(self.dome.angles)))
        over = self.dome.over(self.skyline.elevation_at(self.dome.azimuth))
        behind = self.skyline.light_at(self.dome.azimuth[None, :], np.arange(12)[:, None])
        return np.asarray(over + (1 - over) * behind)

    def _transmittance(self, without: frozenset[str]) -> Floats:
        return np.ones(1) if SKYLINE in without else self.skyline_transmittance

    def _over_skyline(self, tilts: Floats, azimuths: Floats, without: frozenset[str]) -> Floats:
        """Dome's light over the skyline as a share of the open dome's, planes (P,) by month (P, 12)."""
        if self.skyline is None or SKYLINE in without:
            return np.ones((len(tilts), 12))
        open_dome = (1 + np.cos(np.radians(tilts))) / 2
        states, at = self._leaf_states
        shares = np.stack([self.skyline.sky_share(tilts, azimuths, month) / open_dome for month in states], axis=1)
        return np.asarray(shares[:, at])

    @cached_property
    def _leaf_states(self) -> tuple[list[int], NDArray[np.int64]]:
        """Months that stand for all with the same leaves on the skyline, and which of them each month is like (12,)."""
        leafy = self.skyline is not None and "leafy" in self.skyline.kinds
        leaf = np.isin(np.arange(1, 13), sorted(self.skyline.leaf_months)) if leafy and self.skyline else np.zeros(12, bool)
        states, at = np.unique(leaf, return_inverse=True)
        return [int(np.flatnonzero(leaf == state)[0]) for state in states], at

    def at_tilts(self, tilts: Floats, azimuth: float, without: frozenset[str] = NOTHING) -> ShadeFactors:
        """Factors (T, lit) of fixed planes at ``tilts`` (T,) and ``azimuth``, degrees; tilts below zero lean to the other
        side. ``without``: obstacles taken as removed."""
        months = self.light.months
        over = self._over_skyline(np.abs(tilts), np.where(tilts < 0, azimuth + 180, azimuth) % 360, without)
        past = self._transmittance(without)
        if not self.things:
            ones = np.ones((len(tilts), 1))
            return ShadeFactors(ones * past, over[:, months], (over > 1e-4).astype(float)[:, months], ones)
        self.trace_around(tilts, azimuth)
        low = np.floor(tilts / NODE) * NODE
        share = (tilts - low) / NODE
        parts = []
        for tilt, part in zip(low, share, strict=True):
            facing = self.fixed_facing(float(tilt), azimuth, without)
            if part > 1e-9:
                facing = facing.toward(self.fixed_facing(float(tilt) + NODE, azimuth, without), part)
            parts.append(facing)
        sky = over * np.stack([facing.view for facing in parts])
        return ShadeFactors(
            np.stack([facing.direct for facing in parts]) * past,
            sky[:, months],
            (sky > 1e-4).astype(float)[:, months],
            np.stack([facing.electrical_mismatch for facing in parts]),
        )

    def of_facing(self, tilts: Floats, azimuths: Floats, without: frozenset[str] = NOTHING) -> ShadeFactors:
        """Factors (lit,) of a plane that faces ``tilts``, ``azimuths`` (lit,) hour by hour."""
        if not len(tilts):  # a year without light
            return ShadeFactors(*(np.ones(0) for _ in range(4)))
        home = self.geometry.array.azimuth
        turned = np.abs((azimuths - home + 180) % 360 - 180)
        if (np.minimum(turned, 180 - turned) < 1e-6).all():
            return self._fixed_azimuth(np.where(turned > 90, -tilts, tilts), home, without)
        first = float(azimuths[0])
        if np.ptp(azimuths) < 1e-9:
            return self._fixed_azimuth(tilts, first, without)
        return self._turning(tilts, azimuths, without)

    def _fixed_azimuth(self, tilts: Floats, azimuth: float, without: frozenset[str]) -> ShadeFactors:
        unique, at = np.unique(tilts, return_inverse=True)
        if len(unique) > MANY_TILTS:
            return self._tilting(tilts, azimuth, without)
        found = self.at_tilts(unique, azimuth, without)
        hours = np.arange(len(tilts))
        names = ("direct", "sky", "ground", "electrical_mismatch")
        shape = (len(unique), len(tilts))
        return ShadeFactors(*(np.broadcast_to(getattr(found, name), shape)[at.reshape(-1), hours] for name in names))

    def _tilting(self, tilts: Floats, azimuth: float, without: frozenset[str]) -> ShadeFactors:
        """Factors (lit,) of a plane that tilts hour by hour about a level hinge: :meth:`at_tilts` of each hour's own tilt, the skyline
        read between whole degrees."""
        months, past = self.light.months, self._transmittance(without)
        whole = np.arange(np.floor(tilts.min()), np.ceil(tilts.max()) + 1)
        shares = self._over_skyline(np.abs(whole), np.where(whole < 0, azimuth + 180, azimuth) % 360, without)
        under = np.clip(np.searchsorted(whole, tilts, side="right") - 1, 0, max(len(whole) - 2, 0))
        part = tilts - whole[under]
        above = np.minimum(under + 1, len(whole) - 1)
        over = shares[under, months] * (1 - part) + shares[above, months] * part
        direct, mismatch, view = np.ones(len(tilts)), np.ones(len(tilts)), np.ones(len(tilts))
        if self.things:
            self.trace_around(np.unique(tilts), azimuth)
            low = np.floor(tilts / NODE) * NODE
            for node in np.unique(low):
                at = np.flatnonzero(low == node)
                share = (tilts[at] - node) / NODE
                first = self.fixed_facing(float(node), azimuth, without)
                other = self.fixed_facing(float(node) + NODE, azimuth, without) if share.max() > 1e-9 else first
                for into, name in ((direct, "direct"), (mismatch, "electrical_mismatch")):
                    start, end = getattr(first, name)[at], getattr(other, name)[at]
                    into[at] = start + (end - start) * share
                start, end = first.view[months[at]], other.view[months[at]]
                view[at] = start + (end - start) * share
        sky = over * view
        return ShadeFactors(direct * past, sky, (sky > 1e-4).astype(float), mismatch)

    def fixed_facing(self, tilt: float, azimuth: float, without: frozenset[str] = NOTHING) -> FixedFacing:
        """Factors of one fixed orientation, traced once."""
        name = "without" if without else "facings"
        return self.cache.get(name, (tilt, azimuth, without), lambda: self._fixed_facing(tilt, azimuth, without))

    def _fixed_facing(self, tilt: float, azimuth: float, without: frozenset[str]) -> FixedFacing:
        facing = _front(tilt, azimuth)
        traced, plane = self.traced(tilt, azimuth), (np.array([facing[0]]), np.array([facing[1]]))
        view = self._view(traced, self.dome.weights(*plane), without)
        over = self._over_skyline(*plane, without)[0][self.light.months]
        part = self._partial(self._blocks(traced, without), self.bins.of_hour, plane, view, over, without)
        direct, mismatch = direct_factors(part, self.geometry.sections.wired, len(over))
        return FixedFacing(direct, mismatch, view.mean[0])

    def _blocks(self, traced: TracedFacing, without: frozenset[str]) -> BlockIrradiance:
        if not without - {SKYLINE}:
            return traced.irradiance
        return block_irradiance(traced.sun, self.geometry.cells, without, traced.irradiance)

    def trace_around(self, tilts: Floats, azimuth: float) -> None:
        """Trace at once what questions about fixed planes at ``tilts`` (T,) will ask for."""
        low = np.floor(tilts / NODE)
        nodes = np.union1d(low, np.ceil(tilts / NODE - 1e-9)) * NODE
        missing = [tilt for tilt in nodes.tolist() if not self.traces.holds("facings", (tilt, azimuth))]
        if self.things and missing:
            for tilt, found in zip(missing, self._trace(missing, azimuth), strict=True):
                self.traces.get("facings", (tilt, azimuth), lambda found=found: found)  # type: ignore[misc]

    def traced(self, tilt: float, azimuth: float) -> TracedFacing:
        """Ray-tracing results of a fixed orientation; a tilt below zero leans to the other side."""
        return self.traces.get("facings", (tilt, azimuth), lambda: self._trace([tilt], azimuth)[0])

    def _trace(self, tilts: Sequence[float], azimuth: float) -> list[TracedFacing]:
        directions, facings = self.bins.directions, [_front(tilt, azimuth) for tilt in tilts]
        count = len(directions)
        leans, faces = (np.repeat(part, count) for part in zip(*facings, strict=True))
        keep = self._keep("sun", (*tilts, azimuth))
        sun = trace_array(self.geometry, self.yard, np.tile(directions, (len(tilts), 1)), leans, faces, keep)
        domes = self._domes(facings)
        return [
            TracedFacing(part, block_irradiance(part, self.geometry.cells), sky)
            for part, sky in ((sun.part(number * count, count), sky) for number, sky in enumerate(domes))
        ]

    def _domes(self, facings: Sequence[tuple[float, float]]) -> list[RayTrace]:
        """The dome as each of some tilts and azimuths sees it."""
        found: dict[tuple[float, float], RayTrace] = {}
        for azimuth in {azimuth for _, azimuth in facings}:
            tilts = [tilt for tilt, other in facings if other == azimuth]
            found |= dict(zip(((tilt, azimuth) for tilt in tilts), self._traced_domes(tilts, azimuth), strict=True))
        return [found[facing] for facing in facings]

    def _traced_domes(self, tilts: Sequence[float], azimuth: float) -> list[RayTrace]:
        """The dome as fixed orientations see it: those that are not known yet are traced at once."""
        domes = self.traces.domes

        def trace(some: Sequence[float]) -> list[RayTrace]:
            return trace_dome(self.geometry, self.yard, self.dome, some, azimuth, self._keep("dome", (*some, azimuth)))

        missing = [tilt for tilt in tilts if not domes.holds("domes", (tilt, azimuth))]
        made = dict(zip(missing, trace(missing) if missing else [], strict=True))
        return [domes.get("domes", (tilt, azimuth), lambda tilt=tilt: made.get(tilt) or trace([tilt])[0]) for tilt in tilts]  # type: ignore[misc]

    def _keep(self, kind: str, facing: Hashable) -> Keep:
        """Looks things up among those traced before for the same array, spot and ``facing``."""
        geometry, known = self.geometry, self.traces.known
        if len(geometry.sections.place) > MANY_SECTIONS:
            return anew
        place = (kind, geometry.array, geometry.spot, self.yard.ground, facing)

        def keep(thing: Thing, make: Callable[[], list[Any]]) -> list[Any]:
            return known.get("things", (*place, thing), make)

        return keep

    def caught(self, tilt: float, azimuth: float, days: NDArray[np.bool_]) -> dict[str, float]:
        """Direct light that each obstacle stops on some days (365,), kWh/m2 of a plane at ``tilt``: where several stand one
        behind the other each counts it. Obstacles that stop nothing are left out."""
        light = self.light
        cosine = incidence_cosine(light, np.asarray(tilt), np.asarray(azimuth))
        direct = (light.beam + light.circumsolar) * cosine * days[DAY_OF_HOUR[light.hours]] / 1000
        found: dict[str, float] = {}
        if self.things:
            bins = len(self.bins.directions)
            weights = np.bincount(self.bins.of_hour * 12 + light.months, weights=direct, minlength=bins * 12).reshape(bins, 12)
            for layer in self.traced(round(tilt / NODE) * NODE, azimuth).sun.layers:
                stopped = (weights[layer.rows] @ (1 - layer.light)) @ coverage(layer, self.geometry.cells)
                found[layer.owner] = found.get(layer.owner, 0.0) + float(stopped)
        behind = float((direct * (1 - self.skyline_transmittance)).sum())
        return found | ({SKYLINE: behind} if behind > 0 else {})

    def _view(self, traced: TracedFacing, weights: Floats, without: frozenset[str]) -> SkyView:
        """Share of the dome's light over the skyline that obstacles leave on planes that weigh the patches by ``weights``
        (P, K)."""
        months, state = traced.sky.states
        through = [traced.sky.light(month, without) for month in months]
        past = np.ones_like(self.dome_transmittance) if SKYLINE in without else self.dome_transmittance
        # The skyline's own leaves may turn in other months than the yard's: both together make the groups.
        groups, at = np.unique(np.stack([state, self._leaf_states[1]]), axis=1, return_inverse=True)
        first = [int(np.flatnonzero(at.reshape(-1) == group)[0]) for group in range(groups.shape[1])]
        sections = np.empty((len(weights), len(first), traced.sky.points))
        for index, month in enumerate(first):
            weighed = weights * past[month]
            before = weighed.sum(axis=1)[:, None]
            after = weighed @ through[state[month]]
            sections[:, index] = np.divide(after, before, out=np.ones_like(after), where=before > 1e-9)
        return SkyView(sections.mean(axis=2)[:, at.reshape(-1)], sections, at.reshape(-1))

    def _partial(
        self,
        blocks: BlockIrradiance,
        of_hour: NDArray[np.int64],
        facing: tuple[Floats, Floats],
        view: SkyView,
        over: Floats,
        without: frozenset[str],
        plane: NDArray[np.int64] | None = None,
    ) -> PartialShade:
        return partial_shade(self.light, blocks, of_hour, facing, view, over, self._transmittance(without), plane)

    def hours_parted(self, tilts: Floats, azimuths: Floats) -> int:
        """Hours a year in which the strings of the array want voltages that part; facing (lit,), degrees."""
        count = 0
        for tilt in np.unique(np.round(tilts / NODE) * NODE):
            near = np.abs(tilts - tilt) <= NODE / 2
            azimuth = float(azimuths[near][0])
            traced, plane = self.traced(float(tilt), azimuth), (np.array([tilt]), np.array([azimuth]))
            view = self._view(traced, self.dome.weights(*plane), NOTHING)
            over = self._over_skyline(*plane, NOTHING)[0][self.light.months]
            part = self._partial(traced.irradiance, self.bins.of_hour, plane, view, over, NOTHING)
            wired = self.geometry.sections.wired
            count += int((wired.parted(wired.ranked(part.currents)) & near[part.hours]).sum())
        return count

    def _turning(self, tilts: Floats, azimuths: Floats, without: frozenset[str]) -> ShadeFactors:
        months = self.light.months
        normal = _normals(tilts, azimuths)
        near = np.round(normal / FACING).astype(np.int64) + 1000
        at = np.unique(near[0] * 10**8 + near[1] * 10**4 + near[2], return_inverse=True)[1].reshape(-1)
        unique = _mean_facing(normal, at)
        sky = self._over_skyline(unique[0], unique[1], without)[at, months]
        past = self._transmittance(without)
        direct, mismatch = np.ones(len(tilts)), np.ones(len(tilts))
        if self.things:
            name = tilts.tobytes() + azimuths.tobytes()
            pair, traced = self.cache.get("turning", name, lambda: self._trace_turning(normal, at))
            view = self._view(traced, self.dome.weights(unique[0], unique[1]), without)
            blocks = self._blocks(traced, without)
            part = self._partial(blocks, pair, (tilts, azimuths), view, sky, without, at)
            direct, mismatch = direct_factors(part, self.geometry.sections.wired, len(tilts))
            sky = sky * view.mean[at, months]
        return ShadeFactors(direct * past, sky, (sky > 1e-4).astype(float), mismatch)

    def _trace_turning(self, normal: Floats, at: NDArray[np.int64]) -> tuple[NDArray[np.int64], TracedFacing]:
        """Rays of a turning plane, one for every pair of sun bin and facing ``at`` (lit,): the pair of each hour, and what was
        traced, the dome from the level plane. ``normal`` (3, lit)."""
        pair = np.unique(self.bins.of_hour * 100000 + at, return_inverse=True)[1].reshape(-1)
        count = int(pair.max()) + 1
        first = np.zeros(count, dtype=np.int64)
        first[pair[::-1]] = np.arange(len(pair))[::-1]
        facing = _mean_facing(normal, pair)
        keep = self._keep("turning", sha256(normal.tobytes()).digest())
        sun = trace_array(self.geometry, self.yard, self.bins.directions[self.bins.of_hour[first]], *facing, keep=keep)
        (level,) = self._traced_domes([0.0], self.geometry.array.azimuth)
        return pair, TracedFacing(sun, block_irradiance(sun, self.geometry.cells), level)


def _front(tilt: float, azimuth: float) -> tuple[float, float]:
    """Tilt from 0 and azimuth of a plane whose tilt may be negative."""
    return abs(tilt), (azimuth + 180) % 360 if tilt < 0 else azimuth


def _normals(tilts: Floats, azimuths: Floats) -> Floats:
    t, a = np.radians(tilts), np.radians(azimuths)
    return np.stack([np.sin(t) * np.sin(a), np.sin(t) * np.cos(a), np.cos(t)])


def _mean_facing(normal: Floats, group: NDArray[np.int64]) -> tuple[Floats, Floats]:
    """Tilt and azimuth of the mean of unit vectors (3, hours) in each ``group`` (hours,)."""
    east, north, up = (np.bincount(group, weights=part) for part in normal)
    return np.degrees(np.arctan2(np.hypot(east, north), up)), np.degrees(np.arctan2(east, north)) % 360
