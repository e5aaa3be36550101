"""Tilt plans: the manual's reference table, exactness against brute force, and the laws that every plan obeys."""

from __future__ import annotations

from itertools import combinations, product

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from sundial.brief.read import brief_of
from sundial.days import sum_by_month, winter_days
from sundial.energy.production import TiltSurface
from sundial.mounts.one_axis import OneAxisMount
from sundial.mounts.two_axis import TwoAxisMount
from sundial.plan.months import NEAR, demand_sequences, worst_month_sequences
from sundial.plan.stretches import best_sequences, runs
from sundial.plan.tilt_plan import PlanConstraints, make_plans
from sundial.sky.weather_year import flipped
from sundial.study import Study, studied
from tests.core.conftest import study_of


def share(value: float, base: float) -> float:
    return (value / base - 1) * 100


def test_the_manuals_reference_table(greensboro):
    """Chapter 2: irradiation to 0.1 %, gains to 0.05 points."""
    plans = greensboro.plans(every_tilt=True, by="irradiation")
    fixed = plans.simplest
    assert greensboro.scene.weather.ghi.sum() / 1000 == pytest.approx(1566.2, rel=1e-3)
    assert fixed.stretches[0].tilt == 30
    assert fixed.irradiation == pytest.approx(1744.5, rel=1e-3)
    for settings, irradiation, gain in ((2, 1816.4, 4.13), (4, 1824.4, 4.58)):
        plan = plans.with_settings(settings)
        assert plan.irradiation == pytest.approx(irradiation, rel=1e-3)
        assert share(plan.irradiation, fixed.irradiation) == pytest.approx(gain, abs=0.05)
    assert plans.every_day.irradiation == pytest.approx(1842.0, rel=1e-3)
    trackers = (
        (OneAxisMount(kind="one-axis", limit=60), 1998, 14.5),
        (OneAxisMount(kind="one-axis", axis_tilt=36, limit=60), 2145, 23.0),
        (TwoAxisMount(kind="two-axis"), 2227, 27.7),
    )
    for mount, irradiation, gain in trackers:
        found = float(greensboro.production(mount).irradiation.sum())
        assert found == pytest.approx(irradiation, rel=1e-3)
        assert share(found, fixed.irradiation) == pytest.approx(gain, abs=0.05)


def brute(score: np.ndarray, settings: int, periods: int) -> float:
    """The best total over all ways to cut a year of equal periods in at most ``settings`` stretches, one tilt each."""
    by_period = score.reshape(periods, -1, score.shape[1]).sum(axis=1)
    best = by_period.sum(axis=0).max()
    for cuts in combinations(range(periods), min(settings, periods)):
        for tilts in product(range(score.shape[1]), repeat=len(cuts)):
            held = np.empty(periods, dtype=int)
            for i, cut in enumerate(cuts):
                held[np.arange(cut, cuts[(i + 1) % len(cuts)] + (periods if i == len(cuts) - 1 else 0)) % periods] = tilts[i]
            best = max(best, by_period[np.arange(periods), held].sum())
    return best


@pytest.mark.parametrize("seed", range(6))
def test_plans_are_exact(seed):
    """Random years whose tilt may change on the first of five 73-day periods only, against every possibility."""
    random = np.random.default_rng(seed)
    score = np.repeat(random.random((5, 3)) * 10, 73, axis=0) + random.random((365, 3)) * 0.01
    may_move = np.arange(365) % 73 == 0
    for settings, found in enumerate(best_sequences(score, 4, may_move), 1):
        if settings > 1:
            assert found is not None
            assert found.total == pytest.approx(brute(score, settings, 5))
            assert score[np.arange(365), found.by_day].sum() == pytest.approx(found.total)


def plain_dynamic(score: np.ndarray, settings: int) -> float:
    """Exact by another road: for each day the year could be cut at, a linear dynamic programme over stretches."""
    days, tilts = score.shape
    best = score.sum(axis=0).max()
    for start in range(0, days, 1):
        turned = np.roll(score, -start, axis=0)
        value = np.full((settings, tilts), -np.inf)
        value[0] = turned[0]
        for day in range(1, days):
            fresh = np.concatenate([[-np.inf], value.max(axis=1)[:-1]])
            value = np.maximum(value, fresh[:, None]) + turned[day]
        best = max(best, value.max())
    return best


