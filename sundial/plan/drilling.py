"""Where to drill: the fewest holes of a base bar whose tilts keep the plan, and one prop for two tilts."""

from __future__ import annotations

from dataclasses import dataclass, replace
from math import cos, radians, sin

import numpy as np
from numpy.typing import NDArray

from sundial.energy.production import TiltSurface
from sundial.errors import BriefError
from sundial.frames.prop import Prop
from sundial.mounts.kind import WHOLE_DEGREES
from sundial.plan.stretches import NEVER, best_sequences
from sundial.plan.tilt_plan import PlanConstraints

Floats = NDArray[np.float64]
MOST_PLACES = 91  # on a bar: as many as there are whole degrees
MOST_TRIED = 300  # sets of holes tried in search of a better one, for more than three settings
NEAR = 2  # places of a hole tried to either side, once the plan has chosen


@dataclass(frozen=True)
class Drilled:
    """One hole: ``base_hole`` m from the hinge (or from the top of an A-frame), and the true tilt that it sets, degrees."""

    base_hole: float
    tilt: float


@dataclass(frozen=True)
class Drilling:
    """``holes`` to drill, rising in tilt, of a bar with a hole every ``pitch`` m; ``lost`` kWh a year of what counts for the goal
    against any whole degree, ``own_lost`` by the holes as they are; ``best`` kWh with any whole degree."""

    holes: tuple[Drilled, ...]
    pitch: float
    lost: float
    own_lost: float
    best: float

    @property
    def share(self) -> float:
        return self.lost / self.best if self.best > 0 else 0.0

    @property
    def own_share(self) -> float:
        return self.own_lost / self.best if self.best > 0 else 0.0


def where_to_drill(
    surface: TiltSurface,
    constraints: PlanConstraints,
    latitude: float,
    settings: int,
    prop: Prop,
    pitch: float,
    loss: float,
    longest: float,
) -> Drilling:
    """The fewest holes, ``pitch`` m apart on a bar ``longest`` m long, with which a plan of so many ``settings`` loses at most the share
    ``loss`` of what it would make at any whole degree; or, where none do, the best ``settings`` of them.

    For one, two and three settings, exact; for more, each number of holes begins from the exact plan with that many settings
    and is improved hole by hole. Goals that judge whole months are counted as energy of the year.
    """
    if not 0.005 <= pitch <= 1:
        raise BriefError("pitch", "must be from 5 mm to 1 m")
    if not 0 <= loss <= 0.2:
        raise BriefError("loss", "must be from 0 to 20 %")
    bar = _bar(prop, pitch, longest)
    tilts = np.array([one.tilt for one in bar])
    weights = constraints.weights(latitude)

    def scored(held: Floats) -> Floats:
        """What each of some tilts (T,) earns on each day (365, T)."""
        earned = np.stack([surface.daily(float(tilt)) for tilt in held], axis=1) * weights[:, None]
        return np.asarray(np.where(replace(constraints, tilts=held).allowed(), earned, NEVER))

    score = scored(tilts)
    own = np.array(prop.tilts)
    best = _total(scored(WHOLE_DEGREES), settings, constraints)
    own_lost = best - _total(scored(own), settings, constraints)
    plans = best_sequences(score, settings, constraints.may_move)
    chosen: tuple[int, ...] = ()
    made = -np.inf
    for plan in plans:
        if plan is None:
            continue
        held = tuple(sorted(set(plan.by_day.tolist())))
        chosen, made = (
            _improved(held, score, settings, constraints) if settings > 3 else (held, _over(score, held, settings, constraints))
        )
        if made >= best * (1 - loss):
            break
    if not chosen:
        raise BriefError("plan.cap", "no hole of this bar is allowed by caps and floors")
    return Drilling(tuple(bar[index] for index in chosen), pitch, best - made, own_lost, best)


def _bar(prop: Prop, pitch: float, longest: float) -> list[Drilled]:
    """All places for a hole, by tilt; the first rail point and prop count."""
    if longest / pitch > MOST_PLACES:
        raise BriefError(
            "pitch",
            f"{longest / pitch:.0f} places on {longest:g} m of bar are too many: {longest / MOST_PLACES:.2g} m is the least here",
        )
    places = np.round(np.arange(pitch, longest + 1e-9, pitch), 6)
    one = replace(prop, rail_points=prop.rail_points[:1], lengths=prop.lengths[:1], base_holes=tuple(float(at) for at in places))
    found = [Drilled(hole.set_by["base_hole"], hole.plane.tilt) for hole in one.holes]
    if not found:
        raise BriefError("frame.base_holes", f"a hole every {pitch:g} m of {longest:g} m sets no tilt")
    return found


def _total(score: Floats, settings: int, constraints: PlanConstraints) -> float:
    found = best_sequences(score, settings, constraints.may_move)[-1]
    return -np.inf if found is None else found.total


def _over(score: Floats, held: tuple[int, ...], settings: int, constraints: PlanConstraints) -> float:
    return _total(score[:, list(held)], settings, constraints)


def _improved(held: tuple[int, ...], score: Floats, settings: int, constraints: PlanConstraints) -> tuple[tuple[int, ...], float]:
    """The same number of holes, each moved to a neighbouring place while that earns more with all ``settings``."""
    made, better, tries = _over(score, held, settings, constraints), True, 0
    while better and tries < MOST_TRIED:
        better = False
        for number in range(len(held)):
            for step in (*range(-NEAR, 0), *range(1, NEAR + 1)):
                place = held[number] + step
                if not 0 <= place < score.shape[1] or place in held:
                    continue
                tried = tuple(sorted((*held[:number], place, *held[number + 1 :])))
                tries += 1
                earned = _over(score, tried, settings, constraints)
                if earned > made + 1e-9:
                    held, made, better = tried, earned, True
                    break
    return held, made


@dataclass(frozen=True)
class OneProp:
    """A prop ``length`` m long that sets two tilts by two holes of the bar; ``tilts`` degrees as the holes come out."""

    length: float
    base_holes: tuple[float, float]
    tilts: tuple[float, float]


def one_prop(rail_point: float, wanted: tuple[float, float], pitch: float, longest: float) -> OneProp:
    """The prop, to the millimetre, that sets two tilts (degrees from the bar) most nearly with holes ``pitch`` m apart."""
    best: tuple[float, OneProp] | None = None
    steep = max(wanted)
    low = rail_point * sin(radians(min(steep, 90.0)))
    for length in np.arange(np.ceil(low * 1000) / 1000, rail_point + longest, 0.001):
        holes, tilts = [], []
        for tilt in wanted:
            across = length**2 - (rail_point * sin(radians(tilt))) ** 2
            at = round((rail_point * cos(radians(tilt)) + across**0.5) / pitch) * pitch if across >= 0 else 0.0
            if not 0 < at <= longest + 1e-9:
                break
            cosine = (rail_point**2 + at**2 - length**2) / (2 * rail_point * at)
            if abs(cosine) > 1:
                break
            holes.append(round(at, 6))
            tilts.append(float(np.degrees(np.arccos(cosine))))
        if len(holes) < 2 or holes[0] == holes[1]:
            continue
        off = max(abs(tilt - want) for tilt, want in zip(tilts, wanted, strict=True))
        if best is None or off < best[0] - 1e-9:
            best = off, OneProp(round(float(length), 3), (holes[0], holes[1]), (tilts[0], tilts[1]))
    if best is None:
        raise BriefError(
            "longest", f"no prop sets both tilts with a bar of {longest:g} m: take a longer bar or move the rail point"
        )
    return best[1]
