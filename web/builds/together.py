"""The page of a group: builds of one person in one yard, joined, left, wired together, and what they make."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views import View

from sundial.answers.group.report import MOST, GroupReport, group_report
from sundial.errors import BriefError
from sundial.progress import Report
from web.builds.asking import Pending, ask
from web.builds.editing import check_fellow, write
from web.builds.fields import LineField
from web.builds.group import digest_of_group, fellows, gives_way, groups_of, place_beside, spelled, take_over
from web.builds.group_figures import month_stack, yard_plan
from web.builds.models import Build
from web.builds.registry import Result
from web.builds.results import PHYSICS, SHELL, Results, json_codec
from web.builds.shell import SignedIn, own_build
from web.builds.templatetags.sundial import listed
from web.requests import HtmxHttpRequest


def _together(results: Results, params: Mapping[str, str], report: Report) -> GroupReport:
    builds = [results.build, *fellows(results.build)]
    return group_report([Results(build).study for build in sorted(builds, key=lambda build: build.pk)], report)


TOGETHER = Result("together", (*PHYSICS, "plan"), _together, json_codec(GroupReport), dear=True, seconds=300)
SHELL[TOGETHER.name] = TOGETHER


class JoinForm(forms.Form):
    """Which yard a build is to stand in."""

    group = LineField(
        max_length=80,
        label="The yard's name",
        error_messages={"required": "Give the yard a name, such as Sorrel Hill.", "max_length": "80 letters are the most."},
    )
    agreed = forms.BooleanField(required=False)


class StringForm(forms.Form):
    string = LineField(max_length=20, required=False)


class Together(SignedIn, View):
    """The yard of a build with all that stand in it, or the question which yard it stands in."""

    def get(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        if not fellows(build):
            return render(request, "builds/join.html", self._joining(build, JoinForm(initial={"group": build.group})))
        context: dict[str, Any] = {"build": build, "builds": [build, *fellows(build)]}
        context["builds"].sort(key=lambda one: one.pk)
        try:
            found = ask(Results(build), "together", {"yard": digest_of_group(build)}, again=request.GET.get("again") == "1")
            if isinstance(found, Pending):
                context["pending"] = found
            else:
                rows = list(zip(found.members, context["builds"], strict=True))
                context |= {"report": found, "rows": rows, "plan": yard_plan(found), "stack": month_stack(found)}
        except BriefError as error:
            context["trouble"] = str(error)
        template = "builds/_together.html" if request.htmx else "builds/together.html"
        return render(request, template, context)

    def post(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build, form = own_build(request, pk), JoinForm(request.POST)
        if not form.is_valid():
            return render(request, "builds/join.html", self._joining(build, form), status=422)
        draft = own_build(request, pk)
        draft.group = spelled(request.user, form.cleaned_data["group"])
        others = fellows(draft)
        changed: list[Any] = []
        moved = False
        if len(others) >= MOST:
            form.add_error("group", f"{MOST} builds stand there already, and more cannot.")
        elif draft.name in {other.name for other in others}:
            form.add_error("group", f"A build called “{draft.name}” stands there already: give this one another name first.")
        elif others:
            ways = gives_way(draft, others[0])
            if ways and not form.cleaned_data["agreed"]:
                form.add_error(
                    "agreed", f"Of this build {listed(ways)} would give way to what “{draft.group}” has: say yes to it."
                )
        if form.is_valid():
            try:
                if others:
                    changed = take_over(draft, others[0])
                    moved = place_beside(draft, changed)
                check_fellow(draft)
                for other in others:
                    other.neighbours = [draft, *(one for one in others if one is not other)]
                    check_fellow(other)
            except BriefError as error:
                form.add_error("group", error.message[:1].upper() + error.message[1:] + ".")
        if not form.is_valid():
            return render(request, "builds/join.html", self._joining(build, form, asked=bool(others)), status=422)
        if not write(draft, build.version, changed):
            messages.error(request, "This build was changed in another tab meanwhile: look at it and try again.")
        elif moved:
            messages.success(
                request, f"It stands in “{draft.group}” now, on the next free ground: drag it to its own spot in The shade."
            )
        elif not others:
            messages.success(request, f"“{draft.group}” is there. Open another build and let it stand there too.")
        return redirect("builds:together", build.pk)

    def _joining(self, build: Build, form: JoinForm, asked: bool = False) -> dict[str, Any]:
        return {"build": build, "form": form, "groups": groups_of(build.owner_id), "asked": asked or "agreed" in form.errors}


class Leave(SignedIn, View):
    """A build leaves its yard: it keeps what it shared, and casts no shade on the others any more."""

    def post(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        name, build.group, build.string = build.group, "", ""
        if write(build, build.version, []):
            messages.success(request, f"“{build.name}” stands by itself again; it keeps the place and the yard of “{name}”.")
        return redirect("builds:list")


class WiredWith(SignedIn, View):
    """On which string of the yard a build's panels lie."""

    def post(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build, form = own_build(request, pk), StringForm(request.POST)
        if form.is_valid():
            build.string = form.cleaned_data["string"]
            write(build, build.version, [])
        else:
            messages.error(request, "A string's name has up to 20 letters.")
        return redirect("builds:together", build.pk)
