"""The frame."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import StationView
from web.frame.figures import side_view
from web.frame.forms import FrameForm


class FrameStation(StationView):
    """Panels, what holds them, and the rack from the side."""

    key = "frame"
    form_class = FrameForm

    def figures(self, build: Build, results: Results) -> dict[str, Any]:
        study, array, plan = results.study, results.study.array, results.plan
        reached = [float(tilt) for tilt in study.plan_tilts]
        kind = build.frame.mount["kind"]
        return {
            "side": side_view(build, results, plan.chosen.tilt_by_day[build.chosen_day]),
            "array": array,
            "kind": kind,
            "kilowatts": f"{array.power / 1000:.2f}",
            "breadth": array.breadth,
            "slope": array.slope_length,
            "reached": reached,
            "any_degree": study.hand_axis is None and kind == "one-axis",
            "holes": _holes(results, reached) if kind == "stepped" else [],
            "made": results["made"],
            "ledger": [LedgerLine(LINES[name], -value) for name, value in results["made"].ledger.items() if abs(value) >= 0.05],
        }


LINES = {
    "glass": "Slanting light on the glass",
    "rear_gain": "Light on the back",
    "heat": "Warm or cold cells",
    "shade": "Light kept off by shade",
    "uneven_shade": "Shade lying unevenly",
    "soiling": "Dirt (soiling)",
    "wiring": "Wiring",
    "mismatch": "Mismatch",
    "light_induced": "Light-induced loss",
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


def _holes(results: Results, reached: list[float]) -> list[Hole]:
    used = {stretch.tilt for stretch in results.plan.chosen.stretches}
    surface = results.study.surface()
    return [Hole(n, t, float(surface.daily(t).sum()), t in used) for n, t in enumerate(reached, 1)]
