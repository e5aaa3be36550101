"""The boundaries of the lot about the array, from distances that were taped: square to the way it faces, from its nearest edge."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from math import cos, radians, sin

import numpy as np
from shapely import get_coordinates
from shapely.geometry.base import BaseGeometry

Point = tuple[float, float]
SIDES = {"front": 0.0, "left": 90.0, "back": 180.0, "right": 270.0}  # clockwise from the facing, as one looks at the glass


@dataclass(frozen=True)
class Boundary:
    """A side of the lot: ``distance`` m from the nearest edge of the panels, its line from ``start`` to ``end``, m east and north."""

    side: str
    distance: float
    start: Point
    end: Point


def boundary_lines(panels: BaseGeometry, azimuth: float, told: Mapping[str, float | None]) -> list[Boundary]:
    """The lines that are told about the ``panels`` from above, whose glass faces ``azimuth`` degrees; each reaches to its neighbours, or as far
    as the panels do where a neighbour is not told."""
    corners = get_coordinates(panels)
    away = {side: np.array([sin(radians(azimuth + turn)), cos(radians(azimuth + turn))]) for side, turn in SIDES.items()}
    reach = {side: float((corners @ direction).max()) + (told.get(side) or 0.0) for side, direction in away.items()}
    sides, found = list(SIDES), []
    for number, side in enumerate(sides):
        distance = told.get(side)
        if distance is None:
            continue
        before, after = sides[number - 1], sides[(number + 1) % 4]
        ends = [away[side] * reach[side] + away[other] * reach[other] for other in (before, after)]
        found.append(Boundary(side, distance, (float(ends[0][0]), float(ends[0][1])), (float(ends[1][0]), float(ends[1][1]))))
    return found
