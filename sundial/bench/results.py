"""What a setting gives: energy beside a fixed frame, an ideal tracker and a plane that lies flat; moves, noise and wear; each loss by its name."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from sundial.bench.axes import BenchMount
from sundial.bench.controller import Noise, Run, Why, knobs, noise_of_days, run
from sundial.bench.minutes import DAY, Minutes
from sundial.bench.settings import Settings
from sundial.days import DAYS, MONTH_OF_HOUR
from sundial.expected.moment import chain
from sundial.study import Study

Floats = NDArray[np.float64]
LOSSES = {
    Why.BAND: "dead band", Why.WAITS: "timer", Why.MOVES: "on its way", Why.DULL: "dull parking", Why.LIMIT: "end stops", Why.STOW: "wind stow",
    Why.UNSEEN: "sun behind the cells", Why.TIMED_OUT: "time-out", Why.NIGHT: "asleep in the light", Why.BY_HAND: "by hand",
}  # fmt: skip
# Where two axes are about two things, the minute's loss is put down to the one that keeps the glass away most.
FIRST = (Why.STOW, Why.NIGHT, Why.BY_HAND, Why.UNSEEN, Why.TIMED_OUT, Why.DULL, Why.LIMIT, Why.MOVES, Why.WAITS, Why.BAND)
NEVER_FOUND = 0.6  # of the bright minutes of a day: more of them unseen, and it never finds the sun
MANY = 400  # events of a day that are listed


@dataclass(frozen=True, eq=False)
class Bench:
    """A mount and a sky, and what does not depend on any setting. ``study``: the build of ``shaded`` without its shade, since the bench stands in
    the open."""

    shaded: Study
    study: Study
    minutes: Minutes
    mount: BenchMount
    noise: Noise

    def power(self, angles: tuple[Floats, ...]) -> Floats:
        """Watts out of the inverter in each lit minute (lit,), at angles of the axes (d, 1440)."""
        tilt, azimuth = self.mount.facing(angles)
        lit = self.minutes.lit
        return chain(self.study.scene, self.minutes.light, tilt[lit], azimuth[lit], None).ac

    def kwh(self, watts: Floats) -> float:
        return float(watts.sum()) / 60_000

    @cached_property
    def aimed(self) -> Floats:
        """Watts (lit,) of the same mount that always looks straight at the sun, within its stops."""
        return self.power(self.mount.ideal)

    @cached_property
    def laid_flat(self) -> Floats:
        """Watts (lit,) of the glass lying as flat as the mount can."""
        return self.power(self.mount.flat)

    @cached_property
    def ideal(self) -> Floats:
        """Watts (lit,) of an ideal tracker: at the sun, flat, or at some places between, whichever gives most in that minute. Between the places the
        light changes by under 0.1 %."""
        best = np.maximum(self.aimed, self.laid_flat)
        for share in WAYS:
            best = np.maximum(best, self.power(self._part_way(share)))
        return best

    def _part_way(self, share: float) -> tuple[Floats, ...]:
        """Angles that look a share of the way from flat to the sun."""
        ways = tuple(flat + share * (aim - flat) for aim, flat in zip(self.mount.ideal, self.mount.flat, strict=True))
        return ways if self.mount.kind != "two-axis" else (self.mount.ideal[0], ways[1])

    @cached_property
    def kept_away(self) -> float:
        """kWh that the end stops keep away: what a mount without them would have on top, where it looks at the sun."""
        more = self.power(self.mount.unstopped) - self.aimed
        return self.kwh(np.maximum(more, 0.0))

    @cached_property
    def fixed(self) -> Floats:
        """Watts (lit,) of the best fixed tilt, facing as the array does."""
        surface = self.shaded.cache.get("without", ("everything", self.study.scene.azimuth), self.study.surface)
        tilt = surface.tilts[int(surface.energy.sum(axis=0).argmax())]
        lit = self.minutes.lit
        count = int(lit.sum())
        return chain(
            self.study.scene, self.minutes.light, np.full(count, float(tilt)), np.full(count, self.study.scene.azimuth), None
        ).ac

    @cached_property
    def day_of_lit(self) -> NDArray[np.int64]:
        """Place among the days of each lit minute (lit,)."""
        return np.nonzero(self.minutes.lit)[0]


WAYS = (0.2, 0.4, 0.6, 0.75, 0.87, 0.95)  # shares of the way from flat to the sun


@dataclass(frozen=True)
class Event:
    """Something that the controller did: minute of the day, the axis, ``kind`` (a :class:`Why` by name, or ``start``), and words."""

    minute: int
    axis: str
    kind: str
    words: str


@dataclass(frozen=True, eq=False)
class Result:
    """One setting on the bench. Energies kWh over its days: ``energy`` with the motor's own use taken off, ``made`` without; ``fixed``, ``ideal``
    (the same mount, told everything), ``flat``. ``losses`` kWh by name against the ideal, negative where it wins: they add up to it.

    ``moves`` (starts of motors), ``motor_minutes``, ``motor_wh`` (standby counted), ``longest_loss`` minutes in one go with under nine tenths of the
    ideal; ``reversals``, ``hits`` of end stops, ``timeouts``; ``moves_by_day`` and ``lost_by_day`` (share of the ideal) (d,)."""

    settings: Settings
    energy: float
    made: float
    fixed: float
    ideal: float
    flat: float
    losses: dict[str, float]
    moves: int
    motor_minutes: float
    motor_wh: float
    longest_loss: int
    reversals: int
    hits: int
    timeouts: int
    moves_by_day: NDArray[np.int64]
    lost_by_day: Floats
    made_by_day: Floats
    ideal_by_day: Floats
    runs: tuple[Run, ...] = field(repr=False)
    watts: Floats = field(repr=False)

    @property
    def loss(self) -> float:
        """Share of the ideal tracker's energy that is missing."""
        return 1 - self.energy / self.ideal if self.ideal > 0 else 0.0

    @property
    def gain(self) -> float:
        """Over the fixed frame."""
        return self.energy / self.fixed - 1 if self.fixed > 0 else 0.0

    @property
    def moves_a_day(self) -> float:
        return self.moves / max(len(self.moves_by_day), 1)


