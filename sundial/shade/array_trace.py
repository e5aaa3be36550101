"""Tracing an array: rays from its sample points, whose facing may differ by direction, past the yard and past itself."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from sundial.errors import BriefError
from sundial.shade.dome import Dome
from sundial.shade.geometry import ArrayGeometry
from sundial.shade.rays import OWN, Floats, LayerHits, RayTrace, layer_hits, trace_rays
from sundial.shade.solids import Ellipsoid, hits
from sundial.shade.yard import Tree, Yard


def own_hits(
    geometry: ArrayGeometry, directions: Floats, tilts: Floats, azimuths: Floats, place: Floats, groups: NDArray[np.int64]
) -> list[LayerHits]:
    """Hits on the frame's own parts and of the array's groups on each other, for rays from points ``place`` (P, 2) on the
    glass of their ``groups`` (P,). ``tilts``, ``azimuths`` (D,): the facing in each direction."""
    spot = geometry.spot
    if not spot.parts and geometry.groups == 1:
        return []
    axes = geometry.axes(tilts, azimuths)
    turned = np.einsum("dkx,dx->dk", axes, directions)  # the sun as the glass sees it
    flat = np.column_stack([place, np.zeros(len(place))])
    dark = np.zeros(12)
    traces = []
    for part in spot.parts:
        made = layer_hits(part.name, dark, geometry.part_body(part).hits(flat, turned))
        if made is not None:
            traces.append(made)
    if geometry.groups > 1:
        glass = geometry.group_body()
        met = np.zeros((len(directions), len(flat)), dtype=bool)
        still = np.ptp(tilts) == 0 and np.ptp(azimuths) == 0
        for front in range(geometry.groups):
            for group in range(geometry.groups):
                if group == front:
                    continue
                mine = np.flatnonzero(groups == group)
                shift = geometry.origins[group] - geometry.origins[front]
                if still:
                    met[:, mine] |= hits([glass], flat[mine] + axes[0] @ shift, turned)
                else:
                    met[:, mine] |= glass.hits(flat[mine] + np.einsum("dkx,x->dk", axes, shift)[:, None, :], turned)
        made = layer_hits(OWN, dark, met)
        if made is not None:
            traces.append(made)
    return traces


def trace_array(geometry: ArrayGeometry, yard: Yard, directions: Floats, tilts: Floats, azimuths: Floats) -> RayTrace:
    """Trace the sample points of an array that faces ``tilts``, ``azimuths`` (D,) in each direction (D, 3).

    Directions behind the glass are not traced, since their light does not fall on it.
    """
    samples = geometry.samples
    t, a = np.radians(tilts), np.radians(azimuths)
    before = (directions * np.stack([np.sin(t) * np.sin(a), np.sin(t) * np.cos(a), np.cos(t)], axis=1)).sum(axis=1) > 0
    rows = np.flatnonzero(before)
    if not rows.size:
        return RayTrace(len(directions), len(samples.place))
    faced, tilts, azimuths = directions[rows], tilts[rows], azimuths[rows]
    own = own_hits(geometry, faced, tilts, azimuths, samples.place, samples.group)
    still = np.ptp(tilts) == 0 and np.ptp(azimuths) == 0
    if still:
        seen = trace_rays(yard, geometry.points(tilts[:1], azimuths[:1])[0], faced, own)
    else:
        seen = trace_rays(yard, geometry.points(tilts, azimuths), faced, own, geometry.ball)
    traces = tuple(LayerHits(trace.owner, trace.light, rows[trace.rows], trace.hits) for trace in seen.traces)
    return RayTrace(len(directions), len(samples.place), traces)


def trace_dome(geometry: ArrayGeometry, yard: Yard, sky: Dome, tilts: Sequence[float], azimuth: float) -> list[RayTrace]:
    """Trace the sky's patches from the middle of each sampled panel of planes at ``tilts``, ``azimuth`` (degrees), all at
    once: one trace a tilt."""
    samples, patches = geometry.samples, len(sky.directions)
    count = len(samples.panels)
    place, group = samples.place.reshape(count, -1, 2).mean(axis=1), samples.group.reshape(count, -1)[:, 0]
    directions = np.tile(sky.directions, (len(tilts), 1))
    tilt = np.repeat(np.asarray(tilts, dtype=float), patches)
    own = own_hits(geometry, directions, tilt, np.full(len(tilt), azimuth), place, group)
    if len(tilts) == 1:
        return [trace_rays(yard, geometry.middles(tilts[0], azimuth), directions, own)]
    points = np.repeat(np.stack([geometry.middles(one, azimuth) for one in tilts]), patches, axis=0)
    seen = trace_rays(yard, points, directions, own)
    return [_part(seen, start, patches) for start in range(0, len(tilt), patches)]


def _part(trace: RayTrace, start: int, count: int) -> RayTrace:
    """The trace of ``count`` directions from ``start``."""
    parts = []
    for layer in trace.traces:
        low, high = np.searchsorted(layer.rows, [start, start + count])
        if high > low:
            parts.append(LayerHits(layer.owner, layer.light, layer.rows[low:high] - start, layer.hits[low:high]))
    return RayTrace(count, trace.points, tuple(parts))


def refuse_inside(geometry: ArrayGeometry, yard: Yard, tilt: float, azimuth: float) -> None:
    """BriefError where the array, at this tilt, stands inside something."""
    from shapely import Polygon

    for corners in geometry.corners(tilt, azimuth):
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
