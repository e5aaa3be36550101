"""What it is worth: the manual's hand values, every odd case in words, and a verdict that follows its inputs."""

from __future__ import annotations

import gc
import math
import weakref
from types import SimpleNamespace

import numpy as np
import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from sundial.answers.command import finite
from sundial.answers.worth.command import compare_answer
from sundial.answers.worth.report import worth_report
from sundial.brief.read import brief_of
from sundial.errors import BriefError
from sundial.money.finance import Terms, grid_price, left_over, outcome
from sundial.money.uncertainty import YearlySpread, gain_spread, kwh_range
from sundial.mounts.facing import Facing, starts_a_day
from sundial.study import Study, studied
from sundial.worth.comparison import compare, panels_for
from sundial.worth.more_panels import years_with_panels
from sundial.worth.swings import swings
from sundial.worth.verdict import verdict
from tests.core.conftest import study_of

PLAIN = Terms(life=20, interest=0.04, price_growth=0.0, ageing=0.0, price=1.0)


def test_the_manuals_hand_values():
    """Extra cost 900, saves 140 a year, 20 years, 4 %: payback 6.43, NPV 1002.65, IRR 14.52 %, break-even 1902.65."""
    found = outcome(140.0, 900.0, 0.0, PLAIN)
    assert found.payback_years == pytest.approx(6.43, abs=0.005)
    assert found.npv == pytest.approx(1002.65, abs=0.005)
    assert found.irr == pytest.approx(0.1452, abs=0.00005)
    assert found.break_even_cost == pytest.approx(1902.65, abs=0.005)


def test_payback_rate_and_cost_agree_with_each_other():
    found = outcome(200.0, 900.0, 10.0, Terms(15, 0.03, 0.02, 0.005, 0.2))
    assert found.break_even_cost == pytest.approx(found.npv + 900)
    at_rate = outcome(200.0, 900.0, 10.0, Terms(15, found.irr, 0.02, 0.005, 0.2))
    assert at_rate.npv == pytest.approx(0, abs=0.01)
    dearer = outcome(200.0, found.break_even_cost, 10.0, Terms(15, 0.03, 0.02, 0.005, 0.2))
    assert dearer.npv == pytest.approx(0, abs=1e-6)


def test_cost_per_extra_kwh_is_levelised():
    """No interest, no ageing: 900 and 20 x 10 over 20 x 100 kWh."""
    assert outcome(100.0, 900.0, 10.0, Terms(20, 0.0, 0.0, 0.0, 0.2)).cost_per_extra_kwh == pytest.approx(0.55)


def test_panels_age_prices_grow_and_money_is_discounted():
    """By hand, two years: 1000 kWh then 980 at 0.20 then 0.206, less 10 a year, at 5 %: 190 / 1.05 + 191.88 / 1.1025."""
    found = outcome(1000.0, 500.0, 10.0, Terms(2, 0.05, 0.03, 0.02, 0.2))
    assert found.saving_per_year == pytest.approx(190.0)
    assert found.break_even_cost == pytest.approx(354.993, abs=0.001)
    assert found.npv == pytest.approx(-145.007, abs=0.001)
    assert found.cost_per_extra_kwh == pytest.approx(0.28165, abs=0.00001)
    assert found.irr is None or found.irr < 0


def test_the_ranges_are_the_named_spreads():
    """By hand: 400 kWh more on 3000 vary by 20 with the sun, 12 with soiling and, for a tracker, by 45 with the method (75 on
    a grown sky); a P10 to P90 range is 1.2816 of their root of squares to either side."""
    measured, grown = SimpleNamespace(synthetic=False), SimpleNamespace(synthetic=True)
    money = outcome(140.0, 900.0, 0.0, PLAIN)
    for weather, kind, half in (
        (measured, "two-axis", 64.959), (grown, "two-axis", 100.660), (grown, "stepped", 35.540), (measured, "stepped", 32.040),
        (measured, "more-panels", 29.892),
    ):  # fmt: skip
        assert kwh_range(weather, 3000.0, 400.0, kind) == pytest.approx((400 - half, 400 + half), abs=0.001)
        found = gain_spread(weather, 3000.0, 400.0, kind, money, 900.0, 140.0, PLAIN)
        assert found.kwh == kwh_range(weather, 3000.0, 400.0, kind)


