"""How one build of a group stands in the light of the others."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from sundial.brief.model import (
    Brief,
    FixedMount,
    HingeMount,
    OneAxisMount,
    OtherArrayBrief,
    SteppedMount,
    ThingOfBrief,
    TurnedMount,
    TwoAxisMount,
    YardBrief,
)
from sundial.days import MONTH_STARTS
from sundial.plan.rivals import latitude_rule
from sundial.scene import Scene
from sundial.sun import declinations

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
    if isinstance(mount, FixedMount | TurnedMount):
        return np.full(12, mount.tilt)
    if isinstance(mount, HingeMount):
        noon = np.abs(latitude - np.degrees(declinations()[MID_MONTH]))
        return np.clip(noon, mount.min_tilt, mount.max_tilt)
    if not isinstance(mount, SteppedMount):
        return np.zeros(12)
    plan = scene.brief.plan
    wanted = latitude_rule(latitude, moved=plan.settings > 1)[MID_MONTH]
    allowed = np.ones((12, len(scene.reachable)), dtype=bool)
    if plan.cap:
        allowed &= scene.reachable <= np.array(plan.cap)[:, None]
    if plan.floor:
        allowed &= scene.reachable >= np.array(plan.floor)[:, None]
    away = np.abs(scene.reachable - wanted[:, None]) + np.where(allowed, 0.0, 1000.0)
    nearest: Floats = scene.reachable[away.argmin(axis=1)]
    return nearest


def as_things(scene: Scene) -> list[OtherArrayBrief]:
    """A build's array as things of its neighbours' yard: one for each of its groups, under the build's name."""
    geometry, mount = scene.geometry, scene.brief.mount
    breadth, slope_length = geometry.size
    on_pole = geometry.spot.centre_pivot
    tilts = np.round(stands_by_month(scene), 2).tolist()
    turn: dict[str, object] = {}
    if isinstance(mount, TwoAxisMount):
        turn = {"follows": "sun"}
    elif isinstance(mount, OneAxisMount):
        axis = scene.site.equator_ward if mount.axis_azimuth is None else mount.axis_azimuth % 360
        leaning = float(np.mean(mount.axis_tilts)) if mount.axis_tilts else mount.axis_tilt
        turn = {"follows": "axis", "axis_tilt": leaning, "axis_azimuth": axis}
    name = scene.brief.name[:50] or "The other array"
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


def among(brief: Brief, others: list[OtherArrayBrief]) -> Brief:
    """The brief with other arrays in its yard; things that had their names give way."""
    yard = brief.yard or YardBrief()
    names = {thing.name for thing in others}
    kept: list[ThingOfBrief] = [thing for thing in yard.objects if thing.name not in names]
    if not others and len(kept) == len(yard.objects):
        return brief
    return brief.model_copy(update={"yard": yard.model_copy(update={"objects": [*kept, *others]})})
