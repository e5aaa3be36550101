"""The frame."""

from __future__ import annotations

from typing import Any

from web.builds.answers import Answers
from web.builds.models import Build
from web.builds.stations import StationView
from web.frame.figures import side_view
from web.frame.forms import FrameForm


class FrameStation(StationView):
    """Panels, what holds them, and the rack from the side."""

    key = "frame"
    form_class = FrameForm

    def figures(self, build: Build, answers: Answers) -> dict[str, Any]:
        array = answers.study.array
        return {
            "side": side_view(build, answers, answers.plan.chosen.tilt_by_day[build.chosen_day]),
            "array": array,
            "kilowatts": array.power / 1000,
            "reached": [float(t) for t in answers.study.plan_tilts],
            "any_degree": len(answers.study.plan_tilts) == 91,
            "made": answers.produced,
        }
