"""Surveying with simple means: heights by clinometer or by a stick's shadow, paced distances, compass bearings.

Angles in degrees, lengths in metres. ``slope`` of the ground is positive where it falls away along the line measured.
"""

from __future__ import annotations

from math import atan2, cos, degrees, radians, sin, tan

from sundial.errors import BriefError


def _positive(path: str, value: float, words: str) -> None:
    if not value > 0:
        raise BriefError(path, f"{words} must be more than 0")


def clinometer_height(distance: float, angle: float, eye_height: float) -> float:
    """Height of a top seen ``angle`` up from the eye, on level ground: distance x tan(angle) + eye height."""
    _positive("distance", distance, "the distance")
    if not -90 < angle < 90:
        raise BriefError("angle", "must be under 90 degrees")
    height = distance * tan(radians(angle)) + eye_height
    if height <= 0:
        raise BriefError("angle", "puts the top under the ground: check its sign")
    return height


def clinometer_height_on_slope(distance: float, angle: float, foot_angle: float, slope: float = 0.0) -> float:
    """Height from two readings, to the top and to the foot, whatever the ground does between: the level distance times
    (tan(top) - tan(foot)). ``distance`` taped along ground of ``slope``; angles under the level are negative."""
    _positive("distance", distance, "the distance")
    if not -90 < foot_angle < angle < 90:
        raise BriefError("foot_angle", "the foot must be seen lower than the top, both under 90 degrees")
    return distance * cos(radians(slope)) * (tan(radians(angle)) - tan(radians(foot_angle)))


def stick_height(stick: float, stick_shadow: float, shadow: float, slope: float = 0.0) -> float:
    """Height from shadows at the same time: stick x shadow / the stick's shadow on level ground.

    The stick stands on a level place. On ``slope`` the shadow runs L along the ground: height = L (cos s tan e - sin s)
    with tan e = stick / its shadow, since the shadow's end lies L sin s lower.
    """
    for path, value, words in (
        ("stick", stick, "the stick"), ("stick_shadow", stick_shadow, "the stick's shadow"), ("shadow", shadow, "the shadow"),
    ):  # fmt: skip
        _positive(path, value, words)
    if slope == 0:
        return stick * shadow / stick_shadow
    fall = radians(slope)
    height = shadow * (cos(fall) * stick / stick_shadow - sin(fall))
    if height <= 0:
        raise BriefError("slope", "such steep ground would lie in its own shade: check the sign")
    return height


def paced_distance(paces: float, pace: float) -> float:
    """Distance walked in ``paces`` of ``pace`` m each."""
    _positive("paces", paces, "the number of paces")
    _positive("pace", pace, "a pace")
    return paces * pace


def true_azimuth(bearing: float, declination: float) -> float:
    """True azimuth of a magnetic compass ``bearing``; ``declination`` is east positive."""
    return (bearing + declination) % 360


def magnetic_bearing(azimuth: float, declination: float) -> float:
    """What a compass shows toward a true azimuth."""
    return (azimuth - declination) % 360


def elevation_of(height: float, distance: float, eye_height: float = 0.0) -> float:
    """Elevation angle of a top ``height`` m over the ground at ``distance``, seen from ``eye_height``."""
    _positive("distance", distance, "the distance")
    return degrees(atan2(height - eye_height, distance))
