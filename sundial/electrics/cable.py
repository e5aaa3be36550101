"""The cable from the panels to the input: what it costs in voltage and in energy, and what a thicker one would be worth."""

from __future__ import annotations

import json
from dataclasses import dataclass, replace
from functools import cache
from pathlib import Path
from typing import TYPE_CHECKING, Any

import numpy as np

from sundial.errors import BriefError
from sundial.quantities import gauge_area, gauge_name

if TYPE_CHECKING:
    from sundial.brief.model import CableBrief

MOST_DROP = 0.03  # share of the voltage: 2 or 3 % at most (thumb)
SIZES = (1.5, 2.5, 4.0, 6.0, 10.0, 16.0, 25.0, 35.0, 50.0)  # mm2
GAUGES = (14, 12, 10, 8, 6, 4, 2, 0, -1)  # 1/0 and 2/0 last
LIKE = 0.005  # of an area: a cable that near to a gauge is that gauge


@cache
def _data() -> dict[str, Any]:
    found: dict[str, Any] = json.loads((Path(__file__).parent / "data" / "conductors.json").read_text("utf-8"))
    return found


def sources() -> tuple[str, ...]:
    return tuple(str(_data()[key]["source"]) for key in ("class 2", "class 5", "aluminium", "temperature"))


def resistance(area: float, material: str, strands: str, temperature: float) -> float:
    """Of one conductor, ohm/m, at ``temperature`` degC: as the standard lists it; between two listed sizes by a power of the area that meets
    both, beyond them as one over the area. A thicker conductor never resists more."""
    table = _data()["aluminium" if material == "aluminium" else strands]
    sizes = np.array(sorted(float(size) for size in table if size != "source"))
    per_km = np.array([float(table[f"{size:g}"]) for size in sizes])
    # ohm x area is nearly one number: between sizes its logarithm is taken along a line, beyond them it stays.
    at_20 = float(np.exp(np.interp(np.log(area), np.log(sizes), np.log(per_km * sizes)))) / area / 1000
    return at_20 * (1 + float(_data()["temperature"][material]) * (temperature - 20))


@dataclass(frozen=True)
class Size:
    """One thickness of a run, ``area`` mm2 and its name as a gauge where it is one: ``drop`` V at the best current, the ``share`` of the voltage, ``lost`` kWh a year, ``price`` of both conductors
    all the way (None: not told), and the ``years`` in which a thicker one than the run's own pays itself back (None: never, or not
    known)."""

    area: float
    awg: str | None
    drop: float
    share: float
    lost: float
    price: float | None
    years: float | None


def drop(length: float, current: float, ohm_per_metre: float) -> float:
    """There and back, V: 2 L I r."""
    return 2 * length * current * ohm_per_metre


@dataclass(frozen=True)
class Run:
    """The cable as it is told; the metric ``sizes`` and the American ``gauges``, side by side, its own among both; and of each series the thinnest
    within 2 and within 3 % (None: none of those listed)."""

    own: Size
    sizes: tuple[Size, ...]
    gauges: tuple[Size, ...]
    within_2: float | None
    within_3: float | None
    gauge_within_2: float | None
    gauge_within_3: float | None


def run_of(cable: CableBrief, current: float, voltage: float, square_hours: float, price_of_energy: float) -> Run:
    """``current`` A and ``voltage`` V of the run at its best; ``square_hours`` A2 h a year, from the hourly year; money a kWh. BriefError
    where it swallows the voltage."""
    prices = {round(area, 3): price for area, price in cable.prices}
    metric = _series(cable, {*SIZES, *prices})
    american = _series(cable, {gauge_area(gauge) for gauge in GAUGES} | {area for area in prices if gauge_of(area)})
    made = {area: _size(cable, area, current, voltage, square_hours, prices) for area in {*metric, *american}}
    own = made[cable.area]
    if own.share >= 0.5:
        raise BriefError(
            "electrics.cable.length",
            f"over {cable.length:g} m this cable swallows {own.drop:.0f} of {voltage:.0f} V: is the length in metres, one way? "
            "Else take a thicker one, or stand the inverter by the panels",
        )
    found, within = [], []
    for series in (metric, american):
        sizes = [_paid_back(made[area], own, price_of_energy) for area in series]
        found.append(tuple(sizes))
        within += [next((one.area for one in sizes if one.share <= most), None) for most in (0.02, MOST_DROP)]
    return Run(own, found[0], found[1], *within)


def gauge_of(area: float) -> str | None:
    """The name of the gauge that an ``area``, mm2, is; None where it is none."""
    return next((gauge_name(gauge) for gauge in range(-3, 31) if abs(gauge_area(gauge) / area - 1) < LIKE), None)


def _series(cable: CableBrief, areas: set[float]) -> list[float]:
    """Rising, the cable's own among them; of aluminium none under 10 mm2 but that."""
    least = 10 if cable.material == "aluminium" else 0
    return sorted({area for area in areas if area >= least and abs(area / cable.area - 1) >= LIKE} | {cable.area})


def _paid_back(one: Size, own: Size, price_of_energy: float) -> Size:
    """A size with the years in which what it costs more is saved."""
    if one.price is None or own.price is None or one.area <= own.area:
        return one
    saved = (own.lost - one.lost) * price_of_energy
    return replace(one, years=(one.price - own.price) / saved if saved > 1e-9 else None)


def _size(
    cable: CableBrief, area: float, current: float, voltage: float, square_hours: float, prices: dict[float, float]
) -> Size:
    ohm = resistance(area, cable.material, cable.strands, cable.temperature)
    fall = drop(cable.length, current, ohm)
    each = prices.get(round(area, 3))
    return Size(
        area, gauge_of(area), fall, fall / voltage, 2 * cable.length * ohm * square_hours / 1000,
        None if each is None else 2 * cable.length * each, None,
    )  # fmt: skip
