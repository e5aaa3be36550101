"""Rules of thumb on an invented surface, their days counted one by one; and when one more move stops paying."""

from __future__ import annotations

from types import SimpleNamespace

import numpy as np
import pytest

from sundial.energy.production import TiltSurface
from sundial.plan.rivals import Effort, paying_settings, rivals

TILTS = np.arange(0.0, 91.0)
RNG = np.random.default_rng(7)
SURFACE = TiltSurface(TILTS, 180.0, RNG.uniform(0, 9, (365, len(TILTS))), RNG.uniform(0, 7, (365, len(TILTS))))
REACHABLE = np.array([3.0, 18.0, 33.0, 48.0, 60.0])
MARCH, JUNE, SEPTEMBER, DECEMBER = 79, 171, 265, 354  # 21 March, 21 June, 23 September, 21 December


def nearest(reachable: np.ndarray, wanted: float) -> float:
    return min(reachable.tolist(), key=lambda tilt: abs(tilt - wanted))


def twice(day: int, latitude: float) -> float:
    summer = MARCH <= day < SEPTEMBER
    return abs(latitude) - 15 if summer == (latitude >= 0) else abs(latitude) + 15


def four(day: int, latitude: float) -> float:
    def within(solstice: int) -> bool:
        return min(abs(day - solstice + turn) for turn in (-365, 0, 365)) <= 45

    summer, winter = (JUNE, DECEMBER) if latitude >= 0 else (DECEMBER, JUNE)
    return abs(latitude) + (15 if within(winter) else -15 if within(summer) else 0)


def by_hand(reachable, rule) -> tuple[tuple[float, ...], float, float]:
    """Tilts in the order of the year, kWh and kWh/m2, day by day."""
    tilts = [nearest(reachable, rule(day)) for day in range(365)]
    columns = [int(tilt) for tilt in tilts]
    energy = sum(SURFACE.energy[day, column] for day, column in enumerate(columns))
    irradiation = sum(SURFACE.irradiation[day, column] for day, column in enumerate(columns))
    return tuple(dict.fromkeys(tilts)), energy, irradiation


@pytest.mark.parametrize("reachable", [REACHABLE, TILTS], ids=["five holes", "every degree"])
@pytest.mark.parametrize("latitude", [41.0, -41.0, 33.6, 0.0, -0.4, 62.0])
def test_every_rule_of_thumb_day_by_day(latitude, reachable):
    found = {rival.name: rival for rival in rivals(SURFACE, reachable, latitude, None)}
    rules = {
        "Latitude −15° / +15°, at the equinoxes": lambda day: twice(day, latitude),
        "Four seasons: latitude, ±15°": lambda day: four(day, latitude),
        "Latitude all year": lambda day: abs(latitude),
    }
    if 25 <= abs(latitude) <= 50:
        rules["0.76 × latitude + 3.1° all year"] = lambda day: 0.76 * abs(latitude) + 3.1
    assert list(found) == list(rules)
    for name, rule in rules.items():
        tilts, energy, irradiation = by_hand(reachable, rule)
        assert found[name].tilts == tilts, name
        assert (found[name].energy, found[name].irradiation) == pytest.approx((energy, irradiation)), name


@pytest.mark.parametrize(("latitude", "told"), [(24.9, False), (25.0, True), (50.0, True), (50.1, False), (-25.0, True)])
def test_the_linear_rule_is_for_middle_latitudes(latitude, told):
    names = [rival.name for rival in rivals(SURFACE, TILTS, latitude, None)]
    assert ("0.76 × latitude + 3.1° all year" in names) is told
    assert len(names) == 3 + told


def test_the_linear_rule_at_42_degrees():
    rule = rivals(SURFACE, TILTS, 42.0, None)[-1]
    assert rule.tilts == (35.0,)  # 0.76 x 42 + 3.1 = 35.02
    assert rule.energy == pytest.approx(SURFACE.energy[:, 35].sum())


def test_their_own_tilt_stands_as_it_is_even_between_the_holes():
    now = rivals(SURFACE, REACHABLE, 41.0, 31.25)[-1]
    assert (now.name, now.tilts) == ("Yours now, all year", (31.25,))
    assert now.energy == pytest.approx((SURFACE.energy[:, 31] * 3 + SURFACE.energy[:, 32]).sum() / 4)
    assert rivals(SURFACE, REACHABLE, 41.0, 0.0)[-1].tilts == (0.0,)


def plan(energy: float, moves: int):
    return SimpleNamespace(energy=energy, moves=moves)


def test_an_effort_counts_all_hands():
    assert Effort(15.0, 3).minutes == 45.0
    assert (Effort().minutes, Effort().value_of_hour, Effort().value_of_kwh) == (12.0, 0.0, 0.0)


def test_moves_pay_as_long_as_each_brings_more_than_its_work():
    """At 0.20 a kWh and 10 an hour, two people for a quarter of an hour: a move costs 5, that is 25 kWh."""
    effort = Effort(15.0, 2, 10.0, 0.2)
    plans = [plan(3000, 0), plan(3060, 2), plan(3111, 4), plan(3134, 5)]
    assert [p.energy * 0.2 - p.moves * 5 for p in plans] == pytest.approx([600, 602, 602.2, 601.8])
    assert paying_settings(plans, effort) == 3
    assert paying_settings([None, *plans], effort) == 4, "a count that the caps do not allow keeps its place"
    assert paying_settings([plan(3000, 0), plan(3025, 1)], effort) == 1, "even is not worth the walk"
    assert paying_settings([plan(3000, 0), plan(3025.1, 1)], effort) == 2
    assert paying_settings(plans, Effort(15.0, 2, 0.0, 0.2)) == 4, "free hands: as long as the curve rises"
    assert paying_settings([plan(3000, 0), plan(3060, 2), plan(3060, 2)], Effort(15.0, 2, 0.0, 0.0)) == 2
    assert paying_settings([plan(-50, 0), plan(-40, 2)], Effort(15.0, 2, 0.0, 0.2)) == 2
