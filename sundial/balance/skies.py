"""Other years of the same sky: its days drawn again from those of the same time of the year."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAYS, HOURS

YEARS = 10
NEAR = 12  # days before or after, from which a day is drawn
RUN = 10  # days that stay together: dull days come in rows


def resampled_days(seed: int, years: int = YEARS) -> NDArray[np.int64]:
    """Which day of the year stands for each day (years, 365): runs of 10 days, each moved by up to 12 days to either side. The same
    days for every way of holding the panels (common random numbers), so that what differs between ways is not chance. A moving-block
    bootstrap within the season: Kuensch 1989, doi 10.1214/aos/1176347265."""
    random = np.random.default_rng([seed, 1989])
    runs = -(-DAYS // RUN)
    moved = random.integers(-NEAR, NEAR + 1, size=(years, runs))
    days: NDArray[np.int64] = (np.arange(DAYS) + np.repeat(moved, RUN, axis=1)[:, :DAYS]) % DAYS
    return days


def in_year(hourly: NDArray[np.float64], days: NDArray[np.int64]) -> NDArray[np.float64]:
    """Hours (rows, 8760) of a year made of these days (365,)."""
    rows = len(hourly)
    found: NDArray[np.float64] = hourly.reshape(rows, DAYS, 24)[:, days].reshape(rows, HOURS)
    return found
