"""What stays put: one setting everywhere, what it could be, which way to face, and when moving is not worth advising."""

from __future__ import annotations

from dataclasses import replace

import pytest

from sundial.answers.plan.command import held_answer, schedule_answer
from sundial.answers.plan.report import advice_of, plan_report
from sundial.brief.read import brief_of
from sundial.errors import BriefError
from sundial.plan.advice import advise
from sundial.plan.tilt_plan import Plans, Stretch, TiltPlan
from sundial.siting.facings import Facings, facings, of_sides
from sundial.study import studied
from tests.core.conftest import brief_data, load, study_of

HEDGE = {
    "objects": [
        {"kind": "fence", "name": "the hedge", "height": 2.4, "line": [[-6.0, -4.0], [5.0, -4.5]]},
    ]
}


def test_a_fixed_frame_has_one_setting_everywhere():
    study = study_of(mount={"kind": "fixed", "tilt": 38.5}, plan={"settings": 4, "cap": [30.0] * 12, "goal": "winter"})
    report = plan_report(study)
    assert set(report.chosen.tilt_by_day) == {38.5} and report.chosen.moves == 0, "caps cannot move what is bolted"
    assert all(plan is not None and plan.energy == report.made for plan in report.plans if plan) or report.made == pytest.approx(
        report.chosen.energy, rel=1e-9
    )
    assert report.made == pytest.approx(study.production().year, rel=1e-12)
    assert report.held is not None and report.held.tilt == 38.5 and report.advice is None
    assert report.wind_cap is None and report.cap_price == 0.0


def test_fixed_at_the_best_tilt_is_the_best_fixed(greensboro):
    best = greensboro.plans(every_tilt=True).simplest
    answer = held_answer(study_of(mount={"kind": "fixed", "tilt": best.stretches[0].tilt}))
    assert answer["moves"] == [] and answer["tilt"] == answer["best_fixed"]["tilt"]
    assert answer["difference"] == pytest.approx(0.0, abs=1e-9)
    assert answer["energy"] == pytest.approx(best.energy, rel=1e-12)


def test_what_two_settings_would_add_is_counted_from_where_it_stands(greensboro):
    answer = held_answer(study_of(mount={"kind": "fixed", "tilt": 52.0}))
    moved = schedule_answer(greensboro, 2, every_tilt=True)
    assert answer["would_gain"]["energy"] == pytest.approx(moved["energy"] - answer["energy"], rel=1e-9)
    assert answer["would_gain"]["low"] < answer["would_gain"]["energy"] < answer["would_gain"]["high"]
    assert answer["difference"] == pytest.approx(moved["best_fixed"]["energy"] - answer["energy"], rel=1e-9)
    assert answer["difference"] > 10, "or this tells nothing"


def test_a_movable_frame_of_one_position_is_as_fixed():
    """A list of one tilt, as a fixed mount at that tilt."""
    only = study_of(mount={"kind": "stepped", "tilts": [38.0]}, plan={"settings": 2})
    fixed = study_of(mount={"kind": "fixed", "tilt": 38.0})
    one, other = plan_report(only), plan_report(fixed)
    assert one.held == other.held and one.chosen == replace(other.chosen, settings=one.chosen.settings)
    assert one.made == pytest.approx(other.made, rel=1e-12)


def test_a_schedule_without_a_number_is_refused_for_what_moves(greensboro):
    with pytest.raises(BriefError, match="how many settings"):
        held_answer(greensboro)


def test_what_is_turned_by_hand_keeps_its_tilt_and_counts_its_turns():
    study = study_of(mount={"kind": "turned", "tilt": 40.0, "facings": [110.0, 180.0, 250.0]})
    report = plan_report(study)
    assert report.held is not None and report.held.turned and report.held.tilt == 40.0
    assert report.made > 1.04 * report.held.energy, "turned through the day it makes more than left facing one way"
    assert report.made == pytest.approx(study.production().year, rel=1e-12)


def test_facings_equal_plane_point_by_point_past_a_hedge():
    study = study_of(yard=HEDGE, panel={"power": 430.0, "length": 1.722, "width": 1.134, "gamma": -0.0034, "bifaciality": 0.7})
    found = facings(study.scene, (97.0, 180.0, 241.0), (12.0, 33.0, 90.0))
    for row, azimuth in zip(found.energy, found.azimuths, strict=True):
        turned = brief_of(brief_data(**study.brief.model_dump(exclude_unset=True, exclude={"format", "version", "name"})))
        array = turned.array.model_copy(update={"azimuth": azimuth})
        alone = studied(turned.model_copy(update={"array": array}), load)
        for made, tilt in zip(row, found.tilts, strict=True):
            assert made == pytest.approx(alone.held_year(tilt).year, rel=1e-9)
    azimuth, tilt, most = found.best
    assert (azimuth, tilt) == (180.0, 33.0) and most == max(max(row) for row in found.energy)  # type: ignore[type-var]


def test_a_facing_in_which_it_would_stand_in_something_is_none():
    """A post 1 m east of the middle: facing east the array, 3.5 m wide and deep, lies over it; a row a facing, never a wrong number."""
    post = {
        "objects": [
            {
                "kind": "building",
                "name": "chimney",
                "height": 5.0,
                "footprint": [[1.9, -0.4], [2.7, -0.4], [2.7, 0.4], [1.9, 0.4]],
            }
        ]
    }
    study = study_of(yard=post, array={"rows": 1, "columns": 3, "azimuth": 180.0}, mount={"kind": "fixed", "tilt": 20.0})
    found = facings(study.scene, (90.0, 180.0), (20.0,))
    assert found.energy[1][0] is not None or found.energy[0][0] is not None
    assert (None in [row[0] for row in found.energy]) == any(_refused(study, azimuth) for azimuth in (90.0, 180.0))


