"""How one build of a group stands in the light of the others."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from sundial.brief.model import Brief, OtherArrayBrief, ThingOfBrief, YardBrief
from sundial.days import MONTH_STARTS
from sundial.errors import BriefError
from sundial.plan.rivals import latitude_rule
from sundial.scene import Scene
from sundial.sun import declinations
from sundial.wind.caps import cap_of

Floats = NDArray[np.float64]
MID_MONTH = MONTH_STARTS[:12] + 14  # days of the year


def stands_by_month(scene: Scene) -> Floats:
    """The tilt at which a build stands in each month (12,), as its neighbours see it.

    A frame moved by hand is taken at the tilts nearest to the trade's rule (latitude, less 15 degrees in the summer half and
    15 more in the winter half where it is moved at all) among those that its frame, caps and floors allow: its own plan
    follows from its neighbours' shade, and theirs from its own, so neither can wait for the other. A flap that a motor
    drives is taken as it lies at noon in the middle of each month.
    """
    mount, latitude = scene.brief.mount, scene.site.latitude
    if mount.hand != "tilt":
        return mount.noon_tilts(np.abs(latitude - np.degrees(declinations()[MID_MONTH])))
    plan = scene.brief.plan
    wanted = latitude_rule(latitude, moved=plan.settings > 1)[MID_MONTH]
    allowed = np.ones((12, len(scene.reachable)), dtype=bool)
    cap = cap_of(scene)
    if cap is not None:
        allowed &= scene.reachable <= cap[:, None]
    if plan.floor:
        allowed &= scene.reachable >= np.array(plan.floor)[:, None]
    away = np.abs(scene.reachable - wanted[:, None]) + np.where(allowed, 0.0, 1000.0)
    nearest: Floats = scene.reachable[away.argmin(axis=1)]
    return nearest


def array_name(build: str) -> str:
    """What the array of a build goes by in its neighbours' yard."""
    return f"{build[:40] or 'Another'}, panels"


def is_array_of(name: str, build: str) -> bool:
    """Whether a thing of that ``name`` is the array of a ``build``, or one of its rows."""
    return name == array_name(build) or name.startswith(f"{array_name(build)}, row ")


def as_things(scene: Scene) -> list[OtherArrayBrief]:
    """A build's array as things of its neighbours' yard: one for each of its groups, under the build's name."""
    geometry, mount = scene.geometry, scene.brief.mount
    breadth, slope_length = geometry.size
    on_pole = geometry.spot.centre_pivot
    tilts = np.round(stands_by_month(scene), 2).tolist()
    turn = mount.as_neighbour(scene.site.equator_ward)
    name = array_name(scene.brief.name)
    return [
        OtherArrayBrief(
            kind="array",
            name=name if number == 0 else f"{name}, row {number + 1}",
            at=(float(x), float(y)),
            azimuth=scene.azimuth,
            tilt=tilts[0] if len(set(tilts)) == 1 else tilts,
            breadth=breadth,
            slope_length=slope_length,
            clearance=geometry.array.clearance,
            on_pole=on_pole,
            **turn,
        )
        for number, (x, y, _) in enumerate(geometry.origins)
    ]


STEP, ROOM = 0.5, 1.0  # m: how far a spot is looked for at a time, and what is left between two arrays
FARTHEST = 200.0  # m


def free_spot(scene: Scene) -> tuple[float, float]:
    """Where the array stands free of everything in its yard: its own spot, else the nearest along its row, to either side."""
    from shapely import MultiPoint, affinity, unary_union

    spot, geometry = scene.brief.spot, scene.geometry
    low, high = (float(f(np.abs(scene.reachable))) for f in (np.min, np.max))
    every = [geometry.corners(tilt, scene.azimuth).reshape(-1, 3)[:, :2] for tilt in (low, high)]
    own = MultiPoint(np.concatenate(every)).convex_hull
    taken = unary_union([thing.outline for thing in scene.yard.things])
    turn = np.radians(scene.azimuth)
    along = np.array([-np.cos(turn), np.sin(turn)])
    for step in np.arange(0.0, FARTHEST, STEP):
        for side in (1, -1):
            x, y = along * step * side
            room = ROOM if step else 0.0
            if not affinity.translate(own, x, y).buffer(room).intersects(taken):
                return float(spot.x + x), float(spot.y + y)
    raise BriefError("spot", "finds no free ground in this yard: move what stands there")


def among(brief: Brief, others: list[OtherArrayBrief]) -> Brief:
    """The brief with other arrays in its yard; things that had their names give way."""
    yard = brief.yard or YardBrief()
    names = {thing.name for thing in others}
    kept: list[ThingOfBrief] = [thing for thing in yard.objects if thing.name not in names]
    if not others and len(kept) == len(yard.objects):
        return brief
    return brief.model_copy(update={"yard": yard.model_copy(update={"objects": [*kept, *others]})})
