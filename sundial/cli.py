"""The command line: JSON on standard output, messages on standard error, exit 0, or 2 for a refused brief or option."""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Sequence
from pathlib import Path
from typing import Any, NoReturn

from sundial.errors import BriefError


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        print(message, file=sys.stderr)
        raise SystemExit(2)


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(prog="python -m sundial", description="Answers about one brief, as JSON.")
    commands = parser.add_subparsers(dest="command", required=True, metavar="COMMAND", parser_class=_Parser)

    def command(name: str, text: str) -> argparse.ArgumentParser:
        made = commands.add_parser(name, help=text, description=text)
        made.add_argument("brief", help="a brief as a JSON file")
        return made

    sun = command("sun", "where the sun stands at a moment, and that day's rise, noon and set")
    sun.add_argument("--at", required=True, metavar="TIME", help="local time, such as 2026-06-21T13:00")
    plane = command("plane", "irradiation and energy of a facing; the brief's own mount without --tilt")
    plane.add_argument("--tilt", type=float, metavar="T")
    plane.add_argument("--azimuth", type=float, metavar="A")
    sky = command("sky", "the weather year")
    sky.add_argument("--csv", metavar="OUT", help="write the 8760 rows to this file")
    schedule = command("schedule", "the exact tilt plan")
    schedule.add_argument("--moves", type=int, required=True, metavar="K", help="settings a year, 1 to 12; 1 is fixed")
    schedule.add_argument("--goal", choices=("year", "winter", "worst-month", "months", "demand"))
    schedule.add_argument("--tilts", choices=("all",), help="any whole degree 0 to 90, not the frame's own")
    schedule.add_argument("--by", choices=("energy", "irradiation"), default="energy")
    command("compare", "every way of holding the panels, priced")
    command("shade", "what shade takes, by obstacle and month; sun hours; the skyline at the spot")
    yard = command("yard", "the yard as a map of energy at panel height")
    yard.add_argument("--grid", type=float, required=True, metavar="M", help="size of a cell, m")
    yard.add_argument("--season", choices=("year", "winter"), default="year", help="winter: the season of need")
    yard.add_argument("--csv", action="store_true", help="rows of x, y, irradiation instead of JSON")
    spots = command("spots", "the best places for the array and the way to turn it")
    spots.add_argument("--best", type=int, required=True, metavar="N", help="how many, 1 to 12")
    spots.add_argument("--season", choices=("year", "winter"), default="year", help="winter: the season of need")
    commands.add_parser("schema", help="the JSON Schema of a brief")
    return parser


def _answer(options: argparse.Namespace) -> Any:
    from sundial.brief.read import read_brief, schema

    if options.command == "schema":
        return schema()
    path = Path(options.brief)
    try:
        text = path.read_bytes()
    except OSError as error:
        raise BriefError(str(path), f"cannot be read: {error.strerror}") from None
    brief = read_brief(text)

    from sundial import answers
    from sundial.study import Study

    def load(name: str) -> bytes:
        try:
            return (path.parent / name).read_bytes()
        except OSError as error:
            raise BriefError("sky.file", f"{name!r} cannot be read: {error.strerror}") from None

    study = Study(brief, load)
    if options.command == "sun":
        return answers.sun_answer(study, options.at)
    if options.command == "plane":
        return answers.plane_answer(study, options.tilt, options.azimuth)
    if options.command == "sky":
        if options.csv:
            from sundial.sky.files import write_hourly

            try:
                Path(options.csv).write_text(write_hourly(study.weather), encoding="utf-8")
            except OSError as error:
                raise BriefError("--csv", f"{options.csv!r} cannot be written: {error.strerror}") from None
        return answers.sky_answer(study)
    if options.command == "schedule":
        return answers.schedule_answer(study, options.moves, options.goal, options.tilts == "all", options.by)
    if options.command == "shade":
        return answers.shade_answer(study)
    if options.command == "yard":
        made = answers.yard_csv if options.csv else answers.yard_answer
        return made(study, options.grid, options.season)
    if options.command == "spots":
        return answers.spots_answer(study, options.best, options.season)
    return answers.compare_answer(study)


def main(arguments: Sequence[str] | None = None) -> int:
    """Run one command; returns the exit status."""
    options = _parser().parse_args(arguments)
    try:
        answer = _answer(options)
        from sundial.answers import finite

        if isinstance(answer, str):
            print(answer, end="")
        else:
            print(json.dumps(finite(answer), indent=2, allow_nan=False))
    except BriefError as error:
        print(error, file=sys.stderr)
        return 2
    return 0