@pytest.mark.parametrize(("skies", "by_sun"), [(None, 7.0), (YearlySpread(25.0, 18.0), 18.0)])
def test_money_varies_with_the_years_of_the_sky(skies, by_sun):
    """By hand: 140 saved for 400 kWh, 1902.65 over 20 years. The method and soiling are 11.6431 % in one year; over the life they and the
    price are 18.9901 %, and independent years' sums vary by the root of the sum of 1.04^-2n, 3.11485, times one year's."""
    measured, money = SimpleNamespace(synthetic=False), outcome(140.0, 900.0, 0.0, PLAIN)
    found = gain_spread(measured, 3000.0, 400.0, "two-axis", money, 900.0, 140.0, PLAIN, skies)
    half = np.hypot(1902.65 * 0.189901, by_sun * 3.11485) * 1.2816
    assert found.npv == pytest.approx((money.npv - half, money.npv + half), rel=1e-4)
    half = np.hypot(140 * 0.116431, by_sun) * 1.2816
    assert found.saved == pytest.approx((140 - half, 140 + half), rel=1e-5)
    if skies:
        assert found.kwh == kwh_range(measured, 3000.0, 400.0, "two-axis", 25.0)
    unpriced = gain_spread(measured, 3000.0, 400.0, "two-axis", money, None, 140.0, PLAIN, skies)
    assert unpriced.npv is None and unpriced.saved == found.saved


def test_grid_price_mixes_own_use_and_export():
    assert grid_price(0.24, 0.06, 0.45) == pytest.approx(0.45 * 0.24 + 0.55 * 0.06)
    assert grid_price(0.24, -0.10, 0.0) == pytest.approx(-0.10)


@pytest.mark.parametrize(
    ("gain", "cost", "words"),
    [
        (0.0, 900.0, "never pays back within 20 years: it saves nothing"),
        (-50.0, 900.0, "never pays back within 20 years: it saves nothing"),
        (10.0, 900.0, "never pays back within 20 years"),
        (10.0, 0.0, "at once"),
        (0.0, 0.0, "nothing to pay back"),
        (-10.0, 0.0, "never: it loses 10 a year"),
        (100.0, -50.0, "at once"),
        (100.0, None, "not priced yet"),
        (100.0, 250.0, "2.5 years"),
    ],
)
def test_payback_text_of_edge_cases(gain, cost, words):
    assert outcome(gain, cost, 0.0, PLAIN).payback_text == words


@example(2.2e-311, 1.0, 0.0, 1, 0.0, 0.0, 0.0, 1.0)
@example(1e-12, 1.0, 0.0, 2, 0.0, 0.0, 0.0, 1.0)
@given(
    st.floats(-5000, 5000), st.one_of(st.none(), st.floats(-1000, 100_000)), st.floats(0, 1000),
    st.integers(1, 60), st.floats(-0.99, 1), st.floats(-0.5, 0.5), st.floats(0, 1), st.floats(-2, 5),
)  # fmt: skip
def test_money_never_ends_in_nan(gain, cost, yearly, life, interest, growth, ageing, price):
    found = outcome(gain, cost, yearly, Terms(life, interest, growth, ageing, price))
    for value in (
        found.saving_per_year,
        found.payback_years,
        found.npv,
        found.irr,
        found.cost_per_extra_kwh,
        found.break_even_cost,
    ):
        assert value is None or math.isfinite(value)
    assert found.payback_text


@pytest.mark.parametrize(("terms", "path"), [({"life": 0}, "worth.life"), ({"interest": -1.0}, "worth.interest")])
def test_impossible_terms_are_refused(terms, path):
    with pytest.raises(BriefError) as refused:
        Terms(**{"life": 20, "interest": 0.04, "price_growth": 0, "ageing": 0, "price": 0.2, **terms})
    assert refused.value.path == path


