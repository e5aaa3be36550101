"""The yard of a brief as the core's own things, with refusals at the path of the brief."""

from __future__ import annotations

from sundial.brief.model import BuildingBrief, FenceBrief, OtherArrayBrief, PostBrief, ThingOfBrief, TreeBrief, YardBrief
from sundial.days import per_month
from sundial.errors import BriefError
from sundial.shade.ground import Ground
from sundial.shade.other_array import OtherArray
from sundial.shade.yard import (
    FENCE_THICKNESS,
    WALL_THICKNESS,
    Barrier,
    Building,
    Post,
    Rail,
    Thing,
    Tree,
    Yard,
)


def yard_of(brief: YardBrief | None) -> Yard:
    """The yard; BriefError names the object and key that cannot be."""
    if brief is None:
        return Yard()
    things = []
    for index, given in enumerate(brief.objects):
        try:
            things.append(thing_of(given))
        except BriefError as error:
            raise BriefError(f"yard.objects[{index}].{error.path}", error.message) from None
    return Yard(tuple(things), Ground(brief.slope, brief.slope_toward))


def thing_of(given: ThingOfBrief) -> Thing:
    """One thing of a yard."""
    if isinstance(given, BuildingBrief):
        return Building(given.name, tuple(given.footprint), given.height, given.top, given.ridge, given.roof_azimuth)
    if isinstance(given, TreeBrief):
        months = frozenset(range(1, 13)) if given.leaf_months is None else frozenset(given.leaf_months)
        return Tree(
            given.name, given.at, given.crown_radius, given.height, given.crown_base, given.trunk_radius, months,
            given.light_in_leaf, given.light_bare,
        )  # fmt: skip
    if isinstance(given, FenceBrief):
        usual = WALL_THICKNESS if given.kind == "wall" else FENCE_THICKNESS
        return Barrier(given.name, tuple(given.line), given.height, given.open, given.thickness or usual)
    if isinstance(given, PostBrief):
        return Post(given.name, given.at, given.height, given.width, given.base)
    if isinstance(given, OtherArrayBrief):
        tilts = tuple(float(tilt) for tilt in per_month(given.tilt, "tilt"))
        return OtherArray(
            given.name, given.at, given.azimuth, tilts, given.breadth, given.slope_length, given.clearance, given.on_pole,
            given.follows, given.axis_tilt, given.axis_azimuth,
        )  # fmt: skip
    return Rail(given.name, (given.line[0], given.line[1]), given.height, given.thickness)
