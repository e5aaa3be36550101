"""Rays against the three solids that everything in a yard is made of: convex bodies with flat faces, columns, ellipsoids.

Coordinates in metres: x east, y north, z up. A ray starts at a point and runs along a unit vector toward the light.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
PARALLEL = 1e-9  # a ray this close to parallel with a face neither enters nor leaves through it
NEAR = 1e-6  # m: what touches the point itself is not in its way
CORNERS = 32  # of the prism that encloses a column
DEEP = 1e4  # m: how far down bodies without a floor go on


@dataclass(frozen=True, eq=False)
class Bounds:
    """What encloses a solid: the ball about ``centre`` (3,) with ``reach`` m, its ``top`` height, its ``plan``, points
    ``around`` it in plan (V, 2), and few ``corners`` (C, 3) whose hull it lies in."""

    centre: Floats
    reach: float
    top: float
    plan: Any
    around: Floats
    corners: Floats

    @classmethod
    def of(cls, corners: Floats) -> Bounds:
        from shapely import MultiPoint

        centre = (corners.min(axis=0) + corners.max(axis=0)) / 2
        wider = (corners - centre) * 1.05  # the corners of something round lie on it
        reach = float(np.sqrt((wider**2).sum(axis=1).max()))
        plan = MultiPoint(corners[:, :2]).convex_hull
        ends = corners
        if len(corners) > 16:
            half = np.abs(wider).max(axis=0)
            ends = centre + half * np.array([(x, y, z) for x in (-1, 1) for y in (-1, 1) for z in (-1, 1)])
        return cls(centre, reach, float(corners[:, 2].max()), plan, centre[:2] + wider[:, :2], ends)


class Solid(Protocol):
    """A body that light may strike. ``corners`` (V, 3) enclose it (its shadow is that of their hull)."""

    @property
    def corners(self) -> Floats: ...

    @property
    def bounds(self) -> Bounds: ...

    def hits(self, points: Floats, directions: Floats) -> Bools:
        """Which rays meet the body. ``points`` (P, 3), or (D, P, 3) where they differ by direction; ``directions``
        (D, 3); result (D, P)."""
        ...

    def holds(self, points: Floats) -> Bools:
        """Which points (P, 3) lie inside (P,)."""
        ...

    def elevations(self, point: Floats, azimuths: Floats) -> tuple[Floats, Floats]:
        """Lowest and highest elevation (A,), degrees from -90 to 90, at which a ray from a ``point`` (3,) meets the body at
        each of the ``azimuths`` (A,), degrees; NaN where none does."""
        ...


@dataclass(frozen=True, eq=False)
class Body:
    """Convex, flat-faced: the points x with ``normals`` (F, 3) @ x <= ``offsets`` (F,). ``edges`` (E, 2): pairs of faces
    among which are all that share an edge."""

    normals: Floats
    offsets: Floats
    corners: Floats
    edges: NDArray[np.int64]

    @cached_property
    def bounds(self) -> Bounds:
        return Bounds.of(self.corners)

    def hits(self, points: Floats, directions: Floats) -> Bools:
        met = np.empty((len(directions), points.shape[-2]), dtype=bool)
        room = self.offsets - points @ self.normals.T  # distance to each face's plane, (P, F) or (D, P, F)
        room = np.ascontiguousarray(np.moveaxis(room, -1, 0))
        speed = directions @ self.normals.T
        way = np.where(speed > PARALLEL, 1, np.where(speed < -PARALLEL, -1, 0))
        # Directions that enter and leave through the same faces are taken together.
        pattern = way @ 3 ** np.arange(len(self.offsets))
        for code in np.unique(pattern):
            rows = np.flatnonzero(pattern == code)
            here = room if room.ndim == 2 else room[:, rows]
            signs = way[rows[0]]
            with np.errstate(divide="ignore"):
                pace = 1 / speed[rows]
            enter = self._bound(here, pace, np.flatnonzero(signs < 0), np.maximum, NEAR)
            leave = self._bound(here, pace, np.flatnonzero(signs > 0), np.minimum, np.inf)
            hit: Bools = np.asarray(enter < leave)
            for face in np.flatnonzero(signs == 0):
                hit[np.broadcast_to(here[face] < 0, hit.shape)] = False
            met[rows] = hit
        return met

    @staticmethod
    def _bound(room: Floats, pace: Floats, faces: NDArray[np.int64], keep: np.ufunc, start: float) -> Floats:
        """How far along the ray the last of its entries, or the first of its exits, lies (D, P)."""
        bound = np.full((len(pace), room.shape[-1]), start)
        for face in faces:
            keep(bound, room[face] * pace[:, face, None], out=bound)
        return bound

    def holds(self, points: Floats) -> Bools:
        inside: Bools = np.all(points @ self.normals.T < self.offsets - NEAR, axis=1)
        return inside

    def elevations(self, point: Floats, azimuths: Floats) -> tuple[Floats, Floats]:
        """The body cut by the upright half-plane at each azimuth is a convex polygon: its outermost corners count.

        In that half-plane, s along and t up from the point, a face is n_h s + n_z t <= room; s >= 0, and t >= -DEEP closes
        bodies that have no floor.
        """
        turn = np.radians(azimuths)
        along = np.stack([np.sin(turn), np.cos(turn)], axis=1) @ self.normals[:, :2].T
        ends = np.ones((len(turn), 1)) * [-1.0, 0.0]
        across = np.concatenate([along, ends], axis=1)
        up = np.append(self.normals[:, 2], [0.0, -1.0])
        room = np.append(self.offsets - self.normals @ point, [0.0, DEEP])
        first, second = np.triu_indices(len(up), 1)
        det = across[:, first] * up[second] - across[:, second] * up[first]
        with np.errstate(divide="ignore", invalid="ignore"):
            s = (room[first] * up[second] - room[second] * up[first]) / det
            t = (across[:, first] * room[second] - across[:, second] * room[first]) / det
            over = s[..., None] * across[:, None, :] + t[..., None] * up - room
            corner = (np.abs(det) > PARALLEL) & (over <= NEAR).all(axis=2)
        angle = np.degrees(np.arctan2(t, np.maximum(s, 0)))
        low = np.where(corner, angle, np.inf).min(axis=1)
        high = np.where(corner, angle, -np.inf).max(axis=1)
        if (room >= 0).all():  # the point is inside
            low, high = np.full(len(turn), -90.0), np.full(len(turn), 90.0)
        return _none_where(low > high, low, high)


@dataclass(frozen=True, eq=False)
class Column:
    """Upright and round about ``middle`` (2,) with ``radius`` m, between heights ``base`` and ``top``."""

    middle: Floats
    radius: float
    base: float
    top: float

    @cached_property
    def corners(self) -> Floats:
        turn = np.arange(CORNERS) * 2 * np.pi / CORNERS
        reach = self.radius / np.cos(np.pi / CORNERS)
        ring = self.middle + reach * np.column_stack([np.sin(turn), np.cos(turn)])
        ends = [np.column_stack([ring, np.full(CORNERS, height)]) for height in (self.base, self.top)]
        return np.concatenate(ends)

    @cached_property
    def bounds(self) -> Bounds:
        return Bounds.of(self.corners)

    def hits(self, points: Floats, directions: Floats) -> Bools:
        start, way, climb = points[..., :2] - self.middle, directions[:, :2], directions[:, 2]
        a = np.maximum((way * way).sum(axis=1), 1e-18)
        b = directions_dot(way, start)
        crossed = b * b - a[:, None] * ((start * start).sum(axis=-1) - self.radius**2)
        met: Bools = crossed > 0
        row, column = np.nonzero(met)  # few: most columns are thin
        half = np.sqrt(crossed[row, column])
        enter = np.maximum((-b[row, column] - half) / a[row], NEAR)
        leave = (half - b[row, column]) / a[row]
        height = points[column, 2] if points.ndim == 2 else points[row, column, 2]
        ends = height + enter * climb[row], height + leave * climb[row]
        met[row, column] = (enter < leave) & (np.minimum(*ends) < self.top) & (np.maximum(*ends) > self.base)
        return met

    def holds(self, points: Floats) -> Bools:
        near = ((points[:, :2] - self.middle) ** 2).sum(axis=1) < self.radius**2
        inside: Bools = near & (points[:, 2] > self.base) & (points[:, 2] < self.top)
        return inside

    def elevations(self, point: Floats, azimuths: Floats) -> tuple[Floats, Floats]:
        turn, start = np.radians(azimuths), point[:2] - self.middle
        toward = -(np.sin(turn) * start[0] + np.cos(turn) * start[1])
        crossed = toward * toward - (start @ start - self.radius**2)
        half = np.sqrt(np.maximum(crossed, 0))
        near, far = np.maximum(toward - half, 0), toward + half
        base, top = self.base - point[2], self.top - point[2]
        low = np.degrees(np.arctan2(base, far if base > 0 else near))
        high = np.degrees(np.arctan2(top, near if top > 0 else far))
        return _none_where((crossed <= 0) | (far <= 0), low, high)


@dataclass(frozen=True, eq=False)
class Ellipsoid:
    """Upright ellipsoid about ``centre`` (3,) with half-axes ``radii`` (3,)."""

    centre: Floats
    radii: Floats

    @cached_property
    def corners(self) -> Floats:
        turn = np.radians(np.arange(0, 360, 15))
        height = np.radians(np.arange(-75, 90, 15))
        ring = np.stack(np.broadcast_arrays(
            np.cos(height)[:, None] * np.cos(turn), np.cos(height)[:, None] * np.sin(turn), np.sin(height)[:, None]
        ), axis=-1).reshape(-1, 3)  # fmt: skip
        poles = np.array([[0.0, 0, 1], [0, 0, -1]])
        points: Floats = self.centre + np.concatenate([ring, poles]) * self.radii
        return points

    @cached_property
    def bounds(self) -> Bounds:
        return Bounds.of(self.corners)

    def hits(self, points: Floats, directions: Floats) -> Bools:
        start = (points - self.centre) / self.radii  # a unit sphere in stretched space
        along = directions / self.radii
        a = (along * along).sum(axis=1)[:, None]
        b = directions_dot(along, start)
        c = (start * start).sum(axis=-1) - 1
        met: Bools = (b * b >= a * c) & ((b < 0) | (c < 0))
        return met

    def holds(self, points: Floats) -> Bools:
        inside: Bools = (((points - self.centre) / self.radii) ** 2).sum(axis=1) < 1
        return inside

    def elevations(self, point: Floats, azimuths: Floats) -> tuple[Floats, Floats]:
        """The upright plane at each azimuth cuts an ellipse, which is a circle once its height is scaled to its width."""
        turn, start = np.radians(azimuths), (point - self.centre) / self.radii
        run = np.stack([np.sin(turn) / self.radii[0], np.cos(turn) / self.radii[1]], axis=1)
        long, slant = (run * run).sum(axis=1), run @ start[:2]
        size = 1 - start[:2] @ start[:2] + slant * slant / long  # squared radius, with the ellipsoid's own as 1
        radius = np.sqrt(np.maximum(size, 1e-18))
        width, height = radius / np.sqrt(long), radius * self.radii[2]
        s, t = -slant / long / width, (self.centre[2] - point[2]) / height
        away = np.hypot(s, t)
        middle, half = np.arctan2(t, s), np.arcsin(1 / np.maximum(away, 1))
        inside = away <= 1
        low = np.where(inside, -np.pi / 2, np.maximum(middle - half, -np.pi / 2))
        high = np.where(inside, np.pi / 2, np.minimum(middle + half, np.pi / 2))
        stretch = height / width
        low, high = (np.degrees(np.arctan2(np.sin(e) * stretch, np.cos(e))) for e in (low, high))
        return _none_where((size <= 0) | (low >= high), low, high)


def _none_where(none: Bools, low: Floats, high: Floats) -> tuple[Floats, Floats]:
    return np.where(none, np.nan, low), np.where(none, np.nan, high)


def directions_dot(directions: Floats, points: Floats) -> Floats:
    """Dot products (D, P) of directions (D, 3) with points (P, 3) or (D, P, 3)."""
    dots: Floats = directions @ points.T if points.ndim == 2 else np.einsum("dk,dpk->dp", directions, points)
    return dots


@dataclass(frozen=True, eq=False)
class Ball:
    """The ball round some points: ``middle`` (3,) and ``radius`` m; ``low`` is the height of the lowest."""

    middle: Floats
    radius: float
    low: float

    @cached_property
    def plan(self) -> Any:
        from shapely import Point

        return Point(self.middle[:2])

    @classmethod
    def round(cls, points: Floats) -> Ball:
        """The ball round points (..., 3)."""
        flat = points.reshape(-1, 3)
        middle = (flat.min(axis=0) + flat.max(axis=0)) / 2
        return cls(middle, float(np.sqrt(((flat - middle) ** 2).sum(axis=1).max())), float(flat[:, 2].min()))

    def may_meet(self, solid: Solid, directions: Floats, spread: float = 0.0) -> Bools:
        """Directions (D,) in which a ray from the ball can meet a solid at all: those that pass near its own ball and
        do not climb over its top on the way. Rays may stray from their direction by ``spread``, radians."""
        bounds = solid.bounds
        away = bounds.centre - self.middle
        reach = bounds.reach + self.radius + 0.01 + spread * float(np.sqrt(away @ away))
        forward = directions @ away
        aside = (away @ away) - forward * forward
        level = np.hypot(directions[:, 0], directions[:, 1])
        gap = max(bounds.plan.distance(self.plan) - self.radius, 0.0)
        climbs = (directions[:, 2] - spread) * gap > (max(bounds.top - self.low, 0.0) + 0.01) * (level + spread)
        near: Bools = (aside <= reach * reach) & (forward > -reach) & ~climbs
        if gap > 0 and near.any():
            near &= self._toward(bounds, directions, spread / np.maximum(level, spread + 1e-9))
        return near

    def _toward(self, bounds: Bounds, directions: Floats, stray: Floats) -> Bools:
        """Directions (D,) whose bearing lies between the outermost that lead from the ball to a solid beside it, or within
        ``stray`` (D,) radians of them."""
        corners = bounds.around - self.middle[:2]
        distance = np.hypot(corners[:, 0], corners[:, 1])
        if (distance <= self.radius).any():
            return np.ones(len(directions), dtype=bool)
        home = np.arctan2(*(bounds.centre[:2] - self.middle[:2]))
        bearing = (np.arctan2(corners[:, 0], corners[:, 1]) - home + np.pi) % (2 * np.pi) - np.pi
        wide = np.arcsin(self.radius / distance)
        first, last = (bearing - wide).min() - 1e-6 - stray, (bearing + wide).max() + 1e-6 + stray
        turn = np.arctan2(directions[:, 0], directions[:, 1]) - home - first
        found: Bools = turn % (2 * np.pi) <= last - first
        return found


def hits(solids: Sequence[Solid], points: Floats, directions: Floats, ball: Ball | None = None) -> Bools:
    """Rays that meet any of the solids (D, P). ``ball`` is that of the points, where it is known."""
    found = np.zeros((len(directions), points.shape[-2]), dtype=bool)
    around = ball or Ball.round(points)
    for solid in solids:
        near = around.may_meet(solid, directions)
        if near.all():
            found |= solid.hits(points, directions)
        elif near.any():
            found[near] |= solid.hits(points if points.ndim == 2 else points[near], directions[near])
    return found


def box(low: Sequence[float], high: Sequence[float], frame: Floats | None = None, origin: Floats | None = None) -> Body:
    """A box between two corners of a frame: rows of ``frame`` (3, 3) are its unit axes, ``origin`` (3,) where it begins."""
    axes = np.eye(3) if frame is None else frame
    start = np.zeros(3) if origin is None else origin
    normals = np.concatenate([axes, -axes])
    base = axes @ start
    offsets = np.concatenate([base + np.asarray(high, dtype=float), -(base + np.asarray(low, dtype=float))])
    ends = np.array([[low[i], high[i]] for i in range(3)], dtype=float)
    grid = np.stack(np.meshgrid(*ends, indexing="ij"), axis=-1).reshape(-1, 3)
    edges = [(i, j) for i in range(6) for j in range(i + 1, 6) if j != i + 3]
    return Body(normals, offsets, start + grid @ axes, np.array(edges))


def prism(footprint: Floats, base: float, tops: Sequence[tuple[float, float, float]]) -> Body:
    """An upright body over a convex ``footprint`` (V, 2), from anywhere below up to the lowest of the planes ``tops``, each
    z = a + b x + c y. Its corners are those of the footprint at ``base`` and at the top, the ridge's ends too."""
    from shapely import LineString, Polygon
    from shapely.ops import split

    ring = np.asarray(footprint, dtype=float)
    area = np.sum(ring[:, 0] * np.roll(ring[:, 1], -1) - np.roll(ring[:, 0], -1) * ring[:, 1])
    if area < 0:
        ring = ring[::-1]
    edge = np.roll(ring, -1, axis=0) - ring
    length = np.hypot(edge[:, 0], edge[:, 1])
    outward = np.stack([edge[:, 1], -edge[:, 0]], axis=1) / length[:, None]
    sides = np.column_stack([outward, np.zeros(len(ring))])
    slopes = np.array([[-b, -c, 1.0] for _, b, c in tops])
    size = np.linalg.norm(slopes, axis=1)
    normals = np.concatenate([sides, slopes / size[:, None]])
    offsets = np.concatenate([(outward * ring).sum(axis=1), np.array([a for a, _, _ in tops]) / size])
    marks = [ring]
    if len(tops) == 2:  # the ridge, where the two planes cross
        (a1, b1, c1), (a2, b2, c2) = tops
        across = np.array([b1 - b2, c1 - c2])
        if across @ across > 1e-12:
            on = -(a1 - a2) * across / (across @ across)
            run = np.array([-across[1], across[0]]) / np.sqrt(across @ across) * 1e4
            pieces = split(Polygon(ring), LineString([on - run, on + run])).geoms
            marks += [np.asarray(piece.exterior.coords)[:-1] for piece in pieces]
    plan = np.unique(np.round(np.concatenate(marks), 9), axis=0)
    height = np.min([a + plan @ np.array([b, c]) for a, b, c in tops], axis=0)
    corners = np.concatenate([np.column_stack([plan, np.full(len(plan), base)]), np.column_stack([plan, height])])
    walls, faces = len(ring), len(ring) + len(tops)
    edges = [(i, (i + 1) % walls) for i in range(walls)]
    edges += [(i, roof) for roof in range(walls, faces) for i in range(roof)]
    return Body(normals, offsets, corners, np.array(edges))
