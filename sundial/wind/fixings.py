"""What each fixing takes that holds a frame on somebody else's structure: rafters, a wall, a railing, the roof of a vehicle.

Two lines of fixings, ``lines_apart`` m from one to the other along the surface. All loads (wind, weight) have a resultant across the surface,
a resultant along it, and a moment about the first line::

    N2 = M1 / d          across, at the second line; above zero it pulls
    N1 = N - N2
    S  = T / n           along, shared by all n fixings

An upright plate has no footprint: its lines lie one over the other, evenly about the middle of the glass (assumed), and without their
distance there is no answer. An awning's strut and ledger, and a flap's hinge and actuator, say themselves what they bring (:mod:`sundial.frames`).
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from math import cos, hypot, inf, radians, sin, sqrt

import numpy as np
from numpy.typing import NDArray

from sundial.brief.model import FixingsBrief, StandBrief
from sundial.errors import BriefError
from sundial.frames.feet import Vector, turning
from sundial.frames.lines import Point
from sundial.mounts.places import place_on
from sundial.scene import Scene
from sundial.wind.members import load_paths
from sundial.wind.pressure import velocity_pressure
from sundial.wind.site import air_of, is_anchored, own_tilts, rig_of, stand_in
from sundial.wind.stance import Rig, Stance, stance
from sundial.wind.standing import DIRECTIONS, QUARTER, Air, Push, pushes, standing, weights

Floats = NDArray[np.float64]
HEAD_WIND = 10.0  # m/s that blows against a vehicle beside its own speed (manual, chapter 9)
ROOF_EDGE = 1.0  # the least coefficient while driving: the roof's front edge speeds the air (assumed)
NARROW = 0.05  # m: nearer lines are one


@dataclass(frozen=True)
class FixingLoad:
    """The fixing that takes most: ``pull`` N away from the surface and ``shear`` N along it; on which ``line`` of fixings, each of ``count``
    in all; with the wind from ``direction`` at a velocity ``pressure``, Pa, and the panels at ``tilt`` degrees. ``rating`` N of one (None: not
    told)."""

    pull: float
    shear: float
    line: str
    direction: str
    tilt: float
    pressure: float
    count: int
    rating: float | None = None

    @property
    def together(self) -> float:
        """Pull and shear as one force, N."""
        return hypot(self.pull, self.shear)

    @property
    def margin(self) -> float | None:
        """Rating over what it takes; 1 is the brink. None where no rating is told."""
        return None if self.rating is None else self.rating / max(self.together, 1e-9)


@dataclass(frozen=True)
class _Line:
    """What one line of ``count`` fixings takes, N: across the surface (above zero it pulls) and along it."""

    name: str
    across: float
    along: float
    count: float


def fixings_told(scene: Scene) -> bool:
    """Whether the brief says what it stands on, that is somebody else's, and it is fixed to it: a frame that ballast holds on a flat roof is not;
    what stands loose on a vehicle's wheels still is fixed to the vehicle."""
    if scene.brief.stand is None:
        return False
    stand = stand_in(scene)
    return stand.foreign and (stand.drives or scene.brief.wind is None or is_anchored(scene))


def worst_fixing(scene: Scene, gust: float, tilt: float | None = None) -> FixingLoad | None:
    """The fixing that takes most at a ``gust``, m/s as told, at one ``tilt`` (all of the mount's unless told); None where the brief does not
    say what it stands on, that is the ground, or nothing fixes it there. BriefError where its lines have no distance."""
    if not fixings_told(scene):
        return None
    rig, air = rig_of(scene), air_of(scene)
    tilts = own_tilts(scene) if tilt is None else np.array([tilt])
    found: list[FixingLoad] = []
    for at, speed in zip(tilts.tolist(), standing(rig, air, tilts, refuse=False).speed_up.tolist(), strict=True):
        how = stance(rig, at)
        most = velocity_pressure(gust * speed, air.density)
        for direction, each in pushes(rig, air, how).items():
            found += [load for push in each for load in _loads(scene, rig, how, direction, push, (0.0, most))]
    return max(found, key=lambda one: one.together)


