"""What the bench's screen shows: a day replayed, and the year with its trade curve."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from sundial.bench.axes import mount_of
from sundial.bench.minutes import SkyKind, minutes_of
from sundial.bench.results import Bench, Event, MonthOfBench, Result, afterwards, bench_of, events, months, result_of
from sundial.bench.settings import Settings, remarks
from sundial.bench.trade import COUNT, Cost, Trade, costs, trade, wrong_sensor
from sundial.days import DAYS
from sundial.study import Study

Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class AxisDay:
    """One axis through a day, by the minute (1440,): ``angle`` where it stands, ``sun`` the angle that looks at the sun within its stops, ``why``;
    ``cells`` W/m2 on the two light cells."""

    name: str
    low: float
    high: float
    angle: Floats
    sun: Floats
    why: NDArray[np.int64]
    cells: tuple[Floats, Floats]


@dataclass(frozen=True, eq=False)
class DayReport:
    """A day replayed. ``beam`` W/m2 and ``elevation`` degrees by the minute (1440,)."""

    kind: str
    axes: tuple[AxisDay, ...]
    beam: Floats
    elevation: Floats
    result: Result
    events: tuple[Event, ...]
    remarks: tuple[tuple[str, str], ...]
    wrong_sensor: float
    kept_away: float
    utc_offset: float


def day_report(study: Study, settings: Settings, day: int, sky: SkyKind = "weather", seed: int = 1) -> DayReport:
    """One day of the year (from 0) on the bench. BriefError where no motor moves the build."""
    minutes = minutes_of(study.scene, [day], sky, seed)
    mount = mount_of(study, minutes, north_error=settings.north_error)
    bench = bench_of(study, minutes, mount, seed)
    result = result_of(bench, settings)
    axes = tuple(
        AxisDay(
            axis.name, axis.low, axis.high, np.asarray(one.angle[0], dtype=np.float64), ideal[0], one.why[0].astype(np.int64),
            cells_of(bench, settings, number, one.angle),
        )
        for number, (axis, one, ideal) in enumerate(zip(mount.axes, result.runs, mount.ideal, strict=True))
    )  # fmt: skip
    told = remarks(settings, mount) + afterwards(bench, result)
    return DayReport(
        mount.kind, axes, minutes.dni[0], minutes.elevation[0], result, events(bench, result), told, wrong_sensor(bench, result), bench.kept_away,
        study.scene.weather.utc_offset,
    )  # fmt: skip


def cells_of(bench: Bench, settings: Settings, number: int, angle: NDArray[np.float32]) -> tuple[Floats, Floats]:
    """Light on the two cells of an axis on the first day (1440,), W/m2, at the angles at which it stands."""
    axis, minutes = bench.mount.axes[number], bench.minutes
    lean = np.radians(settings.cell_angle)
    error = np.radians((axis.sun[0] - np.asarray(angle[0], dtype=np.float64)) / axis.scale[0])
    beam, dull = minutes.dni[0] * axis.share[0], minutes.dhi[0] * (1 + np.cos(lean)) / 2
    hours = np.arange(len(beam)) / 60
    open_sky = np.ones(len(beam))
    if settings.shadow:
        open_sky[(hours >= settings.shadow[0]) & (hours < settings.shadow[1])] = 0.0
    first = settings.gain * (beam * np.maximum(np.cos(error - lean), 0.0) + dull)
    second = beam * open_sky * np.maximum(np.cos(error + lean), 0.0) + dull
    return np.asarray(first), np.asarray(second)


@dataclass(frozen=True)
class YearReport:
    """A setting through the year, kWh and moves; what errors cost; the trade curve."""

    energy: float
    fixed: float
    ideal: float
    flat: float
    loss: float
    gain: float
    moves_a_day: float
    most_moves: int
    motor_minutes: float
    motor_wh: float
    longest_loss: int
    reversals: int
    hits: int
    timeouts: int
    losses: dict[str, float]
    wrong_sensor: float
    kept_away: float
    months: tuple[MonthOfBench, ...]
    costs: tuple[Cost, ...]
    trade: Trade
    remarks: tuple[tuple[str, str], ...]

    @property
    def motor_kwh(self) -> float:
        """What the motor and its standby take in the year."""
        return self.motor_wh / 1000


@dataclass(frozen=True)
class Side:
    """The year of one setting: kWh, the share lost against the same mount told everything, moves a day, minutes and Wh of its motor, the longest
    stretch under nine tenths, minutes."""

    energy: float
    loss: float
    moves_a_day: float
    most_moves: int
    motor_minutes: float
    motor_wh: float
    longest_loss: int


def side_by_side(study: Study, settings: Sequence[Settings], every: int = 1, seed: int = 1) -> tuple[Side, ...]:
    """Several settings through one sky, a year by the minute (one day of every ``every``). BriefError where no motor moves the build."""
    minutes = minutes_of(study.scene, range(0, DAYS, every), seed=seed)
    found = []
    for one in settings:
        made = result_of(bench_of(study, minutes, mount_of(study, minutes, north_error=one.north_error), seed), one)
        found.append(
            Side(
                made.energy,
                made.loss,
                made.moves_a_day,
                int(made.moves_by_day.max()),
                made.motor_minutes,
                made.motor_wh,
                made.longest_loss,
            )
        )
    return tuple(found)


def year_report(
    study: Study,
    settings: Settings,
    seed: int = 1,
    report: Callable[[int, int], Any] | None = None,
    count: int = COUNT,
    every: int = 1,
) -> YearReport:
    """The year by the minute (one day of every ``every``), and ``count`` settings beside the one asked about."""
    minutes = minutes_of(study.scene, range(0, DAYS, every), seed=seed)
    bench = bench_of(study, minutes, mount_of(study, minutes, north_error=settings.north_error), seed)
    made = result_of(bench, settings)
    return YearReport(
        made.energy, made.fixed, made.ideal, made.flat, made.loss, made.gain, made.moves_a_day, int(made.moves_by_day.max()), made.motor_minutes,
        made.motor_wh, made.longest_loss, made.reversals, made.hits, made.timeouts, made.losses, wrong_sensor(bench, made), bench.kept_away, months(bench, made),
        costs(study, minutes, settings, seed), trade(bench, settings, count, seed, report), afterwards(bench, made),
    )  # fmt: skip
