"""The hourly balance against a plain loop, its sums, and what a larger battery or a higher price may never do."""

from __future__ import annotations

import itertools
from dataclasses import replace
from typing import Any

import numpy as np
import pytest

from sundial.answers.plan.report import plan_report
from sundial.balance import skies
from sundial.balance.empty_days import Judge, fewest_empty_days, half_months
from sundial.balance.flows import Flows, Generator, Needs, balance
from sundial.balance.skies import in_year, resampled_days, years_of
from sundial.balance.store import Store
from sundial.balance.sums import empty_days, longest_run, sums_of
from sundial.days import DAYS, HOURS
from sundial.money.tariff import Tariff, bill, price_of_more, value_by_month
from sundial.study import Study
from tests.core.conftest import study_of


def made_and_used(seed: int, rows: int = 2) -> tuple[np.ndarray, np.ndarray]:
    """Production with nights under zero and days of every kind, and a use: Wh of the hours."""
    random = np.random.default_rng(seed)
    day = np.clip(np.sin((np.arange(24) - 6) / 12 * np.pi), 0, None)
    made = random.uniform(0, 3500, (rows, DAYS, 1)) * day - 2.5 * (day == 0)
    used = random.uniform(50, 900, HOURS)
    return made.reshape(rows, HOURS), used


def plain(made: np.ndarray, needs: Needs, start: float) -> dict[str, np.ndarray]:
    """Hour by hour, as one would do it on paper."""
    names = ("sold", "bought", "curtailed", "charged", "discharged", "unmet", "stored")
    out: dict[str, list[float]] = {name: [] for name in names}
    store = needs.store or Store(0.0)
    eta, state = store.round_trip**0.5, start
    for sun, use in zip(made, needs.demand, strict=True):
        out["stored"].append(state)
        charged = discharged = sold = bought = curtailed = unmet = 0.0
        if sun >= use:
            charged = min(sun - use, store.charge, (store.capacity - state) / eta)
            state += charged * eta
            rest = sun - use - charged
            if needs.kind == "grid":
                sold = rest if needs.export_limit is None else min(rest, needs.export_limit)
            curtailed = rest - sold
        else:
            discharged = min(use - sun, store.discharge, state * eta)
            state -= discharged / eta
            short = use - sun - discharged
            bought, unmet = (short, 0.0) if needs.kind == "grid" else (0.0, short)
        for name, value in zip(names, (sold, bought, curtailed, charged, discharged, unmet), strict=False):
            out[name].append(value)
    return {name: np.array(values) for name, values in out.items()}


def closes(flows: Flows) -> float:
    """The largest gap of an hour, Wh."""
    given = flows.made + flows.bought + flows.discharged + flows.generator + flows.unmet
    taken = flows.demand + flows.sold + flows.curtailed + flows.charged
    return float(np.abs(given - taken).max())


@pytest.mark.parametrize("seed", range(4))
@pytest.mark.parametrize("kind", ["grid", "off-grid"])
def test_a_plain_loop_agrees(kind: str, seed: int) -> None:
    made, used = made_and_used(seed)
    random = np.random.default_rng(seed + 99)
    store = Store(random.uniform(500, 9000), random.uniform(300, 2000), random.uniform(300, 2000), random.uniform(0.7, 0.98))
    needs = Needs(kind, used, store, export_limit=random.uniform(200, 1500) if seed % 2 else None)
    flows = balance(made, needs)
    assert closes(flows) < 1e-9
    for row in range(2):
        assert flows.stored[row, 0] == pytest.approx(flows.stored[row, -1], abs=1e-6), "the year begins as it ends"
        loop = plain(made[row], needs, flows.stored[row, 0])
        for name, values in loop.items():
            assert np.abs(getattr(flows, name)[row, :HOURS] - values).max() < 1e-6, name
    assert (flows.stored >= -1e-9).all() and (flows.stored <= store.capacity + 1e-9).all()