def test_plans_are_exact_over_all_rotations_of_the_real_year(upland):
    weekly = upland.surface().energy[:, 10:70:6]
    found = best_sequences(weekly, 4)
    for settings in (2, 3):
        assert found[settings - 1].total == pytest.approx(plain_dynamic(weekly, settings), rel=1e-12)


def test_stretches_cover_the_year():
    held = np.array([1] * 80 + [2] * 180 + [1] * 105)
    assert runs(held) == [(80, 180, 2), (260, 185, 1)]
    assert runs(np.zeros(365, dtype=int)) == [(0, 365, 0)]


@given(st.lists(st.integers(0, 90), min_size=2, max_size=7, unique=True), st.integers(0, 90))
def test_more_moves_and_more_holes_never_give_less(tilts, more):
    study = shared()
    few = make_plans(study.surface(), PlanConstraints(np.unique(np.array(tilts, float))), 42.9)
    energies = [plan.energy for plan in few.plans]
    assert all(b >= a - 1e-9 for a, b in zip(energies, energies[1:], strict=False))
    assert few.every_day.energy >= energies[-1] - 1e-9
    wider = make_plans(study.surface(), PlanConstraints(np.unique(np.array([*tilts, more], float))), 42.9)
    assert all(b.energy >= a.energy - 1e-9 for a, b in zip(few.plans, wider.plans, strict=True))


@given(st.lists(st.integers(5, 90), min_size=12, max_size=12), st.sampled_from(["year", "winter", "worst-month"]))
@example([35, 35, 5, 5, 5, 5, 5, 5, 5, 5, 65, 65], "worst-month")
def test_a_cap_never_gives_more(cap, goal):
    """But that either plan for the worst month may give up ``NEAR`` of it for the sake of the year."""
    given_up = NEAR if goal == "worst-month" else 0.0
    study = shared()
    tilts = np.arange(0.0, 91, 5)
    free = make_plans(study.surface(), PlanConstraints(tilts, goal), 42.9, 4)
    capped = make_plans(study.surface(), PlanConstraints(tilts, goal, cap=np.array(cap, float)), 42.9, 4)
    for k in range(4):
        if capped.plans[k] is not None:
            assert capped.plans[k].goal_value * (1 - given_up) <= free.plans[k].goal_value + 1e-6
            held = np.array(capped.plans[k].tilt_by_day)
            assert (held <= np.repeat(cap, [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31])).all()


_kept: list[Study] = []


def shared() -> Study:
    if not _kept:
        _kept.append(
            study_of(site={"latitude": 42.9, "longitude": -6.1}, sky={"kind": "made-up", "name": "dry-upland", "seed": 5})
        )
    return _kept[0]


def test_the_mirrored_sky_gives_the_mirrored_plan():
    """The same surface half a year later: what the twin place in the other hemisphere has."""
    north = shared()
    surface = north.surface()
    turned = TiltSurface(surface.tilts, 0.0, np.roll(surface.energy, 182, axis=0), np.roll(surface.irradiation, 182, axis=0))
    tilts = np.arange(0.0, 91)
    for goal in ("year", "winter"):
        if goal == "winter":
            assert (np.roll(winter_days(42), 182) == winter_days(-42)).mean() > 0.98
        here, there = (
            make_plans(surface, PlanConstraints(tilts, goal), 42.9, 4),
            make_plans(turned, PlanConstraints(tilts, goal), -42.9, 4),
        )
        for a, b in zip(here.plans, there.plans, strict=True):
            assert b.energy == pytest.approx(a.energy, rel=2e-3)
            if goal == "year" and a.moves:
                assert sorted(s.tilt for s in a.stretches) == sorted(s.tilt for s in b.stretches)
                assert sorted((s.start + 182) % 365 for s in a.stretches) == sorted(s.start for s in b.stretches)


def test_a_whole_build_mirrors(greensboro):
    """The file's own sky flipped to 36.1 south: the same tilts, half a year apart, facing north. The sun itself is a few
    per cent stronger in January, so dates and energies agree closely, not exactly."""
    data = greensboro.brief.model_dump()
    data["site"] |= {"latitude": -36.1}
    data["array"]["azimuth"] = None
    south = studied(brief_of(data), given_weather=flipped(greensboro.scene.weather))
    assert south.scene.azimuth == 0
    here, there = (s.plans(by="irradiation").with_settings(2) for s in (greensboro, south))
    assert there.irradiation == pytest.approx(here.irradiation, rel=0.02)
    for a, b in zip(sorted(here.stretches, key=lambda s: s.tilt), sorted(there.stretches, key=lambda s: s.tilt), strict=True):
        assert abs(a.tilt - b.tilt) <= 2
        assert abs((a.start + 182 - b.start + 182) % 365 - 182) <= 8


