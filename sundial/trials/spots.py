"""Spot readings of two arms, minutes apart: each over the sun of its own minute. The weaker design: a cloud between two readings is a gain."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

import numpy as np

from sundial.errors import BriefError
from sundial.expected.moment import expected_series
from sundial.study import Study
from sundial.trials.model import Repeat

APART = 15.0  # minutes between two readings that still make a pair


@dataclass(frozen=True)
class Spot:
    """Watts of one arm (0 or 1) at a moment with an offset."""

    at: datetime
    arm: int
    watts: float


def repeats_of_spots(study: Study, spots: Sequence[Spot]) -> list[Repeat]:
    """Readings in turns (one arm, the other, ...) as repeats: each watt over the cloudless power of the build at its minute, times the mean of
    both, so that the sun's own way between them drops out. BriefError where no two of different arms lie within 15 minutes."""
    if not spots:
        raise BriefError("spots", "there are no readings")
    ordered = sorted(spots, key=lambda spot: spot.at)
    sun = expected_series(study, np.array([spot.at.timestamp() for spot in ordered]))
    repeats, place = [], 0
    while place + 1 < len(ordered):
        first, second = ordered[place], ordered[place + 1]
        if first.arm == second.arm or (second.at - first.at).total_seconds() > 60 * APART:
            place += 1
            continue
        if min(sun[place], sun[place + 1]) <= 0:
            raise BriefError("spots", f"at {first.at:%H:%M} the sun is down")
        middle = (sun[place] + sun[place + 1]) / 2
        given = {one.arm: one.watts * middle / sun[number] for number, one in ((place, first), (place + 1, second))}
        repeats.append(Repeat(a=float(given[0]), b=float(given[1]), spot=True, on=first.at.date()))
        place += 2
    if not repeats:
        raise BriefError("spots", f"no reading of one arm lies within {APART:g} minutes of one of the other")
    return repeats
