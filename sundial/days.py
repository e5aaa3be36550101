"""The 365-day year: days, months, dates. Day 0 is 1 January; 29 February does not exist here."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date, timedelta

import numpy as np
from numpy.typing import NDArray

from sundial.errors import BriefError

DAYS = 365
HOURS = 8760
MONTH_LENGTHS = (31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)
MONTH_NAMES = (
    "January",
    "February",
    "March",
    "April",
    "May",
    "June",
    "July",
    "August",
    "September",
    "October",
    "November",
    "December",
)
MONTH_STARTS: NDArray[np.int64] = np.concatenate([[0], np.cumsum(MONTH_LENGTHS)]).astype(np.int64)
MONTH_OF_DAY: NDArray[np.int64] = np.repeat(np.arange(12), MONTH_LENGTHS)
MONTH_OF_HOUR: NDArray[np.int64] = np.repeat(MONTH_OF_DAY, 24)
DAY_OF_HOUR: NDArray[np.int64] = np.repeat(np.arange(DAYS), 24)
NOMINAL_YEAR = 2023  # a year without 29 February; the sun's place on a date moves by under 0.25 degrees between years

JUNE_SOLSTICE = 171  # 21 June
DECEMBER_SOLSTICE = 354  # 21 December
MARCH_EQUINOX = 79  # 21 March
SEPTEMBER_EQUINOX = 265  # 23 September


def date_of_day(day: int, year: int = NOMINAL_YEAR) -> date:
    """The date of a day 0 to 364 in ``year`` (29 February is stepped over)."""
    nominal = date(NOMINAL_YEAR, 1, 1) + timedelta(days=int(day) % DAYS)
    return nominal.replace(year=year)


def day_of_date(when: date) -> int:
    """The day 0 to 364 of a date; 29 February counts as 28 February."""
    if (when.month, when.day) == (2, 29):
        return 58
    return (date(NOMINAL_YEAR, when.month, when.day) - date(NOMINAL_YEAR, 1, 1)).days


def month_day(day: int) -> str:
    """``MM-DD`` of a day 0 to 364."""
    return date_of_day(day).strftime("%m-%d")


def spoken_day(day: int) -> str:
    """``24 March`` of a day 0 to 364."""
    when = date_of_day(day)
    return f"{when.day} {MONTH_NAMES[when.month - 1]}"


def sum_by_month(daily: NDArray[np.float64]) -> NDArray[np.float64]:
    """Sum days (365, ...) into months (12, ...)."""
    return np.add.reduceat(daily, MONTH_STARTS[:-1], axis=0)


def per_day(monthly: Iterable[float] | float, path: str) -> NDArray[np.float64]:
    """Spread 12 monthly values, or one value, over the days (365,)."""
    return per_month(monthly, path)[MONTH_OF_DAY]


def per_month(values: Iterable[float] | float, path: str) -> NDArray[np.float64]:
    """12 monthly values (12,) from 12 values or one.

    Raises BriefError with ``path`` when there are neither 1 nor 12.
    """
    array = np.atleast_1d(np.asarray(values, dtype=float))
    if array.shape == (1,):
        array = np.repeat(array, 12)
    if array.shape != (12,):
        raise BriefError(path, f"must be one number or twelve (January to December), not {array.size}")
    if not np.isfinite(array).all():
        raise BriefError(path, "must be plain numbers")
    return array


def winter_days(latitude: float) -> NDArray[np.bool_]:
    """The half year around the local winter solstice (365,), True inside."""
    solstice = DECEMBER_SOLSTICE if latitude >= 0 else JUNE_SOLSTICE
    distance = np.abs((np.arange(DAYS) - solstice + 182) % DAYS - 182)
    return distance <= 91


def days_there(weekdays: list[int] | None, year: int) -> NDArray[np.bool_]:
    """Days of the year (365,) on which a move may fall."""
    if weekdays is None:
        return np.ones(DAYS, dtype=bool)
    if not weekdays:
        raise BriefError("plan.weekdays", "choose at least one day of the week")
    first = date(year, 1, 1)
    whole = [first + timedelta(days=d) for d in range(366)]
    dates = [d for d in whole if d.year == year and (d.month, d.day) != (2, 29)]
    return np.array([d.weekday() in weekdays for d in dates])
