"""The bench."""

from __future__ import annotations

import json
from typing import Any, cast

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views import View

from sundial.answers.bench.report import day_report
from sundial.bench.axes import motor_mount
from sundial.bench.minutes import SkyKind
from sundial.bench.table import sun_table, written
from sundial.brief.model import BenchBrief
from sundial.days import MONTH_NAMES, spoken_day
from sundial.errors import BriefError
from sundial.mounts.places import usual_places
from web.bench.figures import day_drawn, event_rows, loss_rows, month_rows, said, trade_drawn
from web.bench.forms import BenchForm
from web.builds.asking import Pending, ask
from web.builds.editing import write
from web.builds.exports import as_download
from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import SignedIn, StationView, own_build
from web.numbers import whole


class BenchStation(StationView):
    """A day replayed, and the year beside it."""

    key = "bench"
    form_class = BenchForm
    always_shaded = True

    def figures(self, build: Build, results: Results) -> dict[str, Any]:
        settings = BenchBrief.model_validate(build.bench.settings)
        try:
            day = day_report(results.study, settings, build.chosen_day, cast(SkyKind, build.bench.sky), build.bench.seed)
        except BriefError as error:
            return {"no_motor": error.message}
        made = day.result
        return {
            "bench_day": day, "made": made, "drawn": day_drawn(day), "day_title": spoken_day(build.chosen_day), "settings_said": said(settings),
            "places": usual_places(motor_mount(results.study.scene)),
            "month_names": list(enumerate(MONTH_NAMES, 1)), "this_month": timezone.localdate().month,
            "losses": loss_rows(made.losses, made.ideal), "events": event_rows(day.events), "skies": dict(build.bench.SKIES)[build.bench.sky],
        }  # fmt: skip


class BenchYear(SignedIn, View):
    """The year, the trade curve and what errors cost: worked out by a worker, and polled."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        results = Results(build)
        context: dict[str, Any] = {"build": build, "target": "#bench-year", "what": "The year by the minute"}
        try:
            found = ask(results, "bench_year", again="again" in request.GET)
        except BriefError as error:
            return render(request, "bench/_year.html", context | {"why": error.message})
        if isinstance(found, Pending):
            return render(request, "builds/_pending.html", context | {"pending": found})
        suggested = found.trade.points[found.trade.suggested]
        return render(request, "bench/_year.html", context | {
            "year": found, "drawn": trade_drawn(found), "months": month_rows(found), "losses": loss_rows(found.losses, found.ideal),
            "suggested": suggested, "suggested_said": said(suggested.settings), "yours": found.trade.points[0],
            "worst_day": spoken_day(found.trade.worst_day), "same": found.trade.suggested == 0,
        })  # fmt: skip


class Beside(SignedIn, View):
    """Two settings side by side: keeps these, brings the kept ones back, shows the year of both."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        context: dict[str, Any] = {"build": build, "target": "#bench-beside", "what": "Two settings side by side"}
        if build.bench.beside is None:
            return render(request, "bench/_beside_year.html", context)
        other = BenchBrief.model_validate(build.bench.beside)
        try:
            found = ask(Results(build), "bench_beside", {"other": other.model_dump_json()}, again="again" in request.GET)
        except BriefError as error:
            return render(request, "bench/_beside_year.html", context | {"why": error.message})
        if isinstance(found, Pending):
            return render(request, "builds/_pending.html", context | {"pending": found})
        names = (said(BenchBrief.model_validate(build.bench.settings)), said(other))
        return render(
            request,
            "bench/_beside_year.html",
            context | {"sides": list(zip(names, found, strict=True)), "more": found[0].energy - found[1].energy},
        )

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        part, wanted = build.bench, request.POST.get("do")
        if wanted == "keep":
            part.beside = part.settings
        elif wanted == "swap" and part.beside is not None:
            part.settings, part.beside = part.beside, part.settings
        elif wanted == "drop":
            part.beside = None
        if not write(build, build.version, [part], []):
            messages.error(request, "Somebody changed this build meanwhile: look, and press once more.")
        return redirect("bench:station", build.pk)


class Take(SignedIn, View):
    """Take a setting of the trade curve over."""

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        found = Results(build).peek("bench_year")
        number = whole(request.POST.get("number"))
        if found is None or number is None or number >= len(found.trade.points):
            messages.error(request, "That was worked out from an older state: it is being looked at again.")
            return redirect("bench:station", build.pk)
        part = build.bench
        part.settings = found.trade.points[number].settings.model_dump(mode="json", exclude_defaults=True)
        if not write(build, build.version, [part], []):
            messages.error(request, "Somebody changed this build meanwhile: look, and press once more.")
        else:
            messages.success(request, f"Taken over: {said(found.trade.points[number].settings)}.")
        return redirect("bench:station", build.pk)


class Table(SignedIn, View):
    """The sun table of a month or the year, as a file."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        try:
            month = int(request.GET.get("month") or 0) or None
            step = float((request.GET.get("step") or "1").replace(",", "."))
            form = request.GET.get("format", "csv")
            text = written(sun_table(Results(build).study, month, step), form)
        except (BriefError, ValueError, OverflowError) as error:
            said_so = error.message if isinstance(error, BriefError) else "Give the month as a number and the step in degrees."
            messages.error(request, said_so[:1].upper() + said_so[1:])
            return redirect("bench:station", build.pk)
        kinds = {
            "csv": ("text/csv; charset=utf-8", "sun-table.csv"),
            "json": ("application/json", "sun-table.json"),
            "c": ("text/plain; charset=utf-8", "sun_table.h"),
        }
        kind, name = kinds[form]
        return as_download(HttpResponse(text, content_type=kind), build, name)


class SettingsOut(SignedIn, View):
    """The settings as JSON, as the command line reads them."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        held = BenchBrief.model_validate(build.bench.settings).model_dump(mode="json")
        return as_download(
            HttpResponse(json.dumps(held, indent=2) + "\n", content_type="application/json"), build, "bench-settings.json"
        )
