"""Where a flap on a hinge may be left, and what the wind and the sun make of each place."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING

from sundial.mounts.places import place_on, usual_places
from sundial.wind.fixings import worst_fixing

if TYPE_CHECKING:
    from sundial.answers.wind.report import GustPoint
    from sundial.study import Study

OCCASIONS = (("night", "at night"), ("storm", "in a storm"), ("driving", "on the road"), ("away", "parked for a while"))


@dataclass(frozen=True)
class Place:
    """One ``tilt``, degrees, by ``name``; ``chosen`` for these occasions. ``stands``: the gust, m/s as told, with the factor in hand (None: none is
    named); ``uplift`` N and ``pull`` N of its worst fixing (None: none is told) at the strongest gust; ``a_day`` kWh where it is left there, a year's
    mean."""

    name: str
    tilt: float
    chosen: tuple[str, ...]
    stands: float | None
    uplift: float
    pull: float | None
    a_day: float


def places_of(study: Study, gust: float, points: Callable[[Sequence[float]], Sequence[GustPoint]]) -> tuple[Place, ...]:
    """Flat, half-way and steep, and every place that is chosen, flattest first, at a ``gust`` m/s as told; empty for what has no places."""
    mount, told = study.brief.mount, study.brief.bench.places
    usual = usual_places(mount)
    if not usual:
        return ()
    names = {tilt: name for name, tilt in usual}
    chosen: dict[float, list[str]] = {tilt: [] for tilt in names}
    for key, words in OCCASIONS:
        tilt = place_on(mount, getattr(told, key))
        if tilt is not None:
            chosen.setdefault(tilt, []).append(words)
    tilts = sorted(chosen)
    found = []
    for tilt, point in zip(tilts, points(tilts), strict=True):
        fixing = worst_fixing(study.scene, gust, tilt)
        made = study.held_year(tilt).year / 365
        found.append(
            Place(
                names.get(tilt, ""),
                tilt,
                tuple(chosen[tilt]),
                point.allowed,
                point.uplift,
                None if fixing is None else fixing.pull,
                made,
            )
        )
    return tuple(found)
