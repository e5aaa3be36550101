"""What the shade's station works out of a build, and how it is stored."""

from __future__ import annotations

import io
import json
from collections.abc import Mapping
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np

from sundial.answers.siting.report import ShadeReport, shade_report
from sundial.progress import Report
from sundial.siting.costs import ShadeCost, shade_costs
from sundial.siting.ground import Window, YardMap, window_of, yard_map
from sundial.siting.spots import GoodSpot, best_spots
from web.builds.registry import Codec, Result
from web.builds.results import PHYSICS, Results, json_codec, named

STRIPS = 6  # the map is drawn in so many bands, so that it can be seen growing
FINEST, CELLS = 0.5, 2400
INPUTS = (*PHYSICS, "plan")


def _costs(results: Results, params: Mapping[str, str], report: Report) -> tuple[ShadeCost, ...]:
    return shade_costs(results.study, report)


def _strip(results: Results, params: Mapping[str, str], report: Report) -> YardMap:
    """One band of the map, from the south; both the year and the season of need."""
    study = results.study
    window = window_of(study.scene)
    wide, deep = window.east - window.west, window.north - window.south
    grid = max(FINEST, round((wide * deep / CELLS) ** 0.5, 2))
    whole = Window(window.west, window.south, window.east, window.north)
    return yard_map(study, grid, whole, (int(params["strip"]), STRIPS))


@dataclass(frozen=True)
class MapMade:
    """That all strips of a map are there."""

    strips: int


def _map(results: Results, params: Mapping[str, str], report: Report) -> MapMade:
    for strip in range(STRIPS):
        report(strip, STRIPS)
        results.get(named("yard_map_strip"), {"strip": str(strip)})
    report(STRIPS, STRIPS)
    return MapMade(STRIPS)


def _spots(results: Results, params: Mapping[str, str], report: Report) -> tuple[GoodSpot, ...]:
    area = [(float(x), float(y)) for x, y in json.loads(params["area"])] if params["area"] else None
    return tuple(best_spots(results.study, 3, "season" if params["goal"] == "season" else "year", area, report))


def _pack_map(found: YardMap) -> bytes:
    out = io.BytesIO()
    about = {name: value for name, value in asdict(found).items() if not isinstance(value, np.ndarray)}
    layers = {"year": found.year.astype(np.float32), "season": found.season.astype(np.float32)}
    np.savez_compressed(out, about=np.frombuffer(json.dumps(about).encode(), dtype=np.uint8), x=found.x, y=found.y, **layers)  # type: ignore[arg-type]
    return out.getvalue()


def _unpack_map(data: bytes) -> YardMap:
    with np.load(io.BytesIO(data), allow_pickle=False) as held:
        about: dict[str, Any] = json.loads(held["about"].tobytes())
        return YardMap(**{name: held[name].astype(float) for name in ("x", "y", "year", "season")}, **about)


RESULTS = (
    Result("shade", INPUTS, lambda results, *_: shade_report(results.study), json_codec(ShadeReport)),
    Result("shade_costs", INPUTS, _costs, json_codec(tuple[ShadeCost, ...]), dear=True),
    Result("yard_map", INPUTS, _map, json_codec(MapMade), dear=True),
    Result("yard_map_strip", INPUTS, _strip, Codec(_pack_map, _unpack_map), kept=4 * STRIPS, asked=True),
    Result("best_spots", INPUTS, _spots, json_codec(tuple[GoodSpot, ...]), dear=True),
)