def test_the_same_energy_as_panels_is_the_manuals():
    """6 % on 3000 kWh from 8 panels is 180 kWh; one panel yields 375: 0.48 panels, so one."""
    same = panels_for(study_of(worth={"panel_cost": 165.0}).scene, 3000.0, 180.0)
    assert same.exact == pytest.approx(0.48)
    assert (same.count, same.cost) == (1, 165.0)
    assert same.area == pytest.approx(1.722 * 1.134)
    assert panels_for(study_of().scene, 3000.0, 376.0).count == 2
    assert panels_for(study_of().scene, 3000.0, 375.0).count == 1
    assert panels_for(study_of().scene, 3000.0, 0.0) is None
    assert panels_for(study_of().scene, 0.0, 50.0) is None


def test_panels_on_a_full_inverter():
    """Three more panels on 3.2 kW behind 2300 W: through the inverter hour by hour they give far less than eight's share."""
    panel = {"power": 400.0, "length": 1.722, "width": 1.134}
    small = study_of(panel=panel, array={"rows": 2, "columns": 4}, system={"inverter": {"power": 2300.0}})
    large = study_of(panel=panel, array={"rows": 1, "columns": 11}, system={"inverter": {"power": 2300.0}})
    tilts = (35.0,) * 365
    years = years_with_panels(small, tilts, 1e9)
    assert years[0] == pytest.approx(small.held_year(35.0).year)
    assert years[3] == pytest.approx(large.held_year(35.0).year, rel=1e-9)
    assert years[3] - years[0] < 0.75 * 3 / 8 * years[0]
    gains = np.diff(years)
    assert (np.diff(gains) < 0).all() and gains[-1] < 0.2 * years[0] / 8 < gains[-2]
    assert len(years_with_panels(small, tilts, years[2] - years[0] - 1)) == 3
    assert years_with_panels(study_of(panel=panel), tilts, 1e9) == ()


def priced(**changes) -> Study:
    data = {
        "mount": {"kind": "stepped", "tilts": [15.0, 25.0, 35.0, 45.0, 55.0]},
        "plan": {"tilt_now": 35.0, "minutes_per_move": 12.0},
        "worth": {"panel_cost": 165.0},
        "options": [
            {"row": "two-axis", "extra_cost": 2100.0, "upkeep": 40.0},
            *({"row": row, "extra_cost": 40.0} for row in ("two-moves", "four-moves", "twelve-moves")),
        ],
    }
    return study_of(**{**data, **changes})


def test_every_row_of_the_manual_is_there_in_order():
    kinds = [row.kind for row in compare(priced()).rows]
    assert kinds == [
        "flat",
        "best-fixed",
        "yours",
        "winter-left",
        "two-moves",
        "four-moves",
        "twelve-moves",
        "one-axis",
        "one-axis-hand",
        "two-axis",
        "more-panels",
        "more-flat",
    ]


def test_standard_rows_are_what_plans_and_mounts_make():
    study = priced()
    rows, plans = {row.kind: row for row in compare(study).rows}, study.plans(goal="year")
    for kind, settings in (("two-moves", 2), ("four-moves", 4), ("twelve-moves", 12)):
        plan = plans.plans[settings - 1]
        assert (rows[kind].energy, rows[kind].moves, rows[kind].tilt) == (plan.energy, plan.moves, None)
    assert (rows["flat"].tilt, rows["flat"].energy) == (0.0, study.held_year(0.0).year)
    assert (rows["best-fixed"].tilt, rows["best-fixed"].energy) == (plans.simplest.stretches[0].tilt, plans.simplest.energy)
    assert (rows["yours"].tilt, rows["yours"].drive_consumption, rows["yours"].moves) == (35.0, 0.0, 0)
    assert rows["one-axis-hand"].moves == 2 and rows["one-axis"].moves == 0


def test_rows_are_switched_off_priced_named_and_added():
    study = priced(
        options=[
            {"row": "one-axis", "off": True},
            {"row": "two-axis", "name": "Big pole", "extra_cost": 2100.0},
            {
                "name": "Steel A-frame",
                "mount": {"kind": "stepped", "tilts": [20.0, 50.0]},
                "settings": 2,
                "extra_cost": 120.0,
                "minutes_per_move": 5.0,
            },
            {"name": "On the wall", "mount": {"kind": "fixed", "tilt": 70.0}},
        ]
    )
    rows = {row.name: row for row in compare(study).rows}
    assert "One axis, level" not in rows
    assert rows["Big pole"].extra_cost == 2100
    assert rows["Steel A-frame"].minutes == 10
    assert rows["Steel A-frame"].key == "added-2"
    assert rows["On the wall"].money.payback_text == "not priced yet"
    with pytest.raises(BriefError, match="is missing"):
        compare(priced(options=[{"name": "Nothing"}]))


