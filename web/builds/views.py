"""The list of builds, making and copying them, files in and out, the chosen day."""

from __future__ import annotations

import hashlib
import json
import uuid
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any

from django.contrib import messages
from django.core.paginator import Paginator
from django.db import IntegrityError
from django.http import Http404, HttpResponse, JsonResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views import View

from sundial.brief.read import read_brief
from sundial.days import day_of_date
from sundial.errors import BriefError
from sundial.plan.today import SAME
from web.builds import registry
from web.builds.briefs import build_from_brief, default_brief, export_data
from web.builds.drawing import Scale
from web.builds.editing import save
from web.builds.exports import as_download
from web.builds.figures import day_strokes
from web.builds.forms import CopyForm, ImportForm, NewBuildForm, RenameForm, StandsForm
from web.builds.group import fellows
from web.builds.models import Build
from web.builds.quota import bytes_of, refuse_over
from web.builds.results import Results, Summary, preload_together
from web.builds.shell import SignedIn, own_build
from web.builds.signals import stands_told
from web.jobs.queue import QueueIsFull, submit
from web.requests import HtmxHttpRequest

A_PAGE = 12  # builds
MOST_BUILDS = 200  # of one person, those that can be taken back counted


def today() -> int:
    """The day of the year that it is, 0 to 364."""
    return day_of_date(timezone.localdate())


def home(request: HtmxHttpRequest) -> HttpResponse:
    """The front door; signed-in people go to their builds."""
    if request.user.is_authenticated:
        return redirect("builds:list")
    shown = next((station for station in registry.stations() if station.showpiece), None)
    context = {"showpiece_template": f"{shown.key}/_showpiece.html", **shown.showpiece()} if shown and shown.showpiece else {}
    return render(request, "home.html", context)


@dataclass(frozen=True)
class Row:
    """One build on the list: its stored summary, or none yet (``stale``), or why there cannot be one; ``key`` makes a copy
    of it once, however often the button is pressed."""

    build: Build
    summary: Summary | None = None
    strokes: str = ""
    trouble: str = ""
    key: uuid.UUID = field(default_factory=uuid.uuid4)

    @property
    def stale(self) -> bool:
        return self.summary is None and not self.trouble

    @property
    def next(self) -> Any:
        """Its next move, from today; none of a build whose start is not finished."""
        moves = self.summary.moves if self.summary and not self.build.unfinished else ()
        return min(moves, key=lambda move: (move.start - today()) % 365, default=None)

    @property
    def waiting(self) -> float | None:
        """kWh that another week costs, where it is known to stand otherwise than the plan wants."""
        now, stands = self.now, self.build.stands_at
        weeks = self.summary.weeks if self.summary else None
        if weeks is None or now is None or stands is None or abs(stands - now.tilt) <= SAME:
            return None
        return weeks.lost(now.tilt, stands, today())

    @property
    def now(self) -> Any:
        """The move that set the tilt of today, None where it is never moved."""
        moves = self.summary.moves if self.summary else ()
        return min(moves, key=lambda move: (today() - move.start) % 365, default=None)


class BuildList(SignedIn, View):
    """This person's builds, a page at a time, each with its next move. It shows what is stored and computes nothing."""

    def get(self, request: HtmxHttpRequest) -> HttpResponse:
        page = Paginator(Build.objects.of(request.user).listed(), A_PAGE).get_page(request.GET.get("page"))
        every = [Results(build) for build in page]
        preload_together(every, "summary")
        rows = [_row(results) for results in every]
        stale = [row.build.pk for row in rows if row.stale]
        if stale:
            try:
                digest = hashlib.sha256(json.dumps([request.user.pk, *sorted(stale)]).encode()).hexdigest()
                submit("list", "list", digest, request.user, params={"builds": stale})
            except QueueIsFull:
                pass  # the page asks again in a moment
        context = {"rows": rows, "page": page, "stale": bool(stale), **_soonest(rows)}
        thrown = Build.objects.filter(owner=request.user, deleted_at__isnull=False).order_by("-deleted_at").first()  # type: ignore[misc]
        context |= {"thrown": thrown, "import_form": ImportForm(), "creation_key": uuid.uuid4(), "import_key": uuid.uuid4()}
        return render(request, "builds/list.html", context)


def _row(results: Results) -> Row:
    build = results.build
    try:
        summary = results.peek("summary")
    except BriefError as error:
        return Row(build, trouble=str(error))
    if summary is None:
        return Row(build)
    return Row(build, summary, day_strokes(summary.daily, Scale(0, 364, 0, 364), 50, 2))


def _soonest(rows: list[Row]) -> dict[str, Any]:
    moving = [row for row in rows if row.next]
    return {"soonest": min(moving, key=lambda row: (row.next.start - today()) % 365, default=None)}


