"""The plan with the fewest empty days of an off-grid battery: exact over the tilts that can be reached and a choice of dates.

More in the battery is never worse. So of two plans that stand at the same tilt on the same date after as many moves, one that has
had no more empty days (and no more kWh missing) and holds no less can never be overtaken, and the other is dropped. What is left is
carried from date to date through the hours. That is a label-setting search with dominance (Hansen 1980, doi
10.1007/978-3-642-48782-8_9); nothing that could be the best is dropped.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from sundial.balance.flows import Flows, Needs, balance
from sundial.balance.store import Store
from sundial.balance.sums import EMPTY, empty_days
from sundial.days import DAYS, MONTH_STARTS

Floats = NDArray[np.float64]
Whole = NDArray[np.int64]
MOST = 4  # settings a year
MOST_TILTS = 25
SETTLED = 30  # days before the start, after which the battery stands as it would


@dataclass(frozen=True, eq=False)
class Judge:
    """What plans are judged by: the hours of every reachable tilt, made when they are first asked for, and what they meet."""

    make: Callable[[], Floats]
    needs: Needs

    @cached_property
    def hourly(self) -> Floats:
        """Wh (tilts, 8760)."""
        return self.make()

    @property
    def store(self) -> Store:
        return self.needs.store or Store(0.0)

    def balance_of(self, by_day: Whole) -> Flows:
        """The balance of the year with a tilt's index on each day (365,)."""
        made = self.hourly.reshape(-1, DAYS, 24)[by_day, np.arange(DAYS)]
        return balance(made.reshape(1, -1), self.needs)


@dataclass(frozen=True, eq=False)
class Found:
    """The best plan with at most so many settings: the tilt's index on each day (365,), its empty days and kWh unmet by
    the balance. ``exact``: the search, whose year begins with as much in the battery as any tilt leaves there, found no fewer: then no
    plan has fewer."""

    by_day: Whole
    empty_days: int
    unmet: float
    exact: bool


def half_months(may_move: NDArray[np.bool_]) -> Whole:
    """The days on which a plan may change: the 1st and the 16th of each month, or the next day on which somebody is there."""
    wanted = np.sort(np.concatenate([MONTH_STARTS[:12], MONTH_STARTS[:12] + 15]))
    if not may_move.any():
        return wanted[:1]
    moved = [next((day + away) % DAYS for away in range(DAYS) if may_move[(day + away) % DAYS]) for day in wanted]
    return np.unique(moved)


@dataclass(eq=False)
class _Labels:
    """Plans under way, each an entry: the tilt it began with and stands at, its settings so far, empty days, Wh unmet, kWh made, Wh in
    the battery, and which label of the step before it comes from."""

    first: Whole
    tilt: Whole
    settings: Whole
    empty: Whole
    unmet: Floats
    energy: Floats
    state: Floats
    parent: Whole

    def taken(self, at: Whole) -> _Labels:
        return _Labels(*(getattr(self, name)[at] for name in vars(self)))


def fewest_empty_days(judge: Judge, allowed: NDArray[np.bool_], dates: Whole, most: int = MOST) -> list[Found | None]:
    """The best plans with at most 1 to ``most`` settings. ``allowed`` (365, tilts): which tilt may stand on which day; ``dates`` rising:
    days on which a plan may change. The year is begun at the date before which even the poorest tilt had most over the
    use, with as much in the battery as any tilt leaves there. Among plans with as many empty days the one with the fewest kWh unmet, then with the
    most energy. None where the limits allow no plan."""
    tilts = judge.hourly.shape[0]
    began = _richest(judge, dates)
    order = np.roll(dates, -began)
    spans = [
        np.arange(day, day + (after - day) % DAYS or day + DAYS) % DAYS
        for day, after in zip(order, np.roll(order, -1), strict=True)
    ]
    if len(order) == 1:
        spans = [np.arange(order[0], order[0] + DAYS) % DAYS]
    every = np.arange(tilts)
    zero, none = np.zeros(tilts, dtype=np.int64), np.zeros(tilts)
    labels = _Labels(every, every, zero + 1, zero, none, none, none + judge.store.capacity, zero - 1)
    before = _lived(judge, labels, np.arange(order[0] - SETTLED, order[0]) % DAYS)
    labels.state = none + float(before.state.max())
    steps = []
    for number, days in enumerate(spans):
        fits = allowed[days].all(axis=0)
        if number:
            labels = _branched(labels, tilts, most + 1)
        labels = _undominated(labels.taken(np.flatnonzero(fits[labels.tilt])))
        steps.append(labels)
        labels = _lived(judge, labels, days)
    return [_best(judge, labels, steps, spans, settings) for settings in range(1, most + 1)]


