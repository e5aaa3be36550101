"""A battery or a tank through the year: a state that moves up and down between empty and full.

One hour moves the state by x and clips it: s -> min(C, max(0, s + x)). Such maps compose to maps of the same form, clip(s + a, low,
high), so a day is 24 of them composed for all days at once, the year is 365 of those, and no hour waits for the one before it.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAYS

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Store:
    """``capacity`` Wh between empty and full; ``charge`` and ``discharge`` W; ``round_trip`` the share of what goes in that comes out, lost
    half and half (its square root each way)."""

    capacity: float
    charge: float = float("inf")
    discharge: float = float("inf")
    round_trip: float = 1.0

    @property
    def one_way(self) -> float:
        return float(np.sqrt(self.round_trip))

    def wanted(self, net: Floats, out: Floats | None = None) -> Floats:
        """What the state would move by, Wh, if nothing were full or empty. ``net``: production less use, Wh an hour; ``out``: an array
        for it."""
        moves: Floats = net.clip(
            -self.discharge, self.charge, out=out
        )  # one pass, where a minimum and a maximum take two slower ones
        if self.round_trip == 1:
            return moves
        # Of a loss each way the lesser is right: what goes in shrinks, and what comes out costs more.
        out_of = moves * (1 / self.one_way)
        moves *= self.one_way
        return np.minimum(moves, out_of, out=moves)

    def outside(self, moved: Floats) -> Floats:
        """What a move of the state takes from outside (or gives, under zero), Wh."""
        taken: Floats = moved * (1 / self.one_way)
        return np.maximum(taken, moved * self.one_way, out=taken)


def by_hour(values: Floats) -> Floats:
    """Hours (rows, 8760) as (24, rows, days): the same hour of all days lies together."""
    return np.ascontiguousarray(values.reshape(len(values), DAYS, 24).transpose(2, 0, 1))


def in_order(values: Floats) -> Floats:
    """Hours (24, rows, days) as (rows, 8760)."""
    made: Floats = np.ascontiguousarray(values.transpose(1, 2, 0)).reshape(values.shape[1], -1)
    return made


def states(store: Store, net: Floats, start: float | None = None) -> Floats:
    """The state at the start of every hour and at the end of the year, Wh (rows, 8761), for ``net`` (rows, 8760). Without a ``start``
    the year begins as it ends: the state that repeats itself, or full where the year gives and takes alike."""
    moves = by_hour(store.wanted(net))
    at = day_starts(*composed(moves, store.capacity), store.capacity, start)
    made: Floats = np.empty((len(net), DAYS * 24 + 1))
    made[:, :-1] = in_order(within_days(moves, at, store.capacity)[:24])
    made[:, -1] = np.clip(made[:, -2] + moves[-1, :, -1], 0.0, store.capacity)
    return made


def composed(moves: Floats, capacity: float) -> tuple[Floats, Floats, Floats]:
    """Each day's map from its moves (24, rows, days): ``by``, ``low`` and ``high``, each (rows, days)."""
    by = np.zeros(moves.shape[1:], dtype=moves.dtype)
    low, high = np.zeros_like(by), np.full_like(by, capacity)
    zero, full = by.dtype.type(0), by.dtype.type(capacity)
    for move in moves:
        by += move
        _move(low, move, zero, full)
        _move(high, move, zero, full)
    return by, low, high


def day_starts(by: Floats, low: Floats, high: Floats, capacity: float, start: float | None = None) -> Floats:
    """The state at the start of each day (rows, days), from each day's map. Days are taken together in blocks, as hours are in days."""
    rows, days = by.shape
    blocks = -(-days // BLOCK)
    steps = [_in_blocks(part, blocks, idle) for part, idle in ((by, 0.0), (low, 0.0), (high, capacity))]  # (BLOCK, blocks, rows)
    first = steps[0][0]
    block_by, block_low, block_high = np.zeros_like(first), np.zeros_like(first), np.full_like(first, capacity)
    for a, lowest, highest in zip(*steps, strict=True):
        block_by += a
        _move(block_low, a, lowest, highest)
        _move(block_high, a, lowest, highest)
    at = np.empty((BLOCK + 1, blocks, rows), dtype=by.dtype)
    at[0, 0] = _repeating(block_by, block_low, block_high, capacity) if start is None else start
    for block in range(blocks - 1):
        at[0, block + 1] = at[0, block]
        _move(at[0, block + 1], block_by[block], block_low[block], block_high[block])
    for step, (a, lowest, highest) in enumerate(zip(*steps, strict=True)):
        at[step + 1] = at[step]
        _move(at[step + 1], a, lowest, highest)
    found: Floats = at[:BLOCK].transpose(2, 1, 0).reshape(rows, blocks * BLOCK)[:, :days]
    return found


BLOCK = 19  # days: about the square root of a year


def _in_blocks(part: Floats, blocks: int, idle: float) -> Floats:
    """A part of the days' maps (rows, days) as (BLOCK, blocks, rows), filled up with days on which nothing happens."""
    rows, days = part.shape
    full = np.full((rows, blocks * BLOCK), idle, dtype=part.dtype)
    full[:, :days] = part
    return np.ascontiguousarray(full.reshape(rows, blocks, BLOCK).transpose(2, 1, 0))


def _move(state: Floats, by: Floats, low: Any, high: Any) -> None:
    """Apply maps to states, in place."""
    state += by
    state.clip(low, high, out=state)


def within_days(moves: Floats, at: Floats, capacity: float) -> Floats:
    """The states of all hours (25, rows, days), the last one that at the next day's start."""
    found = np.empty((25, *moves.shape[1:]), dtype=moves.dtype)
    found[0] = at
    for hour, move in enumerate(moves):
        after = found[hour + 1]
        np.add(found[hour], move, out=after)
        after.clip(0, capacity, out=after)
    return found


def _repeating(by: Floats, low: Floats, high: Floats, capacity: float) -> Floats:
    """The state (rows,) that the year's map takes to itself: its upper bound where the year gives more than it takes."""
    both = np.zeros((2, by.shape[1]), dtype=by.dtype)
    both[1] = capacity
    for a, lowest, highest in zip(by, low, high, strict=True):
        _move(both, a, lowest, highest)
    found: Floats = np.where(by.sum(axis=0) >= 0, both[1], both[0])
    return found
