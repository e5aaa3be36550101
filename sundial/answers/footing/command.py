"""The command ``footing``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from dataclasses import asdict
from typing import TYPE_CHECKING, Any

from sundial.answers.command import Answer, Command

if TYPE_CHECKING:
    from sundial.scene import Scene
    from sundial.study import Study


def footing_answer(scene: Scene) -> Answer:
    """Loads of a foot, what they need, and whether what is there is enough."""
    from sundial.answers.footing.report import footing_report
    from sundial.answers.wind.report import ESTIMATE

    report = footing_report(scene)
    return {
        "kind": report.kind,
        "load_per_foot": report.load.down,
        "pull_per_foot": report.load.up,
        "level_per_foot": report.load.level,
        "feet": report.load.feet,
        "rows": [asdict(row) for row in report.rows],
        "load_height": report.load_height,
        "bearing": {"pressure": report.bearing, "allowed": report.allowed},
        "uplift_margin": report.uplift_margin,
        "depth": report.depth,
        "depth_for": {"lateral": report.lateral, "uplift": report.uplift, "frost": report.frost},
        "level_capacity": report.level_capacity,
        "enough": report.enough,
        "why": report.why,
        "soil": report.soil,
        "snow": {"on_glass": report.snow_on_glass, "pile": report.snow_pile},
        "drip": list(report.drip),
        "settling": [{**asdict(one), "uneven": one.uneven} for one in report.settling],
        "remedy": report.remedy,
        "notes": list(report.notes),
        "sources": list(report.sources),
        "estimate": ESTIMATE,
    }


def _answer(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    return footing_answer(study().scene)


COMMANDS = (Command("footing", "what each foot bears, and what holds it", _answer),)
