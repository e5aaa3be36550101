"""Other years of the same sky: its days drawn again from those of the same time of the year, and what a balance comes to in them."""

from __future__ import annotations

from dataclasses import dataclass, fields, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from sundial.balance.flows import Flows, Needs, balance
from sundial.balance.store import Store, by_hour, composed, day_starts
from sundial.balance.sums import EMPTY, empty_days
from sundial.days import DAYS, HOURS, MONTH_STARTS

Floats = NDArray[np.float64]
YEARS = 10
ROWS_AT_ONCE = 64  # of ways times years that are walked through their hours together
NEAR = 12  # days before or after, from which a day is drawn
RUN = 10  # days that stay together: dull days come in rows


def resampled_days(seed: int, years: int = YEARS) -> NDArray[np.int64]:
    """Which day of the year stands for each day (years, 365): runs of 10 days, each moved by up to 12 days to either side. The same
    days for every way of holding the panels (common random numbers), so that what differs between ways is not chance. A moving-block
    bootstrap within the season: Kuensch 1989, doi 10.1214/aos/1176347265."""
    random = np.random.default_rng([seed, 1989])
    runs = -(-DAYS // RUN)
    moved = random.integers(-NEAR, NEAR + 1, size=(years, runs))
    days: NDArray[np.int64] = (np.arange(DAYS) + np.repeat(moved, RUN, axis=1)[:, :DAYS]) % DAYS
    return days


def in_year(hourly: Floats, days: NDArray[np.int64]) -> Floats:
    """Hours (rows, 8760) of a year made of these days (365,)."""
    rows = len(hourly)
    found: Floats = hourly.reshape(rows, DAYS, 24)[:, days].reshape(rows, HOURS)
    return found


@dataclass(frozen=True, eq=False)
class Year:
    """What a balance comes to in one year: kWh or money by month, each (rows, 12): ``bought`` and ``sold`` kWh, what these cost and earn at
    the hours' prices, ``unmet`` and ``generator`` kWh; and the empty days (rows,)."""

    bought: Floats
    sold: Floats
    cost: Floats
    income: Floats
    unmet: Floats
    generator: Floats
    empty: NDArray[np.int64]

    def rows(self, first: int, count: int) -> Year:
        """Some of the ways alone."""
        return Year(**{part.name: getattr(self, part.name)[first : first + count] for part in fields(self)})


def years_of(hourly: Floats, needs: Needs, days: NDArray[np.int64], buy: Floats, sell: Floats) -> list[Year]:
    """The years (years, 365) of some ways (rows, 8760), ``buy`` and ``sell`` by the hour (8760,). Where a store, or none, is all that
    stands between production and use, in single precision and with the days of all years as one: figures that a spread is read off."""
    made = hourly if needs.beside is None else hourly + needs.beside
    if needs.kind in ("grid", "off-grid") and needs.generator is None:
        return _quick(made, needs, days, buy, sell)
    alone, rows = replace(needs, beside=None), len(made)
    at_once = max(ROWS_AT_ONCE // rows, 1)  # years: hours that follow one another are walked once for all of them
    found = []
    for start in range(0, len(days), at_once):
        together = days[start : start + at_once]
        whole = _summed(balance(np.concatenate([in_year(made, one) for one in together]), alone), buy, sell)
        found += [whole.rows(number * rows, rows) for number in range(len(together))]
    return found


def _summed(flows: Flows, buy: Floats, sell: Floats) -> Year:
    def months(values: Floats) -> Floats:
        found: Floats = np.add.reduceat(values, MONTH_STARTS[:-1] * 24, axis=1) / 1000
        return found

    return Year(
        months(flows.bought), months(flows.sold), months(flows.bought * buy), months(flows.sold * sell), months(flows.unmet),
        months(flows.generator), empty_days(flows).sum(axis=1),
    )  # fmt: skip


def _quick(made: Floats, needs: Needs, days: NDArray[np.int64], buy: Floats, sell: Floats) -> list[Year]:
    """Hour by hour of the day; all days of all years and all ways at once (rows, years x 365)."""
    store, years = needs.store or Store(0.0), len(days)
    hours = by_hour(made.astype(np.float32))
    demand, buying, selling = (np.tile(by_hour(values[None].astype(np.float32)), years) for values in (needs.demand, buy, sell))
    net = np.take(hours, days.reshape(-1), axis=2)
    moves = np.empty_like(net)
    for left, use, move in zip(net, demand, moves, strict=True):
        left -= use
        store.wanted(left, out=move)
    by, low, high = (part.reshape(-1, DAYS) for part in composed(moves, store.capacity))
    start = day_starts(by, low, high, store.capacity).reshape(net.shape[1:])
    found = _sums(net, moves, start, store, needs, (demand, buying, selling))

    def of(part: str, year: int) -> Any:
        return found[part].reshape(len(made), years, -1)[:, year]

    kwh = ("bought", "sold", "cost", "income", "unmet", "generator")
    return [Year(*(of(part, year) for part in kwh), empty=found["empty"][:, year]) for year in range(years)]  # type: ignore[misc]


def _sums(
    net: Floats, moves: Floats, start: Floats, store: Store, needs: Needs, told: tuple[Floats, Floats, Floats]
) -> dict[str, Any]:
    """The parts of :class:`Year` (rows, years x 12) from what each hour has over (24, rows, days), how it moves the store, and the store
    at the days' starts (rows, days); the empty days (rows, years)."""
    demand, buying, selling = told
    endless = np.float32(np.inf)
    full, limit = np.float32(store.capacity), endless if needs.export_limit is None else np.float32(needs.export_limit)
    state = start.copy()
    bought, sold, cost, income = (np.zeros_like(start) for _ in range(4))
    one_price = bool((buying == buying.flat[0]).all() and (selling == selling.flat[0]).all())
    for left, move, buy, sell in zip(net, moves, buying, selling, strict=True):
        after = state + move
        after.clip(0, full, out=after)
        state -= after
        left -= store.outside(np.negative(state, out=state))
        state = after
        over, under = left.clip(0, limit), left.clip(-endless, 0)
        bought -= under
        sold += over
        if not one_price:
            cost -= under * buy
            income += over * sell
    kwh_bought, kwh_sold = _by_month(bought), _by_month(sold)
    zero, years = np.zeros_like(kwh_bought), start.shape[1] // DAYS
    found = dict.fromkeys(("bought", "sold", "cost", "income", "unmet", "generator"), zero)
    if needs.kind == "off-grid":
        empty = (bought > EMPTY * demand.sum(axis=0) + 0.01).reshape(-1, years, DAYS).sum(axis=2)
        return found | {"unmet": kwh_bought, "empty": empty}
    money = {"cost": kwh_bought * float(buying.flat[0]), "income": kwh_sold * float(selling.flat[0])}
    if not one_price:
        money = {"cost": _by_month(cost), "income": _by_month(income)}
    return found | {"bought": kwh_bought, "sold": kwh_sold, **money, "empty": np.zeros((len(start), years), dtype=np.int64)}


def _by_month(by_day: Floats) -> Floats:
    """kWh (rows, years x 12) of days (rows, years x 365) in Wh."""
    days = by_day.astype(float).reshape(len(by_day), -1, DAYS)
    found: Floats = np.add.reduceat(days, MONTH_STARTS[:-1], axis=2).reshape(len(by_day), -1) / 1000
    return found