def _room(request: HtmxHttpRequest) -> bool:
    """Whether one more build may be made; says so where not."""
    if Build.objects.filter(owner=request.user).count() < MOST_BUILDS:  # type: ignore[misc]
        return True
    messages.error(request, f"{MOST_BUILDS} builds are the most one person may have, thrown away ones of the last month counted.")
    return False


class NewBuild(SignedIn, View):
    """A name makes a build with sensible defaults; a few short steps lead to a first answer."""

    def get(self, request: HtmxHttpRequest) -> HttpResponse:
        return redirect("builds:list")  # the form stands there

    def post(self, request: HtmxHttpRequest) -> HttpResponse:
        form = NewBuildForm(request.POST)
        if not form.is_valid():
            messages.error(request, "A build needs a name of up to 80 letters.")
            return redirect("builds:list")
        key = form.cleaned_data["creation_key"]
        build = Build.objects.of(request.user).filter(creation_key=key).first()
        if build is None:
            if not _room(request):
                return redirect("builds:list")
            try:
                brief = default_brief(form.cleaned_data["name"])
                build = build_from_brief(request.user, brief, key, chosen_day=today(), start_step=registry.steps()[0].key)
            except IntegrityError:  # the button was pressed twice: the first press made it
                return redirect("builds:list")
        return redirect("builds:step", build.pk, registry.steps()[0].key)


class StartStep(SignedIn, View):
    """One step of the guided start."""

    def get(self, request: HtmxHttpRequest, pk: int, step: str) -> HttpResponse:
        build, asked = own_build(request, pk), _step(step)
        return render(request, "builds/step.html", _step_context(build, asked, asked.form(build)))

    def post(self, request: HtmxHttpRequest, pk: int, step: str) -> HttpResponse:
        build, asked = own_build(request, pk), _step(step)
        saved = save(request, build, asked.form)
        if saved.outcome == "saved":
            following = _beside(asked, 1)
            if following is None or build.start_step == asked.key:  # going back and on again leaves it where it was
                Build.objects.filter(pk=build.pk).update(start_step=following.key if following else "")
            return redirect("builds:step", build.pk, following.key) if following else redirect("tilt:station", build.pk)
        context = {**_step_context(saved.build, asked, saved.form), "conflict": saved.outcome == "conflict"}
        return render(request, "builds/step.html", context, status=422)


def _step_context(build: Build, step: registry.Step, form: Any) -> dict[str, Any]:
    return {
        "build": build,
        "form": form,
        "step": step,
        "number": registry.steps().index(step) + 1,
        "before": _beside(step, -1),
        "after": _beside(step, 1),
        "when": {name: step.when.get(name, "") for name in form.fields},
        "steps": registry.steps(),
    }


def _beside(step: registry.Step, way: int) -> registry.Step | None:
    every = registry.steps()
    at = every.index(step) + way
    return every[at] if 0 <= at < len(every) else None


def _step(name: str) -> registry.Step:
    found = next((step for step in registry.steps() if step.key == name), None)
    if found is None:
        raise Http404
    return found


