"""The command ``group``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from dataclasses import asdict
from typing import TYPE_CHECKING, Any

from sundial.answers.command import Answer, Command

if TYPE_CHECKING:
    from sundial.study import Study


def _arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("briefs", nargs="+", metavar="BRIEF", help="briefs of the builds that stand in one yard")


def _answer(options: argparse.Namespace, study: Callable[..., Study]) -> Any:
    from sundial.answers.group.report import group_report, together

    found = group_report(together([study(path) for path in options.briefs]))
    builds: list[Answer] = [
        {
            "name": member.name,
            "power": member.power,
            "azimuth": member.azimuth,
            "tilts": list(member.tilts),
            "energy": member.energy,
            "alone": member.alone,
            "lost": member.lost,
            "energy_by_month": list(member.by_month),
            "taken_by": dict(member.taken_by),
        }
        for member in found.members
    ]
    strings = [
        {
            "string": string.name,
            "builds": list(string.builds),
            "lost": string.lost,
            "share": string.share,
            "apart": string.apart,
            "other_panels": string.other_panels,
        }
        for string in found.strings
    ]
    return {
        "energy": found.energy,
        "alone": found.alone,
        "lost": found.lost,
        "power": found.power,
        "energy_by_month": list(found.by_month),
        "builds": builds,
        **({"balance": {**asdict(found.used), "own_share": found.used.own_share, "saved": found.worth}} if found.used else {}),
        "strings": strings,
    }


COMMANDS = (Command("group", "several builds in one yard: each among the others, and the sums", _answer, _arguments, False),)
