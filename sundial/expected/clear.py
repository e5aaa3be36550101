"""Which days of a series were clear, what they gave of what they should have, and what a change did."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from numpy.typing import NDArray

from sundial.errors import BriefError
from sundial.expected.moment import expected_series
from sundial.expected.resampling import RUN, in_runs
from sundial.record.series import Series
from sundial.study import Study

Floats = NDArray[np.float64]
HIGH = 0.2  # of the day's highest expected power: intervals under it are left out
THERE = 0.9  # of a day's intervals that must be there
RESTLESS = 0.05  # 85th percentile of the steps of measured over expected, as a share of their middle: a clear day has less
STEP = 900.0  # seconds: finer series are judged by quarters of an hour
LEVEL = 0.8  # of the level of the clearest days around: an even overcast is smooth too
AROUND = 20  # days before and after
DRAWS = 2000
FEWEST = 5
SHIFTS = (-120, -90, -60, -30, 0, 30, 60, 90, 120)  # minutes by which a file's clock may be off
HALF_HOUR, SLOTS = 1800.0, 48
CLEARLY = 1.25  # times: how much better a far turn of the clock must lie over the sun's day than none
SAMPLE = 150  # days by which a clock is judged


@dataclass(frozen=True)
class ClearDay:
    """A clear day: its date, kWh measured and expected in the intervals that count, and how restless it was."""

    day: date
    measured: float
    expected: float
    restless: float

    @property
    def ratio(self) -> float:
        return self.measured / self.expected


@dataclass(frozen=True, eq=False)
class Judged:
    """A series beside what it should have given: ``expected`` W of each interval (n,), the site's date of each (n,) as days since 1970, and
    the clear days. ``clock``: minutes, to half an hour, by which the file's clock is ahead of the sun (None: too little to say)."""

    series: Series
    expected: Floats
    day: NDArray[np.int64]
    clear: tuple[ClearDay, ...]
    clock: float | None


def judge(study: Study, series: Series, tilt: Floats | float | None = None) -> Judged:
    """A series judged against the cloudless power at the middle of its intervals; ``tilt``, one or (n,), as it stood."""
    middle = series.unix + series.step / 2
    expected = expected_series(study, middle, tilt)
    day = np.floor((series.unix + study.scene.weather.utc_offset * 3600) / 86400).astype(np.int64)
    found = clear_days_of(series, expected, day)
    away = far_off(series, expected)
    return Judged(series, expected, day, tuple(found), _clock(series, expected, day) if away is None else away)


def clear_days_of(series: Series, expected: Floats, day: NDArray[np.int64], gaps: bool = False) -> list[ClearDay]:
    """The clear days of a series by the site's date of each interval (n,); ``gaps``: hours left out on purpose are no sign of a day
    that is not there."""
    by_day = []
    edges = np.flatnonzero(np.diff(day, prepend=day[0] - 1, append=day[-1] + 1))
    for start, end in zip(edges[:-1], edges[1:], strict=True):
        found = _one_day(series, expected, int(start), int(end), int(day[start]), gaps)
        if found is not None:
            by_day.append(found)
    smooth = [one for one in by_day if one.restless < RESTLESS]
    kept = []
    for one in smooth:
        near = [other.ratio for other in smooth if abs((other.day - one.day).days) <= AROUND]
        if one.ratio >= LEVEL * float(np.percentile(near, 90)):
            kept.append(one)
    return kept


def _one_day(series: Series, expected: Floats, start: int, end: int, number: int, gaps: bool = False) -> ClearDay | None:
    """A day's sums and restlessness; None where too little of it is there."""
    should, did, unix = expected[start:end], series.power[start:end], series.unix[start:end]
    top = float(should.max()) if end > start else 0.0
    if top <= 0:
        return None
    use = should >= HIGH * top
    wanted = (float(unix[use][-1]) - float(unix[use][0])) / series.step + 1 if use.any() else 0.0
    if use.sum() < max((0.4 if gaps else THERE) * wanted, 5):
        return None
    should, did = _quarters(should[use], series.step), _quarters(did[use], series.step)
    ratio = did / should
    middle = float(np.median(ratio))
    if middle <= 0:
        return None
    restless = float(np.percentile(np.abs(np.diff(ratio)), 85)) / middle
    kwh = series.step * max(1, round(STEP / series.step)) / 3.6e6 if series.step < STEP else series.step / 3.6e6
    return ClearDay(date(1970, 1, 1) + timedelta(days=number), float(did.sum()) * kwh, float(should.sum()) * kwh, restless)