def bench_of(study: Study, minutes: Minutes, mount: BenchMount, seed: int = 1) -> Bench:
    """The bench of a build under a sky of minutes, in the open."""
    return Bench(study, study.open_sky, minutes, mount, noise_of_days(minutes, len(mount.axes), seed))


def energy_of(bench: Bench, settings: Settings) -> float:
    """kWh of one setting with the motor's own use taken off, and nothing else of it."""
    runs = run(bench.mount, bench.minutes, settings, bench.noise)
    made = bench.kwh(bench.power(tuple(np.asarray(one.angle, dtype=np.float64) for one in runs)))
    return made - _motor_wh(bench, float(sum(one.running.sum(dtype=np.float64) for one in runs))) / 1000


def _motor_wh(bench: Bench, minutes: float) -> float:
    """Wh of the motors in so many minutes, and of standby through all days."""
    return bench.mount.moving_watts * minutes / 60 + bench.mount.standby_watts * 24 * bench.minutes.count


def result_of(bench: Bench, settings: Settings) -> Result:
    """One setting through all days of the bench."""
    runs = run(bench.mount, bench.minutes, settings, bench.noise)
    watts = bench.power(tuple(np.asarray(one.angle, dtype=np.float64) for one in runs))
    ideal, lit, days = bench.ideal, bench.minutes.lit, bench.minutes.count
    lost = ideal - watts
    losses = _losses(runs, lit, lost)
    running = sum(one.running.sum(axis=1, dtype=np.float64) for one in runs)
    minutes = float(np.sum(running))
    wh = _motor_wh(bench, minutes)
    losses["motor and standby"] = wh / 1000
    made, best = bench.kwh(watts), bench.kwh(ideal)
    by_day = [np.bincount(bench.day_of_lit, values, minlength=days) / 60_000 for values in (watts, ideal)]
    with np.errstate(invalid="ignore", divide="ignore"):
        share = np.where(by_day[1] > 0, 1 - by_day[0] / by_day[1], 0.0)
    starts = sum(one.started.sum(axis=1) for one in runs)
    return Result(
        settings, made - wh / 1000, made, bench.kwh(bench.fixed), best, bench.kwh(bench.laid_flat), losses, int(np.sum(starts)), minutes, wh,
        _longest(lit, watts, ideal), sum(one.reversals for one in runs), sum(one.hits for one in runs), sum(one.timeouts for one in runs),
        np.asarray(starts, dtype=np.int64), share, by_day[0], by_day[1], runs, watts,
    )  # fmt: skip


def _losses(runs: tuple[Run, ...], lit: NDArray[np.bool_], lost: Floats) -> dict[str, float]:
    """kWh by what the mount was about in each lit minute."""
    rank = np.zeros(len(Why), dtype=np.int64)
    for place, why in enumerate(FIRST):
        rank[why] = place
    first = np.stack([rank[one.why[lit]] for one in runs]).min(axis=0)
    sums = np.bincount(first, lost, minlength=len(FIRST)) / 60_000
    return {LOSSES[why]: float(sums[place]) for place, why in enumerate(FIRST) if abs(sums[place]) > 1e-9}


def _longest(lit: NDArray[np.bool_], watts: Floats, ideal: Floats) -> int:
    """Minutes of the longest stretch with under nine tenths of the ideal, within a day."""
    low = np.zeros(lit.shape, dtype=bool)
    low[lit] = (watts < 0.9 * ideal) & (ideal > 0.02 * float(ideal.max(initial=1.0)))
    padded = np.pad(low, ((0, 0), (1, 1))).astype(np.int8)
    edges = np.diff(padded, axis=1)
    starts, ends = np.nonzero(edges == 1), np.nonzero(edges == -1)
    return int((ends[1] - starts[1]).max(initial=0))


