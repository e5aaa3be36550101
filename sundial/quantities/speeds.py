"""Speeds of wind and of the road as people write them, in and out of SI."""

from __future__ import annotations

import re

from sundial.quantities.lengths import Units, short_enough

_SPEEDS = {
    "m/s": 1.0,
    "mps": 1.0,
    "ms": 1.0,
    "km/h": 1 / 3.6,
    "kmh": 1 / 3.6,
    "kph": 1 / 3.6,
    "mph": 0.44704,
    "kn": 1852 / 3600,
    "kt": 1852 / 3600,
}
_SPEED = re.compile(r"^\s*(\d+(?:[.,]\d+)?|[.,]\d+)\s*([a-z/]*)\s*$", re.IGNORECASE)
DOUBTFUL = 45.0  # m/s: a bare number over it was more likely meant in km/h or mph
FASTEST = 120.0  # m/s


def parse_speed(text: str, units: Units = "metric") -> float:
    """Metres a second from "24 m/s", "90 km/h", "55 mph", "40 kn". A bare number is in m/s or mph; one that would be a hurricane is
    asked about. ValueError where it is no speed of wind."""
    match = _SPEED.match(short_enough(text, "speed"))
    unit = match.group(2).lower() if match else ""
    if not match or (unit and unit not in _SPEEDS):
        raise ValueError(f"{text!r} is not a speed such as 24 m/s, 90 km/h or 55 mph")
    number = float(match.group(1).replace(",", "."))
    bare = "mph" if units == "us" else "m/s"
    speed = number * _SPEEDS[unit or bare]
    if speed > FASTEST:
        raise ValueError(f"{number:g} {unit or bare} is more than any gust on Earth: is it km/h? Write {number:g} km/h")
    if not unit and speed > DOUBTFUL:
        raise ValueError(
            f"{number:g} {bare} would be {speed * 3.6:.0f} km/h: write {number:g} km/h if you meant that, or {number:g} {bare} if it is so"
        )
    return speed


def format_speed(speed: float, units: Units = "metric") -> str:
    """ "24 m/s" or "54 mph", to a tenth under 10."""
    value, unit = (speed / _SPEEDS["mph"], "mph") if units == "us" else (speed, "m/s")
    return (
        f"{round(value, 1):g} {unit}" if value < 10 or abs(value - round(value)) > 0.05 and value < 100 else f"{value:.0f} {unit}"
    )
