"""The command ``aim``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from sundial.answers.command import Command
from sundial.doors import day_of, number
from sundial.errors import BriefError

if TYPE_CHECKING:
    from sundial.study import Study


def _arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--on", metavar="DATE", help="solar noon, bearing and inclinometer on this date, such as 2026-03-21")
    parser.add_argument(
        "--pin",
        type=number(1e-3, 1e5),
        metavar="H",
        help="length of a shadow pin square on the glass, in the unit of its readings",
    )
    parser.add_argument("--readings", metavar="FILE", help="CSV with time, x, y of the shadow's tip")
    parser.add_argument("--tilt", type=number(-1e9, 1e9), metavar="T", help="the tilt it is set to, degrees")
    parser.add_argument(
        "--check", type=number(-1e9, 1e9), default=100.0, metavar="MM", help="measured length of the target's 100 mm line"
    )


def _answer(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    from sundial.answers.aim.report import aim_report, pin_report, readings_of

    if options.pin is None and options.readings is None:
        if options.on is None:
            raise BriefError("--on", "give a date, or --pin and --readings")
        report = aim_report(study().scene, day_of(options.on, "--on"))
        return {
            "solar_noon": report.solar_noon.isoformat(),
            "declination": report.declination,
            "azimuth": report.azimuth,
            "compass": report.bearing,
            "inclinometer": [{"hole": one.hole, "tilt": one.tilt} for one in report.inclinometer],
            "valid_to": report.valid_to,
        }
    if options.pin is None or options.readings is None:
        raise BriefError(
            "--pin" if options.pin is None else "--readings", "is missing: a pin's length and its readings go together"
        )
    if options.tilt is not None and not 0 <= options.tilt <= 90:
        raise BriefError("--tilt", "must be from 0 to 90")
    if not 50 <= options.check <= 200:
        raise BriefError("--check", "the line is 100 mm long in print; from 50 to 200 mm can be used")
    try:
        text = Path(options.readings).read_text(encoding="utf-8-sig")
    except (OSError, UnicodeDecodeError) as error:
        raise BriefError("--readings", f"{options.readings!r} cannot be read: {error}") from None
    found = pin_report(study(), options.pin, readings_of(text), options.tilt, options.check / 1000)
    return {
        "tilt": found.found.tilt,
        "azimuth": found.found.azimuth,
        "residual": found.found.residual,
        "tilt_off": found.tilt_off,
        "azimuth_off": found.azimuth_off,
        "costs_kwh": found.costs,
    }


COMMANDS = (Command("aim", "solar noon, bearing and inclinometer; or the glass by its shadow pin", _answer, _arguments),)
