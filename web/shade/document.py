"""The yard as the browser holds and sends it: one JSON document, in which people's own words for lengths may stand."""

from __future__ import annotations

import json
from math import isfinite
from typing import Any

from sundial.brief.geojson import mend_names
from sundial.errors import BriefError
from sundial.quantities import Units, parse_length
from web.builds.group import without_arrays_of
from web.builds.models import Build

LARGEST = 400_000  # characters
LARGEST_NUMBER = 1e9
STRANGE = {"\0", *map(chr, range(0xD800, 0xE000))}  # no text: the database keeps neither
LENGTHS = (
    "height", "ridge", "crown_radius", "crown_base", "trunk_radius", "thickness", "width", "base", "x", "y", "clearance",
    "breadth", "slope_length", "distance", "front", "back", "left", "right", "eye_height", "stick", "stick_shadow", "shadow", "pace",
)  # fmt: skip
POINTS = ("footprint", "line", "at", "along", "up", "off", "area")
SHARES = ("open", "light_in_leaf", "light_bare")
ANGLES = (
    "roof_azimuth",
    "slope",
    "slope_toward",
    "azimuth",
    "tilt",
    "elevation",
    "bearing",
    "declination",
    "angle",
    "foot_angle",
    "paces",
)
KEYS = (
    "objects",
    "slope",
    "slope_toward",
    "x",
    "y",
    "azimuth",
    "clearance",
    "split",
    "parts",
    "wiring",
    "skyline",
    "leaf_months",
    "area",
    "picture",
    "boundaries",
)


NUMBER = (int, float)
SHAPES: dict[str, type | tuple[type, ...]] = {
    **dict.fromkeys(("slope", "slope_toward", "x", "y", "azimuth", "clearance"), NUMBER),
    **dict.fromkeys(("objects", "parts", "skyline", "leaf_months", "area"), list),
    **dict.fromkeys(("split", "wiring", "picture", "boundaries"), dict),
}


def document_of(build: Build) -> dict[str, Any]:
    """What the drawing needs of a build."""
    yard, frame = build.yard, build.frame
    return {
        "objects": without_arrays_of(yard.obstacles, build),
        "slope": yard.slope,
        "slope_toward": yard.slope_toward,
        "x": yard.x,
        "y": yard.y,
        "azimuth": frame.azimuth,
        "clearance": frame.clearance,
        "split": yard.split,
        "parts": yard.parts,
        "wiring": yard.settled_wiring(),
        "skyline": yard.skyline,
        "leaf_months": yard.leaf_months,
        "area": yard.area,
        "picture": yard.picture_place,
        "boundaries": yard.boundaries,
    }


def read_document(text: str, units: Units) -> tuple[dict[str, Any], list[str]]:
    """A document with its lengths in metres, and what was mended in words. BriefError names what cannot be read."""
    if len(text) > LARGEST:
        raise BriefError("yard", "holds far too much: 200 things are the most")
    try:
        held = json.loads(text)
    except (ValueError, RecursionError):  # no JSON, numbers of thousands of digits, or nested without end
        raise BriefError("yard", "did not arrive whole: change something and it is sent again") from None
    if not isinstance(held, dict) or set(held) - set(KEYS):
        raise BriefError("yard", "did not arrive whole: change something and it is sent again")
    made = _settled(held, units, "yard")
    for key, kinds in SHAPES.items():
        value = made.get(key)
        if value is not None and (isinstance(value, bool) or not isinstance(value, kinds)):
            raise BriefError(f"yard.{key}", "did not arrive whole: change something and it is sent again")
    told: list[str] = []
    objects = made.get("objects") or []
    for index, thing in enumerate(objects):
        if not isinstance(thing, dict) or not isinstance(thing.get("name"), str):
            raise BriefError(f"yard.objects[{index}]", "is no thing with a name")
        thing["name"] = thing["name"].strip()[:60]
        if not thing["name"]:
            raise BriefError(f"yard.objects[{index}].name", "give it a name: its shade is priced under that name")
        objects[index] = {key: value for key, value in thing.items() if value is not None}
    told += mend_names(objects)
    split = made.get("split")
    if split is not None and (isinstance(split.get("groups"), bool) or not isinstance(split.get("groups", 1), int)):
        raise BriefError("yard.split.groups", "must be a whole number of groups")
    _check_drawn(made)
    made["skyline"], mended = settled_skyline(made.get("skyline") or [])
    return made, told + mended


