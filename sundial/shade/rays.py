"""Ray tracing: which obstacle, if any, stands between a point and a direction of light."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial
from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray

from sundial.shade.ground import Layer
from sundial.shade.solids import Ball, Bools, hits
from sundial.shade.yard import Thing, Yard

Floats = NDArray[np.float64]
OWN = "The array's own rows"


@dataclass(frozen=True, eq=False)
class LayerHits:
    """Rays that hit one layer of an obstacle. ``rows`` (R,): indices of the directions with any hit; ``hits`` (R, P): which
    points; ``light`` (12,): share that passes the layer, by month; ``owner``: name of the obstacle."""

    owner: str
    light: Floats
    rows: NDArray[np.int64]
    hits: Bools


@dataclass(frozen=True, eq=False)
class RayTrace:
    """Result of tracing rays from P points in D directions: the hits of each obstacle's layers."""

    directions: int
    points: int
    traces: tuple[LayerHits, ...] = ()

    @property
    def owners(self) -> list[str]:
        """Names of obstacles hit by any ray."""
        return list(dict.fromkeys(trace.owner for trace in self.traces))

    @property
    def states(self) -> tuple[list[int], NDArray[np.int64]]:
        """Months, 0 to 11, that stand for all with the same leaves, and which of them each month is like (12,)."""
        return month_states([trace.light for trace in self.traces])

    def light(self, month: int, without: frozenset[str] = frozenset()) -> Floats:
        """Share of light (D, P) that gets through in ``month`` (0 to 11), without some obstacles."""
        through = np.ones((self.directions, self.points))
        for trace in self.traces:
            if trace.owner not in without and trace.light[month] < 1:
                through[trace.rows] *= np.where(trace.hits, trace.light[month], 1.0)
        return through

    def by_month(self, without: frozenset[str] = frozenset()) -> Floats:
        """Share of light from each direction that gets through to each point, by month (12, D, P)."""
        months, state = self.states
        return np.stack([self.light(month, without) for month in months])[state]


def month_states(lights: Sequence[Floats]) -> tuple[list[int], NDArray[np.int64]]:
    """Months, 0 to 11, that stand for all in which each of some layers lets the same ``lights`` (12,) through, and which of them
    each month is like (12,)."""
    if not lights:
        return [0], np.zeros(12, dtype=np.int64)
    months, state = np.unique(np.stack(lights), axis=1, return_index=True, return_inverse=True)[1:]
    return months.tolist(), state.reshape(-1)


class Keep(Protocol):
    """Gives what ``make`` gives for one thing of a yard, or what it gave before."""

    def __call__(self, thing: Thing, make: Callable[[], list[Any]]) -> list[Any]: ...


def anew(thing: Thing, make: Callable[[], list[Any]]) -> list[Any]:
    """Keeps nothing."""
    return make()


def trace_rays(
    things: Yard,
    points: Floats,
    directions: Floats,
    own: Sequence[LayerHits] = (),
    around: Ball | None = None,
    keep: Keep = anew,
) -> RayTrace:
    """Trace rays from ``points`` (P, 3), or (D, P, 3), in ``directions`` (D, 3) past a yard; ``around`` is a ball that is
    known to hold the points; ``keep`` may know the hits of single things already."""
    traces = list(own)
    ball = around or Ball.round(points)

    def past(thing: Thing, layers: Sequence[Layer]) -> list[LayerHits]:
        found = (layer_hits(thing.name, layer.light, hits(layer.solids, points, directions, ball)) for layer in layers)
        return [made for made in found if made is not None]

    for thing, layers in zip(things.things, things.layers, strict=True):
        traces += keep(thing, partial(past, thing, layers))
    return RayTrace(len(directions), points.shape[-2], tuple(traces))


def layer_hits(owner: str, light: Floats, met: Bools) -> LayerHits | None:
    """Hits (D, P) of one layer with the directions without any left out; None where nothing is hit."""
    rows = np.flatnonzero(met.any(axis=1))
    return LayerHits(owner, light, rows, met[rows]) if rows.size else None
