"""Tracing an array, whose facing may differ by direction, past the yard and past itself: the sun on its cells, the dome on
its sections.

The sun is a disc: every line of a cell sees a point of its own on it, so that over a cell a shadow's edge has its half-shade.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np
from numpy.typing import NDArray

from sundial.errors import BriefError
from sundial.shade.cells import CellGrid, Places
from sundial.shade.dome import Dome
from sundial.shade.geometry import ArrayGeometry
from sundial.shade.ground import Layer
from sundial.shade.rays import OWN, Floats, Keep, LayerHits, RayTrace, anew, layer_hits, month_states, trace_rays
from sundial.shade.solids import Ellipsoid, Solid, hits
from sundial.shade.spans import Lines, spans
from sundial.shade.yard import Thing, Tree, Yard

SUN_RADIUS = np.radians(0.2666)  # of the disc at the mean distance
GOLDEN = np.pi * (3 - np.sqrt(5))
MANY = 40  # sections: of so many the rays of one tilt are work enough to be traced by themselves
PIECE = 40_000  # stretches worked out at a time


@dataclass(frozen=True, eq=False)
class Stretches:
    """Shadow of one solid: in the directions ``rows`` (R,), rising, the places ``first`` to ``last`` (R, G * L) that it covers
    on each line of the cells, the last not counted."""

    rows: NDArray[np.int64]
    first: Places
    last: Places


@dataclass(frozen=True, eq=False)
class LayerShadow:
    """Shadow of one layer of an obstacle: of each of its solids; ``light`` (12,) is what passes it, by month; ``owner``: name of
    the obstacle."""

    owner: str
    light: Floats
    stretches: tuple[Stretches, ...]

    @property
    def rows(self) -> NDArray[np.int64]:
        """Directions with any shadow."""
        return np.unique(np.concatenate([each.rows for each in self.stretches]))


@dataclass(frozen=True, eq=False)
class SunTrace:
    """Shadows on the cells of an array from ``directions`` of the sun."""

    directions: int
    layers: tuple[LayerShadow, ...] = ()

    @property
    def states(self) -> tuple[list[int], NDArray[np.int64]]:
        """Months, 0 to 11, that stand for all with the same leaves, and which of them each month is like (12,)."""
        return month_states([layer.light for layer in self.layers])

    def part(self, start: int, count: int) -> SunTrace:
        """The trace of ``count`` directions from ``start``."""
        layers = []
        for layer in self.layers:
            found = []
            for each in layer.stretches:
                low, high = np.searchsorted(each.rows, [start, start + count])
                if high > low:
                    found.append(Stretches(each.rows[low:high] - start, each.first[low:high], each.last[low:high]))
            if found:
                layers.append(LayerShadow(layer.owner, layer.light, tuple(found)))
        return SunTrace(count, tuple(layers))


@dataclass(frozen=True, eq=False)
class _Cast:
    """Suns and glass in the same coordinates: ``origin`` (D, G, 3) of the groups, ``axes`` (D, 2, 3) along a line and from line
    to line, ``way`` (D, 3) toward the sun."""

    cells: CellGrid
    origin: Floats
    axes: Floats
    way: Floats

    def stretches(self, solid: Solid, chosen: NDArray[np.int64]) -> Stretches | None:
        """Shadow of a solid in the ``chosen`` directions; None where it falls on no cell."""
        lines = self.cells.groups * self.cells.lines.size
        made = [self._part(solid, part) for part in _pieces(chosen[self._may_fall(solid, chosen)], lines)]
        made = [part for part in made if part.rows.size]
        if not made:
            return None
        return Stretches(*(np.concatenate([getattr(part, name) for part in made]) for name in ("rows", "first", "last")))

    def _may_fall(self, solid: Solid, chosen: NDArray[np.int64]) -> NDArray[np.bool_]:
        """Which of the ``chosen`` directions may throw the solid's shadow on any group: by the outermost of its corners'
        shadows. Of a solid that stands across the plane of the glass, all."""
        corners, along, step = solid.bounds.corners, self.axes[chosen, 0], self.axes[chosen, 1]
        normal = np.cross(along, step)
        slant = (normal * self.way[chosen]).sum(axis=1)
        corner = np.tensordot(corners, np.stack([along, step, normal, self.way[chosen]]), axes=(1, 2))  # (V, 4, n)
        start = np.einsum("ngx,knx->gkn", self.origin[chosen], np.stack([along, step, normal]))
        lean = [(edge * self.way[chosen]).sum(axis=1) for edge in (along, step)]
        found = np.zeros(len(chosen), dtype=bool)
        for group in start:
            distance = (corner[:, 2] - group[2]) / slant  # along the ray from the glass
            nearest, farthest = distance.min(axis=0), distance.max(axis=0)
            aside = SUN_RADIUS * farthest / slant
            falls = farthest > 0
            for axis, (first, last) in enumerate(self.cells.reach):
                fall = corner[:, axis] - group[axis] - distance * lean[axis]
                falls &= (nearest <= 0) | ((fall.min(axis=0) < last + aside) & (fall.max(axis=0) > first - aside))
            found |= falls
        return found

    def _part(self, solid: Solid, chosen: NDArray[np.int64]) -> Stretches:
        cells, groups = self.cells, self.cells.groups
        suns = _disc(self.way[chosen], cells.depth)  # (R, depth, 3)
        shape = (len(chosen), groups, cells.depth)
        low, high = spans(
            solid,
            Lines(
                np.broadcast_to(self.origin[chosen][:, :, None], (*shape, 3)).reshape(-1, 3),
                np.broadcast_to(self.axes[chosen, 0][:, None, None], (*shape, 3)).reshape(-1, 3),
                np.broadcast_to(self.axes[chosen, 1][:, None, None], (*shape, 3)).reshape(-1, 3),
                np.broadcast_to(suns[:, None], (*shape, 3)).reshape(-1, 3),
                np.broadcast_to(cells.lines, (*shape[:2], *cells.lines.shape)).reshape(-1, cells.lines.shape[1]),
            ),
        )
        first, last = (cells.places(end).reshape(*shape, -1) for end in (low, np.maximum(low, high)))
        some = (first < last).any(axis=(1, 2, 3))
        made = [each[some].swapaxes(2, 3).reshape(-1, groups * cells.lines.size) for each in (first, last)]
        return Stretches(chosen[some], *made)


def _pieces(chosen: NDArray[np.int64], lines: int) -> Iterator[NDArray[np.int64]]:
    size = max(1, PIECE // lines)
    for start in range(0, len(chosen), size):
        yield chosen[start : start + size]


def _disc(way: Floats, count: int) -> Floats:
    """``count`` points of the sun's disc about each of its directions (R, 3): (R, count, 3), their mean in its middle."""
    turn, reach = np.arange(count) * GOLDEN, SUN_RADIUS * np.sqrt((np.arange(count) + 0.5) / count)
    points = np.stack([reach * np.cos(turn), reach * np.sin(turn)], axis=1)
    points -= points.mean(axis=0)
    level = np.stack([way[:, 1], -way[:, 0], np.zeros(len(way))], axis=1)
    size = np.linalg.norm(level, axis=1)
    aside = np.where(size[:, None] > 1e-6, level / np.maximum(size, 1e-6)[:, None], [1.0, 0.0, 0.0])
    over = np.cross(aside, way)
    return np.asarray(way[:, None] + points[:, 0, None] * aside[:, None] + points[:, 1, None] * over[:, None])


