"""How a use lies in the hours of the year."""

from __future__ import annotations

import json
from functools import cache
from importlib.resources import files
from typing import Any

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAY_OF_HOUR, MONTH_LENGTHS, MONTH_OF_HOUR

Floats = NDArray[np.float64]


@cache
def shapes() -> dict[str, Any]:
    """The shapes by their key, with names for a screen. Source: data/shapes.json."""
    found: dict[str, Any] = json.loads((files("sundial.balance") / "data" / "shapes.json").read_text("utf-8"))
    return {key: value for key, value in found.items() if key != "source"}


def shape_of_year(name: str, wall: NDArray[np.int64], weekday: NDArray[np.int64], temp_air: Floats) -> Floats:
    """Weights of the hours (8760,). ``wall``: hour of the clock (8760,); ``weekday`` (365,), 0 Monday; ``temp_air`` degC (8760,). A cold
    store's weight grows with the difference between the air and its inside, and rests at a fifth of that of 20 degrees more."""
    held = shapes()[name]
    workday = np.array(held["workday"], dtype=float)
    weekend = np.array(held.get("weekend", held["workday"]), dtype=float)
    weights: Floats = np.where(weekday[DAY_OF_HOUR] < 5, workday[wall], weekend[wall])
    if "inside" in held:
        weights = weights * np.maximum((temp_air - held["inside"]) / 20.0, 0.2)
    return weights


def to_months(weights: Floats, monthly: Floats) -> Floats:
    """Weights (8760,) scaled so that the months sum to ``monthly`` (12,) kWh; Wh of every hour. A month whose weights are all zero is
    spread evenly."""
    sums = np.bincount(MONTH_OF_HOUR, weights, 12)
    even = sums <= 0
    hours = np.array(MONTH_LENGTHS) * 24.0
    scale = np.where(even, 0.0, monthly * 1000 / np.where(even, 1.0, sums))
    flat = np.where(even, monthly * 1000 / hours, 0.0)
    found: Floats = weights * scale[MONTH_OF_HOUR] + flat[MONTH_OF_HOUR]
    return found


def to_year(weights: Floats, yearly: float) -> Floats:
    """Weights (8760,) scaled so that they sum to ``yearly`` kWh; Wh of every hour."""
    return weights * (yearly * 1000 / float(weights.sum()))
