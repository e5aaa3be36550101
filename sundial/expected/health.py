"""Is it what it should be? Every figure of a series at once, each cleared of what the others explain."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

import numpy as np
from numpy.typing import NDArray

from sundial.expected.clear import FEWEST, STEP, Change, ClearDay, Judged, change_of, judge
from sundial.expected.flat import throttled
from sundial.expected.missed import Missed, missed_shade
from sundial.expected.moment import expected_series
from sundial.expected.resampling import in_runs
from sundial.expected.trends import DRAWS, Step, Trend, ageing, soiling, step_in, without_dirt
from sundial.record.series import Series
from sundial.scene import Scene
from sundial.study import Study

Floats = NDArray[np.float64]
CLOCK = 30.0  # minutes off that are worth a word
BESIDE = 182  # days on each side of a change that are looked at
SECTION = 0.02  # a step within this of a dead section's is named so


@dataclass(frozen=True)
class MonthMade:
    """A month of a year: kWh measured and planned for the ``days`` that are there, and kWh that cloudless days would have given then."""

    year: int
    month: int
    days: int
    measured: float
    planned: float
    clear: float

    @property
    def share(self) -> float:
        return self.measured / self.planned if self.planned > 0 else 0.0


@dataclass(frozen=True)
class DeadSection:
    """A step down that is as large as one or more bypass sections of all: how many of how many."""

    count: int
    of: int


@dataclass(frozen=True)
class Health:
    """All figures. ``level``: the middle of measured over expected on clear days, dirt and all, with its 95 % interval (None: too few
    clear days); ``clock`` minutes ahead of the sun; ``throttled_minutes``, ``limit`` W and ``throttled_kwh``; ``shade`` that the survey
    missed; ``dirt`` a day; ``step`` and the section that would explain it; ``ageing`` a year; ``months``; ``clearness`` (12): measured over
    cloudless, each cleared of the level (None: no month of that name); ``haze`` (12): the clear days of a month over those of the year, what the learned air gives
    beside the climate's turbidity; ``notes`` in words."""

    days: int
    clear: tuple[ClearDay, ...]
    level: tuple[float, float, float] | None
    clock: float | None
    throttled_days: int
    throttled_minutes: float
    throttled_kwh: float
    limit: float | None
    shade: tuple[Missed, ...]
    dirt: Trend | None
    step: Step | None
    section: DeadSection | None
    ageing: Trend | None
    months: tuple[MonthMade, ...]
    clearness: tuple[float | None, ...]
    clearness_days: tuple[int, ...]
    haze: tuple[float | None, ...]
    notes: tuple[str, ...]


def health(
    study: Study, series: Series, tilt: Floats | float | None = None, washes: Sequence[date] = (), changes: Sequence[date] = ()
) -> Health:
    """Judge a whole series: its clock first, then what throttles it, then shade, then dirt, then steps and ageing. ``tilt`` as it stood,
    one or (n,) as the series has it; ``washes``: days of rain or cleaning; ``changes``: days on which something else was done."""
    coarse, tilts = _coarse(series, tilt)
    found = judge(study, coarse, tilts)
    clock = found.clock
    if clock is not None and abs(clock) >= CLOCK:  # the rest is judged as if the clock were right
        coarse = Series(coarse.unix - clock * 60, coarse.power, coarse.step, coarse.notes)
        found = judge(study, coarse, tilts)
    held = throttled(series, _at_its_own_steps(study, series, tilt, clock), _site_days(study.scene, series, clock))
    left_out = _lies_in(coarse, series, held.mask, clock)
    free = _free(found, left_out)
    shade = missed_shade(study.scene, coarse, found.expected, found.day, free.clear, left_out)
    lit = _lit(study.scene, free, shade)
    clear = lit.clear
    dirt = soiling(clear, washes)
    value = without_dirt(clear, washes, dirt)
    step = step_in(clear, value) if clear else None
    if step is not None and any(abs((step.day - day).days) <= 10 for day in (*changes, *washes)):
        step = None  # somebody knows of it
    section = _section(study.scene, step)
    aged = ageing(clear) if step is None else None
    months = _months(study, found)
    clearness, rest_on = _clearness(found, clear, left_out)
    return Health(
        len(np.unique(found.day)), clear, _level(clear), clock, held.days, held.minutes, held.lost, held.limit, shade,
        dirt, step, section, aged, months, clearness, rest_on, _haze(clear), series.notes,
    )  # fmt: skip


