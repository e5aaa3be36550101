"""The frame of every station: load the build, show it, save its form, answer the chosen day."""

from __future__ import annotations

from typing import Any, ClassVar

from django.contrib.auth.mixins import LoginRequiredMixin
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views import View

from sundial.days import day_of_date
from sundial.errors import BriefError
from sundial.plan.today import Today, today, today_from
from web.builds import registry
from web.builds.asking import Pending, ask
from web.builds.editing import Saved, StationForm, save
from web.builds.figures import rail, ribbon
from web.builds.models import Build
from web.builds.results import Results
from web.requests import HtmxHttpRequest


def own_build(request: HttpRequest, pk: int) -> Build:
    """This person's build, or 404: another's is not told apart from none."""
    return get_object_or_404(Build.objects.of(request.user).whole(), pk=pk)


def what_to_do(build: Build, results: Results) -> Today:
    """Today's tilt by the plan, against how the build stands where that is known."""
    chosen, day = results.plan.chosen, day_of_date(timezone.localdate())
    if build.stands_at is None or results.plan.held is not None:
        return today(chosen, day)
    return today_from(results.study.plan_surface, chosen, day, build.stands_at)


class BesideStation(View):
    """A form beside a station's own, which answers with the station's page where something is wrong: loaded again, that page is the station."""

    beside: ClassVar[str]

    def get(self, request: HttpRequest, pk: int, **_: object) -> HttpResponse:
        return redirect(f"{self.beside}:station", pk)


class SignedIn(LoginRequiredMixin):
    """Pages for signed-in people; htmx requests get 401, so that the page can keep what was typed."""

    def handle_no_permission(self) -> HttpResponse:  # type: ignore[override]
        if self.request.htmx:  # type: ignore[attr-defined]
            return HttpResponse(status=401)
        return super().handle_no_permission()


class StationView(SignedIn, View):
    """One station of one build."""

    key: ClassVar[str]
    form_class: ClassVar[type[StationForm]]
    out_of_band_template: ClassVar[str | None] = None  # pieces outside the answer that follow it
    saved_template: ClassVar[str | None] = None  # pieces that follow a save at once, before the figures do
    always_shaded: ClassVar[bool] = False  # whether the switch to the open sky leaves this station alone

    @property
    def registered(self) -> registry.Station:
        return registry.station(self.key)

    @property
    def template(self) -> str:
        return f"{self.key}/station.html"

    def figures(self, build: Build, results: Results) -> dict[str, Any]:
        """What this station's answer needs beside the plan."""
        raise NotImplementedError

    def get(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        if request.htmx and request.GET.get("part") == "answer":
            return self._answer(request, build)
        if build.last_station != self.key:
            Build.objects.filter(pk=build.pk).update(last_station=self.key)
        return render(request, self.template, {**self.context(build), "form": self.form_class(build)})

    def path_of(self, build: Build) -> str:
        """Where this station of a build is, whatever answered last."""
        return reverse(f"{self.key}:station", args=[build.pk])

    def context(self, build: Build, results: Results | None = None) -> dict[str, Any]:
        """Everything the page shows. No transaction is held while it is computed."""
        results = results or Results(build)
        context: dict[str, Any] = {
            "build": build,
            "station": self.key,
            "own_path": self.path_of(build),
            "registered": self.registered,
            "pages": registry.pages_of(self.key),
            "answer_template": f"{self.key}/_answer.html",
            "headline_template": f"{self.key}/_headline.html",
            "out_of_band_template": self.out_of_band_template,
            "others": Build.objects.of(build.owner_id).exclude(pk=build.pk)[:12],
            "rail": rail(build, self.key),
            "currency": build.currency,
            "warnings": [
                (words, reverse(f"{station.key}:station", args=[build.pk]))
                for station in registry.stations()
                for part in station.parts
                if (words := part.of(build).warning())
            ],
        }
        try:
            context["sky_switch"] = results.obstructed and not self.always_shaded
            if build.open_sky and not self.always_shaded:
                results = results.open_sky
            results.preload(["plan", *(one.name for one in self.registered.results if one.dear is False and not one.asked)])
            plan = ask(results, "plan")
            if isinstance(plan, Pending):
                return context | {"pending": plan}
            context |= {"plan": plan, "ribbon": ribbon(build, plan), "results": results, "weather": results.weather}
            context["today"] = what_to_do(build, results)
            context |= self.figures(build, results)
            for pages in registry.pages_of(self.key):
                context |= pages.shown(build) if pages.shown else {}
        except BriefError as error:
            context["trouble"] = str(error)
        return context

    def _answer(self, request: HtmxHttpRequest, build: Build) -> HttpResponse:
        return render(request, "builds/_answered.html", self.context(build))

    def post(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        saved = save(request, build, self.form_class)
        return self.respond(request, saved)

    def respond(self, request: HtmxHttpRequest, saved: Saved) -> HttpResponse:
        """After a save: for htmx that it is saved, upon which the page asks for the new figures; else the whole page."""
        if saved.results:
            saved.results.forget_old()
        if not request.htmx:
            context = {**self.context(saved.build, saved.results), "form": saved.form, "outcome": saved.outcome}
            return render(request, self.template, context, status=200 if saved.outcome == "saved" else 422)
        if saved.outcome == "conflict":
            response = render(request, "builds/_conflict.html", {"own_path": self.path_of(saved.build)})
            response["HX-Retarget"], response["HX-Reswap"] = "#notice", "innerHTML"
            return response
        if saved.outcome == "invalid":
            response = render(request, "builds/_refused.html", {"build": saved.build, "form": saved.form})
            response["HX-Reswap"] = "none"
            return response
        context = {
            "build": saved.build,
            "form": saved.form,
            "rail": rail(saved.build, self.key),
            "saved_template": self.saved_template,
        }
        response = render(request, "builds/_saved.html", context)
        response["HX-Reswap"], response["HX-Trigger"] = "none", "figures-stale, form-saved"
        return response
