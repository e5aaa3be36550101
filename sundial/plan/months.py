"""Exact plans for goals that judge whole months: the worst month, or a demand by month.

Each month becomes a table: the most it can make, starting from tilt a, ending at tilt b, with i moves inside it. Twelve
tables are then chained around the year. A month holds at most ``WITHIN`` moves.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAYS, MONTH_STARTS, sum_by_month
from sundial.plan.stretches import NEVER, Holding

WITHIN = 4
NEAR = 0.005
Floats = NDArray[np.float64]
Known = dict[tuple[int, int, int, int], NDArray[np.int64]]  # days of a month between two ends, worked out before
Chained = tuple[Floats, list[NDArray[np.int32]]]  # see _chain


def worst_month_holdings(score: Floats, most: int, may_move: NDArray[np.bool_]) -> list[Holding | None]:
    """For k = 1..``most``: a worst month within ``NEAR`` of the highest possible, and among those the most over the year.

    Without that margin the plan would chase a few dull days of one particular year and give up the summer for it.
    A plan's worst month is never under that of a plan with fewer settings.
    """
    tables = _month_tables(score, may_move)
    bottleneck = _chain(tables, most, np.minimum, np.inf)[0]
    results: list[Holding | None] = []
    best: Holding | None = None
    reached = 2 * NEVER
    known: Known = {}
    for k in range(1, most + 1):
        target = _closed(bottleneck, k)
        if target > NEVER / 2:
            floor = max(target - abs(target) * NEAR, reached) - 1e-9
            high = [np.where(table >= floor, table, 2 * NEVER) for table in tables]
            best = _additive(score, _chain(high, k if k > 1 else 0, np.add, 0.0), k, may_move, known)
            if best is not None:
                reached = float(sum_by_month(score[np.arange(DAYS), best.by_day]).min())
        results.append(best)
    return results


def demand_holdings(score: Floats, demand: Floats, most: int, may_move: NDArray[np.bool_]) -> list[Holding | None]:
    """For k = 1..``most``: the least unmet of ``demand`` (12,), and among equals the least waste.

    Moves within a month stand on their most productive days; the total of a holding is minus the unmet energy
    (and a millionth of the waste).
    """
    tables = []
    for table, wanted in zip(_month_tables(score, may_move), demand, strict=True):
        value = -np.maximum(wanted - table, 0) - 1e-6 * np.maximum(table - wanted, 0)
        tables.append(np.where(table > NEVER / 2, value, 2 * NEVER))
    chained = _chain(tables, most, np.add, 0.0)
    known: Known = {}
    return [_additive(score, chained, k, may_move, known) for k in range(1, most + 1)]


def _advance(value: Floats, allowed: bool) -> tuple[NDArray[np.bool_], NDArray[np.int64]]:
    """Let every state change tilt at the price of a move (in place); returns who did and from where."""
    better = np.zeros(value.shape, dtype=bool)
    source = value.argmax(axis=2)
    if allowed:
        top = value.max(axis=2)
        better[:, 1:, :] = top[:, :-1, None] > value[:, 1:, :]
        np.maximum(value[:, 1:, :], top[:, :-1, None], out=value[:, 1:, :])
    return better, source


def _month_tables(score: Floats, may_move: NDArray[np.bool_]) -> list[Floats]:
    """Per month (from, moves, to): the most it can make."""
    tilts = score.shape[1]
    tables = []
    for month in range(12):
        value = np.full((tilts, WITHIN + 1, tilts), 2 * NEVER)
        value[np.arange(tilts), 0, np.arange(tilts)] = 0
        for day in range(MONTH_STARTS[month], MONTH_STARTS[month + 1]):
            if may_move[day]:
                np.maximum(value[:, 1:, :], value.max(axis=2)[:, :-1, None], out=value[:, 1:, :])
            value += score[day]
        tables.append(value)
    return tables


def _chain(tables: list[Floats], most: int, join: Callable[[Floats, Floats], Floats], start: float) -> Chained:
    """Chain the months: best joined value (first, moves, last), and for each month the code of (from, moves) taken."""
    tilts = tables[0].shape[0]
    value = np.full((tilts, most + 1, tilts), 2 * NEVER)
    value[np.arange(tilts), 0, np.arange(tilts)] = start
    choices = []
    for table in tables:
        after = np.full_like(value, 4 * NEVER)
        choice = np.zeros(value.shape, dtype=np.int32)
        for inside in range(min(WITHIN, most) + 1):
            # (first, moves, from, last): every way to come into this month, and go through it with so many moves
            offers = join(value[:, : most + 1 - inside, :, None], table[None, None, :, inside, :])
            best = offers.max(axis=2)
            part = after[:, inside:, :]
            better = best > part
            np.copyto(part, best, where=better)
            choice[:, inside:, :][better] = (offers.argmax(axis=2) * (WITHIN + 1) + inside)[better]
        value = np.maximum(after, 2 * NEVER)
        choices.append(choice)
    return value, choices


def _closed(value: Floats, k: int) -> float:
    tilts = value.shape[0]
    return float(value[np.arange(tilts), : (k if k > 1 else 0) + 1, np.arange(tilts)].max())


def _additive(score: Floats, chained: Chained, k: int, may_move: NDArray[np.bool_], known: Known) -> Holding | None:
    value, choices = chained
    tilts = value.shape[0]
    diagonal = value[np.arange(tilts), : (k if k > 1 else 0) + 1, np.arange(tilts)]
    first, used = (int(i) for i in np.unravel_index(int(diagonal.argmax()), diagonal.shape))
    if diagonal[first, used] <= NEVER / 2:
        return None
    held = np.empty(DAYS, dtype=np.int64)
    last = first
    for month in range(11, -1, -1):
        origin, inside = divmod(int(choices[month][first, used, last]), WITHIN + 1)
        way = (month, origin, inside, last)
        if way not in known:
            known[way] = _within(score, *way, may_move)
        held[MONTH_STARTS[month] : MONTH_STARTS[month + 1]] = known[way]
        used, last = used - inside, origin
    return Holding(float(diagonal.max()), held)


def _within(score: Floats, month: int, origin: int, moves: int, last: int, may_move: NDArray[np.bool_]) -> NDArray[np.int64]:
    """The tilt of each day of one month between two known ends."""
    tilts = score.shape[1]
    days = range(MONTH_STARTS[month], MONTH_STARTS[month + 1])
    value = np.full((1, WITHIN + 1, tilts), 2 * NEVER)
    value[0, 0, origin] = 0
    history = []
    for day in days:
        history.append(_advance(value, bool(may_move[day])))
        value += score[day]
    held = np.empty(len(days), dtype=np.int64)
    tilt = last
    for place in range(len(days) - 1, -1, -1):
        held[place] = tilt
        better, source = history[place]
        if better[0, moves, tilt]:
            moves -= 1
            tilt = int(source[0, moves])
    return held
