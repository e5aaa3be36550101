"""The template of a base plate, at true scale in millimetres: bolts, holes for air, the line of true north, and a line of 100 mm to
measure the print by."""

from __future__ import annotations

import io
from dataclasses import dataclass
from math import cos, radians, sin
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from sundial.brief.model import BasePlateBrief

MM = 1000.0
CHECK = 100.0  # mm
AIR = 8.0  # mm across: air leaves through it when the concrete rises
PLAY = 1.0  # mm that a bolt's hole in the template is wider than the bolt: it holds it


@dataclass(frozen=True)
class Circle:
    """Centre and radius, mm; y upward (to the north)."""

    x: float
    y: float
    radius: float


@dataclass(frozen=True)
class Template:
    """``side`` mm of the square; ``bolts``, ``air`` holes, the ``pole``'s outline; the north line runs from edge to edge through the
    middle; the check line is ``CHECK`` mm long from ``check``."""

    side: float
    bolts: tuple[Circle, ...]
    air: tuple[Circle, ...]
    pole: Circle
    circle: float
    check: tuple[float, float]
    turn: float


def template(base: BasePlateBrief) -> Template:
    """The template of a base plate; angles count clockwise from the north line."""
    ring, count, side = base.bolt_circle * MM / 2, base.bolts, base.plate * MM

    def around(radius: float, angle: float, hole: float) -> Circle:
        return Circle(radius * sin(radians(angle)), radius * cos(radians(angle)), hole / 2)

    bolts = tuple(around(ring, base.turn + 360 / count * number, base.bolt * MM + PLAY) for number in range(count))
    venting = min(ring, side / 2 - 2 * AIR)  # between two bolts, and on the plate
    air = tuple(around(venting, base.turn + 360 / count * (number + 0.5), AIR) for number in range(count))
    return Template(
        side, bolts, air, Circle(0, 0, base.pole * MM / 2), 2 * ring, (-max(side / 2 - 6, CHECK / 2), -side / 2 + 6), base.turn
    )


def template_dxf(base: BasePlateBrief, name: str = "") -> str:
    """DXF R2010 text of the template, in millimetres. Through ezdxf."""
    from ezdxf import filemanagement

    made = template(base)
    file = filemanagement.new("R2010", units=4)
    for layer, colour in {"PLATE": 7, "BOLTS": 1, "AIR": 8, "POLE": 9, "NORTH": 5, "CHECK": 3}.items():
        file.layers.add(layer, color=colour)
    space, half = file.modelspace(), made.side / 2
    corners = [(-half, -half), (half, -half), (half, half), (-half, half)]
    space.add_lwpolyline(corners, close=True, dxfattribs={"layer": "PLATE"})
    for layer, circles in (("BOLTS", made.bolts), ("AIR", made.air), ("POLE", (made.pole,))):
        for one in circles:
            space.add_circle((one.x, one.y), one.radius, dxfattribs={"layer": layer})
    space.add_line((0, -half), (0, half), dxfattribs={"layer": "NORTH"})
    x, y = made.check
    space.add_line((x, y), (x + CHECK, y), dxfattribs={"layer": "CHECK"})
    space.add_text("true north", height=6, dxfattribs={"layer": "NORTH"}).set_placement((3, half - 12))
    space.add_text(f"{name} 100 mm".strip(), height=5, dxfattribs={"layer": "CHECK"}).set_placement((x, y + 3))
    out = io.StringIO()
    file.write(out)
    return out.getvalue()
