"""The sky of a day or a year by the minute: the hours of the weather year, refined so that each hour keeps its energy."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Literal

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtri

from sundial.days import DAYS
from sundial.energy.irradiance import IrradianceComponents, components_of
from sundial.errors import BriefError
from sundial.expected.conditions import clear_light
from sundial.scene import Scene
from sundial.sun import SunYear, extraterrestrial_normal, sun_path

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]
DAY = 1440
SkyKind = Literal["weather", "clear", "broken", "overcast"]
SKIES: tuple[SkyKind, ...] = ("weather", "clear", "broken", "overcast")
CLOUD = 7  # minutes over which a cloud's edge and its neighbours hang together (thumb)
EDGE = 0.3  # how soft an edge is, in standard deviations of the cloud field (thumb)
BROKEN = (0.5, 1.6)  # share of the cloudless beam, and of the cloudless diffuse light, of a broken day (thumb)
OVERCAST = 0.22  # of the cloudless light, all of it diffuse (thumb)
PEAK, FLUTTER = 1.35, 0.25  # a minute's strongest gust over the hour's mean wind, and its scatter (thumb, after Durst 1960)
YEAR = 2026  # a year without a leap day; the sun's places in other years differ by under a quarter of a degree


@dataclass(frozen=True, eq=False)
class Minutes:
    """Days (d,) of the year by the minute of local standard time. Arrays (d, 1440): ``elevation`` and ``azimuth`` degrees, ``east``, ``north``,
    ``up`` the sun's unit vector, ``dni``, ``dhi`` and ``gust`` m/s at 10 m. ``lit`` (d, 1440) where there is light; ``light`` the components of
    those minutes, in their order."""

    days: NDArray[np.int64]
    elevation: Floats
    azimuth: Floats
    east: Floats
    north: Floats
    up: Floats
    dni: Floats
    dhi: Floats
    gust: Floats
    lit: Bools
    light: IrradianceComponents

    @property
    def count(self) -> int:
        return len(self.days)


def minutes_of(
    scene: Scene, days: Sequence[int] | NDArray[np.int64] | None = None, sky: SkyKind = "weather", seed: int = 1
) -> Minutes:
    """The minutes of these days of the year (0 to 364; all of them unless told), seeded. ``weather``: each hour's beam and diffuse light are the
    weather year's, to the last digit wherever the sun is up in that hour and the beam is not above the cloudless one; clouds come and go as a
    smooth random field above a level that gives each hour its share. ``clear``, ``broken``, ``overcast``: an invented day of that kind."""
    if sky not in SKIES:
        raise BriefError("--sky", f"must be one of {', '.join(SKIES[1:])}")
    which = np.arange(DAYS) if days is None else np.asarray(list(days), dtype=np.int64)
    weather = scene.weather
    start = datetime(YEAR, 1, 1, tzinfo=UTC).timestamp() - weather.utc_offset * 3600
    unix = start + 86400.0 * which[:, None] + 60.0 * (np.arange(DAY) + 0.5)
    clear = clear_light(scene, unix.ravel(), sun=_sun(scene, which))
    shape = (len(which), DAY)
    up = clear.up.reshape(shape)
    beam, diffuse = clear.beam.reshape(shape), clear.dhi.reshape(shape)
    hours = which[:, None] * 24 + np.arange(24)
    wanted_beam, wanted_diffuse = _wanted(sky, weather.dni[hours], weather.dhi[hours], beam, diffuse)
    clouds, winds = _fields(seed, which)
    dni = _refined(beam, wanted_beam, clouds)
    dhi = _spread(diffuse, wanted_diffuse)
    wind = np.repeat(weather.wind_speed[hours], 60, axis=1)
    gust = np.maximum(wind * (PEAK + FLUTTER * winds), 0.0)
    lit = (up > 0) & (dni + dhi > 0.5)
    return Minutes(
        which, clear.elevation.reshape(shape), clear.azimuth.reshape(shape), clear.east.reshape(shape), clear.north.reshape(shape), up, dni,
        dhi, gust, lit, _light(scene, clear, lit.ravel(), dni.ravel(), dhi.ravel(), np.repeat(weather.temp_air[hours], 60, axis=1).ravel(), wind.ravel()),
    )  # fmt: skip


def _sun(scene: Scene, days: NDArray[np.int64]) -> SunYear:
    """The sun at the middle of every minute of these days, flat (d * 1440,)."""
    path = sun_path(scene.site, scene.weather.utc_offset, 1)
    at = (days[:, None] * DAY + np.arange(DAY)).ravel()
    elevation = np.radians(path.elevation[at])
    extra = np.repeat(extraterrestrial_normal()[days], DAY)
    return SunYear(path.elevation[at], path.azimuth[at], np.sin(elevation), np.cos(elevation), extra)


def _wanted(sky: SkyKind, dni: Floats, dhi: Floats, beam: Floats, diffuse: Floats) -> tuple[Floats, Floats]:
    """Means of each hour (d, 24) that the minutes are to have."""
    if sky == "weather":
        return dni, dhi
    clear_beam, clear_diffuse = _hourly(beam), _hourly(diffuse)
    if sky == "clear":
        return clear_beam, clear_diffuse
    if sky == "broken":
        return BROKEN[0] * clear_beam, BROKEN[1] * clear_diffuse
    return 0 * clear_beam, OVERCAST * (clear_diffuse + 0.7 * clear_beam)


def _hourly(values: Floats) -> Floats:
    found: Floats = values.reshape(len(values), 24, 60).mean(axis=2)
    return found


def _fields(seed: int, days: NDArray[np.int64]) -> tuple[Floats, Floats]:
    """Two smooth random fields (d, 1440) of standard deviation one: each day has its own, whichever days are asked for."""
    weights = np.hanning(2 * CLOUD + 3)[1:-1]
    weights /= np.sqrt((weights**2).sum())
    width = len(weights) - 1
    raw = np.stack([np.random.default_rng([seed, int(day)]).standard_normal((2, DAY + width)) for day in days])
    spectrum = np.fft.rfft(raw, axis=2) * np.fft.rfft(weights, DAY + width)
    smooth = np.fft.irfft(spectrum, DAY + width, axis=2)[:, :, width:]
    return smooth[:, 0], smooth[:, 1]


def _refined(beam: Floats, wanted: Floats, clouds: Floats) -> Floats:
    """Beam by the minute (d, 1440): the cloudless one times what the clouds let through, with each hour's mean as ``wanted``."""
    most = _hourly(beam)
    share = np.clip(np.divide(wanted, most, out=np.zeros_like(most), where=most > 0), 0.0, 1.0)
    # Between the middles of the hours the cover changes evenly, so that no cloud ends with its hour.
    middles = np.arange(24) * 60 + 29.5
    cover = np.stack([np.interp(np.arange(DAY), middles, row) for row in share])
    level = -ndtri(np.clip(cover, 1e-3, 1 - 1e-3))
    through = 1 / (1 + np.exp(np.clip(-(clouds - level) / EDGE, -30, 30)))
    through[cover > 0.985] = 1.0
    found = (beam * through).reshape(len(beam), 24, 60)
    clear = beam.reshape(len(beam), 24, 60)
    mean = found.mean(axis=2)
    less = np.divide(wanted, mean, out=np.zeros_like(mean), where=mean > 0)
    room = np.maximum(most - mean, 1e-9)
    fill = np.clip((wanted - mean) / room, 0.0, 1.0)  # clouds thin out where more has to come through
    brighter = np.divide(wanted, most, out=np.ones_like(most), where=most > 0)
    made: Floats = np.where(
        (wanted > most)[..., None], clear * brighter[..., None],
        np.where((wanted > mean)[..., None], found + (clear - found) * fill[..., None], found * less[..., None]),
    )  # fmt: skip
    return np.asarray(made.reshape(len(beam), DAY), dtype=np.float64)


def _spread(diffuse: Floats, wanted: Floats) -> Floats:
    """Diffuse light by the minute, in the shape of the cloudless one, with each hour's mean as ``wanted``."""
    mean = _hourly(diffuse)
    scale = np.divide(wanted, mean, out=np.zeros_like(mean), where=mean > 0)
    return np.asarray(diffuse * np.repeat(scale, 60, axis=1), dtype=np.float64)


def _light(
    scene: Scene, clear: IrradianceComponents, lit: Bools, dni: Floats, dhi: Floats, air: Floats, wind: Floats
) -> IrradianceComponents:
    """The components of the lit minutes, as the energy chain takes them."""
    places = clear.hours[lit]
    up, elevation, azimuth = clear.up[lit], clear.elevation[lit], clear.azimuth[lit]
    sun = SunYear(elevation, azimuth, up, np.sqrt(np.maximum(1 - up**2, 0.0)), extraterrestrial_normal()[places // 24])
    direct, diffuse = dni[lit], dhi[lit]
    return components_of(
        places,
        direct * up + diffuse,
        direct,
        diffuse,
        air[lit],
        wind[lit],
        sun,
        clear.albedo[lit],
        scene.brief.system.transposition,
    )
