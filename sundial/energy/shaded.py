"""What the shade of a place does to the light of a year, as factors on its parts.

For every lit hour: the share of direct light that gets to the glass, the share of the dome's light, and how much of the
power that this light could make the wiring lets through, since it lies unevenly. Direct light is traced per bin of
sun positions and read back hour by hour; diffuse light by patches of the sky.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAY_OF_HOUR
from sundial.energy.light import Floats, Light
from sundial.shade.fallen import Fallen, fallen
from sundial.shade.sight import BIN, Dome, Sight, SunBins, dome, see, see_dome, sight, sun_bins
from sundial.shade.skyline import Skyline
from sundial.shade.standing import Standing
from sundial.shade.yard import Yard

NODE = 15.0  # degrees: the yard is traced at tilts this far apart, factors between are linear
FACING = 0.1  # a turning plane is traced at facings about so many radians apart, each at the mean of its hours
TURNED = 8  # turning planes kept: the tilts of a hand-set axis, and what its plan makes of them
SKYLINE = "The skyline"
NOTHING: frozenset[str] = frozenset()


@dataclass(frozen=True, eq=False)
class Factors:
    """Shares that are left of ``direct``, ``sky`` and ``ground`` light, and of the power (``uneven``), each (..., lit)."""

    direct: Floats
    sky: Floats
    ground: Floats
    uneven: Floats


@dataclass(frozen=True, eq=False)
class Node:
    """One facing, traced: ``direct`` and ``uneven`` (lit,), ``view`` (12,) what things leave of the dome by month."""

    direct: Floats
    uneven: Floats
    view: Floats


@dataclass(frozen=True, eq=False)
class Seen:
    """What was traced for one still facing, whatever the sky is like: the ``sun``'s directions with the light that has
    ``fallen`` from them, the ``sky``'s patches with what gets ``through`` from each by month (12, K)."""

    sun: Sight
    fallen: Fallen
    sky: Sight
    through: Floats


@dataclass(frozen=True, eq=False)
class _Patchy:
    """Hours ``touched`` by shade with the ``mean`` direct light left, and those of them in which it lies unevenly:
    ``hours`` (n,), currents of the blocks as their strings rank them (n, B), and the light ``evenly`` spread (n,), all as
    shares of the open plane."""

    touched: NDArray[np.int64]
    mean: Floats
    hours: NDArray[np.int64]
    ranked: Floats
    evenly: Floats


