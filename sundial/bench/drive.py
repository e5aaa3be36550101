"""The controller itself: plain functions, one minute after the other; ``compiled`` has them as machine code, for a year.

Each minute, for each axis:

    light of both cells -> day or night, sunny or dull (each left again at a level a little higher)
    a move that runs is not looked into again; it ends at its target, at an end stop, or at the time-out; only the wind breaks in
    a gust over the stow level, until the release time has passed   -> STOW: lie flat
    darkness for some minutes                                       -> NIGHT: to the east end, flat, or stay
    by hand                                                         -> BY_HAND: stay
    by clock, at a tick of the cycle, a step away                   -> go to the table's angle
    dull for some minutes                                           -> DULL: stay, lie flat, or follow the clock
    sunny, at a tick of the cycle, the cells differ                 -> run in pulses until they nearly agree

It is written with scalars so that it reads as the controller of a small board would.
"""

from __future__ import annotations

from math import asin, ceil, cos, degrees, radians, sqrt
from typing import Any, NamedTuple

NIGHT, BAND, WAITS, MOVES, DULL, LIMIT, STOW, UNSEEN, TIMED_OUT, BY_HAND = range(10)
SENSOR, CLOCK, HYBRID, MANUAL = range(4)
STAY, FLAT, FOLLOW, EAST = range(4)
NIGHT_AFTER = 10  # minutes of darkness before it goes to its night place
NEVER = 1e9
BRIGHT = 120.0  # W/m2 of beam from which the sun is said to shine
# Places in the state that is handed from minute to minute and from day to day.
AT, TARGET, SLIP, LEVEL, DARK, GLOOM, RAN, LASH, LAST, MOVING, DAY, SUNNY, REVERSALS, HITS, TIMEOUTS, SIZE = range(16)


class Knobs(NamedTuple):
    """Settings and axis as numbers: what :class:`~sundial.bench.settings.Settings` and :class:`~sundial.bench.axes.Axis` say."""

    control: int
    sin_cell: float
    cos_cell: float
    reach: float
    threshold: float
    relative: bool
    skew: float
    keep: float
    noise: float
    sunny: float
    night: float
    hysteresis: float
    cycle: int
    pulse: float
    dull: int
    dull_after: float
    night_to: int
    timeout: float
    window: float
    backlash: float
    counted: bool
    slip: float
    low: float
    high: float
    flat: float
    home: float
    speed_from: float
    speed_every: float
    shadow_from: int
    shadow_to: int


def speed_at(at: float, k: Knobs, speeds: Any) -> float:
    """Degrees a minute at an angle: straight between the angles at which it is known."""
    place = (at - k.speed_from) / k.speed_every
    last = len(speeds) - 1
    first = min(max(int(place), 0), last - 1)
    share = min(max(place - first, 0.0), 1.0)
    found: float = speeds[first] + share * (speeds[first + 1] - speeds[first])
    return found