def test_the_base_is_what_they_have_or_would_build():
    assert compare(priced()).base.name == "Your angle now"
    assert compare(priced(plan={})).base.kind == "best-fixed"
    fixed = compare(study_of(mount={"kind": "fixed", "tilt": 10.0})).base
    assert (fixed.kind, fixed.tilt) == ("yours", 10.0)


def test_trackers_pay_for_their_own_watts():
    motor = {"kind": "two-axis", "standby_watts": 1.5, "moving_watts": 40.0, "speed": 6.0}
    with_motor = compare(priced(options=[{"row": "two-axis", "mount": motor}])).row("two-axis")
    without = compare(priced(options=[])).row("two-axis")
    assert with_motor.drive_consumption > 13.1
    assert without.energy - with_motor.energy == pytest.approx(with_motor.drive_consumption, abs=1e-6)


def test_hours_are_counted_only_if_they_want_to():
    plan = {"tilt_now": 35.0, "minutes_per_move": 30.0, "people": 2, "value_of_hour": 20.0}
    free, paid = (compare(priced(plan=plan, worth={"count_hours": count})).row("two-moves") for count in (False, True))
    assert free.minutes == paid.minutes == 120
    assert free.money.saving_per_year - paid.money.saving_per_year == pytest.approx(40.0)
    assert free.kwh_per_hour == pytest.approx(free.extra_kwh / 2)


def test_ranges_hold_their_middle_and_trackers_are_the_least_sure():
    rows = compare(priced()).rows
    for row in rows:
        assert row.spread.kwh[0] <= row.extra_kwh <= row.spread.kwh[1]
    hand, tracker = (next(r for r in rows if r.kind == kind) for kind in ("two-moves", "two-axis"))
    assert tracker.spread.kwh[1] - tracker.extra_kwh > hand.spread.kwh[1] - hand.extra_kwh


def test_the_verdict_sends_a_dear_tracker_to_the_panels():
    said = worth_report(priced(), "€").verdict
    words = " ".join([said.headline, *said.sentences])
    assert said.headline.startswith("Two moves a year pay")
    assert "only where there is no room" in words
    assert "of its price" in words
    assert "Rests on € 0.13" in words and "weakest number" in words


def test_the_verdict_changes_when_the_inputs_do():
    heads = {
        worth_report(priced(**changes)).verdict.headline
        for changes in (
            {},
            {"options": [{"row": "two-axis", "extra_cost": 50.0}]},
            {"use": {"kind": "grid", "import_price": 0.0, "export_price": 0.0}},
            {"plan": {"tilt_now": 0.0}, "mount": {"kind": "stepped", "tilts": [30.0]}},
        )
    }
    assert len(heads) == 4
    assert any(head.startswith("Buy nothing") for head in heads)
    assert any(head.startswith("Just change the angle") for head in heads)


def test_where_ranges_overlap_there_is_no_clear_winner():
    close = worth_report(
        priced(
            plan={"tilt_now": 15.0},
            options=[{"row": row, "extra_cost": 250.0} for row in ("two-moves", "four-moves", "twelve-moves")],
        )
    )
    assert any("No clear winner" in sentence for sentence in close.verdict.sentences)


def test_swings_move_one_input_each_and_the_widest_comes_first():
    study = priced()
    comparison = compare(study)
    way = comparison.row("two-axis")
    found = swings(study, way)
    assert [s.width for s in found] == sorted((s.width for s in found), reverse=True)
    cost = next(s for s in found if s.name == "Extra cost")
    assert (cost.npv_low, cost.npv_high) == pytest.approx((way.money.npv - 420, way.money.npv + 420))
    assert swings(study, comparison.row("one-axis")) == []
    assert verdict(study, comparison).focus is not None


