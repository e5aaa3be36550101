"""The side view of a frame as a DXF file, true to scale in millimetres, with its dimensions."""

from __future__ import annotations

import io
from math import dist, radians, tan

from sundial.frames.kind import Structure
from sundial.frames.lines import Line

MM = 1000.0
ASIDE = 120.0  # mm between a part and its dimension line
LAYERS = {"GLASS": 5, "FRAME": 7, "GROUND": 8, "DIMENSIONS": 3, "HOLES": 1}  # and their colours in the format's own index


def side_dxf(structure: Structure, tilt: float, length: float, set_by: dict[str, float] | None = None, name: str = "") -> str:
    """DXF R2010 text of a frame at ``tilt`` degrees from level in the side view, under glass ``length`` m up the slope; every part is a
    line on its layer with its length beside it. Through ezdxf."""
    from ezdxf import filemanagement
    from ezdxf.enums import TextEntityAlignment

    file = filemanagement.new("R2010", setup=["dimstyles"], units=4)  # 4: millimetres
    for layer, colour in LAYERS.items():
        file.layers.add(layer, color=colour)
    space = file.modelspace()
    lines = structure.side_lines(tilt, length, set_by)
    for line in lines:
        start, end = _mm(line.start), _mm(line.end)
        space.add_line(start, end, dxfattribs={"layer": "GLASS" if line.name == "glass" else "FRAME"})
        if dist(start, end) < 1:
            continue
        space.add_aligned_dim(
            p1=start, p2=end, distance=_side(line) * ASIDE, dimstyle="EZDXF", override={"dimtxt": 40, "dimasz": 30, "dimdec": 0},
            dxfattribs={"layer": "DIMENSIONS"},
        ).render()  # fmt: skip
    xs = [x for line in lines for x in (line.start[0], line.end[0])]
    left, right = min(xs) - 0.3, max(xs) + 0.3
    fall = _fall(structure)
    space.add_line(_mm((left, left * fall)), _mm((right, right * fall)), dxfattribs={"layer": "GROUND"})
    for line in lines:
        if line.name in ("prop", "spreader"):
            for at in (line.start, line.end):
                space.add_circle(_mm(at), 5, dxfattribs={"layer": "HOLES"})
    words = f"{name}: {tilt:.1f} degrees" if name else f"{tilt:.1f} degrees"
    text = space.add_text(words, height=60, dxfattribs={"layer": "DIMENSIONS"})
    text.set_placement(_mm((left, min(left * fall, 0.0) - 0.25)), align=TextEntityAlignment.LEFT)
    out = io.StringIO()
    file.write(out)
    return out.getvalue()


def _mm(point: tuple[float, float]) -> tuple[float, float]:
    return point[0] * MM, point[1] * MM


def _side(line: Line) -> float:
    """Dimension lines stand off the glass to the front, off all else to the rear or below."""
    return 2.0 if line.name == "glass" else -1.0


def _fall(structure: Structure) -> float:

    return tan(radians(structure.slope))
