"""What a brief's words about the mount and the days mean: tilts that can be reached, days on which somebody is there."""

from __future__ import annotations

from datetime import date, timedelta

import numpy as np
from numpy.typing import NDArray

from sundial.brief.model import SteppedMount
from sundial.days import DAYS, MONTH_OF_DAY
from sundial.errors import BriefError
from sundial.frames.kind import Structure

MOST_TILTS = 361
Floats = NDArray[np.float64]


def reachable_tilts(mount: SteppedMount, structure: Structure | None = None) -> Floats:
    """Tilts of a stepped mount, rising and without repeats: as it lists them, else as the ``structure`` of its frame says; refuses
    none, one, or tilts on the wrong side."""
    if mount.tilts is None and mount.min is None and mount.max is None and structure is not None and structure.says_tilts:
        return np.array(structure.tilts)
    if mount.tilts is not None:
        given = np.round(np.array(mount.tilts, dtype=float), 6)
    elif mount.min is not None and mount.max is not None:
        if mount.max < mount.min:
            raise BriefError("mount.max", f"must not be under mount.min ({mount.min:g})")
        if (mount.max - mount.min) / mount.step > MOST_TILTS - 1:
            raise BriefError("mount.step", f"gives more than {MOST_TILTS} tilts; take a larger step")
        given = np.round(np.arange(mount.min, mount.max + 1e-9, mount.step), 6)
    else:
        raise BriefError("mount.tilts", "give the list of tilts, or min and max, or a frame whose measures say them")
    if not given.size:
        raise BriefError("mount.tilts", "the list is empty: give every tilt that the frame reaches")
    if given.size > MOST_TILTS:
        raise BriefError("mount.tilts", f"holds {given.size} tilts; {MOST_TILTS} are the most")
    wrong = np.flatnonzero(given < 0)
    if wrong.size and not mount.both_sides:
        path = f"mount.tilts[{int(wrong[0])}]" if mount.tilts is not None else "mount.min"
        raise BriefError(path, "must be from 0 to 90 degrees (set both_sides where the frame leans to the other side)")
    if mount.tilts is not None and np.unique(given).size < given.size:
        repeated = next(float(t) for t in given if (given == t).sum() > 1)
        raise BriefError("mount.tilts", f"{repeated:g} is there twice: name each tilt once")
    tilts: Floats = np.unique(given)
    return tilts


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


def turned_days(weekdays: list[int] | None, months: list[int] | None, year: int) -> NDArray[np.bool_]:
    """Days of the year (365,) on which a hand turns the frame through the day."""
    for name, chosen in (("weekdays", weekdays), ("months", months)):
        if chosen is not None and not chosen:
            raise BriefError(f"mount.{name}", "choose at least one")
    done = days_there(weekdays, year)
    return done if months is None else done & np.isin(MONTH_OF_DAY + 1, months)
