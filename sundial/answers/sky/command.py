"""The command ``sky``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from sundial.answers.command import Answer, Command, write_file

if TYPE_CHECKING:
    from sundial.scene import Scene
    from sundial.study import Study


def sky_answer(scene: Scene) -> Answer:
    """Yearly and monthly irradiation of the weather year, and where it is from."""
    year = scene.weather
    return {
        "ghi": float(year.ghi.sum()) / 1000,
        "dni": float(year.dni.sum()) / 1000,
        "dhi": float(year.dhi.sum()) / 1000,
        "ghi_by_month": year.ghi_by_month.tolist(),
        "source": year.source,
        "trust": year.trust,
        "notes": list(year.notes),
    }


def _arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--csv", metavar="OUT", help="write the 8760 rows to this file")


def _answer(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    made = study()
    if options.csv:
        from sundial.sky.files import write_hourly

        write_file("--csv", options.csv, write_hourly(made.scene.weather))
    return sky_answer(made.scene)


COMMANDS = (Command("sky", "the weather year", _answer, _arguments),)