@pytest.mark.parametrize(
    "changes",
    [
        {"use": {"kind": "grid", "import_price": -0.1, "export_price": -0.2}},
        {"use": {"kind": "grid", "import_price": 0.0, "export_price": 0.0, "own_share": 0.0}},
        {"worth": {"life": 1, "interest": -0.5, "ageing": 1.0}},
        {"mount": {"kind": "stepped", "tilts": [35.0]}},
        {"mount": {"kind": "fixed", "tilt": 90.0}},
        {"site": {"latitude": 78.0, "longitude": 15.0}, "sky": {"kind": "made-up", "name": "high-latitude-coast"}},
        {"system": {"losses": {"availability": 1.0}}},
        {"system": {"inverter": {"power": 1.0}}},
    ],
)
def test_no_comparison_prints_nan(changes):
    answer = compare_answer(priced(**changes))
    finite(answer)
    assert answer["verdict"]


def test_a_study_that_is_dropped_goes_at_once() -> None:
    """Nothing in it holds a circle: a server that makes many need not stop for the garbage collector."""
    gc.disable()
    try:
        study = priced()
        worth_report(study)
        gone = [weakref.ref(study), weakref.ref(study.cache), weakref.ref(study.scene.light)]
        del study
        assert [one() for one in gone] == [None, None, None]
    finally:
        gc.enable()


def test_a_motor_starts_once_in_five_degrees() -> None:
    """By hand: a day from 60 degrees east to 60 west and back turns 240 degrees about a level axis: 48 starts. A two-axis mount that
    goes from azimuth 350 over north to 20 and back, and from tilt 30 to 50 and back, turns 60 and 40 degrees with two motors: 20."""
    hours = np.tile([0.0, -60, -30, 0, 30, 60, 30, *[0.0] * 17], 365)
    level = Facing(np.abs(hours), np.where(hours < 0, 90.0, 270.0))
    assert starts_a_day(level, 1) == pytest.approx(240 / 5)
    around = np.tile([350.0, 0, 20, 20, 350, *[350.0] * 19], 365)
    leaning = np.tile([30.0, 30, 50, 50, 30, *[30.0] * 19], 365)
    assert starts_a_day(Facing(leaning, around), 2) == pytest.approx(20.0)


def test_rows_tell_their_height_motors_and_the_gust_they_stand_to() -> None:
    study = priced(
        wind={"gust": 28, "anchored": False, "frame_mass": 60},
        frame={"kind": "legs", "front_height": 0.5, "support_spacing": 2.0},
    )
    rows = {row.kind: row for row in compare(study).rows}
    length = study.scene.geometry.size[1]
    assert rows["yours"].height == pytest.approx(0.5 + length * math.sin(math.radians(35)), abs=0.01)
    assert rows["flat"].height == pytest.approx(0.5, abs=0.05) and rows["two-axis"].height > rows["flat"].height
    assert rows["two-axis"].starts > rows["one-axis"].starts > 10 and rows["two-moves"].starts == 0.0
    assert (rows["two-axis"].motors, rows["one-axis"].motors, rows["two-moves"].motors) == (2, 1, 0)
    assert rows["flat"].stands_to > rows["yours"].stands_to > 3, "steeper, it stands less"
    assert rows["two-axis"].stands_to is None, "a frame of its own is not judged by this one"
    assert compare(priced()).row("yours").stands_to is None


HONEY = {
    "format": "crooked-sundial-brief", "version": 1, "name": "Rack",
    "site": {"latitude": 42.9, "longitude": -6.1, "elevation": 870, "timezone": "Europe/Madrid"},
    "sky": {"kind": "made-up", "name": "dry-upland", "seed": 1},
    "panel": {"power": 430, "length": 1.722, "width": 1.134, "mass": 21.5, "gamma": -0.0034},
    "array": {"rows": 2, "columns": 4, "clearance": 0.6}, "mount": {"kind": "stepped", "min": 0, "max": 90, "step": 1},
}  # fmt: skip