def drive_day(
    k: Knobs,
    speeds: Any,
    sun: Any,
    beam: Any,
    diffuse: Any,
    scale: Any,
    clock: Any,
    stow: Any,
    noise: Any,
    slips: Any,
    state: Any,
    angle: Any,
    why: Any,
    running: Any,
    started: Any,
) -> None:
    """One axis through the 1440 minutes of one day. ``sun`` to ``slips`` (1440,) are read, ``angle`` to ``started`` (1440,) written; ``state``
    (SIZE,) goes on to the next day."""
    for t in range(len(sun)):
        # What both cells see, at the angle at which the mount really stands.
        error = sun[t] - state[AT] - state[SLIP]
        error -= 360.0 * round(error / 360.0)
        beside = error / scale[t]
        square = cos(radians(beside)) if abs(beside) < 90.0 else 0.0
        both = beam[t] * square * k.cos_cell + diffuse[t] * (1.0 + k.cos_cell) / 2.0  # mean of the two, W/m2
        state[LEVEL] += (both - state[LEVEL]) * k.keep
        day = state[LEVEL] > (k.night if state[DAY] > 0 else k.night * k.hysteresis)
        sunny = state[LEVEL] > (k.sunny if state[SUNNY] > 0 else k.sunny * k.hysteresis)
        state[DAY], state[SUNNY] = 1.0 if day else 0.0, 1.0 if sunny else 0.0
        state[DARK] = 0.0 if day else state[DARK] + 1.0
        state[GLOOM] = state[GLOOM] + 1.0 if day and not sunny else 0.0
        tick = t % k.cycle == 0
        free = state[MOVING] == 0.0
        reason, target, pushed = BAND, state[AT], False
        if k.control == MANUAL:
            reason = BY_HAND
            target = k.home
        elif stow[t]:
            reason, target = STOW, k.flat
        elif not day:
            reason = NIGHT
            if state[DARK] > NIGHT_AFTER and k.night_to != STAY:
                target = k.home
        elif k.control == CLOCK:
            if tick:
                target = clock[t]
        elif not sunny:
            reason = UNSEEN if abs(beside) > 90.0 and beam[t] > BRIGHT else DULL  # bright, and the cells look away
            if state[GLOOM] > k.dull_after:
                if k.dull == FLAT:
                    target = k.flat
                elif k.dull == FOLLOW and tick:
                    target = clock[t]
        elif abs(beside) >= k.reach:
            reason = UNSEEN  # the sun stands behind the cells
            if k.control == HYBRID and tick:
                target = clock[t]
        else:
            lever = max(beam[t] * k.sin_cell, 1e-6)  # W/m2 by which a cell differs from the mean for a radian
            sine = (k.threshold * both if k.relative else k.threshold / 2.0) / lever
            half = degrees(asin(sine)) * scale[t] if sine < 1.0 else NEVER
            skewed = 90.0 if k.shadow_from <= t < k.shadow_to else degrees(asin(min(max(k.skew * both / lever, -1.0), 1.0)))
            wrong = error + scale[t] * (skewed + k.noise / (2.0 * lever) * noise[t])
            if abs(wrong) > half:
                if not tick:
                    reason = WAITS
                else:
                    pulse = speed_at(state[AT], k, speeds) * k.pulse
                    run = ceil((abs(wrong) - half / 2.0) / pulse) * pulse
                    target = state[AT] + (run if wrong > 0 else -run)
                    if k.control == HYBRID and abs(target - clock[t]) > k.window:
                        target = clock[t]
                    pushed = target > k.high or target < k.low
            if (sun[t] > k.high and state[AT] >= k.high - 0.5) or (sun[t] < k.low and state[AT] <= k.low + 0.5):
                reason = LIMIT
        target = min(max(target, k.low), k.high)
        if pushed and free:
            state[HITS] += 1.0
            reason = LIMIT
        breaks_in = reason == STOW and state[TARGET] != k.flat
        begins = (free or breaks_in) and abs(target - state[AT]) > 1e-6
        started[t] = begins
        if begins:
            way = 1.0 if target > state[AT] else -1.0
            if state[LAST] != 0.0 and way != state[LAST]:
                state[REVERSALS] += 1.0
                state[LASH] = k.backlash
            state[TARGET], state[LAST], state[RAN], state[MOVING] = target, way, 0.0, 1.0
            if k.counted:
                state[SLIP] += k.slip * slips[t]
        running[t] = 0.0
        if state[MOVING] > 0.0:
            room = speed_at(state[AT], k, speeds)
            lost = min(state[LASH], room)
            state[LASH] -= lost
            left = state[TARGET] - state[AT]
            step = min(max(left, lost - room), room - lost)
            state[AT] += step
            state[RAN] += 1.0
            running[t] = (abs(step) + lost) / room
            if reason != STOW and reason != NIGHT:
                reason = MOVES
            if abs(state[TARGET] - state[AT]) < 1e-9:
                state[AT], state[MOVING] = state[TARGET], 0.0
                if state[AT] <= k.low or state[AT] >= k.high or state[AT] == k.flat:
                    state[SLIP] = 0.0  # an end switch or the level switch tells where it is
            elif state[RAN] >= k.timeout:
                state[MOVING] = 0.0
                state[TIMEOUTS] += 1.0
                reason = TIMED_OUT
        why[t] = reason
        angle[t] = state[AT] + state[SLIP]


def drive(
    k: Knobs,
    speeds: Any,
    sun: Any,
    beam: Any,
    diffuse: Any,
    scale: Any,
    clock: Any,
    stow: Any,
    noise: Any,
    slips: Any,
    state: Any,
    angle: Any,
    why: Any,
    running: Any,
    started: Any,
) -> None:
    """The same through days (d, 1440), one after the other."""
    for day in range(len(sun)):
        drive_day(
            k,
            speeds,
            sun[day],
            beam[day],
            diffuse[day],
            scale[day],
            clock[day],
            stow[day],
            noise[day],
            slips[day],
            state,
            angle[day],
            why[day],
            running[day],
            started[day],
        )


def noise_of(noise: float, averaging: float) -> float:
    """Degrees times W/m2: the scatter of the difference of two cells after averaging."""
    return degrees(noise * sqrt(2.0) / sqrt(averaging))
