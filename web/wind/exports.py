"""The files that the wind's answer becomes."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.template.loader import render_to_string
from django.utils import timezone

from sundial.progress import Report
from web.builds.models import Build
from web.builds.results import Results
from web.builds.sheets import code_of, pdf_of
from web.builds.tables import csv_text
from web.wind.figures import gust_curve

PAPERS = ("a4", "letter")


def table(build: Build, results: Results) -> str:
    """The gusts it stands and the forces on it at every whole degree, as CSV."""
    heads = (
        "tilt_degrees", "tips_at_m_s", "slides_at_m_s", "lifts_at_m_s", "breaks_at_m_s", "allowed_m_s", "pressing_n", "lifting_n",
        "uplift_n", "level_force_n",
    )  # fmt: skip
    rows = [
        (
            point.tilt, *(("" if one is None else round(one, 2)) for one in (point.tips, point.slides, point.lifts, point.breaks, point.allowed)),
            round(point.pressing), round(point.lifting), round(point.uplift), round(point.level_force),
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
    return pdf_of(render_to_string("wind/sheet.html", context))
