"""The season that counts for a build."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.days import MONTH_NAMES, MONTH_OF_DAY, winter_days
from sundial.scene import Scene


@dataclass(frozen=True, eq=False)
class Season:
    """``days`` (365,) that are in it, and its ``name``."""

    days: NDArray[np.bool_]
    name: str


def season_of_need(scene: Scene) -> Season:
    """The months the plan's goal names, or the winter half of the year."""
    plan = scene.brief.plan
    if plan.goal == "months" and plan.months:
        chosen = sorted(set(plan.months))
        names = ", ".join(MONTH_NAMES[month - 1][:3] for month in chosen)
        return Season(np.isin(MONTH_OF_DAY + 1, chosen), f"in {names}" if len(chosen) < 12 else "in the year")
    return Season(winter_days(scene.site.latitude), "in the winter half-year")
