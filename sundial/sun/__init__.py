"""Where the sun stands (SPA, through pvlib), for one moment, one day or the hours of a year."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from functools import lru_cache
from importlib.util import find_spec, module_from_spec, spec_from_file_location
from pathlib import Path
from types import ModuleType
from typing import Any
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAYS, HOURS, NOMINAL_YEAR
from sundial.errors import BriefError


@dataclass(frozen=True)
class Site:
    """A place. Degrees north and east, metres above the sea, an IANA time zone."""

    latitude: float
    longitude: float
    elevation: float = 0.0
    timezone: str = "UTC"

    def __post_init__(self) -> None:
        if not -90 < self.latitude < 90:
            raise BriefError("site.latitude", "must lie between the poles (more than -90 and less than 90 degrees)")
        if not -180 <= self.longitude <= 180:
            raise BriefError("site.longitude", "must lie between -180 and 180 degrees")
        if not -450 <= self.elevation <= 6000:
            raise BriefError("site.elevation", "must lie between -450 and 6000 m above the sea")
        self.zone  # noqa: B018  (refuse an unknown zone at birth)

    @property
    def zone(self) -> ZoneInfo:
        try:
            return ZoneInfo(self.timezone)
        except (ZoneInfoNotFoundError, ValueError, OSError):
            raise BriefError("site.timezone", f"{self.timezone!r} is not a known time zone such as Europe/Madrid") from None

    @property
    def equator_ward(self) -> float:
        """Azimuth of the equator: 180 north of it, 0 south of it."""
        return 180.0 if self.latitude >= 0 else 0.0

    @property
    def standard_offset(self) -> float:
        """Hours of local standard time ahead of UTC in the nominal year: the clock of the season without summer time, which is the smaller of
        the two. (What a zone's rules call standard is no guide: Ireland's is that of the summer, and its winter a negative summer time.)"""
        seasons = [datetime(NOMINAL_YEAR, month, 15, tzinfo=self.zone).utcoffset() or timedelta() for month in (1, 7)]
        return min(seasons).total_seconds() / 3600


@dataclass(frozen=True, eq=False)
class SunYear:
    """The sun at the middle of each hour of the year; arrays (8760,).

    ``elevation`` (refracted) and ``azimuth`` in degrees; ``cos_zenith`` and ``sin_zenith`` of the
    refracted position; ``dni_extra`` in W/m2 above the air; ``up`` where the sun is above the level horizon.
    """

    elevation: NDArray[np.float64]
    azimuth: NDArray[np.float64]
    cos_zenith: NDArray[np.float64]
    sin_zenith: NDArray[np.float64]
    dni_extra: NDArray[np.float64]

    @property
    def up(self) -> NDArray[np.bool_]:
        return self.cos_zenith > 0


@lru_cache(maxsize=1)
def _spa() -> ModuleType:
    """pvlib's SPA module. Its file is loaded by itself: ``import pvlib`` brings readers and models of whole plants, which take longer than
    the question where the sun stands. ImportError where pvlib has no such module."""
    package = find_spec("pvlib")
    folders = package.submodule_search_locations if package is not None else None
    found = spec_from_file_location("sundial._pvlib_spa", Path(folders[0]) / "spa.py") if folders else None
    if found is None or found.loader is None:
        raise ImportError("pvlib has no module spa, or is not installed")
    module = module_from_spec(found)
    found.loader.exec_module(module)
    return module


AIR_TEMPERATURE, DELTA_T, REFRACTION_AT_HORIZON = 12.0, 67.0, 0.5667  # degC, s, degrees: SPA's usual values


def _pressure(site: Site) -> float:
    """mbar at the site by the standard atmosphere, as pvlib's alt2pres."""
    return float(((44331.514 - site.elevation) / 11880.516) ** (1 / 0.1902632))


