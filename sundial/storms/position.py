"""The wind position: when to lay the panels flat, how many hours a year that is, and what it costs."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAYS
from sundial.energy.production import produce
from sundial.mounts.places import place_on
from sundial.storms.ways import ANY, WindOfYear

if TYPE_CHECKING:
    from sundial.scene import Scene
    from sundial.study import Study

Floats = NDArray[np.float64]
QUARTER_TURN = 90.0


@dataclass(frozen=True)
class WindPosition:
    """Laid down to ``tilt`` degrees where a gust over ``gust`` m/s (as told) is forecast while it stands at its steepest, ``steepest``;
    ``hours`` a year with such a gust, ``days`` on which there is one, ``lost`` kWh a year; ``minutes`` it takes, and ``people``;
    ``flat_stands``: the gust, m/s, that it stands when laid down, with the factor in hand (None: any). ``by``: "hand", "motor", or
    "nothing" for what cannot be laid down; ``rolled``: its motor rolls it flat about an axis that
    stays at ``tilt``, the steepest of the plan's. ``facing_stands``: the gust that it may stand when it is turned to
    face the wind at its steepest, for what can be turned (None: it cannot, or any)."""

    tilt: float
    gust: float | None
    steepest: float
    hours: int
    days: int
    lost: float
    minutes: float
    people: int
    flat_stands: float | None
    by: str
    rolled: bool = False
    facing_stands: float | None = None


def wind_position(study: Study, wind: WindOfYear) -> WindPosition:
    """Where to put the panels before a storm, by the build's own plan."""
    facing, drive = study.own_facing
    tilt = np.abs(facing.surface_tilt)
    windy = wind.over(tilt)
    steepest = float(tilt.max())
    flat, by = flattest(study)
    lying = lying_tilts(study)
    lost = 0.0
    if by != "nothing" and windy.any():
        year = produce(study.scene.light, study.scene.system, facing, drive, study.scene.shade)
        laid = wind.laid_down(facing, lying, by == "hand")
        lost = year.year - produce(study.scene.light, study.scene.system, laid, drive, study.scene.shade).year
    minutes, people = _effort(study, steepest - flat, by)
    return WindPosition(
        flat, _known(float(wind.allowed_at(steepest))), steepest, int(windy.sum()), int(windy.reshape(DAYS, 24).any(axis=1).sum()),
        lost, minutes, people, _known(float(wind.allowed_at(flat))), by, study.hand_axis is not None,
        _into_the_wind(study.scene, wind, steepest),
    )  # fmt: skip


def _into_the_wind(scene: Scene, wind: WindOfYear, steepest: float) -> float | None:
    """The gust that may be stood with the wind in front only, m/s as told: what turns can be turned to meet it so."""
    if not scene.brief.mount.meets_wind:
        return None
    front = wind.from_the_front[round(min(steepest, 90.0))]
    return _known(float(front))


def _known(gust: float) -> float | None:
    return None if gust >= ANY else gust


def flattest(study: Study) -> tuple[float, str]:
    """The flattest it goes, or the place that is chosen for a storm, and by what."""
    if study.hand_axis is not None:
        return max(_axis_tilts(study)), "motor"
    flat, by = study.brief.mount.flattest(study.scene.reachable)
    storm = place_on(study.brief.mount, study.brief.bench.places.storm)
    return (flat if storm is None else storm), by


def lying_tilts(study: Study) -> Floats | float:
    """The tilt in the wind position: one number, or (8760,) where the motor rolls flat an axis that a hand sets."""
    if study.hand_axis is None:
        return flattest(study)[0]
    return np.repeat(np.array(_axis_tilts(study)), 24)


def _axis_tilts(study: Study) -> tuple[float, ...]:
    return study.own_plans.with_settings(study.brief.plan.settings).tilt_by_day


def _effort(study: Study, turn: float, by: str) -> tuple[float, int]:
    """Minutes to lay it down, and people."""
    plan, structure = study.brief.plan, study.scene.structure
    if by == "hand":
        return plan.minutes_per_move, plan.people
    if by == "nothing":
        return 0.0, 0
    jack = structure.jack if structure else None
    if structure and structure.span and jack and jack.speed and study.hand_axis is None:
        return jack.travel(structure.span) / jack.speed / 60, 0
    return max(turn, 0.0) / float(getattr(study.brief.mount, "speed", QUARTER_TURN)), 0
