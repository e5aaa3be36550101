"""The command ``sun``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from datetime import datetime
from typing import TYPE_CHECKING, Any

from sundial.answers.command import Answer, Command
from sundial.errors import BriefError

if TYPE_CHECKING:
    from sundial.brief.model import Brief


def sun_answer(brief: Brief, at: str) -> Answer:
    """The sun at a moment, and that day's rise, noon and set in local ISO times."""
    from sundial.sun import Site, sun_at, sun_day

    try:
        when = datetime.fromisoformat(at)
    except ValueError:
        raise BriefError("--at", f"{at!r} is not a time such as 2026-06-21T13:00") from None
    if not 1900 <= when.year <= 2200:
        raise BriefError("--at", "must lie between the years 1900 and 2200")
    site = Site(**brief.site.model_dump())
    moment, day = sun_at(site, when), sun_day(site, when.date())
    return {
        "azimuth": moment.azimuth,
        "elevation": moment.elevation,
        "true_elevation": moment.true_elevation,
        "equation_of_time": moment.equation_of_time,
        "sunrise": day.sunrise and day.sunrise.isoformat(),
        "solar_noon": day.solar_noon.isoformat(),
        "sunset": day.sunset and day.sunset.isoformat(),
        "day_length": day.day_length,
    }


def _arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--at", required=True, metavar="TIME", help="local time, such as 2026-06-21T13:00")


def _answer(options: argparse.Namespace, brief: Callable[[], Brief]) -> Any:
    return sun_answer(brief(), options.at)


COMMANDS = (
    Command("sun", "where the sun stands at a moment, and that day's rise, noon and set", _answer, _arguments, brief_only=True),
)
