"""The rules of the controller one by one, each at its edge, in plain Python."""

from __future__ import annotations

from typing import Any

import pytest

from sundial.bench import drive
from sundial.bench.drive import (
    AT,
    BAND,
    BY_HAND,
    CLOCK,
    DARK,
    DAY,
    DULL,
    FLAT,
    FOLLOW,
    GLOOM,
    HYBRID,
    LASH,
    LAST,
    LEVEL,
    LIMIT,
    MANUAL,
    MOVES,
    MOVING,
    NIGHT,
    NIGHT_AFTER,
    RAN,
    REVERSALS,
    SENSOR,
    SLIP,
    STAY,
    STOW,
    SUNNY,
    TARGET,
    TIMED_OUT,
    TIMEOUTS,
    UNSEEN,
    WAITS,
    Knobs,
    Minute,
)  # fmt: skip

SPEEDS = [6.0, 6.0, 6.0]  # degrees a minute at -90, 0 and 90
KNOBS = Knobs(
    control=SENSOR, sin_cell=0.5, cos_cell=0.8660254037844386, reach=120.0, threshold=0.06, relative=True, skew=0.0, keep=1.0, noise=0.0, sunny=180.0,
    night=15.0, hysteresis=1.3, cycle=5, pulse=1 / 60, dull=STAY, dull_after=10.0, night_to=FLAT, timeout=60.0, window=20.0, backlash=2.0,
    counted=False, slip=0.2, low=-60.0, high=60.0, flat=0.0, shelter=0.0, home=-50.0, speed_from=-90.0, speed_every=90.0, shadow_from=0, shadow_to=0,
)  # fmt: skip
NOON = Minute(t=700, tick=True, sun=20.0, beam=800.0, diffuse=100.0, scale=1.0, clock=18.0, stow=False, noise=0.0, slips=0.0)


def state(**told: float) -> list[float]:
    found = [0.0] * drive.SIZE
    for name, value in told.items():
        found[getattr(drive, name)] = value
    return found


def decided(minute: dict[str, Any] | None = None, told: dict[str, Any] | None = None, **known: float) -> tuple[int, float, bool]:
    return drive.decide(KNOBS._replace(**(told or {})), NOON._replace(**(minute or {})), SPEEDS, state(**known))


def test_the_light_of_both_cells_by_hand():
    """Cells that lean 30 degrees, the sun 20 degrees beside: 800 x cos 20 x cos 30 + 100 x (1 + cos 30) / 2 = 651.0 + 93.3 W/m2."""
    held = state(LEVEL=144.33, SLIP=1.0, AT=-1.0)
    error, beside, both = drive.look(KNOBS._replace(keep=0.25), NOON._replace(scale=2.0, sun=40.0), held)
    assert (error, beside) == (40.0, 20.0) and both == pytest.approx(744.33, abs=0.01)
    assert held[LEVEL] == pytest.approx(144.33 + (744.33 - 144.33) / 4, abs=0.01)
    assert drive.look(KNOBS, NOON._replace(sun=-170.0), state(AT=150.0))[0] == 40.0, "the short way round"


@pytest.mark.parametrize(
    ("diffuse", "was", "day", "sunny"),
    [
        (15.0 / 0.933, (1.0, 0.0), 1.0, 0.0),  # a day goes on down to 15 W/m2
        (14.9 / 0.933, (1.0, 0.0), 0.0, 0.0),
        (19.4 / 0.933, (0.0, 0.0), 0.0, 0.0),  # and begins at 15 x 1.3
        (19.6 / 0.933, (0.0, 0.0), 1.0, 0.0),
        (181 / 0.933, (1.0, 1.0), 1.0, 1.0),  # sunny down to 180
        (179 / 0.933, (1.0, 1.0), 1.0, 0.0),
        (233 / 0.933, (1.0, 0.0), 1.0, 0.0),  # and again from 234
        (235 / 0.933, (1.0, 0.0), 1.0, 1.0),
    ],
)
def test_day_and_sun_are_left_again_at_a_higher_level(diffuse, was, day, sunny):
    held = state(DAY=was[0], SUNNY=was[1], DARK=3.0, GLOOM=4.0)
    drive.look(KNOBS, NOON._replace(beam=0.0, diffuse=diffuse), held)
    assert (held[DAY], held[SUNNY]) == (day, sunny)
    assert held[DARK] == (0.0 if day else 4.0) and held[GLOOM] == (5.0 if day and not sunny else 0.0)


def test_by_hand_and_in_the_wind_the_sun_is_not_asked():
    assert decided(told={"control": MANUAL, "home": 12.0}) == (BY_HAND, 12.0, False)
    assert decided({"stow": True}, AT=33.0) == (STOW, 0.0, False)
    assert decided({"stow": True}, {"control": MANUAL, "home": 12.0}) == (BY_HAND, 12.0, False), "nobody stows what stays by hand"


def test_it_goes_to_its_night_place_after_some_minutes_of_darkness():
    night = {"beam": 0.0, "diffuse": 0.0}
    assert decided(night, DARK=NIGHT_AFTER - 1.0, AT=30.0) == (NIGHT, 30.0, False)
    assert decided(night, DARK=float(NIGHT_AFTER), AT=30.0) == (NIGHT, -50.0, False)
    assert decided(night, {"night_to": STAY}, DARK=99.0, AT=30.0) == (NIGHT, 30.0, False)


