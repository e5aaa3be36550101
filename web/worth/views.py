"""Is it worth it?"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.db.models import F
from django.http import HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.template.loader import render_to_string
from django.utils import timezone
from django.views import View

from sundial.brief.model import ROWS
from sundial.report import WorthReport
from sundial.worth.comparison import NAMES, Way
from web.builds.answers import Answers
from web.builds.editing import save
from web.builds.models import Build
from web.builds.stations import SignedIn, StationView, own_build
from web.builds.tables import csv_text
from web.builds.views import as_download
from web.tilt.views import PlanFile
from web.worth.figures import swing_chart, worth_picture
from web.worth.forms import FREE, AddRowForm, WorthForm
from web.worth.models import Option

CELLS = ("energy", "more", "saving", "payback", "npv", "may", "per_kwh", "panels", "work")


class WorthStation(StationView):
    """Every way of holding the panels, priced the same way, and a verdict."""

    key = "worth"
    form_class = WorthForm
    beside_template = "worth/_beside.html"

    def figures(self, build: Build, answers: Answers) -> dict[str, Any]:
        worth = answers.worth
        return {
            "worth": worth,
            "lines": lines_of(build, worth),
            "cells": CELLS,
            "picture": worth_picture(worth),
            "swings": swing_chart(worth),
            "add_form": AddRowForm(build),
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
        return self.key not in (*FREE, "more-panels")


def lines_of(build: Build, worth: WorthReport) -> list[Line]:
    """The table's lines in their usual order, the person's own after them."""
    rows = {row.key: row for row in worth.comparison.rows}
    lines = []
    for kind in ROWS:
        row = rows.get(kind)
        lines.append(Line(kind, row.name if row and kind == "more-panels" else NAMES[kind], row))
    for index, option in enumerate(build.options.all()):
        if not option.row:
            lines.append(Line(f"own{option.pk}", option.name, rows.get(f"added-{index}"), option))
    return lines


class AddRow(SignedIn, View):
    """Adds a way of the person's own."""

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        saved = save(request, build, AddRowForm)
        if saved.outcome == "saved":
            return redirect("worth:station", build.pk)
        station = WorthStation()
        context = {**station._context(build), "form": WorthForm(build), "add_form": saved.form, "outcome": saved.outcome}
        return render(request, "worth/station.html", context, status=422)


class DeleteRow(SignedIn, View):
    """Takes an own row away."""

    def post(self, request: HttpRequest, pk: int, row: int) -> HttpResponse:
        build = own_build(request, pk)
        get_object_or_404(build.options.filter(row=""), pk=row).delete()
        Build.objects.filter(pk=build.pk).update(version=F("version") + 1, changed_at=timezone.now())
        return redirect("worth:station", build.pk)


class ComparisonTable(PlanFile):
    """The comparison as CSV."""

    def respond(self, build: Build, answers: Answers) -> HttpResponse:
        heads = (
            "way", "kind", "energy_kwh", "gain_percent", "extra_kwh", "extra_cost", "saving_per_year", "payback", "npv", "irr_percent",
            "cost_per_extra_kwh", "break_even_cost", "same_as_panels", "moves", "minutes_per_year",
        )  # fmt: skip
        comparison = answers.worth.comparison
        return as_download(
            HttpResponse(
                csv_text(heads, [_cells(row) for row in (comparison.base, *comparison.rows)]),
                content_type="text/csv; charset=utf-8",
            ),
            build,
            "comparison.csv",
        )


def _cells(row: Any) -> list[Any]:
    money = row.money

    def rounded(value: float | None, digits: int = 2) -> float | None:
        return None if value is None else round(value, digits)

    return [
        row.name, row.kind, round(row.energy, 1), round(row.gain * 100, 2), round(row.extra_kwh, 1), rounded(row.extra_cost),
        rounded(money.saving_per_year), money.payback_text, rounded(money.npv), None if money.irr is None else round(money.irr * 100, 2),
        rounded(money.cost_per_extra_kwh, 4), rounded(money.break_even_cost), row.same_as_panels and round(row.same_as_panels.exact, 2),
        row.moves, round(row.minutes, 1),
    ]  # fmt: skip


class WorthDrawing(PlanFile):
    """Extra kWh against extra cost as an SVG file that stands by itself."""

    def respond(self, build: Build, answers: Answers) -> HttpResponse:
        context = {"picture": worth_picture(answers.worth), "build": build, "currency": build.purse.currency}
        text = render_to_string("worth/drawing.svg", context)
        return as_download(HttpResponse(text, content_type="image/svg+xml"), build, "worth.svg")
