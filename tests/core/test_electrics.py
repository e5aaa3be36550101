"""Electrics: strings against hand values in both directions of temperature, every allowed split, the cable, leads, and plugs changed."""

from __future__ import annotations

import itertools
import json
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sundial.answers.electrics.command import restring_answer, strings_answer
from sundial.answers.electrics.report import electrics_report
from sundial.brief.model import CableBrief, ElectricsBrief
from sundial.brief.read import brief_of
from sundial.electrics.cable import drop, gauge_area, resistance, run_of
from sundial.electrics.leads import joints, leapfrogged
from sundial.electrics.restring import restring
from sundial.electrics.strings import allowed_splits, current_of, hottest_cell, refused, string_of
from sundial.errors import BriefError
from sundial.frame.panels import Array, Panel
from sundial.study import Study, studied
from tests.core.test_cutting import RACK

LABEL: dict[str, Any] = {
    "voc": 37.2, "isc": 14.2, "vmp": 31.1, "imp": 13.85, "beta": -0.0027, "alpha": 0.0005, "min_temp": -15, "max_temp": 40,
    "input": {"max_voltage": 500, "window": [120, 450], "max_current": 15, "inputs": 2},
    "cable": {"length": 60, "area": 4, "material": "copper"}, "lead": 1.1,
}  # fmt: skip


def study_of(electrics: dict[str, Any] = LABEL, **changes: Any) -> Study:
    return studied(brief_of(json.loads(json.dumps(RACK | {"electrics": electrics} | changes))))


def label(**changes: Any) -> ElectricsBrief:
    return ElectricsBrief.model_validate(LABEL | changes)


def test_the_coldest_morning_by_hand() -> None:
    of_chapter = label(voc=38.6, vmp=32.0, beta=-0.0026, min_temp=-15)
    assert string_of(of_chapter, 11, "open-rack").cold_voltage == pytest.approx(468.8, abs=0.05)
    warmer = string_of(label(voc=38.6, vmp=32.0, beta=-0.0026, min_temp=10), 11, "open-rack")
    assert warmer.cold_voltage == pytest.approx(11 * 38.6 * 1.039)


def test_the_hottest_noon_by_hand() -> None:
    cell = 40 + 1000 / (25.0 + 6.84)  # Faiman, open rack, 1 m/s
    assert hottest_cell(40, "open-rack") == pytest.approx(cell) == pytest.approx(71.41, abs=0.01)
    one = string_of(label(), 8, "open-rack")
    assert one.hot_voltage == pytest.approx(8 * (31.1 - 0.0027 * 37.2 * (cell - 25)))
    assert one.hot_voltage < 8 * 31.1 < 8 * 37.2 < one.cold_voltage
    assert string_of(label(), 8, "close").hot_voltage < one.hot_voltage  # no air behind it
    assert current_of(label(), 3, "open-rack") == pytest.approx(3 * 14.2 * (1 + 0.0005 * (cell - 25)))


def plain_splits(told: ElectricsBrief, count: int) -> set[tuple[tuple[int, int], ...]]:
    """Every split by trying: for each number of inputs all sets of (panels, strings), each against the limits written out."""
    assert told.input is not None
    cell = hottest_cell(told.max_temp, "open-rack")
    fit = []
    for panels, strings in itertools.product(range(1, count + 1), range(1, count + 1)):
        cold = panels * told.voc * (1 + told.beta * (told.min_temp - 25))
        hot = panels * (told.vmp + told.beta * told.voc * (cell - 25))
        amps = strings * told.isc * (1 + told.alpha * (cell - 25))
        low, high = told.input.window
        if panels * strings <= count and cold <= told.input.max_voltage and low <= hot <= high and amps <= told.input.max_current:
            fit.append((panels, strings))
    return {
        tuple(sorted(some, reverse=True))
        for used in range(1, told.input.inputs + 1)
        for some in itertools.combinations_with_replacement(fit, used)
        if sum(panels * strings for panels, strings in some) == count
    }


