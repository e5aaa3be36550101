"""The clock on the wall through the 8760 hours, which themselves go by standard time."""

from __future__ import annotations

from datetime import datetime, timedelta
from functools import lru_cache
from zoneinfo import ZoneInfo

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAYS, HOURS, date_of_day

Whole = NDArray[np.int64]


@lru_cache(maxsize=64)
def wall_hours(timezone: str, utc_offset: float, year: int) -> Whole:
    """Hour of the day (8760,), 0 to 23, that a clock on the wall shows at the start of each standard hour of ``year``; summer time as
    it stands at noon of the day."""
    zone = ZoneInfo(timezone)
    shift = np.empty(DAYS)
    for day in range(DAYS):
        noon = datetime.combine(date_of_day(day, year), datetime.min.time()) + timedelta(hours=12)
        away = noon.replace(tzinfo=zone).utcoffset() or timedelta()
        shift[day] = away.total_seconds() / 3600 - utc_offset
    hours = np.arange(HOURS) % 24 + np.repeat(np.rint(shift), 24)
    found: Whole = hours.astype(np.int64) % 24
    found.setflags(write=False)
    return found


@lru_cache(maxsize=64)
def weekdays(year: int) -> Whole:
    """Day of the week (365,), 0 Monday, of the days of ``year`` (29 February is stepped over)."""
    found = np.array([date_of_day(day, year).weekday() for day in range(DAYS)])
    found.setflags(write=False)
    return found
