"""Lengths as people write them, in and out of SI."""

from __future__ import annotations

import re
from typing import Literal

Units = Literal["metric", "us"]
LONGEST = 100  # characters of one quantity

INCH, FOOT = 0.0254, 0.3048  # m, exact (international yard, 1959)
_LENGTHS = {
    "mm": 0.001, "cm": 0.01, "m": 1.0, "km": 1000.0,
    "in": INCH, "inch": INCH, "inches": INCH, '"': INCH, "″": INCH,
    "ft": FOOT, "foot": FOOT, "feet": FOOT, "'": FOOT, "′": FOOT,
}  # fmt: skip
NUMBER = r"(?:\d+\s+\d+/\d+|\d+/\d+|\d+(?:[.,]\d+)?|[.,]\d+)"
_LENGTH_PART = re.compile(rf"\s*({NUMBER})\s*(mm|cm|km|m|inches|inch|in|feet|foot|ft|\"|″|'|′)?\s*", re.IGNORECASE)


def read_number(text: str) -> float:
    whole, _, fraction = text.strip().replace(",", ".").rpartition(" ")
    if "/" in fraction:
        above, below = fraction.split("/")
        if float(below) == 0:
            raise ValueError("division by zero")
        return float(whole or 0) + float(above) / float(below)
    return float(text.replace(",", "."))


def short_enough(text: str, what: str) -> str:
    """The text, or ValueError where it is far too long to be read at all."""
    if len(text) > LONGEST:
        raise ValueError(f"{text[:20]!r}... is not a {what}: it has {len(text)} characters")
    return text


def parse_length(text: str, units: Units = "metric", small: bool = False) -> float:
    """Metres from "2 ft 3 1/2 in", "69 cm", "1.72". A bare number is in metres or feet (inches with ``small``).

    ValueError where it is no length.
    """
    rest = re.sub(r"(?<=\d)-(?=\d+/\d)", " ", short_enough(text, "length").strip())  # 7-1/2 is 7 1/2
    sign = -1.0 if rest.startswith(("-", "−")) else 1.0
    rest = rest.lstrip("-−").strip()
    total, count = 0.0, 0
    bare = {"metric": "m", "us": "in" if small else "ft"}[units]
    last = ""
    while rest:
        match = _LENGTH_PART.match(rest)
        if not match or not match.group(0).strip():
            raise ValueError(f"{text!r} is not a length such as 1.72 m, 69 cm or 2 ft 3 1/2 in")
        unit = (match.group(2) or "").lower()
        if not unit and rest[match.end() :]:
            raise ValueError(f"{text!r} is not a length such as 1.72 m, 69 cm or 2 ft 3 1/2 in")
        if not unit:
            unit = "in" if last in ("ft", "foot", "feet", "'", "′") else bare
        total += read_number(match.group(1)) * _LENGTHS[unit]
        last, rest, count = unit, rest[match.end() :], count + 1
        if count > 3:
            raise ValueError(f"{text!r} is not a length such as 1.72 m, 69 cm or 2 ft 3 1/2 in")
    if not count:
        raise ValueError("give a length such as 1.72 m, 69 cm or 2 ft 3 1/2 in")
    return sign * total


def format_length(metres: float, units: Units = "metric") -> str:
    """ "1.722 m", or feet and inches to the nearest sixteenth: "5 ft 7 13/16 in"; over 100 m or 100 ft whole ones."""
    if units == "metric":
        return f"{metres:.0f} m" if abs(metres) >= 100 else f"{round(metres, 3):g} m"
    if abs(metres) >= 100 * FOOT:
        return f"{metres / FOOT:.0f} ft"
    sixteenths = round(abs(metres) / INCH * 16)
    feet, rest = divmod(sixteenths, 192)
    inches, part = divmod(rest, 16)
    sign = "-" if metres < 0 else ""
    words = [f"{feet} ft"] if feet else []
    if inches or part or not feet:
        fraction = ""
        if part:
            below = 16
            while part % 2 == 0:
                part, below = part // 2, below // 2
            fraction = f"{part}/{below}"
        words.append(f"{' '.join(filter(None, [str(inches) if inches or not fraction else '', fraction]))} in")
    return sign + " ".join(words)


def rough_length(metres: float, units: Units = "metric") -> str:
    """To a twentieth of a metre, or to the inch: for what is dug, and not cut."""
    if units == "metric":
        return f"{round(metres * 20) / 20:.2f} m"
    inches = round(abs(metres) / INCH)
    feet, rest = divmod(inches, 12)
    words = [f"{feet} ft"] if feet else []
    if rest or not feet:
        words.append(f"{rest} in")
    return ("-" if metres < 0 else "") + " ".join(words)


def fine_length(metres: float, units: Units = "metric") -> str:
    """Whole millimetres, or sixteenths of an inch: what a rule shows."""
    return f"{metres * 1000:.0f} mm" if units == "metric" else format_length(metres, units)
