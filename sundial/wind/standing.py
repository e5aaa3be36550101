"""What gives way first: tipping, sliding and lifting of a frame at every tilt, for wind from the front, the back and along the row.

Forces grow with the square of the speed, weights do not: each way of giving way has one velocity pressure at which it begins,
stability / load per unit of pressure. From the front the wind presses, a quarter of the slope from the lower edge; from the back it
lifts, a quarter from the upper edge; along the row it meets the glass edge-on, as if it were a level plane: straight up or down, a
quarter of the breadth from the windward end.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache
from math import cos, hypot, radians, sin

import numpy as np
from numpy.typing import NDArray

from sundial.errors import BriefError
from sundial.frames.load_path import GRAVITY, NARROW
from sundial.wind.pressure import Coefficients, at_height, velocity_pressure
from sundial.wind.stance import Rig, Stance, stance

Floats = NDArray[np.float64]
DIRECTIONS = ("front", "back", "side")
QUARTER = 0.25  # of the length from the windward edge (EN 1991-1-4:2005, figure 7.16)
GRAM = 1e-3  # kg: no nearer is ballast worked out
NEVER = np.inf


@dataclass(frozen=True)
class Air:
    """The wind's side of it: ``density`` kg/m3, ``coefficients`` of a plane, ``blocked`` underneath, and how a gust told at
    ``measured_at`` m (None: at the panels) changes with height, by ``exponent``."""

    density: float
    coefficients: Coefficients
    blocked: bool = False
    measured_at: float | None = 10.0
    exponent: float = 0.16


@dataclass(frozen=True)
class Push:
    """Wind on the glass from one direction for one Pa: ``level`` m2 (above zero: to the back) and ``up`` m2, at ``at`` m in the side
    view, ``across`` m along the row from the middle, toward the wind."""

    level: float
    up: float
    at: tuple[float, float]
    across: float = 0.0

    @property
    def normal(self) -> float:
        return hypot(self.level, self.up)


def pushes(rig: Rig, air: Air, how: Stance) -> dict[str, list[Push]]:
    """The wind from each direction on a rig at one tilt; along the row it may press or lift."""
    lean, one = radians(how.tilt), np.array([how.tilt])
    press, lift = float(air.coefficients.press(one)[0]), float(air.coefficients.lift(one, air.blocked)[0])
    flat = np.array([0.0])
    press_flat = float(air.coefficients.press(flat)[0])
    lift_flat = float(air.coefficients.lift(flat, air.blocked)[0])
    area, middle = rig.area, how.on_glass(rig.length / 2)

    def pushed(c: float, sign: float, at: tuple[float, float]) -> Push:
        return Push(sign * c * area * sin(lean), -sign * c * area * cos(lean), at)

    end = rig.breadth / 2 - QUARTER * rig.breadth
    return {
        "front": [pushed(press, 1, how.on_glass(QUARTER * rig.length))],
        "back": [pushed(lift, -1, how.on_glass((1 - QUARTER) * rig.length))],
        "side": [Push(0.0, -press_flat * area, middle, end), Push(0.0, lift_flat * area, middle, end)],
    }


@dataclass(frozen=True)
class Weight:
    """A weight, N, and where it hangs in the side view, m."""

    newtons: float
    at: tuple[float, float]


def weights(rig: Rig, how: Stance) -> list[Weight]:
    """Glass and rails at the middle of the glass, the rest between the feet, ballast on each side."""
    held = [Weight(rig.moving * GRAVITY, how.on_glass(rig.length / 2))]
    if how.feet is None:
        return [*held, Weight(rig.fixed * GRAVITY, (0.0, 0.0))]
    (x0, z0), (x1, z1) = how.feet
    held.append(Weight(rig.fixed * GRAVITY, ((x0 + x1) / 2, (z0 + z1) / 2)))
    return held + [Weight(rig.ballast * GRAVITY, foot) for foot in how.feet]


@dataclass(frozen=True)
class Limits:
    """Velocity pressures, Pa, at which a rig at one tilt begins to give way, by direction; infinite where it never does.
    ``about``: the foot about which it tips ("front", "back", "end")."""

    tips: dict[str, float]
    about: dict[str, str]
    slides: dict[str, float]
    lifts: dict[str, float]


def limits(rig: Rig, air: Air, how: Stance, blown: Mapping[str, Sequence[Push]] | None = None) -> Limits:
    """What the wind from each direction must bring (``blown``: its pushes, where they are known). BriefError where the rig cannot
    stand in still air."""
    if how.feet is None or how.feet[1][0] - how.feet[0][0] < NARROW:
        raise BriefError(
            "wind.feet",
            "say on which lines it stands, m behind its front support: without an anchor this frame stands on nothing that keeps it "
            "upright",
        )
    held, blown = weights(rig, how), blown or pushes(rig, air, how)
    total = sum(weight.newtons for weight in held)
    tips: dict[str, float] = {}
    about: dict[str, str] = {}
    for direction, each in blown.items():
        best = (NEVER, "front")
        for push in each:
            found = _ends(rig, total, push) if direction == "side" else _edges(held, push, how)
            best = min([best, *found])
        tips[direction], about[direction] = best
    slides = {key: min(_slides(total, push, rig) for push in each) for key, each in blown.items()}
    lifts = {key: min((total / push.up if push.up > 0 else NEVER) for push in each) for key, each in blown.items()}
    return Limits(tips, about, slides, lifts)


def _edges(held: list[Weight], push: Push, how: Stance) -> list[tuple[float, str]]:
    """Pressures at which it tips about its front and about its back feet."""
    found = []
    for name, foot, sense in zip(("front", "back"), how.feet or (), (-1.0, 1.0), strict=True):
        # Turning over that edge: a lever toward it in x and a height in z; above zero tips.
        stays = sum(weight.newtons * sense * (foot[0] - weight.at[0]) for weight in held)
        if stays <= 0:
            raise BriefError(
                "wind.feet",
                f"at {how.tilt:.0f} degrees it falls over its {name} feet by its own weight, in still air: stand it wider, or anchor it",
            )
        over = sense * push.level * (push.at[1] - foot[1]) + push.up * sense * (foot[0] - push.at[0])
        found.append((stays / over if over > 1e-12 else NEVER, name))
    return found


def _ends(rig: Rig, total: float, push: Push) -> list[tuple[float, str]]:
    """Pressures at which it tips sideways, about the outermost feet on either side."""
    half = rig.span / 2
    lee = push.up * (half + push.across)  # lifted at the windward end, about the feet on the other side
    windward = -push.up * (push.across - half)  # pressed outside the feet on the windward side
    return [(total * half / over if over > 1e-12 else NEVER, "end") for over in (lee, windward)]


def _slides(total: float, push: Push, rig: Rig) -> float:
    """The pressure at which friction gives way, on ground that may fall to the front."""
    fall = radians(rig.structure.slope)
    along, square = (cos(fall), sin(fall)), (-sin(fall), cos(fall))
    found = NEVER
    for sense in (1.0, -1.0):
        held = sense * total * along[1] + rig.friction * total * square[1]
        if held <= 0:
            raise BriefError(
                "wind.friction", "on this slope it slides by its own weight, in still air: more friction, or an anchor"
            )
        drive = sense * (push.level * along[0] + push.up * along[1]) + rig.friction * (
            push.level * square[0] + push.up * square[1]
        )
        if drive > 1e-12:
            found = min(found, held / drive)
    return found


@dataclass(frozen=True, eq=False)
class Standing:
    """A rig at many ``tilts`` (T,) degrees. Arrays by direction (3, T): ``tips``, ``slides``, ``lifts``: the gust, m/s as it is told,
    at which that begins (infinite: never); ``about`` the feet it tips over. ``speed_up`` (T,): gust at the panels over the told one.
    ``normal`` (3, T), ``up`` (3, T) and ``level`` (3, T): force for one Pa, m2 (the greatest of what a direction may bring)."""

    rig: Rig
    air: Air
    tilts: Floats
    speed_up: Floats
    tips: Floats
    slides: Floats
    lifts: Floats
    about: tuple[tuple[str, ...], ...]
    normal: Floats
    up: Floats
    level: Floats

    @cached_property
    def gives_way(self) -> Floats:
        """The gust at which anything first happens, m/s as told (T,)."""
        found: Floats = np.minimum(np.minimum(self.tips, self.slides), self.lifts).min(axis=0)
        return found

    def first(self, index: int) -> tuple[str, str]:
        """What happens first at a tilt, and with the wind from where."""
        ways = {"tips": self.tips, "slides": self.slides, "lifts": self.lifts}
        gust, way, direction = min((float(ways[way][d, index]), way, name) for way in ways for d, name in enumerate(DIRECTIONS))
        return ("never", direction) if gust == NEVER else (way, direction)

    def pressure(self, gust: Floats | float) -> Floats:
        """Velocity pressure at the panels, Pa, for told gusts (...,): (T, ...)."""
        told = np.asarray(gust, dtype=float)
        speed = self.speed_up.reshape(-1, *[1] * told.ndim) * told
        found: Floats = 0.5 * self.air.density * speed**2
        return found

    def margins(self, gusts: Floats) -> Floats:
        """Load at which it gives way over the load of each gust (G,): (3, T, G); 1 is the brink."""
        least = np.minimum(np.minimum(self.tips, self.slides), self.lifts)
        with np.errstate(divide="ignore"):
            found: Floats = (least[:, :, None] / gusts[None, None, :]) ** 2
        return found


def standing(rig: Rig, air: Air, tilts: Floats, refuse: bool = True) -> Standing:
    """A rig at many tilts, degrees from level. BriefError where it cannot stand in still air at one of them (not to ``refuse``: it tips
    at 0 m/s there)."""
    return _standing(rig, air, tuple(np.asarray(tilts, dtype=float).tolist()), refuse)


@dataclass(frozen=True)
class _Case:
    """A rig at one tilt: the middle of its glass ``height`` m up, how it is ``blown`` at, its ``limits`` (None: anchored, or it ``falls``
    over in still air)."""

    height: float
    blown: dict[str, list[Push]]
    limits: Limits | None
    falls: BriefError | None


def _case(rig: Rig, air: Air, tilt: float) -> _Case:
    how = stance(rig, tilt)
    blown = pushes(rig, air, how)
    found, falls = None, None
    try:
        found = None if rig.anchored else limits(rig, air, how, blown)
    except BriefError as error:
        falls = error
    return _Case(rig.raised + how.on_glass(rig.length / 2)[1], blown, found, falls)


@lru_cache(maxsize=16)
def _cases(rig: Rig, air: Air) -> dict[float, _Case]:
    """The cases of a rig that were worked out, by tilt: its own tilts, those of its plan and every degree share most of them."""
    return {}


@lru_cache(maxsize=64)
def _standing(rig: Rig, air: Air, tilts: tuple[float, ...], refuse: bool) -> Standing:
    shape = (3, len(tilts))
    tips, slides, lifts = (np.full(shape, NEVER) for _ in range(3))
    normal, up, level = (np.zeros(shape) for _ in range(3))
    about: list[list[str]] = [[] for _ in DIRECTIONS]
    heights = np.zeros(len(tilts))
    known = _cases(rig, air)
    for column, tilt in enumerate(tilts):
        case = known.get(tilt)
        if case is None:
            case = known[tilt] = _case(rig, air, tilt)
        heights[column], blown = case.height, case.blown
        if case.falls is not None:
            if refuse:
                raise BriefError(case.falls.path, case.falls.message)
            tips[:, column] = 0.0
        found = case.limits
        for row, name in enumerate(DIRECTIONS):
            normal[row, column] = max(push.normal for push in blown[name])
            up[row, column] = max(push.up for push in blown[name])
            level[row, column] = max(abs(push.level) for push in blown[name])
            about[row].append(found.about[name] if found else "")
            if found:
                tips[row, column], slides[row, column] = found.tips[name], found.slides[name]
                lifts[row, column] = found.lifts[name]
    speed_up = at_height(heights, air.measured_at, air.exponent)

    def as_gust(pressure: Floats) -> Floats:
        speed: Floats = np.sqrt(2 * pressure / air.density) / speed_up
        return speed

    return Standing(
        rig, air, np.array(tilts), speed_up, as_gust(tips), as_gust(slides), as_gust(lifts),
        tuple(tuple(names) for names in about), normal, up, level,
    )  # fmt: skip


def ballast_for(rig: Rig, air: Air, tilt: float, gust: float, factor: float, sliding: bool = False) -> float:
    """Mass on each side (front and back), kg, that keeps a rig at ``tilt`` from tipping and lifting (and from ``sliding``) at a told
    ``gust`` with ``factor`` in hand; what lies there already is not counted."""
    bare = replace(rig, ballast=0.0)
    how = stance(bare, tilt)
    blown = pushes(bare, air, how)
    height = np.array([rig.raised + how.on_glass(rig.length / 2)[1]])
    q = velocity_pressure(gust * float(at_height(height, air.measured_at, air.exponent)[0]), air.density) * factor

    def enough(mass: float) -> bool:
        try:
            found = limits(replace(bare, ballast=mass), air, how, blown)
        except BriefError:  # in still air, without ballast
            return False
        kinds = [found.tips, found.lifts, *([found.slides] if sliding else [])]
        return all(value >= q * (1 - 1e-12) for kind in kinds for value in kind.values())

    if enough(0.0):
        return 0.0
    low, high = 0.0, 1.0
    while not enough(high):
        low, high = high, high * 2
        if high > 1e9:
            return NEVER
    while high - low > GRAM:
        middle = (low + high) / 2
        low, high = (low, middle) if enough(middle) else (middle, high)
    return high
