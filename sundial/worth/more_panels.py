"""The same panels at the same tilts on an inverter without a limit, and more of them on the one that there is."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from sundial.study import Study

Floats = NDArray[np.float64]
MOST_MORE = 40  # panels added in search of a gain
FULL = 0.2  # of what a panel gives on average: one more that gives less finds the inverter full


def unlimited_hours(study: Study, tilt_by_day: tuple[float, ...]) -> Floats:
    """Wh of every hour (8760,) of the array held at a tilt of each day (365,), as no inverter would limit it."""
    scene = study.scene
    if scene.system.inverter.power is None:
        return study.held_year(tilt_by_day).hourly
    endless = replace(scene.system, inverter=replace(scene.system.inverter, power=None))
    return study.cache.get("years", ("endless", tilt_by_day), lambda: scene.held(tilt_by_day, endless)).hourly


def years_with_panels(study: Study, tilt_by_day: tuple[float, ...], enough: float) -> tuple[float, ...]:
    """kWh a year of the array held at ``tilt_by_day`` (365,) with 0, 1, 2 ... more panels like its own on the same
    inverter, in the same light and shade, until ``enough`` kWh are gained or the inverter is full. Empty where no
    inverter limits them: all give the same."""
    limit = study.scene.system.inverter.power
    if limit is None:
        return ()
    hourly, count = unlimited_hours(study, tilt_by_day), study.scene.array.wired
    years = [float(np.minimum(hourly, limit).sum()) / 1000]
    for more in range(1, MOST_MORE + 1):
        if years[-1] - years[0] >= enough or (more > 1 and years[-1] - years[-2] < FULL * years[0] / count):
            break
        years.append(float(np.minimum(hourly * ((count + more) / count), limit).sum()) / 1000)
    return tuple(years)
