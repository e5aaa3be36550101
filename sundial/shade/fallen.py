"""Direct light as it falls on an array's blocks past what stands in the way, whatever the sky is like."""

from __future__ import annotations

from dataclasses import dataclass
from functools import reduce

import numpy as np
from numpy.typing import NDArray

from sundial.shade.sight import Floats, Sight
from sundial.shade.standing import Samples

EVEN = 1e-9  # samples that differ by less are evenly lit


@dataclass(frozen=True, eq=False)
class Fallen:
    """Direct light in the R directions that anything touches, in S groups of months with the same leaves.

    ``row`` (D,) of each direction, -1 where nothing is in the way; ``state`` (12,) of each month. Shares of the light of an
    open sun: its ``mean`` over the glass (S, R), currents of the blocks as their strings rank them, ``ranked`` (S, R, B),
    and whether it is ``patchy`` (S, R).
    """

    row: NDArray[np.int64]
    state: NDArray[np.int64]
    mean: Floats
    ranked: Floats
    patchy: NDArray[np.bool_]


def fallen(sun: Sight, samples: Samples, without: frozenset[str] = frozenset()) -> Fallen:
    """What a sight of the sun's directions means for the array's blocks, with some things thought away.

    The most shaded cell limits its block; the two halves of a half-cut block add their currents.
    """
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
            steady[row[trace.rows]] *= np.where(trace.struck, trace.light[0], 1.0)
        else:
            changing.append(trace)
    means, rankings, patches = [], [], []
    for month in months:
        through = steady.copy() if changing else steady
        for trace in changing:
            through[row[trace.rows]] *= np.where(trace.struck, trace.light[month], 1.0)
        cells = through.reshape(len(rows), halves, samples.cells)
        dimmest = reduce(np.minimum, (cells[..., cell] for cell in range(samples.cells)))
        means.append(through @ samples.weight)
        rankings.append(samples.wired.ranked(dimmest.reshape(len(rows), halves // samples.halves, samples.halves).mean(axis=2)))
        patches.append(np.ptp(through, axis=1) > EVEN)
    return Fallen(row, state, np.stack(means), np.stack(rankings), np.stack(patches))