def _positions(site: Site, seconds: NDArray[np.float64]) -> dict[str, NDArray[np.float64]]:
    """SPA positions at Unix times (n,): degrees, and the equation of time in minutes."""
    found = _spa().solar_position(
        np.asarray(seconds, dtype=float),
        site.latitude,
        site.longitude,
        site.elevation,
        _pressure(site),
        AIR_TEMPERATURE,
        DELTA_T,
        REFRACTION_AT_HORIZON,
        1,
    )
    names = ("apparent_zenith", "zenith", "apparent_elevation", "elevation", "azimuth", "equation_of_time")
    return {name: np.asarray(found[i], dtype=float) for i, name in enumerate(names)}


def _unix(when: datetime) -> float:
    return when.replace(tzinfo=UTC).timestamp() if when.tzinfo is None else when.timestamp()


def sun_at_times(site: Site, unix: NDArray[np.float64], day: NDArray[np.int64]) -> SunYear:
    """The sun at Unix times (n,), which fall on these days (n,) of the year: as :class:`SunYear`, its arrays (n,)."""
    found = _positions(site, unix)
    zenith = np.radians(found["apparent_zenith"])
    extra = extraterrestrial_normal()[day]
    return SunYear(found["apparent_elevation"], found["azimuth"], np.cos(zenith), np.sin(zenith), extra)


@lru_cache(maxsize=16)
def sun_year(site: Site, utc_offset: float) -> SunYear:
    """Sun positions at mid-hour of all 8760 hours of local standard time ``utc_offset``.

    SPA: Reda and Andreas 2004, doi 10.1016/j.solener.2003.12.003, through pvlib, for the nominal year; the air's
    pressure follows the elevation.
    """
    elevation, azimuth = _seen_from(site, *_geocentric_year(utc_offset))
    zenith = np.radians(90 - elevation)
    extra = np.repeat(extraterrestrial_normal(), 24)
    return SunYear(elevation, azimuth, np.cos(zenith), np.sin(zenith), extra)


SOLAR_CONSTANT = 1366.1  # W/m2, ASTM E490


def extraterrestrial_normal() -> NDArray[np.float64]:
    """Irradiance above the air, square to the sun, on each day (365,), W/m2: Spencer 1971. Equal to pvlib's get_extra_radiation."""
    angle = 2 * np.pi / DAYS * np.arange(DAYS)
    distance = (
        1.00011 + 0.034221 * np.cos(angle) + 0.00128 * np.sin(angle) + 0.000719 * np.cos(2 * angle) + 7.7e-5 * np.sin(2 * angle)
    )
    return np.asarray(SOLAR_CONSTANT * distance)


def declinations() -> NDArray[np.float64]:
    """The sun's declination on each day (365,), radians: Spencer 1971, to 0.03 degrees. Equal to pvlib's declination_spencer71."""
    angle = 2 * np.pi / DAYS * np.arange(DAYS)
    waves = ((0.399912, 0.070257), (0.006758, 0.000907), (0.002697, 0.00148))
    found = np.full(DAYS, 0.006918)
    for order, (cosine, sine) in enumerate(waves, 1):
        found += sine * np.sin(order * angle) - cosine * np.cos(order * angle)
    return found


@lru_cache(maxsize=12)
def _geocentric_year(utc_offset: float) -> tuple[NDArray[np.float64], ...]:
    """What is the same for every place, and most of SPA's work: sidereal time, right ascension, declination (degrees) and
    distance (AU) of the sun at the middle of each hour (8760,)."""
    start = _unix(datetime(NOMINAL_YEAR, 1, 1)) - 3600 * utc_offset + 1800
    seconds = start + 3600 * np.arange(HOURS, dtype=float)
    nowhere = (0, 0, 0, 0, 0, DELTA_T, 0, 1)
    return (*_spa().solar_position(seconds, *nowhere, sst=True), *_spa().solar_position(seconds, *nowhere, esd=True))