def test_slack_and_bands_hold_what_they_promise(upland):
    plans = upland.plans(every_tilt=True)
    plan = plans.with_settings(2)
    daily = upland.surface().energy
    allowed = 0.001 * plan.energy
    for index, stretch in enumerate(plan.stretches):
        before = plan.stretches[index - 1].tilt
        for date in (stretch.earliest, stretch.latest):
            tilts = np.array(plan.tilt_by_day)
            days = (
                np.arange(date, date + (stretch.start - date) % 365) % 365
                if date == stretch.earliest
                else np.arange(stretch.start, stretch.start + (date - stretch.start) % 365) % 365
            )
            tilts[days] = stretch.tilt if date == stretch.earliest else before
            moved = daily[np.arange(365), tilts.astype(int)].sum()
            assert plan.energy - allowed - 1e-9 <= moved <= plan.energy + 1e-9
        inside = np.arange(stretch.start, stretch.start + stretch.days) % 365
        total = daily[inside].sum(axis=0)
        low, high = (int(t) for t in stretch.band)
        assert total[low : high + 1].min() >= 0.99 * total.max()
        assert total[low - 1] < 0.99 * total.max() or low == 0
        assert total[high + 1] < 0.99 * total.max()


@pytest.mark.parametrize(
    ("tilts", "cap", "floor"),
    [(range(0, 91), 35.0, None), (range(0, 91), None, 50.0), (range(0, 91), 40.0, 28.0), (range(20, 61, 10), None, None),
     (range(20, 61, 10), 45.0, 22.0), (range(0, 31), None, None)],
)  # fmt: skip
def test_bands_stay_within_reach_caps_and_floors(upland, tilts, cap, floor):
    """A steep winter is wanted; what is told as good is what this frame may do, and what it would like is told apart."""
    limits = PlanConstraints(
        np.array(tilts, dtype=float),
        cap=None if cap is None else np.full(12, cap),
        floor=None if floor is None else np.full(12, floor),
    )
    surface = upland.surface()
    low, high = max(min(tilts), floor or 0), min(max(tilts), cap or 90)
    for plan in make_plans(surface, limits, 36.0, 4).plans:
        for stretch in plan.stretches:
            assert low <= stretch.band[0] <= stretch.tilt <= stretch.band[1] <= high
            days = np.arange(stretch.start, stretch.start + stretch.days) % 365
            energy = surface.energy[days].sum(axis=0)
            held = energy[surface.column(stretch.tilt)]
            for end, beyond in ((stretch.band[0], -1), (stretch.band[1], 1)):
                assert energy[surface.column(end)] >= 0.99 * held
                if low < end < high:
                    assert energy[surface.column(end + beyond)] < 0.99 * held
            assert energy[surface.column(stretch.wanted[0])] >= 0.99 * energy.max()
            assert stretch.well_placed == (stretch.wanted[0] - 0.5 <= stretch.tilt <= stretch.wanted[1] + 0.5)


def test_a_cap_by_month_binds_the_stretches_it_falls_in(upland):
    """35 degrees at most in January: the winter's band ends there, the summer's own does not feel it."""
    cap = np.full(12, 90.0)
    cap[0] = 35.0
    plan = make_plans(upland.surface(), PlanConstraints(np.arange(0.0, 91.0), cap=cap), 36.0, 2).plans[1]
    (winter,) = [s for s in plan.stretches if (0 - s.start) % 365 < s.days]
    (summer,) = [s for s in plan.stretches if s is not winter]
    assert winter.band[1] == winter.tilt == 35.0 < winter.wanted[0]
    assert not winter.well_placed and summer.well_placed and summer.band == summer.wanted


def test_the_curve_is_flat_at_its_top(greensboro):
    """Chapter 1: within about 10 degrees of the best tilt a fixed plane loses about 1 to 1.5 %."""
    year = greensboro.surface().irradiation.sum(axis=0)
    for off in (-10, 10):
        assert 0.005 < 1 - year[30 + off] / year[30] < 0.02