def _check_drawn(made: dict[str, Any]) -> None:
    """What only the drawing uses: the part to search, and where the picture lies."""

    def number(value: Any) -> bool:
        return isinstance(value, int | float) and not isinstance(value, bool) and abs(value) < 1e6

    area, picture = made.get("area"), made.get("picture")
    pairs = isinstance(area, list) and all(isinstance(p, list) and len(p) == 2 and all(map(number, p)) for p in area)
    if area is not None and not pairs:
        raise BriefError("yard.area", "must be corners of numbers")
    names = ("x", "y", "width", "height", "scale")
    placed = isinstance(picture, dict) and all(number(picture.get(name)) for name in names) and picture["scale"] > 0
    if picture is not None and not placed:
        raise BriefError("yard.picture", "needs its place, its size and a scale above 0")


def set_document(build: Build, held: dict[str, Any]) -> None:
    """Put a document into a build's parts without saving them."""
    yard, frame = build.yard, build.frame
    yard.obstacles = held.get("objects") or []
    for name in ("split", "leaf_months", "area"):
        setattr(yard, name, held.get(name))
    for name, usual in (("slope", 0.0), ("slope_toward", 180.0), ("x", 0.0), ("y", 0.0)):
        setattr(yard, name, usual if held.get(name) is None else held[name])
    yard.parts, yard.skyline = held.get("parts") or [], held.get("skyline") or []
    yard.wiring = {**(held.get("wiring") or {"kind": "series", "strings": []}), "of": [frame.rows, frame.columns]}
    yard.picture_place = held.get("picture")
    if yard.split and yard.split.get("groups", 1) <= 1:
        yard.split = None
    yard.boundaries = {side: metres for side, metres in (held.get("boundaries") or {}).items() if metres is not None}
    frame.azimuth = held.get("azimuth")
    if held.get("clearance") is not None:
        frame.clearance = held["clearance"]


def settled_skyline(readings: list[Any]) -> tuple[list[dict[str, Any]], list[str]]:
    """Readings sorted and each azimuth once, with what was mended in words."""
    told = []
    for index, reading in enumerate(readings):
        good = isinstance(reading, dict) and all(
            isinstance(reading.get(key), int | float) and not isinstance(reading[key], bool) for key in ("azimuth", "elevation")
        )
        if not good:
            raise BriefError(f"horizon[{index}]", "needs an azimuth and an elevation")
        if not 0 <= reading["azimuth"] <= 360:
            raise BriefError(f"horizon[{index}]", f"azimuth {reading['azimuth']:g} must be from 0 to 360 degrees")
        if not 0 <= reading["elevation"] <= 90:
            raise BriefError(f"horizon[{index}]", f"elevation {reading['elevation']:g} must be from 0 to 90 degrees")
        reading["azimuth"] %= 360
    by_azimuth = {round(reading["azimuth"], 2): reading for reading in readings}
    if len(by_azimuth) < len(readings):
        told.append("Two readings had the same azimuth; the later one counts.")
    return [by_azimuth[azimuth] for azimuth in sorted(by_azimuth)], told


def _settled(value: Any, units: Units, path: str, key: str = "") -> Any:
    if isinstance(value, dict):
        return {name: _settled(inner, units, f"{path}.{name}", name) for name, inner in value.items()}
    if isinstance(value, list):
        return [_settled(inner, units, f"{path}[{index}]", key) for index, inner in enumerate(value)]
    if isinstance(value, int | float) and not abs(value) < LARGEST_NUMBER:
        raise BriefError(path, "is no number that a yard can hold")
    if isinstance(value, str) and (STRANGE & set(value)):
        raise BriefError(path, "holds a character that cannot be kept")
    if not isinstance(value, str) or key not in (*LENGTHS, *POINTS, *SHARES, *ANGLES):
        return value
    typed = value.strip()
    if not typed:
        return None
    try:
        if key in SHARES:
            return _number(typed.rstrip("% ")) / 100
        if key in ANGLES:
            return _number(typed.rstrip("° "))
        return parse_length(typed, units)
    except ValueError as error:
        said = str(error) if key in (*LENGTHS, *POINTS) else f"{typed!r} is not a number"
        raise BriefError(path, said) from None


def _number(typed: str) -> float:
    value = float(typed.replace(",", ".").replace("−", "-"))
    if not isfinite(value):
        raise ValueError(typed)
    return value
