"""What ./bench measures of the tracker bench: a knob on a day, a year by the minute, forty settings against a plain Python loop."""

from __future__ import annotations

import time
from functools import partial
from typing import Any

import numpy as np

from sundial.answers.bench.report import day_report, year_report
from sundial.bench import drive
from sundial.bench.axes import mount_of
from sundial.bench.controller import clock_angles, first_state, knobs, noise_of_days, run, stowed
from sundial.bench.minutes import DAY, minutes_of
from sundial.bench.results import bench_of, result_of
from sundial.bench.settings import Settings
from sundial.brief.read import brief_of
from sundial.study import Study, studied

Row = tuple[str, str, str, str]
COUNT = 40
PLAIN_DAYS = 12  # that the plain loop goes through; its time is taken for the year's days


def study() -> Study:
    """An invented rack on a roll axis."""
    return studied(
        brief_of(
            {
                "format": "crooked-sundial-brief", "version": 1, "name": "Rolled", "sky": {"kind": "world"},
                "site": {"latitude": 42.9, "longitude": -6.1, "elevation": 870, "timezone": "Europe/Madrid"},
                "panel": {"power": 430, "length": 1.722, "width": 1.134, "mass": 21.5, "gamma": -0.0034},
                "array": {"rows": 1, "columns": 4, "clearance": 0.6},
                "mount": {"kind": "one-axis", "limit": 60, "speed": 6, "moving_watts": 25, "standby_watts": 1},
            }
        )
    )  # fmt: skip


def plain(one: Any, minutes: Any, settings: Settings, days: range) -> tuple[float, list[list[float]]]:
    """Seconds that the same controller takes in plain Python over these days, and the angles that it goes through."""
    axis = one.axes[0]
    state = first_state(axis, settings).tolist()
    clock, stow = clock_angles(one.told[0], axis, settings, minutes.days), stowed(minutes.gust, settings)
    noise = noise_of_days(minutes, 1)
    rows = (axis.sun, minutes.dni * axis.share, minutes.dhi, axis.scale, clock, stow, noise.cells[0], noise.slips[0])
    told, speeds = knobs(axis, settings), axis.speeds.tolist()
    angles, took = [], 0.0
    for day in days:
        given = [row[day].tolist() for row in rows]
        out: list[list[Any]] = [[0.0] * DAY for _ in range(4)]
        start = time.perf_counter()
        drive.drive_day(told, speeds, drive.Day(*given), state, drive.Track(*out))
        took += time.perf_counter() - start
        angles.append(out[0])
    return took, angles


def tracker_rows() -> list[Row]:
    """Rows of the table."""
    one, settings = study(), Settings()
    minutes = minutes_of(one.scene)
    mount = mount_of(one, minutes)
    bench = bench_of(one, minutes, mount)
    noise = noise_of_days(minutes, 1)
    first = run(mount, minutes, settings, noise)[0]  # loads what was compiled
    day_report(one, settings, 171)
    turned = [settings.model_copy(update={"cycle": float(1 + number)}) for number in range(20)]
    knob = sorted(_timed(partial(day_report, one, each, 171)) for each in turned)
    took, angles = plain(mount, minutes, settings, range(PLAIN_DAYS))
    apart = float(np.abs(np.asarray(angles) - first.angle[:PLAIN_DAYS]).max())
    loop = took / PLAIN_DAYS * 365 * COUNT
    forty = [settings.model_copy(update={"cycle": float(1 + number)}) for number in range(COUNT)]
    start = time.perf_counter()
    for each in forty:
        run(mount, minutes, each, noise)
    driven = time.perf_counter() - start
    _ = bench.ideal
    year = _timed(lambda: result_of(bench, settings))
    start = time.perf_counter()
    year_report(one, settings, count=COUNT)
    whole = time.perf_counter() - start
    return [
        (f"{COUNT} settings through 525 600 minutes in a plain Python loop, from {PLAIN_DAYS} days", f"{loop:.0f} s", "the rival", ""),
        ("the same controller compiled", f"{driven:.2f} s", f"{loop / driven:.0f} times faster, {apart:.1e} degrees apart at most", "at least 30 times"),
        ("a knob turned: the day anew, all its figures", f"{1000 * knob[len(knob) // 2]:.0f} ms median", f"{1000 * knob[-1]:.0f} ms at most of 20", "under 100 ms to the picture"),
        ("one setting through a year, with its energy", f"{year:.2f} s", "", "under 1 s"),
        (f"{COUNT} settings through a year with sky, energies, costs and the trade curve, one core", f"{whole:.1f} s", "", "under 20 s"),
    ]  # fmt: skip


def _timed(work: Any) -> float:
    start = time.perf_counter()
    work()
    return time.perf_counter() - start