def afterwards(bench: Bench, result: Result) -> tuple[tuple[str, str], ...]:
    """What only shows when it has run: the field and a sentence."""
    found: list[tuple[str, str]] = []
    bright = bench.minutes.dni > 300
    noon = slice(11 * 60, 13 * 60)
    asleep = sum(((one.why == Why.NIGHT) & bright)[:, noon].any(axis=1) for one in result.runs)
    days = int(np.count_nonzero(asleep))
    if days:
        found.append(
            (
                "night",
                f"Around noon it takes the day for night{'' if days == 1 else f' on {days} days'}: both cells are too dark for that level.",
            )
        )
    found += _never_found(bench, result)
    if result.reversals > 20 * len(result.moves_by_day):
        found.append(("threshold", f"It hunts: {result.reversals / len(result.moves_by_day):.0f} times a day it turns back."))
    if result.timeouts:
        found.append(("timeout", f"The time-out ended {result.timeouts} move{'s' * (result.timeouts > 1)} before its end."))
    return tuple(found)


def _never_found(bench: Bench, result: Result) -> list[tuple[str, str]]:
    """Named where cells look away from the sun through most of the bright light: which way they are parked, and what to change."""
    bright = bench.minutes.dni > 300
    unseen = np.any([one.why == Why.UNSEEN for one in result.runs], axis=0) & bright
    sunny, lost = bright.sum(axis=1), unseen.sum(axis=1)
    days = int(((lost > NEVER_FOUND * sunny) & (sunny >= 60)).sum())
    if not days:
        return []
    on = "" if bench.minutes.count == 1 else f" on {days} days"
    field, what = ("night_to", "let it go to the east at night, or steer it by the clock")
    if result.settings.night_to == "east":
        field, what = ("control", "steer it by the clock or by both, widen its end stops, or lean the cells further out")
    return [(field, f"Its cells never find the sun{on}: they are parked looking away from it. {what[0].upper()}{what[1:]}.")]


WORDS = {
    Why.NIGHT: "goes to its night place", Why.BAND: "is within its dead band", Why.WAITS: "is off and waits for its next look", Why.MOVES: "moves",
    Why.DULL: "it is dull", Why.LIMIT: "stands at its end stop, the sun beyond", Why.STOW: "stands in its wind position",
    Why.UNSEEN: "the sun stands behind the cells", Why.TIMED_OUT: "the time-out ended the move", Why.BY_HAND: "is left to a hand",
}  # fmt: skip


def events(bench: Bench, result: Result, day: int = 0) -> tuple[Event, ...]:
    """What the controller did on one day of the bench, in order: each move with what led to it, and each change of what it is about."""
    found = []
    for axis, one in zip(bench.mount.axes, result.runs, strict=True):
        why, angle = one.why[day], one.angle[day]
        begins = np.flatnonzero(one.started[day])
        stood = float(one.angle[day - 1][-1]) if day else knobs(axis, result.settings).home
        for minute in begins.tolist():
            end = minute + 1
            while end < DAY and one.running[day][end] > 0 and not one.started[day][end]:
                end += 1
            start = float(angle[minute - 1]) if minute else stood
            before = Why(int(why[max(minute - 1, 0)]))
            led = {Why.STOW: " for the wind", Why.NIGHT: " for the night", Why.DULL: ", dull"}.get(
                Why(int(why[minute])), led_by(before)
            )
            found.append(Event(minute, axis.name, "start", f"moves from {start:.1f} to {float(angle[end - 1]):.1f} degrees{led}"))
        for minute in np.flatnonzero(np.diff(why, prepend=why[0])).tolist():
            told = Why(int(why[minute]))
            if told in (Why.STOW, Why.UNSEEN, Why.TIMED_OUT, Why.LIMIT, Why.DULL):
                found.append(Event(minute, axis.name, told.name.lower(), WORDS[told]))
    found.sort(key=lambda event: (event.minute, event.axis, event.kind))
    return tuple(found[:MANY])


def led_by(before: Why) -> str:
    """What led to a move, as the end of a sentence."""
    return {Why.WAITS: " at its next look", Why.UNSEEN: ", the sun was behind the cells"}.get(before, "")


@dataclass(frozen=True)
class MonthOfBench:
    """kWh made, of the ideal, moves a day and share lost in a month (from 0)."""

    month: int
    made: float
    ideal: float
    moves: float
    lost: float


def months(bench: Bench, result: Result) -> tuple[MonthOfBench, ...]:
    """A year by month."""
    month = MONTH_OF_HOUR[np.arange(DAYS) * 24][bench.minutes.days]
    found = []
    for number in range(12):
        here = month == number
        if here.any():
            made, ideal = float(result.made_by_day[here].sum()), float(result.ideal_by_day[here].sum())
            found.append(
                MonthOfBench(number, made, ideal, float(result.moves_by_day[here].mean()), 1 - made / ideal if ideal else 0.0)
            )
    return tuple(found)
