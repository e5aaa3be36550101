"""Where every kWh goes in every hour, for many ways of holding the panels at once."""

from __future__ import annotations

from dataclasses import dataclass, fields

import numpy as np
from numpy.typing import NDArray

from sundial.balance.store import Store, states
from sundial.days import DAYS, HOURS, MONTH_STARTS

Floats = NDArray[np.float64]
WARM_UP = 60  # days of December that a generator's state is settled by before the year begins


@dataclass(frozen=True)
class Generator:
    """W, and the whole hours that it runs once it is started."""

    power: float
    minimum_run: int = 1


@dataclass(frozen=True, eq=False)
class Needs:
    """What production meets. ``kind``: "share" (a fixed ``own_share`` of every hour is used, the rest sold), "grid", "off-grid" or
    "direct". ``demand`` Wh of every hour (8760,); ``export_limit`` W (None: none); ``power`` W that a direct load takes at most.
    ``beside`` Wh of every hour (8760,) that other arrays give to the same use."""

    kind: str
    demand: Floats
    store: Store | None = None
    reserve: float = 0.0
    own_share: float = 0.0
    export_limit: float | None = None
    generator: Generator | None = None
    power: float | None = None
    beside: Floats | None = None


@dataclass(frozen=True, eq=False)
class Flows:
    """Wh of every hour, each (rows, 8760); ``stored``: at the start of each hour and the year's end (rows, 8761), above the reserve.

    Every hour: made + bought + discharged + generator + unmet = demand + sold + curtailed + charged, where ``used`` of the made is
    used at once. ``running``: whether the generator runs.
    """

    made: Floats
    demand: Floats
    used: Floats
    sold: Floats
    bought: Floats
    curtailed: Floats
    charged: Floats
    discharged: Floats
    stored: Floats
    unmet: Floats
    generator: Floats
    running: NDArray[np.bool_]

    def row(self, at: int) -> Flows:
        """One way alone; each array keeps its first axis."""
        return Flows(**{part.name: getattr(self, part.name)[at : at + 1] for part in fields(self)})

    def by_month(self, name: str) -> Floats:
        """kWh (rows, 12)."""
        return months_of(getattr(self, name)) / 1000


def months_of(hourly: Floats) -> Floats:
    """Sums (rows, 12) of hours (rows, 8760)."""
    found: Floats = np.add.reduceat(hourly, MONTH_STARTS[:-1] * 24, axis=1)
    return found


def balance(made: Floats, needs: Needs) -> Flows:
    """The balance of every hour. ``made`` (rows, 8760) Wh out of the inverter, a drive's own use taken off (it may be under zero at
    night: that is bought, or taken from the store)."""
    if needs.beside is not None:
        made = made + needs.beside
    zero = np.zeros_like(made)
    if needs.kind == "share":
        used = made * needs.own_share
        none = np.zeros((len(made), HOURS + 1))
        return Flows(made, used, used, made - used, zero, zero, zero, zero, none, zero, zero, zero.astype(bool))
    if needs.kind == "direct" and needs.store is None:
        return _by_the_day(made, needs)
    if needs.generator is not None and needs.kind == "off-grid":
        return _with_generator(made, needs, needs.generator)
    demand = np.broadcast_to(needs.demand, made.shape)
    net = made - demand
    store = needs.store
    if needs.kind == "direct" and store is not None:
        return _from_a_tank(made, demand, needs, store)
    if store is None:
        stored = np.zeros((len(made), HOURS + 1))
        charged = discharged = zero
    else:
        stored = states(store, net)
        taken = store.outside(np.diff(stored, axis=1))
        charged = taken.clip(0, np.inf)
        discharged = charged - taken
        net -= taken
    return _settled(made, demand, net, charged, discharged, stored, needs, zero, zero.astype(bool))


def _settled(
    made: Floats,
    demand: Floats,
    left: Floats,
    charged: Floats,
    discharged: Floats,
    stored: Floats,
    needs: Needs,
    generator: Floats,
    running: NDArray[np.bool_],
) -> Flows:
    """What becomes of what is ``left`` after the store and the generator."""
    over = left.clip(0, np.inf)
    under = over - left
    used = made.clip(0, demand)
    zero = np.zeros_like(made)
    if needs.kind == "off-grid":
        return Flows(made, demand, used, zero, zero, over, charged, discharged, stored, under, generator, running)
    if needs.export_limit is None:
        return Flows(made, demand, used, over, under, zero, charged, discharged, stored, zero, generator, running)
    sold = np.minimum(over, needs.export_limit)
    return Flows(made, demand, used, sold, under, over - sold, charged, discharged, stored, zero, generator, running)


