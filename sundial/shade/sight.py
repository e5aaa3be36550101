"""What light reaches which point of the array, from which direction, past what."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.errors import BriefError
from sundial.shade.solids import Ball, Bools, Ellipsoid, directions_dot, struck
from sundial.shade.standing import Standing
from sundial.shade.yard import Tree, Yard

Floats = NDArray[np.float64]
OWN = "The array's own rows"


@dataclass(frozen=True, eq=False)
class Trace:
    """Rays that one layer of a thing catches: ``rows`` (R,) of the directions with any, ``struck`` (R, P) of them.
    ``light`` (12,) gets through by month."""

    owner: str
    light: Floats
    rows: NDArray[np.int64]
    struck: Bools


@dataclass(frozen=True, eq=False)
class Sight:
    """All rays from P points in D directions. ``traces`` name who catches them."""

    directions: int
    points: int
    traces: tuple[Trace, ...] = ()

    @property
    def owners(self) -> list[str]:
        """Things that catch any ray at all."""
        return list(dict.fromkeys(trace.owner for trace in self.traces))

    @property
    def states(self) -> tuple[list[int], NDArray[np.int64]]:
        """Months, 0 to 11, that stand for all with the same leaves, and which of them each month is like (12,)."""
        if not self.traces:
            return [0], np.zeros(12, dtype=np.int64)
        lights = np.stack([trace.light for trace in self.traces])
        months, state = np.unique(lights, axis=1, return_index=True, return_inverse=True)[1:]
        return months.tolist(), state.reshape(-1)

    def light(self, month: int, without: frozenset[str] = frozenset()) -> Floats:
        """Share of light (D, P) that gets through in ``month`` (0 to 11), with some things thought away."""
        through = np.ones((self.directions, self.points))
        for trace in self.traces:
            if trace.owner not in without and trace.light[month] < 1:
                through[trace.rows] *= np.where(trace.struck, trace.light[month], 1.0)
        return through

    def mean_light(self, without: frozenset[str] = frozenset()) -> Floats:
        """Share of light from each direction that gets through to the points on average, by month (12, D)."""
        months, state = self.states
        return np.stack([self.light(month, without).mean(axis=1) for month in months])[state]


def sight(things: Yard, points: Floats, directions: Floats, own: Sequence[Trace] = (), around: Ball | None = None) -> Sight:
    """Trace rays from ``points`` (P, 3), or (D, P, 3), in ``directions`` (D, 3) past a yard; ``around`` is a ball that is
    known to hold the points."""
    traces = list(own)
    ball = around or Ball.round(points)
    for thing, layers in zip(things.things, things.layers, strict=True):
        for layer in layers:
            made = _trace(thing.name, layer.light, struck(layer.solids, points, directions, ball))
            if made is not None:
                traces.append(made)
    return Sight(len(directions), points.shape[-2], tuple(traces))


def _trace(owner: str, light: Floats, met: Bools) -> Trace | None:
    rows = np.flatnonzero(met.any(axis=1))
    return Trace(owner, light, rows, met[rows]) if rows.size else None


def own_traces(
    standing: Standing, directions: Floats, tilts: Floats, azimuths: Floats, place: Floats, groups: NDArray[np.int64]
) -> list[Trace]:
    """What the frame's own parts, and the groups of the array among themselves, catch of rays from points ``place``
    (P, 2) on the glass of their ``groups`` (P,). ``tilts``, ``azimuths`` (D,)."""
    spot = standing.spot
    if not spot.parts and standing.groups == 1:
        return []
    axes = standing.axes(tilts, azimuths)
    turned = np.einsum("dkx,dx->dk", axes, directions)  # the sun as the glass sees it
    flat = np.column_stack([place, np.zeros(len(place))])
    dark = np.zeros(12)
    traces = []
    for part in spot.parts:
        made = _trace(part.name, dark, standing.part_body(part).struck(flat, turned))
        if made is not None:
            traces.append(made)
    if standing.groups > 1:
        glass = standing.group_body()
        met = np.zeros((len(directions), len(flat)), dtype=bool)
        still = np.ptp(tilts) == 0 and np.ptp(azimuths) == 0
        for front in range(standing.groups):
            for group in range(standing.groups):
                if group == front:
                    continue
                mine = np.flatnonzero(groups == group)
                shift = standing.origins[group] - standing.origins[front]
                if still:
                    met[:, mine] |= struck([glass], flat[mine] + axes[0] @ shift, turned)
                else:
                    met[:, mine] |= glass.struck(flat[mine] + np.einsum("dkx,x->dk", axes, shift)[:, None, :], turned)
        made = _trace(OWN, dark, met)
        if made is not None:
            traces.append(made)
    return traces


def see(standing: Standing, yard: Yard, directions: Floats, tilts: Floats, azimuths: Floats) -> Sight:
    """The sight of an array that faces ``tilts``, ``azimuths`` (D,) in each direction (D, 3).

    Directions behind the glass are not traced: nothing is in the way of light that does not fall on it.
    """
    samples = standing.samples
    t, a = np.radians(tilts), np.radians(azimuths)
    before = (directions * np.stack([np.sin(t) * np.sin(a), np.sin(t) * np.cos(a), np.cos(t)], axis=1)).sum(axis=1) > 0
    rows = np.flatnonzero(before)
    if not rows.size:
        return Sight(len(directions), len(samples.place))
    faced, tilts, azimuths = directions[rows], tilts[rows], azimuths[rows]
    own = own_traces(standing, faced, tilts, azimuths, samples.place, samples.group)
    still = np.ptp(tilts) == 0 and np.ptp(azimuths) == 0
    if still:
        seen = sight(yard, standing.points(tilts[:1], azimuths[:1])[0], faced, own)
    else:
        seen = sight(yard, standing.points(tilts, azimuths), faced, own, standing.ball)
    traces = tuple(Trace(trace.owner, trace.light, rows[trace.rows], trace.struck) for trace in seen.traces)
    return Sight(len(directions), len(samples.place), traces)


def see_dome(standing: Standing, yard: Yard, sky: Dome, tilt: float, azimuth: float) -> Sight:
    """The sight of the sky's patches from the middle of each traced panel."""
    samples = standing.samples
    count = len(samples.panels)
    place, group = samples.place.reshape(count, -1, 2).mean(axis=1), samples.group.reshape(count, -1)[:, 0]
    tilts, azimuths = np.full(len(sky.directions), tilt), np.full(len(sky.directions), azimuth)
    own = own_traces(standing, sky.directions, tilts, azimuths, place, group)
    return sight(yard, standing.middles(tilt, azimuth), sky.directions, own)


