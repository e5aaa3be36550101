"""Timings of the hourly balance of all rows in all skies, against a plain Python loop over rows, skies and hours."""

from __future__ import annotations

import time
from typing import Any

import numpy as np

from sundial.balance.flows import Flows, Needs, balance
from sundial.balance.skies import YEARS, in_year, resampled_days
from sundial.balance.store import Store
from sundial.brief.read import brief_of
from sundial.days import HOURS, MONTH_OF_HOUR
from sundial.money.tariff import Tariff, value_by_month
from sundial.study import studied
from sundial.worth.balances import balances
from sundial.worth.comparison import rows_of
from sundial.worth.ways import ways_of

MONTHS = MONTH_OF_HOUR.tolist()
Row = tuple[str, str, str, str]


def plain(
    made: list[float], use: list[float], store: Store, buy: list[float], sell: list[float], state: float
) -> tuple[float, ...]:
    """The sums of one row in one sky and its money by month, hour by hour, as one would write it first."""
    capacity, charge, discharge, eta = store.capacity, store.charge, store.discharge, store.one_way
    money = [0.0] * 12
    used = charged = discharged = sold = bought = 0.0
    for hour in range(HOURS):
        net, month = made[hour] - use[hour], MONTHS[hour]
        if net > 0:
            taken = min(net, charge, (capacity - state) / eta)
            state += taken * eta
            used += use[hour]
            charged += taken
            sold += net - taken
            money[month] += (net - taken) * sell[hour] / 1000
        else:
            given = min(-net, discharge, state * eta)
            state -= given / eta
            used += max(made[hour], 0.0)
            discharged += given
            bought += -net - given
            money[month] -= (-net - given) * buy[hour] / 1000
    return (sum(money), used, charged, discharged, sold, bought)


USE = {
    "kind": "grid",
    "yearly": 3600,
    "shape": "home-day",
    "tariff": {"import": [{"from": "07:00", "to": "23:00", "price": 0.31}, {"price": 0.19}], "export": 0.06},
}
BATTERY = {"usable": 5.0, "charge": 2500, "discharge": 2500, "round_trip": 0.9}


def balance_rows(brief: dict[str, Any]) -> list[Row]:
    """The rows of a brief, with a battery under a sky that is grown: this sky's answer, all skies with it, and the plain loop."""
    sky = {"kind": "monthly", "ghi": [1.7, 2.6, 3.9, 4.8, 5.8, 6.6, 6.9, 6.0, 4.6, 2.9, 1.9, 1.4]}
    site = {"latitude": 42.9, "longitude": -6.1, "elevation": 870, "timezone": "Europe/Madrid"}
    study = studied(brief_of({**brief, "site": site, "sky": sky, "use": USE, "battery": BATTERY}))
    years = ways_of(study)
    rows = list(rows_of(study, years).values())
    hourly = np.stack([row.hourly for row in rows])
    needs = study.needs
    if needs.store is None:
        raise ValueError("the balance is timed with a battery")
    start = time.perf_counter()
    flows = balance(hourly, needs)
    tariff = Tariff(np.full(HOURS, 0.3), np.full(HOURS, 0.06))
    value_by_month(flows, needs, tariff)
    first = time.perf_counter() - start
    start = time.perf_counter()
    balances(study, rows)
    every = time.perf_counter() - start
    start = time.perf_counter()
    worst = _loop(hourly, needs, needs.store, flows.stored[:, 0], flows)
    slow = time.perf_counter() - start
    count = len(rows) * (YEARS + 1)
    return [
        (f"{len(rows)} rows x {YEARS + 1} skies with a battery in a plain loop", f"{slow:.2f} s", f"{count} years of hours", ""),
        ("the same, all of it", f"{every * 1000:.0f} ms", f"{slow / every:.0f} times faster (20 wanted)", "1.5 s"),
        ("this sky's alone", f"{first * 1000:.0f} ms", f"the loop's money to {worst:.0e}", "300 ms"),
    ]


def _loop(hourly: np.ndarray, needs: Needs, store: Store, starts: np.ndarray, flows: Flows) -> float:
    """The plain loop over every row and sky; the largest difference of a row's money in the sky that is known."""
    use, buy, sell = needs.demand.tolist(), [0.3] * HOURS, [0.06] * HOURS
    days = resampled_days(1)
    worst = 0.0
    ours = ((flows.sold * 0.06 - flows.bought * 0.3).sum(axis=1) / 1000).tolist()
    for row, (made, start) in enumerate(zip(hourly, starts.tolist(), strict=True)):
        worst = max(worst, abs(plain(made.tolist(), use, store, buy, sell, start)[0] - ours[row]))
        for one in days:
            plain(in_year(made[None], one)[0].tolist(), use, store, buy, sell, start)
    return worst
