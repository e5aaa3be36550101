"""Trials: the reference by hand, intervals that cover, a swap that cancels a meter's error, the promised power, run sheets and predictions."""

from __future__ import annotations

import json
from datetime import date, datetime, timedelta
from math import exp, log
from pathlib import Path
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
import pytest

from sundial.brief.read import brief_of
from sundial.cli import main
from sundial.errors import BriefError
from sundial.expected.moment import expected_at, expected_series
from sundial.study import Study, studied
from sundial.trials.design import Design, Predicted, next_day, predicted, run_sheet
from sundial.trials.model import Repeat, Trial, read_trial
from sundial.trials.planned import power_of, repeats_needed
from sundial.trials.result import TrialResult, signed, trial_result
from sundial.trials.spots import Spot, repeats_of_spots
from tests.core.test_expected import data

MADRID = ZoneInfo("Europe/Madrid")
DAY = date(2026, 5, 9)


def study(**more: Any) -> Study:
    return studied(brief_of(data(**more)))


def trial(
    ratios: list[float], swapped: set[int] = frozenset(), alike: set[int] = frozenset(), nameplate=(430, 405), **more: Any
) -> Trial:  # type: ignore[assignment]
    """``ratios`` of position b over a, per nameplate."""
    repeats = [
        Repeat(a=1000 * nameplate[0] / 430, b=1000 * nameplate[1] / 430 * ratio, swapped=place in swapped, alike=place in alike)
        for place, ratio in enumerate(ratios)
    ]
    return Trial(nameplate=list(nameplate), repeats=repeats, **more)


def test_four_repeats_give_the_manuals_ratio_and_interval() -> None:
    found = trial_result(trial([1.031, 1.044, 1.018, 1.037]))
    assert log(found.ratio) == pytest.approx(0.03194, abs=5e-6)
    assert (found.ratio, found.low, found.high) == pytest.approx((1.0325, 1.0150, 1.0502), abs=5e-5)
    assert found.shown and found.repeats == 4 and found.panels is None
    assert any("never swapped" in note for note in found.notes)
    assert found.sentence == "B gives 3.2 % more than A (+1.5 to +5.0 %)."


def simulated(random: np.random.Generator, gain: float, meter: float, scatter: float, count: int, swap: bool) -> TrialResult:
    sides = [place % 2 == 1 and swap for place in range(count)]
    ratios = [exp(log(1 + gain) * (-1 if side else 1) + log(1 + meter) + scatter * random.standard_normal()) for side in sides]
    return trial_result(trial(ratios, {place for place, side in enumerate(sides) if side}))


def test_the_interval_covers_the_truth_in_95_of_100_trials() -> None:
    random = np.random.default_rng(5)
    for swap in (False, True):
        hit = 0
        for _ in range(1000):
            found = simulated(random, 0.04, 0.0 if not swap else 0.03, 0.018, 6, swap)
            assert found.low is not None and found.high is not None
            hit += found.low <= 1.04 <= found.high
        assert 0.93 <= hit / 1000 <= 0.97


def test_a_swap_cancels_a_meters_error_that_else_counts_as_a_gain() -> None:
    random = np.random.default_rng(11)
    straight = simulated(random, 0.0, 0.03, 0.006, 8, swap=False)
    assert straight.shown and straight.ratio == pytest.approx(1.03, abs=0.006), "reported as a gain"
    crossed = simulated(random, 0.0, 0.03, 0.006, 8, swap=True)
    assert not crossed.shown and crossed.ratio == pytest.approx(1.0, abs=0.008)
    assert crossed.panels is not None and crossed.panels.shown and crossed.panels.ratio == pytest.approx(1.03, abs=0.01)


