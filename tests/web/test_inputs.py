"""What a stored result follows from is declared beside it: whatever else changes in a brief, the result must stay the same."""

from __future__ import annotations

import copy
import io
from typing import Any

import pytest
from pypdf import PdfReader

from sundial.brief.model import Brief
from sundial.brief.read import brief_of
from sundial.progress import unwatched
from web.builds import registry
from web.builds.briefs import build_from_brief
from web.builds.results import PHYSICS, PLAN, SUMMARY, SURFACE, WEATHER, Results, forget_all
from web.cutting import station as cutting_station

MONTHS = [1.9, 2.8, 4.2, 5.1, 6.0, 6.9, 7.2, 6.3, 4.8, 3.1, 2.0, 1.6]
FIRST: dict[str, Any] = {
    "name": "First",
    "site": {"latitude": 42.9, "longitude": -6.1, "elevation": 870, "timezone": "Europe/Madrid"},
    "sky": {"kind": "monthly", "ghi": MONTHS, "temp_air": 11.0, "wind_speed": 2.8, "seed": 7},
    "ground": {"albedo": 0.2},
    "horizon": [[0, 2], [130, 9], [265, 8]],
    "readings": [{"bearing": 100, "declination": 2, "elevation": 5}],
    "leaf_months": [5, 6, 7, 8, 9],
    "yard": {"objects": [{"kind": "wall", "name": "Wall", "line": [[-6, -4], [6, -4]], "height": 1.8, "thickness": 0.4}]},
    "spot": {"x": 0.0, "y": 0.0, "parts": [{"name": "arm", "along": [0.3, 0.5], "up": [0.2, 0.9], "off": [0.05, 0.1]}]},
    "wiring": {"kind": "parallel", "strings": [[1, 2], [3, 4]]},
    "log": {"meter_error": 0.02},
    "bench": {"control": "manual", "manual_angle": 5.0},
    "panel": {"power": 430, "length": 1.722, "width": 1.134, "mass": 21.5, "gamma": -0.0034},
    "array": {"rows": 2, "columns": 2, "azimuth": 170, "clearance": 0.6},
    "mount": {"kind": "stepped", "tilts": [16, 29, 41, 57]},
    "frame": {"kind": "legs", "support_spacing": 1.5, "mass": 38, "frames": 2},
    "stand": {"on": "ground", "height": 0.4},
    "wind": {"gust": 28, "frame_mass": 160, "ballast": 860},
    "footing": {"kind": "ballast", "diameter": 0.5, "soil": "sandy gravel", "stored": 400},
    "snow": {"load": 0.6},
    "beams": [{"name": "rail", "section": "45x120 C24", "span": 1.9, "spacing": 1.6}],
    "stock": [{"section": "45x95 C24", "length": 4.8, "price": 14.5}],
    "pieces": [{"name": "shelf", "section": "45x95 C24", "length": 1.7, "count": 2}],
    "kerf": 0.003,
    "cutting": {"base": {"plate": 0.4}},
    "electrics": {"voc": 37.2, "isc": 14.2, "vmp": 31.1, "imp": 13.85, "beta": -0.0027, "min_temp": -15},
    "system": {"inverter": {"power": 1500}},
    "use": {"kind": "grid", "yearly": 2900, "shape": "home-evening", "tariff": {"export_limit": 1200}},
    "battery": {"usable": 3.0},
    "plan": {"settings": 2, "tilt_now": 36, "value_of_hour": 6},
    "worth": {"panel_cost": 165},
    "options": [{"row": "two-moves", "extra_cost": 60.0}],
    "room": 3,
}  # fmt: skip
# Every key of every section, told otherwise. Kinds stay where another kind would be another section.
OTHER: dict[str, Any] = {
    "name": "Other",
    "site": {"latitude": 39.4, "longitude": -4.6, "elevation": 310, "timezone": "Europe/Lisbon"},
    "sky": {"kind": "monthly", "ghi": [x + 0.1 for x in MONTHS], "dhi": [x * 0.4 for x in MONTHS], "temp_air": 13.0, "wind_speed": 3.4, "seed": 8, "learned_days": 12},
    "ground": {"albedo": 0.35},
    "horizon": [[0, 3], [140, 12], [250, 6]],
    "readings": [{"bearing": 90, "declination": 3, "elevation": 6, "kind": "leafy"}],
    "leaf_months": [4, 5, 6],
    "yard": {
        "objects": [{"kind": "post", "name": "Post", "at": [1, -3], "height": 3.8, "width": 0.12, "measured": [{"way": "paces", "paces": 12}]}],
        "slope": 3.0,
        "slope_toward": 150,
    },
    "boundaries": {"front": 7.5, "back": 3.25, "left": 12.0, "right": 4.5},
    "spot": {"x": 0.5, "y": 0.4, "split": {"groups": 2, "how": "beside", "distance": 0.4}, "parts": []},
    "wiring": {"kind": "series", "strings": [[1, 2, 3]], "unwired": [4], "string": "east"},
    "log": {"meter_error": 0.05},
    "bench": {
        "control": "sensor", "cell_angle": 25.0, "threshold": 0.08, "threshold_kind": "absolute", "averaging": 3.0, "noise": 3.0, "mismatch": 1.1, "dirt": 0.1,
        "shadow": [15, 17], "sunny": 190.0, "night": 12.0, "hysteresis": 1.4, "cycle": 6.0, "pulse": 2.0, "dull": "flat", "dull_after": 12.0, "night_to": "flat",
        "timeout": 50.0, "step": 6.0, "clock_error": 3.0, "drift": 1.0, "window": 25.0, "stow_gust": 17.0, "stow_release": 16.0, "backlash": 0.5,
        "position": "switches", "slip": 0.3, "manual_angle": 8.0, "north_error": 2.0,
        "places": {"night": 30.0, "storm": 5.0, "driving": 2.0, "away": 20.0},
    },
    "panel": {"power": 395, "length": 1.65, "width": 1.04, "mass": 19.0, "gamma": -0.0039, "bifaciality": 0.7, "blocks": 2, "half_cut": False},
    "array": {"rows": 1, "columns": 4, "orientation": "landscape", "azimuth": 200, "clearance": 0.9, "turned": 4.0},
    "mount": {"kind": "stepped", "tilts": [12, 33, 50], "min": 10, "max": 60, "step": 2.0, "both_sides": True},
    "frame": {
        "kind": "legs", "front_height": 0.7, "overhang": 0.1, "slope": 4.0, "cross_slope": 2.0, "mass": 44, "depth": 0.1, "frames": 3,
        "rear_heights": [1.2, 1.5, 1.9], "support_spacing": 1.3,
    },
    "stand": {
        "on": "flat-roof", "height": 3.1, "slope": 2.0, "fixings": {"count": 12, "lines_apart": 1.1, "rating": 9000.0}, "road_speed": 20.0,
        "house": {"height": 5.0, "width": 7.0, "aside": 1.0, "behind": 0.8, "depth": 5.0, "out": 0.4, "under": 5.2},
    },
    "wind": {
        "gust": 31, "surroundings": "built-up", "gust_height": 8.0, "gusts": [20.0 + m for m in range(12)][::-1], "blocked": True, "anchored": True,
        "carried_by": "pergola", "frame_mass": 190, "ballast": 700, "friction": 0.4, "factor": 1.3, "feet": [0.1, 1.4], "width": 2.5, "stow": False,
        "table": [[0, 0.6, 0.5], [90, 1.5, 1.2]], "in_plan": [1],
    },
    "footing": {
        "kind": "pad", "diameter": 0.4, "height": 1.0, "feet": 5, "soil": "clay", "fresh_fill": True, "frost_depth": 0.7, "depth": 0.9, "rating": 5000.0,
        "reduction": 0.6, "stored": 100, "levels": [{"date": "2026-03-01", "levels": [0.0, 0.01]}], "spacing": 1.2, "thread": 0.002,
    },
    "snow": {"load": None, "depth": 0.5, "slides": False},
    "beams": [{"name": "beam", "section": "45x145 C24", "span": 2.2, "spacing": 1.1, "members": 2, "joined": True, "outdoors": False, "load": 50.0, "stored": True, "carries": "floor", "beyond": [0.3, 0.4]}],
    "stock": [{"section": "45x120 C24", "length": 3.6, "count": 4, "price": 11.0}],
    "pieces": [{"name": "brace", "section": "45x120 C24", "length": 1.1, "supports": [0.4], "count": 1, "angle": 20.0, "foot": 10.0}],
    "kerf": 0.004,
    "cutting": {
        "sections": {"rail": "45x120 C24"}, "leave_out": ["purlin"], "default": "45x70 C24", "purlins": 3, "braces": False, "fixing": "clamps", "end_distance": 0.09,
        "bolt": 0.01, "least_rest": 0.5, "mitre_allowance": 0.003, "splices": "any", "overlap": 0.2, "parts": [{"name": "bracket", "price": 1.4, "pack": 2, "mass": 0.12}],
        "freight": 18.0, "tax": 0.2, "base": {"plate": 0.5, "bolt_circle": 0.32, "bolts": 6, "bolt": 0.02, "pole": 0.12, "turn": 30.0}, "longer": 2, "longer_rows": 1, "longer_way": "up", "gap": 0.03,
        "hole_pitch": 0.06, "done": ["a"],
    },
    "electrics": {
        "voc": 41.0, "isc": 11.2, "vmp": 34.0, "imp": 10.6, "beta": -0.0029, "alpha": 0.0004, "min_temp": -20, "max_temp": 41,
        "input": {"max_voltage": 450, "window": [80, 400], "max_current": 12, "inputs": 2}, "cable": {"length": 22, "area": 4}, "lead": 1.2, "boxes": "end",
        "leapfrog": True,
    },
    "system": {
        "losses": {"soiling": 0.03, "wiring": 0.01, "mismatch": 0.02, "light_induced": 0.0, "availability": 0.01, "ageing": 0.02}, "mounting": "raised",
        "inverter": {"power": 1300, "efficiency": 0.95}, "transposition": "perez",
    },
    "use": {
        "kind": "grid", "import_price": 0.31, "export_price": 0.04, "own_share": 0.5, "yearly": None, "monthly": [200.0] * 12, "shape": "workshop",
        "profile": None, "tariff": {
            "import": [{"price": 0.3}], "blocks": [{"up_to": 100, "price": 0.0}, {"price": 0.05}], "export": 0.03, "export_limit": 900,
            "credit": {"expires": 4, "payout": 0.01}, "standing": 4.0, "contract": {"added": 500, "export": 0.02},
        },
    },
    "battery": {"usable": 4.0, "charge": 2000, "discharge": 1800, "round_trip": 0.88, "reserve": 0.1, "more": 2.0},
    "plan": {
        "goal": "months", "months": [1, 2, 11], "demand": [90.0] * 12, "settings": 3, "cap": [50.0] * 12, "floor": [5.0] * 12, "weekdays": [5, 6], "year": 2027,
        "slack": 0.002, "tilt_now": 30, "minutes_per_move": 15, "people": 2, "value_of_hour": 9,
    },
    "worth": {"life": 18, "interest": 0.04, "price_growth": 0.01, "ageing": 0.006, "panel_cost": 150, "count_hours": True, "spent": 3100},
    "options": [{"name": "Mine", "row": "four-moves", "mount": None, "panels": {"count": 2}, "settings": 3, "off": True, "extra_cost": 80.0, "upkeep": 3.0, "minutes_per_move": 9.0}],
    "room": 5,
}  # fmt: skip
NOT_TOLD = {"format", "version", "group"}  # a group is other builds: its results name them as ``fellows``
SAME = {"kind"}  # of a section of that kind
# A file, a kind of its own, what goes not with swapped legs, and an older word for splices.
UNTOLD = {"use.profile", "options.mount", "frame.middle_supports", "cutting.splice"}