def test_without_a_battery_everything_goes_at_once() -> None:
    made, used = made_and_used(7, rows=1)
    flows = balance(made, Needs("grid", used))
    assert closes(flows) < 1e-9 and not flows.charged.any() and not flows.curtailed.any()
    assert np.allclose(flows.sold, np.maximum(made - used, 0)) and np.allclose(flows.bought, np.maximum(used - made, 0))
    none = balance(made, Needs("grid", used, export_limit=0.0))
    assert not none.sold.any() and np.allclose(none.curtailed, flows.sold)


def test_a_fixed_share_and_a_constant_price_are_the_old_formula() -> None:
    """300 kWh at 0.45 x 0.24 + 0.55 x 0.06: 42.30; hour by hour with the share that comes out, the same."""
    made = np.full((1, HOURS), 300e3 / HOURS)
    tariff = Tariff(np.full(HOURS, 0.24), np.full(HOURS, 0.06))
    share = Needs("share", np.zeros(HOURS), own_share=0.45)
    assert value_by_month(balance(made, share), share, tariff).sum() == pytest.approx(42.30, abs=1e-9)
    made, used = made_and_used(3, rows=1)
    needs = Needs("grid", used)
    flows = balance(np.maximum(made, 0), needs)
    sums = sums_of(flows, needs)[0]
    worth = sums.made * (sums.own_share * 0.24 + (1 - sums.own_share) * 0.06)
    assert value_by_month(flows, needs, tariff).sum() == pytest.approx(worth, abs=1e-9)


def test_a_larger_battery_never_leaves_more_unmet_and_a_higher_export_price_never_less_value() -> None:
    made, used = made_and_used(11, rows=1)
    missing = []
    for size in (0.0, 400.0, 2500.0, 2600.0, 20_000.0, 200_000.0):
        flows = balance(made, Needs("off-grid", used * 1.6, Store(size, 1500.0, 1500.0, 0.9)))
        missing.append(flows.unmet.sum())
    assert missing == sorted(missing, reverse=True) and missing[0] > 1.2 * missing[-1]
    needs = Needs("grid", used, Store(3000.0), export_limit=900.0)
    flows = balance(made, needs)
    worth = [
        value_by_month(flows, needs, Tariff(np.full(HOURS, 0.3), np.full(HOURS, price))).sum() for price in (-0.1, 0.0, 0.05, 0.3)
    ]
    assert worth == sorted(worth) and worth[0] < worth[-1]


def test_the_year_starts_as_it_ends_where_it_gives_less_than_it_takes_too() -> None:
    made, used = made_and_used(5, rows=1)
    poor = balance(made * 0.2, Needs("off-grid", used, Store(5e6)))
    assert poor.stored[0, 0] == pytest.approx(poor.stored[0, -1])
    rich = balance(made * 9, Needs("off-grid", used, Store(5e4)))
    assert rich.stored[0, 0] == pytest.approx(rich.stored[0, -1]) and rich.unmet.sum() < 1e-6


# -- a generator --------------------------------------------------------------------------------------------------


def test_a_generator_runs_its_minimum_and_fills_the_battery() -> None:
    """No sun; 100 W of use; a battery of 1 kWh without loss and a generator of 500 W that runs 3 hours: from empty
    the battery is full after two and a half, so the third hour gives the 100 W of use and 200 more."""
    needs = Needs("off-grid", np.full(HOURS, 100.0), Store(1000.0), generator=Generator(500.0, 3))
    flows = balance(np.zeros((1, HOURS)), needs)
    assert closes(flows) < 1e-9 and flows.unmet.max() == 0
    starts = np.flatnonzero(flows.running[0] & ~np.roll(flows.running[0], 1))
    first = int(starts[1])
    assert flows.running[0, first : first + 4].tolist() == [True, True, True, False]
    assert flows.generator[0, first : first + 3].tolist() == pytest.approx([500.0, 500.0, 300.0])
    assert np.diff(starts)[1:5].tolist() == [13, 13, 13, 13], "3 hours of running, then 10 from the battery"
    assert flows.generator.sum() == pytest.approx(876_000, rel=0.002)


def test_a_weak_generator_leaves_the_rest_unmet() -> None:
    flows = balance(np.zeros((1, HOURS)), Needs("off-grid", np.full(HOURS, 100.0), generator=Generator(60.0)))
    assert closes(flows) < 1e-9
    assert flows.generator.max() == 60.0 and np.allclose(flows.unmet, 40.0)


