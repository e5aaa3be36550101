"""The command ``wind``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from dataclasses import asdict
from typing import TYPE_CHECKING, Any

from sundial.answers.command import Answer, Command
from sundial.doors import measure, number
from sundial.errors import BriefError
from sundial.quantities import WIND_SPEED

if TYPE_CHECKING:
    from sundial.answers.wind.report import GustPoint
    from sundial.study import Study
    from sundial.wind.fixings import FixingLoad


def wind_answer(study: Study, gust: float | None = None, tilt: float | None = None) -> Answer:
    """Forces, the gusts at which it gives way, caps, and the wind position, at a gust and a tilt (the strongest, the steepest)."""
    from sundial.answers.wind.report import ESTIMATE, wind_report

    if gust is not None and not 0 < gust <= 120:
        raise BriefError("--gust", f"must be over 0 and at most 120 m/s, not {gust:g}")
    if tilt is not None and not 0 <= tilt <= 90:
        raise BriefError("--tilt", f"must be from 0 to 90 degrees, not {tilt:g}")
    report = wind_report(study, gust, tilt)
    at, position = report.at_tilt, report.position
    return {
        "gust": report.gust,
        "tilt": at.tilt,
        "pressure": report.pressure,
        **_forces(at),
        "first": at.first,
        "wind_from": at.direction,
        "foot": at.by_foot or None,
        "margin": report.margin and asdict(report.margin),
        "ballast": report.ballast,
        "ballast_sliding": report.ballast_sliding,
        "caps": list(report.caps),
        "caps_cost": report.price and report.price.year,
        "caps_cost_by_month": report.price and list(report.price.months),
        "gusts": list(report.months),
        "gusts_source": report.gusts_source,
        "wind_position": {
            "tilt": position.tilt,
            "gust": position.gust,
            "hours": position.hours,
            "lost": position.lost,
            "minutes": position.minutes,
            "flat_stands": position.flat_stands,
            "by": position.by,
            **({"facing_stands": position.facing_stands} if position.facing_stands is not None else {}),
        },
        "actuator_moves_until": report.moves_until,
        "places": [asdict(place) for place in report.places],
        **({"fixings": _fixing(report.fixings)} if report.fixings else {}),
        **({"driving": {**_fixing(report.driving), "speed": report.air_speed}} if report.driving else {}),
        "loads": [
            {
                "wind_from": one.direction,
                "members": [
                    {"name": m.name, "count": m.count, **({"force": m.force} if m.moment is None else {"moment": m.moment})}
                    for m in one.members
                ],
                "reactions": [asdict(r) for r in one.reactions],
            }
            for one in report.loads
        ],
        "curve": [{"tilt": one.tilt, **_forces(one)} for one in report.curve],
        "anchored": report.anchored,
        "notes": list(report.notes),
        "sources": list(report.sources),
        "estimate": ESTIMATE,
    }


def _fixing(load: FixingLoad) -> Answer:
    return {
        "pull": load.pull,
        "shear": load.shear,
        "line": load.line,
        "wind_from": load.direction,
        "tilt": load.tilt,
        "pressure": load.pressure,
        "count": load.count,
        "margin": load.margin,
    }


def _forces(point: GustPoint) -> Answer:
    return {
        "pressing": point.pressing,
        "lifting": point.lifting,
        "uplift": point.uplift,
        "level_force": point.level_force,
        "tips_at": point.tips,
        "slides_at": point.slides,
        "lifts_at": point.lifts,
        "breaks_at": point.breaks,
    }


def _arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "--gust", type=measure(WIND_SPEED, -1e9, 1e9), metavar="V", help="in m/s, or 80mph, instead of the brief's strongest"
    )
    parser.add_argument("--tilt", type=number(-1e9, 1e9), metavar="T", help="degrees (the steepest that it takes)")


def _answer(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    return wind_answer(study(), options.gust, options.tilt)


COMMANDS = (Command("wind", "forces of the wind, what gives way first, and how high it may stand", _answer, _arguments),)
