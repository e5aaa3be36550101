"""What one foot is held for against pulling out and against being pushed over, from a brief's ``footing``."""

from __future__ import annotations

from dataclasses import dataclass
from math import inf, pi

from sundial.brief.model import FootingBrief
from sundial.errors import BriefError
from sundial.footing.posts import lateral_capacity, pier_weight
from sundial.footing.snow import ground_load, snow_on_glass
from sundial.footing.soils import Soil, soil_named
from sundial.frame.loads import GRAVITY
from sundial.frame.structure import Pole
from sundial.scene import Scene
from sundial.wind.site import assumed_structure, own_tilts

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
        return FootCapacity(footing.rating * footing.reduction, inf, inf, footing.feet)  # sideways its maker must say
    if footing.depth is None or soil.lateral is None:
        return None
    level = lateral_capacity(footing.depth, footing.diameter, load_height(scene), soil.lateral)
    weight = pier_weight(footing.depth, footing.diameter)
    down = inf
    if soil.bearing is not None and not footing.fresh_fill:
        down = soil.bearing * pi / 4 * footing.diameter**2 - weight - resting(scene) / feet_in_all(scene)
    return FootCapacity(weight, level, down, footing.feet)


def feet_in_all(scene: Scene) -> int:
    """How many feet there are: as told, else one a pole, or two a frame."""
    footing, structure = scene.brief.footing, assumed_structure(scene)
    if footing is not None and footing.feet:
        return footing.feet
    return 1 if isinstance(structure, Pole) else 2 * max(1, structure.frames)


def snow_load(scene: Scene) -> float:
    """Snow on the glass, N, at the tilt that keeps most of it."""
    snow, array = scene.brief.snow, scene.array
    if snow is None:
        return 0.0
    ground = ground_load(snow.load, snow.depth)
    return max(snow_on_glass(float(tilt), ground, array.area, snow.slides) for tilt in own_tilts(scene))


def resting(scene: Scene) -> float:
    """What rests on all feet beside frame and panels, N: snow, and what is stored."""
    footing = scene.brief.footing
    return snow_load(scene) + (footing.stored if footing else 0.0) * GRAVITY