@pytest.mark.parametrize("inputs", [1, 2, 3])
@pytest.mark.parametrize("amps", [15.0, 31.0, 50.0])
def test_every_allowed_split_is_listed_and_no_other(inputs: int, amps: float) -> None:
    told = label(input=LABEL["input"] | {"inputs": inputs, "max_current": amps})
    for count in (1, 5, 8, 11, 12, 13, 17, 24, 30, 36):
        found = [tuple((one.panels, one.strings) for one in split.inputs) for split in allowed_splits(told, count, "open-rack")]
        assert len(found) == len(set(found)) and set(found) == plain_splits(told, count)


def test_refusals_name_the_limit_that_is_broken() -> None:
    assert "under the 120 V" in refused(label(), 4, 1, "open-rack")
    assert "coldest morning" in refused(label(), 13, 1, "open-rack")
    assert "takes 15 A" in refused(label(), 8, 2, "open-rack")
    assert refused(label(), 8, 1, "open-rack") == ""
    narrow = label(input=LABEL["input"] | {"window": [30, 200]})
    assert "to which it tracks" in refused(narrow, 8, 1, "open-rack")


def test_the_cable_of_the_chapter() -> None:
    ohm = resistance(4, "copper", "class 2", 50)
    assert ohm == pytest.approx(4.61e-3 * 1.118, rel=2e-4)
    assert drop(60, 9.5, ohm) == pytest.approx(5.88, abs=0.006)
    assert resistance(4, "copper", "class 5", 50) > ohm > resistance(6, "copper", "class 2", 50)
    assert resistance(16, "aluminium", "class 2", 20) == pytest.approx(1.91e-3)
    assert (
        resistance(4, "copper", "class 2", 20) > resistance(5, "copper", "class 2", 20) > resistance(6, "copper", "class 2", 20)
    )


def test_gauges_have_their_areas() -> None:
    assert [round(gauge_area(gauge), 2) for gauge in (14, 12, 10, 8, 6)] == [2.08, 3.31, 5.26, 8.37, 13.3]


def test_a_thicker_cable_loses_less_and_pays_itself_back_or_not() -> None:
    cable = CableBrief(length=60, area=4, prices=[(4, 1.0), (6, 1.5), (10, 2.6)])
    run = run_of(cable, 13.85, 248.8, 150_000, 0.2)
    assert run.own.lost == pytest.approx(2 * 60 * 4.61e-3 * 1.1179 * 150_000 / 1000)
    shares = [one.share for one in run.sizes]
    assert shares == sorted(shares, reverse=True)
    six = next(one for one in run.sizes if one.area == 6)
    assert six.years == pytest.approx((1.5 - 1.0) * 120 / ((run.own.lost - six.lost) * 0.2))
    assert (run.within_3, run.within_2) == (6, 10)
    with pytest.raises(BriefError, match="swallows"):
        run_of(CableBrief(length=1000, area=1.5), 13.85, 93.0, 1.0, 0.2)


def test_the_years_loss_goes_with_the_square_of_each_hours_current() -> None:
    study = study_of(wiring={"kind": "series"})
    report = electrics_report(study)
    assert report.run is not None
    power = np.clip(study.production().hourly, 0, None) / 0.96
    amps = power / (8 * 430) * 13.85
    assert report.run.own.lost == pytest.approx(2 * 60 * resistance(4, "copper", "class 2", 50) * (amps**2).sum() / 1000)


def test_clipping_is_counted_from_the_year() -> None:
    report = electrics_report(study_of(system={"inverter": {"power": 2500, "efficiency": 0.96}}))
    free = electrics_report(study_of())
    assert report.clipped is not None and free.clipped is None
    lost = study_of().production().year - study_of(system={"inverter": {"power": 2500, "efficiency": 0.96}}).production().year
    assert report.clipped.energy == pytest.approx(lost, rel=1e-6)
    assert report.clipped.hours > 50 and report.clipped.ratio == pytest.approx(3440 / 2500)


