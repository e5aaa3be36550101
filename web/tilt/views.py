"""The tilt plan."""

from __future__ import annotations

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.views import View

from sundial.answers.plan.report import stretch_curve
from sundial.days import day_of_date
from sundial.errors import BriefError
from sundial.plan.rivals import effort_of
from sundial.plan.stay import stay
from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import SignedIn, StationView, own_build
from web.frame.figures import side_view
from web.tilt.figures import curve_chart, gain_curve, year_picture
from web.tilt.forms import StayForm, TiltForm


class TiltStation(StationView):
    """What angle, when to move it, how much slack, and what it gains."""

    key = "tilt"
    form_class = TiltForm
    out_of_band_template = "tilt/_beside.html"

    def figures(self, build: Build, results: Results) -> dict[str, Any]:
        plan = results.plan
        stretches = plan.chosen.stretches
        index = _stretch_of(stretches, build.chosen_day)
        curve = stretch_curve(results.study, plan.chosen, index)
        today = day_of_date(timezone.localdate())
        paying = plan.paying(effort_of(results.brief.plan, results.study.terms.price))
        return {
            "shade": results["plan_shade"],
            "year": year_picture(plan, build.chosen_day, stepped(build)),
            "gains": gain_curve(plan, paying),
            "paying": paying,
            "counts": [str(k) for k in range(1, 13)],
            "curve_chart": curve_chart(curve),
            "curve_table": [pair for pair in zip(curve.tilts, curve.energy, strict=True) if pair[0] % 5 == 0],
            "this_stretch": stretches[index],
            "next": min(stretches, key=lambda stretch: (stretch.start - today) % 365),
            "trackers": plan.against(results["trackers"]),
            "side": side_view(build, results, plan.chosen.tilt_by_day[build.chosen_day]),
            "stepped": stepped(build),
            "holes": {tilt: number for number, tilt in enumerate(plan.reachable, 1)},
            "stay_form": StayForm(build),
        }


class StayView(SignedIn, View):
    """Whether it pays to raise the panels for a few days."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        form, found = StayForm(build, request.GET), None
        if form.is_valid():
            told, results = form.cleaned_data, Results(build)
            try:
                study = results.study
                surface = study.surface(told["azimuth"])
                first = day_of_date(told["first"])
                found = stay(surface, study.scene.reachable, first, told["days"], told["minutes"], told["worth"])
            except BriefError as error:
                form.refuse(error)
        return render(request, "tilt/_stay.html", {"build": build, "form": form, "found": found})


def stepped(build: Build) -> bool:
    return build.frame.mount.get("kind") == "stepped"


def _stretch_of(stretches: Any, day: int) -> int:
    return next((i for i, s in enumerate(stretches) if (day - s.start) % 365 < s.days), 0)
