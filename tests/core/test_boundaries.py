"""The lot about the panels, by distances that were taped."""

from __future__ import annotations

from math import cos, dist, radians, sin

import pytest
from shapely import LineString, MultiPolygon, Point, box
from shapely.affinity import rotate, translate

from sundial.shade.boundaries import boundary_lines


def turned(azimuth: float) -> MultiPolygon:
    """Two groups of 4 m by 2 m, the second 3 m behind the first, looking to ``azimuth``."""
    south = MultiPolygon([box(-2, 0, 2, 2), box(-2, 5, 2, 7)])
    return rotate(translate(south, 11, -4), -(azimuth - 180), origin=(11, -4))


@pytest.mark.parametrize("azimuth", [180.0, 157.0, 283.0, 14.0])
def test_each_side_lies_as_far_off_as_it_was_taped(azimuth):
    told = {"front": 7.5, "back": 3.0, "left": 12.0, "right": 4.5}
    panels = turned(azimuth)
    lines = {one.side: LineString([one.start, one.end]) for one in boundary_lines(panels, azimuth, told)}
    for side, line in lines.items():
        assert line.distance(panels) == pytest.approx(told[side]), side
    assert lines["front"].length == pytest.approx(4 + 12 + 4.5) and lines["left"].length == pytest.approx(7 + 7.5 + 3)
    facing = (sin(radians(azimuth)), cos(radians(azimuth)))
    middle = panels.centroid
    ahead = Point(middle.x + 50 * facing[0], middle.y + 50 * facing[1])
    assert lines["front"].distance(ahead) < lines["back"].distance(ahead)
    # one who looks at the glass looks against its facing: left is clockwise of it
    left = Point(middle.x + 50 * sin(radians(azimuth + 90)), middle.y + 50 * cos(radians(azimuth + 90)))
    assert lines["left"].distance(left) < lines["right"].distance(left)


def test_a_side_that_is_not_taped_is_not_drawn_and_its_neighbours_end_with_the_panels():
    (line,) = boundary_lines(turned(180.0), 180.0, {"front": 2.0, "back": None})
    assert line.side == "front" and dist(line.start, line.end) == pytest.approx(4.0)
    assert boundary_lines(turned(180.0), 180.0, {}) == []
