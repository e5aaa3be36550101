"""Shadows of solids on glass: where a line of it begins and ends to lie behind a solid, in closed form.

A solid is convex, so the points of a line whose rays toward the light meet it are one stretch. Points of line l of row r are
origin + offsets step + s axis, and their rays run along ``way``. What differs by row is worked out in double precision, what
differs by line in single (a hundredth of a millimetre).
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.shade.solids import Body, Bools, Column, Ellipsoid, Solid

Floats = NDArray[np.float64]
Singles = NDArray[np.float32]
LEAST_CLIMB = 1e-4  # m: a column's shadow that rises by less along its whole length is taken to rise by this
LEVEL = 1e-12  # a bound that changes by less along a line holds all along it or nowhere
THIN = 1e-6  # m: the least half-breadth of an ellipse's shadow, so that nothing is divided by


@dataclass(frozen=True, eq=False)
class Lines:
    """``origin``, ``axis``, ``step``, ``way`` (R, 3); ``offsets`` (R, L). ``axis`` and ``step`` are unit vectors at right
    angles, ``way`` points out of their plane toward the light."""

    origin: Floats
    axis: Floats
    step: Floats
    way: Floats
    offsets: Singles


def spans(solid: Solid, lines: Lines) -> tuple[Singles, Singles]:
    """Where each line begins and ends to lie behind a solid (R, L), m along its axis; the end is not beyond the beginning
    where it nowhere does."""
    if isinstance(solid, Body):
        return _body(solid, lines)
    if isinstance(solid, Column):
        return _column(solid, lines)
    if isinstance(solid, Ellipsoid):
        return _ellipsoid(solid, lines)
    raise TypeError(f"no shadow of a {type(solid).__name__} in closed form")


def _body(body: Body, lines: Lines) -> tuple[Singles, Singles]:
    """A ray meets it where it enters through every face before it leaves through any: for faces i and j that share an edge,

        room_i / speed_i < room_j / speed_j    with speed_i < 0 < speed_j,

    which is linear in the point; and every face it leaves through must lie ahead.
    """
    speed, room = lines.way @ body.normals.T, body.offsets - lines.origin @ body.normals.T
    up, along = lines.step @ body.normals.T, lines.axis @ body.normals.T
    i, j = body.edges.T
    turn = np.where((speed[:, i] < 0) & (speed[:, j] > 0), 1.0, np.where((speed[:, i] > 0) & (speed[:, j] < 0), -1.0, 0.0))
    leaves = (speed >= 0).astype(float)
    constant, rise, slope = (
        np.concatenate([sign * turn * (part[:, i] * speed[:, j] - part[:, j] * speed[:, i]), sign * leaves * part], axis=1)
        for part, sign in ((room, 1), (up, -1), (along, -1))
    )
    low, high = (np.full(lines.offsets.shape, end, dtype=np.float32) for end in (-np.inf, np.inf))
    _keep(np.maximum, low, slope > LEVEL, constant, rise, slope, lines.offsets)
    _keep(np.minimum, high, slope < -LEVEL, constant, rise, slope, lines.offsets)
    level = (np.concatenate([turn, leaves], axis=1) != 0) & (np.abs(slope) <= LEVEL)
    for bound in np.flatnonzero(level.any(axis=0)):
        rows = np.flatnonzero(level[:, bound])
        out = constant[rows, bound, None] + rise[rows, bound, None] * lines.offsets[rows] <= 0
        low[rows] = np.where(out, np.inf, low[rows])
    return low, high


def _keep(keep: np.ufunc, kept: Singles, some: Bools, constant: Floats, rise: Floats, slope: Floats, offsets: Singles) -> None:
    """The nearest of the bounds constant + rise offset + slope s = 0, ``some`` (R, K) of them, on each line, into ``kept``."""
    rows = np.arange(len(some))
    none = np.inf if keep is np.minimum else -np.inf
    order = np.argsort(~some, axis=1, kind="stable")
    for bound in order.T[: some.sum(axis=1).max(initial=0)]:
        here = some[rows, bound]
        steep = np.where(here, slope[rows, bound], 1.0)
        at = _single(np.where(here, -rise[rows, bound] / steep, 0.0)) * offsets
        at += _single(np.where(here, -constant[rows, bound] / steep, none))
        keep(kept, at, out=kept)


def _single(by_row: Floats) -> Singles:
    """(R,) as a column (R, 1) for work line by line."""
    return by_row.astype(np.float32)[:, None]


@dataclass(frozen=True, eq=False)
class _Plane:
    """Shadows on the plane of the lines along their way: point X falls at s = (X - origin) @ along on the line with the offset
    (X - origin) @ up, from ``ahead`` (X - origin) in front of the glass, each (R, 3)."""

    along: Floats
    up: Floats
    ahead: Floats

    @classmethod
    def of(cls, lines: Lines) -> _Plane:
        normal = np.cross(lines.axis, lines.step)
        ahead = normal / (normal * lines.way).sum(axis=1)[:, None]
        lie = [edge - (edge * lines.way).sum(axis=1)[:, None] * ahead for edge in (lines.axis, lines.step)]
        return cls(lie[0], lie[1], ahead)


def _ellipse(along: Floats, up: Floats) -> tuple[Singles, Singles, Singles]:
    """The shadow of the unit ball (or disc) under the map ``along``, ``up`` (R, k): its half-breadth h across the lines, the
    lean a and the half-length b of its chord a y +- b sqrt(1 - (y / h)^2) at offset y, each (R, 1)."""
    breadth = np.maximum(np.sqrt((up * up).sum(axis=1)), THIN)
    both = (along * up).sum(axis=1) / breadth
    half = np.sqrt(np.maximum((along * along).sum(axis=1) - both * both, 0))
    return _single(breadth), _single(both / breadth), _single(half)


def _column(column: Column, lines: Lines) -> tuple[Singles, Singles]:
    """The hull of the shadows of its two ends, equal ellipses: on each line the ellipse, moved from one end to the other,
    that reaches farthest."""
    plane = _Plane.of(lines)
    breadth, lean, half = _ellipse(column.radius * plane.along[:, :2], column.radius * plane.up[:, :2])
    foot = np.append(column.middle, column.base) - lines.origin
    rise = column.top - column.base
    # The part of it in front of the glass.
    ahead, more = (foot * plane.ahead).sum(axis=1), plane.ahead[:, 2] * rise
    with np.errstate(divide="ignore", invalid="ignore"):
        cut = np.clip(-ahead / more, 0, 1)
    start = np.where(ahead >= 0, 0.0, np.where(more > 0, cut, 1.0))
    end = np.where(ahead + more >= 0, 1.0, np.where(more < 0, cut, 0.0))
    foot = foot + np.stack([np.zeros_like(start), np.zeros_like(start), start * rise], axis=1)
    tall = np.maximum(end - start, 0) * rise
    across, over = (_single((foot * part).sum(axis=1)) for part in (plane.along, plane.up))
    rises = plane.up[:, 2] * tall
    run, climb = _single(plane.along[:, 2] * tall), _single(np.where(np.abs(rises) < LEAST_CLIMB, LEAST_CLIMB, rises))
    # Farthest where the chord's end moves along with the ellipse.
    pull = (lean * climb - run) * breadth
    best = breadth * pull * np.sign(climb) / np.sqrt((half * climb) ** 2 + pull**2 + THIN**2)
    offset = lines.offsets - over
    least = np.maximum(np.minimum(offset, offset - climb), -breadth)
    most = np.minimum(np.maximum(offset, offset - climb), breadth)
    none = (least >= most) | ((end <= start)[:, None])
    found = []
    for side in (np.float32(-1), np.float32(1)):
        y = np.clip(side * best, least, most)
        chord = half * np.sqrt(np.maximum(1 - (y / breadth) ** 2, 0))
        found.append(across + np.clip((offset - y) / climb, 0, 1) * run + lean * y + side * chord)
    return np.where(none, np.float32(np.inf), found[0]), np.where(none, np.float32(-np.inf), found[1])


def _ellipsoid(crown: Ellipsoid, lines: Lines) -> tuple[Singles, Singles]:
    plane = _Plane.of(lines)
    breadth, lean, half = _ellipse(crown.radii * plane.along, crown.radii * plane.up)
    centre = crown.centre - lines.origin
    y = lines.offsets - _single((centre * plane.up).sum(axis=1))
    size = 1 - (y / breadth) ** 2
    chord = half * np.sqrt(np.maximum(size, 0))
    middle = _single((centre * plane.along).sum(axis=1)) + lean * y
    low, high = middle - chord, middle + chord
    # Ahead of the glass: where the ray still comes nearer to its centre.
    toward = lines.way / crown.radii**2
    slope = _single((toward * lines.axis).sum(axis=1))
    rest = _single((toward * lines.step).sum(axis=1)) * lines.offsets - _single((toward * centre).sum(axis=1))
    with np.errstate(divide="ignore", invalid="ignore"):
        at = -rest / slope
    high = np.where(slope > LEVEL, np.minimum(high, at), high)
    low = np.where(slope < -LEVEL, np.maximum(low, at), low)
    none = (size <= 0) | ((np.abs(slope) <= LEVEL) & (rest >= 0))
    return np.where(none, np.float32(np.inf), low), np.where(none, np.float32(-np.inf), high)