@pytest.mark.parametrize(("gain", "scatter", "swap"), [(0.03, 0.02, True), (0.05, 0.04, True), (0.02, 0.012, False)])
def test_the_planned_repeats_give_the_promised_power(gain: float, scatter: float, swap: bool) -> None:
    needed = repeats_needed(gain, scatter, swap)
    assert needed is not None
    promised = power_of(needed, gain, scatter, swap)
    assert promised >= 0.8 > power_of(needed - (2 if swap else 1), gain, scatter, swap)
    random = np.random.default_rng(3)
    shown = sum(simulated(random, gain, 0.01 if swap else 0.0, scatter, needed, swap).shown for _ in range(500))
    assert shown / 500 == pytest.approx(promised, abs=0.05)


def test_panels_treated_alike_are_taken_out_of_the_ratio() -> None:
    found = trial_result(trial([1.021, 1.018, 1.032, 1.028, 1.034], alike={0, 1}))
    apart = (log(1.021) + log(1.018)) / 2
    assert log(found.ratio) == pytest.approx((log(1.032) + log(1.028) + log(1.034)) / 3 - apart)
    assert found.repeats == 3 and found.panels is not None and found.panels.ratio == pytest.approx(exp(apart))
    weak = trial_result(trial([1.026, 1.014, 1.045, 1.018, 1.028], alike={0, 1}))
    assert not weak.shown and weak.sentence.startswith(
        "3 % more, but these two panels differ by 2.0 % when treated alike: not shown"
    )


def test_what_stays_of_the_repeat_before_and_a_drift_are_told_apart() -> None:
    random = np.random.default_rng(2)
    sides = [1, 1, 1, -1, -1, -1, 1, 1, 1, -1, -1, -1]
    before = [0, *sides[:-1]]
    noise = 0.002 * random.standard_normal(12)
    swapped = {place for place, side in enumerate(sides) if side < 0}
    carried = trial_result(trial([exp(0.05 * s + 0.02 * b + e) for s, b, e in zip(sides, before, noise, strict=True)], swapped))
    assert carried.carry_over is not None and carried.carry_over.ratio == pytest.approx(exp(0.02), abs=0.003)
    assert carried.left is not None and carried.left.ratio == pytest.approx(exp(0.05), abs=0.003)
    assert any("repeat before stays" in note for note in carried.notes)
    drifting = trial_result(
        trial([exp(0.05 * s + 0.004 * t + e) for t, (s, e) in enumerate(zip(sides, noise, strict=True))], swapped)
    )
    assert drifting.drift is not None and drifting.drift.shown and drifting.drift.ratio == pytest.approx(exp(0.004), abs=0.001)
    clean = trial_result(trial([exp(0.05 * s + e) for s, e in zip(sides, noise, strict=True)], swapped))
    assert clean.carry_over is not None and not clean.carry_over.shown and clean.drift is not None and not clean.drift.shown


def test_what_cannot_count_is_kept_left_out_and_said() -> None:
    made = trial([1.03, 1.05, 1.9, 1.04])
    repeats = [*made.repeats]
    repeats[2] = repeats[2].model_copy(update={"stopped": "shade"})
    repeats.append(Repeat(a=0, b=400))
    repeats.append(Repeat(a=500, b=300, stopped="throttled"))
    found = trial_result(made.model_copy(update={"repeats": repeats}))
    assert found.repeats == 3 and found.said[2].ratio == pytest.approx(1.9) and found.said[4].ratio is None
    assert (
        "Repeat 3 is left out: shade came in." in found.notes
        and "Repeat 6 is left out: the battery or a limit held it back." in found.notes
    )
    assert any("Repeat 5" in note and "position a gave nothing" in note for note in found.notes)


def test_one_repeat_shows_nothing_and_one_of_each_side_has_an_interval() -> None:
    alone = trial_result(trial([1.2]))
    assert alone.ratio == pytest.approx(1.2) and alone.low is None and not alone.shown and "one more is needed" in alone.sentence
    same = trial_result(trial([1.0, 1.0001]))
    assert same.sentence.startswith("Not shown: B gave as much as A, and the scatter alone gives")
    both = trial_result(trial([1.05, 0.97], swapped={1}))
    assert both.low is not None and both.ratio == pytest.approx(exp((log(1.05) - log(0.97)) / 2))


