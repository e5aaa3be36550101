"""Will the wind take it?"""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views import View

from sundial.answers.wind.forecast import forecast_advice
from sundial.beams.sections import usual_sections
from sundial.errors import BriefError
from sundial.quantities import FORCE
from sundial.wind.pressure import scaled_force
from web.builds.editing import StationForm, save, write
from web.builds.fields import Measured, QuantityField, SpeedField
from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import BesideStation, SignedIn, StationView, own_build
from web.frame.figures import side_view
from web.wind.figures import (
    beam_drawing,
    blow_data,
    drip_words,
    fixing_rows,
    footing_drawing,
    footing_trouble,
    force_curves,
    gust_curve,
    headline,
    months_of,
    own_beam_rows,
    parts_of,
    point_words,
    stretch_words,
    told_feet,
    told_speed,
    worst_fixing,
)
from web.wind.forms import BeamForm, LevelsForm, OwnBeamForm, WindForm


class AsksSpeed(forms.Form):
    """A short question with speeds in it, in the build's own units."""

    def __init__(self, build: Build, *args: Any, **kwargs: Any) -> None:
        kwargs.setdefault("label_suffix", "")
        super().__init__(*args, **kwargs)
        self.chosen_units = lambda: build.shown_in
        for field in self.fields.values():
            if isinstance(field, Measured):
                field.measure_in(build.shown_in, None)


class ForecastForm(AsksSpeed):
    """Tomorrow's wind."""

    mean = SpeedField(required=False, label="Mean wind", why="As the forecast has it, at 10 m.")
    forecast_gust = SpeedField(required=False, label="or gust", why="Where the forecast names gusts, take them.")

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        if not self.errors and data.get("mean") is None and data.get("forecast_gust") is None:
            self.add_error("mean", "Give the mean wind or the gust of the forecast.")
        return data


class ScaledForm(AsksSpeed):
    """A known force at another speed."""

    force = QuantityField(
        FORCE,
        0,
        1e7,
        label="A force of",
    )
    at = SpeedField(label="at")
    other = SpeedField(label="becomes, at")


class WindStation(StationView):
    """At which gust it gives way, how high it may stand in which month, and what holds it."""

    key = "wind"
    form_class = WindForm
    out_of_band_template = "wind/_beside.html"

    def context(self, build: Build, results: Results | None = None) -> dict[str, Any]:
        found = {
            "forecast_form": ForecastForm(build),
            "scaled_form": ScaledForm(build),
            "beam_form": BeamForm(build),
            "levels_form": LevelsForm(build),
            "sections": usual_sections(),
            "month_letters": list(enumerate("JFMAMJJASOND", 1)),
        }
        return found | super().context(build, results)

    def figures(self, build: Build, results: Results) -> dict[str, Any]:
        if results.brief.wind is None:
            return {"wind": None}
        report, units = results["wind"], build.shown_in
        months = months_of(report)
        chosen = results.plan.chosen.tilt_by_day[build.chosen_day]
        footing, beams = results["footing"], results["beams"]
        side = side_view(build, results, chosen)
        lowered = [month for month in months if month.needs]
        return {
            "wind": report,
            "units": units,
            "answer": headline(report, units),
            "lacking": footing_trouble(footing, units),
            "months": months,
            "when": stretch_words(months) if lowered else "",
            "lowest_cap": min((month.cap for month in lowered if month.cap is not None), default=None),
            "none_stands": ["every month"]
            if all(month.cap is None for month in months)
            else [month.name for month in months if month.cap is None],
            "switched": [month for month in months if month.on],
            "side": side,
            "curve": gust_curve(report, units) if report.steepest.gives_way or report.flattest.gives_way else None,
            "forces": force_curves(report, units),
            "pull": worst_fixing(report),
            "blow": blow_data(report, build.wind.ballast, told_feet(build, results, side)),
            "rows": [(point, point_words(point, units)) for point in report.own]
            if len(report.own) <= 24
            else _every(report, units),
            "parts": parts_of(report, units),
            "fixings": fixing_rows(report, units),
            "held_over": [
                month.name
                for month in months
                if results.plan.held
                and report.steepest.allowed is not None
                and report.months[month.number - 1] > report.steepest.allowed
            ],
            "flat_text": told_speed(report.position.flat_stands, units),
            "footing": footing,
            "foot": footing_drawing(footing, build.footing.diameter, units) if footing else None,
            "drip": drip_words(footing, units) if footing else "",
            "beams": [beam_drawing(one, number, units) for number, one in enumerate(beams.beams)],
            "beam_notes": beams.notes,
            "own_beams": own_beam_rows(beams.own, units),
            "heat": beams.heat,
            "beam_sources": beams.sources,
        }


def _every(report: Any, units: Any) -> list[tuple[Any, str]]:
    """Of a frame that stops anywhere, every tenth degree and its ends."""
    own = report.own
    some = [point for point in own if point.tilt % 10 == 0 or point in (own[0], own[-1])]
    return [(point, point_words(point, units)) for point in some]


class ForecastView(SignedIn, View):
    """What to do before tomorrow's wind."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        form, advice = ForecastForm(build, request.GET), None
        if form.is_valid():
            try:
                results = Results(build)
                day = timezone.localdate()
                advice = forecast_advice(
                    results.study,
                    results["wind"],
                    form.cleaned_data["mean"],
                    form.cleaned_data["forecast_gust"],
                    day,
                    build.stands_at,
                )
            except BriefError as error:
                form.add_error(None, error.message)
        return render(request, "wind/_forecast.html", {"build": build, "form": form, "advice": advice, "units": build.shown_in})


class ScaledView(SignedIn, View):
    """A known force at another gust: it grows with the square."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        form, found = ScaledForm(build, request.GET), None
        if form.is_valid():
            told = form.cleaned_data
            found = {
                "force": scaled_force(told["force"], told["at"], told["other"]),
                "times": scaled_force(1, told["at"], told["other"]),
            }
        return render(request, "wind/_scaled.html", {"build": build, "form": form, "found": found, "units": build.shown_in})


class AddPiece(SignedIn, BesideStation):
    """Adds a row of one kind to the station."""

    form_class: type[StationForm]
    named: str
    beside = "wind"

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        saved = save(request, build, self.form_class)
        if saved.outcome == "saved":
            return redirect("wind:station", build.pk)
        station = WindStation()
        context = {**station.context(build), "form": WindForm(build), self.named: saved.form, "outcome": saved.outcome}
        return render(request, "wind/station.html", context, status=422)


class AddBeam(AddPiece):
    form_class, named = BeamForm, "beam_form"


class AddOwnBeam(AddPiece):
    """One of the frame's own pieces, as it is cut now."""

    form_class, named = OwnBeamForm, "own_form"


class AddLevels(AddPiece):
    form_class, named = LevelsForm, "levels_form"


class DeletePiece(SignedIn, View):
    """Takes a row away: the one that stood there in the version that was looked at, and only once."""

    held: str

    def post(self, request: HttpRequest, pk: int, row: int) -> HttpResponse:
        build = own_build(request, pk)
        rows = list(getattr(build.footing, self.held))
        gone = request.POST.get("version", "") != str(build.version)
        if not gone:
            if not 0 <= row < len(rows):
                raise Http404
            del rows[row]
            setattr(build.footing, self.held, rows)
            gone = not write(build, build.version, [build.footing])
        if gone:
            messages.error(request, "This build was changed meanwhile: look, and press once more.")
        return redirect("wind:station", build.pk)


class DeleteBeam(DeletePiece):
    held = "beams"


class DeleteLevels(DeletePiece):
    held = "levels"
