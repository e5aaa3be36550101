"""The order of work for a kind of frame: what to do, what to check, and one caution where it can hurt somebody."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Any

from sundial.cutting.cut_list import CutPiece
from sundial.cutting.parts import kind_of, material_of
from sundial.wind.site import stand_in

if TYPE_CHECKING:
    from sundial.scene import Scene

WARM = (10.0, 25.0, 40.0, 55.0)  # degC of a panel at which its voltage is told
MINUTES = {"cut": 6.0, "hole": 3.0, "piece": 2.0}  # of sawing and drilling, with measuring and marking (thumb)


@dataclass(frozen=True)
class WorkStep:
    """One step; ``check`` says when it is done well."""

    key: str
    do: str
    check: str
    caution: str = ""


@cache
def _data() -> dict[str, Any]:
    found: dict[str, Any] = json.loads((Path(__file__).parent / "data" / "order.json").read_text("utf-8"))
    return found


def order_of_work(scene: Scene, pieces: Sequence[CutPiece]) -> list[WorkStep]:
    """Steps in their order, for this kind of frame, what it stands on and how its panels are held."""
    facts: dict[str, set[str]] = {
        "kinds": {kind_of(scene)},
        "stands": {stand_in(scene).rules},
        "fixing": {scene.brief.cutting.fixing},
        "pieces": {piece.name for piece in pieces},
        "base": {"yes" if scene.brief.cutting.base else "no"},
        "material": {material_of(piece.section) for piece in pieces},
    }
    found = []
    for step in _data()["steps"]:
        if all(set(step[key]) & held for key, held in facts.items() if step.get(key)):
            check = expected_voltage(scene) if step["check"] == "VOLTS" else step["check"]
            found.append(WorkStep(step["key"], step["do"], check, step.get("caution", "")))
    return found


def expected_voltage(scene: Scene) -> str:
    """What a voltmeter shows on one panel, by how warm it is: Voc (1 + beta (T - 25))."""
    label = scene.brief.electrics
    if label is None:
        return "All of them within a volt of each other; one that is a third lower has a section gone."
    told = ", ".join(f"{label.voc * (1 + label.beta * (warm - 25)):.1f} V at {warm:.0f} °C" for warm in WARM)
    return f"In full sun {told}; a third lower, and a section of it is gone."


def work_minutes(cuts: int, pieces: Sequence[CutPiece]) -> float:
    """Minutes at the saw and the drill."""
    holes = sum(len(piece.holes) * piece.count for piece in pieces)
    return MINUTES["cut"] * cuts + MINUTES["hole"] * holes + MINUTES["piece"] * sum(piece.count for piece in pieces)


def in_words(minutes: float) -> str:
    """How long that is, as people plan a day."""
    hours = minutes / 60
    for most, words in (
        (0.75, "half an hour"),
        (1.5, "an hour"),
        (2.5, "two hours"),
        (4.0, "an afternoon"),
        (6.0, "a long afternoon"),
        (9.0, "a day"),
    ):
        if hours <= most:
            return words
    return f"{hours / 8:.0f} days" if hours > 12 else "a day and a half"
