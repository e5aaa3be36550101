"""Latitudes and longitudes as people write and paste them."""

from __future__ import annotations

import re
from typing import Literal

from sundial.quantities import LONGEST

_NUMBER = r"[+-]?\d+(?:[.,]\d+)?"
_MARKS = str.maketrans(dict.fromkeys("°º˚:'′’´`\"″”“", " ") | {"−": "-", "–": "-", "(": " ", ")": " ", "[": " ", "]": " "})
_WORDS = (
    (r"north(?:ing)?", "N"),
    (r"south", "S"),
    (r"east", "E"),
    (r"west", "W"),
    (r"geo|lat(?:itude)?|lon(?:g(?:itude)?)?|lng", " "),
)


def _plain(text: str) -> str:
    """Marks to spaces, words to letters: "42° 54' N" as "42 54 N"."""
    text = re.sub(r"(?i)(\d ?m ?\d+(?:[.,]\d+)?) ?s(?![a-z])", r"\1 ", text)  # 6d06m12s: seconds, not south
    text = re.sub(r"(?i)(?<=\d) ?(?:degrees|degree|deg|d|minutes|min|m|seconds|sec)(?![a-z])\.?", " ", text)
    text = re.sub(r"(?i)\b(?:geo|lat|latitude|lon|long|longitude|lng)[:=]", " ", text).translate(_MARKS)
    for word, letter in _WORDS:
        text = re.sub(rf"(?i)\b(?:{word})\b", f" {letter} ", text)
    return re.sub(r"(?i)(?<![a-z])([nsew])(?![a-z])", lambda found: f" {found.group(1).upper()} ", text).strip(" ,;=")


def parse_angle(text: str, axis: Literal["latitude", "longitude"]) -> float:
    """Degrees from "42.9", "-6,1", "42° 54' N", "121 40 W", "W121d40m". ValueError where it is no such angle."""
    wrong = f"{text.strip()[:40]!r} is not an angle such as 42.9, 42° 54' N or 6.1 W"
    if len(text) > LONGEST:
        raise ValueError(wrong)
    words = _plain(text).split()
    letters = [word for word in words if word in {"N", "S", "E", "W"}]
    if len(letters) > 1 or (letters and letters[0] not in (words[0], words[-1])):
        raise ValueError(wrong)
    numbers = [word for word in words if word not in letters]
    if not 1 <= len(numbers) <= 3 or not all(re.fullmatch(_NUMBER, word) for word in numbers):
        raise ValueError(wrong)
    degrees, minutes, seconds = ([float(word.replace(",", ".")) for word in numbers] + [0.0, 0.0])[:3]
    if any(word[0] in "+-" for word in numbers[1:]) or any(
        value % 1 for value in (degrees, minutes, seconds)[: len(numbers) - 1]
    ):
        raise ValueError(wrong)
    if minutes >= 60 or seconds >= 60:
        raise ValueError("minutes and seconds of arc must be under 60")
    sign = -1.0 if numbers[0].startswith("-") else 1.0
    if letters:
        if letters[0] not in ("NS" if axis == "latitude" else "EW"):
            raise ValueError(f"a {axis} ends in {'N or S' if axis == 'latitude' else 'E or W'}, not {letters[0]}")
        if numbers[0][0] in "+-":
            raise ValueError("give either a sign or a letter, not both")
        sign = -1.0 if letters[0] in "SW" else 1.0
    return sign * (abs(degrees) + minutes / 60 + seconds / 3600)


def split_pair(text: str) -> tuple[str, str] | None:
    """Latitude and longitude out of a pasted pair such as "42.9, -6.1", "42°54'N 6°06'W", "W 6 06, N 42 54" or
    "47,6; -121,7"; None where it is no pair."""
    if len(text) > LONGEST:
        return None
    plain = _between(_plain(text))
    letters = [(found.start(), found.group()) for found in re.finditer("[NSEW]", plain)]
    if len(letters) == 2:
        (first, one), (second, other) = letters
        cut = second if not plain[:first].strip() else first + 1
        halves = " ".join(plain[:cut].strip(" |").split()), " ".join(plain[cut:].strip(" |").split())
        if (one in "NS") == (other in "NS") or not all(re.search(r"\d", half) for half in halves):
            return None
        return halves if one in "NS" else (halves[1], halves[0])
    if letters:
        return None
    if plain.count("|") == 1:
        latitude, longitude = (half.strip() for half in plain.split("|"))
        return (latitude, longitude) if latitude and longitude and _numeric(latitude + " " + longitude) else None
    words = plain.split()
    if "|" in plain or not _numeric(plain) or len(words) not in (2, 4, 6):
        return None
    half = len(words) // 2
    return " ".join(words[:half]), " ".join(words[half:])


def _numeric(text: str) -> bool:
    return all(re.fullmatch(_NUMBER, word) for word in text.split())


def _between(text: str) -> str:
    """Commas and semicolons that part the pair as "|"; those that stand for a decimal point as points."""
    if ";" in text:
        return text.replace(";", "|").replace(",", ".")
    if "." in text or re.search(r",\s|\s,|,[+-]", text):
        found = re.sub(r",(?=[\s+-])|(?<=\s),", "|", text)
        return found.replace(",", "|" if "." in text else ".")
    parts = text.split(",")
    if len(parts) == 4:  # 47,6,121,67
        return f"{parts[0]}.{parts[1]}|{parts[2]}.{parts[3]}"
    return text.replace(",", ".")  # 42,9: one number with a decimal comma


def wrap_longitude(degrees: float) -> float:
    """The same meridian from -180 to 180."""
    return (degrees + 180) % 360 - 180 if not -180 <= degrees <= 180 else degrees