def _seen_from(site: Site, sidereal: Any, ascension: Any, declination: Any, distance: Any) -> tuple[Any, Any]:
    """Refracted elevation and azimuth at a place: the second half of SPA, by pvlib's own steps."""
    spa = _spa()
    hour_angle = spa.local_hour_angle(sidereal, site.longitude, ascension)
    parallax, u = spa.equatorial_horizontal_parallax(distance), spa.uterm(site.latitude)
    x, y = spa.xterm(u, site.latitude, site.elevation), spa.yterm(u, site.latitude, site.elevation)
    shift = spa.parallax_sun_right_ascension(x, parallax, hour_angle, declination)
    seen_declination = spa.topocentric_sun_declination(declination, x, y, parallax, shift, hour_angle)
    seen_angle = spa.topocentric_local_hour_angle(hour_angle, shift)
    true = spa.topocentric_elevation_angle_without_atmosphere(site.latitude, seen_declination, seen_angle)
    lift = spa.atmospheric_refraction_correction(_pressure(site), AIR_TEMPERATURE, true, REFRACTION_AT_HORIZON)
    azimuth = spa.topocentric_azimuth_angle(spa.topocentric_astronomers_azimuth(seen_angle, seen_declination, site.latitude))
    return spa.topocentric_elevation_angle(true, lift), azimuth


@dataclass(frozen=True, eq=False)
class SunPath:
    """The sun through the nominal year at even steps from midnight (n,), local standard time: azimuth, refracted and true
    elevation, degrees."""

    azimuth: NDArray[np.float64]
    elevation: NDArray[np.float64]
    true_elevation: NDArray[np.float64]


