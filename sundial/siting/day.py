"""A day in the yard: where the sun stands every half hour, and what lies in shadow."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime, timedelta

import numpy as np

from sundial.days import date_of_day
from sundial.scene import Scene
from sundial.shade.shadows import LOWEST_SUN, Shadow, cast, shadows, unit
from sundial.shade.solids import Floats
from sundial.study import Study
from sundial.sun import sun_day, sun_through

STEP = 30  # minutes


@dataclass(frozen=True, eq=False)
class Moment:
    """``clock`` local time; the sun's azimuth and elevation; shadows of things, and ``array`` rings of the panels' own."""

    clock: str
    azimuth: float
    elevation: float
    shadows: list[Shadow]
    array: list[Floats]


def day_in_yard(study: Study, day: int, year: int) -> list[Moment]:
    """The moments of a day (0 to 364) between sunrise and sunset, every half hour of the clock."""
    when = date_of_day(day, year)
    sun = sun_day(study.scene.site, when)
    if sun.sunrise is None or sun.sunset is None:
        if not sun.day_length:
            return []
        start = datetime(when.year, when.month, when.day)
        end = start + timedelta(hours=23, minutes=30)
    else:
        start, end = sun.sunrise.replace(tzinfo=None), sun.sunset.replace(tzinfo=None)
    first = start.replace(minute=0, second=0, microsecond=0)
    tilt = float(study.own_facing[0].surface_tilt.reshape(365, 24)[day].max())
    every = [first + timedelta(minutes=STEP * step) for step in range(50)]
    moments = [moment for moment in every if start <= moment <= end]
    return [
        _moment(study.scene, moment, float(azimuth), float(elevation), tilt)
        for moment, azimuth, elevation in zip(moments, *sun_through(study.scene.site, moments), strict=True)
    ]


def _moment(scene: Scene, moment: datetime, azimuth: float, elevation: float, tilt: float) -> Moment:
    fallen = shadows(scene.yard, azimuth, elevation, moment.month - 1)
    own: list[Floats] = []
    if elevation > LOWEST_SUN:
        from shapely import MultiPoint

        corners = scene.geometry.corners(tilt, scene.azimuth)
        ray = unit(azimuth, elevation)
        for group in corners:
            hull = MultiPoint(cast(group, ray, scene.yard.ground)).convex_hull
            if hull.geom_type == "Polygon":
                own.append(np.asarray(hull.exterior.coords)[:-1])
    return Moment(moment.strftime("%H:%M"), azimuth, elevation, fallen, own)


def other_season(day: int) -> int:
    """The same day of the other half of the year: 21 June for 20 December."""
    return (day + 182) % 365
