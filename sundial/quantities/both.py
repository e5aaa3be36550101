"""Words with metric quantities in them, for people who think in feet: each gets its own unit, the metric one in brackets beside it."""

from __future__ import annotations

import re

from sundial.quantities.kinds import (
    AREA_LOAD,
    FORCE,
    LINE_LOAD,
    MASS,
    PRESSURE,
    TEMPERATURE,
    VOLUME,
    WIND_SPEED,
    Kind,
    told_quantity,
)
from sundial.quantities.lengths import FOOT, INCH, Units, format_length

_LENGTHS = {"mm": 0.001, "cm": 0.01, "m": 1.0, "km": 1000.0}
_KINDS: dict[str, tuple[Kind, float]] = {
    "kg": (MASS, 1.0), "N": (FORCE, 1.0), "kN": (FORCE, 1000.0), "N/m": (LINE_LOAD, 1.0), "Pa": (PRESSURE, 1.0), "kPa": (PRESSURE, 1000.0),
    "kN/m²": (AREA_LOAD, 1.0), "m/s": (WIND_SPEED, 1.0), "km/h": (WIND_SPEED, 1 / 3.6), "°C": (TEMPERATURE, 1.0), "l": (VOLUME, 1.0),
    "litres": (VOLUME, 1.0),
}  # fmt: skip
_SAID = re.compile(
    r"(?<![\w.,(\-/])(?<!x )([-−]?\d+(?:\.\d+)?)( (?:to|and|or) )?(?(2)([-−]?\d+(?:\.\d+)?))[ \u2009]?(mm|cm|km|kg|kN/m²|kN|kPa|N/m|N|Pa|m/s|km/h|°C|litres|l|m)(?![\w²³/°])"
)
_IN_BRACKETS = re.compile(r"(\([^()]*\))")


def in_both(text: str, units: Units) -> str:
    """The text as it is for metric people; else every metric quantity as "33 ft (10 m)", a range as "1/16 to 3/16 in (1 to 5 mm)". What stands in
    brackets already stays."""
    if units == "metric":
        return text
    parts = _IN_BRACKETS.split(text)
    return "".join(part if index % 2 else _SAID.sub(_both, part) for index, part in enumerate(parts))


def _both(found: re.Match[str]) -> str:
    first, joint, second, unit = found.groups()
    numbers = [float(one.replace("−", "-")) for one in (first, second) if one]
    told = [_told(number, unit) for number in numbers]
    return f"{(joint or '').join(told)} ({found.group(0).strip()})"


def _told(number: float, unit: str) -> str:
    if unit in _LENGTHS:
        return _length(number * _LENGTHS[unit])
    kind, size = _KINDS[unit]
    return told_quantity(number * size, kind, "us")


def _length(metres: float) -> str:
    """As round as the metric number was: sixteenths of what is small, whole inches under ten feet, whole feet else."""
    if abs(metres) < 0.03:
        return format_length(round(metres / INCH * 16) / 16 * INCH, "us")
    if abs(metres) < 0.3:
        return format_length(round(metres / INCH * 4) / 4 * INCH, "us")
    if abs(metres) < 10 * FOOT:
        return format_length(round(metres / INCH) * INCH, "us")
    return f"{metres / FOOT:.0f} ft"
