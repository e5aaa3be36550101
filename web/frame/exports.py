"""The side view as files: SVG and DXF with its dimensions."""

from __future__ import annotations

from math import dist
from typing import Any

from django.template.loader import render_to_string

from sundial.frame.dxf import side_dxf
from sundial.frames.kind import Structure
from sundial.frames.untold import Untold
from sundial.quantities import format_length
from web.builds.models import Build
from web.builds.results import Results
from web.frame.built_view import hole_of
from web.frame.views import standing_at

MARGIN = 0.45  # m round the drawing for its dimensions


def _standing(build: Build, results: Results) -> tuple[Structure, float, dict[str, float], float]:
    """The structure (the glass alone, where nobody has told what carries it), its tilt in the side view, what sets it, and the
    glass's length."""
    study = results.study
    structure = study.scene.structure or Untold(front_height=study.scene.array.clearance)
    hole = hole_of(structure, standing_at(build, results))
    return structure, hole.tilt, hole.set_by, study.scene.array.slope_length


def side_view_dxf(build: Build, results: Results) -> str:
    """The frame as it stands on the chosen day, in millimetres."""
    structure, tilt, set_by, length = _standing(build, results)
    return side_dxf(structure, tilt, length, set_by, build.name)


def side_svg(build: Build, results: Results) -> str:
    """The same as a drawing that stands by itself, at a scale of 1 to 20 on paper."""
    structure, tilt, set_by, length = _standing(build, results)
    lines = structure.side_lines(tilt, length, set_by)
    points = [point for line in lines for point in (line.start, line.end)]
    left, top = min(x for x, _ in points) - MARGIN, max(z for _, z in points) + MARGIN
    wide, tall = max(x for x, _ in points) + MARGIN - left, top + MARGIN
    drawn: list[dict[str, Any]] = []
    for line in lines:
        (x1, z1), (x2, z2) = line.start, line.end
        whole = dist(line.start, line.end)
        if whole < 0.001:
            continue
        # Dimension lines stand 12 cm off the part: to the front of the glass, behind or under all else.
        side = 0.2 if line.name == "glass" else -0.12
        away = ((z1 - z2) / whole * side, (x2 - x1) / whole * side)
        ends = [(x - left, top - z) for x, z in ((x1, z1), (x2, z2), (x1 + away[0], z1 + away[1]), (x2 + away[0], z2 + away[1]))]
        (x3, y3), (x4, y4) = ends[2:]
        lying = abs(x2 - x1) > abs(z2 - z1)
        anchor, right, down = (
            ("end", -0.03, 0.0) if line.name == "glass" else ("middle", 0.0, 0.09) if lying else ("start", 0.03, 0.03)
        )
        drawn.append(
            {
                "name": line.name,
                "ends": [(round(x, 3), round(y, 3)) for x, y in ends],
                "text": format_length(whole, build.shown_in),
                "anchor": anchor,
                "x": round((x3 + x4) / 2 + right, 3),
                "y": round((y3 + y4) / 2 + down, 3),
            }
        )
    return render_to_string(
        "frame/side.svg",
        {"build": build, "drawn": drawn, "wide": round(wide, 3), "tall": round(tall, 3), "ground": round(top, 3), "tilt": tilt,
         "millimetres": (round(wide * 50, 1), round(tall * 50, 1))},
    )  # fmt: skip
