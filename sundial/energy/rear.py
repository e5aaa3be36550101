"""Irradiance on the back of bifacial glass: tables of finite breadth over level ground, by rays from their backs.

::

    far edge  (L cos t, c + L sin t)
        \\
         \\   the back looks down and behind
          \\
    near edge (0, c)
    -----------=====shadow=====------- ground

Rays leave points all over the back, thickest along its normal, so that each stands for the same view factor. One that
meets another table is lost; one that goes up finds the sky; one that comes down finds ground that is lit by the part of the
dome the tables leave it (closed form, Lambert's contour integral) and by the sun where no table's shadow lies. The rays of
a tilt are followed once; the sun is tested against their ground, direction by direction.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from sundial.caching import Cache
from sundial.energy.irradiance import Floats, IrradianceComponents
from sundial.frame.panels import Array
from sundial.shade.sun_bins import SunBins, sun_bins

NODE = 10.0  # degrees: tilts followed; between them all shares are linear
BIN = 4.0  # degrees: the sun's positions are gathered this wide
LEAN = 5.0  # degrees: tilts of a turning table are gathered this wide
TURN = 30.0  # degrees: the same for its facing where other tables stand beside it
ACROSS, UP = 5, 4  # points on the back, by Gauss and Legendre
RAYS = 96  # from each
MOST_GROUPS = 3  # of many groups, the first, a middle one and the last are looked at
FAR = 80.0  # m: ground so far from any table lies under the whole dome


@dataclass(frozen=True)
class Tables:
    """What stands over the ground: ``groups`` equal tables of ``breadth`` along the row and ``length`` up the slope, m, one
    "behind" or "beside" the other, ``pitch`` m from one to the next; ``height`` of the lower edge, or of the middle about which
    they turn (``centre_pivot``)."""

    breadth: float
    length: float
    height: float
    centre_pivot: bool = False
    groups: int = 1
    how: str = "behind"
    pitch: float = 0.0

    @classmethod
    def of(cls, array: Array) -> Tables:
        """The whole array as one table on its lower edge."""
        return cls(array.breadth, array.slope_length, array.clearance)

    @property
    def low(self) -> float:
        """Where a table begins up the slope, m from its origin."""
        return -self.length / 2 if self.centre_pivot else 0.0

    def origins(self, turn: float) -> Floats:
        """Of each table (G, 3), where ``turn`` degrees lie between the row's own facing and that of the tables."""
        number = np.arange(self.groups, dtype=float) * self.pitch
        flat = np.zeros((self.groups, 3))
        flat[:, 1 if self.how == "behind" else 0] = -number if self.how == "behind" else number
        c, s = np.cos(np.radians(turn)), np.sin(np.radians(turn))
        flat[:, :2] = flat[:, :2] @ np.array([[c, -s], [s, c]])
        flat[:, 2] = self.height
        return flat


@dataclass(frozen=True, eq=False)
class _Views:
    """What the backs of tables at one tilt see: ``sky``, share of the whole view that is sky; ``diffuse``, ground weighted by the
    dome's light that falls on it; ``ground`` (R, 2), where rays come down, x along the row, y toward the front, each standing
    for a share ``each``."""

    tables: Tables
    tilt: float
    turn: float
    sky: float
    diffuse: float
    ground: Floats
    each: Floats

    def lit(self, sun: Floats) -> Floats:
        """Share of the view that is ground in the sun (S,), for directions (S, 3) along the row, to the front and up."""
        up_slope, normal = _axes(self.tilt)
        facing = sun @ normal
        facing = np.where(np.abs(facing) < 1e-6, 1e-6, facing)
        dark = np.zeros((len(self.ground), len(sun)), dtype=bool)
        for origin in self.tables.origins(self.turn):
            away = np.column_stack([self.ground, np.zeros(len(self.ground))]) - origin
            ahead = -(away @ normal)[:, None] / facing
            x = away[:, :1] + ahead * sun[:, 0]
            v = (away @ up_slope)[:, None] + ahead * (sun @ up_slope)
            v -= self.tables.low
            dark |= (ahead > 0) & (np.abs(x) < self.tables.breadth / 2) & (v > 0) & (v < self.tables.length)
        return np.asarray(self.each.sum() - self.each @ dark)


def _axes(tilt: float) -> tuple[Floats, Floats]:
    """Unit vectors up the slope and out of the front: along the row, to the front, up."""
    t = np.radians(tilt)
    return np.array([0.0, -np.cos(t), np.sin(t)]), np.array([0.0, np.sin(t), np.cos(t)])