# -- a direct load ------------------------------------------------------------------------------------------------


def test_a_direct_load_takes_what_comes_until_the_day_is_met() -> None:
    made = np.tile(np.array([0.0] * 10 + [300.0, 900.0, 500.0] + [0.0] * 11), DAYS)[None]
    needs = Needs("direct", np.full(HOURS, 50.0), power=600.0)  # 1200 Wh a day
    flows = balance(made, needs)
    assert closes(flows) < 1e-9
    assert flows.used[0, 10:13].tolist() == [300.0, 600.0, 300.0]
    assert flows.curtailed[0, 10:13].tolist() == [0.0, 300.0, 200.0]
    dark = balance(made * 0.5, needs)
    assert dark.used.sum() == pytest.approx(DAYS * 850.0) and dark.unmet.sum() == pytest.approx(DAYS * 350.0)


def test_a_tank_carries_the_sun_into_the_night() -> None:
    made = np.tile(np.array([0.0] * 10 + [300.0, 900.0, 500.0] + [0.0] * 11), DAYS)[None]
    needs = Needs("direct", np.full(HOURS, 50.0), Store(5000.0), power=600.0)
    flows = balance(made, needs)
    assert closes(flows) < 1e-9 and flows.unmet.sum() == 0
    small = balance(made, replace(needs, store=Store(300.0)))
    assert closes(small) < 1e-9 and small.unmet.sum() > 0


# -- sums, money ----------------------------------------------------------------------------------------------------


def test_empty_days_and_dark_stretches() -> None:
    used = np.full(HOURS, 100.0)
    made = np.full((1, DAYS, 24), 100.0)
    made[0, [0, 1, 364, 100], 5] = 60.0
    made[0, 200, 5] = 99.999
    flows = balance(made.reshape(1, HOURS), Needs("off-grid", used))
    assert np.flatnonzero(empty_days(flows)[0]).tolist() == [0, 1, 100, 364], "a thousandth of a day's use is not missed"
    sums = sums_of(flows, Needs("off-grid", used))[0]
    assert (sums.empty_days, sums.longest_dark) == (4, 3), "counted through the turn of the year"
    assert longest_run(np.ones(DAYS, dtype=bool)) == DAYS and longest_run(np.zeros(DAYS, dtype=bool)) == 0


def flows_by_month(bought: list[float], sold: list[float]) -> Any:
    """A balance with these kWh at noon of each month's first day."""
    starts = np.array([0, 31, 59, 90, 120, 151, 181, 212, 243, 273, 304, 334]) * 24 + 12
    arrays = np.zeros((2, HOURS))
    arrays[0, starts], arrays[1, starts] = np.array(bought) * 1000, np.array(sold) * 1000
    zero = np.zeros((1, HOURS))
    return Flows(
        zero, zero, zero, arrays[1:], arrays[:1], zero, zero, zero, np.zeros((1, HOURS + 1)), zero, zero, zero.astype(bool)
    )


def test_blocks_cost_more_the_more_of_a_month_is_bought() -> None:
    """By hand: 150 kWh at 0.10, of which 100 at 0.05 more and 50 at 0.20 more; 60 kWh at 0.10 + 0.05."""
    flows = flows_by_month([150, 60] + [0] * 10, [0] * 12)
    tariff = Tariff(np.full(HOURS, 0.10), np.zeros(HOURS), blocks=((100.0, 0.05), (np.inf, 0.20)))
    cost = bill(flows, tariff).cost[0]
    assert cost[:3].tolist() == pytest.approx([15 + 5 + 10, 6 + 3, 0])


def test_credit_is_used_up_and_expires() -> None:
    """Credit expires at the end of March. April sells 100 and buys 30; May buys 50; June sells 40 and buys 90: 20 + 40 are used, 30 paid;
    in March 25 sold kWh expire at 0.02."""
    bought, sold = [0.0] * 12, [0.0] * 12
    bought[3], bought[4], bought[5] = 30, 50, 90
    sold[3], sold[5], sold[2] = 100, 40, 25
    tariff = Tariff(np.full(HOURS, 0.30), np.full(HOURS, 0.99), credit_month=2, payout=0.02)
    found = bill(flows_by_month(bought, sold), tariff)
    assert found.cost[0].tolist() == pytest.approx([0, 0, 0, 0, 0, 9.0, 0, 0, 0, 0, 0, 0])
    assert found.income[0].tolist() == pytest.approx([0, 0, 0.5, 0, 0, 0, 0, 0, 0, 0, 0, 0])


