"""Tilt plans: the manual's reference table, exactness against brute force, and the laws that every plan obeys."""

from __future__ import annotations

import random
from collections.abc import Callable
from itertools import combinations, product

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from sundial.brief.model import OneAxisMount, TwoAxisMount
from sundial.brief.read import brief_of
from sundial.days import sum_by_month, winter_days
from sundial.energy.production import TiltSurface
from sundial.errors import BriefError
from sundial.plan.months import NEAR, demand_sequences, worst_month_sequences
from sundial.plan.report import plan_report, refuse_impossible, stretch_curve, tracker_years
from sundial.plan.rivals import Effort, paying_settings
from sundial.plan.stretches import NEVER, best_sequences, runs
from sundial.plan.tilt_plan import PlanConstraints, make_plans
from sundial.sky.weather_year import flipped
from sundial.study import Study
from tests.core.conftest import brief_data, load, study_of


def share(value: float, base: float) -> float:
    return (value / base - 1) * 100


def test_the_manuals_reference_table(greensboro):
    """Chapter 2: irradiation to 0.1 %, gains to 0.05 points."""
    plans = greensboro.plans(every_tilt=True, by="irradiation")
    fixed = plans.simplest
    assert greensboro.weather.ghi.sum() / 1000 == pytest.approx(1566.2, rel=1e-3)
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
    study = _shared()
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
    study = _shared()
    tilts = np.arange(0.0, 91, 5)
    free = make_plans(study.surface(), PlanConstraints(tilts, goal), 42.9, 4)
    capped = make_plans(study.surface(), PlanConstraints(tilts, goal, cap=np.array(cap, float)), 42.9, 4)
    for k in range(4):
        if capped.plans[k] is not None:
            assert capped.plans[k].goal_value * (1 - given_up) <= free.plans[k].goal_value + 1e-6
            held = np.array(capped.plans[k].tilt_by_day)
            assert (held <= np.repeat(cap, [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31])).all()


_kept: list[Study] = []


def _shared() -> Study:
    if not _kept:
        _kept.append(
            study_of(site={"latitude": 42.9, "longitude": -6.1}, sky={"kind": "made-up", "name": "dry-upland", "seed": 5})
        )
    return _kept[0]


def test_the_mirrored_sky_gives_the_mirrored_plan():
    """The same surface half a year later: what the twin place in the other hemisphere has."""
    north = _shared()
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
    south = Study(brief_of(data), given_weather=flipped(greensboro.weather))
    assert south.azimuth == 0
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


def test_more_tilts_than_can_be_planned_are_refused():
    fine = {"kind": "stepped", "min": 0.0, "max": 90.0, "step": 0.25}
    assert len(study_of(mount=fine).reachable) == 361
    assert study_of(mount=fine).plans().with_settings(2).energy > 0
    with pytest.raises(BriefError, match="more than 361 tilts"):
        study_of(mount={**fine, "step": 0.2}).reachable  # noqa: B018
    with pytest.raises(BriefError, match="holds 362 tilts") as refused:
        study_of(mount={"kind": "stepped", "tilts": [n / 10 for n in range(362)]}).reachable  # noqa: B018
    assert refused.value.path == "mount.tilts"
    with pytest.raises(BriefError, match="among 181 at most") as refused:
        study_of(mount=fine, plan={"goal": "worst-month"}).own_plans  # noqa: B018
    assert refused.value.path == "mount.tilts"


def test_demand_is_met_before_waste_is_saved(greensboro):
    daily = greensboro.surface().energy[:, ::10]
    demand = np.full(12, 420.0)
    found = demand_sequences(daily, demand, 4, np.ones(365, dtype=bool))
    unmet = [np.maximum(demand - sum_by_month(daily[np.arange(365), p.by_day]), 0).sum() for p in found if p]
    assert all(b <= a + 1e-6 for a, b in zip(unmet, unmet[1:], strict=False))
    every = [np.maximum(demand - sum_by_month(daily[:, tilt]), 0).sum() for tilt in range(daily.shape[1])]
    assert unmet[0] == pytest.approx(min(every), abs=1e-6)


def test_a_cap_that_leaves_no_tilt_says_which_month():
    cap = [90.0] * 12
    cap[2] = 5.0
    with pytest.raises(BriefError, match="March is left with no tilt") as refused:
        study_of(mount={"kind": "stepped", "tilts": [15.0, 30.0]}, plan={"cap": cap}).own_plans  # noqa: B018
    assert refused.value.path == "plan.cap"


