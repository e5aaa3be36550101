"""The yard as a map: what a plane at panel height would get, everywhere, for the year or the season of need."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAY_OF_HOUR
from sundial.energy.shaded import Shade
from sundial.errors import BriefError
from sundial.scene import Scene
from sundial.shade.other_array import OtherArray
from sundial.shade.rays import RayTrace, trace_rays
from sundial.shade.yard import Barrier, Building, Post, Tree, Yard
from sundial.siting.season import season_of_need
from sundial.study import Study

Floats = NDArray[np.float64]
MOST_CELLS = 40_000
TILE = 8  # cells: rays are traced tile by tile, so that most things can be passed over
MARGIN = 6.0  # m of yard around what stands in it


@dataclass(frozen=True)
class Window:
    """A part of the yard, m: west, south, east, north."""

    west: float
    south: float
    east: float
    north: float

    def __post_init__(self) -> None:
        if not (self.west < self.east and self.south < self.north):
            raise BriefError("window", "east must lie beyond west, and north beyond south")
        if max(abs(self.west), abs(self.south), abs(self.east), abs(self.north)) > 500:
            raise BriefError("window", "a yard reaches at most 500 m from its origin")


@dataclass(frozen=True, eq=False)
class YardMap:
    """Irradiation in kWh/m2 at the middles ``x`` (X,) and ``y`` (Y,) of square cells of ``grid`` m: ``year`` and
    ``season`` (Y, X), NaN where something stands; ``open_year`` and ``open_season`` under the open sky."""

    x: Floats
    y: Floats
    grid: float
    year: Floats
    season: Floats
    open_year: float
    open_season: float
    season_name: str


def window_of(scene: Scene) -> Window:
    """The part of the yard worth mapping: everything in it and the array, with a margin."""
    spot = scene.brief.spot
    bounds = [thing.outline.bounds for thing in scene.yard.things] + [(spot.x, spot.y, spot.x, spot.y)]
    low, high = np.min(bounds, axis=0), np.max(bounds, axis=0)
    around = max(MARGIN, scene.array.breadth, scene.array.slope_length)
    return Window(float(low[0] - around), float(low[1] - around), float(high[2] + around), float(high[3] + around))


@dataclass(frozen=True, eq=False)
class Weights:
    """What each direction brings to a plane, kWh/m2: ``sun`` (B, 12) per bin and month, ``sky`` (K, 12) per patch of the
    dome, ``ground`` (12,); once for the year and once for the season."""

    sun: Floats
    sky: Floats
    ground: Floats

    @property
    def total(self) -> float:
        return float(self.sun.sum() + self.sky.sum() + self.ground.sum())


@dataclass(frozen=True, eq=False)
class PointIrradiance:
    """Irradiance at points of the yard, whatever the weather: ray traces of the sun's bins and of the dome's patches."""

    sun: RayTrace
    sky: RayTrace
    months: NDArray[np.int64]
    state: NDArray[np.int64]

    def energy(self, weights: Weights) -> Floats:
        """kWh/m2 at each point (P,)."""
        total = np.full(self.sun.points, float(weights.ground.sum()))
        for index, month in enumerate(self.months):
            these = self.state == index
            total += _fall(self.sun, int(month), weights.sun[:, these].sum(axis=1))
            total += _fall(self.sky, int(month), weights.sky[:, these].sum(axis=1))
        return total


def _fall(seen: RayTrace, month: int, weight: Floats) -> Floats:
    """Sum of the weights of directions (D,) that reach each point (P,): the whole, less what is caught."""
    caught = [trace for trace in seen.traces if trace.light[month] < 1]
    left = np.full(seen.points, float(weight.sum()))
    if len(caught) == 1:
        return np.asarray(left - weight[caught[0].rows] @ caught[0].hits * (1 - caught[0].light[month]))
    rows = np.unique(np.concatenate([trace.rows for trace in caught])) if caught else np.zeros(0, dtype=np.int64)
    if not rows.size:
        return left
    through = np.ones((rows.size, seen.points), dtype=np.float32)
    for trace in caught:
        through[np.searchsorted(rows, trace.rows)] *= np.where(trace.hits, np.float32(trace.light[month]), np.float32(1))
    return np.asarray(left - weight[rows].sum() + weight[rows].astype(np.float32) @ through, dtype=float)


@dataclass(frozen=True, eq=False)
class Survey:
    """Irradiance of a plane of any orientation at points of the yard, with nothing of the array itself in the way."""

    study: Study
    shade: Shade

    @cached_property
    def height(self) -> float:
        """Height of the middle of the array over the ground at its mean tilt, m."""
        tilts = self.study.own_facing[0].surface_tilt
        half = self.study.scene.geometry.size[1] / 2 * np.sin(np.radians(np.abs(tilts).mean()))
        return float(self.study.scene.geometry.height + (0 if self.study.scene.geometry.spot.centre_pivot else half))

    def light(self, x: Floats, y: Floats, chosen: NDArray[np.bool_] | None = None) -> PointIrradiance:
        """LayerHits from points (P,) at panel height; only in ``chosen`` (B,) of the sun's directions, where given."""
        ground, shade = self.study.scene.yard.ground, self.shade
        z = np.array([x, y]).T @ ground.gradient + self.height
        points = np.column_stack([x, y, z])
        directions = shade.bins.directions if chosen is None else shade.bins.directions[chosen]
        sun, sky = trace_rays(shade.yard, points, directions), trace_rays(shade.yard, points, shade.dome.directions)
        lights = [trace.light for trace in (*sun.traces, *sky.traces)] or [np.ones(12)]
        months, state = np.unique(np.stack(lights), axis=1, return_index=True, return_inverse=True)[1:]
        return PointIrradiance(sun, sky, months, state.reshape(-1))

    def weights(self, turn: float, days: NDArray[np.bool_] | None = None) -> Weights:
        """Weights of the build's own mount under its plan, turned by ``turn`` degrees, over some days (365,)."""
        light, shade, study = self.study.scene.light, self.shade, self.study
        facing = study.own_facing[0]
        tilts, azimuths = facing.surface_tilt[light.hours], (facing.surface_azimuth[light.hours] + turn) % 360
        counted = np.ones(len(tilts)) if days is None else days[DAY_OF_HOUR[light.hours]].astype(float)
        t, a = np.radians(tilts), np.radians(azimuths)
        cosine = np.maximum(np.sin(t) * (light.east * np.sin(a) + light.north * np.cos(a)) + light.up * np.cos(t), 0)
        direct = (light.beam + light.circumsolar) * cosine * shade.skyline_transmittance * counted / 1000
        bins, months = len(shade.bins.directions), light.months
        sun = np.bincount(shade.bins.of_hour * 12 + months, weights=direct, minlength=bins * 12).reshape(bins, 12)
        unique, at = np.unique(np.stack([np.round(tilts), np.round(azimuths / 3) * 3]), axis=1, return_inverse=True)
        diffuse = light.isotropic * counted / 1000
        by_facing = np.bincount(at.reshape(-1) * 12 + months, weights=diffuse, minlength=unique.shape[1] * 12).reshape(-1, 12)
        patches = shade.dome.weights(unique[0], unique[1])
        # The patches' sum, drawn to the closed form of the open dome.
        patches *= ((1 + np.cos(np.radians(unique[0]))) / 2 / patches.sum(axis=1))[:, None]
        sky = (patches.T @ by_facing) * shade.dome_transmittance.T
        ground = light.ground * (1 - np.cos(t)) / 2 * counted / 1000
        return Weights(
            np.asarray(sun, dtype=float), sky, np.asarray(np.bincount(months, weights=ground, minlength=12), dtype=float)
        )