def test_money_adds_up_over_bands_and_months() -> None:
    made, used = made_and_used(2)
    prices = np.where(np.arange(HOURS) % 24 < 7, 0.19, 0.31)
    flows = balance(made, Needs("grid", used, Store(2000.0)))
    found = bill(flows, Tariff(prices, np.full(HOURS, 0.06)))
    by_band = sum((flows.bought * (prices == price)).sum(axis=1) / 1000 * price for price in (0.19, 0.31))
    assert found.cost.sum(axis=1) == pytest.approx(by_band, abs=1e-9)
    assert found.total.sum(axis=1) == pytest.approx(by_band - flows.sold.sum(axis=1) * 0.06 / 1000, abs=1e-9)


def test_one_more_kwh_is_worth_what_it_replaces() -> None:
    made = np.full((1, HOURS), 100.0)
    tariff = Tariff(np.full(HOURS, 0.30), np.full(HOURS, 0.05))
    assert price_of_more(made, Needs("grid", np.full(HOURS, 500.0)), tariff) == pytest.approx(0.30)
    assert price_of_more(made, Needs("grid", np.full(HOURS, 50.0)), tariff) == pytest.approx(0.05)
    assert price_of_more(made, Needs("grid", np.full(HOURS, 50.0), export_limit=0.0), tariff) == pytest.approx(0.0)
    assert price_of_more(np.zeros((1, HOURS)), Needs("grid", np.full(HOURS, 50.0)), tariff) == 0.0


# -- other years ------------------------------------------------------------------------------------------------------


def test_other_years_take_days_of_the_same_season() -> None:
    days = resampled_days(1)
    assert days.shape == (10, DAYS) and (days == resampled_days(1)).all() and (days != resampled_days(2)).any()
    away = (days - np.arange(DAYS) + 182) % DAYS - 182
    assert away.min() == -12 and away.max() == 12 and abs(away.mean()) < 1.0
    assert (away[:, :10] == away[:, :1]).all(), "days stay together in tens"
    hourly = np.arange(2 * HOURS, dtype=float).reshape(2, HOURS)
    year = in_year(hourly, days[3])
    assert year[1, 30 * 24 + 5] == HOURS + days[3, 30] * 24 + 5


# -- the fewest empty days --------------------------------------------------------------------------------------------


def seasons(tilts: int, seed: int) -> np.ndarray:
    """Hours (tilts, 8760): each tilt is best at its own time of the year, and days differ."""
    random = np.random.default_rng(seed)
    height = 1 + 0.55 * np.cos((np.arange(DAYS) - 172) / DAYS * 2 * np.pi)
    best = np.array([0.2, 1.1, 1.6])[:tilts, None]
    fit = np.exp(-(((2 - height)[None, :] - best) ** 2))
    cloud = random.uniform(0.1, 1.3, DAYS)
    day = np.clip(np.sin((np.arange(24) - 6) / 12 * np.pi), 0, None)
    return ((fit * height * cloud * 420)[:, :, None] * day).reshape(tilts, HOURS)


