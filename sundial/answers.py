"""The answers of the command line as plain data: what `python -m sundial COMMAND` prints."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from typing import Any

import numpy as np

from sundial.days import month_day, sum_by_month
from sundial.errors import BriefError
from sundial.plan.tilt_plan import TiltPlan
from sundial.shade.shadows import skyline_of
from sundial.siting.ground import yard_map
from sundial.siting.prices import shade_prices, shade_report
from sundial.siting.spots import For, best_spots
from sundial.study import Study
from sundial.sun import sun_at, sun_day
from sundial.worth.comparison import Comparison, Way, compare
from sundial.worth.verdict import verdict

Answer = dict[str, Any]


def sun_answer(study: Study, at: str) -> Answer:
    """The sun at a moment, and that day's rise, noon and set in local ISO times."""
    try:
        when = datetime.fromisoformat(at)
    except ValueError:
        raise BriefError("--at", f"{at!r} is not a time such as 2026-06-21T13:00") from None
    if not 1900 <= when.year <= 2200:
        raise BriefError("--at", "must lie between the years 1900 and 2200")
    moment, day = sun_at(study.site, when), sun_day(study.site, when.date())
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


def sky_answer(study: Study) -> Answer:
    """Yearly and monthly irradiation of the weather year, and where it is from."""
    year = study.weather
    return {
        "ghi": float(year.ghi.sum()) / 1000,
        "dni": float(year.dni.sum()) / 1000,
        "dhi": float(year.dhi.sum()) / 1000,
        "ghi_by_month": year.ghi_by_month.tolist(),
        "source": year.source,
        "trust": year.trust,
        "notes": list(year.notes),
    }


def plane_answer(study: Study, tilt: float | None = None, azimuth: float | None = None) -> Answer:
    """Irradiation and energy of one facing; the brief's own mount without ``tilt``."""
    if tilt is not None and not -90 <= tilt <= 90:
        raise BriefError("--tilt", "must be from 0 to 90 degrees")
    if azimuth is not None:
        if not 0 <= azimuth <= 360:
            raise BriefError("--azimuth", "must be from 0 to 360 degrees")
        array = study.brief.array.model_copy(update={"azimuth": azimuth})
        study = Study(study.brief.model_copy(update={"array": array}), study.load, study.weather)
    made = study.production() if tilt is None else study.standing(tilt)
    return {
        **_unshaded(study, lambda bare: (bare.production() if tilt is None else bare.standing(tilt)).year),
        "irradiation": float(made.irradiation.sum()),
        "irradiation_by_month": sum_by_month(made.irradiation).tolist(),
        "energy": made.year,
        "energy_by_month": made.by_month.tolist(),
        "label_energy": made.label_energy,
        "losses": made.ledger,
    }


def schedule_answer(study: Study, settings: int, goal: str | None = None, every_tilt: bool = False, by: str = "energy") -> Answer:
    """The exact plan with so many settings a year, against the best fixed tilt."""
    if not 1 <= settings <= 12:
        raise BriefError("--moves", "must be a whole number from 1 to 12")
    plans = study.plans(every_tilt, goal, by)
    plan, fixed = plans.with_settings(settings), plans.simplest
    return {
        **_unshaded(study, lambda bare: bare.plans(every_tilt, goal, by).with_settings(settings).energy),
        "moves": [
            {
                "start": month_day(stretch.start),
                "tilt": stretch.tilt,
                "irradiation": stretch.irradiation,
                "energy": stretch.energy,
                "earliest": month_day(stretch.earliest),
                "latest": month_day(stretch.latest),
                "band": list(stretch.band),
            }
            for stretch in plan.stretches
        ],
        "irradiation": plan.irradiation,
        "energy": plan.energy,
        "goal_value": plan.goal_value,
        "best_fixed": {"tilt": _fixed_tilt(fixed), "irradiation": fixed.irradiation, "energy": fixed.energy},
        "gain": _share(plan.energy, fixed.energy),
        "irradiation_gain": _share(plan.irradiation, fixed.irradiation),
        "every_day": {"energy": plans.every_day.energy, "irradiation": plans.every_day.irradiation},
    }