def driving(scene: Scene) -> FixingLoad | None:
    """The same of a vehicle on the road, its panels in the place that is chosen for it, else as flat as they go; None where no road speed is told."""
    stand = scene.brief.stand
    if stand is None or stand.road_speed is None or not stand_in(scene).drives:
        return None
    rig, air = rig_of(scene), air_of(scene)
    place = place_on(scene.brief.mount, scene.brief.bench.places.driving)
    how = stance(rig, float(own_tilts(scene).min()) if place is None else place)
    pressure = velocity_pressure(driving_speed(stand.road_speed), air.density)
    coefficient = max(float(air.coefficients.lift(np.array([how.tilt]), air.blocked)[0]), ROOF_EDGE)
    area, lean = coefficient * rig.area, radians(how.tilt)
    found: list[FixingLoad] = []
    for share in (QUARTER, 1 - QUARTER):
        push = Push(-area * sin(lean), area * cos(lean), how.on_glass(share * rig.length))
        found += _loads(scene, rig, how, "road", push, (pressure,))
    return max(found, key=lambda one: one.together)


def driving_speed(road_speed: float) -> float:
    """Speed of the air, m/s, over a vehicle that goes ``road_speed`` m/s against the wind."""
    return road_speed + HEAD_WIND


def gust_of_fixings(scene: Scene, rig: Rig, air: Air, tilts: Floats) -> Floats | None:
    """The lowest gust, m/s as told, at which a fixing passes its rating with the wind from each direction at each of ``tilts`` (T,), searched
    from nought upward: (3, T); infinite where none does. None where no rating is told."""
    stand = scene.brief.stand
    if stand is None or stand.fixings.rating is None or not fixings_told(scene):
        return None
    found = np.full((len(DIRECTIONS), len(tilts)), inf)
    for column, tilt in enumerate(np.asarray(tilts, dtype=float).tolist()):
        how = stance(rig, tilt)
        for row, each in enumerate(pushes(rig, air, how).values()):
            found[row, column] = min(_passes(scene, rig, how, push, stand.fixings.rating) for push in each)
    speed_up = standing(rig, air, tilts, refuse=False).speed_up
    gusts: Floats = np.sqrt(2 * found / air.density) / speed_up
    return gusts


def _passes(scene: Scene, rig: Rig, how: Stance, push: Push, rating: float) -> float:
    """The least velocity pressure, Pa, at which any fixing passes its rating: every load is a straight line over the pressure."""
    still, blown = (_lines(scene, rig, how, push, q) for q in (0.0, 1.0))
    least = inf
    for before, after in zip(still, blown, strict=True):
        a, b = before.across / before.count, (after.across - before.across) / before.count
        c, e = before.along / before.count, (after.along - before.along) / before.count
        if hypot(max(a, 0.0), c) > rating:
            return 0.0
        pulled = _root(b * b + e * e, 2 * (a * b + c * e), a * a + c * c - rating**2)
        sheared = _root(e * e, 2 * c * e, c * c - rating**2)
        # What passes: pull and shear together while it pulls, the shear alone while it presses.
        least = min([least, *(q for q in pulled if a + b * q >= -1e-9), *(q for q in sheared if a + b * q < 0)])
    return least


def _root(square: float, straight: float, constant: float) -> list[float]:
    """Where a parabola that opens upward passes nought, rising, at or above nought."""
    if square < 1e-18:
        return []
    inside = straight**2 - 4 * square * constant
    return [root for root in ((-straight + sqrt(inside)) / (2 * square),) if root >= 0] if inside >= 0 else []


def _loads(scene: Scene, rig: Rig, how: Stance, direction: str, push: Push, pressures: tuple[float, ...]) -> Iterator[FixingLoad]:
    fixings = _fixings(scene)
    for pressure in pressures:
        lines = _lines(scene, rig, how, push, pressure)
        many = fixings.count or round(sum(line.count for line in lines))
        for line in lines:
            pull, shear = max(line.across, 0.0) / line.count, abs(line.along) / line.count
            yield FixingLoad(pull, shear, line.name, direction, how.tilt, pressure, many, fixings.rating)