@pytest.mark.parametrize(
    ("told", "path", "words"),
    [
        ({"nameplate": [430, 0], "repeats": [{"a": 1, "b": 1}]}, "nameplate.1", "greater than 0"),
        ({"nameplate": [430, 430], "repeats": []}, "repeats", "at least 1"),
        ({"nameplate": [430, 430], "repeats": [{"a": -1, "b": 1}]}, "repeats.0.a", "greater than or equal to 0"),
        ({"nameplate": [430, 430], "arms": ["Flat", "flat"], "repeats": [{"a": 1, "b": 1}]}, "trial", "same name"),
        ({"nameplate": [430, 430], "repeats": [{"a": 1, "b": 1, "hour": 2}]}, "repeats.0.hour", "Extra inputs"),
    ],
)  # fmt: skip
def test_a_wrong_file_is_refused_by_its_path(told: dict[str, Any], path: str, words: str) -> None:
    with pytest.raises(BriefError) as refused:
        read_trial(json.dumps(told))
    assert refused.value.path == path and words in refused.value.message


def test_nothing_that_was_tried_is_refused() -> None:
    with pytest.raises(BriefError, match="nothing was tried yet"):
        trial_result(trial([1.01, 1.02], alike={0, 1}))
    with pytest.raises(BriefError, match="repeat 1, position b gave nothing"):
        trial_result(Trial(nameplate=[430, 430], repeats=[Repeat(a=5, b=0)]))


