"""The place."""

from __future__ import annotations

from typing import Any

from django.utils import timezone

from sundial.aim import compass
from sundial.days import date_of_day, spoken_day
from sundial.sun import sun_day
from web.builds.answers import Answers
from web.builds.models import Build
from web.builds.stations import StationView
from web.place.figures import month_bars, sun_picture, sun_rows
from web.place.forms import PlaceForm


class PlaceStation(StationView):
    """Where it stands, under what sky, and what the sun does there on the chosen day."""

    key = "place"
    form_class = PlaceForm

    def figures(self, build: Build, answers: Answers) -> dict[str, Any]:
        today = timezone.localdate()
        chosen = date_of_day(build.chosen_day, today.year)
        return {
            "sun": sun_picture(answers.plan, build.chosen_day),
            "days": [
                ("today", sun_day(answers.study.site, today)),
                (spoken_day(build.chosen_day), sun_day(answers.study.site, chosen)),
            ],
            "compass": compass(answers.study.site, today),
            "sun_table": sun_rows(answers.plan, answers.weather),
            "bars": month_bars(answers.weather),
            "ghi_year": float(answers.weather.ghi.sum()) / 1000,
            "site": answers.study.site,
        }
