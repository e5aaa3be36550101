"""What of a build's whole cost is told elsewhere: boards and parts, panels, hours at the saw."""

from __future__ import annotations

from dataclasses import dataclass

from sundial.scene import Scene


@dataclass(frozen=True)
class KnownCost:
    """``amount`` of money for ``what``; ``open``: things in it that have no price yet."""

    what: str
    amount: float
    open: int = 0


def known_costs(scene: Scene, frame: float | None, unpriced: int = 0, minutes: float = 0.0) -> tuple[KnownCost, ...]:
    """What is known of the cost of a scene's build: ``frame`` money for boards, parts, freight and tax (None: not worked out), of which ``unpriced``
    parts have no price, and ``minutes`` at saw and drill, counted where hours are."""
    worth, plan, count = scene.brief.worth, scene.brief.plan, scene.array.count
    found = []
    if frame:
        found.append(KnownCost("boards, parts, freight and tax", frame, unpriced))
    if worth.panel_cost is not None:
        found.append(KnownCost(f"{count} panel{'' if count == 1 else 's'}", count * worth.panel_cost))
    if worth.count_hours and minutes and plan.value_of_hour:
        found.append(KnownCost("hours at saw and drill", minutes / 60 * plan.value_of_hour))
    return tuple(found)