def test_a_cap_that_needs_more_settings_says_how_many():
    study = study_of(
        mount={"kind": "stepped", "tilts": [20.0, 50.0]},
        plan={"cap": [30.0] * 6 + [90.0] * 6, "floor": [0.0] * 6 + [40.0] * 6, "settings": 1},
    )
    with pytest.raises(BriefError, match="at least 2"):
        study.own_plans.with_settings(1)
    assert study.own_plans.simplest.moves == 2
    report = plan_report(
        study_of(mount={"kind": "stepped", "tilts": [20.0, 50.0]}, plan={"cap": [30.0] * 6 + [90.0] * 6, "settings": 2})
    )
    assert report.cap_price > 0


def test_a_frame_that_cannot_reach_the_best_tilt_is_told_so():
    low = plan_report(study_of(mount={"kind": "stepped", "tilts": [1.0, 12.0]}, plan={"goal": "winter"}))
    assert any("12° is the nearest" in note for note in low.notes)
    assert not low.fixed.stretches[0].well_placed
    assert not any("nearest" in note for note in plan_report(study_of()).notes)


def test_a_frame_with_one_hole_stays_where_it_is():
    report = plan_report(study_of(mount={"kind": "stepped", "tilts": [35.0]}))
    assert report.chosen.moves == 0
    assert any("one position" in note for note in report.notes)


@pytest.mark.parametrize(
    ("mount", "path", "said"),
    [
        ({"kind": "stepped", "tilts": []}, "mount.tilts", "empty"),
        ({"kind": "stepped", "tilts": [15.0, 15.0]}, "mount.tilts", "twice"),
        ({"kind": "stepped", "tilts": [-5.0, 15.0]}, "mount.tilts[0]", "from 0 to 90"),
        ({"kind": "stepped"}, "mount.tilts", "give the list"),
        ({"kind": "stepped", "min": 40.0, "max": 20.0}, "mount.max", "not be under"),
    ],
)
def test_impossible_hole_lists_are_refused(mount, path, said):
    with pytest.raises(BriefError, match=said) as refused:
        study_of(mount=mount).own_plans  # noqa: B018
    assert refused.value.path == path


def test_near_the_equator_the_other_side_is_used_where_the_frame_allows():
    tropics = {"site": {"latitude": 4.0, "longitude": 20.0}, "sky": {"kind": "made-up", "name": "dry-upland"}}
    one_side = study_of(
        **tropics, array={"rows": 1, "columns": 1}, mount={"kind": "stepped", "min": 0.0, "max": 40.0, "step": 5.0}
    )
    both = study_of(
        **tropics,
        array={"rows": 1, "columns": 1},
        mount={"kind": "stepped", "min": -40.0, "max": 40.0, "step": 5.0, "both_sides": True},
    )
    plan = both.plans().with_settings(2)
    assert min(s.tilt for s in plan.stretches) < 0 < max(s.tilt for s in plan.stretches)
    assert plan.energy > one_side.plans().with_settings(2).energy
    made = both.production()
    assert made.year == pytest.approx(plan.energy, rel=1e-9)


def test_above_the_polar_circle_days_without_sun_do_no_harm():
    study = study_of(site={"latitude": 69.6, "longitude": 18.9}, sky={"kind": "made-up", "name": "high-latitude-coast"})
    report = plan_report(study)
    assert report.chosen.energy > report.fixed.energy > 0
    assert all(np.isfinite(report.daily))


@pytest.mark.parametrize("azimuth", [90.0, 140.0, 230.0])
def test_a_turned_array_gets_a_plan_and_is_told(azimuth):
    study = study_of(array={"rows": 1, "columns": 2, "azimuth": azimuth})
    report = plan_report(study)
    assert any("turned" in note for note in report.notes)
    assert report.chosen.energy < plan_report(study_of(array={"rows": 1, "columns": 2})).chosen.energy


