"""Whether moving by hand is worth advising: no stretch of a few days, and no gain that may as well be nought."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from sundial.plan.tilt_plan import Plans, TiltPlan

SHORTEST = 10  # days: nobody goes out for less (manual, chapter 9)
RangeOfGain = Callable[[TiltPlan, TiltPlan], tuple[float, float]]


@dataclass(frozen=True)
class Advice:
    """``do`` it or leave it, and ``why`` in words. ``settings``: how many of those wanted are worth having; ``gain`` (as the goal counts: kWh, or
    days) of these over the one setting, or of the wanted ones where none is worth having, with its range P10 to P90 (None: counted, not
    estimated); ``tilt`` to leave it at."""

    do: Literal["move", "leave"]
    settings: int
    gain: float
    range: tuple[float, float] | None
    tilt: float | None
    why: str


def advise(plans: Plans, wanted: int, range_of: RangeOfGain) -> Advice:
    """What to advise to somebody who wants ``wanted`` settings a year. ``range_of`` gives P10 and P90 of what one plan gains over another, as
    the goal counts."""
    chosen, base = plans.with_settings(wanted), plans.simplest
    if base.moves:
        return Advice(
            "move", wanted, chosen.goal_value - base.goal_value, None, None, "The caps and floors leave no single tilt."
        )
    tilt = base.stretches[0].tilt
    at = _degrees(tilt)
    if len(plans.constraints.tilts) == 1:
        return Advice("leave", 1, 0.0, None, tilt, f"The frame has one position, {at}.")
    days = plans.constraints.goal == "empty-days"
    worth = base
    for plan in plans.plans[1:wanted]:
        if plan is not None and _pays(plan, worth, range_of, days):
            worth = plan
    if not worth.moves:
        return _leave(chosen, base, None if days else range_of(chosen, base), tilt)
    gain = worth.goal_value - base.goal_value
    said = f"{_times(worth.settings).capitalize()} {'spare' if days else 'add'} {_amount(gain, days)}"
    found = None if days else range_of(worth, base)
    if found is not None:
        said += f", eight years in ten {found[0]:.0f} to {found[1]:.0f}"
    if worth.settings < chosen.settings and chosen.goal_value > worth.goal_value + 1e-9:
        more = chosen.goal_value - worth.goal_value
        said += f"; {_times(chosen.settings)} hardly pay: {_amount(more, days)} more, {_reason(chosen, worth, range_of, days)}"
    return Advice("move", worth.settings, gain, found, None, said + ".")


def _pays(plan: TiltPlan, before: TiltPlan, range_of: RangeOfGain, days: bool) -> bool:
    gain = plan.goal_value - before.goal_value
    if gain <= 0 or _shortest(plan) < SHORTEST:
        return False
    return days or range_of(plan, before)[0] > 0


def _leave(chosen: TiltPlan, base: TiltPlan, found: tuple[float, float] | None, tilt: float) -> Advice:
    gain = chosen.goal_value - base.goal_value
    if chosen.settings == 1 or gain <= 0:
        return Advice("leave", 1, max(gain, 0.0), None, tilt, f"Leave it at {_degrees(tilt)}: moving it adds nothing.")
    would = f"Leave it at {_degrees(tilt)}: moving it would {'spare' if found is None else 'add'} {_amount(gain, found is None)}"
    if found is not None and found[0] <= 0:
        why = f"{would}, and eight years in ten that is {found[0]:.0f} to {found[1]:.0f}."
    else:
        why = f"{would}, for a stretch of only {_shortest(chosen)} days."
    return Advice("leave", 1, gain, found, tilt, why)


def _reason(chosen: TiltPlan, worth: TiltPlan, range_of: RangeOfGain, days: bool) -> str:
    if _shortest(chosen) < SHORTEST:
        return f"with a stretch of {_shortest(chosen)} days"
    if days:
        return "as good as none"
    low, high = range_of(chosen, worth)
    return f"eight years in ten {low:.0f} to {high:.0f}"


def _shortest(plan: TiltPlan) -> int:
    return min(stretch.days for stretch in plan.stretches)


def _amount(gain: float, days: bool) -> str:
    return f"{gain:.0f} empty day{'' if round(gain) == 1 else 's'}" if days else f"{gain:.0f} kWh"


def _degrees(tilt: float) -> str:
    return f"{tilt:.1f}".removesuffix(".0") + "°"


def _times(settings: int) -> str:
    words = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")
    return f"{words[settings]} settings a year"
