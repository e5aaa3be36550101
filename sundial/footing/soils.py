"""Soils by name, with what they are presumed to bear."""

from __future__ import annotations

import json
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any


@dataclass(frozen=True)
class Soil:
    """``bearing`` Pa; ``lateral`` Pa per m of depth; None where a soil bears nothing that could be counted on."""

    name: str
    bearing: float | None
    lateral: float | None
    say: str


@cache
def _data() -> dict[str, Any]:
    found: dict[str, Any] = json.loads((Path(__file__).parent / "data" / "soils.json").read_text("utf-8"))
    return found


def soil_named(name: str) -> Soil:
    """A soil by name; KeyError where there is none."""
    held = _data()["soils"][name]
    bearing, lateral = (None if held[key] is None else held[key] * 1000.0 for key in ("bearing", "lateral"))
    return Soil(name, bearing, lateral, held["say"])


def soils() -> list[Soil]:
    return [soil_named(name) for name in _data()["soils"]]


def source() -> str:
    """Where the values are from, in one line."""
    return str(_data()["source"])


def concrete_weight() -> float:
    """Of plain concrete, N/m3."""
    return float(_data()["concrete"]["weight"]) * 1000.0


def frictions() -> list[tuple[float, str]]:
    """Frictions that people meet, each with what lies on what."""
    return [(one["value"], one["say"]) for one in _data()["frictions"]]
