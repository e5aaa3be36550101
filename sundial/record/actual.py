"""What was made beside what was planned, month by month, and two monitors beside one another."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np
from numpy.typing import NDArray

from sundial.days import day_of_date
from sundial.record.series import Series

Floats = NDArray[np.float64]
WHOLE = 0.8  # of a month's days: fewer are set against as many days of the plan, and told


@dataclass(frozen=True)
class MonthActual:
    """A month: kWh made on the ``days`` that are there, and planned for the same days."""

    year: int
    month: int
    days: int
    made: float
    planned: float

    @property
    def share(self) -> float | None:
        return self.made / self.planned if self.planned > 0 else None


def by_month(made: Mapping[date, float], planned: Sequence[float]) -> tuple[MonthActual, ...]:
    """``made`` kWh by date; ``planned`` kWh of each day of the year (365)."""
    rows: dict[tuple[int, int], list[tuple[float, float]]] = {}
    for day, kwh in sorted(made.items()):
        rows.setdefault((day.year, day.month), []).append((kwh, planned[day_of_date(day)]))
    return tuple(
        MonthActual(year, month, len(pairs), sum(one for one, _ in pairs), sum(other for _, other in pairs))
        for (year, month), pairs in rows.items()
    )


@dataclass(frozen=True)
class Beside:
    """Two series over the days that both have: kWh for each kW of nameplate, the second over the first, and their mean W per kW by the
    local hour (24 each)."""

    days: int
    first: float
    second: float
    hours_first: tuple[float, ...]
    hours_second: tuple[float, ...]

    @property
    def gain(self) -> float | None:
        return self.second / self.first - 1 if self.first > 0 else None


def beside(first: Series, second: Series, kw: tuple[float, float], utc_offset: float) -> Beside | None:
    """Compare two series per kW of nameplate, on the quarters of an hour that both have. None where they share no day."""
    one, other = first.by(900.0), second.by(900.0)
    if one.step != other.step:
        step = max(one.step, other.step)
        one, other = first.by(step), second.by(step)
    shared, a, b = np.intersect1d(np.round(one.unix / one.step), np.round(other.unix / one.step), return_indices=True)
    if not shared.size:
        return None
    local = one.unix[a] + utc_offset * 3600
    hour, days = (local // 3600 % 24).astype(int), len(np.unique(local // 86400))
    powers = (one.power[a] / kw[0], other.power[b] / kw[1])
    count = np.maximum(np.bincount(hour, minlength=24), 1)
    hours = [tuple((np.bincount(hour, power, 24) / count).round(2).tolist()) for power in powers]
    kwh = [float(power.sum()) * one.step / 3.6e6 for power in powers]
    return Beside(days, kwh[0], kwh[1], hours[0], hours[1])