class EndStart(SignedIn, View):
    """The guided start is left for good: what it has not asked is told on the stations."""

    def post(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        Build.objects.filter(pk=build.pk).update(start_step="")
        return redirect("builds:open", build.pk)


class OpenBuild(SignedIn, View):
    """Opens a build where it was left."""

    def get(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        known = [station.key for station in registry.stations()]
        return redirect(f"{build.last_station if build.last_station in known else known[0]}:station", build.pk)


class Rename(SignedIn, View):
    def post(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build, form = own_build(request, pk), RenameForm(request.POST)
        if form.is_valid() and form.cleaned_data["name"] in {other.name for other in fellows(build)}:
            messages.error(request, f"Another build in “{build.group}” has that name; the old one was kept.")
        elif form.is_valid():
            Build.objects.filter(pk=build.pk).update(name=form.cleaned_data["name"], changed_at=timezone.now())
        else:
            messages.error(request, "A build needs a name of up to 80 letters; the old one was kept.")
        return redirect("builds:list")


class Copy(SignedIn, View):
    """A copy to try something in; the button pressed twice makes one."""

    def post(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build, form = own_build(request, pk), CopyForm(request.POST)
        if not form.is_valid():
            messages.error(request, "That copy was asked from an old page: press it once more.")
        elif _room(request):
            try:
                refuse_over(request.user, bytes_of(build))
                twin = build.copy(key=form.cleaned_data["creation_key"])
                messages.success(request, f"“{twin.name}” is there: try what you like in it.")
            except BriefError as error:
                messages.error(request, error.message)
            except IntegrityError:
                pass  # the first press made it
        return redirect("builds:list")


class Delete(SignedIn, View):
    """Throws a build away; it can be taken back from the list."""

    def post(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        Build.objects.filter(pk=build.pk).update(deleted_at=timezone.now())
        return redirect("builds:list")


class Undelete(SignedIn, View):
    def post(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        found = Build.objects.filter(owner=request.user, pk=pk, deleted_at__isnull=False)  # type: ignore[misc]
        if found.update(deleted_at=None):
            messages.success(request, "It is back.")
        return redirect("builds:list")


class Export(SignedIn, View):
    """The build as a brief file; a file of its own that it names is downloaded beside it."""

    def get(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        response = JsonResponse(export_data(build), json_dumps_params={"indent": 2, "ensure_ascii": False})
        return as_download(response, build, "brief.json")


class Import(SignedIn, View):
    """A new build from a brief file, with the files that it names."""

    def get(self, request: HtmxHttpRequest) -> HttpResponse:
        return redirect("builds:list")  # the form stands there

    def post(self, request: HtmxHttpRequest) -> HttpResponse:
        form = ImportForm(request.POST, request.FILES)
        error = ""
        if not form.is_valid():
            error = " ".join(message for messages_ in form.errors.values() for message in messages_)  # type: ignore[misc]
        elif not _room(request):
            return redirect("builds:list")
        else:
            chosen = {"sky.file": form.cleaned_data["weather"], "use.profile.file": form.cleaned_data["use"]}
            try:
                brief = read_brief(form.cleaned_data["brief"].read())
                key = uuid.UUID(str(form.cleaned_data["creation_key"]))
                files = {key: file.read() for key, file in chosen.items() if file}
                refuse_over(request.user, sum(map(len, files.values())))
                return self._checked(request, build_from_brief(request.user, brief, key, files, chosen_day=today()))
            except BriefError as refused:
                error = str(refused)
            except IntegrityError:
                return redirect("builds:list")
        messages.error(request, f"Nothing was imported. {error}")
        return redirect("builds:list")

    def _checked(self, request: HtmxHttpRequest, build: Build) -> HttpResponse:
        try:
            Results(build).check()
        except BriefError:
            build.delete()
            raise
        messages.success(request, f"“{build.name}” is imported.")
        return redirect("builds:open", build.pk)


class OpenSky(SignedIn, View):
    """The switch that shows the stations without the shade."""

    def post(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        Build.objects.filter(pk=build.pk).update(open_sky=request.POST.get("open") == "1")
        back = request.POST.get("back", "")
        known = [station.key for station in registry.stations()]
        return redirect(f"{back if back in known else 'tilt'}:station", build.pk)


class ChosenDay(SignedIn, View):
    """Keeps the chosen day; every drawing follows it."""

    def post(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        day = parse_day(request.POST.get("day", ""))
        if day is None:
            return HttpResponse("Type a date such as 12 November.", status=422, content_type="text/plain")
        Build.objects.filter(pk=build.pk).update(chosen_day=day)
        return HttpResponse(status=204, headers={"HX-Trigger": json.dumps({"day-changed": {"day": day}})})


class Stands(SignedIn, View):
    """How the build stands now, as the person says: the line of the day compares it with the plan."""

    def post(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build, form = own_build(request, pk), StandsForm(request.POST)
        if form.is_valid():
            told = form.cleaned_data["stands"]
            Build.objects.filter(pk=build.pk).update(stands_at=told)
            if told is not None:
                stands_told.send(sender=Build, build=build, tilt=told, before=build.stands_at)
        if request.htmx:
            response = render(request, "builds/_stands.html", {"form": form})
            if form.is_valid():
                response["HX-Trigger"] = "figures-stale"
            return response
        for line in form.errors.get("stands", ()):
            messages.error(request, f"Yours stands at: {line}")
        back = request.POST.get("back", "")
        known = [station.key for station in registry.stations()]
        return redirect(f"{back if back in known else 'tilt'}:station", build.pk)


def parse_day(text: str) -> int | None:
    """Day 0 to 364 from a number, "12 November", "Nov 12" or "11-12", with a year or without."""
    text = text.strip()[:40]
    if text.isascii() and text.isdecimal():
        return int(text) if int(text) < 365 else None
    for pattern in (
        "%d %B",
        "%d %b",
        "%B %d",
        "%b %d",
        "%m-%d",
        "%Y-%m-%d",
        "%d.%m.",
        "%d %B %Y",
        "%d %b %Y",
        "%B %d, %Y",
        "%B %d %Y",
        "%b %d %Y",
        "%d.%m.%Y",
    ):
        try:
            # The year 2024 lets 29 February be typed; it counts as the 28th.
            typed, given = (text, pattern) if "%Y" in pattern else (f"2024 {text}", f"%Y {pattern}")
            return day_of_date(datetime.strptime(typed, given).date())
        except ValueError:
            continue
    return None
