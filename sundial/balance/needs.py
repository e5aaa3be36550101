"""What a build's production meets, as its brief tells it."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from sundial.balance.clock import wall_hours, weekdays
from sundial.balance.flows import Generator, Needs
from sundial.balance.profile import Profile, read_profile
from sundial.balance.shapes import shape_of_year, to_months, to_year
from sundial.balance.store import Store
from sundial.brief.model import BatteryBrief, Brief, DirectUse, GridUse, OffGridUse, ProfileBrief
from sundial.days import DAY_OF_HOUR, HOURS, MONTH_LENGTHS, per_month
from sundial.sky.weather_year import WeatherYear

Floats = NDArray[np.float64]


def needs_of(brief: Brief, weather: WeatherYear, load: Callable[[str], bytes]) -> Needs:
    """The needs of a brief under its own weather (a cold store's follow the air). BriefError where its profile cannot be read."""
    use = brief.use
    if isinstance(use, GridUse):
        if not use.by_hour:
            return Needs("share", np.zeros(HOURS), own_share=use.own_share)
        limit = None if use.tariff is None else use.tariff.export_limit
        return Needs("grid", _grid_demand(brief, use, weather, load), *_store(brief.battery), export_limit=limit)
    if isinstance(use, DirectUse):
        monthly = per_month(use.demand, "use.demand")
        demand = to_months(_weights(brief, use.shape, weather), monthly)
        store = Store(use.tank * 1000) if use.tank > 0 else None
        return Needs("direct", demand, store, power=use.power)
    monthly = per_month(use.demand, "use.demand") * np.array(MONTH_LENGTHS)
    demand = to_months(_own_weights(brief, use, use.profile, weather, load), monthly)
    made = use.generator
    generator = None if made is None else Generator(made.power, made.minimum_run)
    return Needs("off-grid", demand, *_store(brief.battery), generator=generator)


def _store(battery: BatteryBrief | None) -> tuple[Store | None, float]:
    """What may be used of a battery, and the Wh kept back."""
    if battery is None:
        return None, 0.0
    reserve = battery.usable * 1000 * battery.reserve
    return Store(battery.usable * 1000 - reserve, battery.charge, battery.discharge, battery.round_trip), reserve


def _grid_demand(brief: Brief, use: GridUse, weather: WeatherYear, load: Callable[[str], bytes]) -> Floats:
    weights = _own_weights(brief, use, use.profile, weather, load)
    if use.monthly is not None:
        return to_months(weights, np.array(use.monthly))
    return weights if use.yearly is None else to_year(weights, use.yearly)


def _own_weights(
    brief: Brief, use: GridUse | OffGridUse, profile: ProfileBrief | None, weather: WeatherYear, load: Callable[[str], bytes]
) -> Floats:
    """Wh of a profile, or the weights of a shape."""
    if profile is None:
        return _weights(brief, use.shape, weather)
    read = profile_of(brief, profile, weather, load)
    if not read.is_week:
        return read.hours
    days = weekdays(brief.plan.year)[DAY_OF_HOUR]
    found: Floats = read.hours[days * 24 + wall_hours(brief.site.timezone, weather.utc_offset, brief.plan.year)]
    return found


def profile_of(brief: Brief, profile: ProfileBrief, weather: WeatherYear, load: Callable[[str], bytes]) -> Profile:
    """The file of the use, read."""
    data = load(profile.file)
    return read_profile(data, brief.site.timezone, weather.utc_offset, profile.time, profile.column, profile.unit)


def _weights(brief: Brief, shape: str, weather: WeatherYear) -> Floats:
    year = brief.plan.year
    wall = wall_hours(brief.site.timezone, weather.utc_offset, year)
    return shape_of_year(shape, wall, weekdays(year), weather.temp_air)
