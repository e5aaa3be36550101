"""The command ``frame``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from sundial.answers.command import Answer, Command
from sundial.doors import length, number
from sundial.errors import BriefError

if TYPE_CHECKING:
    from sundial.scene import Scene
    from sundial.study import Study


def frame_answer(scene: Scene) -> Answer:
    """Holes with what sets them, pieces, edges, and how it truly stands on its ground."""
    from sundial.answers.frame.report import frame_report

    report = frame_report(scene)
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


def drill_answer(study: Study, pitch: float, loss: float) -> Answer:
    """Where to drill the base bar, against the holes as they are."""
    from sundial.answers.frame.report import drilling_report, other_prop

    found, other = drilling_report(study, pitch, loss), other_prop(study, pitch)
    return {
        "holes": [{"base_hole": one.base_hole, "tilt": one.tilt} for one in found.holes],
        "lost": found.lost,
        "lost_share": found.share,
        "own_lost": found.own_lost,
        "own_lost_share": found.own_share,
        "one_prop": other and {"length": other.length, "base_holes": list(other.base_holes), "tilts": list(other.tilts)},
    }


def _arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "--drill",
        type=length(-1e9, 1e9),
        metavar="PITCH",
        help="where to drill the base bar, with places so many m (or 1in) apart",
    )
    parser.add_argument(
        "--loss", type=number(-1e9, 1e9), default=0.01, metavar="SHARE", help="that the holes may cost the plan (0.01)"
    )


def _answer(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    about = study()
    answer = frame_answer(about.scene)
    if options.drill is None:
        return answer
    try:
        return {**answer, "drill": drill_answer(about, options.drill, options.loss)}
    except BriefError as error:
        option = {"pitch": "--drill", "loss": "--loss"}.get(error.path)
        raise BriefError(option or error.path, error.message) from None


COMMANDS = (Command("frame", "holes, pieces, edges and weights of the frame", _answer, _arguments),)
