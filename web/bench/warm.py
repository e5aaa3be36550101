"""What the bench does before the first page: the controller's machine code is made, or loaded from where it was kept."""

from __future__ import annotations

from sundial.bench.report import day_report
from sundial.bench.settings import Settings
from sundial.brief.sections.frame import TwoAxisMount
from sundial.study import Study
from web.builds.briefs import default_brief


def warm() -> None:
    """One day of a mount that turns about two axes."""
    brief = default_brief("warm").model_copy(update={"mount": TwoAxisMount(kind="two-axis", speed=6.0)})
    day_report(Study(brief), Settings(), 171)
