"""A real drawing for the front page: the plan of the first demo build, worked out once in a process."""

from __future__ import annotations

from functools import cache
from typing import Any

from sundial.answers.plan.report import plan_report
from sundial.brief.read import FORMAT, VERSION, brief_of
from sundial.study import studied
from web.builds import registry
from web.builds.figures import DAY_X, day_strokes
from web.tilt.figures import year_picture

BUILD, WHERE, DAY = "Honey house", "Sorrel Hill", 315


@cache
def showpiece() -> dict[str, Any]:
    """What ``tilt/_showpiece.html`` shows."""
    brief = brief_of({"format": FORMAT, "version": VERSION, "name": BUILD, **registry.demo_builds()[BUILD]})
    plan = plan_report(studied(brief))
    return {
        "plan": plan,
        "year": year_picture(plan, DAY, True),
        "year_strokes": day_strokes(plan.daily, DAY_X, 46, 6),
        "name": BUILD,
        "where": WHERE,
        "panels": brief.array.rows * brief.array.columns,
    }
