"""The command ``cutting``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from dataclasses import asdict
from typing import TYPE_CHECKING, Any

from sundial.answers.command import Answer, Command

if TYPE_CHECKING:
    from sundial.cutting.cut_list import CutPiece
    from sundial.scene import Scene
    from sundial.study import Study


def cutting_answer(scene: Scene) -> Answer:
    """Pieces, the boards they come from, what to buy, parts, and the order of work."""
    from sundial.answers.cutting.report import ESTIMATE, cutting_report

    report = cutting_report(scene)
    plan, allowance = report.plan, scene.brief.cutting.mitre_allowance
    return {
        "pieces": [_piece(piece, allowance) for piece in plan.pieces],
        "cuts": [
            {
                "section": board.section, "length": board.length, "bought": board.bought, "price": board.price,
                "cuts": [{"piece": cut.key, "start": cut.start, "length": cut.extent} for cut in board.cuts], "rest": board.rest,
            }
            for board in plan.boards
        ],
        "strokes": plan.cuts,
        "buy": [asdict(one) for one in plan.buy],
        "waste": plan.waste,
        "kept": plan.kept,
        "on_hand": [{"section": one.section, "boards": len(one.boards), "total": one.total, "used": one.used} for one in report.on_hand],
        "cost": plan.cost,
        "gap": plan.gap,
        "length_gap": plan.length_gap,
        "missing": dict(plan.missing),
        "missing_gap": plan.missing_gap,
        "parts": [{**asdict(part), "bought": part.bought} for part in report.parts],
        "money": {
            "boards": report.boards_cost, "parts": report.parts_cost, "freight": report.freight, "tax": report.tax,
            "total": report.total, "unpriced_parts": report.unpriced,
        },
        "mass": report.mass,
        "minutes": report.minutes,
        "order": [asdict(step) for step in report.order],
        **({"longer": asdict(report.longer)} if report.longer else {}),
        "notes": [*report.notes, *([report.longer_trouble] if report.longer_trouble else [])],
        "sources": list(report.sources),
        "estimate": ESTIMATE,
    }  # fmt: skip


def _piece(piece: CutPiece, allowance: float) -> Answer:
    return {
        "letter": piece.letter, "name": piece.name, "section": piece.section, "length": piece.length, "toe": piece.toe,
        "heel": piece.heel, "extent": piece.extent(allowance), "angles": [piece.foot, piece.angle], "bevel": piece.bevel,
        "count": piece.count, "hand": piece.hand, "sides": list(piece.sides), "parts": len(piece.parts) or 1, "part_lengths": list(piece.parts), "holes": [asdict(hole) for hole in piece.holes],
        **({"tilt": piece.tilt} if piece.tilt is not None else {}),
    }  # fmt: skip


def _answer(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    return cutting_answer(study().scene)


COMMANDS = (Command("cutting", "what to saw from which board, what to buy, and the parts", _answer),)
