"""The tilt plan."""

from __future__ import annotations

from typing import Any
from urllib.parse import urlencode

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views import View

from sundial.answers.plan.report import Held, PlanReport, stretch_curve
from sundial.days import day_of_date
from sundial.errors import BriefError
from sundial.plan.rivals import effort_of
from sundial.plan.stay import stay
from web.builds.editing import write
from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import SignedIn, StationView, own_build
from web.frame.figures import side_view
from web.numbers import number_in
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
        paying = 1 if plan.held else plan.paying(effort_of(results.brief.plan, results.study.terms.price))
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
            "was": self._was(build, plan),
        }

    def _was(self, build: Build, plan: PlanReport) -> float | None:
        """The tilt at which it was fixed until just now, so that this can be taken back."""
        request = getattr(self, "request", None)
        was = None if request is None else number_in(request.GET.get("was", ""), 0, 90)
        return None if plan.held else was


class HowHeld(SignedIn, View):
    """Lets a fixed frame be moved by hand, or fixes one that is moved."""

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        results, frame = Results(build), build.frame
        back = redirect("tilt:station", pk)
        try:
            plan = results.plan
            tilt = number_in(request.POST.get("tilt", ""), 0, 90)
            if request.POST.get("do") == "move" and plan.held is not None:
                back = redirect(f"{reverse('tilt:station', args=[pk])}?{urlencode({'was': f'{plan.held.tilt:g}'})}")
                told = self._moved(build, results, plan.held)
            elif request.POST.get("do") == "fix" and plan.held is None and not plan.moved_by_motor:
                fixed = plan.fixed.stretches[0].tilt if tilt is None else tilt
                frame.mount, frame.tilts_typed = {"kind": "fixed", "tilt": fixed}, ""
                told = f"It stays at {fixed:g}° now."
            else:
                return back
            Results(build).check()
        except BriefError as error:
            messages.error(request, f"It was left as it is: {error.message}")
            return redirect("tilt:station", pk)
        if write(build, build.version, [frame, build.plan]):
            messages.success(request, told)
        else:
            messages.error(request, "It was changed in another tab just now: look again.")
        return back

    @staticmethod
    def _moved(build: Build, results: Results, held: Held) -> str:
        structure = results.scene.structure
        tilts = (
            [] if structure is not None and len(structure.tilts if structure.says_tilts else ()) > 1 else list(held.would_tilts)
        )
        build.frame.mount = {"kind": "stepped", **({"tilts": tilts} if tilts else {})}
        build.frame.tilts_typed = ", ".join(f"{one:g}" for one in tilts)
        build.plan.settings = held.settings
        words = " and ".join(f"{one:g}°" for one in held.would_tilts)
        return f"It is moved by hand now, between {words}. “The frame” asks how it is held there."


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
