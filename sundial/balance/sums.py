"""The sums of a balance that are told of a way."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.balance.flows import Flows, Needs
from sundial.days import DAYS

Floats = NDArray[np.float64]
EMPTY = 0.001  # share of a day's demand that may be missing before the day counts as empty


@dataclass(frozen=True)
class Sums:
    """kWh of a year: ``made`` (what other arrays give to the same use included), ``used`` at once, ``sold``, ``bought``, ``curtailed``
    (thrown away), ``charged``, ``discharged``, ``unmet``, ``generator``; ``demand``. ``cycles`` of the battery; ``generator_hours``;
    ``empty_days``, the ``longest_dark`` stretch of them, the ``deepest`` state of the battery (kWh). Off the grid only the last three
    mean much."""

    made: float
    demand: float
    used: float
    sold: float
    bought: float
    curtailed: float
    charged: float
    discharged: float
    unmet: float
    generator: float
    generator_hours: int
    cycles: float
    empty_days: int
    longest_dark: int
    deepest: float

    @property
    def own_share(self) -> float:
        """Share of what is made that is used by the person, at once or out of the store."""
        return (self.used + self.discharged) / self.made if self.made > 0 else 0.0

    @property
    def met_share(self) -> float:
        """Share of the demand that is met without buying."""
        return 1 - (self.bought + self.unmet) / self.demand if self.demand > 0 else 1.0


def empty_days(flows: Flows) -> NDArray[np.bool_]:
    """Days on which some of the demand is missing (rows, 365)."""
    rows = len(flows.unmet)
    missing = flows.unmet.reshape(rows, DAYS, 24).sum(axis=2)
    demand = np.broadcast_to(flows.demand, flows.unmet.shape).reshape(rows, DAYS, 24).sum(axis=2)
    return np.asarray(missing > EMPTY * demand + 1e-6)


def longest_run(days: NDArray[np.bool_]) -> int:
    """The longest row of days (365,), the turn of the year counted through."""
    if days.all() or not days.any():
        return int(days.sum())
    longest = run = 0
    for day in np.concatenate([days, days]):
        run = run + 1 if day else 0
        longest = max(longest, run)
    return longest


def sums_of(flows: Flows, needs: Needs) -> list[Sums]:
    """The sums of every way."""
    year = {
        name: np.broadcast_to(getattr(flows, name), flows.made.shape).sum(axis=1) / 1000
        for name in ("made", "demand", "used", "sold", "bought", "curtailed", "charged", "discharged", "unmet", "generator")
    }
    hours, empty = flows.running.sum(axis=1), empty_days(flows)
    deepest = (flows.stored.min(axis=1) + needs.reserve) / 1000
    capacity = needs.store.capacity / 1000 if needs.store else 0.0
    out_of = needs.store.one_way if needs.store else 1.0
    return [
        Sums(
            **{name: float(values[row]) for name, values in year.items()},
            generator_hours=int(hours[row]),
            cycles=float(year["discharged"][row] / out_of / capacity) if capacity else 0.0,
            empty_days=int(empty[row].sum()),
            longest_dark=longest_run(empty[row]),
            deepest=float(deepest[row]),
        )
        for row in range(len(flows.made))
    ]
