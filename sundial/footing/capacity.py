"""What one foot is held for against pulling out and against being pushed over, from a brief's ``footing``."""

from __future__ import annotations

from dataclasses import dataclass
from math import inf

from sundial.brief.model import FootingBrief
from sundial.errors import BriefError
from sundial.footing.soils import Soil, soil_named
from sundial.scene import Scene

NOTHING = "bears nothing that could be counted on: let it settle, dig to firm ground, or stand on ballast"


@dataclass(frozen=True)
class FootCapacity:
    """One foot: ``up`` N against pulling out, ``level`` N at the height where the load pushes, ``down`` N that the soil is presumed to bear
    beside its own weight, snow and what is stored; ``feet`` in all (None: as the frame has)."""

    up: float
    level: float
    down: float = inf
    feet: int | None = None


def feet_on_line(told: int | None, lines: int, count: int) -> int:
    """Feet on one of ``lines`` (a pole's: one) of a frame that has ``count`` on each unless it is ``told`` how many there are in all."""
    return count if told is None else max(1, told // lines)


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
    return max(scene.array.clearance - scene.raised, 0.05) if scene.structure is None else scene.structure.load_height