def test_leads_reach_along_a_row_and_not_over_two_panels() -> None:
    array = Array(Panel(430, 1.722, 1.134), 2, 4, 180.0)
    found = joints(array, [[1, 2, 3, 4, 8, 7, 6, 5]], 1.1, "middle")
    assert [round(one.needed, 3) for one in found] == [1.254, 1.254, 1.254, 1.842, 1.254, 1.254, 1.254]
    assert not any(one.extension for one in found)
    jumping = joints(array, [[1, 2, 3, 4]], 1.1, "middle", leapfrog=True)
    assert [(one.start, one.end) for one in jumping] == [(1, 3), (3, 4), (4, 2)]
    assert [one.extension for one in jumping] == [0.5, 0.0, 0.5]  # 2.408 m over 2.2
    lying = joints(Array(Panel(430, 1.722, 1.134), 1, 3, 180.0, portrait=False), [[1, 2, 3]], 0.9, "end")
    assert [one.extension for one in lying] == [0.5, 0.5]  # 1.842 over 1.8
    assert leapfrogged([1, 2, 3, 4, 5]) == [1, 3, 5, 4, 2]


def changed(old: list[list[int]], strings: tuple[tuple[int, ...], ...]) -> int:
    before = {joint for one in old for joint in itertools.pairwise(one)}
    after = {joint for one in strings for joint in itertools.pairwise(one)}
    return len(before ^ after)


def test_restringing_changes_the_fewest_plugs() -> None:
    old = [[1, 2, 3, 4, 5, 6], [7, 8, 9, 10, 11, 12]]
    found = restring(old, list(range(1, 13)), [4, 4, 4])
    assert sorted(len(one) for one in found.strings) == [4, 4, 4]
    assert sorted(panel for one in found.strings for panel in one) == list(range(1, 13))
    assert found.changed == changed(old, found.strings) == 3  # two joints opened, one made of the two rests
    added = restring([[1, 2, 3, 4]], [1, 2, 3, 4, 5], [5])
    assert (added.opened, len(added.made)) == ((), 1)
    assert restring(old, list(range(1, 13)), [6, 6]).changed == 0


@settings(max_examples=25, deadline=None)
@given(st.permutations(list(range(1, 8))), st.integers(1, 6), st.sampled_from([[7], [3, 4], [2, 5], [2, 2, 3]]))
def test_no_wiring_of_seven_panels_changes_fewer(order: list[int], cut: int, sizes: list[int]) -> None:
    old = [order[:cut], order[cut:]]
    found = restring(old, list(range(1, 8)), sizes)
    best = min(
        changed(old, tuple(tuple(some[sum(sizes[:at]) : sum(sizes[: at + 1])]) for at in range(len(sizes))))
        for some in itertools.permutations(range(1, 8))
    )
    assert found.changed == best


def test_forty_panels_are_restrung() -> None:
    old = [list(range(1, 14)), list(range(14, 27)), list(range(27, 39))]
    found = restring(old, list(range(1, 41)), [10, 10, 10, 10])
    assert [len(one) for one in found.strings] == [10] * 4
    assert found.changed == changed(old, found.strings) <= 12
    with pytest.raises(BriefError, match="up to 40"):
        restring(old, list(range(1, 42)), [41])


def test_a_wiring_out_of_its_limits_is_told_with_the_nearest_that_is_within() -> None:
    wiring = {"kind": "parallel", "strings": [[1, 2, 3, 4], [5, 6, 7, 8]]}
    report = electrics_report(study_of(wiring=wiring))
    assert "under the 120 V" in report.why and report.better is not None
    assert report.better.made == ((4, 5),) or report.better.made == ((8, 1),)
    assert electrics_report(study_of()).why == ""
    own = electrics_report(study_of(wiring={"kind": "own"}))
    assert own.why == "" and "converter" in own.verdict
    uneven = {"kind": "parallel", "strings": [[1, 2, 3], [4, 5, 6, 7, 8]]}
    one_input = LABEL | {"input": LABEL["input"] | {"inputs": 1, "max_current": 40}}
    assert "have one length" in electrics_report(study_of(one_input, wiring=uneven)).why


