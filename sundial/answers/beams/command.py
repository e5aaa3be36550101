"""The command ``beams``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from dataclasses import asdict
from typing import TYPE_CHECKING, Any

from sundial.answers.command import Answer, Command
from sundial.errors import BriefError

if TYPE_CHECKING:
    from sundial.scene import Scene
    from sundial.study import Study


def beams_answer(scene: Scene) -> Answer:
    """Each beam against its limits, and what heat does to the row."""
    from sundial.answers.beams.report import beams_report
    from sundial.answers.wind.report import ESTIMATE

    if not scene.brief.beams:
        raise BriefError("beams", "is empty: name at least one beam")
    report = beams_report(scene)
    return {
        "beams": [asdict(one) for one in report.beams],
        "notes": list(report.notes),
        "own": [asdict(one) for one in report.own],
        "heat_gaps": [asdict(one) for one in report.heat],
        "sources": list(report.sources),
        "estimate": ESTIMATE,
    }


def _answer(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    return beams_answer(study().scene)


COMMANDS = (Command("beams", "whether beams bend or strain too much", _answer),)