def _coarse(series: Series, tilt: Floats | float | None) -> tuple[Series, Floats | float | None]:
    """By quarters of an hour, which all judgements but that of throttling go by."""
    coarse = series.by(STEP)
    if isinstance(tilt, np.ndarray) and coarse is not series:
        at = np.clip(np.searchsorted(series.unix, coarse.unix, side="left"), 0, len(series.unix) - 1)
        return coarse, tilt[at]
    return coarse, tilt


def _site_days(scene: Scene, series: Series, clock: float | None) -> NDArray[np.int64]:
    off = clock * 60 if clock is not None and abs(clock) >= CLOCK else 0.0
    days: NDArray[np.int64] = np.floor((series.unix - off + scene.weather.utc_offset * 3600) / 86400).astype(np.int64)
    return days


def _at_its_own_steps(study: Study, series: Series, tilt: Floats | float | None, clock: float | None) -> Floats:
    off = clock * 60 if clock is not None and abs(clock) >= CLOCK else 0.0
    coarse = series.by(STEP)
    told = (
        tilt[np.clip(np.searchsorted(series.unix, coarse.unix), 0, len(series.unix) - 1)]
        if isinstance(tilt, np.ndarray)
        else tilt
    )
    should = expected_series(study, coarse.unix - off + coarse.step / 2, told)
    found: Floats = np.interp(series.unix + series.step / 2, coarse.unix + coarse.step / 2, should)
    return found


def _lies_in(coarse: Series, series: Series, mask: NDArray[np.bool_], clock: float | None) -> NDArray[np.bool_]:
    """The coarse intervals that hold a masked fine one."""
    if not mask.any():
        return np.zeros(len(coarse.unix), dtype=bool)
    off = clock * 60 if clock is not None and abs(clock) >= CLOCK else 0.0
    at = np.clip(np.searchsorted(coarse.unix, series.unix[mask] - off + 1, side="right") - 1, 0, len(coarse.unix) - 1)
    found = np.zeros(len(coarse.unix), dtype=bool)
    found[at] = True
    return found


def _free(found: Judged, left_out: NDArray[np.bool_]) -> Judged:
    """Judged again without the throttled intervals, where there are any."""
    if not left_out.any():
        return found
    from sundial.expected.clear import clear_days_of

    keep = ~left_out
    series, expected, day = found.series.part(keep), found.expected[keep], found.day[keep]
    return replace(found, clear=tuple(clear_days_of(series, expected, day, gaps=True)))


def _lit(scene: Scene, found: Judged, shade: tuple[Missed, ...]) -> Judged:
    """The clear days' sums without the intervals in which something shades that the survey lacks."""
    if not shade:
        return found
    from sundial.expected.clear import clear_days_of
    from sundial.sun import sun_at_times

    series = found.series
    sun = sun_at_times(scene.site, series.unix + series.step / 2, np.zeros(len(series.unix), dtype=np.int64))
    keep = np.ones(len(series.unix), dtype=bool)
    for thing in shade:
        wide = (thing.end - thing.start) % 360
        inside = ((sun.azimuth - thing.start + 4) % 360 < wide + 8) & (sun.elevation < thing.top + 3)
        keep &= ~inside
    days = clear_days_of(series.part(keep), found.expected[keep], found.day[keep], gaps=True)
    known = {one.day for one in found.clear}
    return replace(found, clear=tuple(one for one in days if one.day in known))


