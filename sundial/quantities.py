"""Lengths and tilts as people write them, in and out of SI."""

from __future__ import annotations

import re
from typing import Literal

from sundial.errors import BriefError

Units = Literal["metric", "us"]
LONGEST = 100  # characters of one quantity
LONGEST_TABLE = 20_000  # of a pasted table of holes

INCH, FOOT = 0.0254, 0.3048  # m, exact (international yard, 1959)
_LENGTHS = {
    "mm": 0.001, "cm": 0.01, "m": 1.0, "km": 1000.0,
    "in": INCH, "inch": INCH, "inches": INCH, '"': INCH, "″": INCH,
    "ft": FOOT, "foot": FOOT, "feet": FOOT, "'": FOOT, "′": FOOT,
}  # fmt: skip
_NUMBER = r"(?:\d+\s+\d+/\d+|\d+/\d+|\d+(?:[.,]\d+)?|[.,]\d+)"
_LENGTH_PART = re.compile(rf"\s*({_NUMBER})\s*(mm|cm|km|m|inches|inch|in|feet|foot|ft|\"|″|'|′)?\s*", re.IGNORECASE)


def _number(text: str) -> float:
    whole, _, fraction = text.strip().replace(",", ".").rpartition(" ")
    if "/" in fraction:
        above, below = fraction.split("/")
        if float(below) == 0:
            raise ValueError("division by zero")
        return float(whole or 0) + float(above) / float(below)
    return float(text.replace(",", "."))


def _short(text: str, what: str) -> str:
    """The text, or ValueError where it is far too long to be read at all."""
    if len(text) > LONGEST:
        raise ValueError(f"{text[:20]!r}... is not a {what}: it has {len(text)} characters")
    return text


def parse_length(text: str, units: Units = "metric", small: bool = False) -> float:
    """Metres from "2 ft 3 1/2 in", "69 cm", "1.72". A bare number is in metres or feet (inches with ``small``).

    ValueError where it is no length.
    """
    rest = _short(text, "length").strip()
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
        total += _number(match.group(1)) * _LENGTHS[unit]
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


_TILT_SPAN = re.compile(r"^(-?\d+(?:\.\d+)?)\s*(?:to|-|–|\.\.)\s*(-?\d+(?:\.\d+)?)(?:\s*(?:by|step|every)\s*(\d+(?:\.\d+)?))?$")


def parse_tilts(text: str) -> list[float]:
    """Reachable tilts from a list ("15, 22, 29"), a range ("10 to 60 by 5") or a pasted hole table: one hole a line,
    its tilt the last number ("hole 3  36.5"). BriefError names the line that cannot be read."""
    if len(text) > LONGEST_TABLE:
        raise BriefError("mount.tilts", f"holds {len(text)} characters: give the tilts alone, {LONGEST_TABLE} are the most")
    lines = [line.strip() for line in text.replace("°", " ").replace("\t", " ").splitlines() if line.strip()]
    if not lines:
        raise BriefError("mount.tilts", "the list is empty: give every tilt that the frame reaches")
    if len(lines) == 1:
        span = _TILT_SPAN.match(lines[0])
        if span:
            low, high, step = float(span.group(1)), float(span.group(2)), float(span.group(3) or 1)
            if step <= 0 or high < low or (high - low) / step > 720:
                raise BriefError("mount.tilts", f"{lines[0]!r} is not a range such as 10 to 60 by 5")
            return [round(low + step * i, 6) for i in range(int((high - low) / step + 1e-9) + 1)]
        words = [word for word in re.split(r"[,;\s]+", lines[0]) if word]
        if not words:
            raise BriefError("mount.tilts", "the list is empty: give every tilt that the frame reaches")
        return [_tilt(word, 1) for word in words]
    if not any(char in text for char in "hH") and all(re.fullmatch(r"[-\d.,;\s]+", line) for line in lines):
        columns = [len([w for w in re.split(r"[,;\s]+", line) if w]) for line in lines]
        if max(columns) > 2:
            return [_tilt(word, row) for row, line in enumerate(lines, 1) for word in re.split(r"[,;\s]+", line) if word]
    tilts = []
    for row, line in enumerate(lines, 1):
        numbers = re.findall(r"-?\d+(?:\.\d+)?", line)
        if not numbers:
            if row == 1:
                continue  # a heading
            raise BriefError(f"mount.tilts line {row}", f"{line[:40]!r} holds no tilt")
        tilts.append(_tilt(numbers[-1], row))
    if not tilts:
        raise BriefError("mount.tilts", "the table holds no tilt")
    return tilts


def _tilt(word: str, row: int) -> float:
    try:
        value = float(word)
    except ValueError:
        raise BriefError(f"mount.tilts line {row}", f"{word[:20]!r} is not a tilt in degrees") from None
    if not -90 <= value <= 90:
        raise BriefError(f"mount.tilts line {row}", f"{value:g} degrees: a tilt lies from 0 (flat) to 90 (upright)")
    return value


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
    match = _SPEED.match(_short(text, "speed"))
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
