"""What a screen shows of the balance of one way: where a kWh goes, a week by the hour, the year as a carpet, the battery's days."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.balance.flows import Flows, Needs, balance
from sundial.balance.sums import Sums, empty_days, sums_of
from sundial.days import DAYS

Floats = NDArray[np.float64]
QUANTITIES = ("made", "demand", "used", "charged", "sold", "curtailed", "discharged", "bought", "generator", "unmet", "stored")
LITRE = 0.001163  # kWh that warm a litre of water by a degree: 4.186 kJ/(kg K)
WARMED = 40.0  # degrees by which a heater warms water for washing (thumb)


@dataclass(frozen=True)
class Part:
    """One thing that becomes of what is made: kWh a year, and its share."""

    key: str
    kwh: float
    share: float


@dataclass(frozen=True)
class Surplus:
    """What is thrown away: kWh a year, and litres a day that a heater on it would warm by 40 degrees, in the months that have it.
    ``months``: kWh of each (12)."""

    kwh: float
    months: tuple[float, ...]

    @property
    def litres(self) -> float:
        """Litres a day on the average of the year."""
        return self.kwh / DAYS / (LITRE * WARMED)

    @property
    def degrees(self) -> float:
        return WARMED


@dataclass(frozen=True)
class Battery:
    """The battery through the year: lowest and highest state of each day (365), kWh; the days on which something is missing."""

    capacity: float
    low: tuple[float, ...]
    high: tuple[float, ...]
    empty: tuple[int, ...]


@dataclass(frozen=True, eq=False)
class UseReport:
    """The balance of one way. ``hourly``: the flows themselves; ``parts``: what becomes of a kWh."""

    sums: Sums
    parts: tuple[Part, ...]
    surplus: Surplus
    battery: Battery | None
    hourly: Flows

    def week(self, day: int) -> dict[str, list[float]]:
        """The hours of the week around a day (168), Wh, and the state of the store (169), from three days before to three after."""
        days = np.arange(day - 3, day + 4) % DAYS
        found = {}
        for name in QUANTITIES[:-1]:
            values = np.broadcast_to(getattr(self.hourly, name), self.hourly.made.shape)[0]
            found[name] = values.reshape(DAYS, 24)[days].reshape(-1).tolist()
        stored = self.hourly.stored[0]
        found["stored"] = [*stored[:-1].reshape(DAYS, 24)[days].reshape(-1).tolist(), float(stored[(days[-1] + 1) * 24])]
        return found

    def carpet(self, quantity: str) -> Floats:
        """One quantity through the year (365, 24), Wh."""
        values = np.broadcast_to(getattr(self.hourly, quantity), (1, getattr(self.hourly, quantity).shape[-1]))[0]
        found: Floats = values[: DAYS * 24].reshape(DAYS, 24)
        return found


def use_report(hourly: Floats, needs: Needs) -> UseReport:
    """The report of a way from its hours (8760,)."""
    flows = balance(hourly[None], needs)
    sums = sums_of(flows, needs)[0]
    total = max(sums.used + sums.charged + sums.sold + sums.curtailed, 1e-9)
    keys = (("used", sums.used), ("charged", sums.charged), ("sold", sums.sold), ("curtailed", sums.curtailed))
    parts = tuple(Part(key, kwh, kwh / total) for key, kwh in keys if kwh > 0.5)
    battery = None
    if needs.store is not None:
        states = flows.stored[0, :-1].reshape(DAYS, 24) / 1000 + needs.reserve / 1000
        battery = Battery(
            (needs.store.capacity + needs.reserve) / 1000,
            tuple(states.min(axis=1).tolist()),
            tuple(states.max(axis=1).tolist()),
            tuple(np.flatnonzero(empty_days(flows)[0]).tolist()),
        )
    months = tuple(flows.by_month("curtailed")[0].tolist())
    return UseReport(sums, parts, Surplus(sums.curtailed, months), battery, flows)