@dataclass(frozen=True, eq=False)
class Shade:
    """The shade of one array in one yard behind one skyline, in the light of one year.

    ``size`` of the sun's bins in degrees, 0 for every hour by itself; ``given_bins`` (hours of the light) save gathering
    them, and ``sights`` traced before, for the same bins, array and yard, save tracing them again.
    """

    light: Light
    standing: Standing
    yard: Yard
    skyline: Skyline | None = None
    size: float = BIN
    given_bins: SunBins | None = None
    sights: dict[tuple[float, float], Seen] = field(default_factory=dict)
    _nodes: dict[tuple[float, float, frozenset[str]], Node] = field(default_factory=dict)
    _turned: dict[bytes, tuple[NDArray[np.int64], Seen]] = field(default_factory=dict)

    @cached_property
    def things(self) -> bool:
        """Whether anything but the skyline stands in the way."""
        return bool(self.yard.things or self.standing.spot.parts or self.standing.groups > 1)

    @cached_property
    def bins(self) -> SunBins:
        light = self.light
        return self.given_bins or sun_bins(light.east, light.north, light.up, self.size)

    @cached_property
    def dome(self) -> Dome:
        return dome()

    @cached_property
    def past_skyline(self) -> Floats:
        """Share of direct light that gets past the skyline (lit,)."""
        if self.skyline is None:
            return np.ones(len(self.light.hours))
        return self.skyline.passes(self.light.azimuth, self.light.elevation, self.light.months)

    @cached_property
    def dome_past_skyline(self) -> Floats:
        """The same for the patches of the dome, by month (12, K)."""
        if self.skyline is None:
            return np.ones((12, len(self.dome.angles)))
        over = self.dome.over(self.skyline.elevation_at(self.dome.azimuth))
        behind = self.skyline.light_at(self.dome.azimuth[None, :], np.arange(12)[:, None])
        return np.asarray(over + (1 - over) * behind)

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

    def at_tilts(self, tilts: Floats, azimuth: float, without: frozenset[str] = NOTHING) -> Factors:
        """Factors (T, lit) of planes that stand still at ``tilts`` (T,); below zero they lean to the other side."""
        months = self.light.months
        over = self._over_skyline(np.abs(tilts), np.where(tilts < 0, azimuth + 180, azimuth) % 360, without)
        past = np.ones(1) if SKYLINE in without else self.past_skyline
        if not self.things:
            ones = np.ones((len(tilts), 1))
            return Factors(ones * past, over[:, months], (over > 1e-4).astype(float)[:, months], ones)
        low = np.floor(tilts / NODE) * NODE
        share = (tilts - low) / NODE
        parts = []
        for tilt, part in zip(low, share, strict=True):
            node = self.node(float(tilt), azimuth, without)
            if part > 1e-9:
                upper = self.node(float(tilt) + NODE, azimuth, without)
                node = Node(*(
                    a + (b - a) * part
                    for a, b in ((node.direct, upper.direct), (node.uneven, upper.uneven), (node.view, upper.view))
                ))  # fmt: skip
            parts.append(node)
        sky = over * np.stack([node.view for node in parts])
        return Factors(
            np.stack([node.direct for node in parts]) * past,
            sky[:, months],
            (sky > 1e-4).astype(float)[:, months],
            np.stack([node.uneven for node in parts]),
        )

    def of_facing(self, tilts: Floats, azimuths: Floats, without: frozenset[str] = NOTHING) -> Factors:
        """Factors (lit,) of a plane that faces ``tilts``, ``azimuths`` (lit,) hour by hour."""
        home = self.standing.array.azimuth
        turned = np.abs((azimuths - home + 180) % 360 - 180)
        if (np.minimum(turned, 180 - turned) < 1e-6).all():
            return self._still(np.where(turned > 90, -tilts, tilts), home, without)
        first = float(azimuths[0])
        if np.ptp(azimuths) < 1e-9:
            return self._still(tilts, first, without)
        return self._turning(tilts, azimuths, without)

    def _still(self, tilts: Floats, azimuth: float, without: frozenset[str]) -> Factors:
        unique, at = np.unique(tilts, return_inverse=True)
        found = self.at_tilts(unique, azimuth, without)
        hours = np.arange(len(tilts))
        names = ("direct", "sky", "ground", "uneven")
        shape = (len(unique), len(tilts))
        return Factors(*(np.broadcast_to(getattr(found, name), shape)[at.reshape(-1), hours] for name in names))

    def node(self, tilt: float, azimuth: float, without: frozenset[str] = NOTHING) -> Node:
        """One still facing, traced and kept. Several threads may ask at once: each goes on with what it has in hand."""
        key = (tilt, azimuth, without)
        held = self._nodes.get(key)
        if held is not None:
            return held
        if without:  # things are thought away one after another: only the newest such nodes are kept
            for old in list(self._nodes):
                if old[2] not in (NOTHING, without):
                    self._nodes.pop(old, None)
        facing = (abs(tilt), (azimuth + 180) % 360 if tilt < 0 else azimuth)
        seen, plane = self.seen(tilt, azimuth), (np.array([facing[0]]), np.array([facing[1]]))
        through = seen.sky.mean_light(without) if without else seen.through
        view = self._view(through, self.dome.weights(*plane), without)[0]
        sky = (view * self._over_skyline(*plane, without)[0])[self.light.months]
        light = fallen(seen.sun, self.standing.samples, without) if without else seen.fallen
        made = self._nodes[key] = Node(*self._direct(light, self.bins.of_hour, *plane, sky, without), view)
        return made

    def seen(self, tilt: float, azimuth: float) -> Seen:
        """What was traced for a still facing; below zero it leans to the other side."""
        if (tilt, azimuth) not in self.sights:
            facing = (abs(tilt), (azimuth + 180) % 360 if tilt < 0 else azimuth)
            count = len(self.bins.directions)
            sun = see(self.standing, self.yard, self.bins.directions, np.full(count, facing[0]), np.full(count, facing[1]))
            sky = see_dome(self.standing, self.yard, self.dome, *facing)
            self.sights[tilt, azimuth] = Seen(sun, fallen(sun, self.standing.samples), sky, sky.mean_light())
        return self.sights[tilt, azimuth]

    def at_middle(self, tilt: float, azimuth: float) -> Floats:
        """Share of the sun's light that gets to the middle of the array (lit,), wherever the glass looks."""
        middle = self.standing.middles(tilt, azimuth).mean(axis=0)[None, :]
        seen = sight(self.yard, middle, self.bins.directions)
        by_month = np.stack([seen.light(month)[:, 0] for month in range(12)])
        return np.asarray(by_month[self.light.months, self.bins.of_hour] * self.past_skyline)

    def caught(self, tilt: float, azimuth: float, days: NDArray[np.bool_]) -> dict[str, float]:
        """Direct light that each thing catches on some days (365,), kWh/m2 of a plane at ``tilt``: where several stand one
        behind the other each counts it. Things that catch nothing are left out."""
        light = self.light
        t, a = np.radians(tilt), np.radians(azimuth)
        cosine = np.maximum(np.sin(t) * (light.east * np.sin(a) + light.north * np.cos(a)) + light.up * np.cos(t), 0)
        direct = (light.beam + light.circumsolar) * cosine * days[DAY_OF_HOUR[light.hours]] / 1000
        found: dict[str, float] = {}
        if self.things:
            bins = len(self.bins.directions)
            weights = np.bincount(self.bins.of_hour * 12 + light.months, weights=direct, minlength=bins * 12).reshape(bins, 12)
            for trace in self.seen(round(tilt / NODE) * NODE, azimuth).sun.traces:
                stopped = (weights[trace.rows] @ (1 - trace.light)) @ (trace.struck @ self.standing.samples.weight)
                found[trace.owner] = found.get(trace.owner, 0.0) + float(stopped)
        behind = float((direct * (1 - self.past_skyline)).sum())
        return found | ({SKYLINE: behind} if behind > 0 else {})

    def _view(self, through: Floats, weights: Floats, without: frozenset[str]) -> Floats:
        """What things leave of the light of the dome over the skyline: by month ``through`` (12, K) from each patch, patch
        ``weights`` (P, K), result (P, 12)."""
        past = np.ones_like(self.dome_past_skyline) if SKYLINE in without else self.dome_past_skyline
        before = weights @ past.T
        after = weights @ (past * through).T
        return np.asarray(np.divide(after, before, out=np.ones_like(after), where=before > 1e-9))

    def _direct(
        self, light: Fallen, of_hour: NDArray[np.int64], tilts: Floats, azimuths: Floats, sky: Floats, without: frozenset[str]
    ) -> tuple[Floats, Floats]:
        """``direct`` and ``uneven`` (lit,) from light whose direction ``of_hour`` (lit,) is each hour's; ``sky`` (lit,) is
        the share of the dome's light that is left."""
        direct, uneven = np.ones(len(of_hour)), np.ones(len(of_hour))
        part = self._patchy(light, of_hour, tilts, azimuths, sky, without)
        direct[part.touched] = part.mean
        shared = self.standing.samples.wired.share(part.ranked)
        uneven[part.hours] = np.divide(shared, part.evenly, out=np.ones_like(shared), where=part.evenly > 1e-9).clip(0, 1)
        return direct, uneven

    def _patchy(
        self, fall: Fallen, of_hour: NDArray[np.int64], tilts: Floats, azimuths: Floats, sky: Floats, without: frozenset[str]
    ) -> _Patchy:
        """The hours that anything touches."""
        light = self.light
        row, state = fall.row[of_hour], fall.state[light.months]
        touched = np.flatnonzero(row >= 0)
        row, state = row[touched], state[touched]
        mean = fall.mean[state, row]
        open_plane, base, cosine = self._shares(tilts, azimuths, sky)
        patchy = fall.patchy[state, row] & (cosine[touched] > 0) & (open_plane[touched] > 0)
        hours = touched[patchy]
        past = 1.0 if SKYLINE in without else self.past_skyline[hours]
        gain = (light.beam + light.circumsolar)[hours] * cosine[hours] * past / open_plane[hours]
        rest = base[hours] / open_plane[hours]
        ranked = rest[:, None] + gain[:, None] * fall.ranked[state[patchy], row[patchy]]
        return _Patchy(touched, mean, hours, ranked, rest + gain * mean[patchy])

    def hours_parted(self, tilts: Floats, azimuths: Floats) -> int:
        """Hours a year in which the strings of the array want voltages that part; facing (lit,)."""
        count = 0
        for tilt in np.unique(np.round(tilts / NODE) * NODE):
            near = np.abs(tilts - tilt) <= NODE / 2
            azimuth = float(azimuths[near][0])
            light = self.seen(float(tilt), azimuth).fallen
            plane = np.array([tilt]), np.array([azimuth])
            part = self._patchy(light, self.bins.of_hour, *plane, np.ones(len(tilts)), NOTHING)
            count += int((self.standing.samples.wired.parted(part.ranked) & near[part.hours]).sum())
        return count

    def _shares(self, tilts: Floats, azimuths: Floats, sky: Floats) -> tuple[Floats, Floats, Floats]:
        """Light on the open plane, the diffuse part that is left (lit,) W/m2, and the cosine of incidence."""
        light = self.light
        t, a = np.radians(tilts), np.radians(azimuths)
        cosine = np.maximum(np.sin(t) * (light.east * np.sin(a) + light.north * np.cos(a)) + light.up * np.cos(t), 0)
        dome, ground = light.isotropic * (1 + np.cos(t)) / 2, light.ground * (1 - np.cos(t)) / 2
        return dome + ground + (light.beam + light.circumsolar) * cosine, dome * sky + ground, cosine

    def _turning(self, tilts: Floats, azimuths: Floats, without: frozenset[str]) -> Factors:
        months = self.light.months
        t, a = np.radians(tilts), np.radians(azimuths)
        normal = np.stack([np.sin(t) * np.sin(a), np.sin(t) * np.cos(a), np.cos(t)])
        near = np.round(normal / FACING).astype(np.int64) + 1000
        at = np.unique(near[0] * 10**8 + near[1] * 10**4 + near[2], return_inverse=True)[1].reshape(-1)
        unique = _mean_facing(normal, at)
        sky = self._over_skyline(unique[0], unique[1], without)[at, months]
        past = np.ones(1) if SKYLINE in without else self.past_skyline
        direct, uneven = np.ones(len(tilts)), np.ones(len(tilts))
        if self.things:
            key, seen = self._trace_turning(tilts, azimuths, at)
            through = seen.sky.mean_light(without) if without else seen.through
            sky = sky * self._view(through, self.dome.weights(unique[0], unique[1]), without)[at, months]
            light = fallen(seen.sun, self.standing.samples, without) if without else seen.fallen
            direct, uneven = self._direct(light, key, tilts, azimuths, sky, without)
        return Factors(direct * past, sky, (sky > 1e-4).astype(float), uneven)

    def _trace_turning(self, tilts: Floats, azimuths: Floats, at: NDArray[np.int64]) -> tuple[NDArray[np.int64], Seen]:
        """Rays of a turning plane, one for every pair of sun bin and facing ``at``: the pair of each hour, and what was
        traced, the dome from the level plane."""
        name = tilts.tobytes() + azimuths.tobytes()
        held = self._turned.get(name)
        if held is None:
            key = np.unique(self.bins.of_hour * 100000 + at, return_inverse=True)[1].reshape(-1)
            count = int(key.max()) + 1
            first = np.zeros(count, dtype=np.int64)
            first[key[::-1]] = np.arange(len(key))[::-1]
            t, a = np.radians(tilts), np.radians(azimuths)
            facing = _mean_facing(np.stack([np.sin(t) * np.sin(a), np.sin(t) * np.cos(a), np.cos(t)]), key)
            sun = see(self.standing, self.yard, self.bins.directions[self.bins.of_hour[first]], *facing)
            level = see_dome(self.standing, self.yard, self.dome, 0.0, self.standing.array.azimuth)
            for old in list(self._turned)[: 1 - TURNED]:
                self._turned.pop(old, None)
            held = self._turned[name] = key, Seen(sun, fallen(sun, self.standing.samples), level, level.mean_light())
        return held


def _mean_facing(normal: Floats, group: NDArray[np.int64]) -> tuple[Floats, Floats]:
    """Tilt and azimuth of the mean of unit vectors (3, hours) in each ``group`` (hours,)."""
    east, north, up = (np.bincount(group, weights=part) for part in normal)
    return np.degrees(np.arctan2(np.hypot(east, north), up)), np.degrees(np.arctan2(east, north)) % 360