def _level(clear: Sequence[ClearDay]) -> tuple[float, float, float] | None:
    """The middle of measured over expected and its 95 % interval, by blocks of three days drawn again."""
    if len(clear) < FEWEST:
        return None
    value = np.array([one.ratio for one in clear])
    drawn = np.median(value[in_runs(len(value), DRAWS, np.random.default_rng(1))], axis=1)
    low, high = np.percentile(drawn, (2.5, 97.5))
    return float(np.median(value)), float(low), float(high)


def _haze(clear: Sequence[ClearDay]) -> tuple[float | None, ...]:
    """Median of the clear days of each month over that of all (12); None with fewer than five of them."""
    if len(clear) < FEWEST:
        return (None,) * 12
    level = float(np.median([one.ratio for one in clear]))
    by_month = [[one.ratio for one in clear if one.day.month == month] for month in range(1, 13)]
    return tuple(float(np.median(days)) / level if len(days) >= FEWEST else None for days in by_month)


def _section(scene: Scene, step: Step | None) -> DeadSection | None:
    """The bypass sections whose loss is as large as a step down."""
    if step is None or step.ratio >= 1:
        return None
    array = scene.array
    of = array.count * scene.brief.panel.blocks
    count = round((1 - step.ratio) * of)
    if count < 1 or count > scene.brief.panel.blocks or abs(1 - count / of - step.ratio) > SECTION:
        return None
    return DeadSection(count, of)


def _months(study: Study, found: Judged) -> tuple[MonthMade, ...]:
    """Measured and planned by month, over the days that are there from end to end."""
    production = study.production()
    by_day = np.asarray(production.hourly).reshape(365, 24).sum(axis=1) / 1000
    hours = found.series.step / 3.6e6
    days, place = np.unique(found.day, return_inverse=True)
    did, should = np.bincount(place, found.series.power) * hours, np.bincount(place, found.expected) * hours
    lit = np.bincount(place, (found.expected > 0).astype(float))
    usual = np.array([lit[max(0, n - 15) : n + 16].max() for n in range(len(days))])
    whole = lit >= 0.9 * usual
    made: dict[tuple[int, int], list[tuple[float, float, float]]] = {}
    for number, measured, clear, good in zip(days.tolist(), did.tolist(), should.tolist(), whole.tolist(), strict=True):
        if not good:
            continue
        at = date(1970, 1, 1) + timedelta(days=number)
        planned = float(by_day[_place(at)])
        made.setdefault((at.year, at.month), []).append((measured, planned, clear))
    return tuple(
        MonthMade(year, month, len(rows), *(float(sum(column)) for column in zip(*rows, strict=True)))
        for (year, month), rows in sorted(made.items())
    )


def _place(day: date) -> int:
    from sundial.days import day_of_date

    return day_of_date(day)


def _clearness(
    found: Judged, clear: Sequence[ClearDay], left_out: NDArray[np.bool_]
) -> tuple[tuple[float | None, ...], tuple[int, ...]]:
    """Measured over cloudless by month (12), cleared of the array's own level, and the days that each rests on."""
    level = _level(clear)
    shares: list[float | None] = [None] * 12
    days = [0] * 12
    if level is None:
        return tuple(shares), tuple(days)
    months = found.day.astype("datetime64[D]").astype("datetime64[M]").astype(int) % 12
    keep = ~left_out
    for month in range(12):
        at = keep & (months == month)
        should = float(found.expected[at].sum())
        days[month] = len(np.unique(found.day[at & (found.expected > 0)]))
        if should > 0 and days[month] >= 10:
            shares[month] = min(float(found.series.power[at].sum()) / should / level[0], 1.1)
    return tuple(shares), tuple(days)


def changed(clear: Sequence[ClearDay], on: date, others: Sequence[date] = ()) -> Change:
    """What a change on a date did, by the clear days of half a year on each side that lie between no ``others`` of its kind. BriefError where
    a side has too few."""
    start = max((day for day in others if day < on), default=on - timedelta(days=BESIDE))
    end = min((day for day in others if day > on), default=on + timedelta(days=BESIDE))
    start, end = max(start, on - timedelta(days=BESIDE)), min(end, on + timedelta(days=BESIDE))
    return change_of(tuple(one for one in clear if start < one.day < end), on)