def results_of() -> list[registry.Result]:
    own = [result for station in registry.stations() for result in station.results if "logged" not in result.inputs]
    others = (
        "cutting_best",
        "yard_map_strip",
        "best_spots",
        "bench_year",
        "bench_beside",
    )  # of the code and inputs of others; years by the minute
    return [WEATHER, SURFACE, PLAN, SUMMARY, *(result for result in own if result.name not in others)]


def mixed(inputs: tuple[str, ...]) -> dict[str, Any]:
    """The first brief with every key told otherwise that is not among the inputs."""
    found: dict[str, Any] = copy.deepcopy(OTHER)
    for key in inputs:
        section, _, inner = key.partition(".")
        if section not in found:
            continue
        if section not in FIRST:
            del found[section]
        elif not inner:
            found[section] = FIRST[section]
        elif isinstance(found[section], list):
            rows = found[section][: len(FIRST[section])]
            found[section] = [
                {**new, inner: old.get(inner)} if inner in old else {k: v for k, v in new.items() if k != inner}
                for new, old in zip(rows, FIRST[section], strict=True)
            ]
        elif inner in FIRST[section]:
            found[section][inner] = FIRST[section][inner]
        else:
            found[section].pop(inner, None)
    if "plan" in inputs and "wind" not in inputs:
        found["wind"]["in_plan"] = []  # a plan obeys the caps of the wind: these are in its key, whatever they follow from
    return found