def trace_array(
    geometry: ArrayGeometry, yard: Yard, directions: Floats, tilts: Floats, azimuths: Floats, keep: Keep = anew
) -> SunTrace:
    """Shadows on the cells of an array that faces ``tilts``, ``azimuths`` (D,) in each direction of the sun (D, 3); ``keep`` may
    know those of single things already.

    Directions behind the glass are not traced, since their light does not fall on it.
    """
    axes = geometry.axes(tilts, azimuths)
    rows = np.flatnonzero((directions * axes[:, 2]).sum(axis=1) > 0)
    if not rows.size:
        return SunTrace(len(directions))
    faced, axes = directions[rows], axes[rows]
    order = [0, 1] if geometry.array.portrait else [1, 0]
    layers = _own_shadows(geometry, faced, axes, order, rows)
    cast = _Cast(geometry.cells, np.broadcast_to(geometry.origins, (len(rows), *geometry.origins.shape)), axes[:, order], faced)

    def shadows(thing: Thing, parts: Sequence[Layer]) -> list[LayerShadow | None]:
        made = []
        for layer in parts:
            found = []
            for solid in layer.solids:
                near = np.flatnonzero(geometry.ball.may_meet(solid, faced, SUN_RADIUS))
                found.append(cast.stretches(solid, near) if near.size else None)
            made.append(_layer(thing.name, layer.light, found, rows))
        return made

    for thing, parts in zip(yard.things, yard.layers, strict=True):
        layers += keep(thing, partial(shadows, thing, parts))
    return SunTrace(len(directions), tuple(layer for layer in layers if layer is not None))


