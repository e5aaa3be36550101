"""What if: figures of a draft that is being dragged, of a thing cut or gone, the map, the best spots."""

from __future__ import annotations

import json
from math import isfinite, nan
from typing import Any

from django.http import HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.views import View

from sundial.brief.model import Brief
from sundial.brief.read import brief_of
from sundial.energy.production import Production
from sundial.errors import BriefError
from sundial.quantities import Units, parse_length
from sundial.shade.survey import clinometer_height, clinometer_height_on_slope, paced_distance, stick_height
from sundial.siting.whatif import Change, what_if, with_thing, without_thing, year_of
from sundial.study import Study
from web.builds.asking import Pending, ask
from web.builds.briefs import brief_data
from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import SignedIn, own_build
from web.shade.document import read_document, set_document
from web.shade.figures import map_layer
from web.shade.forms import said_by_name
from web.shade.results import STRIPS
from web.shade.views import DeferredPart


def draft_brief(build: Build, document: str) -> Brief:
    """The build's brief as it would be with a document that is not saved."""
    held, _ = read_document(document, build.shown_in)
    set_document(build, held)
    return brief_of(brief_data(build))


class Figures(SignedIn, View):
    """What a draft would make, the plan held: asked while something is dragged."""

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        results = Results(build)
        study = results.study
        try:
            change = what_if(study, draft_brief(build, request.POST.get("document", "")), made=results.year(_own_year))
        except BriefError as error:
            return JsonResponse({"error": said_by_name(error, request.POST.get("document", ""))}, status=422)
        return JsonResponse(_rounded(change))


def _rounded(change: Change) -> dict[str, Any]:
    return {
        "energy": round(change.energy),
        "gain": round(change.gain, 1),
        "in_season": round(change.in_season),
        "season_gain": round(change.season_gain, 1),
        "season": change.season,
    }


class WhatIf(SignedIn, View):
    """One obstacle gone, lowered or thinned."""

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        results = Results(build)
        study, name = results.study, request.POST.get("name", "")
        try:
            changed = self._changed(study.brief, name, request.POST, build.shown_in)
            change = what_if(study, changed, made=results.year(_own_year))
        except BriefError as error:
            return render(request, "shade/_returned.html", {"error": error.message}, status=200)
        context = {"change": change, "name": name, "price": study.terms.price, "currency": build.currency}
        return render(request, "shade/_returned.html", context)

    def _changed(self, brief: Brief, name: str, asked: Any, units: Units) -> Brief:
        way = asked.get("way")
        if way == "gone":
            return without_thing(brief, name)
        if way == "thinned":
            try:
                return with_thing(brief, name, thinned=float(asked.get("share", "").rstrip("% ").replace(",", ".")) / 100)
            except ValueError:
                raise BriefError("share", "give how much is thinned out, 0 to 100 %") from None
        try:
            return with_thing(brief, name, height=parse_length(asked.get("height", ""), units))
        except ValueError as error:
            raise BriefError("height", str(error)) from None


def _own_year(study: Study) -> Production:
    return year_of(study, study.brief)


class Map(DeferredPart):
    """The energy map: the strips that are there, while a worker makes the rest."""

    def answer(self, request: HttpRequest, build: Build, results: Results) -> HttpResponse:
        season = request.GET.get("season") == "season"
        found = ask(results, "yard_map", again="again" in request.GET)
        strips = {}
        for strip in range(STRIPS):
            part = results.peek("yard_map_strip", {"strip": str(strip)})
            if part is not None:
                strips[strip] = map_layer(part, season)
        answer: dict[str, Any] = {"strips": strips, "of": STRIPS, "done": not isinstance(found, Pending)}
        if isinstance(found, Pending):
            answer |= {"later": found.later, "open": found.open, "words": found.words, "job": found.job.pk if found.job else None}
        return JsonResponse(answer)


class Spots(DeferredPart):
    """The best few spots, for the year or the season of need, in the whole yard or the drawn part of it."""

    def answer(self, request: HttpRequest, build: Build, results: Results) -> HttpResponse:
        goal = "season" if request.GET.get("season") == "season" else "year"
        area = build.yard.area if request.GET.get("within") else None
        params = {"goal": goal, "area": json.dumps(area) if area else ""}
        found = ask(results, "best_spots", params, again="again" in request.GET)
        if isinstance(found, Pending):
            context = {"pending": found, "target": "#spots", "what": ""}
            return render(request, "builds/_pending.html", context)
        return render(request, "shade/_spots.html", {"spots": found, "goal": goal, "within": bool(area), "build": build})


class Measure(SignedIn, View):
    """The arithmetic of a height or distance that was measured; the raw readings are kept with the thing."""

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        try:
            return JsonResponse(measured(request.POST, build.shown_in))
        except BriefError as error:
            return JsonResponse({"error": f"{error.path.replace('_', ' ').capitalize()}: {error.message}."}, status=422)


def measured(given: Any, units: Units) -> dict[str, Any]:
    """A height or distance, m, from what was read off; and the readings as a brief keeps them."""
    way = given.get("way", "")

    def length(name: str) -> float:
        try:
            return parse_length(given.get(name, ""), units)
        except ValueError as error:
            raise BriefError(name, str(error)) from None

    def angle(name: str, usual: float | None = None) -> float:
        text = given.get(name, "").strip().rstrip("°").replace(",", ".").replace("−", "-")
        if not text and usual is not None:
            return usual
        try:
            value = float(text)
        except ValueError:
            value = nan
        if not isfinite(value):
            raise BriefError(name, f"{text[:20]!r} is not a number")
        return value

    if way == "stick":
        raw = {
            "stick": length("stick"),
            "stick_shadow": length("stick_shadow"),
            "shadow": length("shadow"),
            "slope": angle("slope", 0.0),
        }
        return {"height": round(stick_height(**raw), 2), "measured": {"way": way, **raw}}
    if way == "paces":
        paces = {"paces": angle("paces"), "pace": length("pace")}
        return {"distance": round(paced_distance(**paces), 2), "measured": {"way": way, **paces}}
    if given.get("foot_angle", "").strip():
        sloping = {"distance": length("distance"), "angle": angle("angle"), "foot_angle": angle("foot_angle")}
        slope = angle("slope", 0.0)
        height = clinometer_height_on_slope(**sloping, slope=slope)
        return {"height": round(height, 2), "measured": {"way": "clinometer", **sloping, "slope": slope}}
    level = {"distance": length("distance"), "angle": angle("angle"), "eye_height": length("eye_height")}
    return {"height": round(clinometer_height(**level), 2), "measured": {"way": "clinometer", **level}}
