"""The command ``compare``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from dataclasses import asdict
from typing import TYPE_CHECKING, Any

from sundial.answers.command import Answer, Command

if TYPE_CHECKING:
    from sundial.study import Study
    from sundial.worth.comparison import Comparison, Way
    from sundial.worth.ways import WayYears


def compare_answer(study: Study) -> Answer:
    """Every way of holding the panels, priced; None where there is no figure, with the words for it beside."""
    from sundial.worth.comparison import compare
    from sundial.worth.ways import ways_of

    years = ways_of(study)
    answer = comparison_data(study, compare(study, years), years)
    if study.scene.shade is not None:
        bare = compare(study.open_sky)
        for row, way in zip([answer["base"], *answer["rows"]], [bare.base, *bare.rows], strict=True):
            row["unshaded_energy"] = way.energy
    return answer


def comparison_data(study: Study, comparison: Comparison, years: WayYears) -> Answer:
    from sundial.worth.comparison import rows_of
    from sundial.worth.verdict import verdict

    said = verdict(study, comparison, rows=rows_of(study, years))
    return {
        "base": _way(comparison.base),
        "rows": [_way(row) for row in comparison.rows],
        "verdict": " ".join([said.headline, *said.sentences]),
        **_whole(study, comparison),
    }


def _whole(study: Study, comparison: Comparison) -> Answer:
    """The whole build against nothing built, where it is told what it cost."""
    from sundial.worth.whole import whole_build

    found = whole_build(study, comparison)
    if found is None:
        return {}
    money = found.money
    return {
        "whole": {
            "cost": found.spent,
            "energy": found.energy,
            "value_per_year": found.value,
            "payback_years": money.payback_years,
            "payback": money.payback_text,
            "npv": money.npv,
            "irr": money.irr,
            "mount_may_cost": found.mount_may_cost,
            "elsewhere": [asdict(one) for one in found.elsewhere],
        }
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
        "saved_p10_p90": list(way.spread.saved),
        "npv_p10_p90": None if way.spread.npv is None else list(way.spread.npv),
        "irr": way.money.irr,
        "cost_per_extra_kwh": way.money.cost_per_extra_kwh,
        "break_even_cost": way.money.break_even_cost,
        "same_as_panels": same and {"exact": same.exact, "count": same.count, "cost": same.cost, "area": same.area},
        "moves": way.moves,
        "minutes_per_year": way.minutes,
        "own_use": way.drive_consumption,
        "tilt": way.tilt,
        "height": way.height,
        "stands_to": way.stands_to,
        "motors": way.motors,
        "motor_starts_a_day": way.starts,
        "balance": asdict(way.sums),
        "own_share": way.sums.own_share,
        "saved_by_month": list(way.saved_by_month),
        "energy_by_month": list(way.energy_by_month),
        **({} if way.in_season is None else {"energy_in_season": way.in_season}),
        **({"empty_days_p10_p90": list(way.empty_range)} if way.empty_range else {}),
        **({"breaks_contract": True} if way.breaks_contract else {}),
        **({"wind_lost": way.wind_lost} if way.wind_lost else {}),
        **({"ruled_out": asdict(way.ruled_out)} if way.ruled_out else {}),
    }


def _answer(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    return compare_answer(study())


COMMANDS = (Command("compare", "every way of holding the panels, priced", _answer),)
