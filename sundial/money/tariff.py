"""What the hours of a balance cost: bands, blocks, limits and credit of a tariff, by month."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from sundial.balance.clock import wall_hours
from sundial.balance.flows import Flows, Needs, balance, months_of
from sundial.brief.model import Brief, DirectUse, GridUse, OffGridUse, TariffBrief
from sundial.brief.sections.use import price_table
from sundial.days import DAYS, HOURS, MONTH_OF_HOUR
from sundial.money.finance import grid_price
from sundial.sky.weather_year import WeatherYear

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class Tariff:
    """``buy`` and ``sell``: money per kWh in every hour (8760,). ``blocks``: (kWh of the month it ends at, money per kWh on top), rising,
    the last one endless. ``credit_month``: the month (0 to 11) at whose end credit expires (None: there is none), ``payout`` for a kWh of
    it. ``missing``: money a kWh unmet costs; ``generator``: a kWh from it. ``served``: a kWh of a direct load met."""

    buy: Floats
    sell: Floats
    blocks: tuple[tuple[float, float], ...] = ()
    credit_month: int | None = None
    payout: float = 0.0
    standing: float = 0.0
    missing: float = 0.0
    generator: float = 0.0

    @property
    def is_nothing(self) -> bool:
        """Whether no kWh is worth anything at any hour."""
        prices = (self.buy.any(), self.sell.any(), self.missing, self.generator, any(price for _, price in self.blocks))
        return not any(prices)


def tariff_of(brief: Brief, utc_offset: float, buying: float = 1.0, selling: float = 0.0, after_contract: bool = False) -> Tariff:
    """The tariff of a brief. ``buying`` scales every price of buying (and of what is missing), ``selling`` is added to every price of
    selling: for the sensitivity. ``after_contract``: as it sells once its old contract has ended."""
    use = brief.use
    zero = np.zeros(HOURS)
    if isinstance(use, OffGridUse):
        cost = use.generator.cost_per_kwh if use.generator else 0.0
        return Tariff(zero, zero, missing=use.missing_price * buying, generator=cost * buying)
    if isinstance(use, DirectUse):
        return Tariff(zero, zero, missing=use.price * buying)
    tariff = use.tariff or TariffBrief()
    wall = wall_hours(brief.site.timezone, utc_offset, brief.plan.year)
    buy = _by_hour(use.import_price if tariff.import_ is None else price_table(tariff.import_, "import"), wall)
    if tariff.import_ is None and tariff.blocks:
        buy = zero  # the blocks hold the whole price
    export = tariff.export
    sell = _by_hour(
        use.export_price if export is None else price_table(export, "export") if isinstance(export, list) else export, wall
    )
    if after_contract and tariff.contract is not None:
        sell = np.full(HOURS, tariff.contract.export)
    blocks = tuple((np.inf if block.up_to is None else block.up_to, block.price * buying) for block in tariff.blocks or ())
    credit = None if tariff.credit is None or after_contract else tariff.credit
    return Tariff(
        buy * buying,
        sell + selling,
        blocks,
        None if credit is None else credit.expires - 1,
        0.0 if credit is None else credit.payout,
        tariff.standing,
    )


def _by_hour(prices: float | list[list[float]], wall: NDArray[np.int64]) -> Floats:
    if isinstance(prices, (int, float)):
        return np.full(HOURS, float(prices))
    found: Floats = np.array(prices)[MONTH_OF_HOUR, wall]
    return found


@dataclass(frozen=True, eq=False)
class Bill:
    """Money by month, each (rows, 12): ``cost`` of what is bought (blocks and credit counted; the standing charge is not in it),
    ``income`` of what is sold, ``missing`` and ``generator``."""

    cost: Floats
    income: Floats
    missing: Floats
    generator: Floats

    @property
    def total(self) -> Floats:
        """What is paid in each month, (rows, 12)."""
        return self.cost - self.income + self.missing + self.generator


def bill(flows: Flows, tariff: Tariff) -> Bill:
    """The bill of every way, see :func:`bill_of_months`."""
    bought, sold = months_of(flows.bought) / 1000, months_of(flows.sold) / 1000
    cost, income = _at_prices(flows.bought, tariff.buy, bought), _at_prices(flows.sold, tariff.sell, sold)
    return bill_of_months(bought, sold, cost, income, months_of(flows.unmet) / 1000, months_of(flows.generator) / 1000, tariff)


def _at_prices(hourly: Floats, prices: Floats, kwh: Floats) -> Floats:
    """Money by month (rows, 12) of hours at their prices."""
    if (prices == prices[0]).all():
        return kwh * float(prices[0])
    return months_of(hourly * prices) / 1000


def bill_of_months(
    bought: Floats, sold: Floats, cost: Floats, income: Floats, unmet: Floats, generator: Floats, tariff: Tariff
) -> Bill:
    """The bill from kWh by month (rows, 12) and what they cost and earn at the hours' prices. With credit, what is sold earns nothing: its kWh are set against those bought in that month and later,
    the top block first, each at the mean band price of its month, until they expire."""
    paid = bought
    if tariff.credit_month is not None:
        paid, income = _with_credit(bought, sold, tariff.credit_month, tariff.payout)
        cost = np.divide(cost * paid, bought, out=np.zeros_like(cost), where=bought > 0)
    cost = cost + _in_blocks(paid, tariff.blocks)
    return Bill(cost, income, unmet * tariff.missing, generator * tariff.generator)


def _in_blocks(bought: Floats, blocks: tuple[tuple[float, float], ...]) -> Floats:
    """What a month's kWh cost on top of the bands' prices."""
    cost = np.zeros_like(bought)
    last = 0.0
    for end, price in blocks:
        cost += price * np.clip(bought - last, 0, end - last)
        last = end
    return cost


def _with_credit(bought: Floats, sold: Floats, expires: int, payout: float) -> tuple[Floats, Floats]:
    """kWh of each month that are still paid for, and money for what expires; the year begins after credit has expired."""
    paid, income = np.empty_like(bought), np.zeros_like(bought)
    held = np.zeros(len(bought))
    for step in range(1, 13):
        month = (expires + step) % 12
        held = held + sold[:, month]
        used = np.minimum(held, bought[:, month])
        paid[:, month] = bought[:, month] - used
        held = held - used
    income[:, expires] = held * payout
    return paid, income


def value_by_month(flows: Flows, needs: Needs, tariff: Tariff) -> Floats:
    """What each way is worth by month (rows, 12): the bill with nothing made less its own bill; where a fixed share of every hour is
    used on the spot, what that share and the rest are worth."""
    if needs.kind == "share":
        return months_of(flows.used * tariff.buy) / 1000 + months_of(flows.sold * tariff.sell) / 1000
    return bill(nothing_made(needs), tariff).total - bill(flows, tariff).total


@lru_cache(maxsize=4)  # needs are told apart by identity: asked again for every sum of one comparison
def nothing_made(needs: Needs) -> Flows:
    """The balance of an array that makes nothing (1 row); a battery that nothing fills takes no part in it."""
    empty = needs if needs.beside is not None or needs.generator is not None else replace(needs, store=None)
    return balance(np.zeros((1, HOURS)), empty)


MORE = 0.02  # of the production, by which the worth of one more kWh is found


def price_of_more(made: Floats, needs: Needs, tariff: Tariff) -> float:
    """What one more kWh is worth on the average of the year, from ``made`` (1, 8760) and a fiftieth more of it."""
    kwh = float(made.sum()) * MORE / 1000
    if kwh <= 0:
        return 0.0
    both = np.concatenate([made, made * (1 + MORE)])
    value = value_by_month(balance(both, needs), needs, tariff).sum(axis=1)
    return float(value[1] - value[0]) / kwh


def price_of_one_more(brief: Brief, weather: WeatherYear, needs: Callable[[], Needs], daily: Callable[[], Floats]) -> float:
    """What one more kWh is worth on the average: by the share used on the spot, or by the balance of the best fixed tilt, ``daily`` kWh
    (365,), with a fiftieth more."""
    use = brief.use
    if isinstance(use, GridUse) and not use.by_hour:
        return grid_price(use.import_price, use.export_price, use.own_share)
    sun = weather.ghi.reshape(DAYS, 24)
    share = np.divide(sun, sun.sum(axis=1, keepdims=True), out=np.zeros_like(sun), where=sun.sum(axis=1, keepdims=True) > 0)
    made = (share * daily()[:, None] * 1000).reshape(1, -1)
    return price_of_more(made, needs(), tariff_of(brief, weather.utc_offset))