def _fixed_tilt(plan: TiltPlan) -> float | None:
    return plan.stretches[0].tilt if plan.moves == 0 else None


def _share(value: float, base: float) -> float:
    return value / base - 1 if base > 0 else 0.0


def _unshaded(study: Study, energy: Callable[[Study], float]) -> Answer:
    """``unshaded_energy``: the same question with nothing in the way; left out where nothing is."""
    return {} if study.shade is None else {"unshaded_energy": energy(study.open_sky)}


def compare_answer(study: Study) -> Answer:
    """Every way of holding the panels, priced; None where there is no figure, with the words for it beside."""
    answer = comparison_data(study, compare(study))
    if study.shade is not None:
        bare = compare(study.open_sky)
        for row, way in zip([answer["base"], *answer["rows"]], [bare.base, *bare.rows], strict=True):
            row["unshaded_energy"] = way.energy
    return answer


def shade_answer(study: Study) -> Answer:
    """What shade takes from the build's own mount under its plan, by thing and month, and the skyline of its spot."""
    report = shade_report(study)
    around = np.arange(0.0, 360.0, 5.0)
    yard = skyline_of(study.yard, study.middle, around)
    far = study.skyline.elevation_at(around) if study.skyline else np.zeros_like(around)
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
        "uneven": report.uneven,
        "objects": [
            {
                "name": price.name,
                "returns": price.kwh,
                "returns_in_season": price.season,
                "returns_by_month": list(price.by_month),
                "share": price.share,
            }
            for price in shade_prices(study)
        ],
        "sun_hours": list(report.sun_hours),
        "open_sun_hours": list(report.open_hours),
        "skyline": np.column_stack([around, np.maximum(yard, far)]).tolist(),
        "notes": list(report.notes),
    }


def yard_answer(study: Study, grid: float, season: str = "year") -> Answer:
    """The yard as a map of kWh/m2 at panel height, south row first; null where something stands."""
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
    goal: For = "year" if season == "year" else "season"
    made = study.production()
    return {
        "now": {"x": study.brief.spot.x, "y": study.brief.spot.y, "azimuth": study.azimuth, "energy": made.year},
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


def comparison_data(study: Study, comparison: Comparison) -> Answer:
    said = verdict(study, comparison)
    return {
        "base": _way(comparison.base),
        "rows": [_way(row) for row in comparison.rows],
        "verdict": " ".join([said.headline, *said.sentences]),
    }


def _way(way: Way) -> Answer:
    same = way.same_as_panels
    return {
        "name": way.name,
        "kind": way.kind,
        "energy": way.energy,
        "irradiation": way.irradiation,
        "gain": way.gain,
        "extra_energy": way.extra_kwh,
        "extra_energy_p10_p90": list(way.spread.kwh),
        "extra_cost": way.extra_cost,
        "saving_per_year": way.money.saving_per_year,
        "payback_years": way.money.payback_years,
        "payback": way.money.payback_text,
        "npv": way.money.npv,
        "npv_p10_p90": None if way.spread.npv is None else list(way.spread.npv),
        "irr": way.money.irr,
        "cost_per_extra_kwh": way.money.cost_per_extra_kwh,
        "break_even_cost": way.money.break_even_cost,
        "same_as_panels": same and {"exact": same.exact, "count": same.count, "cost": same.cost, "area": same.area},
        "moves": way.moves,
        "minutes_per_year": way.minutes,
        "own_use": way.own_use,
        "tilt": way.tilt,
    }


def finite(answer: Any, path: str = "") -> Any:
    """The same answer; refuses a number that is not finite rather than print it."""
    if isinstance(answer, dict):
        return {key: finite(value, f"{path}.{key}") for key, value in answer.items()}
    if isinstance(answer, (list, tuple)):
        return [finite(value, path) for value in answer]
    if isinstance(answer, (float, np.floating)):
        if not np.isfinite(answer):
            raise ArithmeticError(f"{path} is not finite")
        return float(answer)
    return answer
