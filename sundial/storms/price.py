"""What the wind's caution costs: the plan under all caps against the plan under none, month by month."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from sundial.days import sum_by_month
from sundial.energy.production import produce
from sundial.mounts.facing import no_steeper
from sundial.plan.tilt_plan import make_plans
from sundial.wind.caps import FREE, Safe

if TYPE_CHECKING:
    from sundial.study import Study

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class CapsPrice:
    """kWh that the caps of all months cost, in the ``year`` and in each of the ``months`` (12): a month may gain where a stretch now
    lies better for it. ``in_force``: the same for the caps that the plan obeys now."""

    year: float
    months: tuple[float, ...]
    in_force: float


def caps_of_months(safe: Safe) -> Floats:
    """The highest tilt allowed in each month (12,); the flattest where none is."""
    flattest = float(np.abs(safe.tilts).min())
    found: Floats = np.where(np.isnan(safe.highest), flattest, safe.highest)
    return found


def caps_price(study: Study, safe: Safe) -> CapsPrice | None:
    """What caps cost a build whose tilt a hand or a hinge's motor changes; None for others."""
    typed = study.brief.plan.cap
    by_hand = FREE * np.ones(12) if typed is None else np.array(typed)
    each = np.minimum(by_hand, caps_of_months(safe))
    if study.brief.mount.keeps_caps:
        free, capped, now = (_hinged(study, cap) for cap in (by_hand, each, by_hand if study.cap is None else study.cap))
    elif study.brief.mount.hand == "tilt" or study.hand_axis is not None:
        free, capped = (_planned(study, cap) for cap in (by_hand, each))
        now = free if study.cap is None else _planned(study, study.cap)
    else:
        return None
    lost = free - capped
    return CapsPrice(float(lost.sum()), tuple(lost.tolist()), float((free - now).sum()))


def _planned(study: Study, cap: Floats) -> Floats:
    """kWh by month (12,) of the exact plan under a cap, once for the same energies, constraints and cap."""
    settings = study.brief.plan.settings
    key = ("by month", settings, tuple(cap.tolist()), study.brief.plan.model_dump_json())
    found: Floats = study.cache.get("plans", key, lambda: _by_month(study, cap))
    return found


def _by_month(study: Study, cap: Floats) -> Floats:
    limits = replace(study.constraints(), tilts=study.plan_tilts, cap=None if (cap >= FREE).all() else cap)
    settings, surface = study.brief.plan.settings, study.plan_surface
    plan = make_plans(surface, limits, study.scene.site.latitude, settings).with_settings(settings)
    columns = np.searchsorted(surface.tilts, np.array(plan.tilt_by_day) - 1e-9)
    by_month: Floats = sum_by_month(surface.energy[np.arange(len(columns)), columns])
    return by_month


def _hinged(study: Study, cap: Floats) -> Floats:
    """kWh by month (12,) of a hinge that its motor keeps under a cap, once for the same energies and cap."""
    key = ("hinged by month", tuple(cap.tolist()))
    found: Floats = study.cache.get("plans", key, lambda: _hinged_by_month(study, cap))
    return found


def _hinged_by_month(study: Study, cap: Floats) -> Floats:
    brief = study.brief
    free = brief.model_copy(update={"wind": None, "plan": brief.plan.model_copy(update={"cap": None})})
    facing, drive = replace(study, scene=replace(study.scene, brief=free)).own_facing
    return produce(study.scene.light, study.scene.system, no_steeper(facing, cap), drive, study.scene.shade).by_month
