"""The part of the page that shows what becomes of a kWh, for the way and the quantity that were chosen last."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect
from django.views import View

from sundial.answers.balance.command import notes_of
from sundial.answers.balance.report import QUANTITIES, UseReport, use_report
from sundial.days import MONTH_NAMES
from sundial.worth.balances import with_battery
from sundial.worth.comparison import Comparison, Way, rows_of
from web.builds.exports import as_download
from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import SignedIn, own_build
from web.worth.models import Usage
from web.worth.stored import shared_study
from web.worth.use_figures import (
    BatteryYear,
    Carpet,
    Share,
    Week,
    battery_drawing,
    carpet_drawing,
    flow_names,
    shares,
    week_drawing,
)

CARPETS = ("made", "used", "charged", "sold", "curtailed", "bought", "unmet", "stored")


@dataclass(frozen=True)
class UseView:
    """Everything the part shows."""

    report: UseReport
    way: Way
    ways: list[Way]
    shares: list[Share]
    week: Week
    quantity: str
    quantities: list[tuple[str, str]]
    carpet: Carpet
    battery: BatteryYear | None
    notes: tuple[str, ...]
    off_grid: bool
    price: float

    @property
    def surplus_months(self) -> str:
        """The three months in which most is thrown away."""
        months = self.report.surplus.months
        best = sorted(sorted(range(12), key=lambda month: -months[month])[:3])
        return ", ".join(MONTH_NAMES[month] for month in best)


def use_view(build: Build, results: Results) -> UseView | None:
    """None where a fixed share is used: there are no hours to show."""
    if build.usage.kind == "share":
        return None
    study, comparison = shared_study(results), results["worth"].comparison
    rows = rows_of(study, results["ways"])
    shown = build.usage.shown
    way = _chosen(comparison, shown.get("way"), results["worth"].verdict.focus)
    row = rows["base"] if way is comparison.base else rows[way.key]
    report = use_report(row.hourly, with_battery(study.needs, row.more_battery))
    direct = study.brief.use.kind == "direct"
    names = flow_names(direct)
    there = [key for key in CARPETS if key in QUANTITIES and getattr(report.hourly, key).max() > 1]
    quantity = shown.get("quantity") if shown.get("quantity") in there else "made"
    return UseView(
        report,
        way,
        [comparison.base, *(one for one in comparison.rows if one.key != comparison.base.key)],
        shares(report, direct),
        week_drawing(report, build.chosen_day, study.brief.plan.year, direct),
        quantity,
        [(key, names[key]) for key in there],
        carpet_drawing(report, quantity, build.chosen_day),
        battery_drawing(report.battery, build.chosen_day) if report.battery and not direct else None,
        notes_of(study.scene),
        study.brief.use.kind == "off-grid",
        study.terms.price,
    )


def _chosen(comparison: Comparison, key: str | None, focus: Way | None) -> Way:
    every = [comparison.base, *comparison.rows]
    return next((way for way in every if way.key == key), focus or comparison.base)


class ProfileFile(SignedIn, View):
    """The uploaded file of the use, to keep beside an exported brief."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        if not build.usage.profile_data:
            return HttpResponse("This build has no file of the use.", status=404, content_type="text/plain")
        response = HttpResponse(bytes(build.usage.profile_data), content_type="application/octet-stream")
        return as_download(response, build, build.usage.profile_name)


class ShowUse(SignedIn, View):
    """Chooses the way and the quantity of the drawings; nothing of the build changes by it."""

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        shown: dict[str, Any] = {"way": request.POST.get("way", "")[:40], "quantity": request.POST.get("quantity", "")[:12]}
        Usage.of(build)
        Usage.objects.filter(build=build).update(shown=shown)
        if not request.headers.get("HX-Request"):
            return redirect("worth:station", build.pk)
        return HttpResponse(status=204, headers={"HX-Trigger": "figures-stale"})  # one answer for the day and the choice
