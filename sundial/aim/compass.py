"""Magnetic declination, what a compass reads, and the sun at solar noon against the glass."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from sundial.sun import Site, SunMoment, sun_at, sun_day


@dataclass(frozen=True)
class Compass:
    """``declination`` degrees, east positive; ``reading`` is what a magnetic compass shows for the equator-ward true
    direction ``toward`` (180 or 0); ``valid_to`` the year until which the model's coefficients hold."""

    declination: float
    toward: float
    reading: float
    valid_to: int
    inside: bool


@lru_cache(maxsize=1)
def _model() -> Any:
    from pygeomag import GeoMag

    return GeoMag(coefficients_file="wmm/WMM_2025.COF")


def compass(site: Site, day: date) -> Compass:
    """Declination from the World Magnetic Model 2025 (NOAA NCEI and BGS), through pygeomag; holds 2025 to 2030."""
    year = day.year + (day.timetuple().tm_yday - 1) / 365
    inside = 2025.0 <= year < 2030.0
    found = _model().calculate(
        glat=site.latitude, glon=site.longitude, alt=site.elevation / 1000, time=min(max(year, 2025.0), 2029.99)
    )
    declination = float(found.d)
    toward = site.equator_ward
    return Compass(declination, toward, (toward - declination) % 360, 2030, inside)


@dataclass(frozen=True, eq=False)
class NoonView:
    """The sun at solar noon of a day: degrees, clock time as HH:MM; ``incidence`` (T,) degrees off square per tilt."""

    elevation: float
    azimuth: float
    clock: str
    incidence: NDArray[np.float64]


@lru_cache(maxsize=256)
def _noon(site: Site, day: date) -> tuple[datetime, SunMoment]:
    """Solar noon of a day and where the sun stands then."""
    noon = sun_day(site, day).solar_noon
    return noon, sun_at(site, noon)


def noon_view(site: Site, day: date, tilts: NDArray[np.float64], azimuth: float) -> NoonView:
    """How squarely each tilt (T,) at ``azimuth`` meets the noon sun."""
    noon, sun = _noon(site, day)
    height, turn = np.radians(sun.elevation), np.radians(sun.azimuth - azimuth)
    tilt = np.radians(tilts)
    cosine = np.sin(height) * np.cos(tilt) + np.cos(height) * np.sin(tilt) * np.cos(turn)
    return NoonView(sun.elevation, sun.azimuth, noon.strftime("%H:%M"), np.degrees(np.arccos(np.clip(cosine, -1, 1))))
