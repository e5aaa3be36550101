"""The shade: the yard, the sky of the spot, and the price of every obstacle."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.http import HttpResponse, JsonResponse
from django.shortcuts import render
from django.utils import timezone
from django.views import View

from sundial.aim.compass import compass
from sundial.brief.geojson import read_yard_geojson, write_yard_geojson
from sundial.days import DECEMBER_SOLSTICE, JUNE_SOLSTICE, MONTH_NAMES
from sundial.errors import BriefError
from sundial.shade.skyline import KINDS
from sundial.shade.skyline_file import gaps_told, read_skyline_csv, write_skyline_csv
from sundial.shade.spacing import pitch_for_hours
from sundial.shade.survey import true_azimuth
from sundial.siting.costs import ShadeCost
from sundial.siting.day import day_in_yard
from sundial.siting.ground import window_of
from sundial.siting.skyview import sky_view
from sundial.siting.whatif import ways_of
from web.builds.asking import Pending, ask
from web.builds.editing import Saved
from web.builds.exports import as_download
from web.builds.group import arrays_of_fellows
from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import SignedIn, StationView, own_build
from web.builds.views import parse_day
from web.requests import HtmxHttpRequest
from web.shade.document import document_of, settled_skyline
from web.shade.figures import frames, hours_rows, month_rows, own_house_shapes, sky_picture
from web.shade.forms import DropForm, PitchForm, ReadingForm, ShadeForm, said_by_name
from web.shade.models import Yard

SAME_AZIMUTH = 0.006  # degrees: azimuths are kept to a hundredth
TOOLS = [
    ("building", "House"),
    ("tree", "Tree"),
    ("wall", "Wall"),
    ("fence", "Fence"),
    ("post", "Post"),
    ("rail", "Rail"),
    ("array", "Panels"),
]


class ShadeStation(StationView):
    """What stands in the way, where to put the array, and what each obstacle costs."""

    key = "shade"
    form_class = ShadeForm
    out_of_band_template = "shade/_beside.html"
    always_shaded = True

    def figures(self, build: Build, results: Results) -> dict[str, Any]:
        study, readings = results.study, build.yard.skyline
        year = timezone.localdate().year
        view = sky_view(study, build.chosen_day, year)
        window = window_of(study.scene)
        winter = DECEMBER_SOLSTICE if study.scene.site.latitude >= 0 else JUNE_SOLSTICE
        wide, deep = study.scene.geometry.size
        return {
            "document": document_of(build),
            "fellows": arrays_of_fellows(build),
            "own_house": own_house_shapes(study.scene),
            "report": results["shade"],
            "hours": hours_rows(results["shade"]),
            "dearest": dearest(results),
            "sky": sky_picture(study, view, readings),
            "readings": readings,
            "compass": compass(study.scene.site, timezone.localdate()),
            "window": [window.west, window.south, window.east, window.north],
            "array_size": [
                wide,
                deep * _flat(study, build.chosen_day),
                int(study.scene.geometry.spot.centre_pivot),
                study.scene.azimuth,
            ],
            "seasons": [winter, (winter + 182) % 365],
            "tools": TOOLS,
            "kinds": KINDS,
            "panels": range(1, study.scene.array.count + 1),
            "gaps": gaps_told(tuple((r["azimuth"], r["elevation"]) for r in readings)) if readings else [],
        }

    def respond(self, request: HtmxHttpRequest, saved: Saved) -> HttpResponse:
        response = super().respond(request, saved)
        if saved.outcome == "conflict" and request.htmx:
            # What the other tab did, by name; the drawing here still holds this tab's own.
            context = {"build": saved.build, "station": self.key, "told": _differences(saved, request.POST.get("document", ""))}
            conflict = render(request, "shade/_conflict.html", context)
            conflict["HX-Retarget"], conflict["HX-Reswap"] = "#notice", "innerHTML"
            return conflict
        return response


def _flat(study: Any, day: int) -> float:
    """How deep the array's slope is in plan, as a share, on a day."""
    from math import cos, radians

    return abs(cos(radians(float(study.own_facing[0].surface_tilt[day * 24 + 12]))))


def _pitch(results: Results, hours: tuple[float, float], day: int | None) -> float:
    """Front edge to front edge, m, with the steepest tilt of the plan; ``day`` None is the shortest of the year."""
    study = results.study
    tilt = float(abs(study.own_facing[0].surface_tilt).max())
    return pitch_for_hours(study.scene.geometry.size[1], tilt, study.scene.site.latitude, study.scene.azimuth, day, hours)


def _differences(saved: Saved, document: str) -> list[str]:
    """What the other tab changed, against what this one wanted to save, by name."""
    import json

    try:
        mine = {thing["name"]: thing for thing in json.loads(document)["objects"]}
    except (ValueError, KeyError, TypeError):
        return []
    theirs = {thing["name"]: thing for thing in saved.build.yard.obstacles}
    told = [f"“{name}” is not there any more." for name in mine if name not in theirs]
    told += [f"“{name}” was added." for name in theirs if name not in mine]
    return told + [f"“{name}” is different there." for name in mine if name in theirs and mine[name] != theirs[name]]


