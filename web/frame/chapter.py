"""The frame in the build book: the side view with its measures, and what it carries."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

from django.template.loader import render_to_string

from sundial.answers.frame.report import frame_report
from web.frame.exports import side_svg
from web.frame.views import standing_at

if TYPE_CHECKING:
    from web.builds.results import Results


def frame_page(results: Results, params: Mapping[str, str]) -> str:
    """The frame as it stands on the chosen day, as a page. BriefError where nobody has told what it is built from."""
    build, scene = results.build, results.scene
    report = frame_report(scene, build.shown_in)
    tilt = standing_at(build, results)
    now = min(report.standings, key=lambda one: abs(one.tilt - tilt))
    drawing = side_svg(build, results)
    context = {
        "build": build, "units": build.shown_in, "drawing": drawing, "now": now, "report": report, "array": scene.array, "tilt": tilt,
        "pieces": report.pieces,
    }  # fmt: skip
    return render_to_string("frame/chapter.html", context)
