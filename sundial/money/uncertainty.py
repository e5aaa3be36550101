"""How sure is a gain? A range on every headline, from named spreads that are stated beside it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from sundial.money.finance import Outcome
from sundial.sky.weather_year import WeatherYear

Z90 = 1.2816  # a normal spread's 90th percentile, in standard deviations
SUN_SPREAD = 0.05  # year-to-year plane irradiation, 4 to 6 % in many places (thumb)
SOIL_SPREAD = 0.03  # model and soiling (thumb)
PRICE_SPREAD = 0.15  # of the price of a kWh over the life (thumb)
# Points of the base's energy by which the gain of a way itself is unsure (one standard deviation). Grown skies: half
# the accuracy asked of them (1 point for hand moves, 5 for trackers); files of different makers differ by several
# points in their share of beam light, which is what trackers live on.
METHOD_POINTS = {"grown": {"hand": 0.5, "tracker": 2.5}, "file": {"hand": 0.3, "tracker": 1.5}}
TURNING = ("hinge", "turned")  # with the axes: what follows the sun through the day
STILL = ("flat", "best-fixed", "yours", "winter-left", "fixed", "more-panels", "more-flat", "bigger-battery")


@dataclass(frozen=True)
class Spread:
    """P10 and P90 of the extra kWh in one year, and of the net present value (None: not priced)."""

    kwh: tuple[float, float]
    npv: tuple[float, float] | None


def kwh_range(weather: WeatherYear, base_energy: float, extra: float, kind: str, sun: float | None = None) -> tuple[float, float]:
    """P10 and P90 of the extra kWh in one year: its sun, the model and soiling, and how sure the way's own gain is. ``sun``: standard
    deviation of the extra kWh from year to year, where other years of the sky are known; else by the thumb."""
    by_sun = extra * SUN_SPREAD if sun is None else sun
    year = float(np.hypot(np.hypot(by_sun, extra * SOIL_SPREAD), _method(weather, base_energy, kind))) * Z90
    return extra - year, extra + year


def _method(weather: WeatherYear, base_energy: float, kind: str) -> float:
    """kWh by which the gain of a way itself is unsure."""
    source = METHOD_POINTS["grown" if weather.synthetic else "file"]
    points = 0.0 if kind in STILL else source["tracker" if "axis" in kind or kind in TURNING else "hand"]
    return base_energy * points / 100


def gain_spread(
    weather: WeatherYear,
    base_energy: float,
    extra: float,
    kind: str,
    money: Outcome,
    extra_cost: float | None,
    sun: float | None = None,
) -> Spread:
    """Normal ranges. Over the life the weather evens out, so the present value carries the method's and the price's
    spread but not one year's sun."""
    method = _method(weather, base_energy, kind)
    value = None
    if money.npv is not None and extra_cost is not None:
        relative = np.hypot(np.hypot(SOIL_SPREAD, PRICE_SPREAD), method / abs(extra) if extra else 0.0)
        value = float(abs(money.break_even_cost) * relative) * Z90
    return Spread(
        kwh_range(weather, base_energy, extra, kind, sun),
        None if value is None or money.npv is None else (money.npv - value, money.npv + value),
    )
