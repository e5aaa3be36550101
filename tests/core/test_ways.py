"""Every way of holding the panels, priced: the rows behind the verdict."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest

from sundial.answers.worth.report import worth_report
from sundial.brief.model import OptionBrief, WorthBrief
from sundial.days import HOURS
from sundial.money.finance import outcome
from sundial.mounts.stepped import SteppedMount
from sundial.worth.comparison import SamePanels, compare, rows_of
from sundial.worth.swings import swings
from sundial.worth.verdict import verdict
from sundial.worth.ways import WayEnergy, Ways, WayYears
from tests.core.test_verdict import TERMS, present_value, study


def hours(ways: Ways, panels: np.ndarray | None = None) -> WayYears:
    """Each way gives the same in every hour; the flat array nine tenths of the base."""
    energies = [ways.base.energy, *(one.energy for one in ways.standard), *(one.energy for _, one in ways.added)]
    flat = np.ones(HOURS) / HOURS * 1000
    both = np.stack([flat * ways.base.energy, flat * ways.base.energy * 0.9])
    return WayYears(ways, np.stack([flat * energy for energy in energies]), both if panels is None else panels)


MADE = Ways(
    WayEnergy("yours", "Your angle now", 3000.0, 1500.0, tilt=30.0),
    (
        WayEnergy("flat", "Flat", 2700.0, 1350.0, tilt=0.0),
        WayEnergy("yours", "Your angle now", 3000.0, 1500.0, tilt=30.0),
        WayEnergy("two-moves", "Two settings a year", 3120.0, 1560.0, moves=2),
        WayEnergy("two-axis", "Two axes", 3900.0, 1990.0, drive_consumption=12.0),
    ),
    ((2, WayEnergy("stepped", "A-frame", 3090.0, 1545.0, moves=4)), (3, WayEnergy("fixed", "Wall", 2000.0, 990.0, tilt=70.0))),
)


def near(money: Any) -> Any:
    """An outcome to a millionth of each figure: the hours are summed up in another order than a year at once."""
    return {name: value if isinstance(value, str) else pytest.approx(value) for name, value in vars(money).items()}


OPTIONS = [
    OptionBrief(row="two-axis", extra_cost=2100.0, upkeep=40.0, name="Big pole"),
    OptionBrief(row="one-axis", off=True),
    OptionBrief(name="A-frame", mount=SteppedMount(kind="stepped", tilts=[20.0, 50.0]), extra_cost=120.0, minutes_per_move=5.0),
    OptionBrief(name="Wall", mount=SteppedMount(kind="stepped", tilts=[20.0, 50.0])),
]


def test_every_way_is_priced_against_the_base():
    one = study(options=OPTIONS)
    found = compare(one, hours(MADE))
    assert (found.base.extra_kwh, found.base.extra_cost, found.base.gain) == (0.0, 0.0, 0.0)
    assert found.off == ("one-axis",)
    assert [row.key for row in found.rows] == [
        "flat",
        "yours",
        "two-moves",
        "two-axis",
        "added-2",
        "added-3",
        "more-panels",
        "more-flat",
    ]
    flat, yours, hand, pole, frame, wall, more, level = found.rows
    assert [row.extra_kwh for row in found.rows] == pytest.approx([-300, 0, 120, 900, 90, -1000, 1125, 1050])
    assert [row.gain for row in found.rows] == pytest.approx([-0.1, 0, 0.04, 0.3, 0.03, -1 / 3, 0.375, 0.35])
    assert [row.extra_cost for row in found.rows] == [0.0, 0.0, 0.0, 2100.0, 120.0, None, 495.0, 660.0]
    assert [row.minutes for row in found.rows] == [0, 0, 60, 0, 20, 0, 0, 0]
    assert [row.upkeep for row in found.rows] == [0, 0, 0, 40, 0, 0, 0, 0]
    assert [row.name for row in found.rows] == [
        "Flat", "Your angle now", "Two settings a year", "Big pole", "A-frame", "Wall",
        "No moving parts: 3 more panels at the base tilt", "Flat, with 4 more panels",
    ]  # fmt: skip
    assert (pole.drive_consumption, pole.irradiation, pole.energy, pole.tilt) == (12.0, 1990.0, 3900.0, None)
    assert (flat.tilt, yours.tilt, wall.tilt, more.tilt) == (0.0, 30.0, 70.0, 30.0) and level.tilt == 0.0
    assert hand.kwh_per_hour == 120.0 and frame.kwh_per_hour == 270.0 and pole.kwh_per_hour is None
    # An hour costs 20: an hour by hand, a third of one at the A-frame; the pole has its upkeep.
    assert vars(hand.money) == near(outcome(120.0, 0.0, 20.0, TERMS))
    assert vars(frame.money) == near(outcome(90.0, 120.0, 20 / 60 * 20.0, TERMS))
    assert vars(pole.money) == near(outcome(900.0, 2100.0, 40.0, TERMS))
    assert wall.money.npv is None
    assert vars(more.money) == near(outcome(1125.0, 495.0, 0.0, TERMS))
    assert (more.moves, more.drive_consumption) == (0, 0.0)
    assert more.energy == pytest.approx(4125.0) and more.irradiation == 1500.0 and more.panels_only and not pole.panels_only
    assert pole.same_as_panels == SamePanels(2.4, 3, 495.0, pytest.approx(5.85))
    assert more.same_as_panels == SamePanels(3.0, 3, 495.0, pytest.approx(5.85))
    assert flat.same_as_panels is None and wall.same_as_panels is None
    free = compare(study(options=OPTIONS, count_hours=False), hours(MADE))
    assert vars(free.row("two-moves").money) == near(outcome(120.0, 0.0, 0.0, TERMS))
    assert found.row("nothing") is None


def test_moves_cost_nothing_extra_only_on_a_frame_that_has_holes():
    from sundial.mounts.fixed import FixedMount

    fixed = compare(study(mount=FixedMount(kind="fixed", tilt=30.0)), hours(replace(MADE, added=())))
    assert fixed.row("two-moves").extra_cost is None
    assert fixed.row("flat").extra_cost == 0.0
    assert fixed.row("two-axis").extra_cost is None, "an option for it has no price yet"
    asked = compare(
        study(options=[OptionBrief(row="two-moves", extra_cost=33.0), OptionBrief(row="more-panels", off=True)]),
        hours(replace(MADE, added=())),
    )
    assert asked.row("two-moves").extra_cost == 33.0
    assert asked.row("more-panels") is None and asked.off == ("more-panels",)


def test_nothing_to_give_needs_no_panels():
    less = hours(replace(MADE, standard=MADE.standard[:2], added=()))
    assert compare(study(), less).row("more-panels") is None
    one = compare(study(), hours(replace(MADE, standard=MADE.standard[:3], added=())))
    assert one.row("more-panels").name == "No moving parts: 1 more panel at the base tilt"
    dark = hours(replace(MADE, base=replace(MADE.base, energy=0.0), added=()))
    assert all(row.gain == 0.0 for row in compare(study(), dark).rows)
    unpriced = compare(study(worth=WorthBrief()), hours(replace(MADE, added=())))
    assert unpriced.row("more-panels").extra_cost is None and unpriced.row("more-panels").money.npv is None


def test_panels_behind_a_limited_inverter():
    """8 panels give 400 W in half of the hours and 900 W in the others, behind an inverter of 1000 W: one more panel lifts the first by 50
    and the second by 100, and a second one by 50 and nothing."""
    power = np.tile([400.0, 900.0], HOURS // 2)
    base = float(power.sum()) / 1000
    ways = replace(
        MADE, base=replace(MADE.base, energy=base), standard=(replace(MADE.standard[3], energy=base + 900.0),), added=()
    )
    gains = [0.0, (50 + 100) * 4.38, (100 + 100) * 4.38, (150 + 100) * 4.38, (200 + 100) * 4.38, (250 + 100) * 4.38]
    years = WayYears(
        replace(ways, with_panels=tuple(base + gain for gain in gains)),
        np.stack([power, power + 900e3 / HOURS]),
        np.stack([power, power]),
    )
    found = compare(study(limit=1000.0), years)
    pole, more = found.row("two-axis"), found.row("more-panels")
    assert pole.same_as_panels.count == 3 and pole.same_as_panels.exact == pytest.approx(
        2 + (900 - gains[2]) / (gains[3] - gains[2])
    )
    assert more.same_as_panels.count == 3 and more.extra_kwh == pytest.approx(gains[3])
    assert more.sums.made == pytest.approx(base + gains[3])
    more_wanted = replace(ways, with_panels=(base, base + gains[1]))
    assert compare(study(limit=1000.0), replace(years, ways=more_wanted)).row("two-axis").same_as_panels is None


@pytest.mark.parametrize(("room", "count"), [(None, 3), (5, 5), (2, 2), (0, None)])
def test_panels_go_on_while_one_more_still_pays_and_there_is_room(room, count):
    """Three give what two axes give; where there is room, each more pays as well as those before it."""
    found = compare(study(room=room), hours(replace(MADE, added=())))
    assert found.room == room
    more = found.row("more-panels")
    assert (more and more.same_as_panels.count) == count
    if count:
        assert more.extra_kwh == pytest.approx(375.0 * count)
    assert found.row("two-axis").same_as_panels.count == 3, "what it would take does not follow from the room"


def test_the_report_holds_comparison_verdict_and_swings():
    one = study(options=OPTIONS)
    report = worth_report(one, "€", hours(MADE))
    assert report.comparison == compare(one, hours(MADE))
    assert report.verdict == verdict(one, report.comparison, "€", rows_of(one, hours(MADE)))
    assert list(report.swings) == swings(one, report.verdict.focus) != []
    assert report.price == TERMS.price
    assert report.kwh_over_life == pytest.approx(present_value(1.0, 0.0, yearly=0.0))
    assert report.row("two-axis") is report.comparison.rows[3]
    nothing = worth_report(one, "€", hours(replace(MADE, standard=(), added=())))
    assert nothing.swings == () and nothing.verdict.focus is None
