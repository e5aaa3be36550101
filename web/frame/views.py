"""The frame."""

from __future__ import annotations

from dataclasses import dataclass
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
        study, array, plan = answers.study, answers.study.array, answers.plan
        reached = [float(tilt) for tilt in study.plan_tilts]
        kind = build.frame.mount["kind"]
        return {
            "side": side_view(build, answers, plan.chosen.tilt_by_day[build.chosen_day]),
            "array": array,
            "kind": kind,
            "kilowatts": f"{array.power / 1000:.2f}",
            "breadth": array.breadth,
            "slope": array.slope_length,
            "reached": reached,
            "any_degree": study.hand_axis is None and kind == "one-axis",
            "holes": _holes(answers, reached) if kind == "stepped" else [],
            "made": answers.produced,
            "ledger": [LedgerLine(LINES[name], -value) for name, value in answers.produced.ledger.items() if abs(value) >= 0.05],
        }


LINES = {
    "glass": "Slanting light on the glass",
    "rear_gain": "Light on the back",
    "heat": "Warm or cold cells",
    "shade": "Light kept off by shade",
    "uneven_shade": "Shade lying unevenly",
    "soiling": "Dirt",
    "wiring": "Wiring",
    "mismatch": "Mismatch",
    "light_induced": "First sun",
    "availability": "Down time",
    "ageing": "Ageing so far",
    "inverter": "Inverter",
    "clipping": "Over the inverter's limit",
    "own_use": "Motor and controller",
}


@dataclass(frozen=True)
class LedgerLine:
    """One line between label and meter, kWh a year, gains positive."""

    name: str
    value: float


@dataclass(frozen=True)
class Hole:
    """One position of the frame: what it makes if left there, and whether the plan uses it."""

    number: int
    tilt: float
    energy: float
    planned: bool


def _holes(answers: Answers, reached: list[float]) -> list[Hole]:
    used = {stretch.tilt for stretch in answers.plan.chosen.stretches}
    surface = answers.study.surface()
    return [Hole(n, t, float(surface.daily(t).sum()), t in used) for n, t in enumerate(reached, 1)]