@lru_cache(maxsize=96)
def _views(tables: Tables, tilt: float, turn: float) -> _Views:
    up_slope, normal = _axes(tilt)
    origins = tables.origins(turn)
    looked_at = np.unique(np.linspace(0, tables.groups - 1, min(tables.groups, MOST_GROUPS)).round().astype(int))
    place, share = _points(tables)
    start = place[:, :1] * [1.0, 0.0, 0.0] + place[:, 1:] * up_slope
    ray = _rays(len(place)) @ np.stack([[1.0, 0.0, 0.0], -up_slope, -normal])  # (P, RAYS, 3), thickest along the back's normal
    grounds, shares, sky, diffuse = [], [], 0.0, 0.0
    for group in looked_at:
        begin = np.repeat(start[:, None] + origins[group], RAYS, axis=1).reshape(-1, 3)
        way, each = ray.reshape(-1, 3), np.repeat(share / RAYS / len(looked_at), RAYS)
        free = ~_met(tables, tilt, np.delete(origins, group, axis=0), begin, way)
        down = way[:, 2] < -1e-6
        sky += float(each[free & ~down].sum())
        falls = free & down
        at = begin[falls] - way[falls] * (begin[falls, 2:] / way[falls, 2:])
        diffuse += float(each[falls] @ _dome_left(tables, tilt, origins, at))
        grounds.append(at[:, :2])
        shares.append(each[falls])
    return _Views(tables, tilt, turn, sky, diffuse, np.concatenate(grounds), np.concatenate(shares))


def _points(tables: Tables) -> tuple[Floats, Floats]:
    """Points on a table (P, 2), along the row and up the slope, and the share of its area each stands for (P,)."""
    x, wx = np.polynomial.legendre.leggauss(ACROSS)
    v, wv = np.polynomial.legendre.leggauss(UP)
    grid = np.stack(np.meshgrid(x * tables.breadth / 2, tables.low + (v + 1) / 2 * tables.length, indexing="ij"), axis=-1)
    return grid.reshape(-1, 2), (wx[:, None] * wv / 4).ravel()


@lru_cache(maxsize=4)
def _rays(points: int) -> Floats:
    """Unit vectors (points, RAYS, 3) about the third axis, as thick as the cosine from it, turned from point to point."""
    number = np.arange(points * RAYS)
    out = np.sqrt(((number % RAYS) + 0.5) / RAYS)
    turn = number * np.pi * (3 - np.sqrt(5))
    made = np.stack([out * np.cos(turn), out * np.sin(turn), np.sqrt(1 - out * out)], axis=-1)
    return made.reshape(points, RAYS, 3)


def _met(tables: Tables, tilt: float, origins: Floats, begin: Floats, way: Floats) -> NDArray[np.bool_]:
    """Rays (R,) that meet any of the tables at ``origins``."""
    up_slope, normal = _axes(tilt)
    slant = way @ normal
    slant = np.where(np.abs(slant) < 1e-9, 1e-9, slant)
    met = np.zeros(len(way), dtype=bool)
    for origin in origins:
        away = begin - origin
        ahead = -(away @ normal) / slant
        at = away + ahead[:, None] * way
        v = at @ up_slope - tables.low
        met |= (ahead > 1e-6) & (np.abs(at[:, 0]) < tables.breadth / 2) & (v > 0) & (v < tables.length)
    return met


def _dome_left(tables: Tables, tilt: float, origins: Floats, ground: Floats) -> Floats:
    """Share of a uniform dome's light that the tables leave to points on the ground (n, 3)."""
    up_slope, _ = _axes(tilt)
    left = np.ones(len(ground))
    aside = np.maximum(np.abs(ground[:, 0] - origins[:, :1]) - tables.breadth / 2, 0)
    near = np.flatnonzero(np.hypot(aside, ground[:, 1] - origins[:, 1:2]).min(axis=0) < FAR)
    corners = [(x, v) for x, v in ((-0.5, 0.0), (0.5, 0.0), (0.5, 1.0), (-0.5, 1.0))]
    for origin in origins:
        at = [
            origin + np.array([x * tables.breadth, 0, 0]) + (tables.low + v * tables.length) * up_slope - ground[near]
            for x, v in corners
        ]
        at = [way / np.linalg.norm(way, axis=1)[:, None] for way in at]
        view = np.zeros(len(near))
        for one, other in zip(at, at[1:] + at[:1], strict=True):
            across = np.cross(one, other)
            size = np.maximum(np.linalg.norm(across, axis=1), 1e-12)
            view += np.arctan2(size, (one * other).sum(axis=1)) * across[:, 2] / size
        left[near] -= np.abs(view) / (2 * np.pi)
    return np.maximum(left, 0.0)


class RearCache(Cache):
    """Ground in the sun by bin, sky and diffuse ground, by tilt and facing."""

    sizes = {"nodes": None}


