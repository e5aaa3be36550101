"""The files that the cutting becomes."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from typing import Any

from django.template.loader import render_to_string
from django.utils import timezone

from sundial.cutting.parts import Part
from sundial.cutting.saw import at_the_saw
from sundial.cutting.template import template, template_dxf
from sundial.errors import BriefError
from sundial.progress import Report
from sundial.quantities import INCH, Units, format_length, hardware_count, hardware_name, in_both
from web.builds.models import Build
from web.builds.results import Results
from web.builds.sheets import code_of, pdf_of
from web.builds.tables import csv_text
from web.cutting.figures import exploded, template_drawn

PAPERS = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}  # mm
MARGIN = 12.0  # mm that printers leave white


def cuts_csv(build: Build, results: Results) -> str:
    """The cut list, and the boards in the order of sawing."""
    from web.cutting.views import best_report

    plan = best_report(results).plan
    unit, size, digits = ("in", INCH, 3) if build.shown_in == "us" else ("m", 1.0, 5)
    heads = (
        "letter", "piece", "section", f"length_{unit}", f"at_the_saw_{unit}", f"toe_{unit}", f"heel_{unit}", "foot_angle", "head_angle",
        "count", "hand", "left", "right", f"holes_{unit}",
    )  # fmt: skip

    def told(metres: float) -> float:
        return round(metres / size, digits)

    rows: list[list[Any]] = [
        [
            one.letter, one.name, one.section, told(one.length), told(at_the_saw(one.length, build.shown_in)[0]),
            told(one.toe), told(one.heel), round(one.foot, 2), round(one.angle, 2), one.count, one.hand, *one.sides,
            " ".join(f"{told(hole.at):g}" for hole in one.holes),
        ]
        for one in plan.pieces
    ]  # fmt: skip
    rows += [[], ["board", "section", f"length_{unit}", "bought", f"rest_{unit}", "cuts"]]
    rows += [
        [number, board.section, told(board.length), "yes" if board.bought else "on hand", told(board.rest), " ".join(cut.key for cut in board.cuts)]
        for number, board in enumerate(plan.boards, 1)
    ]  # fmt: skip
    return csv_text(heads, rows)


def parts_csv(build: Build, results: Results) -> str:
    """What to buy: boards and parts."""
    from web.cutting.views import best_report

    report = best_report(results)
    rows: list[list[Any]] = [
        [
            f"{buy.section}, {format_length(buy.length, build.shown_in)}",
            buy.count,
            1,
            buy.count,
            round(buy.price * buy.count, 2),
            "",
        ]
        for buy in report.plan.buy
    ]
    rows += [
        [
            *_needed(part, build.shown_in),
            None if part.price is None else round(part.price, 2),
            in_both(part.why, build.shown_in),
        ]
        for part in report.parts
    ]
    return csv_text(("name", "needed", "in_a_pack", "packs", "price", "why"), rows)


def _needed(part: Part, units: Units) -> tuple[str, int, int, int]:
    """Name, how many, in a pack, packs; of what is sold by the metre the unit stands with the name, and each one is a pack."""
    count, _, unit = hardware_count(part.name, part.count, units).partition(" ")
    name = hardware_name(part.name, units)
    return (f"{name}, {unit}", int(count), 1, int(count)) if unit else (name, part.count, part.pack, part.packs)


def drawing(build: Build, results: Results) -> str:
    """The frame drawn apart with its letters, as an SVG file that stands by itself."""
    from web.cutting.views import best_report

    pieces = best_report(results).plan.pieces
    found = exploded(build, results, pieces, results.plan.chosen.tilt_by_day[build.chosen_day])
    if found is None:
        raise BriefError("frame", "is missing: say what the frame is built from")
    return render_to_string("cutting/exploded_file.svg", {"exploded": found, "build": build})


def _base(results: Results) -> Any:
    base = results.brief.cutting.base
    if base is None:
        raise BriefError("cutting.base", "is missing: say what base plate it stands on")
    return base


def base_svg(build: Build, results: Results) -> str:
    """The base plate's template at true scale."""
    return render_to_string("cutting/template_file.svg", {"drawn": template_drawn(template(_base(results))), "build": build})


def base_dxf(build: Build, results: Results) -> str:
    return template_dxf(_base(results), build.name)


def base_params(paper: str) -> Callable[[Build], dict[str, str]]:
    return lambda build: {"paper": paper, "name": build.name}


def base_pdf(results: Results, params: Mapping[str, str], report: Report) -> bytes:
    """The template at true scale on as many pages as it takes, to be laid edge to edge."""
    drawn, (wide, tall) = template_drawn(template(_base(results))), PAPERS[params["paper"]]
    context = {"drawn": drawn, "build": results.build, "pages": pages_of(drawn.size, wide, tall), "wide": wide, "tall": tall}
    return pdf_of(render_to_string("cutting/template.html", context | {"code": code_of(params.get("live", ""))}))


def pages_of(size: float, wide: float, tall: float) -> list[dict[str, Any]]:
    """Windows of the drawing, mm, one a page: as many as cover a square of ``size`` mm."""
    across, down = wide - 2 * MARGIN, tall - 2 * MARGIN
    columns, rows = -(-size // across), -(-size // down)
    return [
        {
            "x": column * across - size / 2,
            "y": row * down - size / 2,
            "wide": across,
            "tall": down,
            "number": int(row * columns + column + 1),
        }
        for row in range(int(rows))
        for column in range(int(columns))
    ]


def sheet_params(paper: str) -> Callable[[Build], dict[str, str]]:
    def params(build: Build) -> dict[str, str]:
        return {
            "name": build.name, "where": build.where, "units": build.units, "day": str(build.chosen_day), "paper": paper,
            "currency": build.currency, "today": timezone.localdate().isoformat(),
        }  # fmt: skip

    return params


def sheet(results: Results, params: Mapping[str, str], report: Report) -> bytes:
    """Everything to take to the saw, as PDF: drawing, cut list, cut plan, parts, order of work, wiring, cautions."""
    return pdf_of(sheet_page(results, params))


def sheet_page(results: Results, params: Mapping[str, str]) -> str:
    """The same as a page. BriefError where there is nothing to cut."""
    from web.cutting.views import CuttingStation

    build = results.build
    figures = CuttingStation().figures(build, results)
    if figures.get("cutting") is None:
        raise BriefError("pieces", figures.get("no_wood", "there is nothing to cut"))
    code = code_of(params.get("live", ""))
    context = {
        "build": build,
        "paper": params.get("paper", "a4"),
        "today": timezone.localdate(),
        "code": code,
        "apart": "wiring" in params,
    }
    return render_to_string("cutting/sheet.html", context | figures)


def book_page(results: Results, params: Mapping[str, str]) -> str:
    """The same for the build book, where the wiring has a chapter of its own."""
    return sheet_page(results, {**params, "wiring": "apart"})