def _by_the_day(made: Floats, needs: Needs) -> Flows:
    """A direct load without a tank: it takes what comes, up to its power, until the day's need is met."""
    given = np.maximum(made, 0)
    taken = given if needs.power is None else np.minimum(given, needs.power)
    rows = len(made)
    need = needs.demand.reshape(DAYS, 24).sum(axis=1)
    so_far = np.minimum(np.cumsum(taken.reshape(rows, DAYS, 24), axis=2), need[:, None])
    used = np.diff(so_far, axis=2, prepend=0).reshape(rows, HOURS)
    unmet = np.zeros((rows, DAYS, 24))
    unmet[:, :, 23] = need - so_far[:, :, 23]
    missing = unmet.reshape(rows, HOURS)
    zero = np.zeros_like(made)
    # What the day wants is not asked for at one hour or another: what is used, and at its end what is missing.
    own = np.maximum(-made, 0)
    return Flows(
        made, used + missing, used, zero, zero, given - used, zero, zero, np.zeros((rows, HOURS + 1)), missing + own, zero, zero.astype(bool)
    )  # fmt: skip


def _from_a_tank(made: Floats, demand: Floats, needs: Needs, tank: Store) -> Flows:
    """A direct load that fills a tank, which is drawn from by the hour."""
    given = np.maximum(made, 0)
    taken = given if needs.power is None else np.minimum(given, needs.power)
    own = np.maximum(-made, 0)
    stored = states(tank, taken - demand)
    moved = np.diff(stored, axis=1)
    charged, discharged = np.maximum(moved, 0), np.maximum(-moved, 0)
    left = taken - demand - charged + discharged
    over, under = np.maximum(left, 0), np.maximum(-left, 0)
    zero = np.zeros_like(made)
    return Flows(
        made, demand, np.minimum(taken, demand), zero, zero, given - taken + over, charged, discharged, stored, under + own, zero, zero.astype(bool)
    )  # fmt: skip


def _with_generator(made: Floats, needs: Needs, generator: Generator) -> Flows:
    """Off the grid with a generator: it starts in the hour in which the battery cannot meet the use, gives all it has, runs on for
    its minimum, and what is over fills the battery."""
    rows = len(made)
    warm = WARM_UP * 24
    net = (made - needs.demand).T
    net = np.ascontiguousarray(np.concatenate([net[-warm:], net]))
    store = needs.store or Store(0.0)
    eta, capacity = store.one_way, store.capacity
    state, left_to_run = np.full(rows, capacity / 2), np.zeros(rows, dtype=int)
    stored = np.empty((len(net) + 1, rows))
    given = np.empty((len(net), rows))
    running = np.empty((len(net), rows), dtype=bool)
    for hour, now in enumerate(net):
        stored[hour] = state
        can = np.minimum(state * eta, store.discharge)
        start = (left_to_run == 0) & (-now > can + 1e-9)
        left_to_run = np.where(start, generator.minimum_run, left_to_run)
        on = left_to_run > 0
        room = np.minimum((capacity - state) / eta, store.charge)
        gives = np.where(on, np.minimum(np.maximum(room - now, 0.0), generator.power), 0.0)
        after = now + gives
        moved = np.where(after > 0, np.minimum(after, store.charge) * eta, np.maximum(after, -store.discharge) / eta)
        state = np.minimum(np.maximum(state + moved, 0.0), capacity)
        given[hour], running[hour] = gives, on
        left_to_run = left_to_run - on
    stored[-1] = state
    held = stored[warm:].T
    moved = np.diff(held, axis=1)
    charged, discharged = np.maximum(moved, 0) / eta, np.maximum(-moved, 0) * eta
    generated = given[warm:].T
    demand = np.broadcast_to(needs.demand, made.shape)
    left = made - demand + generated - charged + discharged
    return _settled(made, demand, left, charged, discharged, held, needs, generated, running[warm:].T)