@dataclass(frozen=True, eq=False)
class RearLight:
    """Irradiance on the backs of ``tables`` whose row faces ``azimuth``, in one year's light."""

    light: IrradianceComponents
    tables: Tables
    azimuth: float
    cache: RearCache = field(default_factory=RearCache)

    @cached_property
    def _bins(self) -> SunBins:
        light = self.light
        return sun_bins(light.east, light.north, light.up, BIN)

    def fixed(self, tilts: Floats, azimuth: float) -> Floats:
        """W/m2 on fixed planes at ``tilts`` (T,) that face ``azimuth``, mean over the back (T, lit)."""
        nodes = np.arange(0.0, 90.0 + NODE, NODE)
        low = np.clip((np.abs(tilts) // NODE).astype(int), 0, len(nodes) - 2)
        part = np.abs(tilts) / NODE - low
        found = np.empty((len(tilts), len(self.light.hours)))
        for index, tilt in enumerate(tilts.tolist()):
            facing = azimuth if tilt >= 0 else (azimuth + 180) % 360
            ends = [self._node(float(nodes[low[index] + end]), facing) for end in (0, 1)]
            lit, sky, diffuse = (a + (b - a) * part[index] for a, b in zip(*ends, strict=True))
            found[index] = self._sum(lit[self._bins.of_hour], sky, diffuse, np.full(1, abs(tilt)), np.full(1, facing))
        return found

    def _node(self, tilt: float, facing: float) -> tuple[Floats, float, float]:
        def made() -> tuple[Floats, float, float]:
            views = _views(self.tables, tilt, self._turn(facing))
            return views.lit(_in_table(self._bins.directions, np.full(1, facing))), views.sky, views.diffuse

        return self.cache.get("nodes", (tilt, facing), made)

    def of_facing(self, tilts: Floats, azimuths: Floats) -> Floats:
        """W/m2 on the back of tables that face ``tilts``, ``azimuths`` (lit,) hour by hour, mean over the back (lit,)."""
        if not len(tilts):  # a year without light
            return np.zeros(0)
        turned = np.abs((azimuths - azimuths[:1] + 180) % 360 - 180)
        if not (np.minimum(turned, 180 - turned) < 1e-6).all():
            return self._turning(tilts, azimuths)
        lean, at = np.unique(np.where(turned > 90, -tilts, tilts), return_inverse=True)
        return self.fixed(lean, float(azimuths[0]))[at.reshape(-1), np.arange(len(tilts))]

    def _turn(self, facing: float) -> float:
        """How far a facing is turned from the row's own, degrees; it matters only where there are other tables."""
        if self.tables.groups == 1:
            return 0.0
        return float(round((facing - self.azimuth) / TURN) * TURN % 360)

    def _turning(self, tilts: Floats, azimuths: Floats) -> Floats:
        sun = np.stack([self.light.east, self.light.north, self.light.up], axis=1)
        turned = np.stack([np.round(tilts / LEAN), np.round(azimuths / TURN) % (360 / TURN), self._bins.of_hour])
        groups, at = np.unique(turned, axis=1, return_inverse=True)
        at, count = at.reshape(-1), groups.shape[1]
        lit, sky, diffuse = np.empty(count), np.empty(count), np.empty(count)
        weight = np.bincount(at).astype(float)
        mean_tilt = np.bincount(at, weights=tilts) / weight
        mean = np.asarray([np.bincount(at, weights=part) for part in _in_table(sun, azimuths).T], dtype=float).T
        mean /= np.linalg.norm(mean, axis=1)[:, None]
        for tilt in np.unique(groups[0]):
            for facing in np.unique(groups[1, groups[0] == tilt]) if self.tables.groups > 1 else (None,):
                mine = np.flatnonzero((groups[0] == tilt) & (True if facing is None else groups[1] == facing))
                turn = 0.0 if facing is None else self._turn(float(facing) * TURN)
                views = _views(self.tables, float(np.round(mean_tilt[mine].mean())), turn)
                lit[mine], sky[mine], diffuse[mine] = views.lit(mean[mine]), views.sky, views.diffuse
        return self._sum(lit[at], sky[at], diffuse[at], tilts, azimuths)

    def _sum(self, lit: Floats, sky: Floats | float, diffuse: Floats | float, tilts: Floats, azimuths: Floats) -> Floats:
        light = self.light
        t, a = np.radians(tilts), np.radians(azimuths)
        cosine = np.sin(t) * (light.east * np.sin(a) + light.north * np.cos(a)) + light.up * np.cos(t)
        ground = light.albedo * (np.maximum(light.ghi - light.dhi, 0) * lit + light.dhi * diffuse)
        behind: Floats = ground + light.isotropic * sky + (light.beam + light.circumsolar) * np.maximum(-cosine, 0)
        return behind


def _in_table(directions: Floats, facing: Floats) -> Floats:
    """Directions (n, 3), east, north, up, as tables that face ``facing`` (n,) or (1,) see them: along the row, to the front, up."""
    a = np.radians(facing)
    east, north, up = directions.T
    return np.stack([north * np.sin(a) - east * np.cos(a), east * np.sin(a) + north * np.cos(a), up], axis=1)
