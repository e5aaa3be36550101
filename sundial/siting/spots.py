"""The best few places in a yard for the array, each with the way to turn it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from sundial.energy.production import Production
from sundial.errors import BriefError
from sundial.progress import Report, unwatched
from sundial.scene import Scene
from sundial.siting.ground import Survey, Window, survey_of, taken, window_of
from sundial.siting.season import season_of_need
from sundial.siting.whatif import with_spot, year_of
from sundial.study import Study

Floats = NDArray[np.float64]
For = Literal["year", "season"]
TURNS = (-60, -45, -30, -15, 0, 15, 30, 45, 60)  # degrees from the equator-ward direction
FINER = (15.0, 7.5)  # degrees tried to either side of the best facing of the coarse round
CELLS = 900  # looked at in the first, coarse round
APART = 3.0  # m at least between two spots that count as different
SAME = 0.001  # share of energy below which turning away from the equator is not worth a mention


@dataclass(frozen=True)
class GoodSpot:
    """One place to stand: where, which way, kWh a year and in the season of need, and against where it stands now."""

    x: float
    y: float
    azimuth: float
    energy: float
    in_season: float
    gain: float
    season_gain: float


def best_spots(
    study: Study,
    count: int = 3,
    goal: For = "year",
    area: Sequence[tuple[float, float]] | None = None,
    report: Report = unwatched,
) -> list[GoodSpot]:
    """Search place and facing together, over the whole yard or inside the polygon ``area``; best first.

    A coarse map for nine facings finds places that differ; each is then computed as the array would stand there,
    with its strings, and turned to either side while that gives more.
    """
    if not 1 <= count <= 12:
        raise BriefError("--best", "must be a whole number from 1 to 12")
    window = _window(study.scene, area)
    survey, season = survey_of(study), season_of_need(study.scene)
    made = year_of(study, study.brief)
    turns = (0,) if study.brief.mount.any_azimuth else TURNS
    base = study.scene.site.equator_ward
    days = season.days if goal == "season" else None
    x, y, scores = _scores(study.scene, survey, window, area, [base + turn - study.scene.azimuth for turn in turns], days)
    apart = max(APART, study.scene.geometry.size[0] * 0.75, np.hypot(window.east - window.west, window.north - window.south) / 10)
    found: list[GoodSpot] = []
    peaks = _peaks(scores, x, y, apart, 2 * count)
    for number, (column, row, turn) in enumerate(peaks):
        report(number, len(peaks) + count)
        at = float(x[column]), float(y[row])
        tried = [_evaluate_spot(study, made, season.days, *at, base + angle) for angle in dict.fromkeys((0, turns[turn]))]
        found += _better(tried, goal)
    found.sort(key=lambda spot: -_value(spot, goal))
    polished: list[GoodSpot] = []
    for number, spot in enumerate(found[:count]):
        report(len(peaks) + number, len(peaks) + count)
        start = spot
        for step in FINER if len(turns) > 1 else ():
            for way in (step, -step):
                turned = _evaluate_spot(study, made, season.days, spot.x, spot.y, spot.azimuth + way)
                if turned and _value(turned, goal) > _value(spot, goal):
                    spot = turned
                    break
        polished += _better([start, spot], goal)
    return sorted(polished, key=lambda spot: -_value(spot, goal))


def _better(tried: Sequence[GoodSpot | None], goal: For) -> list[GoodSpot]:
    """The best of several facings at one place, the first where another gains next to nothing; empty where none can stand."""
    real = [spot for spot in tried if spot]
    if not real:
        return []
    best = max(real, key=lambda spot: _value(spot, goal))
    return [real[0] if _value(real[0], goal) >= _value(best, goal) * (1 - SAME) else best]


def _value(spot: GoodSpot, goal: For) -> float:
    return spot.energy if goal == "year" else spot.in_season


def _window(scene: Scene, area: Sequence[tuple[float, float]] | None) -> Window:
    if area is None:
        # The array stands wholly inside the yard's own margin.
        yard, inside = window_of(scene), max(scene.geometry.size) / 2
        return Window(yard.west + inside, yard.south + inside, yard.east - inside, yard.north - inside)
    from shapely import Polygon

    if len(area) < 3:
        raise BriefError("area", "needs at least three corners")
    shape = Polygon(area)
    if not shape.is_valid or shape.area < 0.5:
        raise BriefError("area", "must be an outline that does not cross itself, of at least half a square metre")
    return Window(*shape.bounds)


def _scores(
    scene: Scene,
    survey: Survey,
    window: Window,
    area: Sequence[tuple[float, float]] | None,
    turns: Sequence[float],
    days: NDArray[np.bool_] | None,
) -> tuple[Floats, Floats, Floats]:
    """Coarse cells' middles, and kWh/m2 over the array's own size there for each facing (turns, Y, X); -inf where it
    cannot stand."""
    from scipy.ndimage import uniform_filter

    step = max(0.5, np.sqrt((window.east - window.west) * (window.north - window.south) / CELLS))
    x = np.arange(window.west + step / 2, window.east, step)
    y = np.arange(window.south + step / 2, window.north, step)
    if not len(x) or not len(y):
        x, y = np.array([(window.west + window.east) / 2]), np.array([(window.south + window.north) / 2])
    grid_x, grid_y = np.meshgrid(x, y)
    light = survey.light(grid_x.ravel(), grid_y.ravel())
    energy = np.stack([light.energy(survey.weights(turn, days)).reshape(grid_x.shape) for turn in turns])
    blocked = taken(scene.yard, grid_x, grid_y, survey.height)
    energy[:, blocked] = 0.0
    size = max(1, round(max(scene.geometry.size) / step))
    smooth = np.stack([uniform_filter(layer, size=size, mode="nearest") for layer in energy])
    outside = blocked
    if area is not None:
        from shapely import Polygon, contains_xy

        outside = blocked | ~contains_xy(Polygon(area), grid_x, grid_y)
    smooth[:, outside] = -np.inf
    return x, y, smooth


def _peaks(scores: Floats, x: Floats, y: Floats, apart: float, most: int) -> list[tuple[int, int, int]]:
    """Columns, rows and turns of the highest cells that lie ``apart`` m from each other."""
    best, turn = scores.max(axis=0), scores.argmax(axis=0)
    chosen: list[tuple[int, int, int]] = []
    for flat in np.argsort(-best, axis=None):
        row, column = divmod(int(flat), best.shape[1])
        if not np.isfinite(best[row, column]) or len(chosen) >= most:
            break
        if all(np.hypot(x[column] - x[c], y[row] - y[r]) >= apart for c, r, _ in chosen):
            chosen.append((column, row, int(turn[row, column])))
    return chosen


def _evaluate_spot(
    study: Study, made: Production, days: NDArray[np.bool_], x: float, y: float, azimuth: float
) -> GoodSpot | None:
    """The array at a place; None where it would stand inside something."""
    x, y, azimuth = round(x, 1), round(y, 1), azimuth % 360
    try:
        year = year_of(study, with_spot(study.brief, x, y, azimuth))
    except BriefError as error:
        if error.path != "spot":
            raise
        return None
    in_season = float(year.energy[days].sum())
    return GoodSpot(x, y, azimuth, year.year, in_season, year.year - made.year, in_season - float(made.energy[days].sum()))
