"""How high it may stand in each month, and what of that the tilt plan obeys."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from sundial.footing.capacity import FootCapacity, foot_capacity
from sundial.scene import Scene
from sundial.wind.members import load_paths
from sundial.wind.site import air_of, gusts_of, rig_of, settable, wind_of
from sundial.wind.stance import Rig, stance
from sundial.wind.standing import NEVER, Air, Standing, pushes, standing

Floats = NDArray[np.float64]
FREE = 90.0  # degrees: no cap


def breaks_at(rig: Rig, air: Air, tilts: Floats, held: FootCapacity) -> Floats:
    """The gust, m/s as told, at which a foot of an anchored rig pulls or pushes more than it is held for, (T,); infinite: never."""
    return _breaks_at(rig, air, tuple(np.asarray(tilts, dtype=float).tolist()), held)


@lru_cache(maxsize=64)
def _breaks_at(rig: Rig, air: Air, tilts: tuple[float, ...], held: FootCapacity) -> Floats:
    found = np.full(len(tilts), NEVER)
    for column, tilt in enumerate(tilts):
        how = stance(rig, float(tilt))
        blowing = [push for each in pushes(rig, air, how).values() for push in each]
        still = load_paths(rig, how, blowing[0], 0.0).reactions  # in still air it matters not from where
        for push in blowing:
            blown = load_paths(rig, how, push, 1.0).reactions
            for before, after in zip(still, blown, strict=True):
                share = before.count / held.feet_for(before.count)
                pull, pulls = -before.down * share, (before.down - after.down) * share
                if pulls > 1e-12:
                    found[column] = min(found[column], max(held.up - pull, 0.0) / pulls)
                push_by = abs(after.level - before.level) * share
                if push_by > 1e-12:
                    found[column] = min(found[column], held.level / push_by)
    speed_up = standing(rig, air, np.array(tilts), refuse=False).speed_up
    gusts: Floats = np.sqrt(2 * found / air.density) / speed_up
    return gusts


@dataclass(frozen=True, eq=False)
class Safe:
    """The gust that a build stands at each of its ``tilts`` (T,), m/s as told, without (``gives_way``) and with (``allowed``) its
    factor in hand; ``highest`` (12,): the highest tilt allowed in each month, NaN where none is. ``standing`` at the same tilts."""

    tilts: Floats
    gives_way: Floats
    allowed: Floats
    months: Floats
    highest: Floats
    standing: Standing


def highest_allowed(tilts: Floats, allowed: Floats, gusts: Floats) -> Floats:
    """The highest of ``tilts`` (T,), rising, such that it and all lower ones stand each gust (G,): NaN where none does, (G,)."""
    stands = np.minimum.accumulate(allowed)[None, :] >= gusts[:, None]
    count = stands.sum(axis=1)
    highest: Floats = np.where(count > 0, tilts[np.maximum(count - 1, 0)], np.nan)
    return highest


def safe(scene: Scene) -> Safe:
    """What a scene's wind allows; a tilt at which it would fall over in still air stands no gust. BriefError where its brief says nothing of
    the wind."""
    rig, air, wind = rig_of(scene), air_of(scene), wind_of(scene)
    pairs = settable(scene)
    order = np.argsort(pairs[:, 1], kind="stable")
    pairs = pairs[order]
    stood = standing(rig, air, pairs[:, 1], refuse=False)
    gives_way = stood.gives_way
    held = foot_capacity(scene)
    if rig.anchored and held is not None:
        gives_way = np.minimum(gives_way, breaks_at(rig, air, pairs[:, 1], held))
    allowed = gives_way / np.sqrt(wind.factor)
    gusts = gusts_of(scene)
    return Safe(pairs[:, 0], gives_way, allowed, gusts.months, highest_allowed(pairs[:, 0], allowed, gusts.months), stood)


def plan_cap(scene: Scene) -> Floats | None:
    """The highest tilt of each month (12,) that the wind leaves to the plan: in the months that are switched into it the highest allowed
    (the flattest where none is), 90 in others; None where no month is."""
    wind = scene.brief.wind
    if wind is None or not wind.in_plan:
        return None
    found = safe(scene)
    flattest = float(np.abs(found.tilts).min())
    cap = np.full(12, FREE)
    for month in wind.in_plan:
        high = found.highest[month - 1]
        cap[month - 1] = flattest if np.isnan(high) else high
    return cap


def cap_of(scene: Scene) -> Floats | None:
    """The highest tilt of each month (12,) by hand and by wind together; None where neither sets any."""
    typed, wind = scene.brief.plan.cap, plan_cap(scene)
    if typed is None or wind is None:
        return wind if typed is None else np.array(typed)
    both: Floats = np.minimum(np.array(typed), wind)
    return both