def _layer(owner: str, light: Floats, found: Sequence[Stretches | None], rows: NDArray[np.int64]) -> LayerShadow | None:
    stretches = tuple(Stretches(rows[each.rows], each.first, each.last) for each in found if each is not None)
    return LayerShadow(owner, light, stretches) if stretches else None


def _own_shadows(
    geometry: ArrayGeometry, faced: Floats, axes: Floats, order: list[int], rows: NDArray[np.int64]
) -> list[LayerShadow | None]:
    """Shadows of the frame's own parts and of the array's groups on each other, in the coordinates of the glass."""
    cells, dark = geometry.cells, np.zeros(12)
    turned = np.einsum("dkx,dx->dk", axes, faced)
    flat = np.broadcast_to(np.eye(3)[order], (len(faced), 2, 3))
    every = np.arange(len(faced))
    on_own = _Cast(cells, np.zeros((len(faced), cells.groups, 3)), flat, turned)
    found = [_layer(part.name, dark, [on_own.stretches(geometry.part_body(part), every)], rows) for part in geometry.spot.parts]
    if geometry.groups > 1:
        glass, behind = geometry.group_body(), []
        for front in range(geometry.groups):
            shift = np.einsum("dkx,gx->dgk", axes, geometry.origins - geometry.origins[front])
            made = _Cast(cells, shift, flat, turned).stretches(glass, every)
            behind.append(_other_groups(made, front, cells) if made else None)
        found.append(_layer(OWN, dark, behind, rows))
    return found


def _other_groups(made: Stretches, front: int, cells: CellGrid) -> Stretches | None:
    """The same without the group that casts it."""
    others = np.arange(cells.groups) != front
    last = np.where(np.repeat(others, cells.lines.size), made.last, 0)
    some = (last > made.first).any(axis=1)
    return Stretches(made.rows[some], np.minimum(made.first, last)[some], last[some]) if some.any() else None


def dome_hits(
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


def trace_dome(
    geometry: ArrayGeometry, yard: Yard, sky: Dome, tilts: Sequence[float], azimuth: float, keep: Keep = anew
) -> list[RayTrace]:
    """Trace the sky's patches from the middle of each traced section of planes at ``tilts``, ``azimuth`` (degrees): one trace a
    tilt, of small arrays all at once; ``keep`` may know the hits of single things already."""
    sections, patches = geometry.sections, len(sky.directions)
    if len(tilts) > 1 and len(sections.place) > MANY:
        return [trace_dome(geometry, yard, sky, [tilt], azimuth)[0] for tilt in tilts]  # too much to keep thing by thing
    directions = np.tile(sky.directions, (len(tilts), 1))
    tilt = np.repeat(np.asarray(tilts, dtype=float), patches)
    own = dome_hits(geometry, directions, tilt, np.full(len(tilt), azimuth), sections.place, sections.group)
    if len(tilts) == 1:
        return [trace_rays(yard, geometry.middles(tilts[0], azimuth), directions, own, keep=keep)]
    points = np.repeat(np.stack([geometry.middles(one, azimuth) for one in tilts]), patches, axis=0)
    seen = trace_rays(yard, points, directions, own, geometry.ball, keep)
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