def _richest(judge: Judge, dates: Whole) -> int:
    """The date before which even the poorest tilt has most over: there all plans hold alike."""
    surplus = judge.hourly.reshape(-1, DAYS, 24).sum(axis=2).min(axis=0) - judge.needs.demand.reshape(DAYS, 24).sum(axis=1)
    before = [float(surplus[np.arange(day - 30, day) % DAYS].sum()) for day in dates]
    return int(np.argmax(before))


def _branched(labels: _Labels, tilts: int, most: int) -> _Labels:
    """Each label stays as it is, or moves to every other tilt."""
    count = len(labels.tilt)
    stays = labels.taken(np.arange(count))
    stays.parent = np.arange(count)
    at = np.repeat(np.flatnonzero(labels.settings < most), tilts)
    to = np.tile(np.arange(tilts), len(at) // tilts)
    moving = at[labels.tilt[at] != to], to[labels.tilt[at] != to]
    moved = labels.taken(moving[0])
    moved.tilt, moved.settings, moved.parent = moving[1], moved.settings + 1, moving[0]
    return _Labels(*(np.concatenate([getattr(stays, name), getattr(moved, name)]) for name in vars(stays)))


def _undominated(labels: _Labels) -> _Labels:
    """Without the labels that another of the same first tilt, tilt and settings can never fall behind."""
    order = np.lexsort((-labels.state, -labels.energy, labels.unmet, labels.empty, labels.settings, labels.tilt, labels.first))
    held = labels.taken(order)
    group = np.cumsum(
        np.concatenate([[0], np.abs(np.diff(held.first)) + np.abs(np.diff(held.tilt)) + np.abs(np.diff(held.settings)) > 0])
    )
    keep = np.zeros(len(order), dtype=bool)
    last, fullest = -1, -1.0
    for place, (which, state) in enumerate(zip(group.tolist(), held.state.tolist(), strict=True)):
        if which != last or state > fullest:
            keep[place], last, fullest = True, which, state
    return held.taken(np.flatnonzero(keep))


def _lived(judge: Judge, labels: _Labels, days: Whole) -> _Labels:
    """The labels after these days. Labels at one tilt with one state live the same days: they are gone through once."""
    store, demand = judge.store, judge.needs.demand.reshape(DAYS, 24)
    pairs, which = np.unique(np.stack([labels.tilt.astype(float), labels.state]), axis=1, return_inverse=True)
    tilt, state = pairs[0].astype(np.int64), pairs[1].copy()
    hourly = judge.hourly.reshape(-1, DAYS, 24)
    empty, unmet = np.zeros(len(tilt), dtype=np.int64), np.zeros(len(tilt))
    for day in days:
        missing = np.zeros(len(tilt))
        net = (hourly[:, day] - demand[day])[tilt].T
        for now, move in zip(net, store.wanted(net), strict=True):
            after = np.clip(state + move, 0.0, store.capacity)
            given = np.maximum(state - after, 0.0) * store.one_way
            missing += np.maximum(-now - given, 0.0)
            state = after
        empty += missing > EMPTY * demand[day].sum() + 1e-6
        unmet += missing
    made = hourly[:, days].sum(axis=(1, 2)) / 1000
    back = which.reshape(-1)
    return _Labels(
        labels.first, labels.tilt, labels.settings, labels.empty + empty[back], labels.unmet + unmet[back],
        labels.energy + made[labels.tilt], state[back], labels.parent,
    )  # fmt: skip


def _best(judge: Judge, labels: _Labels, steps: list[_Labels], spans: list[Whole], settings: int) -> Found | None:
    """The best label whose circle closes with at most so many settings."""
    closes = np.where((labels.tilt == labels.first) & (labels.settings > 1), labels.settings - 1, labels.settings)
    fits = np.flatnonzero(closes <= settings)
    if not fits.size:
        return None
    order = np.lexsort((-labels.energy[fits], labels.unmet[fits], labels.empty[fits]))
    chosen = at = int(fits[order[0]])
    by_day = np.empty(DAYS, dtype=np.int64)
    for step, days in zip(reversed(steps), reversed(spans), strict=True):
        by_day[days] = step.tilt[at]
        at = int(step.parent[at])
    flows = judge.balance_of(by_day)
    empty, unmet = int(empty_days(flows)[0].sum()), float(flows.unmet.sum()) / 1000
    exact = empty <= labels.empty[chosen] and unmet <= float(labels.unmet[chosen]) / 1000 + 1e-6
    return Found(by_day, empty, unmet, bool(exact))
