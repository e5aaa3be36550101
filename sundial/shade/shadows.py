"""Drawings' geometry: shadows on the ground, and things as they stand against the sky of a point."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from sundial.shade.ground import Ground, Layer
from sundial.shade.solids import Floats
from sundial.shade.yard import Yard

LOWEST_SUN = 2.0  # degrees: under it shadows run off the plan
LONGEST = 120.0  # m of shadow drawn


@dataclass(frozen=True, eq=False)
class Shadow:
    """A thing's shadow on the ground: ``rings`` of plan corners (V, 2); ``light`` is what gets through in that month."""

    name: str
    rings: list[Floats]
    light: float


def shadows(yard: Yard, azimuth: float, elevation: float, month: int) -> list[Shadow]:
    """Shadows under a sun at ``azimuth``, ``elevation`` (degrees) in ``month`` (0 to 11); none with the sun near set."""
    if elevation < LOWEST_SUN:
        return []
    sun = unit(azimuth, elevation)
    return [
        Shadow(thing.name, _rings(layer, sun, yard.ground), float(layer.light[month]))
        for thing, layers in zip(yard.things, yard.layers, strict=True)
        for layer in layers
        if layer.light[month] < 1
    ]


def unit(azimuth: float, elevation: float) -> Floats:
    """Unit vector toward an azimuth and elevation in degrees."""
    a, e = np.radians(azimuth), np.radians(elevation)
    return np.array([np.cos(e) * np.sin(a), np.cos(e) * np.cos(a), np.sin(e)])


def cast(corners: Floats, sun: Floats, ground: Ground) -> Floats:
    """Where the shadows of points (V, 3) fall on the ground (V, 2)."""
    slope = ground.gradient
    over = corners[:, 2] - corners[:, :2] @ slope
    fall = sun[2] - sun[:2] @ slope
    run = np.clip(over / max(fall, 0.02), 0, LONGEST)
    found: Floats = corners[:, :2] - run[:, None] * sun[:2]
    return found


def _rings(layer: Layer, sun: Floats, ground: Ground) -> list[Floats]:
    from shapely import MultiPoint, unary_union

    hulls = [MultiPoint(cast(solid.corners, sun, ground)).convex_hull for solid in layer.solids]
    whole = unary_union([hull for hull in hulls if hull.area > 1e-6])
    parts = getattr(whole, "geoms", [whole])
    return [np.asarray(part.exterior.coords)[:-1] for part in parts if not part.is_empty]


@dataclass(frozen=True, eq=False)
class Outline:
    """A layer of a thing against the sky: elevations ``low`` to ``high`` (A,) at ``azimuths`` (A,), which run on past
    360 where it stands across the north; ``light`` (12,) by month."""

    name: str
    azimuths: Floats
    low: Floats
    high: Floats
    light: Floats


STEP = 0.5  # degrees of azimuth


def outlines(yard: Yard, point: Floats) -> list[Outline]:
    """Every thing as it stands against the sky of ``point`` (3,)."""
    made = []
    for thing, layers in zip(yard.things, yard.layers, strict=True):
        for layer in layers:
            outline = _outline(thing.name, layer, point)
            if outline is not None:
                made.append(outline)
    return made


def _outline(name: str, layer: Layer, point: Floats) -> Outline | None:
    corners = np.concatenate([solid.corners for solid in layer.solids]) - point
    middle = corners[:, :2].mean(axis=0)
    home = np.degrees(np.arctan2(*middle))
    turn = (np.degrees(np.arctan2(corners[:, 0], corners[:, 1])) - home + 180) % 360 - 180
    inside = any(solid.bounds.plan.buffer(0.05).covers(_plan(point)) for solid in layer.solids)
    start, end = (-180.0, 180.0) if inside else (turn.min() - STEP, turn.max() + STEP)
    around = np.arange(np.floor((home + start) / STEP), np.ceil((home + end) / STEP) + 1) * STEP
    around = _with_edges(around, home + turn)
    found = [solid.elevations(point, around) for solid in layer.solids]
    low = np.fmin.reduce([each[0] for each in found])
    high = np.fmax.reduce([each[1] for each in found])
    seen = np.flatnonzero(high > 0)  # False where nothing is met
    if not seen.size:
        return None
    return Outline(name, around[seen], np.maximum(low[seen], 0.0), high[seen], layer.light)


def _plan(point: Floats):  # type: ignore[no-untyped-def]
    from shapely import Point

    return Point(point[:2])


def _with_edges(around: Floats, corners: Floats) -> Floats:
    """Thin things fall between steps of azimuth: their own corners' azimuths, a hair inside, are looked at too."""
    if len(around) > 24:
        return around
    return np.unique(np.concatenate([around, corners * 0.999 + corners.mean() * 0.001]))


def skyline_of(yard: Yard, point: Floats, azimuths: Floats) -> Floats:
    """The yard as a skyline (A,): the highest elevation that anything reaches at each azimuth, crowns counted as solid."""
    found = np.zeros(len(azimuths))
    for outline in outlines(yard, point):
        x = np.mod(azimuths - outline.azimuths[0], 360) + outline.azimuths[0]
        reach = np.interp(x, outline.azimuths, outline.high, left=0.0, right=0.0)
        found = np.maximum(found, reach)
    return found
