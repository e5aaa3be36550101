"""What each foot of a scene is held for, and what rests on it beside frame and panels."""

from __future__ import annotations

from math import inf, pi

from sundial.errors import BriefError
from sundial.footing.capacity import FootCapacity, bearing_soil, load_height
from sundial.footing.posts import lateral_capacity, pier_weight
from sundial.footing.snow import ground_load, snow_on_glass
from sundial.frames.load_path import GRAVITY
from sundial.scene import Scene
from sundial.wind.site import assumed_structure, own_tilts


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
        down = soil.bearing * pi / 4 * footing.diameter**2 - weight - max(resting_by_row(scene))
    return FootCapacity(weight, level, down, footing.feet)


def feet_in_all(scene: Scene) -> int:
    """How many feet there are: as told, else one a pole, or two a frame."""
    footing = scene.brief.footing
    return footing.feet if footing is not None and footing.feet else assumed_structure(scene).feet_in_all


def snow_load(scene: Scene) -> float:
    """Snow on the glass, N, at the tilt that keeps most of it."""
    snow, array = scene.brief.snow, scene.array
    if snow is None:
        return 0.0
    ground = ground_load(snow.load, snow.depth)
    return max(snow_on_glass(float(tilt), ground, array.area, snow.slides) for tilt in own_tilts(scene))


def resting_by_row(scene: Scene) -> list[float]:
    """What rests on one foot of each row, front first, N."""
    shares = assumed_structure(scene).shares_of_rail(scene.array.slope_length)
    each = resting(scene) / feet_in_all(scene)
    return [each * max(share * len(shares), 0.0) for share in shares]


def resting(scene: Scene) -> float:
    """What rests on all feet beside frame and panels, N: snow, and what is stored."""
    footing = scene.brief.footing
    return snow_load(scene) + (footing.stored if footing else 0.0) * GRAVITY
