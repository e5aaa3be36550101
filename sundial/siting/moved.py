"""What shade moves in a tilt plan, and which thing moves it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from sundial.days import DAYS, DECEMBER_SOLSTICE, JUNE_SOLSTICE, spoken_day
from sundial.energy.production import TiltSurface, tilt_surface
from sundial.plan.tilt_plan import TiltPlan, make_plans
from sundial.study import Study

WORTH_SAYING = 1.0  # kWh a year that the open sky's angle would cost here: with less the angles are as good as equal
LOOKED_AT = 3  # things that catch most light are asked whether they are the cause


@dataclass(frozen=True)
class PlanShade:
    """What shade does to a plan: kWh a year of the plan that an open sky would ask for, under that sky, and what has
    moved, in words ("" where nothing has)."""

    open_energy: float
    words: str


def plan_shade(study: Study, open_sky: Study | None = None) -> PlanShade | None:
    """What shade does to a build's plan, None where nothing stands in the way. ``open_sky``: the study of the same build
    without it, where it is known."""
    if study.scene.shade is None:
        return None
    chosen = study.own_plans.with_settings(study.brief.plan.settings)
    bare = (open_sky or study.open_sky).own_plans.with_settings(study.brief.plan.settings)
    winter = DECEMBER_SOLSTICE if study.scene.site.latitude >= 0 else JUNE_SOLSTICE
    for day, season in ((winter, "winter"), ((winter + 182) % 365, "summer")):
        before, after = bare.tilt_by_day[day], chosen.tilt_by_day[day]
        if abs(before - after) >= 0.5 and _costs(study, chosen, day, before) >= WORTH_SAYING:
            angle = f"your {season} angle" if chosen.moves else "your angle"
            whose = _cause(study, day, before, after)
            return PlanShade(bare.energy, f"{whose} moves {angle} from {before:.3g}° to {after:.3g}°.")
    moved = _moved(bare, chosen)
    return PlanShade(bare.energy, f"Shade {moved}" if moved else "")


def _costs(study: Study, chosen: TiltPlan, day: int, tilt: float) -> float:
    """kWh a year lost by holding ``tilt`` through the chosen plan's stretch around ``day``."""
    stretch = next(s for s in chosen.stretches if (day - s.start) % DAYS < s.days)
    days = (stretch.start + np.arange(stretch.days)) % DAYS
    surface = study.plan_surface
    return float((surface.daily(stretch.tilt) - surface.daily(tilt))[days].sum())


def _moved(bare: TiltPlan, chosen: TiltPlan) -> str:
    """The first move that shade has put off or brought forward by five days or more."""
    if len(bare.stretches) != len(chosen.stretches) or not chosen.moves:
        return ""
    for before, after in zip(bare.stretches, chosen.stretches, strict=True):
        if abs((after.start - before.start + 182) % 365 - 182) >= 5:
            return f"moves a change of angle from {spoken_day(before.start)} to {spoken_day(after.start)}."
    return ""


def _surface_without(study: Study, name: str) -> TiltSurface:
    """The array's own tilt surface recomputed with one obstacle removed."""
    scene, gone = study.scene, frozenset({name})

    def made() -> TiltSurface:
        return tilt_surface(scene.light, scene.system, scene.azimuth, study.surface().tilts, scene.shade, gone)

    return study.cache.get("without", name, made)


def _cause(study: Study, day: int, before: float, after: float) -> str:
    """The thing without which the angle of ``day`` would go most of the way back, in words that can begin a sentence."""
    shade = study.scene.shade
    if shade is None or study.hand_axis is not None:
        return "Shade"
    goal = "winter" if study.brief.plan.goal == "empty-days" else None  # whose judge knows the tilts with all that stands there
    around = np.abs((np.arange(DAYS) - day + 182) % DAYS - 182) <= 60
    caught = shade.caught(abs(after), study.scene.azimuth, around)
    for name in sorted(caught, key=lambda owner: -caught[owner])[:LOOKED_AT]:
        plans = make_plans(
            _surface_without(study, name), study.constraints(goal=goal), study.scene.site.latitude, study.brief.plan.settings
        )
        if abs(plans.with_settings(study.brief.plan.settings).tilt_by_day[day] - before) <= abs(before - after) / 2:
            return name if name.lower().startswith("the ") else f"“{name}”"
    return "Shade"
