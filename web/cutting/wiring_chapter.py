"""The wiring in the build book: which panel to which, the limits of the input, the cable, and what every cable's ends are."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING

from django.template.loader import render_to_string

from sundial.errors import BriefError

if TYPE_CHECKING:
    from web.builds.results import Results


def wiring_page(results: Results, params: Mapping[str, str]) -> str:
    """The wiring as a page. BriefError where the panel's label is not told, or contradicts itself."""
    from web.cutting.views import CuttingStation

    label = results.brief.electrics
    if label is None:
        raise BriefError("electrics", "the panel's label is not told yet: under What is it plugged into? in The cutting")
    build = results.build
    figures = CuttingStation().of_wires(build, results)
    report, into = figures["wires"], label.input
    limits = []
    if into is not None:
        low, high = into.window
        limits = [
            ("open, on the coldest morning", f"{report.cold_voltage:.0f} V", f"the input bears {into.max_voltage:g} V", report.cold_voltage <= into.max_voltage),
            ("at work, on the coldest morning", f"{report.cold_working:.0f} V", f"it tracks up to {high:g} V", report.cold_working <= high),
            ("at work, at the hottest noon", f"{report.hot_voltage:.0f} V", f"it tracks from {low:g} V", report.hot_voltage >= low),
            ("current of one input", f"{report.current:.1f} A", f"it takes {into.max_current:g} A", report.current <= into.max_current),
        ]  # fmt: skip
    context = {"build": build, "units": build.shown_in, "label": label, "limits": limits, **figures}
    return render_to_string("cutting/wiring_chapter.html", context)
