"""What to do before tomorrow's wind."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import TYPE_CHECKING

import numpy as np

from sundial.days import day_of_date
from sundial.wind.pressure import surroundings_named
from sundial.wind.site import wind_of

if TYPE_CHECKING:
    from sundial.answers.wind.report import WindReport
    from sundial.study import Study

CLOSE = 0.9  # of the gust at which it must be laid down: from here it is watched


@dataclass(frozen=True)
class Advice:
    """``todo``: "stay", "watch", "lower" (to ``tilt``), "flat", or "beyond" where it does not stand even when flat. ``gust`` m/s that was
    reckoned with, ``from_mean`` where it was made of the mean wind; ``stands_at`` degrees now; ``limit`` m/s there, None: none is known."""

    todo: str
    gust: float
    from_mean: bool
    factor: float
    stands_at: float
    tilt: float
    limit: float | None
    minutes: float
    people: int
    by: str


def forecast_advice(
    study: Study, report: WindReport, mean: float | None, gust: float | None, day: date, stands_at: float | None = None
) -> Advice:
    """What to do with a build that stands at ``stands_at`` (by its plan, where that is not told) before a forecast ``mean`` or ``gust``,
    m/s: the highest of its tilts that stands it with the factor in hand."""
    factor = surroundings_named(wind_of(study.scene).surroundings).gust_factor
    told = gust if gust is not None else (mean or 0.0) * factor
    facing, _ = study.own_facing
    planned = float(np.abs(facing.surface_tilt).reshape(-1, 24)[day_of_date(day)].max())
    now = planned if stands_at is None else stands_at
    own, position = report.own, report.position
    here = min(own, key=lambda point: abs(point.tilt - now))
    allowed = [point for point in own if point.tilt <= now + 0.01 and (point.allowed is None or point.allowed >= told)]
    if here.allowed is None or here.allowed >= told:
        close = here.allowed is not None and told > CLOSE * here.allowed
        return _advice("watch" if close else "stay", told, gust is None, factor, here.tilt, here.tilt, here.allowed, report)
    if position.by == "nothing" or not allowed:
        return _advice("beyond", told, gust is None, factor, here.tilt, own[0].tilt, here.allowed, report)
    best = allowed[-1]
    todo = "flat" if best is own[0] else "lower"
    return _advice(todo, told, gust is None, factor, here.tilt, best.tilt, here.allowed, report)


def _advice(
    todo: str, gust: float, from_mean: bool, factor: float, now: float, tilt: float, limit: float | None, report: WindReport
) -> Advice:
    position = report.position
    return Advice(todo, gust, from_mean, factor, now, tilt, limit, position.minutes, position.people, position.by)
