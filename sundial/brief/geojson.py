"""A yard as GeoJSON (RFC 7946 geometries) in plan metres, x east and y north; the properties are the brief's own keys."""

from __future__ import annotations

import json
from dataclasses import dataclass
from math import cos, radians
from typing import Any

from sundial.brief.model import BuildingBrief, FenceBrief, OtherArrayBrief, PostBrief, RailBrief, TreeBrief
from sundial.errors import BriefError
from sundial.sun import Site

LARGEST = 2_000_000  # bytes
MOST = 200
DEGREE = 111_320.0  # m along a meridian, and along the equator; within 0.6 % everywhere
KIND_OF = {"Polygon": "building", "Point": "tree", "LineString": "fence"}
SHAPES = {
    "building": "Polygon",
    "tree": "Point",
    "post": "Point",
    "fence": "LineString",
    "wall": "LineString",
    "rail": "LineString",
    "array": "Point",
}
KEYS = {"Polygon": "footprint", "Point": "at", "LineString": "line"}
KNOWN = {
    "building": set(BuildingBrief.model_fields),
    "tree": set(TreeBrief.model_fields),
    "post": set(PostBrief.model_fields),
    **dict.fromkeys(("fence", "wall"), set(FenceBrief.model_fields)),
    "rail": set(RailBrief.model_fields),
    "array": set(OtherArrayBrief.model_fields),
}


@dataclass(frozen=True)
class YardFile:
    """Objects as a brief holds them, and what was mended on the way in words."""

    objects: list[dict[str, Any]]
    notes: tuple[str, ...]


def read_yard_geojson(data: bytes, site: Site) -> YardFile:
    """Read a yard. Coordinates that are plainly longitude and latitude near the site are turned into metres about it.

    BriefError names the feature that cannot be read.
    """
    if len(data) > LARGEST:
        raise BriefError("", "that file is far too large for a yard")
    try:
        held = json.loads(data.decode("utf-8-sig"))
    except (UnicodeDecodeError, json.JSONDecodeError, RecursionError):
        raise BriefError("", "that file is not GeoJSON") from None
    features = held.get("features") if isinstance(held, dict) else None
    if not isinstance(features, list):
        raise BriefError("", "that file is not a GeoJSON FeatureCollection")
    if len(features) > MOST:
        raise BriefError("features", f"holds {len(features)} things; {MOST} are the most")
    objects, notes = [], []
    foreign: set[str] = set()
    shaped = [_shape(index, feature) for index, feature in enumerate(features)]
    every = [point for _, points, _ in shaped for point in points]
    degrees = bool(every) and _plainly_degrees(every, site)
    if degrees:
        notes.append("The coordinates were longitude and latitude; they are metres about the place now.")
    for index, (kind, points, properties) in enumerate(shaped):
        plan = [_about(point, site) if degrees else [float(point[0]), float(point[1])] for point in points]
        shape = SHAPES[kind]
        if shape == "Polygon" and len(plan) > 1 and plan[0] == plan[-1]:
            plan = plan[:-1]
        used = {key: value for key, value in properties.items() if key in KNOWN[kind]}
        foreign |= set(properties) - set(used)
        made = {**used, "kind": kind, KEYS[shape]: plan[0] if shape == "Point" else plan}
        made["name"] = str(properties.get("name") or f"{kind.capitalize()} {index + 1}")[:60]
        objects.append(made)
    if foreign:
        told = ", ".join(sorted(foreign)[:6]) + (" and more" if len(foreign) > 6 else "")
        notes.append(f"Properties that mean nothing here were left out: {told}.")
    notes += mend_names(objects)
    return YardFile(objects, tuple(notes))


def mend_names(objects: list[dict[str, Any]]) -> list[str]:
    """Give things of the same name different ones, in place; words for what was changed."""
    seen: set[str] = set()
    told = []
    for thing in objects:
        name, number = thing["name"], 2
        while thing["name"] in seen:
            thing["name"] = f"{name[:56]} {number}"
            number += 1
        if thing["name"] != name:
            told.append(f"Two things were called “{name}”: one is “{thing['name']}” now.")
        seen.add(thing["name"])
    return told


def _shape(index: int, feature: Any) -> tuple[str, list[Any], dict[str, Any]]:
    where = f"features[{index}]"
    geometry = feature.get("geometry") if isinstance(feature, dict) else None
    shape = geometry.get("type") if isinstance(geometry, dict) else None
    if geometry is None or not isinstance(shape, str) or shape not in KIND_OF:
        raise BriefError(f"{where}.geometry", "must be a Point, LineString or Polygon")
    points, properties = geometry.get("coordinates"), feature.get("properties") or {}
    if not isinstance(properties, dict):
        raise BriefError(f"{where}.properties", "must be an object of names and values")
    try:
        json.dumps(properties, allow_nan=False)
    except ValueError:
        raise BriefError(f"{where}.properties", "holds a number that is none") from None
    kind = properties.get("kind", KIND_OF[shape])
    if not isinstance(kind, str) or SHAPES.get(kind) != shape:
        raise BriefError(f"{where}.properties.kind", f"{kind!r} cannot be drawn as a {shape}")
    if shape == "Polygon":
        if not isinstance(points, list) or not points:
            raise BriefError(f"{where}.geometry.coordinates", "holds no ring")
        if len(points) > 1:
            raise BriefError(f"{where}.geometry.coordinates", "has a hole in it: draw the parts around it one by one")
        points = points[0]
    if shape == "Point":
        points = [points]
    if not isinstance(points, list):
        raise BriefError(f"{where}.geometry.coordinates", "must be pairs of numbers")
    for point in points:
        good = isinstance(point, list) and len(point) >= 2 and all(isinstance(v, int | float) and abs(v) < 1e9 for v in point[:2])
        if not good:
            raise BriefError(f"{where}.geometry.coordinates", "must be pairs of numbers")
    return kind, points, {key: value for key, value in properties.items() if key != "kind"}


def _plainly_degrees(points: list[Any], site: Site) -> bool:
    near = all(abs(p[0] - site.longitude) < 0.05 and abs(p[1] - site.latitude) < 0.05 for p in points)
    span = max(max(p[i] for p in points) - min(p[i] for p in points) for i in (0, 1))
    # About 0, 0 metres and degrees look alike: there only a yard of some centimetres is taken for degrees.
    return near and (max(abs(site.latitude), abs(site.longitude)) > 0.1 or 0 < span < 0.01)


def _about(point: Any, site: Site) -> list[float]:
    east = (point[0] - site.longitude) * DEGREE * cos(radians(site.latitude))
    return [round(east, 2), round((point[1] - site.latitude) * DEGREE, 2)]


def write_yard_geojson(objects: list[dict[str, Any]]) -> dict[str, Any]:
    """The yard as a FeatureCollection in metres."""
    features = []
    for thing in objects:
        shape = SHAPES[thing["kind"]]
        points = thing[KEYS[shape]]
        coordinates = [[*points, points[0]]] if shape == "Polygon" else points
        properties = {key: value for key, value in thing.items() if key != KEYS[shape] and value is not None}
        features.append({"type": "Feature", "geometry": {"type": shape, "coordinates": coordinates}, "properties": properties})
    return {"type": "FeatureCollection", "coordinates_are": "metres east and north", "features": features}
