"""Offers of panels, side by side: a calculator that keeps nothing."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, ClassVar

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views import View

from sundial.errors import BriefError
from sundial.quantities import Units, format_length, parse_length
from sundial.worth.offers import PanelOffer, offered
from web.builds.editing import StationForm
from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import SignedIn, own_build
from web.builds.typed_tables import Row, TableField, number


def _read(cells: Sequence[str], units: Units) -> Row:
    """Name; W; price of one; freight; length; width; what the back makes, %. ValueError in words."""
    if len(cells) < 3:
        raise ValueError("give a name, the watts and the price of one")
    row: Row = {
        "name": cells[0][:60] or "panel",
        "power": number(cells[1], "power", 1, 2000),
        "price": number(cells[2], "price", 0, 1e6),
    }
    if len(cells) > 3 and cells[3]:
        row["freight"] = number(cells[3], "freight", 0, 1e6)
    for place, name in ((4, "length"), (5, "width")):
        if len(cells) > place and cells[place]:
            metres = parse_length(cells[place], units)
            if not 0.1 <= metres <= 5:
                raise ValueError(f"a {name} of {cells[place][:20]} cannot be: 0.1 to 5 m")
            row[name] = metres
    if len(cells) > 6 and cells[6]:
        row["bifaciality"] = number(cells[6], "share of the back, %", 0, 100) / 100
    return row


def _write(row: Row, units: Units) -> str:
    sizes = [format_length(row[name], units) if name in row else "" for name in ("length", "width")]
    back = f"{row['bifaciality'] * 100:g}" if row.get("bifaciality") else ""
    cells = [row["name"], f"{row['power']:g}", f"{row['price']:g}", f"{row.get('freight', 0):g}", *sizes, back]
    return "; ".join(cells).rstrip("; ")


class OffersForm(StationForm):
    """A line an offer."""

    paths: ClassVar[dict[str, str]] = {"offers": "offers", "": "offers"}
    prefix = "panel"
    offers = TableField(
        _read, _write, label="Offers", rows=3,
        why="A line each: name; W; price of one; freight in all; length; width; what the back makes, %. Sizes left out are those that you have.",
    )  # fmt: skip

    def __init__(self, build: Build, *args: Any, **kwargs: Any) -> None:
        super().__init__(build, *args, **kwargs)
        self.fields["offers"].units = build.shown_in  # type: ignore[attr-defined]

    def current(self, build: Build) -> dict[str, Any]:
        return {}


class OffersView(SignedIn, View):
    """What each offer costs per watt and per kWh, and how many fit."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        form, found = OffersForm(build, request.GET), None
        if form.is_valid():
            try:
                panel, results = build.frame, Results(build)
                size = {"length": panel.length, "width": panel.width}
                rows = form.cleaned_data["offers"]
                found = offered(results.study, [PanelOffer(**{**size, **row}) for row in rows])
            except BriefError as error:
                form.refuse(error)
        context = {"build": build, "form": form, "found": found, "currency": build.currency}
        return render(request, "worth/_offers.html", context)
