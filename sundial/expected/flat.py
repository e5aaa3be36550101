"""Hours in which a meter shows demand or a limit and not the sun: power that stays level while the sun goes on."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.record.series import Series

Floats = NDArray[np.float64]
LEVEL = 0.012  # range over its top within which power counts as level
LONG = 1500.0  # seconds for which it must be
UNDER = 0.93  # of the expected: level power over it may be the sun's own
GOES_ON = 0.03  # by which the expected must change meanwhile
HIGH = 0.25  # of the series' top: less is no limit that costs anything
NEAR = 0.02  # levels of different days within this are one limit
FEWEST = 6  # intervals of one stretch
DAYS = 3  # on which a limit must show


@dataclass(frozen=True, eq=False)
class Throttled:
    """``mask`` (n,) of the intervals; ``limit`` W where most of them lie at one level (None: at many, as of a full battery under loads);
    ``days`` on which it shows, ``minutes`` in all, kWh that the sun would have given on top."""

    mask: NDArray[np.bool_]
    limit: float | None
    days: int
    minutes: float
    lost: float


def throttled(series: Series, expected: Floats, day: NDArray[np.int64], fewest: int = DAYS) -> Throttled:
    """Level stretches under what the sun would give while it rises or sinks; where they share one level, all that lies at it. On fewer than
    three days (``fewest``) they may be chance: those do not count."""
    power, under = series.power, series.power < UNDER * expected
    mask = _level(series, expected) & under
    limit, days = None, np.unique(day[mask])
    if mask.any():
        values = power[mask]
        middle = float(np.median(values))
        at = np.abs(values - middle) <= NEAR * middle
        if at.mean() >= 0.7 and len(np.unique(day[mask][at])) >= fewest:
            limit = float(np.median(values[at]))
            mask = (np.abs(power - limit) <= LEVEL * limit) & under  # at noon too, when the sun itself stands level
            days = np.unique(day[mask])
    if len(days) < fewest:
        return Throttled(np.zeros(len(power), dtype=bool), None, 0, 0.0, 0.0)
    lost = float((expected[mask] - power[mask]).sum()) * series.step / 3.6e6
    return Throttled(mask, limit, len(days), float(mask.sum()) * series.step / 60, lost)


def _level(series: Series, expected: Floats) -> NDArray[np.bool_]:
    """Intervals (n,) of stretches through which power stays level while the expected does not."""
    power = series.power
    size = max(FEWEST, round(LONG / series.step) + 1)
    mask = np.zeros(len(power), dtype=bool)
    if len(power) < size:
        return mask
    windows, should = (np.lib.stride_tricks.sliding_window_view(values, size) for values in (power, expected))
    whole = series.unix[size - 1 :] - series.unix[: len(windows)] <= (size - 1) * series.step + 1
    top, sun = windows.max(axis=1), should.max(axis=1)
    level = (top - windows.min(axis=1) <= LEVEL * top) & (top > HIGH * float(power.max())) & whole
    level &= sun - should.min(axis=1) > GOES_ON * sun
    for start in np.flatnonzero(level):
        mask[start : start + size] = True
    return mask
