"""The light of a year, split so that any plane's irradiance is a short sum.

For a plane whose incidence cosine is c and tilt t::

    poa = (beam + circumsolar) max(c, 0) + isotropic (1 + cos t) / 2 + horizon_brightening sin t + ground (1 - cos t) / 2

under an open sky; what stands in the way comes in as factors (:mod:`sundial.energy.shaded`). Hay and Davies 1980 (horizon_brightening = 0) or Perez et al. 1990.
"""

from __future__ import annotations

from dataclasses import dataclass, fields
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAY_OF_HOUR, DAYS, HOURS, MONTH_OF_HOUR
from sundial.mounts.facing import Direction
from sundial.sky.weather_year import WeatherYear
from sundial.sun import SunYear

Model = Literal["hay-davies", "perez"]
Floats = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class IrradianceComponents:
    """Only the lit hours of the year are kept: arrays of shape (lit,), W/m2 unless said.

    ``hours`` (lit,) are their places in the year; ``beam`` and ``circumsolar`` are per unit of incidence cosine;
    ``isotropic``, ``horizon_brightening`` and ``ground`` as in the module's sum; ``east``, ``north``, ``up`` the sun's unit vector,
    ``elevation`` and ``azimuth`` where it is seen, refracted, degrees.
    """

    hours: NDArray[np.int64]
    beam: Floats
    circumsolar: Floats
    isotropic: Floats
    horizon_brightening: Floats
    ground: Floats
    ghi: Floats
    dhi: Floats
    albedo: Floats
    east: Floats
    north: Floats
    up: Floats
    temp_air: Floats
    wind_speed: Floats
    elevation: Floats
    azimuth: Floats

    @property
    def months(self) -> NDArray[np.int64]:
        return MONTH_OF_HOUR[self.hours]

    def daily(self, values: Floats) -> Floats:
        """Sum (..., lit) into days (..., 365)."""
        days = DAY_OF_HOUR[self.hours]
        first = np.flatnonzero(np.diff(days, prepend=-1))
        total = np.zeros((*values.shape[:-1], DAYS))
        if first.size:
            total[..., days[first]] = np.add.reduceat(values, first, axis=-1)
        return total

    def whole_year(self, values: Floats) -> Floats:
        """Spread (lit,) over the year (8760,), dark hours zero."""
        year = np.zeros(HOURS)
        year[self.hours] = values
        return year


def irradiance_components(
    weather: WeatherYear, sun: SunYear, albedo: Floats, model: Model = "hay-davies"
) -> IrradianceComponents:
    """Split a weather year. ``albedo`` (12,) by month, 0 to 1.

    References: Hay and Davies 1980, Proc. First Canadian Solar Radiation Data Workshop; Perez et al. 1990,
    doi 10.1016/0038-092X(90)90055-H, with pvlib's "allsitescomposite1990" coefficients.
    """
    hours = np.flatnonzero((weather.ghi > 0) | (weather.dni > 0) | (weather.dhi > 0))
    lit = SunYear(*(getattr(sun, part.name)[hours] for part in fields(sun)))
    parts = (weather.ghi[hours], weather.dni[hours], weather.dhi[hours], weather.temp_air[hours], weather.wind_speed[hours])
    return components_of(hours, *parts, lit, albedo[MONTH_OF_HOUR[hours]], model)


def components_of(
    hours: NDArray[np.int64],
    ghi: Floats,
    dni: Floats,
    dhi: Floats,
    temp_air: Floats,
    wind_speed: Floats,
    sun: SunYear,
    albedo: Floats,
    model: Model = "hay-davies",
) -> IrradianceComponents:
    """The same for any times, all (lit,): their places ``hours`` in the year (they may repeat), and the ``sun`` at these times."""
    cos_zenith, sin_zenith, azimuth = sun.cos_zenith, sun.sin_zenith, np.radians(sun.azimuth)
    if model == "perez":
        share, brightening = _perez(dhi, dni, sun)
        circumsolar = dhi * share / np.maximum(cos_zenith, np.cos(np.radians(85)))
        horizon_brightening = dhi * brightening
    else:
        share = dni / sun.dni_extra
        circumsolar = dhi * share / np.maximum(cos_zenith, 0.01745)  # pvlib's floor: the sun one degree up
        horizon_brightening = np.zeros_like(dhi)
    return IrradianceComponents(
        hours=hours,
        beam=dni,
        circumsolar=circumsolar,
        isotropic=dhi * (1 - share),
        horizon_brightening=horizon_brightening,
        ground=ghi * albedo,
        ghi=ghi,
        dhi=dhi,
        albedo=albedo,
        east=sin_zenith * np.sin(azimuth),
        north=sin_zenith * np.cos(azimuth),
        up=cos_zenith,
        temp_air=temp_air,
        wind_speed=wind_speed,
        elevation=sun.elevation,
        azimuth=sun.azimuth,
    )


def _perez(dhi: Floats, dni: Floats, sun: SunYear) -> tuple[Floats, Floats]:
    """F1 and F2 of each hour, read off pvlib's components for a plane that leans 30 degrees toward the sun."""
    from pvlib.atmosphere import get_relative_airmass
    from pvlib.irradiance import perez

    zenith = np.degrees(np.arccos(np.clip(sun.cos_zenith, -1, 1)))
    airmass = np.asarray(get_relative_airmass(np.minimum(zenith, 89.9)), dtype=float)
    unit, lean = np.maximum(dhi, 1e-9), np.radians(30.0)
    parts = perez(
        30.0, sun.azimuth, unit, dni, sun.dni_extra, zenith, sun.azimuth, airmass,
        return_components=True,
    )  # fmt: skip
    isotropic, horizon = (np.nan_to_num(np.asarray(parts[f"poa_{name}"], dtype=float)) for name in ("isotropic", "horizon"))
    first = 1 - isotropic / ((1 + np.cos(lean)) / 2 * unit)
    return np.clip(first, 0, 1), horizon / (np.sin(lean) * unit)


def sun_direction(sun: SunYear) -> Direction:
    """Where the sun is, for a tracker that looks at it; once set, it counts as on the horizon."""
    zenith = np.degrees(np.arccos(np.clip(sun.cos_zenith, -1, 1)))
    return Direction(zenith, sun.azimuth)


def light_direction(light: IrradianceComponents, sun: SunYear, seen: Floats | None = None) -> Direction:
    """Where most light comes from, for a tracker that leans flat under dull skies.

    The irradiance sum above is linear in the plane's normal while the sun is before it, so the best normal is
    along (beam + circumsolar) s + (isotropic - ground) / 2 z: the sun at a clear noon, straight up under overcast.
    Exact for Hay-Davies over a level horizon. ``seen`` (lit,): the share of direct light that gets there.
    """
    direct = light.beam + light.circumsolar
    if seen is not None:
        direct = direct * seen
    lift = (light.isotropic - light.ground) / 2
    east, north = direct * light.east, direct * light.north
    up = direct * light.up + lift
    level = np.hypot(east, north)
    zenith = np.degrees(np.arctan2(level, up))
    azimuth = np.where(level > 1e-9, np.degrees(np.arctan2(east, north)) % 360, sun.azimuth[light.hours])
    resting = sun_direction(sun)
    zeniths, azimuths = np.zeros(HOURS), resting.azimuth.copy()
    zeniths[light.hours], azimuths[light.hours] = np.clip(zenith, 0, 89.999), azimuth
    return Direction(zeniths, azimuths)
