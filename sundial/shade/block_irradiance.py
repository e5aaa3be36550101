"""Direct irradiance of an array's bypass sections behind obstacles, per direction of the sun; independent of weather.

A section is limited by its most shaded cell; the two halves of a half-cut section add their currents. Over the sample
points (P,) of the glass, as :mod:`sundial.shade.geometry` lays them out:

    (R, P) light through  ->  (R, halves, cells) minimum over cells  ->  (R, B) mean over the halves of a section
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import reduce

import numpy as np
from numpy.typing import NDArray

from sundial.shade.geometry import Samples
from sundial.shade.rays import Floats, RayTrace

EVEN = 1e-9  # samples that differ by less are evenly lit


@dataclass(frozen=True, eq=False)
class BlockIrradiance:
    """Direct irradiance in the R directions that any obstacle touches, in S groups of months with the same leaves.

    ``row`` (D,): row of each direction, -1 where nothing is in the way; ``state`` (12,): group of each month. As shares of the
    unobstructed direct light: ``mean`` over the glass (S, R); ``ranked`` (S, R, B), currents of the sections as their
    strings rank them; ``patchy`` (S, R), whether it lies unevenly.
    """

    row: NDArray[np.int64]
    state: NDArray[np.int64]
    mean: Floats
    ranked: Floats
    patchy: NDArray[np.bool_]


def block_irradiance(sun: RayTrace, samples: Samples, without: frozenset[str] = frozenset()) -> BlockIrradiance:
    """Direct irradiance of the sections from a trace of the sun's directions, ``without`` some obstacles (by name)."""
    counted = [trace for trace in sun.traces if trace.owner not in without]
    rows = np.unique(np.concatenate([trace.rows for trace in counted])) if counted else np.zeros(0, dtype=np.int64)
    row = np.full(sun.directions, -1)
    row[rows] = np.arange(len(rows))
    months, state = sun.states
    halves = sun.points // samples.cells
    steady = np.ones((len(rows), sun.points))
    changing = []
    for trace in counted:
        if np.ptp(trace.light) == 0:
            steady[row[trace.rows]] *= np.where(trace.hits, trace.light[0], 1.0)
        else:
            changing.append(trace)
    means, rankings, patches = [], [], []
    for month in months:
        through = steady.copy() if changing else steady
        for trace in changing:
            through[row[trace.rows]] *= np.where(trace.hits, trace.light[month], 1.0)
        cells = through.reshape(len(rows), halves, samples.cells)
        dimmest = reduce(np.minimum, (cells[..., cell] for cell in range(samples.cells)))
        means.append(through @ samples.weight)
        rankings.append(samples.wired.ranked(dimmest.reshape(len(rows), halves // samples.halves, samples.halves).mean(axis=2)))
        patches.append(np.ptp(through, axis=1) > EVEN)
    return BlockIrradiance(row, state, np.stack(means), np.stack(rankings), np.stack(patches))
