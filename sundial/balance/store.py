"""A battery or a tank through the year: a state that moves up and down between empty and full.

One hour moves the state by x and clips it: s -> min(C, max(0, s + x)). Such maps compose to maps of the same form, clip(s + a, low,
high), so a day is 24 of them composed for all days at once, the year is 365 of those, and no hour waits for the one before it.
"""

from __future__ import annotations

from dataclasses import dataclass

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

    def wanted(self, net: Floats) -> Floats:
        """What the state would move by, Wh, if nothing were full or empty. ``net``: production less use, Wh an hour."""
        up = np.minimum(net, self.charge)
        up *= self.one_way
        down = np.maximum(net, -self.discharge)
        down /= self.one_way
        return np.where(net > 0, up, down)


def states(store: Store, net: Floats, start: float | None = None) -> Floats:
    """The state at the start of every hour and at the end of the year, Wh (rows, 8761), for ``net`` (rows, 8760). Without a ``start``
    the year begins as it ends: the state that repeats itself, or full where the year gives and takes alike."""
    rows = net.shape[0]
    moves = np.ascontiguousarray(store.wanted(net).reshape(rows, DAYS, 24).transpose(2, 1, 0))  # (24, days, rows)
    by, low, high = _composed(moves, store.capacity)
    at = np.empty((DAYS, rows))
    at[0] = _repeating(by, low, high, store.capacity) if start is None else start
    for day in range(DAYS - 1):
        np.clip(at[day] + by[day], low[day], high[day], out=at[day + 1])
    found = np.empty((25, DAYS, rows))
    found[0] = at
    for hour in range(24):
        np.add(found[hour], moves[hour], out=found[hour + 1])
        np.clip(found[hour + 1], 0.0, store.capacity, out=found[hour + 1])
    made: Floats = np.empty((rows, DAYS * 24 + 1))
    made[:, :-1] = found[:24].transpose(2, 1, 0).reshape(rows, -1)
    made[:, -1] = found[24, -1]
    return made


def _composed(moves: Floats, capacity: float) -> tuple[Floats, Floats, Floats]:
    """Each day's map: ``by``, ``low`` and ``high``, each (days, rows)."""
    by = np.zeros(moves.shape[1:])
    low, high = np.zeros_like(by), np.full_like(by, capacity)
    for move in moves:
        by += move
        for bound in (low, high):
            bound += move
            np.clip(bound, 0.0, capacity, out=bound)
    return by, low, high


def _repeating(by: Floats, low: Floats, high: Floats, capacity: float) -> Floats:
    """The state (rows,) that the year's map takes to itself: its upper bound where the year gives more than it takes."""
    bottom, top = np.zeros(by.shape[1]), np.full(by.shape[1], capacity)
    for a, lowest, highest in zip(by, low, high, strict=True):
        bottom = np.clip(bottom + a, lowest, highest)
        top = np.clip(top + a, lowest, highest)
    return np.where(by.sum(axis=0) >= 0, top, bottom)
