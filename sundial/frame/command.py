"""The command ``frame``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from sundial.command import Answer, Command

if TYPE_CHECKING:
    from sundial.study import Study


def frame_answer(study: Study) -> Answer:
    """Holes with what sets them, pieces, edges, and how it truly stands on its ground."""
    from sundial.frame.report import frame_report

    report = frame_report(study)
    steepest = report.standings[-1]
    answer: Answer = {
        "kind": report.kind,
        "holes": [
            {
                "hole": one.hole,
                "tilt": one.tilt,
                **one.set_by,
                "true_tilt": one.true_tilt,
                "true_azimuth": one.true_azimuth,
                "lower_edge": one.lower_edge,
                "upper_edge": one.upper_edge,
                "off_for_5_mm": one.error,
                "inclinometer": one.readings,
                "loosened": one.loosened
                and {"drops": one.loosened.drops, "at_edge": one.loosened.at_edge, "people": one.loosened.people},
            }
            for one in report.standings
        ],
        "unreached": [list(gap) for gap in report.unreached],
        "same_tilt": [list(pair) for pair in report.twins],
        "unclosed": [{**one.set_by, "why": one.why} for one in report.unclosed],
        "pieces": [
            {
                "name": one.name,
                "length": one.length,
                "angle": one.angle,
                "foot_angle": one.foot,
                "toe": one.toe,
                "heel": one.heel,
                "count": one.count,
                **({} if one.tilt is None else {"tilt": one.tilt}),
            }
            for one in report.pieces
        ],
        "lower_edge": min(one.lower_edge for one in report.standings),
        "upper_edge": max(one.upper_edge for one in report.standings),
        "true_tilt": steepest.true_tilt,
        "true_azimuth": steepest.true_azimuth,
        "moving_mass": report.moving_mass,
        "notes": report.notes,
        "estimate": "planning estimate; local code and a licensed engineer decide",
    }
    if report.thrusts:
        worst = max(report.thrusts, key=lambda one: abs(one.force))
        answer["thrust"] = [{"tilt": one.tilt, "thrust": one.force, "lever": one.lever} for one in report.thrusts]
        answer["worst_tilt"] = worst.tilt
        answer["travel_seconds"] = report.travel_seconds
    return answer


def _answer(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    return frame_answer(study())


COMMANDS = (Command("frame", "holes, pieces, edges and weights of the frame", _answer),)
