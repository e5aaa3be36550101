"""How many repeats show a gain at a scatter."""

from __future__ import annotations

from math import log, sqrt

from scipy import stats

from sundial.errors import BriefError

POWER = 0.8
MOST = 400


def power_of(repeats: int, gain: float, scatter: float, swapped: bool = True) -> float:
    """Chance that ``repeats`` paired repeats show a gain (a fraction) at 95 %, with ``scatter`` of the log ratio of one of them. With arms
    swapped half-way one degree of freedom goes to the panels. Source: power of Student's t by the noncentral t distribution."""
    free = repeats - (2 if swapped else 1)
    if free < 1:
        return 0.0
    edge = float(stats.t.ppf(0.975, free))
    away = abs(log(1 + gain)) / (scatter / sqrt(repeats))
    return float(stats.nct.sf(edge, free, away) + stats.nct.cdf(-edge, free, away))


def repeats_needed(gain: float, scatter: float, swapped: bool = True, power: float = POWER) -> int | None:
    """The fewest repeats (even where arms are swapped) that show the gain with that chance; None where 400 do not."""
    if gain <= -1 or gain == 0:
        raise BriefError("gain", "must be a gain or a loss other than nothing")
    if scatter <= 0:
        raise BriefError("scatter", "must be above 0")
    least, step = (4, 2) if swapped else (2, 1)
    for repeats in range(least, MOST + 1, step):
        if power_of(repeats, gain, scatter, swapped) >= power:
            return repeats
    return None
