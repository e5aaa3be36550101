"""Hours in which the sun reaches the middle of an array: from the sun's path and what stands before it, whatever the weather."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from sundial.days import MONTH_OF_DAY
from sundial.shade.shadows import outlines
from sundial.siting.skyview import middle_of
from sundial.study import Study
from sundial.sun import RISE, sun_path

Floats = NDArray[np.float64]
STEP = 5  # minutes
EVERY = 3  # days: each third one stands for its neighbours


def sun_hours(study: Study) -> tuple[Floats, Floats]:
    """Mean hours of sun a day by month (12,) at the middle of the array, and under an open sky; minutes in which leaves or an
    open fence let some through count for that share."""
    path = sun_path(study.scene.site, study.scene.weather.utc_offset, STEP)
    day = np.arange(len(path.azimuth)) * STEP // 1440
    up = np.flatnonzero((path.true_elevation > -RISE) & (day % EVERY == 0))
    months = MONTH_OF_DAY[day[up]]
    azimuth, elevation = path.azimuth[up], path.elevation[up]
    reached = np.ones(len(up))
    if study.scene.skyline is not None:
        reached *= study.scene.skyline.passes(azimuth, elevation, months)
    for outline in outlines(study.scene.yard, middle_of(study)):
        x = np.mod(azimuth - outline.azimuths[0], 360) + outline.azimuths[0]
        within = np.flatnonzero(x <= outline.azimuths[-1])
        low, high = (np.interp(x[within], outline.azimuths, edge) for edge in (outline.low, outline.high))
        hidden = within[(elevation[within] > low) & (elevation[within] < high)]
        reached[hidden] *= outline.light[months[hidden]]
    hours = STEP / 60 / np.bincount(MONTH_OF_DAY[::EVERY])
    return (
        np.bincount(months, weights=reached, minlength=12) * hours,
        np.bincount(months, minlength=12) * hours,
    )