def test_a_verdict_does_not_change_with_the_currency():
    """All money a hundred times over: the same headline, whatever is saved in units of it."""
    for times in (0.01, 1.0, 100.0):
        study = priced(
            use={"kind": "grid", "import_price": 0.301 * times, "export_price": -0.041 * times, "own_share": 0.64},
            options=[{"row": "two-axis", "extra_cost": 262.0 * times, "upkeep": 29.0 * times}],
            worth={"panel_cost": 345.0 * times, "life": 13, "interest": 0.08}, plan={"tilt_now": 20.0},
        )  # fmt: skip
        comparison = compare(study)
        headline = verdict(study, comparison).headline
        if times == 0.01:
            first = headline
        assert headline == first


def test_a_tracker_is_not_praised_where_panels_leave_as_much():
    """42.9 N, green maritime, 8 panels: two axes for 262 and 29 a year leave about 1100, and so do three panels."""
    study = studied(brief_of({
        **HONEY, "sky": {"kind": "made-up", "name": "green-maritime", "seed": 1},
        "system": {"inverter": {"power": 6000}},
        "use": {"kind": "grid", "import_price": 0.301, "export_price": -0.041, "own_share": 0.64},
        "options": [{"row": "two-axis", "extra_cost": 262, "upkeep": 29}], "worth": {"panel_cost": 345, "life": 13, "interest": 0.08},
    }))  # fmt: skip
    comparison = compare(study)
    axis, more = comparison.row("two-axis"), comparison.row("more-panels")
    assert more.money.npv > axis.money.npv > 0
    headline = verdict(study, comparison).headline
    assert "pays" not in headline and ("panels" in headline)


def test_a_way_that_pays_is_not_passed_over_because_most_of_it_is_thrown_away():
    """Nothing may be sold, and a home's evenings take a fifth of what an axis adds: that fifth pays, and is the headline."""
    study = studied(brief_of({
        **HONEY,
        "use": {"kind": "grid", "yearly": 5697, "shape": "home-evening", "tariff": {"import": [{"price": 0.468}], "export": 0.054, "export_limit": 0}},
        "options": [{"row": "one-axis-hand", "extra_cost": 1315, "upkeep": 32}],
    }))  # fmt: skip
    comparison = compare(study)
    axis = comparison.row("one-axis-hand")
    thrown = (axis.sums.curtailed - comparison.base.sums.curtailed) / axis.extra_kwh
    assert thrown > 0.75 and axis.money.npv > 300
    said_of = verdict(study, comparison)
    assert said_of.headline.startswith("“One axis, tilt by hand” pays") and "that something takes" in said_of.headline


def test_a_base_that_the_wind_rules_out_is_not_stayed_with():
    study = studied(brief_of({
        **HONEY, "mount": {"kind": "stepped", "tilts": [0, 10, 20, 30, 40, 50]},
        "wind": {"gust": 28, "frame_mass": 160, "ballast": 250, "width": 3.4},
    }))  # fmt: skip
    comparison = compare(study)
    assert comparison.base.ruled_out is not None
    said_of = verdict(study, comparison)
    assert "tay with" not in said_of.headline and said_of.headline.startswith("The wind rules out")


def test_panels_lying_flat_equal_fewer_at_the_base_tilt():
    study = priced(room=6)
    comparison = compare(study)
    flat = comparison.row("more-flat")
    same = flat.same_as_panels
    assert flat.added_panels > same.count and str(flat.added_panels) in flat.name
    assert flat.extra_cost == flat.added_panels * study.brief.worth.panel_cost
    each = comparison.base.energy / study.scene.array.count
    assert same.exact == pytest.approx(flat.extra_kwh / each, rel=1e-6)


@pytest.mark.parametrize(("saved", "cost", "yearly"), [(211.0, 1262.0, 29.0), (-13.5, 345.0, 0.0), (90.0, 0.0, 120.0)])
def test_what_is_left_alone_is_the_npv_of_the_whole_outcome(saved, cost, yearly):
    terms = Terms(price=0.301, life=13, interest=0.08, price_growth=0.021, ageing=0.006)
    found = outcome(700.0, cost, yearly, terms, saved).npv
    assert left_over(saved, cost, yearly, terms) == pytest.approx(found, rel=1e-12)
    assert left_over(saved, None, yearly, terms) is None
