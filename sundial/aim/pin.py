"""A shadow pin: which way the glass truly looks, from where the tip of a pin's shadow falls on it.

::

        y up the slope          the pin stands square on the glass, h long; with the sun at s (unit vector)
        |                       the tip of its shadow falls at  -h (s.x, s.y) / s.n
        |_____ x to the right
       /       as you look at the glass
      n  out of the glass
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

import numpy as np
from numpy.typing import NDArray

from sundial.errors import BriefError
from sundial.sun import Site, sun_at

RINGS = (2.0, 5.0, 10.0, 15.0, 20.0)  # degrees off square
APART = timedelta(minutes=20)  # between the first and the last of several readings: in it the sun turns by some 5 degrees
CHECK = 0.1  # m: the line on the target that is measured
TILTS = (2.0, 6.0, 12.0, 20.0, 30.0, 42.0, 55.0, 70.0, 85.0)  # degrees from which the search begins
STEEPEST = 95.0  # degrees that are searched
DEEPEST = 10  # places of the grid that are followed down
SAME_FIT = 1e-9  # sum of squares, in pin lengths, in which two answers fit alike
UNFIT = 0.15  # of the longer of pin and shadow: more is left than reading off by a few degrees of sun explains (thumb)
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Reading:
    """The shadow's tip at a moment, ``x`` and ``y`` from the pin's foot in the unit of its length."""

    time: datetime
    x: float
    y: float


@dataclass(frozen=True)
class Aimed:
    """The glass as the shadows show it: ``tilt`` and ``azimuth`` degrees; ``residual``: root mean square of what is left between
    measured and computed tips, in the unit of the readings; ``off`` degrees between the sun and square for each."""

    tilt: float
    azimuth: float
    residual: float
    off: tuple[float, ...]


@dataclass(frozen=True)
class Ring:
    """A ring of the target: ``angle`` degrees off square, its ``radius`` in the unit of the pin, and the share of direct light lost."""

    angle: float
    radius: float
    loss: float


def rings(height: float) -> list[Ring]:
    """Rings round the foot of a pin of some ``height``."""
    return [Ring(angle, height * float(np.tan(np.radians(angle))), 1 - float(np.cos(np.radians(angle)))) for angle in RINGS]


def axes_of(tilt: float, azimuth: float) -> Floats:
    """Right, up the slope, and out of the glass, as east, north, up (3, 3)."""
    lean, turn = np.radians(tilt), np.radians(azimuth)
    right = (-np.cos(turn), np.sin(turn), 0.0)
    up = (-np.cos(lean) * np.sin(turn), -np.cos(lean) * np.cos(turn), np.sin(lean))
    out = (np.sin(lean) * np.sin(turn), np.sin(lean) * np.cos(turn), np.cos(lean))
    return np.array([right, up, out])


def tips(sun: Floats, height: float, tilt: float, azimuth: float) -> Floats:
    """Where the tip of the shadow falls (N, 2) for the sun at unit vectors ``sun`` (N, 3): east, north, up."""
    along = sun @ axes_of(tilt, azimuth).T
    found: Floats = -height * along[:, :2] / np.maximum(along[:, 2:], 1e-3)
    return found


def sun_vectors(site: Site, times: Sequence[datetime]) -> Floats:
    """Unit vectors to the sun (N, 3), east, north, up, as refracted; BriefError for a time at which it has set."""
    found = []
    for number, time in enumerate(times):
        sun = sun_at(site, time)
        if sun.elevation <= 0:
            raise BriefError(f"readings[{number}]", f"at {time:%H:%M} on {time.day} {time:%B} the sun is under the horizon")
        height, turn = np.radians(sun.elevation), np.radians(sun.azimuth)
        found.append((np.cos(height) * np.sin(turn), np.cos(height) * np.cos(turn), np.sin(height)))
    return np.array(found)


def aimed(
    site: Site,
    height: float,
    readings: Sequence[Reading],
    start: tuple[float, float],
    known_tilt: float | None = None,
    check: float = CHECK,
) -> Aimed:
    """Tilt and azimuth of the glass by least squares over ``readings`` of a pin of some ``height``; ``start``: tilt and azimuth it was
    set to. One reading gives the azimuth at a ``known_tilt``; several, over some hours, give both. ``check``: the
    measured length of the target's 100 mm line, m, where the readings were taken off its printed rings.

    Raises BriefError for no reading, for several that lie too close together, for a sun that has set or stands behind the glass.
    """
    from scipy.optimize import least_squares

    if not readings:
        raise BriefError("readings", "give at least one reading: time, x, y")
    if not 0 < height < np.inf:
        raise BriefError("pin", "the pin needs a length above zero")
    times = [one.time for one in readings]
    if len(readings) > 1 and max(times) - min(times) < APART:
        minutes = (max(times) - min(times)).total_seconds() / 60
        raise BriefError(
            "readings", f"they lie {minutes:.0f} minutes apart, too close to tell tilt from turn: take them hours apart"
        )
    if len(readings) == 1 and known_tilt is None:
        raise BriefError(
            "readings", "one reading tells the azimuth only with the tilt known: give the tilt, or a second reading hours later"
        )
    sun = sun_vectors(site, times)
    measured = np.array([(one.x, one.y) for one in readings]) * (check / CHECK)

    def off(unknown: Floats) -> Floats:
        difference: Floats = (tips(sun, height, *_both(unknown, known_tilt)) - measured).ravel() / height
        return difference

    one = len(readings) == 1
    bounds: tuple[list[float], list[float]] = ([-np.inf], [np.inf]) if one else ([0.0, -np.inf], [STEEPEST, np.inf])
    first: Floats = np.array([start[1]] if one else [min(max(start[0], 1.0), 90.0), start[1]])
    solved = _best([least_squares(off, begin, bounds=bounds) for begin in _starts(off, first)], start[1])
    tilt, azimuth = _both(solved.x, known_tilt)
    behind = sun @ axes_of(tilt, azimuth)[2]
    if (behind <= 0.02).any():
        number = int(np.argmin(behind))
        raise BriefError(f"readings[{number}]", "at that time the sun stands behind the glass: there is no shadow of the pin")
    left = off(solved.x).reshape(-1, 2) * height
    residual = float(np.sqrt((left**2).sum(axis=1).mean()))
    most = UNFIT * max(height, float(np.hypot(*measured.T).max()))
    if residual > most:
        raise BriefError(
            "readings",
            f"they do not agree: no way that the glass could stand throws these shadows; {residual:.3g} are left between measured and computed tips (the pin is "
            f"{height:g} long). Look at the times, at which way x and y count, and at the pin's length",
        )
    return Aimed(
        float(tilt), float(azimuth % 360), residual, tuple(float(a) for a in np.degrees(np.arccos(np.clip(behind, -1, 1))))
    )


def _both(unknown: Floats, known_tilt: float | None) -> tuple[float, float]:
    """Tilt and azimuth from what is solved for: both, or the azimuth at a known tilt."""
    if len(unknown) == 1:
        return float(known_tilt or 0.0), float(unknown[0])
    return float(unknown[0]), float(unknown[1])


def _starts(off: Callable[[Floats], Floats], first: Floats) -> list[Floats]:
    """Where to begin: as it was set, and the deepest places of a grid over all ways that it could stand, since flat panels have several."""
    turns = first[-1] + np.arange(0.0, 360.0, 15.0)
    grid = (
        [np.array([turn]) for turn in turns] if len(first) == 1 else [np.array([tilt, turn]) for tilt in TILTS for turn in turns]
    )
    return [first, *sorted(grid, key=lambda one: float((off(one) ** 2).sum()))[:DEEPEST]]


def _best(solved: list[Any], azimuth: float) -> Any:
    """The closest fit; of those that fit alike (one reading may have two), the one nearest to the ``azimuth`` it was set to."""
    least = min(float(one.cost) for one in solved)
    alike = [one for one in solved if float(one.cost) <= least + SAME_FIT]
    return min(alike, key=lambda one: abs((float(one.x[-1]) - azimuth + 180) % 360 - 180))
