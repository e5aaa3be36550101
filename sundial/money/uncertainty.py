"""How sure is a gain? A range on every headline, from named spreads that are stated beside it."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from sundial.money.finance import Outcome, Terms
from sundial.sky.weather_year import WeatherYear

Z90 = 1.2816  # a normal spread's 90th percentile, in standard deviations
SUN_SPREAD = 0.05  # year-to-year plane irradiation, 4 to 6 % in many places (thumb)
SOIL_SPREAD = 0.03  # model and soiling (thumb)
PRICE_SPREAD = 0.15  # of the price of a kWh over the life (thumb)
# Points of the base's energy by which the gain of a way itself is unsure (one standard deviation). Grown skies: half
# the accuracy asked of them (1 point for hand moves, 5 for trackers); files of different makers differ by several
# points in their share of beam light, which is what trackers live on.
METHOD_POINTS = {"grown": {"hand": 0.5, "tracker": 2.5}, "file": {"hand": 0.3, "tracker": 1.5}}
# What a sky of the whole world's reanalysis adds (one standard deviation): of a year's light (8 % against weather files of other makers), and
# of a gain itself, which hangs on how the light parts into beam and diffuse: fitted so that at least eight in ten rows of six real files lie
# within P10 to P90 (scripts/sky_ranges.py). More panels of the same kind share the year's light alone.
REANALYSIS_YEAR = 0.08
REANALYSIS_GAIN = {"still": 0.20, "hand": 0.20, "tracker": 0.25, "panels": 0.0}
PANELS = ("more-panels", "more-flat", "bigger-battery")
TURNING = ("hinge", "turned")  # with the axes: what follows the sun through the day
STILL = (
    "flat",
    "best-fixed",
    "yours",
    "winter-left",
    "fixed",
    "more-panels",
    "more-flat",
    "more-own",
    "elsewhere",
    "bigger-battery",
)


@dataclass(frozen=True)
class YearlySpread:
    """Standard deviations from year to year of a way's extra kWh and of the money it saves."""

    energy: float
    saved: float


@dataclass(frozen=True)
class Spread:
    """P10 and P90 of the extra kWh in one year, of the net present value (None: not priced), and of the money ``saved`` in one year."""

    kwh: tuple[float, float]
    npv: tuple[float, float] | None
    saved: tuple[float, float]


def kwh_range(weather: WeatherYear, base_energy: float, extra: float, kind: str, sun: float | None = None) -> tuple[float, float]:
    """P10 and P90 of the extra kWh in one year: its sun, the model and soiling, and how sure the way's own gain is. ``sun``: standard
    deviation of the extra kWh from year to year, where other years of the sky are known; else by the thumb."""
    by_sun = extra * SUN_SPREAD if sun is None else sun
    year = float(np.hypot(np.hypot(by_sun, extra * SOIL_SPREAD), _method(weather, base_energy, extra, kind))) * Z90
    return extra - year, extra + year


def is_rough(weather: WeatherYear) -> bool:
    """Whether the sky is a world's reanalysis, whose own doubt is part of every range."""
    return bool(getattr(weather, "reanalysis", False))


def _method(weather: WeatherYear, base_energy: float, extra: float, kind: str) -> float:
    """kWh by which the gain of a way itself is unsure: by the method, and by the source of the sky."""
    source = METHOD_POINTS["grown" if weather.synthetic else "file"]
    turning = "axis" in kind or kind in TURNING
    points = 0.0 if kind in STILL else source["tracker" if turning else "hand"]
    method = base_energy * points / 100
    if not is_rough(weather):
        return method
    group = "tracker" if turning else "panels" if kind in PANELS else "still" if kind in STILL else "hand"
    return float(np.hypot(method, abs(extra) * np.hypot(REANALYSIS_YEAR, REANALYSIS_GAIN[group])))


def gain_spread(
    weather: WeatherYear,
    base_energy: float,
    extra: float,
    kind: str,
    money: Outcome,
    extra_cost: float | None,
    saved: float,
    terms: Terms,
    skies: YearlySpread | None = None,
) -> Spread:
    """Normal ranges of a way that gives ``extra`` kWh and saves ``saved`` money in the year that is known; ``skies``: how both vary
    in other years, where these are known. Over the life sunny and dull years even out, so that the present value carries the root
    of their summed squares; the method, soiling and the price go with it through all years."""
    method = _method(weather, base_energy, extra, kind)
    lasting = np.hypot(SOIL_SPREAD, method / abs(extra) if extra else 0.0)
    by_sun = abs(saved) * SUN_SPREAD if skies is None else skies.saved
    in_a_year = float(np.hypot(by_sun, saved * lasting)) * Z90
    kwh = kwh_range(weather, base_energy, extra, kind, None if skies is None else skies.energy)
    if money.npv is None or extra_cost is None:
        return Spread(kwh, None, (saved - in_a_year, saved + in_a_year))
    through = float(np.sqrt((terms.factors**2).sum()))
    value = float(np.hypot(money.break_even_cost * np.hypot(lasting, PRICE_SPREAD), by_sun * through)) * Z90
    return Spread(kwh, (money.npv - value, money.npv + value), (saved - in_a_year, saved + in_a_year))
