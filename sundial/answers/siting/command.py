"""The commands ``shade``, ``yard`` and ``spots``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

import numpy as np

from sundial.answers.command import Answer, Command
from sundial.doors import length

if TYPE_CHECKING:
    from sundial.siting.spots import For
    from sundial.study import Study


def shade_answer(study: Study) -> Answer:
    """What shade takes from the build's own mount under its plan, by thing and month, and the skyline of its spot."""
    from sundial.answers.siting.report import shade_report
    from sundial.shade.shadows import skyline_of
    from sundial.siting.costs import shade_costs
    from sundial.siting.skyview import middle_of

    report = shade_report(study)
    around = np.arange(0.0, 360.0, 5.0)
    yard = skyline_of(study.scene.yard, middle_of(study), around)
    far = study.scene.skyline.elevation_at(around) if study.scene.skyline else np.zeros_like(around)
    return {
        "energy": report.energy,
        "unshaded_energy": report.open_energy,
        "loss": report.loss,
        "loss_share": report.loss_share,
        "loss_by_month": list(report.loss_by_month),
        "energy_by_month": list(report.by_month),
        "season": report.season,
        "season_energy": report.in_season,
        "season_unshaded_energy": report.open_in_season,
        "uneven": report.electrical_mismatch,
        "objects": [
            {
                "name": price.name,
                "returns": price.kwh,
                "returns_in_season": price.season,
                "returns_by_month": list(price.by_month),
                "share": price.share,
            }
            for price in shade_costs(study)
        ],
        "sun_hours": list(report.sun_hours),
        "open_sun_hours": list(report.open_hours),
        "skyline": np.column_stack([around, np.maximum(yard, far)]).tolist(),
        "notes": list(report.notes),
    }


def yard_answer(study: Study, grid: float, season: str = "year") -> Answer:
    """The yard as a map of kWh/m2 at panel height, south row first; null where something stands."""
    from sundial.siting.ground import yard_map

    found = yard_map(study, grid)
    values = found.year if season == "year" else found.season
    return {
        "grid": grid,
        "season": "in the year" if season == "year" else found.season_name,
        "open_sky": found.open_year if season == "year" else found.open_season,
        "x": found.x.tolist(),
        "y": found.y.tolist(),
        "irradiation": [[None if np.isnan(cell) else float(cell) for cell in row] for row in values],
    }


def yard_csv(study: Study, grid: float, season: str = "year") -> str:
    """The same as rows of x, y, irradiation; an empty cell where something stands."""
    map_ = yard_answer(study, grid, season)
    rows = ["x,y,irradiation"]
    for y, line in zip(map_["y"], map_["irradiation"], strict=True):
        rows += [f"{x:.6g},{y:.6g},{'' if cell is None else f'{cell:.7g}'}" for x, cell in zip(map_["x"], line, strict=True)]
    return "\n".join(rows) + "\n"


def spots_answer(study: Study, count: int, season: str = "year") -> Answer:
    """The best few places for the array and the way to turn it, best first."""
    from sundial.siting.spots import best_spots

    goal: For = "year" if season == "year" else "season"
    made = study.production()
    return {
        "now": {"x": study.brief.spot.x, "y": study.brief.spot.y, "azimuth": study.scene.azimuth, "energy": made.year},
        "spots": [
            {
                "x": spot.x,
                "y": spot.y,
                "azimuth": spot.azimuth,
                "energy": spot.energy,
                "energy_in_season": spot.in_season,
                "gain": spot.gain,
            }
            for spot in best_spots(study, count, goal)
        ],
    }


def _season(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--season", choices=("year", "winter"), default="year", help="winter: the season of need")


def _yard_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--grid", type=length(-1e9, 1e9), required=True, metavar="M", help="size of a cell, m, or 3ft")
    _season(parser)
    parser.add_argument("--csv", action="store_true", help="rows of x, y, irradiation instead of JSON")


def _spots_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--best", type=int, required=True, metavar="N", help="how many, 1 to 12")
    _season(parser)


def _shade(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    return shade_answer(study())


def _yard(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    return (yard_csv if options.csv else yard_answer)(study(), options.grid, options.season)


def _spots(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    return spots_answer(study(), options.best, options.season)


COMMANDS = (
    Command("shade", "what shade takes, by obstacle and month; sun hours; the skyline at the spot", _shade),
    Command("yard", "the yard as a map of energy at panel height", _yard, _yard_arguments),
    Command("spots", "the best places for the array and the way to turn it", _spots, _spots_arguments),
)