def made(person: Any, result: registry.Result, told: dict[str, Any], **about: Any) -> tuple[str, Any]:
    """The key of a result and what it comes to, computed from nothing."""
    forget_all()
    build = build_from_brief(person, brief_of({"format": "crooked-sundial-brief", "version": 1, **told}), **about)
    results, params = Results(build), dict[str, str]()
    if sheet := sheet_of(result):
        params = {**(sheet.params(build) if sheet.params else {}), "live": "http://somewhere/"}
    found = result.codec.pack(result.compute(results, params, unwatched))
    if found.startswith(b"%PDF"):
        found = "\n".join(page.extract_text() for page in PdfReader(io.BytesIO(found)).pages)
    return results.key(result, params), found


def sheet_of(result: registry.Result) -> registry.Export | None:
    """The file that a result is printed to; its question names the build, its units and the day."""
    files = [export for station in registry.stations() for export in station.exports]
    return next((one for one in files if one.result == result.name), None)


def test_every_key_of_a_brief_is_told_otherwise():
    def differ(one: Any, other: Any, path: str) -> list[str]:
        if isinstance(one, dict) and isinstance(other, dict):
            return [line for key in one for line in differ(one[key], other.get(key), f"{path}.{key}".strip("."))]
        if isinstance(one, list) and isinstance(other, list) and one and isinstance(one[0], dict) and len(one) == len(other):
            return [line for a, b in zip(one, other, strict=True) for line in differ(a, b, path)]
        return [path] if one == other else []

    first, other = (
        Brief.model_validate({"format": "crooked-sundial-brief", "version": 1, **told}).model_dump() for told in (FIRST, OTHER)
    )
    same = {path for path in differ(first, other, "") if path not in NOT_TOLD and path.rpartition(".")[2] not in SAME}
    assert same == UNTOLD, "a new key must be told in OTHER, other than in FIRST"


