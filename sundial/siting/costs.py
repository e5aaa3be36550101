"""What shade costs, obstacle by obstacle."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.days import sum_by_month
from sundial.energy.production import Production, produce
from sundial.energy.shaded import SKYLINE, Shade
from sundial.progress import Report, unwatched
from sundial.shade.rays import OWN
from sundial.siting.season import Season, season_of_need
from sundial.study import Study

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class ShadeCost:
    """One obstacle: kWh a year and in the season of need that come back when it alone is gone; its ``share`` of all that
    is lost, kWh a year, such that the shares of all obstacles add up; and what comes back by month (12)."""

    name: str
    kwh: float
    season: float
    share: float
    by_month: tuple[float, ...]


def shade_costs(study: Study, report: Report = unwatched) -> tuple[ShadeCost, ...]:
    """What every obstacle costs of a build, dearest first, each computed with that obstacle removed and the plan held.

    ``report`` is told how many obstacles are done, of how many. The share of a thing is the mean of what it takes as the first in an open yard and as the last among the others,
    scaled so that all add up to the loss: for two things exactly their Shapley value.
    """
    shade = study.scene.shade
    if shade is None:
        return ()
    facing, drive = study.own_facing
    season, names = season_of_need(study.scene), owners(shade)
    everything = frozenset(names)

    def year(without: frozenset[str]) -> Production:
        return produce(study.scene.light, study.scene.system, facing, drive, shade, without)

    made, bare = year(frozenset()), produce(study.scene.light, study.scene.system, facing, drive)
    last, first = {}, {}
    for number, name in enumerate(names):
        report(number, len(names))
        last[name] = year(frozenset({name}))
        first[name] = bare.year - (year(everything - {name}).year if len(names) > 1 else made.year)
    report(len(names), len(names))
    weight = {name: max(0.0, (first[name] + last[name].year - made.year) / 2) for name in names}
    scale = (bare.year - made.year) / sum(weight.values()) if sum(weight.values()) > 0 else 0.0
    costs = [_cost(name, made, last[name], season, weight[name] * scale) for name in names]
    return tuple(sorted(costs, key=lambda cost: -cost.kwh))


def owners(shade: Shade) -> list[str]:
    """Everything that may stand in the way, by name."""
    names = [thing.name for thing in shade.yard.things] + [part.name for part in shade.geometry.spot.parts]
    if shade.geometry.groups > 1:
        names.append(OWN)
    return [*names, SKYLINE] if shade.skyline is not None else names


def _cost(name: str, made: Production, gone: Production, season: Season, share: float) -> ShadeCost:
    back = gone.energy - made.energy
    return ShadeCost(name, float(back.sum()), float(back[season.days].sum()), share, tuple(sum_by_month(back).tolist()))
