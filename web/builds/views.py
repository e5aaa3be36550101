"""The list of builds, making and copying them, files in and out, the chosen day."""

from __future__ import annotations

import json
import re
import uuid
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django.contrib import messages
from django.db import IntegrityError
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views import View

from sundial.brief.read import read_brief
from sundial.days import day_of_date
from sundial.errors import BriefError
from web.builds.answers import Answers
from web.builds.briefs import build_from_brief, default_brief, export_data
from web.builds.drawing import Scale
from web.builds.editing import StationForm, save
from web.builds.figures import day_strokes, front_days
from web.builds.forms import ImportForm, NewBuildForm, RenameForm
from web.builds.models import Build
from web.builds.stations import SignedIn, own_build
from web.frame.forms import AnglesStep, PanelsStep
from web.place.forms import PlaceStep
from web.place.models import Place


def home(request: HttpRequest) -> HttpResponse:
    """The front door; signed-in people go to their builds."""
    if request.user.is_authenticated:
        return redirect("builds:list")
    return render(request, "home.html", {"front_days": front_days()})


class BuildList(SignedIn, View):
    """All builds of this person, each with its next move."""

    def get(self, request: HttpRequest) -> HttpResponse:
        builds = Build.objects.of(request.user).whole()
        today = day_of_date(timezone.localdate())
        rows = [_summary(build, today) for build in builds]
        thrown = Build.objects.filter(owner=request.user, deleted_at__isnull=False).order_by("-deleted_at").first()
        moving = [row for row in rows if row.get("next")]
        context = {
            "rows": rows,
            "soonest": min(moving, key=lambda row: (row["next"].start - today) % 365, default=None),
            "thrown": thrown,
            "import_form": ImportForm(),
            "creation_key": uuid.uuid4(),
            "import_key": uuid.uuid4(),
        }
        return render(request, "builds/list.html", context)


def _summary(build: Build, today: int) -> dict[str, Any]:
    try:
        plan = Answers(build).plan
    except BriefError as error:
        return {"build": build, "trouble": str(error)}
    stretches = plan.chosen.stretches if plan.chosen.moves else ()
    upcoming = min(stretches, key=lambda stretch: (stretch.start - today) % 365, default=None)
    strokes = day_strokes(plan.daily, Scale(0, 364, 0, 364), 50, 2)
    return {"build": build, "plan": plan, "next": upcoming, "strokes": strokes}


class NewBuild(SignedIn, View):
    """A name makes a build with sensible defaults; three short steps (place, panels, angles) lead to a first answer."""

    def post(self, request: HttpRequest) -> HttpResponse:
        form = NewBuildForm(request.POST)
        if not form.is_valid():
            messages.error(request, "A build needs a name of up to 80 letters.")
            return redirect("builds:list")
        key = form.cleaned_data["creation_key"]
        build = Build.objects.of(request.user).filter(creation_key=key).first()
        if build is None:
            try:
                build = build_from_brief(request.user, default_brief(form.cleaned_data["name"]), key)
            except IntegrityError:  # the button was pressed twice: the first press made it
                return redirect("builds:list")
            Place.objects.filter(build=build).update(units=form.cleaned_data["units"])
        return redirect("builds:step", build.pk, "place")


@dataclass(frozen=True)
class Step:
    """One of the three short steps: its form, what it asks, and what comes after."""

    number: int
    form: type[StationForm]
    question: str
    hint: str
    before: str
    after: str


STEPS = {
    "place": Step(
        1,
        PlaceStep,
        "Where will it stand, and under what sky?",
        "A made-up sky will do for a first look; a file or twelve numbers make it yours.",
        "",
        "panels",
    ),
    "panels": Step(
        2,
        PanelsStep,
        "Which panels, and how many?",
        "The label on the back has it. Lengths in either system: 69 cm, 2 ft 3 1/2 in.",
        "place",
        "angles",
    ),
    "angles": Step(
        3, AnglesStep, "Which angles can the frame reach?", "Measured from the level: 0 is flat, 90 upright.", "panels", ""
    ),
}


class StartStep(SignedIn, View):
    """One step of the guided start."""

    def get(self, request: HttpRequest, pk: int, step: str) -> HttpResponse:
        build, asked = own_build(request, pk), _step(step)
        return render(request, "builds/step.html", _step_context(build, asked, asked.form(build)))

    def post(self, request: HttpRequest, pk: int, step: str) -> HttpResponse:
        build, asked = own_build(request, pk), _step(step)
        saved = save(request, build, asked.form)
        if saved.outcome == "saved":
            return redirect("builds:step", build.pk, asked.after) if asked.after else redirect("tilt:station", build.pk)
        context = {**_step_context(saved.build, asked, saved.form), "conflict": saved.outcome == "conflict"}
        return render(request, "builds/step.html", context, status=422)


# Which answer a question of the steps depends on.
WHEN = {
    "sky_name": "sky_kind=made-up",
    "ghi": "sky_kind=monthly",
    "weather_file": "sky_kind=file",
    "tilt": "kind=fixed",
    "tilts": "kind=stepped",
    "axis_tilt": "kind=one-axis",
    "limit": "kind=one-axis",
    "min_tilt": "kind=two-axis",
    "max_tilt": "kind=two-axis",
}


