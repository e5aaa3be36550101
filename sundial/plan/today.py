"""What to do today: the tilt that the plan wants now, and what moving there gains until its next move."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from sundial.days import DAYS
from sundial.energy.production import TiltSurface
from sundial.plan.tilt_plan import TiltPlan

SAME = 0.5  # degrees: nobody sets a frame closer


@dataclass(frozen=True)
class Today:
    """``tilt`` degrees by the plan; ``until`` the day of the next move (0 to 364), None where it is never moved; ``stands`` as the
    person says it stands, None where that is not known; ``gain`` kWh of moving it now, until then (or for a year); ``week``
    kWh that waiting another week would cost."""

    tilt: float
    until: int | None
    stands: float | None = None
    gain: float = 0.0
    week: float = 0.0

    @property
    def as_it_should(self) -> bool:
        """Whether it is known to stand where the plan wants it."""
        return self.stands is not None and abs(self.stands - self.tilt) <= SAME


COARSE = 10.0  # degrees between the tilts of :func:`weeks_of`
WEEKS = 53


@dataclass(frozen=True)
class Weeks:
    """kWh of a mean day of each week of the year (53) at a few ``tilts``: enough to say what a wrong tilt costs, and small."""

    tilts: tuple[float, ...]
    daily: tuple[tuple[float, ...], ...]

    def lost(self, wanted: float, stands: float, day: int) -> float:
        """kWh that the seven days from ``day`` on give less at ``stands`` than at ``wanted`` degrees."""
        found = 0.0
        for one in range(day, day + 7):
            row = self.daily[one % DAYS // 7]
            found += float(np.interp(wanted, self.tilts, row) - np.interp(stands, self.tilts, row))
        return found


def weeks_of(surface: TiltSurface) -> Weeks:
    """A tilt surface by weeks and every ten degrees."""
    tilts = np.arange(float(surface.tilts[0]), float(surface.tilts[-1]) + 1e-9, COARSE)
    place = np.arange(DAYS) // 7
    by_week = np.stack([surface.energy[place == week].mean(axis=0) for week in range(WEEKS)])
    daily = tuple(tuple(np.interp(tilts, surface.tilts, row).round(4).tolist()) for row in by_week)
    return Weeks(tuple(tilts.tolist()), daily)


def today(plan: TiltPlan, day: int) -> Today:
    """What the plan wants on a day of the year, where nothing is known of how it stands."""
    following = min((s.start for s in plan.stretches), key=lambda start: (start - day - 1) % DAYS)
    return Today(plan.tilt_by_day[day], following if plan.moves else None)


def today_from(surface: TiltSurface, plan: TiltPlan, day: int, stands: float) -> Today:
    """The same for a frame that stands at ``stands`` degrees; between the tilts of the plan's ``surface`` energy is linear."""
    wanted = today(plan, day)
    left = (wanted.until - day) % DAYS if wanted.until is not None else DAYS
    days = np.arange(day, day + (left or DAYS)) % DAYS
    by_tilt = surface.energy[days].sum(axis=0)
    gain = float(np.interp(wanted.tilt, surface.tilts, by_tilt) - np.interp(stands, surface.tilts, by_tilt))
    soon = np.arange(day, day + 7) % DAYS
    week = sum(
        float(
            np.interp(plan.tilt_by_day[one], surface.tilts, surface.energy[one])
            - np.interp(stands, surface.tilts, surface.energy[one])
        )
        for one in soon
    )
    return Today(wanted.tilt, wanted.until, stands, gain, week)
