"""One day: what was measured on what this sun could give, with the shade and the tilt of its hours."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

import numpy as np
from numpy.typing import NDArray

from sundial.expected.flat import throttled
from sundial.expected.moment import expected_and_open, facing_at
from sundial.record.entries import Move
from sundial.record.moves import tilt_at_times
from sundial.record.series import Series
from sundial.study import Study

Floats = NDArray[np.float64]
EVERY = 300.0  # seconds between points of the expected


@dataclass(frozen=True)
class DayMade:
    """Local hours of the day (n,) and the cloudless power then with and without the shade, W; ``measured`` as (hour, W) pairs; spans of
    ``throttled`` hours; the tilt as (hour, degrees) from which it held; kWh measured and expected over the hours that were measured."""

    day: date
    hours: tuple[float, ...]
    expected: tuple[float, ...]
    unshaded: tuple[float, ...]
    measured: tuple[tuple[float, float], ...]
    throttled: tuple[tuple[float, float], ...]
    tilts: tuple[tuple[float, float], ...]
    kwh: float
    expected_kwh: float

    @property
    def share(self) -> float | None:
        """Of the cloudless day."""
        return self.kwh / self.expected_kwh if self.expected_kwh > 0 else None


def day_made(study: Study, day: date, series: Series | None, moves: Sequence[Move] = ()) -> DayMade:
    """A day of the site's own calendar. ``series``: rows of it, and of what lies beside it."""
    start = datetime(day.year, day.month, day.day, tzinfo=study.scene.site.zone)
    low, high = start.timestamp(), _next(start).timestamp()
    unix = np.asarray(np.arange(low, high, EVERY), dtype=np.float64)
    tilt = tilt_at_times(moves, unix)
    should, bare = expected_and_open(study, unix, tilt)
    hours = (unix - low) / 3600
    measured: list[tuple[float, float]] = []
    spans: list[tuple[float, float]] = []
    kwh = wanted = 0.0
    if series is not None:
        part = series.part((series.unix >= low) & (series.unix < high))
        if len(part.unix):
            middle = part.unix + part.step / 2
            then = np.asarray(np.interp(middle, unix, should), dtype=np.float64)
            held = throttled(part, then, np.zeros(len(part.unix), dtype=np.int64), fewest=1)
            spans = _spans((part.unix - low) / 3600, held.mask, part.step / 3600)
            measured = list(zip(((middle - low) / 3600).round(4).tolist(), part.power.round(1).tolist(), strict=True))
            kwh, wanted = float(part.energy.sum()) / 1000, float(then.sum()) * part.step / 3.6e6
    return DayMade(
        day, tuple(hours.round(4).tolist()), tuple(should.round(1).tolist()), tuple(bare.round(1).tolist()), tuple(measured),
        tuple(spans), _tilts(study, unix, tilt, hours), kwh, wanted,
    )  # fmt: skip


def _next(start: datetime) -> datetime:
    day = start.date() + timedelta(days=1)
    return datetime(day.year, day.month, day.day, tzinfo=start.tzinfo)


def _spans(hours: Floats, mask: NDArray[np.bool_], step: float) -> list[tuple[float, float]]:
    edges = np.flatnonzero(np.diff(np.concatenate([[False], mask, [False]]).astype(int)))
    pairs = zip(edges[::2], edges[1::2], strict=True)
    return [(round(float(hours[a]), 3), round(float(hours[b - 1] + step), 3)) for a, b in pairs]


def _tilts(study: Study, unix: Floats, told: Floats, hours: Floats) -> tuple[tuple[float, float], ...]:
    """The tilts of the day, each with the hour from which it held; the plan's where nobody logged any."""
    planned, _ = facing_at(study, unix)
    tilts = np.where(np.isnan(told), planned, told).round(1)
    at = np.flatnonzero(np.diff(tilts, prepend=np.nan) != 0)
    if len(at) > 12:  # a motor moves it all day
        return ()
    return tuple((round(float(hours[place]), 2), float(tilts[place])) for place in at)