class DeferredPart(SignedIn, View):
    """A part of the station that is asked for after the page: it may take longer and never holds it up."""

    def get(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        try:
            return self.answer(request, build, Results(build))
        except BriefError as error:
            return JsonResponse({"error": said_by_name(error, "")}, status=422)

    def answer(self, request: HtmxHttpRequest, build: Build, results: Results) -> HttpResponse:
        raise NotImplementedError


class DayFrames(DeferredPart):
    """The day's sun and shadows every half hour."""

    def answer(self, request: HtmxHttpRequest, build: Build, results: Results) -> HttpResponse:
        day = parse_day(request.GET.get("day", ""))
        chosen = build.chosen_day if day is None else day
        return JsonResponse({"day": chosen, "frames": frames(day_in_yard(results.study, chosen, timezone.localdate().year))})


def dearest(results: Results) -> ShadeCost | None:
    """The obstacle that costs most; None as long as the costs are not worked out, since they take their time."""
    costs = results.peek("shade_costs")
    return costs[0] if costs else None


class Prices(DeferredPart):
    """What every obstacle costs."""

    def answer(self, request: HtmxHttpRequest, build: Build, results: Results) -> HttpResponse:
        costs = ask(results, "shade_costs", again="again" in request.GET)
        if isinstance(costs, Pending):
            return render(
                request, "builds/_pending.html", {"pending": costs, "target": "#prices", "what": "What each obstacle costs"}
            )
        prices = [(cost, " ".join(ways_of(results.brief, cost.name))) for cost in costs]
        context = {
            "build": build,
            "report": results["shade"],
            "prices": prices,
            "can_try": any(ways for _, ways in prices),
            "price_of_kwh": results.study.terms.price,
            "currency": build.currency,
            "months": [name[:3] for name in MONTH_NAMES],
            "by_month": month_rows(costs),
            "dearest": costs[0] if costs else None,
        }
        return render(request, "shade/_prices.html", context)


class Pitch(DeferredPart):
    """How far apart rows must stand so that the sun of a day and of chosen hours clears the row in front."""

    def answer(self, request: HtmxHttpRequest, build: Build, results: Results) -> HttpResponse:
        try:
            asked = PitchForm(request.GET)
            if not asked.is_valid():
                raise BriefError("hours", " ".join(error for errors in asked.errors.values() for error in errors))  # type: ignore[misc]
            day = build.chosen_day if asked.cleaned_data["on"] == "chosen" else None
            context = {"pitch": _pitch(results, asked.hours, day)}
        except BriefError as error:
            context = {"error": error.message}  # type: ignore[dict-item]
        return render(request, "shade/_pitch.html", {"build": build, **context})


class SkylineFile(SignedIn, View):
    """The skyline as CSV, out and in."""

    def get(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        readings = build.yard.skyline
        points = tuple((r["azimuth"], r["elevation"]) for r in readings)
        text = write_skyline_csv(points, tuple(r.get("kind", "solid") for r in readings))
        return as_download(HttpResponse(text, content_type="text/csv; charset=utf-8"), build, "skyline.csv")

    def post(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        own_build(request, pk)
        upload = request.FILES.get("file")
        try:
            held = read_skyline_csv(upload.read() if upload else b"")
        except BriefError as error:
            return JsonResponse({"error": str(error)}, status=422)
        readings = [
            {"azimuth": azimuth, "elevation": elevation, "kind": kind}
            for (azimuth, elevation), kind in zip(held.points, held.kinds, strict=True)
        ]
        return JsonResponse({"skyline": readings, "told": held.notes})


class YardFile(SignedIn, View):
    """The yard as GeoJSON, out and in."""

    def get(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        response = JsonResponse(write_yard_geojson(build.yard.obstacles), json_dumps_params={"indent": 1, "ensure_ascii": False})
        return as_download(response, build, "yard.geojson")

    def post(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        upload = request.FILES.get("file")
        try:
            held = read_yard_geojson(upload.read() if upload else b"", Results(build).study.scene.site)
        except BriefError as error:
            return JsonResponse({"error": str(error)}, status=422)
        return JsonResponse({"objects": held.objects, "told": held.notes})


class Field(SignedIn, View):
    """The page to stand in the yard with: one skyline reading at a time."""

    def get(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        found = compass(Results(build).study.scene.site, timezone.localdate())
        return render(request, "shade/field.html", {"build": build, "compass": found, "readings": build.yard.skyline})

    @transaction.atomic
    def post(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        """One reading more, or one dropped; sent twice it counts once."""
        build = own_build(request, pk)
        dropped = request.POST.get("drop")
        form = (DropForm if dropped else ReadingForm)(request.POST)
        if not form.is_valid():
            return JsonResponse({"errors": {name: " ".join(errors) for name, errors in form.errors.items()}}, status=422)  # type: ignore[arg-type]
        Build.objects.select_for_update().get(pk=build.pk)
        yard = Yard.objects.select_for_update().get(build=build)
        given, before = form.cleaned_data, yard.skyline
        if dropped:
            yard.skyline = [reading for reading in before if abs(reading["azimuth"] - given["drop"]) > SAME_AZIMUTH]
        elif not any(reading.get("key") == given["key"] for reading in before):
            yard.skyline, _ = settled_skyline([*before, self._reading(build, given)])
        if yard.skyline != before:
            yard.save(update_fields=["skyline"])
            build.refresh_from_db(fields=["version"])
            Build.objects.filter(pk=build.pk).update(version=build.version + 1, changed_at=timezone.now())
        return JsonResponse({"count": len(yard.skyline), "skyline": yard.skyline})

    def _reading(self, build: Build, given: dict[str, Any]) -> dict[str, Any]:
        reading = {"elevation": given["elevation"], "kind": given["kind"], "key": given["key"]}
        if not given["magnetic"]:
            return reading | {"azimuth": given["bearing"] % 360}
        declination = round(compass(Results(build).study.scene.site, timezone.localdate()).declination, 2)
        azimuth = round(true_azimuth(given["bearing"], declination), 2)
        return reading | {"azimuth": azimuth, "bearing": given["bearing"], "declination": declination}