def _fixings(scene: Scene) -> FixingsBrief:
    return scene.brief.stand.fixings if scene.brief.stand is not None else FixingsBrief()


def _lines(scene: Scene, rig: Rig, how: Stance, push: Push, pressure: float) -> list[_Line]:
    """The two lines of fixings under one push."""
    stand = scene.brief.stand
    assert stand is not None  # noqa: S101 - asked only where one is told
    each = None if stand.fixings.count is None else stand.fixings.count / 2
    upright = stand_in(scene).upright
    if upright and rig.structure.stands_on == "wall":
        ledgers = load_paths(rig, how, push, pressure).reactions
        return [_Line(one.name, -one.level * one.count, one.down * one.count, each or one.count) for one in ledgers]
    if rig.feet is not None and stand_in(scene).drives:
        path = load_paths(rig, how, push, pressure)
        if path.inner:
            inner = path.reactions[: path.inner]
            return [_Line(one.name, -one.down * one.count, one.level * one.count, each or one.count) for one in inner]
    loads = _all_loads(rig, how, push, pressure)
    first, across, along, names, apart = _upright(rig, how, stand) if upright else _level(rig, how, stand)
    many = each or max(1, rig.structure.frames)
    total = _sum(loads)
    second = sum(_lever(force, at, first, across, along) for force, at in loads) / apart
    whole, slide = _dot(total, across), _dot(total, along)
    return [_Line(names[0], whole - second, slide / 2, many), _Line(names[1], second, slide / 2, many)]


def _all_loads(rig: Rig, how: Stance, push: Push, pressure: float) -> list[tuple[Vector, Point]]:
    wind: Vector = (push.level * pressure, push.up * pressure)
    return [(wind, push.at), *(((0.0, -one.newtons), one.at) for one in weights(rig, how))]


def _upright(rig: Rig, how: Stance, stand: StandBrief) -> tuple[Point, Vector, Vector, tuple[str, str], float]:
    """The lower line, the ways across and along, and the distance of two lines one over the other, behind the glass."""
    apart = stand.fixings.lines_apart
    if apart is None or apart < NARROW:
        raise BriefError(
            "stand.fixings.lines_apart",
            "an upright plate has no footprint: say how far apart the two lines are on which it is held, one over the other",
        )
    (low_x, low_z), (high_x, high_z) = how.on_glass(0.0), how.on_glass(rig.length)
    first = (max(low_x, high_x), (low_z + high_z) / 2 - apart / 2)
    return first, (-1.0, 0.0), (0.0, 1.0), ("lower line", "upper line"), apart


def _level(rig: Rig, how: Stance, stand: StandBrief) -> tuple[Point, Vector, Vector, tuple[str, str], float]:
    """The same of two lines side by side on a roof, which may fall to the front."""
    fall, apart = radians(rig.structure.slope), stand.fixings.lines_apart
    along, across = (cos(fall), sin(fall)), (-sin(fall), cos(fall))
    if how.feet is not None and apart is None:
        (x0, z0), (x1, z1) = how.feet
        apart = hypot(x1 - x0, z1 - z0)
        if apart >= NARROW:
            return (x0, z0), across, along, ("front line", "back line"), apart
    if apart is None or apart < NARROW:
        raise BriefError(
            "stand.fixings.lines_apart", "say how far apart the two lines are on which it is held: the frame does not say it"
        )
    middle = how.on_glass(rig.length / 2)[0] if how.feet is None else (how.feet[0][0] + how.feet[1][0]) / 2
    at = middle - apart / 2 * cos(fall)
    return (at, at * sin(fall) / cos(fall)), across, along, ("front line", "back line"), apart


def _lever(force: Vector, at: Point, about: Point, across: Vector, along: Vector) -> float:
    """Moment of a force about the first line, Nm, above zero where it pulls at the second."""
    sense = along[0] * across[1] - along[1] * across[0]
    return sense * turning(force, at, about)


def _sum(loads: list[tuple[Vector, Point]]) -> Vector:
    return sum(force[0] for force, _ in loads), sum(force[1] for force, _ in loads)


def _dot(one: Vector, other: Vector) -> float:
    return one[0] * other[0] + one[1] * other[1]
