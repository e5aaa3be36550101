"""The files that a tilt plan becomes."""

from __future__ import annotations

from collections.abc import Mapping

from django.template.loader import render_to_string
from django.utils import timezone

from sundial.days import month_day
from sundial.progress import Report
from sundial.sky.files import write_hourly
from web.builds.models import Build
from web.builds.results import Results
from web.builds.sheets import code_of, pdf_of
from web.builds.tables import csv_text
from web.tilt.calendar import moves_calendar
from web.tilt.figures import year_picture
from web.tilt.views import TiltStation, stepped


def calendar(build: Build, results: Results) -> bytes:
    """Every move as a yearly all-day event."""
    return moves_calendar(build, results.plan, timezone.localdate())


def table(build: Build, results: Results) -> str:
    """The plan as CSV."""
    heads = (
        "start", "tilt_degrees", "earliest", "latest", "band_low", "band_high", "days", "energy_kwh", "irradiation_kwh_m2",
    )  # fmt: skip
    rows = [
        (
            month_day(s.start), s.tilt, month_day(s.earliest), month_day(s.latest), *s.band, s.days,
            round(s.energy, 1), round(s.irradiation, 1),
        )
        for s in results.plan.chosen.stretches
    ]  # fmt: skip
    return csv_text(heads, rows)


def hours(build: Build, results: Results) -> str:
    """The weather year, hour by hour, as CSV."""
    return write_hourly(results.weather)


def drawing(build: Build, results: Results) -> str:
    """The plan over the year as an SVG file that stands by itself."""
    picture = year_picture(results.plan, build.chosen_day, stepped(build))
    return render_to_string("tilt/drawing.svg", {"year": picture, "build": build, "plan": results.plan})


def card_params(build: Build) -> dict[str, str]:
    """What the field card shows beside the plan."""
    return {
        "name": build.name,
        "where": build.where,
        "units": build.units,
        "day": str(build.chosen_day),
        "today": timezone.localdate().isoformat(),
    }


def card(results: Results, params: Mapping[str, str], report: Report) -> bytes:
    """One page to take to the rack, as PDF."""
    return pdf_of(card_page(results, params))


def card_page(results: Results, params: Mapping[str, str]) -> str:
    """The same as a page."""
    build = results.build
    context = {
        "build": build,
        "plan": results.plan,
        **TiltStation().figures(build, results),
        "today": timezone.localdate(),
        "sky": results.weather.source,
        "code": code_of(params.get("live", "")),
    }
    return render_to_string("tilt/card.html", context)