def test_rivals_lose_against_the_computed_plan(greensboro):
    report = plan_report(study_of(plan={"tilt_now": 60.0}))
    names = [rival.name for rival in report.rivals]
    assert len(names) == 5
    assert names[-1] == "Yours now, all year"
    assert all(rival.loss > 0 for rival in report.rivals)
    rule = next(r for r in report.rivals if r.name.startswith("0.76"))
    assert rule.tilts == (31.0,)  # 0.76 x 36.1 + 3.1 = 30.5, to the nearest whole degree
    twice = next(r for r in report.rivals if "equinoxes" in r.name)
    assert sorted(twice.tilts) == [21.0, 51.0]
    assert greensboro.site.latitude == 36.1


def test_the_thumb_rules_turn_with_the_hemisphere():
    south = study_of(
        site={"latitude": -36.0, "longitude": 147.0},
        sky={"kind": "made-up", "name": "dry-upland"},
        array={"rows": 1, "columns": 1},
    )
    twice = next(r for r in south.rivals() if "equinoxes" in r.name)
    assert twice.tilts == (21.0, 51.0)  # flat in January


@given(st.floats(0, 500), st.floats(0, 200))
def test_the_dearer_an_hour_the_fewer_moves_pay(low, more):
    plans = _shared().plans().plans
    cheap, dear = (paying_settings(plans, Effort(15, 1, hour, 0.2)) for hour in (low, low + more))
    assert dear <= cheap


def test_with_a_free_hour_every_move_pays_and_with_a_dear_one_none():
    plans = _shared().plans().plans
    assert paying_settings(plans, Effort(15, 1, 0.0, 0.2)) >= 6
    assert paying_settings(plans, Effort(15, 1, 10_000.0, 0.2)) == 1


def test_plan_report_is_consistent(upland):
    report = plan_report(upland)
    assert report.gain == pytest.approx(report.chosen.energy - report.fixed.energy)
    assert sum(report.by_month) == pytest.approx(report.chosen.energy) == pytest.approx(sum(report.daily))
    assert [p.settings for p in report.curve] == list(range(1, 13))
    assert report.curve[1].minutes == 24
    assert report.ceiling_kwh >= report.curve[-1].gain
    curve = stretch_curve(upland, report.chosen, 0)
    assert curve.energy[int(curve.tilt)] == pytest.approx(max(curve.energy), rel=1e-6)
    lines = report.against(tracker_years(upland))
    assert lines[1].difference > lines[0].difference > 0


def test_nothing_allowed_means_no_plan():
    score = np.full((365, 2), NEVER)
    assert best_sequences(score, 2) == [None, None]


def refusal(question: Callable[[Study], object], study: Study) -> tuple[str, str] | None:
    try:
        question(study)
    except BriefError as error:
        return error.path, error.message
    return None


def test_the_check_before_a_save_refuses_what_the_plan_would(greensboro):
    """The check computes no year: it refuses exactly what making the plan would refuse."""
    rng = random.Random(0)
    limits = [(None, None), ([30.0] * 6 + [90.0] * 6, [0.0] * 6 + [31.0] * 6), (None, [20.0] * 12)]
    limits += [([rng.choice((10.0, 40.0, 90.0, 90.0)) for _ in range(12)], None) for _ in range(2)]
    outcomes = set()
    for _ in range(45):
        tilts = sorted(rng.sample([0.0, 12.0, 25.0, 33.0, 47.0, 60.0, 75.0], rng.randint(1, 4)))
        mount = rng.choice([{"kind": "stepped", "tilts": tilts}, {"kind": "one-axis", "axis_tilts": tilts}])
        if len(tilts) == 1:
            mount = {"kind": "stepped", "tilts": tilts}  # a motor's axis with one tilt plans among all whole degrees
        goal = rng.choice(("year", "winter", "worst-month", "demand", "months"))
        plan = {"goal": goal, "settings": rng.randint(1, 4)}
        plan["cap"], plan["floor"] = rng.choice(limits)
        if goal == "months":
            plan["months"] = rng.choice(([], [12, 1]))
        elif goal == "demand":
            plan["demand"] = rng.choice((None, [100.0] * 12))
        data = brief_data(mount=mount, plan={key: value for key, value in plan.items() if value is not None})
        study = Study(brief_of(data), load, greensboro.weather, given_light=greensboro.light, given_surface=greensboro.surface())
        refused = refusal(refuse_impossible, study)
        assert refused == refusal(plan_report, study), plan
        outcomes.add(refused and refused[0])
    assert outcomes >= {None, "plan.settings", "plan.months"}, outcomes
