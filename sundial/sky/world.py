"""The world sky: a first sky for any place on land from its coordinates alone.

A 3 x 3 degree grid of the mean daily irradiation on the flat and ten quantiles of its days, by month, 2011 to 2015, derived
from the MERRA-2 reanalysis (Gelaro et al. 2017, doi 10.1175/JCLI-D-16-0758.1; ``data/NOTICE.md``). What is interpolated
between the cells around a place is not irradiation but clearness (the share of the irradiation above the air that arrives),
which does not change with the latitude's day length. Cells over open sea hold nothing.

The reanalysis sees too little cloud, most where it is dull: its monthly clearness K is corrected to 0.769 K + 0.073, fitted
on eleven weather files of other makers. A year then comes out within 8 % (standard deviation; 18 % at worst); uncorrected it
is 10 to 30 % high.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import lru_cache
from importlib.resources import files

import numpy as np
from numpy.typing import NDArray

from sundial.days import MONTH_LENGTHS, sum_by_month
from sundial.errors import BriefError
from sundial.sky.made_up import LAPSE
from sundial.sky.synthetic import DaySpread, clear_by_month, synthesise_year
from sundial.sky.weather_year import WeatherYear
from sundial.sun import Site, declinations, extraterrestrial_normal

Floats = NDArray[np.float64]
SLOPE, LIFT = 0.769, 0.073  # of the correction of monthly clearness: see the module's head
CELL = 3.0  # degrees
FARTHEST = 500.0  # km to the nearest land cell for a place between the cells, such as an island
EARTH = 6371.0  # km
DARK = 0.05  # kWh/m2 a day above the air: a month without a sun to speak of has no clearness
CALM = 3.0  # m/s, light wind by default: it only cools the panels
SOURCE = "World sky: MERRA-2 reanalysis, 2011 to 2015, corrected"
TRUST = (
    "A first sky from the coordinates alone. A year comes out within 8 % (18 % at worst) of weather files of other makers. "
    "A weather file or twelve numbers of your own are better."
)
NOTES = (
    "The reanalysis behind the world sky sees too little cloud, so it is corrected here; uncorrected it is 10 to 30 % high.",
    "Air temperature is assumed from the latitude and the height, give or take 10 degrees C (18 F) in a month (3 % of its energy); wind is taken as light.",
)


@dataclass(frozen=True)
class WorldSky:
    """What the grid says of one place: ``ghi`` (12,) kWh/m2 a day, corrected; ``spread`` its days; ``temp_air`` (12,) degC,
    assumed; ``notes`` where the place lies between the cells."""

    ghi: Floats
    spread: DaySpread
    temp_air: Floats
    notes: tuple[str, ...]


@dataclass(frozen=True)
class _Grid:
    latitude: Floats  # (44,)
    longitude: Floats  # (120,)
    clearness: Floats  # (44, 120, 12), NaN over sea and in months without sun
    days: Floats  # (44, 120, 12, 10), quantiles of the days' clearness
    levels: Floats  # (10,)

    @property
    def land(self) -> NDArray[np.bool_]:
        """Which cells hold anything, (44, 120)."""
        return np.asarray(np.isfinite(self.clearness).any(axis=2))


@lru_cache(maxsize=1)
def _grid() -> _Grid:
    with (files("sundial.sky") / "data" / "world-sky.npz").open("rb") as stream, np.load(stream) as held:
        latitude, longitude = held["latitude"].astype(float), held["longitude"].astype(float)
        mean, days, levels = held["mean"].astype(float), held["quantiles"].astype(float), held["quantile_levels"].astype(float)
    above = np.stack([extraterrestrial(float(degrees)) for degrees in latitude])[:, None, :]
    above = np.where(above > DARK, above, np.nan)
    return _Grid(latitude, longitude, mean / above, days / above[..., None], levels)


def extraterrestrial(latitude: float) -> Floats:
    """Mean daily irradiation on the flat above the air by month, kWh/m2 a day (12,).

    Spencer 1971 for declination and distance; the day's integral in closed form (Iqbal 1983, equation 4.2.17).
    """
    declination, north = declinations(), np.radians(latitude)
    sunset = np.arccos(np.clip(-np.tan(north) * np.tan(declination), -1, 1))
    height = np.cos(north) * np.cos(declination) * np.sin(sunset) + sunset * np.sin(north) * np.sin(declination)
    daily = 24 / np.pi * extraterrestrial_normal() * height / 1000
    monthly: Floats = sum_by_month(daily) / np.array(MONTH_LENGTHS)
    return monthly


def world_sky(site: Site) -> WorldSky:
    """The corrected monthly means and the days of a place. BriefError at the poles and over open sea."""
    grid = _grid()
    weights, notes = _weights(grid, site)
    clearness = _mean(grid.clearness, weights)
    days = _mean(grid.days, weights)
    above = extraterrestrial(site.latitude)
    known = np.isfinite(clearness)
    corrected = np.where(known, SLOPE * np.where(known, clearness, 0) + LIFT, 0)
    ghi = np.minimum(corrected * above, 0.97 * clear_by_month(site))  # no month of cloudless days alone
    shape = np.where(np.isfinite(days), days, 0.3)  # months in the dark: whatever, nothing comes of it
    return WorldSky(ghi, DaySpread(grid.levels, shape), assumed_temperature(site), notes)


def _weights(grid: _Grid, site: Site) -> tuple[Floats, tuple[str, ...]]:
    """How much each cell counts (44, 120): bilinear among the four around that have data, else the nearest one that has."""
    south, north = grid.latitude[0] - CELL / 2, grid.latitude[-1] + CELL / 2
    if not south <= site.latitude <= north:
        raise BriefError(
            "sky.kind",
            f"the world sky reaches from {-south:g}° south to {north:g}° north: give twelve numbers, a file or a made-up sky here",
        )
    land = grid.land
    up = np.clip((site.latitude - grid.latitude[0]) / CELL, 0, len(grid.latitude) - 1)
    right = ((site.longitude - grid.longitude[0]) / CELL) % len(grid.longitude)
    weights = np.zeros(land.shape)
    for row, tall in ((int(up), 1 - up % 1), (min(int(up) + 1, len(grid.latitude) - 1), up % 1)):
        for column, wide in ((int(right), 1 - right % 1), ((int(right) + 1) % len(grid.longitude), right % 1)):
            if land[row, column]:
                weights[row, column] += tall * wide
    if weights.sum() > 1e-9:
        return weights, ()
    distance = np.where(land, _kilometres(grid, site), np.inf)
    nearest = float(distance.min())
    if nearest > FARTHEST:
        raise BriefError(
            "sky.kind",
            f"this is open sea: the nearest place on land that the world sky knows is {nearest:,.0f} km away; "
            "give twelve numbers, a file or a made-up sky".replace(",", " ", 1),
        )
    weights.flat[int(distance.argmin())] = 1.0
    return weights, (
        f"No cell of the world sky lies here: the nearest one on land, {nearest:.0f} km away, is taken, so it is less sure still.",
    )


def _kilometres(grid: _Grid, site: Site) -> Floats:
    """Great-circle distance to the middle of every cell, km (44, 120)."""
    there, here = np.radians(grid.latitude)[:, None], np.radians(site.latitude)
    apart = np.radians(grid.longitude - site.longitude)[None, :]
    cosine = np.sin(there) * np.sin(here) + np.cos(there) * np.cos(here) * np.cos(apart)
    distance: Floats = EARTH * np.arccos(np.clip(cosine, -1, 1))
    return distance


def _mean(values: Floats, weights: Floats) -> Floats:
    """Weighted mean over the cells, of those that hold a number."""
    where = np.nonzero(weights)
    held = values[where]
    share = np.where(np.isfinite(held), weights[where].reshape(-1, *[1] * (held.ndim - 1)), 0)
    total = share.sum(axis=0)
    mean: Floats = np.divide((np.nan_to_num(held) * share).sum(axis=0), total, out=np.full(total.shape, np.nan), where=total > 0)
    return mean


def assumed_temperature(site: Site) -> Floats:
    """Monthly air temperature from latitude and height alone, degC (12,).

    Annual mean of the latitude: 14.9 - 28.0 P2(sin latitude) (North 1975, doi 10.1175/1520-0469(1975)032<2033:TOASCM>2.0.CO;2);
    its seasons: 2.5 K for each kWh/m2 a day that the irradiation above the air stood from its mean one month before (our own
    rule: mid-latitude land); the standard atmosphere's lapse with height (ISO 2533).
    """
    sine = np.sin(np.radians(site.latitude))
    above = extraterrestrial(site.latitude)
    season = np.roll(above, 1) - above.mean()
    temperature: Floats = 14.9 - 28.0 * (3 * sine**2 - 1) / 2 + 2.5 * season - LAPSE * site.elevation
    return temperature


def world_year(site: Site, seed: int) -> WeatherYear:
    """A year of the world sky at a site, its days spread as the reanalysis has them."""
    sky = world_sky(site)
    grown = synthesise_year(
        site,
        sky.ghi,
        sky.temp_air,
        np.full(12, CALM),
        seed,
        source=SOURCE,
        trust=TRUST,
        spread=sky.spread,
        notes=sky.notes + NOTES,
    )
    return replace(grown, reanalysis=True)
