"""The commands ``plane`` and ``facings``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from sundial.answers.command import Answer, Command, unshaded, write_file
from sundial.doors import number
from sundial.errors import BriefError

if TYPE_CHECKING:
    from sundial.study import Study


def plane_answer(study: Study, tilt: float | None = None, azimuth: float | None = None, csv: str | None = None) -> Answer:
    """Irradiation and energy of one facing; the brief's own mount without ``tilt``. ``csv``: a file for the 8760 hours."""
    from sundial.days import sum_by_month
    from sundial.study import studied

    if tilt is not None and not -90 <= tilt <= 90:
        raise BriefError("--tilt", "must be from 0 to 90 degrees")
    if azimuth is not None:
        if not 0 <= azimuth <= 360:
            raise BriefError("--azimuth", "must be from 0 to 360 degrees")
        array = study.brief.array.model_copy(update={"azimuth": azimuth})
        study = studied(study.brief.model_copy(update={"array": array}), study.scene.load, study.scene.weather)
    made = study.production() if tilt is None else study.held_year(tilt)
    if csv is not None:
        from sundial.sky.files import hours_csv

        write_file("--csv", csv, hours_csv({"irradiation": made.plane, "energy": made.hourly}))
    return {
        **unshaded(study, lambda bare: (bare.production() if tilt is None else bare.held_year(tilt)).year),
        "irradiation": float(made.irradiation.sum()),
        "irradiation_by_month": sum_by_month(made.irradiation).tolist(),
        "energy": made.year,
        "energy_by_month": made.by_month.tolist(),
        "label_energy": made.label_energy,
        "losses": made.ledger,
    }


def _arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--tilt", type=number(-90, 90, "degrees"), metavar="T")
    parser.add_argument("--azimuth", type=number(-360, 360, "degrees"), metavar="A")
    parser.add_argument("--csv", metavar="OUT", help="write the 8760 hours: time, irradiation (W/m2), energy (Wh)")


def _answer(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    return plane_answer(study(), options.tilt, options.azimuth, options.csv)


def _angles(text: str) -> tuple[float, ...]:
    one = number(0, 360, "degrees")
    return tuple(one(part.strip()) for part in text.split(","))


def _facings_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--azimuths", type=_angles, metavar="A,B", help="degrees from true north; left out: every 15")
    parser.add_argument("--tilts", type=_angles, metavar="A,B", help="degrees from level, rising; left out: every 5")


def _facings_answer(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    from sundial.siting.facings import AZIMUTHS, TILTS, facings

    found = facings(study().scene, options.azimuths or AZIMUTHS, options.tilts or TILTS)
    return {
        "azimuths": list(found.azimuths),
        "tilts": list(found.tilts),
        "energy": [list(row) for row in found.energy],
    }


COMMANDS = (
    Command("plane", "irradiation and energy of a facing; the brief's own mount without --tilt", _answer, _arguments),
    Command("facings", "the year's energy of every facing and tilt", _facings_answer, _facings_arguments),
)
