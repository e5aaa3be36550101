"""Is it worth it?"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.db.models import F
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views import View

from sundial.answers.worth.report import WorthReport
from sundial.brief.model import ROWS
from sundial.worth.comparison import PANEL_KINDS, Way
from sundial.worth.ways import NAMES
from web.builds.editing import save
from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import BesideStation, SignedIn, StationView, own_build
from web.worth.figures import swing_chart, worth_picture
from web.worth.forms import UNPRICED, AddRowForm, WorthForm
from web.worth.models import Option
from web.worth.offers import OffersForm
from web.worth.spent import known_of
from web.worth.use_view import use_view

NAMED = (*PANEL_KINDS, "bigger-battery")  # rows whose name says how many, or how much
HEAD_OF_USE = {"off-grid": "empty days", "direct": "demand met"}
CELLS = ("energy", "more", "use", "saving", "payback", "npv", "may", "per_kwh", "panels", "work")


class WorthStation(StationView):
    """Every way of holding the panels, priced the same way, and a verdict."""

    key = "worth"
    form_class = WorthForm
    out_of_band_template = "worth/_beside.html"
    saved_template = "worth/_saved.html"

    def context(self, build: Build, results: Results | None = None) -> dict[str, Any]:
        """The rows can be changed while nothing can be worked out: one of them may be why."""
        rows = {
            "lines": lines_of(build, None),
            "cells": CELLS,
            "heads": heads_of(build),
            "add_form": AddRowForm(build),
            "offers_form": OffersForm(build),
        }
        return rows | super().context(build, results)

    def figures(self, build: Build, results: Results) -> dict[str, Any]:
        worth = results["worth"]
        return {
            "worth": worth,
            "lines": lines_of(build, worth),
            "picture": worth_picture(worth),
            "swings": swing_chart(worth),
            "use": use_view(build, results),
            "whole": worth.whole,
            "known": (known := known_of(results)),
            "known_sum": round(sum(cost.amount for cost in known), 2),
        }


def heads_of(build: Build) -> dict[str, str]:
    """The comparison's columns, in their order: heads of the table, and labels on the cards of a phone."""
    money = build.currency
    return {
        "energy": "kWh a year",
        "more": "more",
        "use": HEAD_OF_USE.get(
            build.usage.kind, "used here, the store’s too" if build.usage.battery is not None else "used here"
        ),
        "cost": f"costs extra, {money}",
        "upkeep": f"upkeep, {money} a year",
        "saving": "saves a year",
        "payback": "pays back",
        "npv": f"left over after {build.economics.life} years",
        "may": "may cost",
        "per_kwh": f"{money} per extra kWh",
        "panels": "same as panels",
        "work": "work a year",
    }


@dataclass(frozen=True)
class Line:
    """One line of the table: its key in the form, its name, and its row where it is switched on."""

    key: str
    name: str
    row: Way | None
    own: Option | None = None

    @property
    def priced(self) -> bool:
        """Whether the person gives it a price."""
        return self.key not in UNPRICED

    @property
    def named(self) -> bool:
        """Whether its name follows from figures."""
        return self.key in NAMED


def lines_of(build: Build, worth: WorthReport | None) -> list[Line]:
    """The table's lines in their usual order, the person's own after them."""
    rows = {row.key: row for row in worth.comparison.rows} if worth else {}
    lines = []
    for kind in ROWS:
        row = rows.get(kind)
        lines.append(Line(kind, row.name if row and kind in NAMED else NAMES[kind], row))
    for index, option in enumerate(build.economics.options):
        if not option.row:
            lines.append(Line(f"own{option.pk}", option.name, rows.get(f"added-{index}"), option))
    return lines


class AddRow(SignedIn, BesideStation):
    """Adds a way of the person's own."""

    beside = "worth"

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        saved = save(request, build, AddRowForm)
        if saved.outcome == "saved":
            return redirect("worth:station", build.pk)
        station = WorthStation()
        context = {**station.context(build), "form": WorthForm(build), "add_form": saved.form, "outcome": saved.outcome}
        return render(request, "worth/station.html", context, status=422)


class DeleteRow(SignedIn, View):
    """Takes an own row away."""

    def post(self, request: HttpRequest, pk: int, row: int) -> HttpResponse:
        build = own_build(request, pk)
        get_object_or_404(build.options.filter(row=None), pk=row).delete()
        Build.objects.filter(pk=build.pk).update(version=F("version") + 1, changed_at=timezone.now())
        return redirect("worth:station", build.pk)