@pytest.mark.parametrize(("seed", "size", "most"), [(1, 1500.0, 2), (3, 900.0, 3), (4, 2500.0, 1)])
def test_the_search_is_as_good_as_trying_everything(seed: int, size: float, most: int) -> None:
    """Three tilts, seven dates: every circle of tilts on them is tried, with the balance as the judge."""
    hourly = seasons(3, seed)
    store = Store(size, 600.0, 600.0, 0.88)
    needs = Needs("off-grid", np.full(HOURS, 46.0), store)
    dates = np.array([10, 60, 100, 150, 210, 270, 330])
    allowed = np.ones((DAYS, 3), dtype=bool)
    allowed[300:325, 0] = False
    found = fewest_empty_days(Judge(lambda: hourly, needs), allowed, dates, most)[-1]
    assert found is not None and found.exact
    span = np.searchsorted(dates, np.arange(DAYS), side="right") - 1
    best = None
    for tilts in itertools.product(range(3), repeat=7):
        if sum(a != b for a, b in zip(tilts, np.roll(tilts, 1), strict=True)) > (most if most > 1 else 0):
            continue
        by_day = np.array(tilts)[span % 7]
        if not allowed[np.arange(DAYS), by_day].all():
            continue
        flows = balance(np.ascontiguousarray(hourly.reshape(3, DAYS, 24)[by_day, np.arange(DAYS)].reshape(1, HOURS)), needs)
        key = (int(empty_days(flows)[0].sum()), round(float(flows.unmet.sum()) / 1000, 6))
        best = key if best is None else min(best, key)
    assert (found.empty_days, round(found.unmet, 6)) == best
    assert best is not None and best[0] > 0, "a case in which there is something to find"


def test_dates_wait_for_somebody_to_be_there() -> None:
    there = np.arange(DAYS) % 7 == 5
    dates = half_months(there)
    assert all(there[day] for day in dates) and len(dates) == 24
    assert dates[0] == 5 and dates[1] == 19
    assert half_months(np.ones(DAYS, dtype=bool)).tolist()[:3] == [0, 15, 31]


@pytest.mark.parametrize("kind", ["grid", "off-grid"])
def test_the_quick_way_through_other_years_is_the_balance(kind: str) -> None:
    made, used = made_and_used(21, rows=3)
    buy = np.where(np.arange(HOURS) % 24 < 7, 0.19, 0.31)
    sell = np.full(HOURS, 0.06)
    days = resampled_days(4, years=2)
    beside = np.full(HOURS, 40.0)
    for store in (Store(2600.0, 900.0, 700.0, 0.86), None):
        needs = Needs(kind, used, store, export_limit=800.0 if kind == "grid" else None, beside=beside)
        for number, year in enumerate(years_of(made, needs, days, buy, sell)):
            flows = balance(in_year(made + beside, days[number]), replace(needs, beside=None))
            exact = bill(flows, Tariff(buy, sell))
            assert year.bought == pytest.approx(flows.by_month("bought"), abs=0.01)
            assert year.sold == pytest.approx(flows.by_month("sold"), abs=0.01)
            assert year.cost == pytest.approx(exact.cost, abs=0.005)
            assert year.income == pytest.approx(exact.income, abs=0.005)
            assert year.unmet == pytest.approx(flows.by_month("unmet"), abs=0.01)
            assert year.empty.tolist() == empty_days(flows).sum(axis=1).tolist()


def test_years_beside_a_generator_are_walked_together_as_one_by_one() -> None:
    """Seven ways in eleven years, more than are walked at once: each year is that of its own balance."""
    made, used = made_and_used(5, rows=7)
    days, money = resampled_days(8, years=11), np.full(HOURS, 0.5)
    needs = Needs("off-grid", used, Store(3000.0, 900.0, 700.0, 0.86), generator=Generator(1500.0, 3))
    together = years_of(made, needs, days, money, money)
    assert len(made) * len(days) > skies.ROWS_AT_ONCE
    for number, year in enumerate(together):
        alone = balance(in_year(made, days[number]), needs)
        assert year.generator.tolist() == alone.by_month("generator").tolist()
        assert year.unmet.tolist() == alone.by_month("unmet").tolist()
        assert year.empty.tolist() == empty_days(alone).sum(axis=1).tolist()
    assert together[0].generator.sum() > 0 and together[0].generator.tolist() != together[10].generator.tolist()


def test_a_plan_is_told_without_asking_what_a_kwh_is_worth(monkeypatch) -> None:
    study = study_of(use={"kind": "grid", "import_price": 0.3, "export_price": 0.05, "yearly": 3000, "shape": "workshop"})
    monkeypatch.setattr(Study, "terms", property(lambda self: pytest.fail("a price is asked for")))
    report = plan_report(study)
    assert report.minutes == report.chosen.moves * study.brief.plan.minutes_per_move * study.brief.plan.people
