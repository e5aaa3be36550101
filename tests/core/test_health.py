"""Is it what it should be? Every planted fault is seen by its own figure and by no other; readings, sweeps, the learned sky."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from functools import cache
from typing import Any

import numpy as np
import pytest

from sundial.brief.read import brief_of
from sundial.errors import BriefError
from sundial.expected.clear import ClearDay, judge
from sundial.expected.flat import throttled
from sundial.expected.health import Health, changed, health
from sundial.expected.learned import learned_sky, monthly_sky
from sundial.expected.missed import Missed, taken_over
from sundial.expected.moment import expected_at, expected_series
from sundial.expected.reading import judged_reading, other_meter, refuse_reading
from sundial.expected.resampling import in_runs
from sundial.expected.simulate import DIRT, FAULTS, TREE, Played, simulate
from sundial.expected.sweep import best_point
from sundial.expected.trends import ageing, soiling, step_in
from sundial.record.entries import Reading
from sundial.record.series import Series
from sundial.study import Study, studied
from tests.core.test_expected import data

FIRST = date(2025, 1, 1)


@cache
def study(**more: Any) -> Study:
    return studied(brief_of(data(**more)))


@cache
def played(*faults: str, site: str = "north") -> tuple[Played, Health]:
    one = at_site(site)
    made = simulate(one, FIRST, 365, 600, faults)
    return made, health(one, made.series, None, made.washes)


def at_site(site: str) -> Study:
    return study() if site == "north" else study(latitude=-35.1, longitude=149.2, elevation=600, zone="Australia/Sydney")


def figures(found: Health) -> dict[str, bool]:
    """Which figures speak."""
    return {
        "dirt": found.dirt is not None and found.dirt.sure and found.dirt.slope < 0,
        "section": found.section is not None,
        "tree": bool(found.shade),
        "clock": bool(found.clock),
        "throttle": found.throttled_minutes > 0,
    }


@pytest.mark.parametrize("site", ["north", "south"])
def test_a_year_without_a_fault_is_all_it_should_be(site: str) -> None:
    made, found = played(site=site)
    assert found.level is not None and found.level[0] == pytest.approx(1.0, abs=0.01)
    assert not any(figures(found).values()) and found.step is None
    said = {one.day for one in found.clear}
    assert len(said & made.clear) / len(said) > 0.98 and len(said & made.clear) / len(made.clear) > 0.95


@pytest.mark.parametrize("fault", FAULTS)
@pytest.mark.parametrize("site", ["north", "south"])
def test_a_planted_fault_is_seen_by_its_own_figure_and_by_no_other(fault: str, site: str) -> None:
    _, found = played(fault, site=site)
    assert figures(found) == {name: name == fault for name in FAULTS}
    if fault == "dirt":
        assert found.dirt.slope * 45 == pytest.approx(-DIRT, abs=0.008) and found.dirt.low <= found.dirt.slope <= found.dirt.high
    if fault == "section":
        assert (found.section.count, found.section.of) == (1, 12) and abs(found.step.ratio - 11 / 12) < 0.01
        assert abs((found.step.day - FIRST).days - 182) <= 5
    if fault == "tree":
        (thing,) = found.shade
        low, high, top, passes = TREE
        if site == "south":
            low, high = 180 - high, 180 - low
        assert abs(thing.start - low) <= 6 and abs(thing.end - high) <= 6 and abs(thing.top - top) <= 3
        assert thing.taken == pytest.approx(1 - passes, abs=0.05) and thing.lost > 5
    if fault == "clock":
        assert found.clock == 60 and found.level[0] == pytest.approx(1.0, abs=0.01), "the rest is judged with the clock set right"
    if fault == "throttle":
        assert found.limit == pytest.approx(0.55 * 1720, rel=0.01) and found.throttled_kwh > 100


def test_two_faults_at_once_are_both_named() -> None:
    _, found = played("tree", "clock")
    assert found.clock == 60 and len(found.shade) == 1 and abs(found.shade[0].start - TREE[0]) <= 6


def test_months_and_clearness_stand_beside_the_plan() -> None:
    _, found = played()
    assert [(one.year, one.month, one.days) for one in found.months][:3] == [(2025, 1, 31), (2025, 2, 28), (2025, 3, 31)]
    plan = np.asarray(study().production().hourly).reshape(365, 24).sum(axis=1) / 1000
    assert found.months[3].planned == pytest.approx(plan[90:120].sum())
    assert all(0.3 < share <= 1.1 for share in found.clearness if share is not None)
    assert found.clearness_days[0] == 31


def test_level_power_counts_only_where_the_sun_goes_on() -> None:
    """Two hours at 500 W on each of four mornings while the expected climbs; the same at a noon that stands level is the sun's own."""
    unix = np.arange(4 * 288) * 300.0
    hour = unix % 86400 / 3600
    expected = np.maximum(1000 * np.sin((hour - 6) / 12 * np.pi), 0)
    power = np.where((hour >= 8) & (hour < 10), 500.0, expected)
    day = (unix // 86400).astype(int)
    found = throttled(Series(unix, power, 300.0), expected, day)
    assert found.days == 4 and found.limit == pytest.approx(500) and found.minutes == pytest.approx(4 * 105, abs=25)
    lost = np.where((hour >= 8) & (hour < 10) & (expected > 500 / 0.93), expected - 500, 0).sum() * 300 / 3.6e6
    assert found.lost == pytest.approx(lost, rel=0.02)
    assert throttled(Series(unix, 0.9 * expected, 300.0), expected, day).minutes == 0
    two_days = np.where(day < 2, power, expected)
    assert throttled(Series(unix, two_days, 300.0), expected, day).minutes == 0, "two days may be chance"


def clear_days(ratios: np.ndarray, every: int = 3) -> list[ClearDay]:
    return [ClearDay(FIRST + timedelta(days=every * n), float(one), 1.0, 0.01) for n, one in enumerate(ratios)]


def test_ageing_is_found_through_the_seasons_and_with_its_interval() -> None:
    random, count = np.random.default_rng(5), 600
    years = 3 * np.arange(count) / 365.25
    ratios = np.exp(-0.007 * years + 0.02 * np.sin(2 * np.pi * years) + 0.01 * random.standard_normal(count))
    found = ageing(clear_days(ratios))
    assert found.slope == pytest.approx(-0.007, abs=0.0015) and found.low < -0.007 < found.high and found.sure
    assert ageing(clear_days(ratios[:200])) is None, "less than two years say nothing"


def test_dirt_needs_a_known_wash_and_a_fortnight() -> None:
    random = np.random.default_rng(6)
    washes = [FIRST + timedelta(days=30 * n) for n in range(6)]
    ratios = 0.97 * np.exp(-0.0015 * (3 * np.arange(50) % 30)) * np.exp(0.004 * random.standard_normal(50))
    found = soiling(clear_days(ratios), washes)
    assert found.slope == pytest.approx(-0.0015, abs=0.0003) and found.sure
    assert soiling(clear_days(ratios), []) is None
    assert soiling(clear_days(ratios), [FIRST + timedelta(days=10 * n) for n in range(20)]) is None


def test_a_step_is_found_where_it_is_and_noise_makes_none() -> None:
    random = np.random.default_rng(7)
    noise = 0.012 * random.standard_normal(80)
    value = noise + np.where(np.arange(80) >= 33, np.log(0.93), 0.0)
    found = step_in(clear_days(np.exp(value)), value)
    assert found.day == FIRST + timedelta(days=3 * 33) and found.ratio == pytest.approx(0.93, abs=0.008)
    assert step_in(clear_days(np.exp(noise)), noise) is None
    wander = np.cumsum(0.002 * random.standard_normal(80))
    assert step_in(clear_days(np.exp(wander)), wander) is None, "a slow drift is no step"


def test_what_was_missed_is_taken_over_into_the_skyline() -> None:
    thing = Missed(100.0, 115.0, ((102.5, 18.0), (107.5, 24.0), (112.5, 12.0)), 0.7, 9, 20.0)
    assert taken_over([], thing) == [
        [99.99, 0.0], [100.01, 18.0], [104.99, 18.0], [105.01, 24.0], [109.99, 24.0], [110.01, 12.0], [114.99, 12.0], [115.01, 0.0],
    ]  # fmt: skip
    hill = taken_over([[0, 2], [90, 10], [110, 30], [180, 4]], thing)
    at = dict(map(tuple, hill))
    assert at[110.0] == 30 and at[90.0] == 10 and at[100.01] == pytest.approx(20.01, abs=0.02), "what stands higher there stays"
    north = Missed(355.0, 5.0, ((357.5, 9.0), (2.5, 12.0)), 0.5, 5, 3.0)
    assert [a for a, e in taken_over([], north) if e > 0] == [0.01, 4.99, 355.01, 359.99]


def test_the_sky_that_is_learned_gives_what_was_measured() -> None:
    """Of a year that was 10 % duller than the plan's sky: the learned one makes that year, month by month, to 4 %."""
    one = study()
    clear = expected_series(one, datetime(2026, 1, 1, tzinfo=UTC).timestamp() - 3600 + 3600.0 * np.arange(8760) + 1800)
    made = np.asarray(one.production().hourly)
    starts = np.cumsum([0, 31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30])
    share = np.add.reduceat(made, starts * 24) / np.add.reduceat(clear, starts * 24) * 0.9
    found = learned_sky(one, [*share[:11], None], [31] * 11 + [0])
    assert found.learned == (True,) * 11 + (False,) and found.off < 0.05
    under = studied(one.brief.model_copy(update={"sky": monthly_sky(one.scene, found.ghi)}))
    again = np.add.reduceat(np.asarray(under.production().hourly), starts * 24)
    assert again[:11] == pytest.approx(np.add.reduceat(made, starts * 24)[:11] * 0.9, rel=0.04)
    assert found.words == "learned here, from 341 days"
    with pytest.raises(BriefError, match="cannot be learned"):
        learned_sky(one, [0.5] * 12, [4] * 12)


def test_a_change_is_judged_by_fine_series_too() -> None:
    made, _ = played()
    after = made.series.unix >= datetime(2025, 7, 1, tzinfo=UTC).timestamp()
    better = Series(made.series.unix, made.series.power * np.where(after, 1.25, 1.0), made.series.step)
    clear = judge(study(), better).clear
    change = changed(clear, date(2025, 7, 1))
    assert change.before + change.after == sum(0 < abs((one.day - date(2025, 7, 1)).days) < 182 for one in clear)
    near = changed(clear, date(2025, 7, 1), [date(2025, 5, 1), date(2025, 8, 1)])
    assert near.before == sum(date(2025, 5, 1) < one.day < date(2025, 7, 1) for one in clear) and near.after < change.after
    assert change.low < 1.25 < change.high and change.ratio == pytest.approx(1.25, abs=0.01)


# -- readings -------------------------------------------------------------------------------------------------------------


NOON = datetime(2026, 6, 21, 12, 25, tzinfo=UTC)


def test_a_reading_is_a_share_of_the_nameplate_and_of_this_sun() -> None:
    """352 W of a 430 W panel: 81.9 %."""
    one = studied(brief_of(data(array={"rows": 1, "columns": 1, "clearance": 0.6})))
    said = judged_reading(one, Reading(at=NOON, power=352))
    assert said.of_nameplate == pytest.approx(0.8186, abs=1e-4) and said.fair
    assert said.of_expected == pytest.approx(352 / expected_at(one, NOON).power) and said.throttled == ()
    flat = judged_reading(one, Reading(at=NOON, power=352), stood=80.0)
    assert flat.of_expected > 1.3 * said.of_expected, "what stands too steep should give less"
    assert judged_reading(one, Reading(at=NOON, power=352, tilt=33), stood=80.0).of_expected == pytest.approx(said.of_expected)
    hazy = judged_reading(one, Reading(at=NOON, volts=30.0, amps=9.0, sky="haze", in_the_way=True))
    assert hazy.watts == 270 and not hazy.fair and "stood in the light" in " ".join(hazy.why_not)
    assert judged_reading(one, Reading(at=NOON, quantity=40, unit="litres")).watts is None


def test_what_was_learned_of_the_air_moves_the_expected() -> None:
    one = study()
    hazy = [1.0] * 5 + [0.93] + [None] * 6
    clear = expected_at(one, NOON).clear_power
    assert expected_at(one, NOON, haze=hazy).clear_power == pytest.approx(0.93 * clear)
    assert expected_at(one, datetime(2026, 7, 21, 12, 25, tzinfo=UTC), haze=hazy).clear_power > 0.95 * clear, "July is not known"
    said = judged_reading(one, Reading(at=NOON, power=1000), haze=hazy)
    assert said.of_expected == pytest.approx(1000 / (0.93 * clear))
    _, found = played()
    assert all(share is None or abs(share - 1) < 0.02 for share in found.haze) and found.haze[6] is not None


def test_signs_of_demand_and_the_load_test() -> None:
    one = studied(brief_of(data(use={"kind": "grid", "yearly": 3000, "tariff": {"export": 0.05, "export_limit": 600}})))
    full = judged_reading(one, Reading(at=NOON, power=400, battery="full"))
    assert full.throttled == ("the battery is full",) and not full.fair
    rose = judged_reading(one, Reading(at=NOON, power=400, with_load=900))
    assert rose.watts == 900 and "rose from 400 to 900 W" in rose.throttled[0]
    assert judged_reading(one, Reading(at=NOON, power=1300, with_load=1310)).throttled == ()
    assert "may be fed in" in judged_reading(one, Reading(at=NOON, power=605)).throttled[0]


@pytest.mark.parametrize(
    ("reading", "path", "words"),
    [
        ({"at": NOON + timedelta(days=1), "power": 3}, "at", "future"),
        ({"power": 4000}, "power", "4000 W from 1720 W"),
        ({"volts": 12.0, "amps": 31.0}, "amps", "wrong way round"),
        ({"volts": 30.0}, "amps", "belong together"),
        ({}, "power", "give what the display shows"),
        ({"quantity": 4}, "unit", "is missing"),
    ],
)
def test_readings_that_cannot_be_are_asked_about(reading: dict[str, Any], path: str, words: str) -> None:
    with pytest.raises(BriefError) as caught:
        refuse_reading(study().scene, Reading(**{"at": NOON, **reading}), NOON)
    assert caught.value.path == path and words in caught.value.message
    if words in ("4000 W from 1720 W", "wrong way round"):
        refuse_reading(study().scene, Reading(**{"at": NOON, **reading}), NOON, sure=True)


def test_other_meters_are_judged_by_the_sun_they_had() -> None:
    one = study()

    def litres(day: int, hours: float, amount: float, unit: str = "litres") -> Reading:
        at = datetime(2026, 6, day, 9, tzinfo=UTC) + timedelta(hours=hours)
        return Reading(at=at, since=datetime(2026, 6, day, 9, tzinfo=UTC), quantity=amount, unit=unit)

    before = tuple(litres(day, 4, 1000) for day in (1, 2, 3))
    half = other_meter(one, litres(4, 4, 500), before)
    assert half.share == pytest.approx(0.5, abs=0.02)
    short = other_meter(one, litres(4, 2, 500), before)
    assert short.share > 0.9, "half the amount in half the time is no loss"
    slow = other_meter(one, litres(4, 0.5, 20, "minutes"), (litres(3, 0.25, 10, "minutes"),))
    assert slow.share == pytest.approx(0.5, abs=0.06), "twice the minutes to boil is half as good"
    assert other_meter(one, Reading(at=NOON, quantity=3, unit="Ah")) is None


def test_the_best_point_of_a_sweep_is_that_of_the_curve_and_not_of_the_luckiest_row() -> None:
    """A single-diode-like curve: I = 9 (1 - exp((V - 38) / 1.9)), whose top is found by a fine search."""
    fine = np.linspace(20, 38, 20001)
    power = fine * 9 * (1 - np.exp((fine - 38) / 1.9))
    best, top = fine[power.argmax()], power.max()
    random = np.random.default_rng(2)
    volts = np.linspace(25, 37, 19)
    amps = 9 * (1 - np.exp((volts - 38) / 1.9)) * (1 + 0.01 * random.standard_normal(19))
    found = best_point(list(zip(volts.tolist(), amps.tolist(), strict=True)))
    assert found.power == pytest.approx(top, rel=0.008) and found.volts == pytest.approx(best, abs=0.6)
    assert abs(found.power - top) < abs(found.largest - top) and found.amps == pytest.approx(found.power / found.volts)
    with pytest.raises(BriefError, match="too few"):
        best_point([(1, 1)] * 4)
    with pytest.raises(BriefError, match="still rises"):
        best_point([(v, 5.0) for v in (20, 22, 24, 26, 28, 30)])
    with pytest.raises(BriefError, match="row 2"):
        best_point([(20, 5), (21, -1), (22, 5), (23, 5), (24, 5)])


@pytest.mark.parametrize("count", [3, 7, 12])
def test_days_are_drawn_again_in_runs_of_three_that_go_round(count):
    places = in_runs(count, 400, np.random.default_rng(5))
    assert places.shape == (400, count) and set(places.ravel()) == set(range(count))
    runs = places[:, : count - count % 3].reshape(-1, 3)
    assert np.array_equal((runs[:, 0] + 1) % count, runs[:, 1]) and np.array_equal((runs[:, 1] + 1) % count, runs[:, 2])
    assert len(set(runs[:, 0])) == count, "a run may begin at any day, the last too"


def test_a_slope_lies_within_its_interval_and_two_years_are_the_least() -> None:
    rng = np.random.default_rng(8)
    day = np.arange(0, 1200, 3)
    ratios = 0.97 * 0.98 ** (day / 365.25) * np.exp(0.01 * rng.standard_normal(len(day)))
    found = ageing(clear_days(ratios))
    assert found is not None and found.low < found.slope < found.high
    assert (found.low, found.high) == (pytest.approx(found.slope, abs=0.004), pytest.approx(found.slope, abs=0.004))
    assert found.high - found.slope == pytest.approx(found.slope - found.low, rel=0.5)
    assert ageing(clear_days(ratios[:243])) is None and ageing(clear_days(ratios[:245])) is not None  # 726 and 732 days


def test_a_sky_by_month_keeps_the_air_and_the_seed_of_the_one_before() -> None:
    told = {"kind": "monthly", "ghi": [1.7, 2.6, 3.9, 4.8, 5.8, 6.6, 6.9, 6.0, 4.6, 2.9, 1.9, 1.4], "temp_air": 12.34, "seed": 7}
    one = studied(brief_of(data() | {"sky": told}))
    sky = monthly_sky(one.scene, [float(month) / 3 for month in range(1, 13)], 41)
    assert (sky.seed, sky.learned_days, sky.ghi[0], sky.ghi[11]) == (7, 41, 0.333, 4.0)
    air = one.scene.weather.temp_air
    assert isinstance(sky.temp_air, list)
    assert sky.temp_air[0] == pytest.approx(float(air[: 31 * 24].mean()), abs=0.051) and sky.temp_air[0] == round(
        sky.temp_air[0], 1
    )