def _step_context(build: Build, step: Step, form: StationForm) -> dict[str, Any]:
    when = {name: WHEN.get(name, "") for name in form.fields}
    return {"build": build, "form": form, "step": step, "when": when, "step_names": ("Place", "Panels", "Angles")}


def _step(name: str) -> Step:
    if name not in STEPS:
        raise Http404
    return STEPS[name]


class OpenBuild(SignedIn, View):
    """Opens a build where it was left."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        return redirect(f"{build.last_station}:station", build.pk)


class Rename(SignedIn, View):
    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build, form = own_build(request, pk), RenameForm(request.POST)
        if form.is_valid():
            Build.objects.filter(pk=build.pk).update(name=form.cleaned_data["name"], changed_at=timezone.now())
        else:
            messages.error(request, "A build needs a name of up to 80 letters; the old one was kept.")
        return redirect("builds:list")


class Copy(SignedIn, View):
    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        twin = own_build(request, pk).copy()
        messages.success(request, f"“{twin.name}” is there: try what you like in it.")
        return redirect("builds:list")


class Delete(SignedIn, View):
    """Throws a build away; it can be taken back from the list."""

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        Build.objects.filter(pk=build.pk).update(deleted_at=timezone.now())
        return redirect("builds:list")


class Undelete(SignedIn, View):
    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        found = Build.objects.filter(owner=request.user, pk=pk, deleted_at__isnull=False)
        if found.update(deleted_at=None):
            messages.success(request, "It is back.")
        return redirect("builds:list")


class Export(SignedIn, View):
    """The build as a brief file; a weather file of its own is downloaded beside it."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        response = JsonResponse(export_data(build), json_dumps_params={"indent": 2, "ensure_ascii": False})
        return as_download(response, build, "brief.json")


class WeatherFile(SignedIn, View):
    """The uploaded weather file, to keep beside an exported brief."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        if not build.place.file_data:
            return HttpResponse("This build has no weather file.", status=404, content_type="text/plain")
        response = HttpResponse(bytes(build.place.file_data), content_type="application/octet-stream")
        return as_download(response, build, build.place.file_name or "weather.csv")


def as_download(response: HttpResponse, build: Build, ending: str) -> HttpResponse:
    """Name a download after its build; browsers save it and never show it as a page."""
    stem = re.sub(r"[^a-z0-9]+", "-", build.name.lower()).strip("-") or "build"
    name = re.sub(r"[^A-Za-z0-9._-]+", "-", ending)
    response["Content-Disposition"] = f'attachment; filename="{stem}-{name}"'
    return response


class Import(SignedIn, View):
    """A new build from a brief file, with its weather file where it names one."""

    def post(self, request: HttpRequest) -> HttpResponse:
        form = ImportForm(request.POST, request.FILES)
        error = ""
        if form.is_valid():
            weather = form.cleaned_data["weather"]
            try:
                brief = read_brief(form.cleaned_data["brief"].read())
                key = uuid.UUID(str(form.cleaned_data["creation_key"]))
                build = build_from_brief(request.user, brief, key, weather=weather.read() if weather else None)
                return self._checked(request, build)
            except BriefError as refused:
                error = str(refused)
            except IntegrityError:
                return redirect("builds:list")
        else:
            error = " ".join(message for messages_ in form.errors.values() for message in messages_)
        messages.error(request, f"Nothing was imported. {error}")
        return redirect("builds:list")

    def _checked(self, request: HttpRequest, build: Build) -> HttpResponse:
        try:
            answers = Answers(Build.objects.whole().get(pk=build.pk))
            answers.plan  # noqa: B018
        except BriefError:
            build.delete()
            raise
        messages.success(request, f"“{build.name}” is imported.")
        return redirect("builds:open", build.pk)


class ChosenDay(SignedIn, View):
    """Keeps the chosen day; every drawing follows it."""

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        day = parse_day(request.POST.get("day", ""))
        if day is None:
            return HttpResponse("Type a date such as 12 November.", status=422, content_type="text/plain")
        Build.objects.filter(pk=build.pk).update(chosen_day=day)
        return HttpResponse(status=204, headers={"HX-Trigger": json.dumps({"day-changed": {"day": day}})})


def parse_day(text: str) -> int | None:
    """Day 0 to 364 from a number, "12 November", "Nov 12" or "11-12"."""
    text = text.strip()
    if text.isdigit():
        return int(text) if 0 <= int(text) < 365 else None
    for pattern in ("%d %B", "%d %b", "%B %d", "%b %d", "%m-%d", "%Y-%m-%d", "%d.%m."):
        try:
            # The year 2024 lets 29 February be typed; it counts as the 28th.
            typed, given = (text, pattern) if "%Y" in pattern else (f"2024 {text}", f"%Y {pattern}")
            return day_of_date(datetime.strptime(typed, given).date())
        except ValueError:
            continue
    return None
