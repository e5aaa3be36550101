"""Plans that cannot be made or are told to be limited; rivals, rules of thumb, and what the report says."""

from __future__ import annotations

import random
from collections.abc import Callable

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from sundial.answers.plan.report import plan_report, refuse_impossible, stretch_curve, tracker_years
from sundial.brief.read import brief_of
from sundial.days import sum_by_month
from sundial.errors import BriefError
from sundial.plan.months import demand_sequences
from sundial.plan.rivals import Effort, paying_settings
from sundial.plan.stretches import NEVER, best_sequences
from sundial.study import Study, studied
from tests.core.conftest import brief_data, load, study_of
from tests.core.test_plans import shared


def test_more_tilts_than_can_be_planned_are_refused():
    fine = {"kind": "stepped", "min": 0.0, "max": 90.0, "step": 0.25}
    assert len(study_of(mount=fine).scene.reachable) == 361
    assert study_of(mount=fine).plans().with_settings(2).energy > 0
    with pytest.raises(BriefError, match="more than 361 tilts"):
        study_of(mount={**fine, "step": 0.2}).scene.reachable  # noqa: B018
    with pytest.raises(BriefError, match="holds 362 tilts") as refused:
        study_of(mount={"kind": "stepped", "tilts": [n / 10 for n in range(362)]}).scene.reachable  # noqa: B018
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
    assert report.held is not None and report.held.tilt == 35.0


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
    assert greensboro.scene.site.latitude == 36.1


def test_the_thumb_rules_turn_with_the_hemisphere():
    south = study_of(
        site={"latitude": -36.0, "longitude": 147.0},
        sky={"kind": "made-up", "name": "dry-upland"},
        array={"rows": 1, "columns": 1},
    )
    twice = next(r for r in plan_report(south).rivals if "equinoxes" in r.name)
    assert twice.tilts == (21.0, 51.0)  # flat in January


@given(st.floats(0, 500), st.floats(0, 200))
def test_the_dearer_an_hour_the_fewer_moves_pay(low, more):
    plans = shared().plans().plans
    cheap, dear = (paying_settings(plans, Effort(15, 1, hour, 0.2)) for hour in (low, low + more))
    assert dear <= cheap


def test_with_a_free_hour_every_move_pays_and_with_a_dear_one_none():
    plans = shared().plans().plans
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
        study = studied(
            brief_of(data), load, greensboro.scene.weather, given_light=greensboro.scene.light, given_surface=greensboro.surface()
        )
        refused = refusal(refuse_impossible, study)
        assert refused == refusal(plan_report, study), plan
        outcomes.add(refused and refused[0])
    assert outcomes >= {None, "plan.settings", "plan.months"}, outcomes
