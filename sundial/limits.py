"""What a plan may choose from and is judged by, as a brief states it: its constraints, and the key that plans are kept under."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from sundial.balance.empty_days import MOST_TILTS, Judge
from sundial.balance.flows import Needs
from sundial.days import days_there
from sundial.energy.production import Production
from sundial.errors import BriefError
from sundial.mounts.kind import WHOLE_DEGREES
from sundial.plan.tilt_plan import PlanConstraints
from sundial.scene import Scene

Floats = NDArray[np.float64]
Cap = Callable[[], Floats | None]
FOLLOWS = ("months", "demand", "cap", "floor", "weekdays", "year", "slack")  # what, beside the goal, a plan follows from


def constraints_of(
    scene: Scene,
    needs: Callable[[], Needs],
    cap: Cap,
    held: Callable[[float], Production],
    every_tilt: bool = False,
    goal: str | None = None,
    by: str = "energy",
) -> PlanConstraints:
    """The constraints of a plan: of the brief's ``goal`` unless told, among the tilts that the frame reaches or ``every_tilt``. ``cap``: the
    highest tilt of each month (12,), None where nothing caps it; ``held``: the year of one tilt. BriefError where the goal cannot be met."""
    plan = scene.brief.plan
    return PlanConstraints(
        tilts=WHOLE_DEGREES if every_tilt else scene.reachable,
        goal=goal or plan.goal,  # type: ignore[arg-type]
        months=tuple(plan.months or ()),
        demand=np.array(plan.demand) if plan.demand else None,
        cap=_cap_of_plan(scene, cap),
        floor=np.array(plan.floor) if plan.floor else None,
        may_move=days_there(plan.weekdays, plan.year),
        slack=plan.slack,
        by=by,  # type: ignore[arg-type]
        judge=_judge(scene, needs(), held, every_tilt) if (goal or plan.goal) == "empty-days" else None,
    )


def key_of(scene: Scene, cap: Cap) -> str:
    """What plans of one surface differ by, beside goal and tilts."""
    brief, highest = scene.brief, _cap_of_plan(scene, cap)
    use = brief.use.model_dump_json() + str(brief.battery) if brief.plan.goal == "empty-days" else ""
    return use + brief.plan.model_dump_json(include=set(FOLLOWS)) + str(None if highest is None else highest.tolist())


def can_be_judged(scene: Scene, needs: Needs) -> bool:
    """Whether plans for the fewest empty days can be searched: off the grid, no generator, a hand that moves a few tilts."""
    few = 1 < len(scene.reachable) <= MOST_TILTS
    return needs.kind == "off-grid" and needs.generator is None and scene.brief.mount.hand_axis is None and few


def _cap_of_plan(scene: Scene, cap: Cap) -> Floats | None:
    """The cap that the plan obeys. A hinge's motor obeys the wind's caps by itself; the plan beside it, as if a hand moved the same
    panels, follows from the typed ones alone."""
    typed = scene.brief.plan.cap
    if scene.brief.mount.keeps_caps:
        return None if typed is None else np.array(typed)
    return cap()


def _judge(scene: Scene, needs: Needs, held: Callable[[float], Production], every_tilt: bool) -> Judge:
    """What plans for the fewest empty days are judged by; BriefError where nothing can be empty, or there are too many tilts."""
    if needs.kind != "off-grid" or needs.generator is not None:
        raise BriefError("plan.goal", "the fewest empty days need an off-grid use without a generator (use.kind off-grid)")
    tilts = scene.reachable
    if every_tilt or len(tilts) > MOST_TILTS or scene.brief.mount.hand_axis is not None:
        raise BriefError(
            "plan.goal", f"the fewest empty days are found among at most {MOST_TILTS} tilts of a frame that is moved by hand"
        )
    return Judge(lambda: np.stack([held(float(tilt)).hourly for tilt in tilts]), needs)
