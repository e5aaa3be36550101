"""Rules of thumb and the tilt they have now, on the same surface; and when one more move stops paying."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from sundial.brief.model import PlanBrief
from sundial.days import DAYS, DECEMBER_SOLSTICE, JUNE_SOLSTICE, MARCH_EQUINOX, SEPTEMBER_EQUINOX
from sundial.energy.production import TiltSurface
from sundial.plan.tilt_plan import Floats, TiltPlan


@dataclass(frozen=True)
class Rival:
    """Another way to set the tilt: kWh and kWh/m2 a year, and the tilts it asks for."""

    name: str
    tilts: tuple[float, ...]
    energy: float
    irradiation: float


def rivals(surface: TiltSurface, reachable: Floats, latitude: float, tilt_now: float | None, moved: bool = True) -> list[Rival]:
    """The rules of thumb of the trade at the nearest tilt the frame reaches, and the tilt now as it stands.

    Two settings: latitude minus and plus 15 at the equinoxes; four: with latitude itself in spring and autumn, changed
    half-way between equinox and solstice; latitude all year; 0.76 x latitude + 3.1 between 25 and 50 degrees (all thumb).
    Only those of one angle where it is not ``moved``.
    """
    height = abs(latitude)
    steep = _season(latitude)
    found = []
    if moved:
        found += [
            _rival(surface, reachable, "Latitude −15° / +15°, at the equinoxes", latitude_rule(latitude, moved=True)),
            _rival(surface, reachable, "Four seasons: latitude, ±15°", height + 15 * steep),
        ]
    found.append(_rival(surface, reachable, "Latitude all year", latitude_rule(latitude, moved=False)))
    if 25 <= height <= 50:
        rule = np.full(DAYS, 0.76 * height + 3.1)
        found.append(_rival(surface, reachable, "0.76 × latitude + 3.1° all year", rule))
    if tilt_now is not None:
        found.append(_rival(surface, np.array([tilt_now]), "Yours now, all year", np.full(DAYS, tilt_now)))
    return found


def latitude_rule(latitude: float, moved: bool) -> Floats:
    """Tilts of the days (365,) by the trade's rule: the latitude; where it is moved at the equinoxes, 15 degrees less in the
    summer half and 15 more in the winter half (thumb)."""
    height = abs(latitude)
    return np.where(_summer(latitude), height - 15, height + 15) if moved else np.full(DAYS, height)


def _summer(latitude: float) -> np.ndarray[tuple[int], np.dtype[np.bool_]]:
    days = np.arange(DAYS)
    north: np.ndarray[tuple[int], np.dtype[np.bool_]] = (days >= MARCH_EQUINOX) & (days < SEPTEMBER_EQUINOX)
    return north if latitude >= 0 else ~north


def _season(latitude: float) -> Floats:
    """-1 in the quarter around the summer solstice, +1 around the winter one, 0 between."""
    days = np.arange(DAYS)

    def near(solstice: int) -> Floats:
        away = np.abs((days - solstice + 182) % DAYS - 182)
        return (away <= 45).astype(float)

    north = near(DECEMBER_SOLSTICE) - near(JUNE_SOLSTICE)
    return north if latitude >= 0 else -north


def _rival(surface: TiltSurface, reachable: Floats, name: str, wanted: Floats) -> Rival:
    nearest = reachable[np.abs(reachable[None, :] - wanted[:, None]).argmin(axis=1)]
    energy = irradiation = 0.0
    for tilt in np.unique(nearest):
        days = nearest == tilt
        energy += float(surface.daily(float(tilt))[days].sum())
        irradiation += float(surface.daily(float(tilt), "irradiation")[days].sum())
    order = tuple(float(t) for t in dict.fromkeys(nearest.tolist()))
    return Rival(name, order, energy, irradiation)


@dataclass(frozen=True)
class Effort:
    """What one move takes, and what an hour of it and a kWh are worth (any currency; 0 allowed)."""

    minutes_per_move: float = 12.0
    people: int = 1
    value_of_hour: float = 0.0
    value_of_kwh: float = 0.0

    @property
    def minutes(self) -> float:
        """Minutes of work in one move, all hands counted."""
        return self.minutes_per_move * self.people


def effort_of(plan: PlanBrief, price: float) -> Effort:
    """What a move costs as a brief tells it, where one more kWh is worth ``price``."""
    return Effort(plan.minutes_per_move, plan.people, plan.value_of_hour, price)


def paying_settings(plans: Sequence[TiltPlan | None], effort: Effort) -> int:
    """The number of settings after which one more move stops paying: the most money left over per year.

    Each plan's energy at ``value_of_kwh``, less its moves at ``value_of_hour``. With an hour worth nothing every
    extra kWh pays, so the count where the curve has stopped rising is returned.
    """
    left = [
        -np.inf
        if plan is None
        else plan.energy * (effort.value_of_kwh or 1e-9) - plan.moves * effort.minutes / 60 * effort.value_of_hour
        for plan in plans
    ]
    top = max(left)
    return next(k for k, value in enumerate(left, 1) if value >= top - 1e-9 * abs(top))