def _quarters(values: Floats, step: float) -> Floats:
    """Means of about a quarter of an hour; values that are as far apart already stay."""
    size = max(1, round(STEP / step))
    whole = len(values) // size * size
    return values[:whole].reshape(-1, size).mean(axis=1) if size > 1 else values


def far_off(series: Series, expected: Floats) -> float | None:
    """Minutes, to half an hour, by which the file's clock is ahead of the sun where that is over two hours (am and pm exchanged, another
    zone): the turn of the mean day at which measured and expected power lie best over one another. None where it is nearer, or not clear."""
    slot = np.floor(series.unix / HALF_HOUR).astype(np.int64) % SLOTS
    count = np.maximum(np.bincount(slot, minlength=SLOTS), 1)
    did, should = (np.bincount(slot, values, minlength=SLOTS) / count for values in (series.power, expected))
    if did.max() <= 0 or should.max() <= 0:
        return None
    alike = np.array([float(did @ np.roll(should, turn)) for turn in range(SLOTS)])
    best = int(alike.argmax())
    minutes = ((best + SLOTS // 2) % SLOTS - SLOTS // 2) * HALF_HOUR / 60
    return minutes if abs(minutes) > SHIFTS[-1] and alike[best] > CLEARLY * alike[0] else None


def _clock(series: Series, expected: Floats, day: NDArray[np.int64]) -> float | None:
    """Minutes by which the file's clock is ahead of the sun: the shift under which most days are clear, and these most even. None
    where hardly a day is clear under any. What shades every morning moves it a little, an hour is an hour."""
    some = day < day[0] + SAMPLE
    part = Series(series.unix[some], series.power[some], series.step)
    scores = []
    for minutes in SHIFTS:
        then = np.interp(part.unix - minutes * 60, series.unix, expected)
        days = clear_days_of(part, then, day[some])
        scores.append((len(days), -float(np.mean([one.restless for one in days])) if days else 0.0))
    most = max(count for count, _ in scores)
    if most < 3:
        return None
    level = [at for at, (count, _) in enumerate(scores) if count >= 0.9 * most]
    return float(SHIFTS[max(level, key=lambda at: scores[at][1])])


@dataclass(frozen=True)
class Change:
    """After over before: the ``ratio`` of energy over expected energy on clear days, its 95 % interval, and the days on each side."""

    ratio: float
    low: float
    high: float
    before: int
    after: int


def change_of(clear: tuple[ClearDay, ...], on: date, seed: int = 1) -> Change:
    """What a change on a date did. Each clear day counts with its energy over its own expected energy, so the season drops out; the day
    of the change counts on neither side. Interval: circular block bootstrap of the days of each side (runs of three), widened for few
    days by sqrt(n / (n - 3)) and by Student's t with n / 2 - 1 degrees of freedom over the normal's 1.96. BriefError where a side has fewer than five clear days."""
    sides = [[one for one in clear if one.day < on], [one for one in clear if one.day > on]]
    for name, days in zip(("before", "after"), sides, strict=True):
        if len(days) < FEWEST:
            raise BriefError(
                "--on", f"{len(days)} clear days lie {name} {on:%Y-%m-%d}: at least {FEWEST} are needed on each side"
            )
    random = np.random.default_rng(seed)
    from scipy.stats import t as student

    logs, drawn = [], []
    for days in sides:
        value = np.log([one.ratio for one in days])
        count = len(value)
        at = in_runs(count, DRAWS, random)
        logs.append(float(value.mean()))
        drawn.append(
            (value[at].mean(axis=1) - value.mean()) * np.sqrt(count / (count - RUN)) * student.ppf(0.975, count / 2 - 1) / 1.96
        )
    centre = logs[1] - logs[0]
    low, high = np.percentile(drawn[1] - drawn[0], (2.5, 97.5))
    return Change(float(np.exp(centre)), float(np.exp(centre - high)), float(np.exp(centre - low)), len(sides[0]), len(sides[1]))
