"""The exact best way to hold one of several tilts on each day of a circular year, with at most k settings.

Day by day dynamic programming. For every tilt that could be standing on 1 January the year is run through once, with
the best total kept for every number of moves so far and every tilt standing now; at the end the tilt must close the
circle, at the price of one more move if it differs. That covers all rotations of the start, so the optimum is exact.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAYS

NEVER = -1e30  # a day on which a tilt is not allowed


@dataclass(frozen=True)
class TiltSequence:
    """Best total with at most k settings, and the tilt's index on each day (365,)."""

    total: float
    by_day: NDArray[np.int64]


def best_sequences(score: NDArray[np.float64], most: int, may_move: NDArray[np.bool_] | None = None) -> list[TiltSequence | None]:
    """Best holdings for k = 1..``most`` settings a year.

    ``score`` (365, T) is what each tilt earns on each day, ``NEVER`` where it is not allowed; ``may_move`` (365,)
    tells on which days the tilt may change (before that day's sun). None where no holding with k settings is allowed.
    """
    days, tilts = score.shape
    allowed = np.ones(days, dtype=bool) if may_move is None else may_move
    moves = most + 1  # 0..most changes in the circle
    value = np.full((tilts, moves, tilts), 2 * NEVER)
    value[np.arange(tilts), 0, np.arange(tilts)] = score[0]
    switched = np.zeros((days, tilts, moves, tilts), dtype=bool)
    source = np.zeros((days, tilts, moves), dtype=np.int16)
    for day in range(1, days):
        if allowed[day]:
            top = value.max(axis=2)
            source[day] = value.argmax(axis=2)
            better = top[:, :-1, None] > value[:, 1:, :]
            switched[day, :, 1:, :] = better
            np.maximum(value[:, 1:, :], top[:, :-1, None], out=value[:, 1:, :])
        value += score[day]
    results: list[TiltSequence | None] = []
    best: TiltSequence | None = None
    for k in range(1, most + 1):
        found = _close(value, k if k > 1 else 0, bool(allowed[0]))
        if found is not None and (best is None or found[0] > best.total):
            total, first, used, last = found
            best = TiltSequence(total, _trace(switched, source, first, used, last))
        results.append(best)
    return results


def _close(value: NDArray[np.float64], changes: int, may_move_first: bool) -> tuple[float, int, int, int] | None:
    """Best (total, first tilt, changes used inside the year, last tilt) with at most ``changes`` around the circle."""
    tilts = value.shape[0]
    within = value[:, : changes + 1, :]
    same = within[np.arange(tilts), :, np.arange(tilts)]  # (tilts, changes + 1)
    first, used = np.unravel_index(int(same.argmax()), same.shape)
    best = (float(same[first, used]), int(first), int(used), int(first))
    if changes > 0 and may_move_first:
        open_end = value[:, :changes, :]
        flat = int(open_end.argmax())
        a, j, b = np.unravel_index(flat, open_end.shape)
        if float(open_end[a, j, b]) > best[0]:
            best = (float(open_end[a, j, b]), int(a), int(j), int(b))
    return best if best[0] > NEVER / 2 else None


def _trace(switched: NDArray[np.bool_], source: NDArray[np.int16], first: int, used: int, last: int) -> NDArray[np.int64]:
    held = np.empty(DAYS, dtype=np.int64)
    tilt, moves = last, used
    for day in range(DAYS - 1, 0, -1):
        held[day] = tilt
        if switched[day, first, moves, tilt]:
            tilt = int(source[day, first, moves - 1])
            moves -= 1
    held[0] = tilt
    return held


def runs(by_day: NDArray[np.int64]) -> list[tuple[int, int, int]]:
    """Circular runs of equal values as (first day, number of days, value), in order from the first move of the year.

    A single run is (0, 365, value).
    """
    starts = np.flatnonzero(by_day != np.roll(by_day, 1))
    if not starts.size:
        return [(0, DAYS, int(by_day[0]))]
    ends = np.roll(starts, -1)
    return [(int(start), int((end - start) % DAYS) or DAYS, int(by_day[start])) for start, end in zip(starts, ends, strict=True)]
