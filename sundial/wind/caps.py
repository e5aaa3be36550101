"""How high it may stand in each month, and what of that the tilt plan obeys."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from sundial.errors import BriefError
from sundial.footing.capacity import FootCapacity, feet_on_line
from sundial.scene import Scene
from sundial.wind.fixings import gust_of_fixings
from sundial.wind.held import foot_capacity
from sundial.wind.members import load_paths
from sundial.wind.site import air_of, gusts_of, rig_of, settable, wind_of
from sundial.wind.stance import Rig, Stance, stance
from sundial.wind.standing import DIRECTIONS, NEVER, Air, Push, Standing, pushes, standing

Floats = NDArray[np.float64]
FREE = 90.0  # degrees: no cap


@dataclass(frozen=True, eq=False)
class Breaks:
    """Where the footing of an anchored rig gives way at many tilts, by direction (3, T): the ``gusts``, m/s as told (infinite: never), and
    ``ways`` of a foot: "pulled", "pushed" sideways, or "pressed" into the soil."""

    gusts: Floats
    ways: tuple[tuple[str, ...], ...]

    @property
    def least(self) -> Floats:
        """Over all directions (T,)."""
        found: Floats = self.gusts.min(axis=0)
        return found

    def first(self, index: int) -> tuple[str, str]:
        """How a foot gives way at a tilt, and with the wind from where."""
        row = int(np.argmin(self.gusts[:, index]))
        return self.ways[row][index], DIRECTIONS[row]


def breaks_at(rig: Rig, air: Air, tilts: Floats, held: FootCapacity) -> Breaks:
    """The lowest gust at which any foot of an anchored rig passes what it is held for, with the wind from each direction; nought where it
    does so in still air, or where its feet stand on one line."""
    return _breaks_at(rig, air, tuple(np.asarray(tilts, dtype=float).tolist()), held)


@lru_cache(maxsize=64)
def _breaks_at(rig: Rig, air: Air, tilts: tuple[float, ...], held: FootCapacity) -> Breaks:
    found = np.full((len(DIRECTIONS), len(tilts)), NEVER)
    ways = [["never"] * len(tilts) for _ in DIRECTIONS]
    for column, tilt in enumerate(tilts):
        how = stance(rig, float(tilt))
        for row, each in enumerate(pushes(rig, air, how).values()):
            found[row, column], ways[row][column] = min(_gives_way(rig, how, push, held) for push in each)
    speed_up = standing(rig, air, np.array(tilts), refuse=False).speed_up
    gusts: Floats = np.sqrt(2 * found / air.density) / speed_up
    return Breaks(gusts, tuple(tuple(one) for one in ways))


def _gives_way(rig: Rig, how: Stance, push: Push, held: FootCapacity) -> tuple[float, str]:
    """The lowest velocity pressure, Pa, at which a foot passes a limit, and which: an anchored rig's feet share the level force by halves, so
    every load is a straight line over the pressure."""
    try:
        still, blown = (load_paths(rig, how, push, q).feet for q in (0.0, 1.0))
    except BriefError:
        return 0.0, "pulled"
    crossings = []
    for before, after in zip(still, blown, strict=True):
        share = before.count / feet_on_line(held.feet, len(still), before.count)
        down, level = (before.down * share, after.down * share), (before.level * share, after.level * share)
        crossings += [
            (_passes(-down[0], -down[1], held.up), "pulled"),
            (_passes(down[0], down[1], held.down), "pressed"),
            (min(_passes(level[0], level[1], held.level), _passes(-level[0], -level[1], held.level)), "pushed"),
        ]
    return min(crossings)


def _passes(still: float, blown: float, limit: float) -> float:
    """The least pressure, from nought upward, at which a load that is ``still`` at nought and ``blown`` at one Pa passes a limit."""
    if still > limit:
        return 0.0
    return (limit - still) / (blown - still) if blown - still > 1e-12 else NEVER


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


def gives_way(scene: Scene, rig: Rig, air: Air, tilts: Floats) -> Floats:
    """The lowest gust, m/s as told, at which anything of a scene gives way at each of ``tilts`` (T,) with the wind from each direction: the
    frame, a foot or a fixing; (3, T), infinite where nothing is known to."""
    stood = standing(rig, air, tilts, refuse=False)
    found: Floats = np.minimum(np.minimum(stood.tips, stood.slides), stood.lifts)
    held = foot_capacity(scene)
    if rig.anchored and held is not None:
        found = np.minimum(found, breaks_at(rig, air, tilts, held).gusts)
    by_fixings = gust_of_fixings(scene, rig, air, tilts)
    return found if by_fixings is None else np.minimum(found, by_fixings)


def safe(scene: Scene) -> Safe:
    """What a scene's wind allows; a tilt at which it would fall over in still air stands no gust. BriefError where its brief says nothing of
    the wind."""
    rig, air, wind = rig_of(scene), air_of(scene), wind_of(scene)
    pairs = settable(scene)
    order = np.argsort(pairs[:, 1], kind="stable")
    pairs = pairs[order]
    stood = standing(rig, air, pairs[:, 1], refuse=False)
    least = gives_way(scene, rig, air, pairs[:, 1]).min(axis=0)
    allowed = least / np.sqrt(wind.factor)
    gusts = gusts_of(scene)
    return Safe(pairs[:, 0], least, allowed, gusts.months, highest_allowed(pairs[:, 0], allowed, gusts.months), stood)


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