def test_a_clock_moves_at_its_ticks():
    assert decided({"tick": True}, {"control": CLOCK}, AT=5.0) == (BAND, 18.0, False)
    assert decided({"tick": False}, {"control": CLOCK}, AT=5.0) == (BAND, 5.0, False)


def test_what_it_does_when_it_is_dull():
    dull = {"beam": 0.0, "diffuse": 100.0}
    assert decided(dull, {"dull": FLAT}, GLOOM=9.0, AT=25.0) == (DULL, 25.0, False)
    assert decided(dull, {"dull": FLAT}, GLOOM=10.0, AT=25.0) == (DULL, 0.0, False)
    assert decided(dull, {"dull": FOLLOW}, GLOOM=10.0, AT=25.0) == (DULL, 18.0, False)
    assert decided(dull | {"tick": False}, {"dull": FOLLOW}, GLOOM=10.0, AT=25.0) == (DULL, 25.0, False)
    assert decided(dull, GLOOM=10.0, AT=25.0) == (DULL, 25.0, False)
    away = {"sun": 100.0, "diffuse": 30.0}  # the cells look 110 degrees away
    assert decided({**away, "beam": 121.0}, AT=-10.0)[0] == UNSEEN
    assert decided({**away, "beam": 120.0}, AT=-10.0)[0] == DULL


def test_the_sun_behind_the_cells_is_not_seen():
    behind = {"diffuse": 400.0, "sun": 70.0}
    assert decided(behind, AT=-50.0)[0] == UNSEEN  # 120 degrees beside
    assert decided(behind, AT=-49.9)[0] != UNSEEN
    assert decided(behind, {"control": HYBRID}, AT=-50.0) == (UNSEEN, 18.0, False), "the clock knows"


def test_cells_run_in_pulses_until_they_nearly_agree():
    """Both see 744.33 W/m2; 0.06 of it over 800 x sin 30 is a sine of 0.11165: a band of 6.41 degrees; half of it is left, in steps of 0.1."""
    assert decided({"sun": 6.4}, AT=0.0)[:2] == (BAND, 0.0)
    reason, target, pushed = decided()
    assert (reason, pushed) == (BAND, False) and target == pytest.approx(16.8)  # 20 - 3.205, up to a tenth
    assert decided({"tick": False})[:2] == (WAITS, 0.0)
    assert decided({"sun": -20.0})[1] == pytest.approx(-16.8)
    assert decided({"clock": -4.0}, {"control": HYBRID})[1] == -4.0, "16.8 lies 20.8 from the clock"
    assert decided({"clock": -3.0}, {"control": HYBRID})[1] == pytest.approx(16.8), "and here 19.8"


def test_an_end_stop_is_the_reason_where_the_sun_stands_past_it():
    assert decided({"sun": 64.0}, AT=59.6)[0] == LIMIT
    assert decided({"sun": 64.0}, AT=59.4)[0] == BAND
    assert decided({"sun": -64.0}, AT=-59.6)[0] == LIMIT
    assert decided({"sun": 90.0}, AT=59.0)[2] is True, "it would run past the stop"


def test_a_move_to_the_other_side_takes_up_the_backlash():
    held = state(LAST=-1.0, AT=3.0)
    drive.begin(KNOBS._replace(counted=True), NOON._replace(slips=-0.5), held, 9.0)
    assert (held[LASH], held[REVERSALS], held[LAST], held[TARGET], held[MOVING]) == (2.0, 1.0, 1.0, 9.0, 1.0)
    assert held[SLIP] == pytest.approx(-0.1)
    drive.begin(KNOBS, NOON, held, 12.0)
    assert held[REVERSALS] == 1.0, "the same way: none"


def test_a_minute_of_a_move():
    held = state(AT=3.0, TARGET=20.0, LASH=2.0, MOVING=1.0)
    assert drive.turn(KNOBS, SPEEDS, held, BAND) == (MOVES, 1.0)
    assert (held[AT], held[LASH], held[RAN]) == (7.0, 0.0, 1.0)  # 6 degrees a minute, 2 of them lost
    assert drive.turn(KNOBS, SPEEDS, held, STOW) == (STOW, 1.0) and held[AT] == 13.0
    held[TARGET] = 16.0
    assert drive.turn(KNOBS, SPEEDS, held, BAND) == (MOVES, 0.5) and held[MOVING] == 0.0


def test_end_switches_and_the_level_switch_tell_where_it_is():
    for target, known in ((60.0, 0.0), (-60.0, 0.0), (0.0, 0.0), (59.0, 0.7)):
        held = state(AT=target - 1.0, TARGET=target, MOVING=1.0, SLIP=0.7)
        drive.turn(KNOBS, SPEEDS, held, BAND)
        assert held[SLIP] == known, target


def test_a_move_ends_at_the_time_out():
    held = state(AT=-60.0, TARGET=60.0, MOVING=1.0, RAN=58.0)
    assert drive.turn(KNOBS, SPEEDS, held, BAND)[0] == MOVES and held[MOVING] == 1.0
    assert drive.turn(KNOBS, SPEEDS, held, BAND)[0] == TIMED_OUT
    assert (held[MOVING], held[TIMEOUTS]) == (0.0, 1.0)


def test_speed_is_straight_between_the_angles_at_which_it_is_known():
    told = [2.0, 6.0, 4.0]
    assert drive.speed_at(-45.0, KNOBS, told) == 4.0 and drive.speed_at(22.5, KNOBS, told) == 5.5
    assert drive.speed_at(-120.0, KNOBS, told) == 2.0 and drive.speed_at(120.0, KNOBS, told) == 4.0
