"""A low wall before the panels: what its shadow costs by kind of panel, by how they lie, and by their wiring."""

from __future__ import annotations

from typing import Any

import numpy as np

from sundial.shade.array_trace import trace_array
from sundial.shade.block_irradiance import block_irradiance
from sundial.study import Study
from tests.core.conftest import study_of

WALL = {"kind": "wall", "name": "Wall", "line": [[-12, -1.6], [12, -1.6]], "height": 1.24}
HALF_WALL = {**WALL, "line": [[-12, -1.6], [0, -1.6]]}
SUN = 22.0  # degrees up, due south: a winter noon
TILT = 35.0


def wall_table() -> list[tuple[str, str, str, float, float, float, float]]:
    """Rows of panel, how it lies, wiring; per cent of the glass in shadow at one winter noon behind half a wall, of the
    direct power left then, of the year's energy lost behind it, and behind a whole wall."""
    rows = []
    sun = np.array([[0.0, -np.cos(np.radians(SUN)), np.sin(np.radians(SUN))]])
    for half, cells in ((False, "whole cells"), (True, "half-cut")):
        for lie in ("portrait", "landscape"):
            # The same six panels: side by side upright, or two rows of three lying.
            shape = {"rows": 1, "columns": 6} if lie == "portrait" else {"rows": 2, "columns": 3}
            for wiring, words in (("series", "one string"), ("own", "a converter each")):
                made = [_study(half, shape, lie, wiring, wall) for wall in (HALF_WALL, WALL)]
                geometry = made[0].scene.geometry
                traced = trace_array(geometry, made[0].scene.yard, sun, np.array([TILT]), np.array([180.0]))
                lit, wired = block_irradiance(traced, geometry.cells), geometry.sections.wired
                shadow = 1 - float(lit.mean[0, 0])
                lost = [1 - study.production().year / study.open_sky.production().year for study in made]
                left = float(wired.share(wired.ranked(lit.sections[0]))[0])
                rows.append((cells, lie, words, 100 * shadow, 100 * left, 100 * lost[0], 100 * lost[1]))
    return rows


def _study(half: bool, shape: dict[str, int], lie: str, wiring: str, wall: dict[str, Any]) -> Study:
    return study_of(
        panel={"power": 430.0, "length": 1.722, "width": 1.134, "gamma": -0.0034, "half_cut": half},
        array={**shape, "orientation": lie, "azimuth": 180.0},
        mount={"kind": "fixed", "tilt": TILT},
        yard={"objects": [wall]},
        wiring={"kind": wiring},
    )


def as_markdown() -> str:
    """The table of docs/method.md."""
    head = "| cells | panels lie | wiring | glass in shadow | direct power left | lost in the year | behind a whole wall |"
    rows = [f"| {a} | {b} | {c} | {d:.0f} % | {e:.0f} % | {f:.1f} % | {g:.1f} % |" for a, b, c, d, e, f, g in wall_table()]
    return "\n".join([head, "| --- | --- | --- | --- | --- | --- | --- |", *rows])
