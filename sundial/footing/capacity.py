"""What one foot is held for against pulling out and against being pushed over, from a brief's ``footing``."""

from __future__ import annotations

from dataclasses import dataclass
from math import inf

from sundial.brief.model import FootingBrief
from sundial.errors import BriefError
from sundial.footing.posts import lateral_capacity, pier_weight
from sundial.footing.soils import Soil, soil_named
from sundial.frame.structure import Pole
from sundial.scene import Scene

NOTHING = "bears nothing that could be counted on: let it settle, dig to firm ground, or stand on ballast"


@dataclass(frozen=True)
class FootCapacity:
    """One foot: ``up`` N against pulling out, ``level`` N at the height where the load pushes; ``feet`` in all (None: as the frame
    has)."""

    up: float
    level: float
    feet: int | None = None

    def feet_for(self, count: int) -> int:
        """Feet on one line of ``count`` frames."""
        return count if self.feet is None else max(1, self.feet // 2 if count > 1 or self.feet > 1 else 1)


def bearing_soil(footing: FootingBrief) -> Soil:
    """The soil; BriefError where it bears nothing, or is fresh fill under what must be held by it."""
    soil = soil_named(footing.soil)
    if soil.bearing is None:
        raise BriefError("footing.soil", f"{soil.say} {NOTHING}")
    if footing.fresh_fill and footing.kind in ("post", "pier", "screw"):
        what = "a ground screw" if footing.kind == "screw" else f"a {footing.kind}"
        raise BriefError("footing.fresh_fill", f"{what} in fresh fill {NOTHING}")
    return soil


def load_height(scene: Scene) -> float:
    """The height at which the level load pushes, m: as told, else the middle of a pole's glass or the height of the front support."""
    footing = scene.brief.footing
    if footing is not None and footing.height is not None:
        return footing.height
    structure = scene.structure
    if isinstance(structure, Pole):
        return structure.height
    return max(structure.front_height if structure is not None else scene.array.clearance, 0.05)


def foot_capacity(scene: Scene) -> FootCapacity | None:
    """What each foot is held for; None where no footing is told, or ballast holds it."""
    footing = scene.brief.footing
    if footing is None or footing.kind in ("ballast", "pad"):
        return None
    soil = bearing_soil(footing)
    if footing.kind == "screw":
        if footing.rating is None:
            raise BriefError("footing.rating", "give what its maker rates the screw for, N")
        return FootCapacity(footing.rating * footing.reduction, inf, footing.feet)  # sideways its maker must say
    if footing.depth is None or soil.lateral is None:
        return None
    level = lateral_capacity(footing.depth, footing.diameter, load_height(scene), soil.lateral)
    return FootCapacity(pier_weight(footing.depth, footing.diameter), level, footing.feet)
