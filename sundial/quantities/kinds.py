"""Every other quantity as people write it: mass, force, pressure, temperature, area, volume, wire, power and energy, in and out of SI.

One grammar: a number (a decimal comma or point, a fraction) and a unit of either system; a bare number is in the unit that stands beside the
field. What is written for a field has all its digits, what is told in a sentence is rounded.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from math import log, pi

from sundial.quantities.lengths import FOOT, NUMBER, Units, read_number, short_enough

POUND, POUND_FORCE = 0.45359237, 4.4482216152605  # kg (exact, 1959); N (of standard gravity)
PSF, PSI = 47.88025898033584, 6894.757293168361  # Pa
SQUARE_FOOT, GALLON = FOOT**2, 0.003785411784  # m2; m3 (US liquid gallon)
CELSIUS = 273.15


@dataclass(frozen=True)
class Kind:
    """One quantity, kept in ``si``. ``units``: how each is spelled (lower case), its size in that unit and what is added; ``bare``: the unit of a bare
    number in each system, in which it is written too; ``steps``: in which unit it is told from which size on, with how many decimals; ``such``: an
    example for a refusal; ``parts``: a larger and a smaller unit that may stand together ("24 lb 6 oz")."""

    name: str
    si: str
    units: Mapping[str, tuple[float, float]]
    bare: Mapping[Units, str]
    steps: Mapping[Units, tuple[tuple[float, str, int], ...]]
    such: str
    parts: tuple[str, str] | None = None


def _sizes(**units: float) -> dict[str, tuple[float, float]]:
    return {name: (size, 0.0) for name, size in units.items()}


_LB = {"lb": (POUND, 0.0), "lbs": (POUND, 0.0), "pound": (POUND, 0.0), "pounds": (POUND, 0.0)}
_LBF = {"lbf": (POUND_FORCE, 0.0), "lb": (POUND_FORCE, 0.0), "lbs": (POUND_FORCE, 0.0), "pounds": (POUND_FORCE, 0.0)}
_AREA_LOAD = {"psf": (PSF, 0.0), "lb/ft2": (PSF, 0.0), "lb/sq ft": (PSF, 0.0), "kn/m2": (1000.0, 0.0), "n/m2": (1.0, 0.0)}

MASS = Kind(
    "mass", "kg", {**_sizes(kg=1.0, g=0.001, t=1000.0, oz=POUND / 16), **_LB}, {"metric": "kg", "us": "lb"},
    {"metric": ((0.0, "kg", 1), (10.0, "kg", 0)), "us": ((0.0, "lb", 1), (10 * POUND, "lb", 0))}, "24 kg or 53 lb", ("lb", "oz"),
)  # fmt: skip
FORCE = Kind(
    "force", "N", {**_sizes(n=1.0, kn=1000.0, kgf=9.80665, kip=1000 * POUND_FORCE, kips=1000 * POUND_FORCE), **_LBF}, {"metric": "N", "us": "lbf"},
    {"metric": ((0.0, "N", 0), (1000.0, "kN", 1)), "us": ((0.0, "lbf", 0), (10000 * POUND_FORCE, "kip", 1))}, "900 N, 1.2 kN or 200 lbf",
)  # fmt: skip
PRESSURE = Kind(
    "pressure", "Pa", {**_sizes(pa=1.0, kpa=1000.0, mpa=1e6, psi=PSI, ksi=1000 * PSI), **_AREA_LOAD}, {"metric": "Pa", "us": "psf"},
    {"metric": ((0.0, "Pa", 0), (10000.0, "kPa", 0)), "us": ((0.0, "psf", 1), (10 * PSF, "psf", 0))}, "480 Pa or 10 psf",
)  # fmt: skip
STRESS = Kind(
    "stress", "Pa", PRESSURE.units, {"metric": "MPa", "us": "psi"}, {"metric": ((0.0, "MPa", 1),), "us": ((0.0, "psi", 0),)}, "11 MPa or 1600 psi",
)  # fmt: skip
AREA_LOAD = Kind(
    "load on an area", "kN/m2", {name: (size / 1000, 0.0) for name, (size, _) in PRESSURE.units.items()}, {"metric": "kN/m2", "us": "psf"},
    {"metric": ((0.0, "kN/m2", 2),), "us": ((0.0, "psf", 0),)}, "1.2 kN/m2 or 25 psf",
)  # fmt: skip
LINE_LOAD = Kind(
    "load along a beam", "N/m",
    {"n/m": (1.0, 0.0), "kn/m": (1000.0, 0.0), "lb/ft": (POUND_FORCE / FOOT, 0.0), "lbf/ft": (POUND_FORCE / FOOT, 0.0), "plf": (POUND_FORCE / FOOT, 0.0)},
    {"metric": "N/m", "us": "lb/ft"}, {"metric": ((0.0, "N/m", 0),), "us": ((0.0, "lb/ft", 0),)}, "300 N/m or 20 lb/ft",
)  # fmt: skip
TEMPERATURE = Kind(
    "temperature", "degC",
    {
        **dict.fromkeys(("c", "°c", "degc", "celsius"), (1.0, 0.0)),
        **dict.fromkeys(("f", "°f", "degf", "fahrenheit"), (5 / 9, -160 / 9)),
        "k": (1.0, -CELSIUS),
    },
    {"metric": "°C", "us": "°F"}, {"metric": ((-1e9, "°C", 0),), "us": ((-1e9, "°F", 0),)}, "-12 °C or 10 °F",
)  # fmt: skip
AREA = Kind(
    "area", "m2", {"m2": (1.0, 0.0), "cm2": (1e-4, 0.0), **dict.fromkeys(("sq ft", "ft2", "sqft"), (SQUARE_FOOT, 0.0))}, {"metric": "m2", "us": "sq ft"},
    {"metric": ((0.0, "m2", 1),), "us": ((0.0, "sq ft", 0),)}, "3.5 m2 or 38 sq ft",
)  # fmt: skip
VOLUME = Kind(
    "volume", "l", {**_sizes(l=1.0, ml=0.001, m3=1000.0), **dict.fromkeys(("gal", "gallon", "gallons"), (GALLON * 1000, 0.0)), "cu ft": (FOOT**3 * 1000, 0.0)},
    {"metric": "l", "us": "gal"}, {"metric": ((0.0, "l", 0),), "us": ((0.0, "gal", 0),)}, "300 l or 80 gal",
)  # fmt: skip
FEED = Kind(
    "speed", "m/s", {"mm/s": (0.001, 0.0), "cm/s": (0.01, 0.0), "m/s": (1.0, 0.0), "in/s": (0.0254, 0.0), "ft/s": (FOOT, 0.0)},
    {"metric": "mm/s", "us": "in/s"}, {"metric": ((0.0, "mm/s", 1),), "us": ((0.0, "in/s", 2),)}, "8 mm/s or 0.3 in/s",
)  # fmt: skip
WIND_SPEED = Kind(
    "speed", "m/s",
    {"m/s": (1.0, 0.0), "km/h": (1 / 3.6, 0.0), "kmh": (1 / 3.6, 0.0), "mph": (0.44704, 0.0), "kn": (1852 / 3600, 0.0), "kt": (1852 / 3600, 0.0)},
    {"metric": "m/s", "us": "mph"}, {"metric": ((0.0, "m/s", 0),), "us": ((0.0, "mph", 0),)}, "24 m/s or 55 mph",
)  # fmt: skip
POWER = Kind(
    "power", "W", _sizes(w=1.0, kw=1000.0, mw=1e6, hp=745.6998715822702), {"metric": "W", "us": "W"},
    {"metric": ((0.0, "W", 0), (10000.0, "kW", 1)), "us": ((0.0, "W", 0), (10000.0, "kW", 1))}, "400 W or 1.2 kW",
)  # fmt: skip
ENERGY = Kind(
    "energy", "kWh", _sizes(kwh=1.0, wh=0.001, mwh=1000.0, mj=1 / 3.6), {"metric": "kWh", "us": "kWh"},
    {"metric": ((0.0, "kWh", 1), (100.0, "kWh", 0)), "us": ((0.0, "kWh", 1), (100.0, "kWh", 0))}, "3.5 kWh or 3500 Wh",
)  # fmt: skip
WIRE = Kind(
    "thickness of a wire", "mm2", {"mm2": (1.0, 0.0)}, {"metric": "mm2", "us": "AWG"}, {"metric": ((0.0, "mm2", 2),), "us": ((0.0, "mm2", 2),)}, "4 mm2 or 12 AWG",
)  # fmt: skip
KINDS = {
    kind.name: kind
    for kind in (MASS, FORCE, STRESS, AREA_LOAD, LINE_LOAD, TEMPERATURE, AREA, VOLUME, FEED, POWER, ENERGY, WIRE, PRESSURE)
}

_ONE = re.compile(rf"\s*({NUMBER})\s*([^\d\s,.][^\d]*?[23]?)?\s*(?=$|\d)", re.IGNORECASE)
_GAUGE = re.compile(r"^(?:#|awg|no\.?|ga(?:uge)?)?\s*(\d{1,2}|[1-4]/0|0{2,4})\s*(?:awg|ga(?:uge)?)?$", re.IGNORECASE)
SUPERSCRIPTS = str.maketrans({"²": "2", "³": "3"})
SAME_WIRE = 0.005  # of its area: a wire that near to a gauge is that gauge


def parse_quantity(text: str, kind: Kind, units: Units = "metric") -> float:
    """The quantity in its ``si`` unit. A bare number is in the unit of the system. ValueError where it is none."""
    plain = " ".join(short_enough(text, kind.name).translate(SUPERSCRIPTS).replace("−", "-").split())
    if not plain:
        raise ValueError(f"give a {kind.name} such as {kind.such}")
    if kind is WIRE and (gauge := _gauge_in(plain, units)) is not None:
        return gauge
    sign = -1.0 if plain.startswith("-") else 1.0
    rest, total = plain.removeprefix("-").strip(), 0.0
    names: list[str] = []
    while rest:
        match = _ONE.match(rest)
        if not match:
            raise ValueError(_no(text, kind))
        name = (match.group(2) or "").strip().lower() or _within(kind, names) or kind.bare[units].lower()
        if name not in kind.units:
            raise ValueError(_no(text, kind))
        names.append(name)
        size, added = kind.units[name]
        total += (sign if added else 1.0) * read_number(match.group(1)) * size + added
        rest = rest[match.end() :]
        if added:
            sign = 1.0
    if len(names) > 1 and (kind.parts is None or names != [*kind.parts]):
        raise ValueError(_no(text, kind))
    return sign * total


def _within(kind: Kind, names: list[str]) -> str:
    """The unit of a bare number after a larger one: ounces after pounds."""
    return kind.parts[1] if kind.parts and names == [kind.parts[0]] else ""


def _no(text: str, kind: Kind) -> str:
    return f"{text.strip()[:40]!r} is no {kind.name} such as {kind.such}"


def write_quantity(value: float, kind: Kind, units: Units = "metric") -> str:
    """As a field shows it: all digits that count, with its unit ("24 lb"), so that it reads back as what it was to six of them."""
    if kind is WIRE:
        return told_wire(value, units)
    name = kind.bare[units]
    size, added = kind.units[name.lower()]
    return f"{_plain((value - added) / size)} {spelled(name)}"


def told_quantity(value: float, kind: Kind, units: Units = "metric") -> str:
    """As a sentence tells it: rounded, in the unit that fits its size."""
    if kind is WIRE:
        return told_wire(value, units)
    steps = [step for step in kind.steps[units] if abs(value) >= step[0] or step[0] < 0] or [kind.steps[units][0]]
    _, name, decimals = steps[-1]
    size, added = kind.units[name.lower()]
    number = round((value - added) / size, decimals)
    return f"{number + 0.0:.{decimals}f} {spelled(name)}"


def unit_of(kind: Kind, units: Units = "metric") -> str:
    """The unit of a bare number, as it stands beside a field or in a heading."""
    return spelled(kind.bare[units])


def in_unit(value: float, kind: Kind, units: Units = "metric") -> float:
    """The number that stands before that unit."""
    size, added = kind.units[kind.bare[units].lower()] if kind is not WIRE else (1.0, 0.0)
    return (value - added) / size


def spelled(name: str) -> str:
    """m2 as m²."""
    return re.sub(r"(?<=m)([23])", lambda found: {"2": "²", "3": "³"}[found.group(1)], name)


def _plain(number: float) -> str:
    """Six figures, never with an exponent."""
    found = f"{number:.6g}"
    return found if "e" not in found else f"{number:.0f}" if abs(number) > 1 else f"{number:.9f}".rstrip("0").rstrip(".")


def gauge_area(number: int) -> float:
    """mm2 of AWG ``number`` (0 is 1/0, -1 is 2/0, -3 is 4/0). ASTM B258."""
    diameter = float(0.127 * 92 ** ((36 - number) / 39))
    return pi / 4 * diameter**2


def gauge_name(number: int) -> str:
    """ "12", or "2/0" for -1."""
    return str(number) if number > 0 else f"{1 - number}/0"


def _gauge_in(text: str, units: Units) -> float | None:
    """mm2 of a gauge; None where the text is none: a bare number is one only where gauges are what people think in."""
    bare = re.fullmatch(r"\d{1,2}", text) is not None
    match = _GAUGE.match(text)
    if match is None or (bare and units != "us"):
        return None
    told = match.group(1)
    if "/" in told:
        number = 1 - int(told[0])
    elif len(told) > 1 and not told.strip("0"):
        number = 1 - len(told)
    else:
        number = int(told)
    return gauge_area(number) if -3 <= number <= 30 else None


def told_wire(area: float, units: Units = "metric") -> str:
    """The gauge where it is one and gauges are what people think in; mm2 else: neither series is rounded to the other."""
    if units == "us" and area > 0:
        number = round(36 - 39 * log((4 * area / pi) ** 0.5 / 0.127) / log(92))
        if -3 <= number <= 30 and abs(gauge_area(number) / area - 1) < SAME_WIRE:
            return f"{gauge_name(number)} AWG"
    return f"{_plain(round(area, 4))} mm²"
