"""The controller itself: plain functions, one minute after the other; ``compiled`` has them as machine code, for a year.

Each minute, for each axis:

    light of both cells -> day or night, sunny or dull (each left again at a level a little higher)
    a move that runs is not looked into again; it ends at its target, at an end stop, or at the time-out; only the wind breaks in
    a gust over the stow level, until the release time has passed   -> STOW: go to its wind position
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
    shelter: float
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


class Day(NamedTuple):
    """What one axis meets through the 1440 minutes of a day, (1440,) each: the angle that looks at the sun, beam in its plane and diffuse light,
    W/m2, degrees of the axis for one between sun and glass, the table's angle, whether the wind lays it flat, and the scatter of cells and of
    counted moves."""

    sun: Any
    beam: Any
    diffuse: Any
    scale: Any
    clock: Any
    stow: Any
    noise: Any
    slips: Any


class Minute(NamedTuple):
    """The same of one minute, ``t`` of the day; ``tick``: the controller looks."""

    t: int
    tick: bool
    sun: float
    beam: float
    diffuse: float
    scale: float
    clock: float
    stow: bool
    noise: float
    slips: float


class Track(NamedTuple):
    """What it did, (1440,) each, written minute by minute: its angle, why it stands or moves, the share of the minute that the motor ran, and
    whether a move began."""

    angle: Any
    why: Any
    running: Any
    started: Any


def look(k: Knobs, m: Minute, state: Any) -> tuple[float, float, float]:
    """What both cells see at the angle at which the mount really stands: degrees of the axis to the sun, degrees of the glass beside it, and
    the mean of the two cells, W/m2. The state learns whether it is day, sunny, dark or dull."""
    error = m.sun - state[AT] - state[SLIP]
    error -= 360.0 * round(error / 360.0)
    beside = error / m.scale
    square = cos(radians(beside)) if abs(beside) < 90.0 else 0.0
    both = m.beam * square * k.cos_cell + m.diffuse * (1.0 + k.cos_cell) / 2.0
    state[LEVEL] += (both - state[LEVEL]) * k.keep
    light = state[LEVEL] > (k.night if state[DAY] > 0 else k.night * k.hysteresis)
    sunny = state[LEVEL] > (k.sunny if state[SUNNY] > 0 else k.sunny * k.hysteresis)
    state[DAY], state[SUNNY] = 1.0 if light else 0.0, 1.0 if sunny else 0.0
    state[DARK] = 0.0 if light else state[DARK] + 1.0
    state[GLOOM] = state[GLOOM] + 1.0 if light and not sunny else 0.0
    return error, beside, both


def in_the_dull(k: Knobs, m: Minute, state: Any, beside: float) -> tuple[int, float]:
    """Why and where to while it is light and not sunny."""
    reason = UNSEEN if abs(beside) > 90.0 and m.beam > BRIGHT else DULL  # bright, and the cells look away
    target = state[AT]
    if state[GLOOM] > k.dull_after:
        if k.dull == FLAT:
            target = k.flat
        elif k.dull == FOLLOW and m.tick:
            target = m.clock
    return reason, target


def by_the_cells(k: Knobs, m: Minute, speeds: Any, state: Any, error: float, both: float) -> tuple[int, float, bool]:
    """Why and where to in the sun, and whether that is past an end stop: in pulses until the cells nearly agree."""
    reason, target, pushed = BAND, state[AT], False
    lever = max(m.beam * k.sin_cell, 1e-6)  # W/m2 by which a cell differs from the mean for a radian
    sine = (k.threshold * both if k.relative else k.threshold / 2.0) / lever
    half = degrees(asin(sine)) * m.scale if sine < 1.0 else NEVER
    skewed = 90.0 if k.shadow_from <= m.t < k.shadow_to else degrees(asin(min(max(k.skew * both / lever, -1.0), 1.0)))
    wrong = error + m.scale * (skewed + k.noise / (2.0 * lever) * m.noise)
    if abs(wrong) > half:
        if not m.tick:
            reason = WAITS
        else:
            pulse = speed_at(state[AT], k, speeds) * k.pulse
            run = ceil((abs(wrong) - half / 2.0) / pulse) * pulse
            target = state[AT] + (run if wrong > 0 else -run)
            if k.control == HYBRID and abs(target - m.clock) > k.window:
                target = m.clock
            pushed = target > k.high or target < k.low
    sun, at = m.sun, state[AT]
    if (sun > k.high and at >= k.high - 0.5) or (sun < k.low and at <= k.low + 0.5):
        reason = LIMIT
    return reason, target, pushed


def decide(k: Knobs, m: Minute, speeds: Any, state: Any) -> tuple[int, float, bool]:
    """Why it stands or moves in this minute, where to, and whether that is past an end stop."""
    error, beside, both = look(k, m, state)
    if k.control == MANUAL:
        return BY_HAND, k.home, False
    if m.stow:
        return STOW, k.shelter, False
    if state[DAY] == 0.0:
        return NIGHT, k.home if state[DARK] > NIGHT_AFTER and k.night_to != STAY else state[AT], False
    if k.control == CLOCK:
        return BAND, m.clock if m.tick else state[AT], False
    if state[SUNNY] == 0.0:
        reason, target = in_the_dull(k, m, state, beside)
        return reason, target, False
    if abs(beside) >= k.reach:  # the sun stands behind the cells
        return UNSEEN, m.clock if k.control == HYBRID and m.tick else state[AT], False
    return by_the_cells(k, m, speeds, state, error, both)


def begin(k: Knobs, m: Minute, state: Any, target: float) -> None:
    """A move begins; one to the other side than the last has the backlash to take up."""
    way = 1.0 if target > state[AT] else -1.0
    if state[LAST] != 0.0 and way != state[LAST]:
        state[REVERSALS] += 1.0
        state[LASH] = k.backlash
    state[TARGET], state[LAST], state[RAN], state[MOVING] = target, way, 0.0, 1.0
    if k.counted:
        state[SLIP] += k.slip * m.slips


def turn(k: Knobs, speeds: Any, state: Any, reason: int) -> tuple[int, float]:
    """A minute of a move that runs: why, and the share of the minute that the motor ran."""
    room = speed_at(state[AT], k, speeds)
    lost = min(state[LASH], room)
    state[LASH] -= lost
    left = state[TARGET] - state[AT]
    step = min(max(left, lost - room), room - lost)
    state[AT] += step
    state[RAN] += 1.0
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
    return reason, (abs(step) + lost) / room


def drive_day(k: Knobs, speeds: Any, day: Day, state: Any, track: Track) -> None:
    """One axis through the 1440 minutes of one day; ``state`` (SIZE,) goes on to the next day."""
    for t in range(len(day.sun)):
        m = Minute(
            t,
            t % k.cycle == 0,
            day.sun[t],
            day.beam[t],
            day.diffuse[t],
            day.scale[t],
            day.clock[t],
            day.stow[t],
            day.noise[t],
            day.slips[t],
        )
        reason, wanted, pushed = decide(k, m, speeds, state)
        target = min(max(wanted, k.low), k.high)
        free = state[MOVING] == 0.0
        if pushed and free:
            state[HITS] += 1.0
            reason = LIMIT
        breaks_in = reason == STOW and state[TARGET] != k.shelter
        begins = (free or breaks_in) and abs(target - state[AT]) > 1e-6
        track.started[t] = begins
        if begins:
            begin(k, m, state, target)
        track.running[t] = 0.0
        if state[MOVING] > 0.0:
            reason, track.running[t] = turn(k, speeds, state, reason)
        track.why[t] = reason
        track.angle[t] = state[AT] + state[SLIP]


def drive(k: Knobs, speeds: Any, days: Day, state: Any, track: Track) -> None:
    """The same through days (d, 1440), one after the other."""
    for d in range(len(days.sun)):
        day = Day(
            days.sun[d], days.beam[d], days.diffuse[d], days.scale[d], days.clock[d], days.stow[d], days.noise[d], days.slips[d]
        )
        drive_day(k, speeds, day, state, Track(track.angle[d], track.why[d], track.running[d], track.started[d]))


def noise_of(noise: float, averaging: float) -> float:
    """Degrees times W/m2: the scatter of the difference of two cells after averaging."""
    return degrees(noise * sqrt(2.0) / sqrt(averaging))