def _refused(study, azimuth):
    array = study.brief.array.model_copy(update={"azimuth": azimuth})
    try:
        studied(study.brief.model_copy(update={"array": array}), load).scene.refuse()
    except BriefError:
        return True
    return False


@pytest.mark.parametrize(
    ("azimuths", "tilts", "path"),
    [((), (30.0,), "--azimuths"), ((361.0,), (30.0,), "--azimuths"), ((90.0, 90.0), (30.0,), "--azimuths"), ((90.0,), (91.0,), "--tilts"),
     ((90.0,), (40.0, 30.0), "--tilts"), (tuple(range(0, 360, 2)), tuple(range(0, 91, 1)), "--azimuths")],
)  # fmt: skip
def test_facings_that_cannot_be_are_named(greensboro, azimuths, tilts, path):
    with pytest.raises(BriefError) as refused:
        facings(greensboro.scene, azimuths, tilts)
    assert refused.value.path == path


def _plan(settings: int, energy: float, lengths: tuple[int, ...]) -> TiltPlan:
    starts = [sum(lengths[:i]) for i in range(len(lengths))]
    stretches = tuple(
        Stretch(start, days, 20.0 + 10 * i, energy * days / 365, 0.0, start, start, (0.0, 0.0), (0.0, 0.0))
        for i, (start, days) in enumerate(zip(starts, lengths, strict=True))
    )
    return TiltPlan(settings, stretches, (20.0,) * 365, energy, 0.0, energy)


def _plans(greensboro, *plans: TiltPlan) -> Plans:
    return Plans(greensboro.constraints(), (*plans, *[plans[-1]] * (12 - len(plans))), plans[-1])


def give_or_take(points: float):
    """A range of so many kWh to each side."""
    return lambda plan, base: (plan.energy - base.energy - points, plan.energy - base.energy + points)


def test_advice_leaves_what_may_as_well_be_nought(greensboro):
    plans = _plans(greensboro, _plan(1, 1000.0, (365,)), _plan(2, 1020.0, (180, 185)), _plan(3, 1060.0, (120, 120, 125)))
    assert advise(plans, 2, give_or_take(19.9)).do == "move"
    left = advise(plans, 2, give_or_take(20.0))
    assert left.do == "leave" and left.tilt == 20.0 and left.gain == 20.0 and left.range == (0.0, 40.0)
    assert left.why == "Leave it at 20°: moving it would add 20 kWh, and eight years in ten that is 0 to 40."
    more = advise(plans, 3, give_or_take(20.0))
    assert more.do == "move" and more.settings == 3, "two are not worth it, but three are, over one"


def test_advice_names_settings_that_hardly_pay(greensboro):
    plans = _plans(greensboro, _plan(1, 1000.0, (365,)), _plan(2, 1100.0, (180, 185)), _plan(3, 1110.0, (120, 120, 125)))
    found = advise(plans, 3, give_or_take(15.0))
    assert (found.do, found.settings, found.gain) == ("move", 2, 100.0)
    assert "three settings a year hardly pay: 10 kWh more, eight years in ten -5 to 25" in found.why


def test_no_stretch_under_ten_days_is_advised(greensboro):
    one = _plan(1, 1000.0, (365,))
    for days, told in ((10, "move"), (9, "leave")):
        plans = _plans(greensboro, one, _plan(2, 1100.0, (days, 365 - days)))
        assert advise(plans, 2, give_or_take(1.0)).do == told
    assert "a stretch of only 9 days" in advise(plans, 2, give_or_take(1.0)).why


def test_advice_of_a_real_year(greensboro):
    """Two settings are worth it at Greensboro (manual, chapter 2: 4.1 % of irradiation); twelve hardly are."""
    two, twelve = (advice_of(greensboro, greensboro.plans(), settings) for settings in (2, 12))
    assert two.do == "move" and two.range is not None and two.range[0] > 0
    assert twelve.settings < 12 and "hardly pay" in twelve.why
    assert schedule_answer(greensboro, 2)["advice"] == "move"


def test_a_goal_of_the_winter_has_its_own_best_tilt_and_the_year_keeps_its_own():
    study = study_of(mount={"kind": "fixed", "tilt": 33.0}, plan={"goal": "winter"})
    held = plan_report(study).held
    year, winter = (study_of(plan={"goal": goal}).plans(every_tilt=True).simplest for goal in ("year", "winter"))
    assert held is not None
    assert (held.best_tilt, held.goal_tilt) == (year.stretches[0].tilt, winter.stretches[0].tilt)
    assert held.difference == pytest.approx(year.energy - held.energy) and held.difference >= 0
    assert (
        held.goal_difference == pytest.approx(winter.goal_value - study.own_plans.simplest.goal_value)
        and held.goal_difference > 5
    )
    assert held.would_gain > 0, "no gain below nought is offered"


def test_a_roof_of_two_sides_shares_its_panels(greensboro):
    east, west = (greensboro.surface(azimuth).daily(22.0).sum() for azimuth in (90.0, 270.0))
    assert of_sides(greensboro.scene, (90.0, 270.0), 22.0) == pytest.approx((east + west) / 2)
    assert of_sides(greensboro.scene, (90.0, 90.0, 270.0), 22.0) == pytest.approx((2 * east + west) / 3)


def test_facings_of_which_none_can_be_are_known_as_such():
    assert not Facings((90.0,), (20.0,), ((None,),)).known and Facings((90.0,), (20.0,), ((3.0,),)).known