@pytest.mark.parametrize("result", results_of(), ids=lambda result: result.name)
def test_a_result_follows_from_nothing_but_its_inputs(person, result, monkeypatch):
    monkeypatch.setattr(cutting_station, "AT_ONCE", cutting_station.PATIENT)
    about = {f"build.{name}": value for name, value in (("units", "us"), ("currency", "$"))}
    asked = sheet_of(result) is not None
    changed = {key.partition(".")[2]: value for key, value in about.items() if key not in result.inputs and not asked}
    key, first = made(person, result, FIRST)
    other_key, other = made(person, result, mixed(result.inputs) | ({"name": "First"} if asked else {}), **changed)
    assert other_key == key, "its key follows from something that its inputs do not name"
    assert other == first, "it follows from something that its inputs do not name"


def one_at_a_time() -> list[tuple[str, ...]]:
    """Sections that a year's energy follows from, each by itself; key by key where a digest names some keys of a section only."""
    apart = ("site", "panel", "frame", "system")
    keys = [(f"{section}.{inner}",) for section in apart for inner in OTHER[section] if inner != "kind"]
    return [("array.rows", "array.columns"), ("array.azimuth",), ("mount.tilts",), *keys] + [
        (section,) for section in PHYSICS if section not in (*apart, "array", "mount")
    ]


def test_a_process_that_has_seen_other_builds_answers_as_a_new_one(person):
    """What a process keeps between requests is found by what it follows from: one key changed, and nothing old is given."""

    def energy(keys: tuple[str, ...]) -> float:
        told = copy.deepcopy(FIRST)
        for key in keys:
            section, _, inner = key.partition(".")
            if inner:
                told[section][inner] = OTHER[section][inner]
            else:
                told[section] = OTHER[section]
        build = build_from_brief(person, brief_of({"format": "crooked-sundial-brief", "version": 1, **told}))
        return float(Results(build).study.surface().energy.sum())

    forget_all()
    first = energy(())
    warm = {keys: energy(keys) for keys in one_at_a_time()}
    assert energy(()) == first
    for keys, found in warm.items():
        forget_all()
        assert energy(keys) == pytest.approx(found, rel=1e-12), keys
    assert len({round(found, 6) for found in warm.values()}) > len(warm) / 2, "most of these keys change the year"
