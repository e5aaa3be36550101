"""The yard in the build book: a plan to scale, and how far each thing stands from the panels."""

from __future__ import annotations

from collections.abc import Mapping
from typing import TYPE_CHECKING, Any

from django.template.loader import render_to_string
from shapely import GeometryCollection, LineString, MultiPolygon, Polygon

from sundial.quantities import FOOT, rough_length
from sundial.shade.boundaries import boundary_lines
from web.builds.drawing import nice_step
from web.shade.figures import own_house_shapes

if TYPE_CHECKING:
    from web.builds.results import Results

WIDE, TALL, EDGE = 520.0, 420.0, 26.0  # px
LARGEST = 40.0  # px a metre
LETTER = 6.2, 15.0  # px: how wide a letter of a name is, how tall a line
FAR = 60.0  # m: a boundary further off does not make the plan smaller
WORDS = {"front": "in front", "back": "behind", "left": "left, looking at the glass", "right": "right"}


def plan_page(results: Results, params: Mapping[str, str]) -> str:
    """The plan of the yard as a page; it stands without a thing in it too: the place of the panels is a fact."""
    build, scene = results.build, results.scene
    tilt = results.plan.chosen.tilt_by_day[build.chosen_day]
    groups = MultiPolygon([Polygon(corners[:, :2]).convex_hull for corners in scene.geometry.corners(float(tilt), scene.azimuth)])
    things = [(thing.name, thing.outline) for thing in scene.yard.things]
    own = {shape["name"] for shape in own_house_shapes(scene)}
    lot = boundary_lines(groups, scene.azimuth, results.brief.boundaries.model_dump())
    near_lot = [LineString([one.start, one.end]) for one in lot if one.distance <= FAR]
    west, south, east, north = GeometryCollection([groups, *(outline for _, outline in things), *near_lot]).bounds
    scale = min((WIDE - 2 * EDGE) / max(east - west, 4.0), (TALL - 2 * EDGE) / max(north - south, 4.0), LARGEST)
    left = (WIDE - (east - west) * scale) / 2
    unit = FOOT if build.shown_in == "us" else 1.0
    step = nice_step(90 / (scale * unit), 1)

    def path(shape: Any) -> str:
        rings = [polygon.exterior.coords for polygon in _polygons([shape])]
        return "".join(
            "M" + "L".join(f"{left + (x - west) * scale:.1f} {EDGE + (north - y) * scale:.1f}" for x, y in ring) + "Z"
            for ring in rings
        )

    def line_path(line: LineString) -> str:
        return "M" + "L".join(f"{left + (x - west) * scale:.1f} {EDGE + (north - y) * scale:.1f}" for x, y in line.coords)

    def name_at(name: str, outline: Any) -> dict[str, Any]:
        """Where a name stands: within what it names where it has room there, else under a long thing and beside a small one."""
        x0, y0, x1, y1 = outline.bounds
        long, tall = (x1 - x0) * scale > LETTER[0] * len(name), (y1 - y0) * scale > LETTER[1]
        middle_x, middle_y = left + (outline.centroid.x - west) * scale, EDGE + (north - outline.centroid.y) * scale + 4
        if long:
            return {"x": middle_x, "y": middle_y if tall else EDGE + (north - y0) * scale + 13, "anchor": "middle"}
        return {"x": left + (x1 - west) * scale + 4, "y": middle_y, "anchor": "start"}

    drawn = [{"name": name, "d": path(outline), "own": name in own} | name_at(name, outline) for name, outline in things]
    near = sorted(((name, float(outline.distance(groups))) for name, outline in things), key=lambda row: row[1])
    rows = [(name, rough_length(far, build.shown_in)) for name, far in near]
    rows = [(f"boundary {WORDS[one.side]}", rough_length(one.distance, build.shown_in)) for one in lot] + rows
    context = {
        "build": build, "units": build.shown_in, "drawn": drawn, "panels": path(groups), "rows": rows, "wide": WIDE,
        "tall": EDGE * 3 + (north - south) * scale, "bar": step * unit * scale, "bar_text": f"{step:g} {'ft' if build.shown_in == 'us' else 'm'}",
        "lot": [line_path(line) for line in near_lot], "untaped": [words for side, words in WORDS.items() if side not in {one.side for one in lot}],
        "azimuth": scene.azimuth, "at": name_at("panels", groups), "report": results["shade"] if results.obstructed else None,
    }  # fmt: skip
    return render_to_string("shade/chapter.html", context)


def _polygons(shapes: list[Any]) -> list[Polygon]:
    return [one for shape in shapes for one in (shape.geoms if hasattr(shape, "geoms") else [shape])]
