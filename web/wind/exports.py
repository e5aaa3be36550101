"""The files that the wind's answer becomes."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.template.loader import render_to_string
from django.utils import timezone

from sundial.progress import Report
from sundial.quantities import FORCE, WIND_SPEED, in_unit
from web.builds.models import Build
from web.builds.results import Results
from web.builds.sheets import code_of, pdf_of
from web.builds.tables import csv_text
from web.wind.figures import gust_curve

PAPERS = ("a4", "letter")


def table(build: Build, results: Results) -> str:
    """The gusts it stands and the forces on it at every whole degree, as CSV, in the build's units."""
    us = build.shown_in == "us"
    speed, force = ("mph", "lbf") if us else ("m_s", "n")
    gusts, forces = ("tips_at", "slides_at", "lifts_at", "breaks_at", "allowed"), ("pressing", "lifting", "uplift", "level_force")
    heads = ("tilt_degrees", *(f"{name}_{speed}" for name in gusts), *(f"{name}_{force}" for name in forces))

    def told(gust: float | None) -> float | str:
        return "" if gust is None else round(in_unit(gust, WIND_SPEED, build.shown_in), 2)

    rows = [
        (
            point.tilt, *(told(one) for one in (point.tips, point.slides, point.lifts, point.breaks, point.allowed)),
            *(round(in_unit(getattr(point, name), FORCE, build.shown_in)) for name in forces),
        )
        for point in results["wind"].curve
    ]  # fmt: skip
    return csv_text(heads, rows)


def drawing(build: Build, results: Results) -> str:
    """The gust it stands at every tilt, as an SVG file that stands by itself."""
    report = results["wind"]
    return render_to_string("wind/drawing.svg", {"curve": gust_curve(report, build.shown_in), "build": build})


def sheet_params(paper: str) -> Any:
    def params(build: Build) -> dict[str, str]:
        return {
            "name": build.name, "where": build.where, "units": build.units, "day": str(build.chosen_day), "paper": paper,
            "today": timezone.localdate().isoformat(),
        }  # fmt: skip

    return params


def sheet(results: Results, params: Mapping[str, str], report: Report) -> bytes:
    """Inputs, results, sources and cautions on one sheet, as PDF."""
    return pdf_of(sheet_page(results, params))


def sheet_page(results: Results, params: Mapping[str, str]) -> str:
    """The same as a page. BriefError for a build of which nothing of the wind is told."""
    from web.wind.views import WindStation

    build, _ = results.build, results["wind"]  # refuses a build of which nothing of the wind is told
    figures = WindStation().figures(build, results)
    context = {
        "build": build,
        "paper": params.get("paper", "a4"),
        "today": timezone.localdate(),
        "code": code_of(params.get("live", "")),
        **figures,
    }
    return render_to_string("wind/sheet.html", context)
