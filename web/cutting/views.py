"""How do I cut and bolt it?"""

from __future__ import annotations

from typing import Any

from django import forms
from django.contrib.staticfiles.storage import staticfiles_storage
from django.db import transaction
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.views import View

from sundial.answers.cutting.report import CuttingReport
from sundial.answers.electrics.report import ElectricsReport
from sundial.brief.sections.cutting import MOST_PIECES
from sundial.cutting.longer import lengthen
from sundial.cutting.template import template
from sundial.electrics.cable import Run
from sundial.errors import BriefError
from sundial.quantities import INCH, Units, format_length, hardware_count, hardware_name
from web.builds.asking import Pending, ask
from web.builds.fields import LineField
from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import SignedIn, StationView, own_build
from web.cutting.figures import (
    boards_drawn,
    exploded,
    headline,
    heaps_drawn,
    pieces_drawn,
    template_drawn,
)
from web.cutting.forms import CuttingForm
from web.cutting.models import Cutting
from web.cutting.wires import WiringDrawn, thermometer, wiring_drawn


def is_proved(report: CuttingReport) -> bool:
    """Whether nothing cheaper, and at this price nothing shorter, can exist."""
    return (
        report.plan.missing_gap == 0
        and report.plan.gap < 1e-6
        and report.plan.length_gap is not None
        and report.plan.length_gap < 1e-6
    )


def best_report(results: Results) -> CuttingReport:
    """The plan that a worker has had time for, where there is one; else the one that stands at once."""
    found: CuttingReport = results["cutting"]
    if not is_proved(found) and results.has("cutting_best"):
        best: CuttingReport = results.peek("cutting_best")
        return best
    return found


class CuttingStation(StationView):
    """From the plan to the saw, the drill and the plug."""

    key = "cutting"
    form_class = CuttingForm
    saved_template = "cutting/_saved.html"

    def figures(self, build: Build, results: Results) -> dict[str, Any]:
        found: dict[str, Any] = {"units": build.shown_in, "label": results.brief.electrics}
        try:
            found |= self.of_wood(build, results)
        except BriefError as error:
            found |= {"cutting": None, "no_wood": error.message}
        if results.brief.electrics is not None:
            try:
                found |= self.of_wires(build, results)
            except BriefError as error:
                found["no_wires"] = error.message
        return found

    def of_wood(self, build: Build, results: Results) -> dict[str, Any]:
        """What is sawn and bolted."""
        report, units = best_report(results), build.shown_in
        chosen = results.plan.chosen.tilt_by_day[build.chosen_day]
        done = set(build.cutting.done)
        boards = boards_drawn(report.plan, build.cutting.least_rest, units, build.cutting.done)
        cuts = [cut for board in boards for cut in board.cuts]
        return {
            "cutting": report,
            "answer": headline(report, units, build.currency),
            "proved": is_proved(report),
            "tried": results.has("cutting_best"),
            "exploded": exploded(build, results, report.plan.pieces, chosen),
            "pieces": pieces_drawn(report.plan.pieces, units),
            "boards": boards,
            "heaps": heaps_drawn(report.on_hand, units),
            "kerf_text": saw_words(build.cutting.kerf, units),
            "sawn": sum(cut.done for cut in cuts),
            "cuts": len(cuts),
            "parts": report.parts,
            "hole_table": hole_table(results),
            "order": [(step, f"step-{step.key}" in done) for step in report.order],
            "shopping": shopping(report, done, units),
            "base": template_drawn(template(results.brief.cutting.base)) if results.brief.cutting.base else None,
        }

    def of_wires(self, build: Build, results: Results) -> dict[str, Any]:
        """Strings, cable and leads."""
        report = results["electrics"]
        better = report.better
        return {
            "wires": report,
            **_series(report.run, build.shown_in),
            "wired": wiring_drawn(results, report),
            "rewired": wiring_drawn(results, report, better.strings) if better else None,
            "relonger": longer_drawn(results, report),
            "volts": thermometer(results, report),
            "short_leads": [joint for joint in report.joints if joint.extension],
        }


def longer_drawn(results: Results, report: ElectricsReport) -> WiringDrawn | None:
    """The longer rack's strings on its panels; None where it is not made longer, or cannot be."""
    try:
        longer = lengthen(results.scene)
    except BriefError:
        return None
    return wiring_drawn(results, report, report.longer.strings, longer.numbers) if report.longer and longer else None


