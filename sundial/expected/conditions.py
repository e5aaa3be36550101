"""The light of a cloudless sky at any times, in the parts that the energy chain takes."""

from __future__ import annotations

from datetime import datetime

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAYS, MONTH_OF_HOUR, per_month
from sundial.energy.irradiance import IrradianceComponents, components_of
from sundial.scene import Scene
from sundial.sun import Site, SunYear, sun_at_times

Floats = NDArray[np.float64]
Whole = NDArray[np.int64]


def unix_of(site: Site, when: datetime) -> float:
    """Unix time of a moment; a time without a zone is the site's own clock time."""
    return (when if when.tzinfo else when.replace(tzinfo=site.zone)).timestamp()


def hours_of_year(unix: Floats, utc_offset: float) -> Whole:
    """The place of times (n,) among the 8760 hours of local standard time; 29 February counts as 28 February."""
    local = (np.asarray(unix) + utc_offset * 3600).astype("int64").astype("datetime64[s]")
    days, years = local.astype("datetime64[D]"), local.astype("datetime64[Y]")
    day = (days - years.astype("datetime64[D]")).astype(np.int64)
    year = years.astype(np.int64) + 1970
    leap = (year % 4 == 0) & ((year % 100 != 0) | (year % 400 == 0))
    day = np.minimum(day - (leap & (day >= 59)), DAYS - 1)
    hour = (local - days).astype(np.int64) // 3600
    found: Whole = day * 24 + hour
    return found


def clear_light(
    scene: Scene, unix: Floats, temp_air: Floats | None = None, wind_speed: Floats | None = None, sun: SunYear | None = None
) -> IrradianceComponents:
    """Cloudless irradiance at Unix times (n,). ``temp_air`` degC and ``wind_speed`` m/s (n,): left out, the means of that month and hour of
    the weather year. ``sun`` at these times, where it is known already.

    Ineichen and Perez 2002, doi 10.1016/S0038-092X(02)00045-2, with the monthly turbidity that ships with pvlib.
    """
    import pandas as pd
    from pvlib.atmosphere import alt2pres, get_absolute_airmass, get_relative_airmass
    from pvlib.clearsky import ineichen, lookup_linke_turbidity

    site, weather = scene.site, scene.weather
    places = hours_of_year(unix, weather.utc_offset)
    if sun is None:
        sun = sun_at_times(site, np.asarray(unix, dtype=float), places // 24)
    turbidity = lookup_linke_turbidity(pd.to_datetime(np.asarray(unix), unit="s", utc=True), site.latitude, site.longitude)
    zenith = 90 - sun.elevation
    airmass = get_absolute_airmass(get_relative_airmass(np.minimum(zenith, 89.5)), alt2pres(site.elevation))
    with np.errstate(divide="ignore", invalid="ignore"):
        found = ineichen(zenith, airmass, turbidity.to_numpy(), site.elevation, sun.dni_extra)
    ghi, dni, dhi = (np.where(sun.up, np.nan_to_num(np.asarray(found[name], dtype=float)), 0.0) for name in ("ghi", "dni", "dhi"))
    month, hour = MONTH_OF_HOUR[places], places % 24
    air = _usual(weather.temp_air)[month, hour] if temp_air is None else temp_air
    wind = _usual(weather.wind_speed)[month, hour] if wind_speed is None else wind_speed
    albedo = per_month(scene.brief.ground.albedo, "ground.albedo")[month]
    return components_of(places, ghi, dni, dhi, air, wind, sun, albedo, scene.brief.system.transposition)


def _usual(hourly: Floats) -> Floats:
    """Means of a year's hours by month and hour of the day (12, 24)."""
    hours = np.arange(len(hourly)) % 24
    at = MONTH_OF_HOUR * 24 + hours
    found: Floats = (np.bincount(at, hourly, 288) / np.bincount(at, minlength=288)).reshape(12, 24)
    return found
