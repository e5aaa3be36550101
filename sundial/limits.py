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
    own: bool = False,
) -> PlanConstraints:
    """The constraints of a plan: of the brief's ``goal`` unless told, among the tilts that the frame reaches or ``every_tilt``; ``own``: those
    of the mount itself, so that what is held at one tilt has that one, whatever caps and floors would rather have. ``cap``: the
    highest tilt of each month (12,), None where nothing caps it; ``held``: the year of one tilt. BriefError where the goal cannot be met."""
    plan, stays = scene.brief.plan, own and held_tilt(scene) is not None
    tilts = own_tilts(scene) if own else WHOLE_DEGREES if every_tilt else scene.reachable
    return PlanConstraints(
        tilts=tilts,
        goal=goal or plan.goal,  # type: ignore[arg-type]
        months=tuple(plan.months or ()),
        demand=np.array(plan.demand) if plan.demand else None,
        cap=None if stays else _cap_of_plan(scene, cap),
        floor=np.array(plan.floor) if plan.floor and not stays else None,
        may_move=days_there(plan.weekdays, plan.year),
        slack=plan.slack,
        by=by,  # type: ignore[arg-type]
        judge=_judge(scene, needs(), held, tilts) if (goal or plan.goal) == "empty-days" else None,
    )


def held_tilt(scene: Scene) -> float | None:
    """The one tilt at which the panels of a scene stand all year: that of what does not move in tilt, or the only one that a frame moved by
    hand reaches; None where there are more."""
    mount = scene.brief.mount
    if mount.held_tilt is None and mount.hand == "tilt" and len(scene.reachable) == 1:
        return float(scene.reachable[0])
    return None if mount.held_tilt is None else float(mount.held_tilt)


def own_tilts(scene: Scene) -> Floats:
    """Tilts that the plan of the mount itself may choose from, rising: one for what is held at it, those of its axis for a hand-set axis."""
    mount, held = scene.brief.mount, held_tilt(scene)
    if held is not None:
        return np.array([held])
    return scene.reachable if mount.hand_axis is None else mount.hand_axis.set_tilts


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


def _judge(scene: Scene, needs: Needs, held: Callable[[float], Production], tilts: Floats) -> Judge:
    """What plans for the fewest empty days are judged by; BriefError where nothing can be empty, or there are too many tilts."""
    if needs.kind != "off-grid" or needs.generator is not None:
        raise BriefError("plan.goal", "the fewest empty days need an off-grid use without a generator (use.kind off-grid)")
    if len(tilts) > MOST_TILTS or scene.brief.mount.hand_axis is not None:
        raise BriefError(
            "plan.goal", f"the fewest empty days are found among at most {MOST_TILTS} tilts of a frame that is moved by hand"
        )
    return Judge(lambda: np.stack([held(float(tilt)).hourly for tilt in tilts]), needs)