@lru_cache(maxsize=2)
def sun_path(site: Site, utc_offset: float, minutes: int) -> SunPath:
    """The sun at the middle of every ``minutes`` of the year: SPA hour by hour, its declination and hour angle linear between;
    without parallax (under 0.0025 degrees)."""
    sidereal, ascension, declination, _ = _geocentric_year(utc_offset)
    hour = np.arange(HOURS) + 0.5
    steps = (np.arange(HOURS * 60 // minutes) + 0.5) * minutes / 60
    angle = np.unwrap(sidereal - ascension, period=360)
    # Before the first and after the last mid-hour they go on as they go within the hour beside.
    angle = np.concatenate([[2 * angle[0] - angle[1]], angle, [2 * angle[-1] - angle[-2]]])
    hour, declination = np.concatenate([[-0.5], hour, [HOURS + 0.5]]), np.pad(declination, 1, mode="edge")
    h = np.radians(np.interp(steps, hour, angle) + site.longitude)
    d, latitude = np.radians(np.interp(steps, hour, declination)), np.radians(site.latitude)
    up = np.sin(latitude) * np.sin(d) + np.cos(latitude) * np.cos(d) * np.cos(h)
    east = -np.cos(d) * np.sin(h)
    north = np.cos(latitude) * np.sin(d) - np.sin(latitude) * np.cos(d) * np.cos(h)
    true = np.degrees(np.arcsin(np.clip(up, -1, 1)))
    lift = _spa().atmospheric_refraction_correction(_pressure(site), AIR_TEMPERATURE, true, REFRACTION_AT_HORIZON)
    return SunPath(np.degrees(np.arctan2(east, north)) % 360, true + lift, true)


@dataclass(frozen=True)
class SunMoment:
    """Azimuth, refracted and true elevation in degrees, equation of time in minutes."""

    azimuth: float
    elevation: float
    true_elevation: float
    equation_of_time: float


def sun_at(site: Site, when: datetime) -> SunMoment:
    """The sun at one moment; a time without zone is the site's own clock time."""
    spa = _positions(site, np.array([_unix(_zoned(site, when))]))
    return SunMoment(*(float(spa[name][0]) for name in ("azimuth", "apparent_elevation", "elevation", "equation_of_time")))


def sun_through(site: Site, whens: Sequence[datetime]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Azimuth and refracted elevation, degrees (n,), at many moments; times without zone are the site's own clock times."""
    found = _positions(site, np.array([_unix(_zoned(site, when)) for when in whens]))
    return found["azimuth"], found["apparent_elevation"]


def _zoned(site: Site, when: datetime) -> datetime:
    return when if when.tzinfo else when.replace(tzinfo=site.zone)


RISE = 0.8333  # degrees under the level horizon at which the refracted upper limb appears: SPA, Reda and Andreas 2004


@dataclass(frozen=True)
class SunDay:
    """Sunrise and sunset (None when the sun stays up or down), solar noon, hours of day, noon elevation in degrees."""

    sunrise: datetime | None
    solar_noon: datetime
    sunset: datetime | None
    day_length: float
    noon_elevation: float


@lru_cache(maxsize=512)
def sun_day(site: Site, day: date) -> SunDay:
    """Sunrise, solar noon and sunset in the site's clock time.

    Rise and set are where the sun's upper limb, refracted, meets a level horizon (true elevation
    -0.8333 degrees), as SPA defines them; noon is where the sun crosses the meridian. Found on SPA
    positions every five minutes, then every ten seconds around each, linear between: to under a second.
    """
    centre = datetime(day.year, day.month, day.day, 12, tzinfo=UTC) - timedelta(hours=site.longitude / 15)

    def positions(seconds: NDArray[np.float64]) -> dict[str, NDArray[np.float64]]:
        return _positions(site, centre.timestamp() + seconds)

    def clock(seconds: float) -> datetime:
        return (centre + timedelta(seconds=round(seconds))).astimezone(site.zone)

    grid = np.arange(-44100.0, 44101.0, 300.0)
    coarse = positions(grid)
    hour_angle = grid / 240 + coarse["equation_of_time"] / 4
    noon = float(np.interp(0.0, hour_angle, grid))
    above = coarse["elevation"] + RISE
    top = positions(np.array([noon]))
    noon_elevation = float(top["apparent_elevation"][0])
    if float(top["elevation"][0]) + RISE <= 0:
        return SunDay(None, clock(noon), None, 0.0, noon_elevation)
    if (np.interp([noon - 43200, noon + 43200], grid, above) > 0).any():
        return SunDay(None, clock(noon), None, 24.0, noon_elevation)
    low = grid[(grid < noon) & (above <= 0)][-1]
    high = grid[(grid > noon) & (above <= 0)][0]
    rising = np.linspace(float(low), min(float(low) + 300, noon), 31)
    setting = np.linspace(max(float(high) - 300, noon), float(high), 31)
    fine = positions(np.concatenate([rising, setting]))["elevation"] + RISE
    rise = float(np.interp(0.0, fine[:31], rising))
    fall = float(np.interp(0.0, -fine[31:], setting))
    return SunDay(clock(rise), clock(noon), clock(fall), (fall - rise) / 3600, noon_elevation)


@lru_cache(maxsize=16)
def noon_and_length(site: Site) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Noon elevation (degrees) and day length (hours) of each day of the year, 365 each.

    Day length by the hour-angle formula at the day's declination, with the same -0.8333 degrees.
    """
    start = _unix(datetime(NOMINAL_YEAR, 1, 1, 12)) - 240 * site.longitude
    spa = _positions(site, start + 86400 * np.arange(DAYS, dtype=float))
    # At the mean meridian the hour angle is the equation of time, a few degrees at most: take the elevation there
    # back to a declination, then both figures follow exactly.
    latitude = np.radians(site.latitude)
    true = np.radians(spa["elevation"])
    azimuth = np.radians(spa["azimuth"])
    declination = np.arcsin(np.sin(latitude) * np.sin(true) + np.cos(latitude) * np.cos(true) * np.cos(azimuth))
    noon = 90 - np.degrees(np.abs(latitude - declination))
    cosine = (np.sin(np.radians(-RISE)) - np.sin(latitude) * np.sin(declination)) / (np.cos(latitude) * np.cos(declination))
    length = np.degrees(np.arccos(np.clip(cosine, -1, 1))) * 2 / 15
    return tuple(noon.tolist()), tuple(length.tolist())