def test_the_commands_answer_has_the_contracts_keys() -> None:
    answer = strings_answer(study_of())
    assert {"cold_voltage", "hot_voltage", "current", "allowed", "verdict", "cable", "leads"} <= set(answer)
    assert {"drop", "drop_share", "lost_kwh", "sizes"} <= set(answer["cable"])
    assert answer["ok"] and json.dumps(answer, allow_nan=False)
    made = restring_answer(study_of().scene, [[1, 2, 3, 4], [5, 6, 7, 8]])
    assert made["changed"] == 1 and len(made["strings"]) == 1


REFUSED = [
    ({"vmp": 38.0}, "electrics.voc", "swapped"),
    ({"imp": 15.0}, "electrics.isc", "swapped"),
    ({"beta": 0.0027}, "electrics.beta", "less than 0"),
    ({"min_temp": 20, "max_temp": 15}, "electrics.min_temp", "colder"),
    ({"input": LABEL["input"] | {"window": [450, 120]}}, "electrics.input.window", "from low to high"),
    ({"input": LABEL["input"] | {"window": [120, 600]}}, "electrics.input.window", "over the most"),
    ({"cable": {"length": 5000, "area": 4}}, "electrics.cable.length", "up to 1000"),
    ({"cable": {"length": 10, "area": 4, "material": "copper-coated aluminium"}}, "electrics.cable.material", "like aluminium"),
    ({"cable": {"length": 10, "area": 4, "material": "gold"}}, "electrics.cable.material", "copper or aluminium"),
    ({"vmp": 25.0, "voc": 30.0}, "electrics.vmp", "346 W"),
    ({"cable": {"length": 1000, "area": 1.5}}, "electrics.cable.length", "swallows"),
]


@pytest.mark.parametrize(("change", "path", "words"), REFUSED)
def test_a_label_that_cannot_be_is_refused_by_path(change: dict[str, Any], path: str, words: str) -> None:
    with pytest.raises(BriefError) as refused_by:
        electrics_report(study_of(LABEL | change))
    assert refused_by.value.path == path and words in refused_by.value.message


@pytest.mark.parametrize(("material", "strands"), [("copper", "class 2"), ("copper", "class 5"), ("aluminium", "class 2")])
def test_a_thicker_conductor_never_drops_more(material: str, strands: str) -> None:
    """Listed sizes, gauges and all between them: 5.26 mm2 once dropped less than 6."""
    areas = np.unique(
        [
            *np.geomspace(0.8, 90, 400),
            *(gauge_area(gauge) for gauge in range(0, 15)),
            1.5,
            2.5,
            4,
            5.26,
            5.9,
            6,
            9.9,
            10,
            16,
            25,
            35,
            50,
        ]
    )
    ohms = [resistance(float(area), material, strands, 50) for area in areas]
    assert all(thin > thick for thin, thick in itertools.pairwise(ohms))
    if strands == "class 2" and material == "copper":
        assert resistance(4.0, material, strands, 20) == pytest.approx(4.61e-3) and resistance(
            6.0, material, strands, 20
        ) == pytest.approx(3.08e-3)
        assert resistance(70.0, material, strands, 20) == pytest.approx(0.524e-3 / 2)  # beyond the list: as one over the area


def test_the_loss_goes_with_the_squares_of_what_each_input_carries() -> None:
    """Twelve panels in three strings: on two inputs one carries two strings and one a single one, 4 + 1 against three times 1."""
    twelve = {**RACK["array"], "rows": 3, "columns": 4}
    strings = {"kind": "parallel", "strings": [[1, 2, 3, 4], [5, 6, 7, 8], [9, 10, 11, 12]]}

    def lost(inputs: int, wiring: dict[str, Any] = strings) -> float:
        told = {**LABEL, "input": {**LABEL["input"], "inputs": inputs}, "cable": {"length": 20, "area": 4}}
        run = electrics_report(study_of(told, array=twelve, wiring=wiring)).run
        assert run is not None
        return run.own.lost

    assert lost(2) == pytest.approx(5 / 3 * lost(3)) and lost(1) == pytest.approx(9 / 3 * lost(3))
    own = {"kind": "own"}
    assert lost(1, own) == lost(2, own) == lost(4, own)
