"""The files that a comparison becomes."""

from __future__ import annotations

from typing import Any

from django.template.loader import render_to_string

from sundial.answers.balance.command import balance_csv
from sundial.answers.balance.report import use_report
from web.builds.models import Build
from web.builds.results import Results
from web.builds.tables import csv_text
from web.worth.figures import worth_picture
from web.worth.use_view import use_view


def table(build: Build, results: Results) -> str:
    """The comparison as CSV."""
    heads = (
        "way", "kind", "energy_kwh", "gain_percent", "extra_kwh", "extra_cost", "saving_per_year", "payback", "npv", "irr_percent",
        "cost_per_extra_kwh", "break_even_cost", "same_as_panels", "moves", "minutes_per_year",
    )  # fmt: skip
    comparison = results["worth"].comparison
    return csv_text(heads, [_cells(row) for row in (comparison.base, *comparison.rows)])


def _cells(row: Any) -> list[Any]:
    money = row.money

    def rounded(value: float | None, digits: int = 2) -> float | None:
        return None if value is None else round(value, digits)

    return [
        row.name, row.kind, round(row.energy, 1), round(row.gain * 100, 2), round(row.extra_kwh, 1), rounded(row.extra_cost),
        rounded(money.saving_per_year), money.payback_text, rounded(money.npv), None if money.irr is None else round(money.irr * 100, 2),
        rounded(money.cost_per_extra_kwh, 4), rounded(money.break_even_cost), row.same_as_panels and round(row.same_as_panels.exact, 2),
        row.moves, round(row.minutes, 1),
    ]  # fmt: skip


def hours(build: Build, results: Results) -> str:
    """The 8760 hours of the balance as CSV: of the way that the page shows, else of the one that the verdict is about."""
    use = use_view(build, results)
    study = results.study
    report = use.report if use else use_report(results["ways"].hourly[0], study.needs)
    return balance_csv(study.production().plane, report)


def drawing(build: Build, results: Results) -> str:
    """Extra kWh against extra cost as an SVG file that stands by itself."""
    context = {"picture": worth_picture(results["worth"]), "build": build, "currency": build.currency}
    return render_to_string("worth/drawing.svg", context)
