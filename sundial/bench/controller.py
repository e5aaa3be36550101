"""Settings through the minutes: each one the controller of :mod:`drive` on each axis of the mount."""

from __future__ import annotations

from dataclasses import dataclass
from enum import IntEnum
from math import cos, radians, sin
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from sundial.bench.axes import Axis, BenchMount
from sundial.bench.minutes import DAY, Minutes
from sundial.bench.settings import Settings

if TYPE_CHECKING:
    from sundial.bench.drive import Knobs

Floats = NDArray[np.float64]


class Why(IntEnum):
    """What a mount is about in a minute."""

    NIGHT = 0
    BAND = 1
    WAITS = 2
    MOVES = 3
    DULL = 4
    LIMIT = 5
    STOW = 6
    UNSEEN = 7
    TIMED_OUT = 8
    BY_HAND = 9


@dataclass(frozen=True, eq=False)
class Run:
    """One setting on one axis. Arrays (d, 1440): ``angle`` where the mount really stands, degrees; ``why`` (:class:`Why`); ``running`` share of the
    minute that the motor runs; ``started`` where a move begins. Sums: ``reversals``, ``hits`` of an end stop, ``timeouts``."""

    angle: NDArray[np.float32]
    why: NDArray[np.int8]
    running: NDArray[np.float32]
    started: NDArray[np.bool_]
    reversals: int
    hits: int
    timeouts: int


@dataclass(frozen=True, eq=False)
class Noise:
    """Standard normal noise of the cells, and of what each move is off, for each axis (axes, d, 1440): the same for every setting, so that settings
    differ by what they are set to alone."""

    cells: Floats
    slips: Floats


def noise_of_days(minutes: Minutes, axes: int, seed: int = 1) -> Noise:
    """Each day's own noise, whichever days are asked for."""
    drawn = np.stack(
        [np.random.default_rng([seed, 77, int(day)]).standard_normal((2, axes, DAY)) for day in minutes.days], axis=2
    )
    return Noise(np.ascontiguousarray(drawn[0]), np.ascontiguousarray(drawn[1]))


def run(mount: BenchMount, minutes: Minutes, settings: Settings, noise: Noise) -> tuple[Run, ...]:
    """One setting through these days: a run an axis."""
    stow = stowed(minutes.gust, settings)
    return tuple(
        _axis(axis, told, minutes, settings, stow, noise.cells[number], noise.slips[number])
        for number, (axis, told) in enumerate(zip(mount.axes, mount.told, strict=True))
    )


def clock_angles(told: Floats, axis: Axis, settings: Settings, days: NDArray[np.int64]) -> Floats:
    """What a clock's table says (d, 1440): the angle of the minute that its clock shows, in steps, within the stops."""
    ahead = settings.clock_error + settings.drift * days / 60.0  # minutes
    at = np.clip(np.arange(DAY) + np.round(ahead)[:, None], 0, DAY - 1).astype(np.int64)
    angle = np.take_along_axis(told, at, axis=1)
    return np.clip(np.round(angle / settings.step) * settings.step, axis.low, axis.high)


def stowed(gust: Floats, settings: Settings) -> NDArray[np.bool_]:
    """Minutes (d, 1440) in which the wind keeps it down: from a gust over the level until the release time has passed without."""
    if settings.stow_gust is None:
        return np.zeros(gust.shape, dtype=bool)
    place = np.arange(DAY)
    last = np.maximum.accumulate(np.where(gust >= settings.stow_gust, place, -(10**6)), axis=1)
    return np.asarray(place - last <= settings.stow_release)


def knobs(axis: Axis, settings: Settings) -> Knobs:
    """Settings and axis as the numbers that the loop reads."""
    from sundial.bench import drive

    cell = radians(settings.cell_angle)
    goes = {"stay": drive.STAY, "flat": drive.FLAT, "clock": drive.FOLLOW, "east": drive.EAST}
    home = axis.flat if settings.night_to == "flat" or axis.east is None else axis.east
    night, storm = (settings.places.night, settings.places.storm) if axis.places else (None, None)
    shelter = axis.flat if storm is None else min(max(storm, axis.low), axis.high)
    if night is not None:
        home = min(max(night, axis.low), axis.high)
    if settings.control == "manual":
        home = min(max(settings.manual_angle, axis.low), axis.high)
    shadow = [round(60 * hour) for hour in settings.shadow] or [0, 0]
    return drive.Knobs(
        control={"sensor": drive.SENSOR, "clock": drive.CLOCK, "hybrid": drive.HYBRID, "manual": drive.MANUAL}[settings.control],
        sin_cell=sin(cell), cos_cell=cos(cell), reach=90.0 + settings.cell_angle, threshold=settings.threshold,
        relative=settings.threshold_kind == "share", skew=(settings.gain - 1) / (settings.gain + 1), keep=1 / settings.averaging,
        noise=drive.noise_of(settings.noise, settings.averaging), sunny=settings.sunny, night=settings.night, hysteresis=settings.hysteresis,
        cycle=max(1, round(settings.cycle)), pulse=settings.pulse / 60, dull=goes["clock" if settings.control == "hybrid" else settings.dull],
        dull_after=settings.dull_after, night_to=goes[settings.night_to] if night is None else drive.FLAT, timeout=settings.timeout, window=settings.window,
        backlash=settings.backlash, counted=settings.position == "switches", slip=settings.slip, low=float(axis.low), high=float(axis.high),
        flat=float(axis.flat), shelter=float(shelter), home=float(home), speed_from=float(axis.grid[0]), speed_every=float(axis.grid[1] - axis.grid[0]),
        shadow_from=shadow[0], shadow_to=shadow[1],
    )  # fmt: skip


def first_state(axis: Axis, settings: Settings) -> Floats:
    """Before the first minute: at its night place, in the dark."""
    from sundial.bench import drive

    state = np.zeros(drive.SIZE)
    state[drive.AT] = state[drive.TARGET] = knobs(axis, settings).home
    state[drive.DARK] = drive.NIGHT_AFTER + 1
    return state


def _axis(
    axis: Axis, told: Floats, minutes: Minutes, settings: Settings, stow: NDArray[np.bool_], cells: Floats, slips: Floats
) -> Run:
    from sundial.bench import drive

    shape = (minutes.count, DAY)
    state, clock = first_state(axis, settings), clock_angles(told, axis, settings, minutes.days)
    read = drive.Day(axis.sun, minutes.dni * axis.share, minutes.dhi, axis.scale, clock, stow, cells, slips)
    if minutes.count == 1:  # plain Python takes some milliseconds; the compiler's own code is not even loaded
        made: list[Any] = [[0.0] * DAY, [0] * DAY, [0.0] * DAY, [False] * DAY]
        at: list[float] = state.tolist()
        day = drive.Day(*(row[0].tolist() for row in read))
        drive.drive_day(knobs(axis, settings), axis.speeds.tolist(), day, at, drive.Track(*made))
        state, (angle, why, running, started) = np.array(at), (np.array(row)[None] for row in made)
        angle, running, why = angle.astype(np.float32), running.astype(np.float32), why.astype(np.int8)
    else:
        from sundial.bench import compiled

        angle, running = np.zeros(shape, dtype=np.float32), np.zeros(shape, dtype=np.float32)
        why, started = np.zeros(shape, dtype=np.int8), np.zeros(shape, dtype=bool)
        compiled.drive(knobs(axis, settings), axis.speeds, read, state, drive.Track(angle, why, running, started))
    return Run(angle, why, running, started, int(state[drive.REVERSALS]), int(state[drive.HITS]), int(state[drive.TIMEOUTS]))
