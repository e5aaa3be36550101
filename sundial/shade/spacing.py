"""How far apart rows must stand so that the sun of a chosen day and hours clears the row in front."""

from __future__ import annotations

from math import cos, radians, sin, tan

import numpy as np

from sundial.days import DECEMBER_SOLSTICE, JUNE_SOLSTICE
from sundial.errors import BriefError

OBLIQUITY = 23.44  # degrees: the sun's declination at the solstices


def clear_pitch(slope_length: float, tilt: float, elevation: float, turn: float = 0.0) -> float:
    """Front edge to front edge, m, at which the top of a row does not reach the next one's lower edge.

    L cos t + L sin t cos(turn) / tan(elevation); ``turn`` is the sun's azimuth against the rows' facing, degrees.
    """
    t = radians(tilt)
    behind = max(cos(radians(turn)), 0.0)  # with the sun behind the rows the lower edge in front is in nobody's way
    return slope_length * (cos(t) + sin(t) * behind / tan(radians(elevation)))


def declination(day: int) -> float:
    """The sun's declination on a day 0 to 364, degrees (Cooper 1969, doi 10.1016/0038-092X(69)90047-4; within half a
    degree), exact at the solstices."""
    if day in (JUNE_SOLSTICE, DECEMBER_SOLSTICE):
        return OBLIQUITY if day == JUNE_SOLSTICE else -OBLIQUITY
    return OBLIQUITY * sin(radians(360 * (284 + day + 1) / 365))


def pitch_for_hours(
    slope_length: float,
    tilt: float,
    latitude: float,
    azimuth: float,
    day: int | None = None,
    hours: tuple[float, float] = (10.0, 14.0),
) -> float:
    """The pitch, m, that keeps the sun of ``hours`` (solar time) clear on ``day`` (the local winter solstice unless told).

    BriefError where the sun does not stand up through those hours.
    """
    if not 0 <= hours[0] <= hours[1] <= 24:
        raise BriefError("hours", "must run from the earlier to the later, 0 to 24")
    chosen = (DECEMBER_SOLSTICE if latitude >= 0 else JUNE_SOLSTICE) if day is None else day
    d, p = radians(declination(chosen)), radians(latitude)
    w = np.radians((np.linspace(*hours, 49) - 12) * 15)
    height = np.arcsin(np.sin(p) * np.sin(d) + np.cos(p) * np.cos(d) * np.cos(w))
    if (np.degrees(height) < 1).any():
        raise BriefError("hours", "the sun is not up through all of these hours on that day: choose shorter ones")
    east = -np.cos(d) * np.sin(w)
    north = np.sin(d) * np.cos(p) - np.cos(d) * np.sin(p) * np.cos(w)
    turn = np.degrees(np.arctan2(east, north)) - azimuth
    return max(clear_pitch(slope_length, tilt, float(h), float(a)) for h, a in zip(np.degrees(height), turn, strict=True))
