"""The place."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.utils import timezone
from django.views import View

from sundial.aim.compass import compass
from sundial.days import date_of_day, spoken_day
from sundial.sun import sun_day
from web.builds.editing import write
from web.builds.exports import as_download
from web.builds.group import drafts_of_fellows
from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import SignedIn, StationView, own_build
from web.place.figures import month_bars, sun_picture, sun_rows
from web.place.forms import PlaceForm


class PlaceStation(StationView):
    """Where it stands, under what sky, and what the sun does there on the chosen day."""

    key = "place"
    form_class = PlaceForm

    def figures(self, build: Build, results: Results) -> dict[str, Any]:
        today = timezone.localdate()
        chosen = date_of_day(build.chosen_day, today.year)
        return {
            "sun": sun_picture(results.plan, build.chosen_day),
            "days": [
                (name, sun_day(results.study.scene.site, date))
                for name, date in (("today", today), (spoken_day(build.chosen_day), chosen))
                if name == "today" or date != today
            ],
            "compass": compass(results.study.scene.site, today),
            "sun_table": sun_rows(results.plan, results.weather),
            "bars": month_bars(results.weather),
            "per_day": results.weather.ghi_per_day.tolist(),
            "ghi_year": float(results.weather.ghi.sum()) / 1000,
            "site": results.study.scene.site,
        }


class TakeOver(SignedIn, View):
    """The twelve numbers of the sky in use become the person's own, to be corrected."""

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        build.place.take_numbers(Results(build).weather)
        if write(build, build.version, [build.place], drafts_of_fellows(build, [build.place])):
            messages.success(request, "These twelve numbers are yours now: correct what you know better.")
        return redirect("place:station", build.pk)


class WeatherFile(SignedIn, View):
    """The uploaded weather file, to keep beside an exported brief."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        if not build.place.file_data:
            return HttpResponse("This build has no weather file.", status=404, content_type="text/plain")
        response = HttpResponse(bytes(build.place.file_data), content_type="application/octet-stream")
        return as_download(response, build, build.place.file_name or "weather.csv")
