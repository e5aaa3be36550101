"""The hourly balance of every row of the comparison, in the sky that is known and in other years of it."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from sundial.balance.flows import Needs, balance
from sundial.balance.skies import Year, resampled_days, years_of
from sundial.balance.store import Store
from sundial.balance.sums import Sums, sums_of
from sundial.days import DAYS
from sundial.money.tariff import Tariff, bill, bill_of_months, nothing_made, tariff_of, value_by_month
from sundial.scene import Scene
from sundial.study import Study

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Skies:
    """One row in other years of the sky: kWh, money against nothing made, and empty days of each."""

    energy: tuple[float, ...]
    value: tuple[float, ...]
    empty_days: tuple[int, ...]


@dataclass(frozen=True)
class RowBalance:
    """A row's year: its sums, what it is worth by month against nothing made (12), whether it breaks an old contract's ceiling, and
    other years where the sky is grown."""

    sums: Sums
    value_by_month: tuple[float, ...]
    breaks_contract: bool = False
    skies: Skies | None = None

    @property
    def value(self) -> float:
        return sum(self.value_by_month)


@dataclass(frozen=True, eq=False)
class Row:
    """One row's hours (8760,) Wh; W of nameplate that it adds; kWh that it adds to the battery."""

    hourly: Floats
    added: float = 0.0
    more_battery: float = 0.0


def with_battery(needs: Needs, more: float) -> Needs:
    """The same needs with a battery that holds ``more`` kWh more (powers grow with it)."""
    if needs.store is None or not more:
        return needs
    store = needs.store
    grown = 1 + more * 1000 / (store.capacity + needs.reserve)
    larger = Store(store.capacity * grown, store.charge * grown, store.discharge * grown, store.round_trip)
    return replace(needs, store=larger, reserve=needs.reserve * grown)


def breaks_contract(scene: Scene, added: float) -> bool:
    """Whether so many W more end an old contract."""
    tariff = getattr(scene.brief.use, "tariff", None)
    return bool(tariff and tariff.contract and added > tariff.contract.added)


def balances(
    study: Study, rows: list[Row], buying: float = 1.0, selling: float = 0.0, needs: Needs | None = None
) -> list[RowBalance]:
    """The balance of every row, all through the hours together; rows of another battery or another contract among themselves.
    ``buying`` and ``selling`` as in :func:`tariff_of`; ``needs`` other than the study's own."""
    wanted = study.needs if needs is None else needs
    days = resampled_days(getattr(study.brief.sky, "seed", 1)) if study.scene.weather.synthetic else None
    found: dict[int, RowBalance] = {}
    for more, broken, at in _alike(study.scene, rows):
        hourly = np.stack([rows[n].hourly for n in at])
        tariff = tariff_of(study.brief, study.scene.weather.utc_offset, buying, selling, broken)
        held = with_battery(wanted, more)
        skies = None if days is None else _in_skies(hourly, held, tariff, days)
        flows = balance(hourly, held)
        values = value_by_month(flows, held, tariff)
        for place, (n, sums) in enumerate(zip(at, sums_of(flows, held), strict=True)):
            found[n] = RowBalance(sums, tuple(values[place].tolist()), broken, skies[place] if skies else None)
    return [found[n] for n in range(len(rows))]


def values(study: Study, rows: list[Row], buying: float = 1.0, selling: float = 0.0, needs: Needs | None = None) -> list[float]:
    """What every row is worth a year against nothing made, in the sky that is known."""
    wanted = study.needs if needs is None else needs
    found: dict[int, float] = {}
    for more, broken, at in _alike(study.scene, rows):
        held = with_battery(wanted, more)
        tariff = tariff_of(study.brief, study.scene.weather.utc_offset, buying, selling, broken)
        worth = value_by_month(balance(np.stack([rows[n].hourly for n in at]), held), held, tariff).sum(axis=1)
        found |= dict(zip(at, worth.tolist(), strict=True))
    return [found[n] for n in range(len(rows))]


def _alike(scene: Scene, rows: list[Row]) -> list[tuple[float, bool, list[int]]]:
    """The rows by their battery and contract: what more of a battery, whether the contract is broken, and which rows."""
    kinds: dict[tuple[float, bool], list[int]] = {}
    for number, row in enumerate(rows):
        kinds.setdefault((row.more_battery, breaks_contract(scene, row.added)), []).append(number)
    return [(more, broken, at) for (more, broken), at in sorted(kinds.items())]


def _in_skies(hourly: Floats, needs: Needs, tariff: Tariff, days: NDArray[np.int64]) -> list[Skies]:
    made = hourly.reshape(-1, DAYS, 24).sum(axis=2)[:, days].sum(axis=2) / 1000
    if needs.kind == "share":
        value = value_by_month(balance(hourly, needs), needs, tariff).sum(axis=1) / np.maximum(hourly.sum(axis=1) / 1000, 1e-9)
        years = [(made[:, year], made[:, year] * value, np.zeros(len(hourly), dtype=int)) for year in range(len(days))]
    else:
        nothing = float(bill(nothing_made(needs), tariff).total.sum())
        years = [
            (made[:, number], nothing - _total(year, tariff), year.empty)
            for number, year in enumerate(years_of(hourly, needs, days, tariff.buy, tariff.sell))
        ]
    return [
        Skies(
            tuple(float(energy[row]) for energy, _, _ in years),
            tuple(float(value[row]) for _, value, _ in years),
            tuple(int(empty[row]) for _, _, empty in years),
        )
        for row in range(len(hourly))
    ]


def _total(year: Year, tariff: Tariff) -> Floats:
    """What is paid in a year (rows,)."""
    parts = (year.bought, year.sold, year.cost, year.income, year.unmet, year.generator)
    total: Floats = bill_of_months(*parts, tariff).total.sum(axis=1)
    return total
