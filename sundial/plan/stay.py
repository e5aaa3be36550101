"""A short stay: whether it is worth raising the panels for a few days."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAYS
from sundial.energy.production import TiltSurface
from sundial.errors import BriefError

Floats = NDArray[np.float64]
DAYLIGHT = 10.0  # hours over which a day's light is spread when a person stands before it: a planning figure


@dataclass(frozen=True)
class Stay:
    """``flat`` and ``tilted`` kWh of the whole stay, the latter at ``best_tilt``; ``own_shadow`` kWh that one person who stands before
    the glass for the minutes of the work keeps off; ``break_even_days``: the shortest stay from that date that gains the worth
    of a visit (None: none within a year)."""

    flat: float
    tilted: float
    best_tilt: float
    minutes: float
    own_shadow: float
    break_even_days: int | None

    @property
    def gain(self) -> float:
        """kWh that tilting gains, nobody standing in the light."""
        return self.tilted - self.flat

    @property
    def gain_with_shadow(self) -> float:
        """The same with the person's own shadow on the glass while they work."""
        return self.gain - self.own_shadow

    @property
    def gain_per_minute(self) -> float | None:
        return self.gain / self.minutes if self.minutes > 0 else None


def stay(surface: TiltSurface, tilts: Floats, first: int, days: int, minutes: float, worth: float | None = None) -> Stay:
    """From day ``first`` (0 to 364) for ``days`` days: lying flat against the best of the reachable ``tilts`` (T,); ``minutes`` to raise
    and lower; ``worth`` kWh for which a visit is worth the work (left out: what the work's own shadow takes)."""
    if not 1 <= days <= DAYS:
        raise BriefError("--days", f"must be from 1 to {DAYS}")
    if not 0 <= minutes <= 1440:
        raise BriefError("--minutes", "must be from 0 to 1440")
    order = (first + np.arange(DAYS)) % DAYS
    held = np.stack([surface.daily(float(tilt))[order] for tilt in tilts], axis=1)
    flat = surface.daily(0.0)[order]
    sums = held[:days].sum(axis=0)
    best = int(sums.argmax())
    shadow = float(held[:days, best].mean()) * minutes / 60 / DAYLIGHT
    gained = (held.cumsum(axis=0) - flat.cumsum()[:, None]).max(axis=1)
    enough = np.flatnonzero(gained >= (shadow if worth is None else worth))
    return Stay(
        float(flat[:days].sum()), float(sums[best]), float(tilts[best]), minutes, shadow,
        int(enough[0]) + 1 if enough.size else None,
    )  # fmt: skip