def yard_map(study: Study, grid: float, window: Window | None = None, strip: tuple[int, int] = (0, 1)) -> YardMap:
    """Map the yard at ``grid`` m. ``strip`` (n, of) gives only the n-th of so many bands of rows, from the south."""
    if not 0.1 <= grid <= 50:
        raise BriefError("--grid", "must be from 0.1 to 50 m")
    part = window or window_of(study.scene)
    x = np.arange(part.west + grid / 2, part.east, grid)
    y = np.arange(part.south + grid / 2, part.north, grid)
    if len(x) * len(y) > MOST_CELLS:
        raise BriefError("--grid", f"gives {len(x) * len(y)} cells; {MOST_CELLS} are the most: take a coarser grid")
    band = np.array_split(np.arange(len(y)), strip[1])[strip[0]]
    y = y[band]
    # Hour by hour: one bare point feels the edge of a bin where an array of many does not.
    survey = Survey(study, Shade(study.scene.light, study.scene.geometry, study.scene.yard, study.scene.skyline, size=0))
    season = season_of_need(study.scene)
    whole = survey.weights(0.0)
    lit = whole.sun.sum(axis=1) > 0
    weights = [Weights(part.sun[lit], part.sky, part.ground) for part in (whole, survey.weights(0.0, season.days))]
    found = np.empty((2, len(y), len(x)))
    for row in range(0, len(y), TILE):
        for column in range(0, len(x), TILE):
            tile_x, tile_y = np.meshgrid(x[column : column + TILE], y[row : row + TILE])
            light = survey.light(tile_x.ravel(), tile_y.ravel(), lit)
            for index, weight in enumerate(weights):
                found[index, row : row + TILE, column : column + TILE] = light.energy(weight).reshape(tile_x.shape)
    grid_x, grid_y = np.meshgrid(x, y)
    found[:, taken(study.scene.yard, grid_x, grid_y, survey.height)] = np.nan
    bare = Survey(study, Shade(study.scene.light, study.scene.geometry, Yard(), None))
    return YardMap(x, y, grid, found[0], found[1], bare.weights(0.0).total, bare.weights(0.0, season.days).total, season.name)


def survey_of(study: Study) -> Survey:
    """The survey of a build's own yard and skyline."""
    return Survey(
        study,
        Shade(study.scene.light, study.scene.geometry, study.scene.yard, study.scene.skyline, given_bins=study.scene.sun_bins),
    )


def taken(yard: Yard, x: Floats, y: Floats, height: float) -> NDArray[np.bool_]:
    """Where something stands in the way of a plane at ``height`` (of the shape of ``x``): walls, houses, trunks, low crowns."""
    from shapely import Point, contains_xy

    found = np.zeros(x.shape, dtype=bool)
    for thing in yard.things:
        if isinstance(thing, Tree):
            outline = thing.outline if thing.crown_base < height + 0.3 else Point(thing.at).buffer(max(thing.stem, 0.1))
        elif isinstance(thing, Building | Barrier | Post | OtherArray):
            outline = thing.outline
        else:
            continue
        found |= contains_xy(outline, x, y)
    return found