def saw_words(kerf: float, units: Units) -> str:
    """Width of the saw's cut, in millimetres or as part of an inch."""
    return f"{kerf * 1000:g} mm" if units == "metric" else format_length(round(kerf / INCH * 32) / 32 * INCH, units)


def hole_table(results: Results) -> list[Any]:
    """The frame's holes with their tilts, where it has few enough to print in a line."""
    structure = results.study.scene.structure
    holes = structure.holes if structure is not None and structure.settings else []
    return [{"hole": hole.number, "tilt": hole.plane.tilt} for hole in holes] if len(holes) <= 14 else []


def shopping(report: CuttingReport, done: set[str], units: Units) -> list[dict[str, Any]]:
    """What to bring home: boards and parts, each with the key it is ticked by."""
    rows: list[dict[str, Any]] = [
        {"key": f"buy-{buy.section}-{buy.length:g}"[:80], "count": buy.count, "name": buy.section, "length": buy.length}
        for buy in report.plan.buy
    ]
    for part in report.parts:
        count, name = hardware_count(part.name, part.bought, units), hardware_name(part.name, units)
        rows.append({"key": f"part-{part.name}"[:80], "count": count, "name": name, "length": None})
    for row in rows:
        row["done"] = row["key"] in done
    return rows


def _series(run: Run | None, units: Units) -> dict[str, Any]:
    """The two series of thicknesses, what people think in first, and the thinnest of the first within 2 and within 3 %."""
    if run is None:
        return {}
    metric, american = (run.within_2, run.within_3), (run.gauge_within_2, run.gauge_within_3)
    if units == "us":
        return {"series": (run.gauges, run.sizes), "within": american}
    return {"series": (run.sizes, run.gauges), "within": metric}


class Shed(SignedIn, View):
    """The page for the shed and the shop: what to saw, what to buy, what to do next; ticked without a connection too."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        results = Results(build)
        try:
            found = CuttingStation().of_wood(build, results)
        except BriefError as error:
            found = {"trouble": error.message}
        return render(request, "cutting/shed.html", {"build": build, "units": build.shown_in, **found})


class ShedWorker(SignedIn, View):
    """The script that keeps the page of the shed in the phone: served under that page, which is as far as it reaches."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        own_build(request, pk)
        with staticfiles_storage.open("js/shed-worker.js") as script:
            answer = HttpResponse(script.read(), content_type="text/javascript; charset=utf-8")
        answer["Cache-Control"] = "no-cache"
        return answer


class TickForm(forms.Form):
    """One thing ticked, or not any more."""

    key = LineField(max_length=80)
    done = forms.TypedChoiceField(choices=[("1", "yes"), ("0", "no")], coerce=lambda value: value == "1")


class Tick(SignedIn, View):
    """Keep one tick. It changes no figure, so it asks for no version: a tick that arrives late never collides."""

    @transaction.atomic
    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        form = TickForm(request.POST)
        if not form.is_valid():
            return JsonResponse({"errors": {name: " ".join(errors) for name, errors in form.errors.items()}}, status=422)  # type: ignore[arg-type]
        _ = build.cutting
        held = Cutting.objects.select_for_update().get(build=build)
        key, done = form.cleaned_data["key"], form.cleaned_data["done"]
        ticks = [one for one in held.done if one != key] + ([key] if done else [])
        if len(ticks) > MOST_PIECES:
            return JsonResponse({"errors": {"key": "More is ticked than can be kept."}}, status=422)
        held.done = ticks
        held.save(update_fields=["done"])
        return JsonResponse({"done": ticks})


class Proof(SignedIn, View):
    """Whether a better plan can exist: worked out by a worker where it takes its time."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        results = Results(build)
        try:
            first: CuttingReport = results["cutting"]
            found = first if is_proved(first) else ask(results, "cutting_best", again="again" in request.GET)
        except BriefError as error:
            return render(request, "cutting/_proof.html", {"build": build, "no_wood": error.message})
        if isinstance(found, Pending):
            return render(request, "cutting/_proof.html", {"build": build, "pending": found, "target": "#proof"})
        context = {"build": build, "proved": is_proved(found), "cutting": found}
        response = render(request, "cutting/_proof.html", context)
        if found.plan.cost < first.plan.cost - 1e-6 or found.plan.boards != first.plan.boards:
            response["HX-Trigger"] = "figures-stale"
        return response