def refuse_inside(standing: Standing, yard: Yard, tilt: float, azimuth: float) -> None:
    """BriefError where the array, at this tilt, stands inside something."""
    from shapely import Polygon

    for corners in standing.corners(tilt, azimuth):
        plan = Polygon(corners[:, :2]).convex_hull.buffer(0.01)
        glass = _close_points(corners)
        for thing, layers in zip(yard.things, yard.layers, strict=True):
            for layer in layers:
                for solid in layer.solids:
                    if solid.bounds.plan.intersects(plan) and solid.holds(glass).any():
                        where = "the crown of " if isinstance(thing, Tree) and isinstance(solid, Ellipsoid) else ""
                        raise BriefError("spot", f"the array stands inside {where}“{thing.name}”: move the one or the other")


def _close_points(corners: Floats, step: float = 0.04) -> Floats:
    """Points all over a quadrangle (4, 3), ``step`` m apart or, on a large one, at most some 160 along each side."""
    along, up = corners[1] - corners[0], corners[3] - corners[0]
    counts = [int(np.clip(np.linalg.norm(side) / step, 8, 160)) for side in (along, up)]
    u, v = np.meshgrid(np.linspace(0, 1, counts[0]), np.linspace(0, 1, counts[1]))
    points: Floats = corners[0] + u.reshape(-1, 1) * along + v.reshape(-1, 1) * up
    return points


@dataclass(frozen=True, eq=False)
class SunBins:
    """The sun's places of a year gathered into ``directions`` (B, 3), with ``of_hour`` (hours,) the bin of each hour."""

    directions: Floats
    of_hour: NDArray[np.int64]


BIN = 1.2  # degrees of arc at the horizon; evenly 2.5 wide, single months came out up to 1.5 % off the sum hour by hour
WIDER = 40.0  # degrees of elevation over which the bins' width doubles: few things stand that high
TWILIGHT = 6.0  # degrees under the horizon down to which an hour may still hold some light


def sun_bins(east: Floats, north: Floats, up: Floats, size: float = BIN) -> SunBins:
    """Gather sun directions (hours,) into bins about ``size`` degrees wide, each at the mean of its hours weighted by the
    sine of their elevation. ``size`` 0: every hour by itself. Hours in the dark count for nothing."""
    sun = np.stack([east, north, np.maximum(up, 0.001)], axis=1)
    sun /= np.linalg.norm(sun, axis=1)[:, None]
    if size <= 0:
        return SunBins(sun, np.arange(len(sun)))
    lit = np.flatnonzero(up > -np.sin(np.radians(TWILIGHT)))
    elevation = np.degrees(np.arcsin(np.clip(sun[lit, 2], -1, 1)))
    ring = np.floor(WIDER / size * np.log1p(elevation / WIDER))
    middle = WIDER * np.expm1((ring + 0.5) * size / WIDER)
    width = size * (1 + middle / WIDER)
    around = np.floor(np.degrees(np.arctan2(sun[lit, 0], sun[lit, 1])) % 360 * np.cos(np.radians(middle)) / width)
    _, found = np.unique(ring * 1000 + around, return_inverse=True)
    of_hour = np.zeros(len(sun), dtype=np.int64)
    of_hour[lit] = found.reshape(-1)
    heavy = np.maximum(up[lit], 0.01)
    mean = np.stack([np.bincount(of_hour[lit], weights=sun[lit, k] * heavy) for k in range(3)], axis=1)
    return SunBins(mean / np.linalg.norm(mean, axis=1)[:, None], of_hour)


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


def dome(rings: int = 12) -> Dome:
    """A sky of patches of nearly equal size: ``rings`` bands of elevation, 12 give 288 patches of about 7.5 degrees."""
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
