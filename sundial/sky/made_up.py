"""Made-up skies: a few invented climates, scaled to the latitude. Rough by nature, and labelled so wherever used.

Each climate is a table of twelve clearness indices (share of the sun's radiation above the air that reaches the flat
ground), mean temperatures (degC at sea level), wind and strong gusts (m/s), as north of the equator; south of it the
year is turned by six months. The tables are the product's own inventions, not measurements of any place.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.days import MONTH_LENGTHS, MONTH_STARTS
from sundial.errors import BriefError
from sundial.sky.synthetic import clear_by_month, synthesise_year
from sundial.sky.weather_year import WeatherYear
from sundial.sun import Site, sun_year


@dataclass(frozen=True)
class Climate:
    """One invented climate; tables run January to December, north of the equator."""

    title: str
    clearness: tuple[float, ...]
    temp_air: tuple[float, ...]
    wind_speed: tuple[float, ...]
    gust: tuple[float, ...]


CLIMATES: dict[str, Climate] = {
    "dry-upland": Climate(
        "Dry upland",
        (0.50, 0.54, 0.57, 0.58, 0.60, 0.65, 0.69, 0.68, 0.63, 0.56, 0.50, 0.47),
        (8, 9, 12, 14, 18, 23, 26, 25, 22, 16, 11, 8),
        (3.1, 3.3, 3.5, 3.5, 3.2, 3.0, 2.9, 2.8, 2.8, 2.9, 3.0, 3.1),
        (20, 21, 21, 20, 18, 17, 17, 17, 17, 19, 20, 21),
    ),
    "green-maritime": Climate(
        "Green maritime",
        (0.38, 0.41, 0.43, 0.46, 0.48, 0.49, 0.50, 0.50, 0.48, 0.43, 0.39, 0.36),
        (8, 8, 10, 12, 14, 17, 18, 18, 17, 14, 11, 9),
        (5.2, 5.0, 4.8, 4.5, 4.2, 4.0, 3.9, 3.9, 4.2, 4.7, 5.0, 5.2),
        (27, 26, 25, 23, 21, 20, 19, 20, 22, 25, 26, 27),
    ),
    "foggy-continental": Climate(
        "Continental with a foggy winter",
        (0.27, 0.36, 0.43, 0.47, 0.50, 0.52, 0.54, 0.54, 0.49, 0.39, 0.28, 0.23),
        (0, 2, 7, 12, 16, 20, 22, 22, 17, 12, 6, 1),
        (2.3, 2.6, 3.0, 3.1, 2.8, 2.6, 2.5, 2.4, 2.4, 2.3, 2.3, 2.2),
        (17, 18, 20, 20, 19, 19, 19, 18, 17, 17, 17, 17),
    ),
    "monsoon": Climate(
        "Monsoon",
        (0.61, 0.63, 0.62, 0.60, 0.56, 0.43, 0.36, 0.37, 0.45, 0.55, 0.60, 0.60),
        (19, 22, 26, 30, 32, 30, 28, 28, 28, 27, 23, 20),
        (2.2, 2.4, 2.8, 3.2, 3.8, 4.2, 4.0, 3.6, 2.9, 2.3, 2.1, 2.1),
        (15, 16, 18, 20, 24, 26, 25, 23, 20, 17, 15, 15),
    ),
    "high-latitude-coast": Climate(
        "High latitude coast",
        (0.30, 0.37, 0.44, 0.47, 0.48, 0.46, 0.44, 0.43, 0.40, 0.36, 0.31, 0.26),
        (-1, -1, 1, 4, 8, 11, 14, 13, 10, 6, 2, 0),
        (7.2, 6.9, 6.4, 5.6, 4.9, 4.6, 4.4, 4.7, 5.6, 6.4, 6.8, 7.2),
        (33, 32, 30, 26, 23, 22, 21, 23, 27, 30, 32, 33),
    ),
    "windy-mesa": Climate(
        "Windy mesa",
        (0.62, 0.63, 0.65, 0.67, 0.67, 0.68, 0.62, 0.62, 0.66, 0.67, 0.63, 0.60),
        (13, 15, 19, 23, 28, 33, 34, 33, 29, 23, 17, 13),
        (4.6, 5.0, 5.9, 6.4, 6.0, 5.2, 4.3, 4.1, 4.4, 4.7, 4.7, 4.6),
        (25, 27, 31, 33, 31, 28, 26, 25, 25, 26, 26, 25),
    ),
}

LAPSE = 0.0065  # K per m, standard atmosphere (ISO 2533)
TRUST = "Rough, made up: an invented climate scaled to your latitude, not a measurement."


def climate_named(name: str) -> Climate:
    """The climate of that name; BriefError lists the names there are."""
    try:
        return CLIMATES[name]
    except KeyError:
        raise BriefError("sky.name", f"must be one of {', '.join(CLIMATES)}, not {name!r}") from None


def turned(values: tuple[float, ...], latitude: float) -> NDArray[np.float64]:
    """A climate's table (12,) for the hemisphere."""
    return np.roll(np.array(values, dtype=float), 0 if latitude >= 0 else 6)


def monthly_irradiation(climate: Climate, site: Site) -> NDArray[np.float64]:
    """Mean daily irradiation of each month, kWh/m2 a day (12,): clearness x radiation above the air, never more than
    95 % of a cloudless month."""
    sun = sun_year(site, site.standard_offset)
    above = sun.dni_extra * np.maximum(sun.cos_zenith, 0)
    per_day = np.add.reduceat(above, MONTH_STARTS[:-1] * 24) / np.array(MONTH_LENGTHS) / 1000
    asked = turned(climate.clearness, site.latitude) * per_day
    result: NDArray[np.float64] = np.minimum(asked, 0.95 * clear_by_month(site))
    return result


def made_up_year(name: str, site: Site, seed: int) -> WeatherYear:
    """A year of one of the invented climates at a site."""
    climate = climate_named(name)
    return synthesise_year(
        site,
        monthly_irradiation(climate, site),
        turned(climate.temp_air, site.latitude) - LAPSE * site.elevation,
        turned(climate.wind_speed, site.latitude),
        seed,
        source=f"Made-up sky: {climate.title}",
        trust=TRUST,
        made_up=True,
    )
