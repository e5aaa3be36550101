"""The sky of the spot: the sun's paths with their hours, what stands before them, and which hours it takes."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from sundial.days import (
    DECEMBER_SOLSTICE,
    JUNE_SOLSTICE,
    MARCH_EQUINOX,
    MONTH_NAMES,
    MONTH_STARTS,
    date_of_day,
    spoken_day,
)
from sundial.energy.shaded import SKYLINE
from sundial.scene import Scene
from sundial.shade.rays import trace_rays
from sundial.shade.shadows import Outline, outlines
from sundial.study import Study
from sundial.sun import Site, sun_through

STEP = 15  # minutes
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class SunPath:
    """A day's path: azimuths and elevations every quarter of an hour while the sun is up, and the full ``hours`` on it as
    (clock, azimuth, elevation)."""

    day: int
    name: str
    azimuths: tuple[float, ...]
    elevations: tuple[float, ...]
    hours: tuple[tuple[str, float, float], ...]


@dataclass(frozen=True)
class Lost:
    """What one thing takes on the 21st of a month: hours, and the clock times in words."""

    month: str
    hours: float
    times: str


@dataclass(frozen=True, eq=False)
class SkyView:
    """``paths`` of the solstices, the equinoxes and the chosen day (the last); ``outlines`` of the yard's things from the
    middle of the array; ``lost`` hours by thing."""

    paths: tuple[SunPath, ...]
    outlines: tuple[Outline, ...]
    lost: dict[str, tuple[Lost, ...]]


def middle_of(study: Study) -> Floats:
    """The middle of the array at its mean tilt (3,), m: the point of view of its sky picture."""
    tilt = float(np.abs(study.own_facing[0].surface_tilt).mean())
    middle: Floats = study.scene.geometry.middles(tilt, study.scene.azimuth).mean(axis=0)
    return middle


def sky_view(study: Study, day: int, year: int) -> SkyView:
    """The sky from the middle of the array; ``day`` 0 to 364 is the chosen one."""
    named = [(JUNE_SOLSTICE, "21 June"), (MARCH_EQUINOX, "21 March and 23 September"), (DECEMBER_SOLSTICE, "21 December")]
    paths = [_path(study.scene, at, name, year) for at, name in [*named, (day, spoken_day(day))]]
    return SkyView(tuple(paths), tuple(outlines(study.scene.yard, middle_of(study))), _lost(study, year))


def _moments(day: int, year: int) -> list[datetime]:
    when = date_of_day(day, year)
    start = datetime(when.year, when.month, when.day)
    return [start + timedelta(minutes=STEP * step) for step in range(24 * 60 // STEP)]


@lru_cache(maxsize=512)
def _sun(site: Site, day: int, year: int) -> tuple[Floats, Floats]:
    """Azimuth and elevation at the moments of a day."""
    return sun_through(site, _moments(day, year))


def _path(scene: Scene, day: int, name: str, year: int) -> SunPath:
    moments = _moments(day, year)
    azimuth, elevation = _sun(scene.site, day, year)
    up = np.flatnonzero(elevation > -0.3)
    hours = [(f"{moments[i].hour}", float(azimuth[i]), float(elevation[i])) for i in up if moments[i].minute == 0]
    return SunPath(day, name, tuple(azimuth[up].tolist()), tuple(elevation[up].tolist()), tuple(hours))


def _lost(study: Study, year: int) -> dict[str, tuple[Lost, ...]]:
    days = [int(start) + 20 for start in MONTH_STARTS[:12]]
    suns = [_sun(study.scene.site, day, year) for day in days]
    azimuth, elevation = (np.concatenate(part) for part in zip(*suns, strict=True))
    month = np.repeat(np.arange(12), [len(sun[0]) for sun in suns])
    up = np.flatnonzero(elevation > 0)
    a, e, month = np.radians(azimuth[up]), np.radians(elevation[up]), month[up]
    directions = np.stack([np.cos(e) * np.sin(a), np.cos(e) * np.cos(a), np.sin(e)], axis=1)
    hidden: dict[str, NDArray[np.bool_]] = {}
    for trace in trace_rays(study.scene.yard, middle_of(study)[None, :], directions).traces:
        rows = trace.rows[trace.light[month[trace.rows]] < 0.5]
        hidden.setdefault(trace.owner, np.zeros(len(up), dtype=bool))[rows] = True
    if study.scene.skyline is not None:
        hidden[SKYLINE] = study.scene.skyline.passes(azimuth[up], elevation[up], month) < 0.5
    whens = [moment for day, (_, height) in zip(days, suns, strict=True)
             for moment, above in zip(_moments(day, year), height > 0, strict=True) if above]  # fmt: skip
    found: dict[str, tuple[Lost, ...]] = {}
    for name, out in hidden.items():
        months = []
        for at in np.unique(month[out]):
            here = np.flatnonzero(month == at)
            times = _spans([whens[i] for i in here], out[here].tolist())
            months.append(Lost(MONTH_NAMES[at], float(out[here].sum()) * STEP / 60, times))
        if months:
            found[name] = tuple(months)
    return found


def _spans(whens: list[datetime], hidden: list[bool]) -> str:
    """Clock times of the stretches that are hidden: "9:30 to 11:00, 15:00 to 15:15"."""
    spans, start = [], None
    for index, out in enumerate([*hidden, False]):
        if out and start is None:
            start = index
        elif not out and start is not None:
            end = whens[index - 1] + timedelta(minutes=STEP)
            spans.append(f"{whens[start].hour}:{whens[start].minute:02d} to {end.hour}:{end.minute:02d}")
            start = None
    return ", ".join(spans)
