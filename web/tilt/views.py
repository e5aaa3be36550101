"""The tilt plan, and the files it becomes."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.template.loader import render_to_string
from django.utils import timezone
from django.views import View

from sundial.days import day_of_date, month_day
from sundial.report import stretch_curve
from sundial.sky.files import write_hourly
from web.builds.answers import Answers
from web.builds.models import Build
from web.builds.stations import SignedIn, StationView, own_build
from web.builds.tables import csv_text
from web.builds.views import as_download
from web.frame.figures import side_view
from web.tilt.calendar import moves_calendar
from web.tilt.figures import curve_chart, gain_curve, year_picture
from web.tilt.forms import TiltForm


class TiltStation(StationView):
    """What angle, when to move it, how much slack, and what it gains."""

    key = "tilt"
    form_class = TiltForm
    beside_template = "tilt/_beside.html"

    def figures(self, build: Build, answers: Answers) -> dict[str, Any]:
        plan = answers.plan
        stretches = plan.chosen.stretches
        index = _stretch_of(stretches, build.chosen_day)
        curve = stretch_curve(answers.study, plan.chosen, index)
        today = day_of_date(timezone.localdate())
        return {
            "shade": answers.plan_shade,
            "year": year_picture(plan, build.chosen_day, _stepped(build)),
            "gains": gain_curve(plan),
            "counts": [str(k) for k in range(1, 13)],
            "curve_chart": curve_chart(curve),
            "curve_table": [pair for pair in zip(curve.tilts, curve.energy, strict=True) if pair[0] % 5 == 0],
            "this_stretch": stretches[index],
            "next": min(stretches, key=lambda stretch: (stretch.start - today) % 365),
            "trackers": plan.against(answers.trackers),
            "side": side_view(build, answers, plan.chosen.tilt_by_day[build.chosen_day]),
            "stepped": _stepped(build),
            "holes": {tilt: number for number, tilt in enumerate(plan.reachable, 1)},
        }


def _stepped(build: Build) -> bool:
    return build.frame.mount.get("kind") == "stepped"


def _stretch_of(stretches: Any, day: int) -> int:
    return next((i for i, s in enumerate(stretches) if (day - s.start) % 365 < s.days), 0)


class PlanFile(SignedIn, View):
    """A file made of a build's plan."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        return self.respond(build, Answers(build))

    def respond(self, build: Build, answers: Answers) -> HttpResponse:
        raise NotImplementedError


class MovesCalendar(PlanFile):
    """Every move as a yearly all-day event."""

    def respond(self, build: Build, answers: Answers) -> HttpResponse:
        data = moves_calendar(build, answers.plan, timezone.localdate())
        return as_download(HttpResponse(data, content_type="text/calendar; charset=utf-8"), build, "moves.ics")


class PlanTable(PlanFile):
    """The plan as CSV."""

    def respond(self, build: Build, answers: Answers) -> HttpResponse:
        heads = (
            "start",
            "tilt_degrees",
            "earliest",
            "latest",
            "band_low",
            "band_high",
            "days",
            "energy_kwh",
            "irradiation_kwh_m2",
        )
        rows = [
            (
                month_day(s.start),
                s.tilt,
                month_day(s.earliest),
                month_day(s.latest),
                *s.band,
                s.days,
                round(s.energy, 1),
                round(s.irradiation, 1),
            )
            for s in answers.plan.chosen.stretches
        ]
        return as_download(HttpResponse(csv_text(heads, rows), content_type="text/csv; charset=utf-8"), build, "plan.csv")


class HourlyYear(PlanFile):
    """The weather year, hour by hour, as CSV."""

    def respond(self, build: Build, answers: Answers) -> HttpResponse:
        return as_download(
            HttpResponse(write_hourly(answers.weather), content_type="text/csv; charset=utf-8"), build, "hours.csv"
        )


class PlanDrawing(PlanFile):
    """The plan over the year as an SVG file that stands by itself."""

    def respond(self, build: Build, answers: Answers) -> HttpResponse:
        picture = year_picture(answers.plan, build.chosen_day, _stepped(build))
        text = render_to_string("tilt/drawing.svg", {"year": picture, "build": build, "plan": answers.plan})
        return as_download(HttpResponse(text, content_type="image/svg+xml"), build, "plan.svg")


class FieldCard(PlanFile):
    """One page to take to the rack, as PDF."""

    def respond(self, build: Build, answers: Answers) -> HttpResponse:
        from weasyprint import HTML

        station = TiltStation()
        context = {
            "build": build,
            "plan": answers.plan,
            **station.figures(build, answers),
            "today": timezone.localdate(),
            "sky": answers.weather.source,
        }
        page = render_to_string("tilt/card.html", context)
        pdf = HTML(string=page, url_fetcher=_nothing).write_pdf()
        return as_download(HttpResponse(pdf, content_type="application/pdf"), build, "field-card.pdf")


def _nothing(url: str, *args: Any, **kwargs: Any) -> Any:
    """The card holds everything it needs: nothing is fetched."""
    raise ValueError(f"not fetched: {url}")
