"""The house that a build hangs on, as things of the yard that nobody has to draw: its wall behind the glass, and what stands out over it.

::

             ________ canopy (a roof's edge, a balcony)
    house   |   out
    wall    |         glass
            |  behind  /        the wall lies ``behind`` m past the rearmost edge of the glass, whichever of its tilts it stands at
            |         /
"""

from __future__ import annotations

from collections.abc import Iterable

import numpy as np

from sundial.brief.sections.stand import HouseBrief
from sundial.shade.geometry import ArrayGeometry
from sundial.shade.ground import Point
from sundial.shade.yard import Building, Canopy, Thing

WALL, CANOPY = "Its own house", "What stands out over it"


def own_house(
    house: HouseBrief, geometry: ArrayGeometry, azimuth: float, tilts: Iterable[float], taken: Iterable[str]
) -> tuple[Thing, ...]:
    """The wall (and canopy) of a house behind an array that faces ``azimuth`` degrees at ``tilts``; names clear of those that are ``taken``."""
    turn = np.radians(azimuth)
    face, right = np.array([np.sin(turn), np.cos(turn)]), np.array([-np.cos(turn), np.sin(turn)])
    corners = np.concatenate([geometry.corners(tilt, azimuth).reshape(-1, 3)[:, :2] for tilt in tilts])
    middle = geometry.origins[:, :2].mean(axis=0) + right * house.aside
    wall = (
        float((corners @ -face).max()) + house.behind + float(middle @ face)
    )  # m from the middle to the wall, away from the face
    names = set(taken)

    def footprint(near: float, far: float) -> tuple[Point, ...]:
        half = right * house.width / 2
        ends = [middle - face * near - half, middle - face * near + half, middle - face * far + half, middle - face * far - half]
        return tuple((float(x), float(y)) for x, y in ends)

    found: list[Thing] = [Building(_clear_of(names, WALL), footprint(wall, wall + house.depth), house.height)]
    if house.out is not None and house.under is not None:
        found.append(Canopy(_clear_of(names, CANOPY), footprint(wall - house.out, wall), house.under))
    return tuple(found)


def _clear_of(names: set[str], wanted: str) -> str:
    while wanted in names:
        wanted += " too"
    names.add(wanted)
    return wanted