def test_weekends_only_moves_fall_on_weekends():
    from datetime import date, timedelta

    study = study_of(plan={"weekdays": [5, 6], "year": 2027})
    for stretch in study.plans().with_settings(4).stretches:
        assert (date(2027, 1, 1) + timedelta(days=stretch.start)).weekday() in (5, 6)
    assert study.plans().with_settings(4).energy <= study_of().plans().with_settings(4).energy


def test_winter_counts_the_dark_half_and_makes_it_steeper(greensboro):
    year, winter = (greensboro.plans(goal=goal).simplest for goal in ("year", "winter"))
    assert winter.stretches[0].tilt > year.stretches[0].tilt + 10
    assert winter.energy < year.energy
    assert winter.goal_value < winter.energy


def test_chosen_months_count_alone():
    summer = study_of(plan={"goal": "months", "months": [6, 7]}).own_plans.simplest
    assert summer.stretches[0].tilt < 15


def test_the_worst_month_is_as_high_as_it_can_be(greensboro):
    daily = greensboro.surface().energy[:, ::5]
    plans = worst_month_sequences(daily, 12, np.ones(365, dtype=bool))
    worst = [float(sum_by_month(daily[np.arange(365), p.by_day]).min()) for p in plans if p]
    assert all(b >= a - 1e-9 for a, b in zip(worst, worst[1:], strict=False))
    best_possible = sum_by_month(daily).max(axis=1).min()
    assert worst[-1] >= best_possible * 0.99
    assert worst[0] == pytest.approx(sum_by_month(daily).min(axis=0).max(), rel=0.006)


def by_brute_force(days: list[int], tilts: int, most: int) -> np.ndarray:
    """Every closed year (n, 365) with at most ``most`` moves on the given days."""
    years = []
    for count in (0, *range(2, most + 1)):
        for chosen in combinations(days, count):
            for held in product(range(tilts), repeat=max(count, 1)):
                year = np.full(365, held[-1])
                for day, tilt in zip(chosen, held, strict=False):
                    year[day:] = tilt
                years.append(year)
    return np.array(years)


@given(st.integers(0, 2**32 - 1))
def test_goals_by_the_month_are_exact(seed):
    """Against all years there are, with few days to move on; and day by day the answer is what its total says."""
    rng = np.random.default_rng(seed)
    tilts = 3
    season = np.cos((np.arange(365)[:, None] - 172) / 58 + np.linspace(-0.8, 0.8, tilts)[None, :])
    daily = rng.uniform(2, 6, (365, 1)) + 2 * season + rng.uniform(0, 1.5, (365, tilts))
    days = sorted(int(day) for day in rng.choice(365, 7, replace=False))
    may_move = np.isin(np.arange(365), days)
    demand = sum_by_month(daily).max(axis=1) * rng.uniform(0.8, 1.05, 12)
    most = 4
    worst_plans = worst_month_sequences(daily, most, may_move)
    demand_plans = demand_sequences(daily, demand, most, may_move)
    reached = -np.inf
    for settings in range(1, most + 1):
        years = by_brute_force(days, tilts, settings)
        months = np.array([sum_by_month(daily[np.arange(365), year]) for year in years])
        lowest = months.min(axis=1)
        floor = max(lowest.max() * (1 - NEAR), reached)
        worst = worst_plans[settings - 1]
        assert daily[np.arange(365), worst.by_day].sum() == pytest.approx(months.sum(axis=1)[lowest >= floor - 1e-9].max())
        reached = sum_by_month(daily[np.arange(365), worst.by_day]).min()
        assert reached >= floor - 1e-9
        value = -(np.maximum(demand - months, 0) + 1e-6 * np.maximum(months - demand, 0)).sum(axis=1)
        met = demand_plans[settings - 1]
        assert met.total == pytest.approx(value.max(), abs=1e-4)  # a month's moves are chosen by its energy, before its waste
        assert met.total <= value.max() + 1e-9
        own = sum_by_month(daily[np.arange(365), met.by_day])
        assert -(np.maximum(demand - own, 0) + 1e-6 * np.maximum(own - demand, 0)).sum() == pytest.approx(met.total, abs=1e-9)
        for plan in (worst, met):
            moves = np.flatnonzero(plan.by_day != np.roll(plan.by_day, 1))
            assert len(moves) <= settings
            assert set(moves) <= set(days)
