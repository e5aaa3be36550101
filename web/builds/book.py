"""The build book: the sheets of all stations under one cover, with contents and page numbers, for the shed, the helper and the permit desk."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from django.template.loader import render_to_string
from django.utils import timezone

from sundial.errors import BriefError
from web.builds import registry
from web.builds.registry import Chapter

if TYPE_CHECKING:
    from sundial.progress import Report
    from web.builds.models import Build
    from web.builds.results import Results

EVERYTHING = (
    "name", "site", "sky", "ground", "horizon", "leaf_months", "yard", "spot", "boundaries", "wiring", "bench", "panel", "array", "mount", "frame", "stand", "wind",
    "footing", "snow", "beams", "stock", "pieces", "kerf", "cutting", "electrics", "system", "use", "battery", "plan", "worth", "options", "room",
    "build.units", "build.currency",
)  # fmt: skip  # of a brief: some sheet shows it
FOOT = "<style>@page { size: %s; margin: 14mm 13mm 16mm; @bottom-left { content: '%s'; font: 8pt sans-serif; color: #444 } @bottom-right { content: counter(page); font: 8pt sans-serif } } @page :first { counter-reset: page %d }</style>"


def book(results: Results, params: Mapping[str, str], report: Report) -> bytes:
    """All sheets as one PDF. A chapter that has nothing to tell yet is left out, and the contents say why."""
    build, paper = results.build, "letter" if params.get("paper") == "letter" else "A4"
    told: list[tuple[Chapter, str]] = []
    left: list[tuple[Chapter, str]] = []
    chapters = registry.chapters()
    for number, chapter in enumerate(chapters):
        report(number, len(chapters) + 1)
        try:
            page = chapter.make(results, params)
        except BriefError as error:
            left.append((chapter, error.message))
            continue
        told.append((chapter, page)) if page else left.append((chapter, chapter.empty))
    return _bound(build, results, paper, told, left)


def _bound(build: Build, results: Results, paper: str, told: list[tuple[Chapter, str]], left: list[tuple[Chapter, str]]) -> bytes:
    """Cover and chapters, numbered through. The cover is set twice: it says on which page each chapter begins."""
    drawings = [chapter.drawing(build, results) for chapter, _ in told if chapter.drawing is not None]
    context = {
        "build": build,
        "summary": _summary(results),
        "left": left,
        "today": timezone.localdate(),
        "drawing": next(iter(drawings), ""),
    }
    first = 1 + len(_set(_cover(context, [(chapter.title, 0) for chapter, _ in told]), paper, build.name, 1).pages)
    documents, begins = [], []
    for chapter, page in told:
        begins.append((chapter.title, first))
        documents.append(_set(page, paper, f"{build.name}: {chapter.title}", first))
        first += len(documents[-1].pages)
    cover = _set(_cover(context, begins), paper, build.name, 1)
    pages = [page for document in (cover, *documents) for page in document.pages]
    pdf: bytes = cover.copy(pages).write_pdf()
    return pdf


def _cover(context: dict[str, Any], begins: list[tuple[str, int]]) -> str:
    return render_to_string("builds/book.html", {**context, "begins": begins})


def _summary(results: Results) -> dict[str, Any]:
    scene = results.scene
    return {
        "panels": scene.array.count,
        "watts": scene.array.count * scene.array.panel.power,
        "energy": results["made"].year,
        "azimuth": scene.azimuth,
        "latitude": scene.site.latitude,
        "longitude": scene.site.longitude,
        "sky": results.weather.source,
    }


def _set(page: str, paper: str, words: str, first: int) -> Any:
    """A page of HTML as a document whose first page has the number ``first``."""
    from weasyprint import HTML

    from web.builds.sheets import nothing

    foot = FOOT % (paper, re.sub(r"['\\<>{}]", " ", words), first)
    return HTML(string=page.replace("</head>", f"{foot}</head>", 1), url_fetcher=nothing).render()