def test_the_command_prints_the_result(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "trial.json"
    file.write_text(
        json.dumps(
            {"arms": ["flat", "tilted"], "nameplate": [430, 215], "repeats": [{"a": 1000, "b": 515}, {"a": 900, "b": 459}]}
        )
    )
    assert main(["trial", str(file), "--gain", "0.05"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert (
        told["ratio"] == pytest.approx(exp((log(1.03) + log(1.02)) / 2)) and told["gain"] == 0.05 and told["repeats_needed"] >= 2
    )
    with pytest.raises(SystemExit):
        main(["trial", str(file), "--gain", "0"])


def test_spot_readings_are_divided_by_the_sun_of_their_minute() -> None:
    build = study()
    start = datetime(2026, 5, 9, 9, 30, tzinfo=MADRID)
    times = [start + timedelta(minutes=7 * place) for place in range(6)]
    sun = expected_series(build, np.array([at.timestamp() for at in times]))
    spots = [
        Spot(at, place % 2, float(watts * (1.06 if place % 2 else 1.0)))
        for place, (at, watts) in enumerate(zip(times, sun, strict=True))
    ]
    assert spots[1].watts / spots[0].watts > 1.1, "the sun itself rose meanwhile"
    repeats = repeats_of_spots(build, list(reversed(spots)))
    assert len(repeats) == 3 and all(repeat.b / repeat.a == pytest.approx(1.06, abs=1e-6) for repeat in repeats)
    shown = trial_result(Trial(nameplate=[430, 430], repeats=repeats))
    assert any("weaker design" in note for note in shown.notes)
    with pytest.raises(BriefError, match="within 15 minutes"):
        repeats_of_spots(build, [spots[0], Spot(start + timedelta(minutes=40), 1, 100)])


def design(**more: Any) -> Design:
    return Design(**({"differs": "tilt", "arms": ["flat", "tilted"], "values": [0, 33], "nameplate": [430, 430]} | more))


def test_the_run_sheet_keeps_shade_out_and_swaps_at_half_of_the_light() -> None:
    open_day = run_sheet(study(), design(), DAY)
    walled = study(horizon=[[0, 0], [219, 0], [220, 55], [290, 55], [291, 0]])
    sheet = run_sheet(walled, design(), DAY)
    assert sheet.stop < open_day.stop - timedelta(hours=1) and sheet.stops_because == "shade comes in after that"
    assert (
        expected_at(walled, sheet.stop - timedelta(minutes=10)).shaded
        < 0.001
        < expected_at(walled, sheet.stop + timedelta(minutes=20)).shaded
    )
    assert sheet.swap is not None
    half = sheet.swap[0] + (sheet.swap[1] - sheet.swap[0]) / 2

    def made(low: datetime, high: datetime) -> float:
        return float(expected_series(walled, np.arange(low.timestamp(), high.timestamp(), 60.0)).sum())

    assert made(sheet.start, half) == pytest.approx(made(half, sheet.stop), rel=0.04)
    assert [step.at for step in sheet.steps] == sorted(step.at for step in sheet.steps)
    assert any(step.caution for step in sheet.steps)
    alike = run_sheet(walled, design(), DAY, alike=True)
    assert alike.swap is None and "both up as “flat”" in alike.steps[0].do
    with pytest.raises(BriefError, match="without shade"):
        run_sheet(study(horizon=[[0, 70]]), design(), DAY)


def test_the_core_predicts_what_a_trial_may_confirm() -> None:
    build = study(
        panel={"power": 430, "length": 1.722, "width": 1.134, "mass": 21.5, "gamma": -0.0034, "bifaciality": 0.7},
        ground={"albedo": 0.5},
    )
    winter = predicted(build, design(), date(2026, 12, 12)).ratio
    summer = predicted(build, design(), date(2026, 6, 12)).ratio
    assert winter is not None and summer is not None and winter > 1.5 > summer
    high = predicted(build, design(differs="height", arms=["low", "high"], values=[0.1, 1.2]), DAY).ratio
    faces = predicted(build, design(differs="faces", arms=["one", "two"], values=[0, 1]), DAY).ratio
    close = predicted(build, design(differs="cooling", arms=["close", "open"], values=[0.02, 0.4]), DAY).ratio
    assert high is not None and faces is not None and close is not None
    assert 1.005 < high < faces < 1.3 and 1.01 < close < 1.12
    assert predicted(build, design(differs="clean", arms=["dirty", "clean"], values=[0, 0.05]), DAY).ratio == pytest.approx(
        1 / 0.95
    )
    assert predicted(study(), design(differs="faces", arms=["one", "two"], values=[0, 1]), DAY).ratio == 1.0
    assert predicted(build, design(differs="other", arms=["x", "y"], values=[0, 0]), DAY).ratio is None


def test_two_repeats_with_the_second_swapped_were_swapped() -> None:
    """With one of each side the panels' difference is part of the scatter; nobody is told that they were never swapped."""
    told = {
        "arms": ["A", "B"],
        "nameplate": [430, 430],
        "repeats": [{"a": 1000, "b": 1031}, {"a": 1040, "b": 1005, "swapped": True}],
    }
    found = trial_result(Trial(**told))
    assert found.ratio == pytest.approx(((1031 / 1000) * (1040 / 1005)) ** 0.5)
    assert not any("never swapped" in note for note in found.notes)
    straight = trial_result(Trial(**{**told, "repeats": [{"a": 1000, "b": 1031}, {"a": 1005, "b": 1040}]}))
    assert any("never swapped" in note for note in straight.notes)


def test_what_comes_over_is_of_the_repeat_before_even_if_that_was_left_out() -> None:
    """Played with a trace of 4 % of what lay there before: left-out repeats lay there too, and the trace is found again."""
    sides = [1, -1, -1, 1, -1, 1, 1, -1, 1, -1, -1, 1]
    repeats, before = [], 0
    for number, side in enumerate(sides):
        value = 0.03 * side + 0.04 * before
        repeats.append(
            {
                "a": 1000.0,
                "b": 1000.0 * np.exp(value),
                "swapped": side < 0,
                **({"stopped": "cloud"} if number in (2, 6, 7) else {}),
            }
        )
        before = side
    found = trial_result(Trial(**{"arms": ["A", "B"], "nameplate": [430, 430], "repeats": repeats}))
    assert found.carry_over.ratio == pytest.approx(np.exp(0.04), abs=1e-9)
    assert found.left.ratio == pytest.approx(np.exp(0.03), abs=1e-9)


def test_the_run_sheet_counts_its_hours_and_says_what_each_step_ends() -> None:
    plan = design()
    swapped, alike = run_sheet(study(), plan, DAY), run_sheet(study(), plan, DAY, alike=True)
    apart = float(plan.told["minutes"]) / 60
    assert apart > 0
    for sheet, pause in ((swapped, apart), (alike, 0.0)):
        assert sheet.hours == pytest.approx((sheet.stop - sheet.start).total_seconds() / 3600 - pause, abs=1 / 60 + 1e-9)
    assert [sheet.steps[-1].do for sheet in (swapped, alike)] == [
        "Write down what both show. That is the second repeat.",
        "Write down what both show. That is the repeat.",
    ]
    assert sum(bool(step.caution) for step in swapped.steps) == 2
    assert swapped.steps[0].caution == swapped.steps[3].caution == plan.told["caution"]


def test_the_next_day_is_looked_for_week_by_week() -> None:
    winter = study(horizon=[[0, 20], [359, 20]])  # the sun of December stays under it
    dark = date(2026, 12, 7)
    found = next_day(winter, design(), dark)
    assert found is not None and (found - dark).days % 7 == 0
    for week in range(1, (found - dark).days // 7):
        with pytest.raises(BriefError, match="without shade"):
            run_sheet(winter, design(), dark + timedelta(days=7 * week))
    assert run_sheet(winter, design(), found).hours > 1
    assert next_day(study(horizon=[[0, 85]]), design(), dark) is None


def test_a_repeat_that_cannot_count_keeps_what_it_was() -> None:
    told = [Repeat(a=0, b=400, alike=True), Repeat(a=0.4, b=400, swapped=True), Repeat(a=400, b=404), Repeat(a=400, b=408)]
    dead, apart, *_ = trial_result(trial([1.0, 1.0]).model_copy(update={"repeats": told})).said
    assert (dead.number, dead.ratio, dead.alike, dead.swapped) == (1, None, True, False)
    assert (apart.number, apart.ratio, apart.alike, apart.swapped) == (2, None, False, True)
    assert "position a gave nothing" in dead.why and "are both in Wh?" in apart.why


def test_half_a_per_cent_is_more_and_a_hair_is_as_much() -> None:
    assert [signed(ratio) for ratio in (1.005, 0.996, 1.0004, 1.1)] == ["0.5 % more", "0.4 % less", "as much", "10 % more"]


def test_arms_that_are_not_swapped_keep_a_degree_of_freedom() -> None:
    assert repeats_needed(0.03, 0.02, swapped=False) != repeats_needed(0.03, 0.02, swapped=True)
    fewest = repeats_needed(0.02, 0.015, swapped=False)
    assert fewest is not None and power_of(fewest, 0.02, 0.015, False) >= 0.8 > power_of(fewest - 1, 0.02, 0.015, False)


def test_what_is_predicted_is_of_the_hours_of_the_sheet() -> None:
    """The panels of the morning and those of the evening see the sun from other sides: the sums over the window, written out."""
    walled = study(horizon=[[0, 0], [219, 0], [220, 55], [290, 55], [291, 0]])
    sheet = run_sheet(walled, design(), DAY)
    middles = np.arange(sheet.start.timestamp() + 150, sheet.stop.timestamp(), 300.0)
    flat, tilted = (float(expected_series(walled, middles, tilt).sum()) for tilt in (0.0, 33.0))
    found = predicted(walled, design(), DAY)
    assert found.ratio == pytest.approx(tilted / flat, rel=1e-9) and "tilts of 0 and 33 degrees" in found.why
    unknown = predicted(walled, design(differs="other", arms=["a", "b"], values=[0, 1]), DAY)
    assert unknown == Predicted(None, "no figure of the plan belongs to this comparison")


@pytest.mark.parametrize("gain", [-1.5, -1.0, 0.0])
def test_a_gain_that_none_can_have_is_refused(gain: float) -> None:
    with pytest.raises(BriefError, match="other than nothing") as refused:
        repeats_needed(gain, 0.02)
    assert refused.value.path == "gain"
