"""Moves that were made beside moves that were planned: where the frame stood, how late it came there, and what that cost."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAYS, day_of_date
from sundial.energy.production import TiltSurface
from sundial.plan.tilt_plan import TiltPlan
from sundial.plan.today import SAME
from sundial.record.entries import Move

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Made:
    """One planned setting: ``start`` the day on which the plan wants ``tilt``, and ``end`` the day before its next; ``done`` the day on
    which the frame came there (None: not in this time); ``late`` days, below zero where it came early; ``cost`` kWh against the plan."""

    start: date
    end: date
    tilt: float
    done: date | None
    late: int | None
    cost: float


@dataclass(frozen=True)
class Kept:
    """How a plan was kept: its settings since the log begins, and what was lost so far, kWh."""

    made: tuple[Made, ...]
    cost: float

    @property
    def last(self) -> Made | None:
        return self.made[-1] if self.made else None


def tilts_stood(moves: Sequence[Move], days: Sequence[date], zone: ZoneInfo) -> Floats:
    """The tilt at noon of each day (n,), degrees; before the first move, what it read then; NaN where that is not known."""
    found = np.full(len(days), np.nan)
    if not moves:
        return found
    ordered = sorted(moves, key=lambda move: move.at)
    if ordered[0].before is not None:
        found[:] = ordered[0].before
    for move in ordered:
        local = move.at.astimezone(zone)
        first = local.date() if local.hour < 12 else local.date() + timedelta(days=1)
        found[[day >= first for day in days]] = move.tilt
    return found


def tilt_at_times(moves: Sequence[Move], unix: Floats) -> Floats:
    """The tilt at Unix times (n,), degrees; NaN where it is not known."""
    ordered = sorted(moves, key=lambda move: move.at)
    if not ordered:
        return np.full(len(unix), np.nan)
    times = np.array([move.at.timestamp() for move in ordered])
    before = np.nan if ordered[0].before is None else ordered[0].before
    tilts = np.array([before, *(move.tilt for move in ordered)])
    found: Floats = tilts[np.searchsorted(times, unix, side="right")]
    return found


def kept(surface: TiltSurface, plan: TiltPlan, moves: Sequence[Move], zone: ZoneInfo, until: date) -> Kept:
    """The plan against what was done, from the first logged move until the end of the day before ``until``. Days on which nobody knows
    how it stood cost nothing."""
    if not moves or not plan.moves:
        return Kept((), 0.0)
    first = min(move.at for move in moves).astimezone(zone).date()
    if min(moves, key=lambda move: move.at).before is not None:
        first = _begin(plan, first)
    days = [first + timedelta(days=number) for number in range((until - first).days)]
    if not days:
        return Kept((), 0.0)
    stood = tilts_stood(moves, days, zone)
    wanted = np.array([plan.tilt_by_day[day_of_date(day)] for day in days])
    lost = np.array([_lost(surface, day, want, stand) for day, want, stand in zip(days, wanted, stood, strict=True)])
    edges = [0, *(np.flatnonzero(np.diff(wanted) != 0) + 1).tolist(), len(days)]
    made = []
    for low, high in zip(edges[:-1], edges[1:], strict=True):
        there = np.flatnonzero(np.abs(stood[low:high] - wanted[low]) <= SAME)
        done = days[low + int(there[0])] if there.size else None
        start = _begin(plan, days[low]) if low == 0 else days[low]
        late = (done - start).days if done is not None else None
        if late == 0:
            early = _early(moves, zone, start, float(wanted[low]))
            done, late = (early, (early - start).days) if early is not None else (done, late)
        made.append(Made(start, days[high - 1], float(wanted[low]), done, late, float(lost[low:high].sum())))
    return Kept(tuple(made), float(lost.sum()))


def _lost(surface: TiltSurface, day: date, wanted: float, stood: float) -> float:
    """kWh that a day gave less than under the plan; below zero where it gave more."""
    if np.isnan(stood) or wanted == stood:
        return 0.0
    energy = surface.energy[day_of_date(day)]
    return float(np.interp(wanted, surface.tilts, energy) - np.interp(stood, surface.tilts, energy))


def _begin(plan: TiltPlan, day: date) -> date:
    """The day on which the plan's setting of a day began."""
    number = day_of_date(day)
    start = min((stretch.start for stretch in plan.stretches), key=lambda at: (number - at) % DAYS)
    return day - timedelta(days=(number - start) % DAYS)


def _early(moves: Sequence[Move], zone: ZoneInfo, start: date, tilt: float) -> date | None:
    """The day before its start on which it was set to this tilt and left there, where there is one."""
    before = [move for move in moves if move.at.astimezone(zone).date() <= start]
    last = max(before, key=lambda move: move.at, default=None)
    if last is None or abs(last.tilt - tilt) > SAME:
        return None
    day = last.at.astimezone(zone).date()
    return day if (start - day).days <= 60 else None
