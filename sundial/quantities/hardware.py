"""Bolts, screws and what is sold by the metre, as a shop names them where people think in feet: the metric name stays in brackets."""

from __future__ import annotations

import re
from math import ceil

from sundial.quantities.both import in_both
from sundial.quantities.lengths import FOOT, INCH, Units, format_length

# Nearest inch bolts for clearance holes of metric ones (ASME B18.2.1 against ISO 4014); wood screws by their shank (ASME B18.6.1).
_BOLTS = {5: "#10", 6: "1/4 in", 8: "5/16 in", 10: "3/8 in", 12: "1/2 in", 16: "5/8 in", 20: "3/4 in", 24: "1 in"}
_SCREWS = {"4": "#8", "4.5": "#9", "5": "#10", "6": "#14", "6.5": "1/4 in", "8": "5/16 in", "10": "3/8 in"}
_NAMED = re.compile(r"\b(M(?P<bolt>\d+)|(?P<screw>\d+(?:\.\d)?)(?= x ))(?: x (?P<long>\d+))?\b")
_SOLD = re.compile(r", (m2|m)$")
_QUARTER = INCH / 4


def hardware_name(name: str, units: Units) -> str:
    """ "bolt 5/16 in x 1 in (M8 x 20)" for "bolt M8 x 20": lengths up to the next quarter of an inch, so that the grip stays held. What is sold by
    the metre or the square metre loses the unit, which stands with its count (`hardware_count`)."""
    name = _SOLD.sub("", name)
    if units == "metric":
        return name
    found = _NAMED.search(name)
    size = found and (_BOLTS.get(int(found["bolt"])) if found["bolt"] else _SCREWS.get(found["screw"]))
    if not found or not size:
        return in_both(name, units)
    long = f" x {format_length(ceil(int(found['long']) / 1000 / _QUARTER - 1e-9) * _QUARTER, 'us')}" if found["long"] else ""
    return f"{name[: found.start()]}{size}{long} ({found[0]}){name[found.end() :]}"


def hardware_count(name: str, count: int, units: Units) -> str:
    """How many, with the unit where it is sold by the metre ("7 m", "23 ft") or the square metre."""
    sold = _SOLD.search(name)
    if not sold:
        return str(count)
    if units == "metric":
        return f"{count} {'m²' if sold[1] == 'm2' else 'm'}"
    return f"{ceil(count / FOOT**2 - 1e-9)} sq ft" if sold[1] == "m2" else f"{ceil(count / FOOT - 1e-9)} ft"
