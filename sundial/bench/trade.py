"""Energy against moves: many settings through the same minutes, the front of those that no other beats in both, and a suggestion."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from sundial.bench.axes import mount_of
from sundial.bench.minutes import Minutes
from sundial.bench.results import Bench, Result, bench_of, energy_of, result_of
from sundial.bench.settings import Settings
from sundial.study import Study

COUNT = 40
MAY_LOSE = 0.005  # of what the best of all tried settings gives
THRESHOLDS, CYCLES, STEPS = (0.02, 0.06, 0.15, 0.3), (1.0, 5.0, 15.0), (1.0, 3.0, 5.0, 10.0, 15.0, 25.0)
SUNNY = (90.0, 180.0)


@dataclass(frozen=True)
class Point:
    """One setting that was tried: kWh over the days, moves a day, share of the ideal that it loses, whether it is on the ``front``."""

    settings: Settings
    energy: float
    moves_a_day: float
    loss: float
    front: bool = False


@dataclass(frozen=True)
class Trade:
    """All points, the place of the setting that was asked about (0), of the one ``suggested``: the fewest moves for at most half a per cent less
    than the best of all that was tried; its worst day (0 to 364) with what it loses there (kWh) and how often it moves."""

    points: tuple[Point, ...]
    suggested: int
    best: int
    worst_day: int
    worst_lost: float
    worst_moves: int


def trade(
    bench: Bench, settings: Settings, count: int = COUNT, seed: int = 1, report: Callable[[int, int], Any] | None = None
) -> Trade:
    """A seeded search: a grid of what matters for this kind of control first, then steps away from the settings on the front. Every one of them
    goes through the same sky and noise."""
    random = np.random.default_rng(seed)
    tried = [settings, *_grid(settings)][:count]
    points: list[Point] = []
    while True:
        for one in tried[len(points) :]:
            found = result_of(bench, one)
            points.append(Point(one, found.energy, found.moves_a_day, found.loss))
            if report is not None:
                report(len(points), count)
        if len(tried) >= count:
            break
        front = [points[place] for place in front_of(points)]
        tried += [_beside(front[int(random.integers(len(front)))].settings, random) for _ in range(min(6, count - len(tried)))]
    on = set(front_of(points))
    made = tuple(Point(**{**vars(point), "front": place in on}) for place, point in enumerate(points))
    best = max(range(len(made)), key=lambda place: made[place].energy)
    enough = [place for place, point in enumerate(made) if point.energy >= (1 - MAY_LOSE) * made[best].energy]
    suggested = min(enough, key=lambda place: (made[place].moves_a_day, -made[place].energy))
    chosen = result_of(bench, made[suggested].settings)
    lost = chosen.ideal_by_day - chosen.made_by_day
    worst = int(lost.argmax())
    return Trade(made, suggested, best, int(bench.minutes.days[worst]), float(lost[worst]), int(chosen.moves_by_day[worst]))


def front_of(points: list[Point]) -> list[int]:
    """Places of the points that no other beats in moves without losing energy, fewest moves first."""
    order = sorted(range(len(points)), key=lambda place: (points[place].moves_a_day, -points[place].energy))
    found, most = [], -np.inf
    for place in order:
        if points[place].energy > most:
            found.append(place)
            most = points[place].energy
    return found


def _grid(settings: Settings) -> list[Settings]:
    if settings.control == "manual":
        return [settings.model_copy(update={"manual_angle": float(angle)}) for angle in range(-60, 61, 10)]
    if settings.control == "clock":
        return [settings.model_copy(update={"step": step, "cycle": cycle}) for step in STEPS for cycle in CYCLES]
    scale = 1.0 if settings.threshold_kind == "share" else 400.0
    return [
        settings.model_copy(
            update={"threshold": threshold * scale, "cycle": cycle, "sunny": sunny, "night": min(settings.night, sunny)}
        )
        for sunny in SUNNY
        for threshold in THRESHOLDS
        for cycle in CYCLES
    ]


def _beside(settings: Settings, random: np.random.Generator) -> Settings:
    """A step away, in two or three things."""
    if settings.control == "manual":
        return settings.model_copy(
            update={"manual_angle": float(np.clip(settings.manual_angle + random.normal(0, 5), -180, 180))}
        )
    update: dict[str, Any] = {"cycle": float(np.clip(round(settings.cycle * np.exp(random.normal(0, 0.6))), 1, 120))}
    if settings.control == "clock":
        update["step"] = float(np.clip(round(settings.step * np.exp(random.normal(0, 0.4)), 1), 0.5, 60))
        return settings.model_copy(update=update)
    most = 1.5 if settings.threshold_kind == "share" else 800.0
    update["threshold"] = float(np.clip(settings.threshold * np.exp(random.normal(0, 0.5)), 0.005, most))
    update["sunny"] = float(np.clip(round(settings.sunny * np.exp(random.normal(0, 0.4))), max(settings.night + 1, 20), 600))
    if settings.control == "sensor":
        update["dull"] = str(random.choice(["stay", "flat", "clock"]))
    return settings.model_copy(update=update)


@dataclass(frozen=True)
class Cost:
    """What something that is not as it should be costs, kWh over the days: negative where it wins by chance."""

    what: str
    kwh: float


NORTH, DIRT, DRIFT = 0.5, 0.1, 5.0  # degrees, share of one cell's light, seconds a day


def costs(study: Study, minutes: Minutes, settings: Settings, seed: int = 1) -> tuple[Cost, ...]:
    """What half a degree of north error, a dirty cell and a drifting clock cost with these settings, each by itself."""
    base = bench_of(study, minutes, mount_of(study, minutes, north_error=settings.north_error), seed)
    start = energy_of(base, settings)
    turned = bench_of(study, minutes, mount_of(study, minutes, north_error=settings.north_error + NORTH), seed)
    found = [Cost("half a degree off north", start - energy_of(turned, settings))]
    if settings.control in ("sensor", "hybrid"):
        dirty = settings.model_copy(update={"dirt": 1 - (1 - settings.dirt) * (1 - DIRT)})
        found.append(Cost("dirt that takes a tenth of one cell's light", start - energy_of(base, dirty)))
    if settings.control in ("clock", "hybrid") or settings.dull == "clock":
        late = settings.model_copy(update={"drift": settings.drift + DRIFT})
        found.append(Cost(f"a clock that gains {DRIFT:g} s a day and is never set", start - energy_of(base, late)))
    return tuple(found)


def wrong_sensor(bench: Bench, result: Result) -> float:
    """kWh that cells which differ, are dirty, shaded or noisy cost, against the same settings with perfect ones; 0 for a clock."""
    settings = result.settings
    if settings.control not in ("sensor", "hybrid") or (settings.gain == 1 and settings.noise == 0 and not settings.shadow):
        return 0.0
    perfect = settings.model_copy(update={"mismatch": 1.0, "dirt": 0.0, "noise": 0.0, "shadow": []})
    return energy_of(bench, perfect) - result.energy
