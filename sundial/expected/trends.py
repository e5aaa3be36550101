"""What changes slowly or at once: ageing from several years, dirt between washes, and a step that nobody logged."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np
from numpy.typing import NDArray

from sundial.expected.clear import ClearDay
from sundial.expected.resampling import in_runs

Floats = NDArray[np.float64]
DRAWS = 500
YEARS = 2.0  # that ageing needs at least
FEWEST = 12  # clear days that a trend needs
STEP = 0.025  # a sudden change smaller than this is not spoken of
BESIDE = 8  # clear days that must lie on each side of a step
SURE = 6.0  # standard errors of a step
CYCLE = 14  # days without a wash from which dirt can be seen


@dataclass(frozen=True)
class Trend:
    """A share a year (ageing) or a day (dirt), below zero where it falls, its 95 % interval, and the clear days it rests on."""

    slope: float
    low: float
    high: float
    days: int

    @property
    def sure(self) -> bool:
        """Whether its interval lies on one side of nothing."""
        return self.low > 0 or self.high < 0


@dataclass(frozen=True)
class Step:
    """A sudden change on ``day``: the ``ratio`` of after to before, and how many standard errors it stands out."""

    day: date
    ratio: float
    errors: float


def _fit(columns: Floats, values: Floats) -> Floats:
    return np.asarray(np.linalg.lstsq(columns, values, rcond=None)[0], dtype=np.float64)


def _slope(columns: Floats, values: Floats, seed: int = 1) -> tuple[float, float, float]:
    """The first column's coefficient and its 95 % interval: residuals drawn again in runs."""
    best = _fit(columns, values)
    left = values - columns @ best
    left = left * np.sqrt(len(values) / max(len(values) - columns.shape[1], 1))
    at = in_runs(len(values), DRAWS, np.random.default_rng(seed))
    drawn = np.linalg.pinv(columns)[0] @ left[at].T
    low, high = np.percentile(drawn, (2.5, 97.5)) * 1.08  # runs of three hold a little less scatter than there is
    return float(best[0]), float(best[0] - high), float(best[0] - low)


def ageing(clear: Sequence[ClearDay]) -> Trend | None:
    """What it loses a year: a straight line through the logs of measured over expected, its seasons (a yearly and a half-yearly wave)
    taken out; None with less than two years."""
    days = np.array([one.day.toordinal() for one in clear], dtype=float)
    if len(days) < FEWEST or days[-1] - days[0] < YEARS * 365:
        return None
    years = np.asarray((days - days.mean()) / 365.25, dtype=np.float64)
    value = np.asarray(np.log([one.ratio for one in clear]), dtype=np.float64)
    turn = 2 * np.pi * days / 365.25
    columns = np.stack([years, np.ones_like(years), np.sin(turn), np.cos(turn), np.sin(2 * turn), np.cos(2 * turn)], axis=1)
    return Trend(*_slope(columns, value), len(days))


def since_washed(days: Sequence[date], washes: Sequence[date]) -> Floats:
    """Days since the last wash (n,); NaN before the first."""
    ordered = sorted(washes)
    found = np.full(len(days), np.nan)
    for place, day in enumerate(days):
        last = [wash for wash in ordered if wash <= day]
        if last:
            found[place] = (day - last[-1]).days
    return found


def soiling(clear: Sequence[ClearDay], washes: Sequence[date]) -> Trend | None:
    """What dirt takes a day between washes (rain or cleaning); None where no wash is known, or none was two weeks apart."""
    since = since_washed([one.day for one in clear], washes)
    use = ~np.isnan(since)
    if use.sum() < FEWEST or float(since[use].max()) < CYCLE:
        return None
    value = np.log([one.ratio for one in clear])[use]
    columns = np.stack([since[use], np.ones(int(use.sum()))], axis=1)
    return Trend(*_slope(columns, value), int(use.sum()))


def without_dirt(clear: Sequence[ClearDay], washes: Sequence[date], dirt: Trend | None) -> Floats:
    """Logs of measured over expected (n,), the dirt's share taken out where it is known."""
    value = np.asarray(np.log([one.ratio for one in clear]), dtype=np.float64)
    if dirt is None or not dirt.sure:
        return value
    since = np.nan_to_num(since_washed([one.day for one in clear], washes))
    return value - dirt.slope * since


def step_in(clear: Sequence[ClearDay], value: Floats) -> Step | None:
    """The place at which the days divide best in two levels, where that stands out; None where it does not."""
    count = len(value)
    if count < 2 * BESIDE:
        return None
    best = (-1.0, 0, 0.0)
    total, square = np.cumsum(value), np.cumsum(value**2)
    for at in range(BESIDE, count - BESIDE + 1):
        before, after = total[at - 1] / at, (total[-1] - total[at - 1]) / (count - at)
        inside = square[-1] - at * before**2 - (count - at) * after**2
        error = np.sqrt(max(inside, 1e-12) / (count - 2) * (1 / at + 1 / (count - at)))
        found = abs(after - before) / error
        best = max(best, (float(found), at, float(after - before)))
    errors, at, change = best
    # Neighbouring days are alike: their scatter tells less than that of as many strangers.
    left = np.concatenate([value[:at] - value[:at].mean(), value[at:] - value[at:].mean()])
    alike = float(np.clip(np.corrcoef(left[:-1], left[1:])[0, 1], 0, 0.9)) if left.std() > 1e-9 else 0.0
    errors *= float(np.sqrt((1 - alike) / (1 + alike)))
    if abs(np.expm1(change)) < STEP or errors < SURE:
        return None
    return Step(clear[at].day, float(np.exp(change)), errors)
