"""Numbers and units as the pages show them."""

from __future__ import annotations

import json as json_lib
from collections.abc import Sequence
from typing import Any

from django import template
from django.forms import BoundField
from django.utils.html import format_html

from sundial.days import spoken_day
from sundial.quantities import (
    FOOT,
    FORCE,
    INCH,
    MASS,
    PRESSURE,
    STRESS,
    TEMPERATURE,
    VOLUME,
    WIRE,
    Units,
    format_length,
    hardware_count,
    hardware_name,
    in_both,
    told_quantity,
)
from web.builds import registry

register = template.Library()
THIN = "\u202f"  # narrow and unbreakable


@register.filter
def kwh(value: float) -> str:
    """1234.5 as "1 234" (thin space), small ones with one decimal."""
    if value is None:
        return "–"
    decimals = 1 if 0.05 <= abs(value) < 9.95 else 0
    text = f"{abs(value):,.{decimals}f}".replace(",", THIN)
    return f"−{text}" if value < 0 and text.strip("0.") else text


@register.filter
def signed(value: float) -> str:
    """With its sign, the minus a real one."""
    text = kwh(value)
    return text if text.startswith("−") or not text.strip("0.") else f"+{text}"


@register.filter
def money(value: float | None) -> str:
    if value is None:
        return "–"
    text = f"{abs(value):,.0f}".replace(",", THIN)
    return f"−{text}" if value < -0.5 else text


@register.filter
def price(value: float | None) -> str:
    return "–" if value is None else f"{value:.2f}".replace("-", "−")


@register.filter
def percent(value: float | None, decimals: int = 1) -> str:
    return "–" if value is None else f"{value * 100:.{decimals}f}{THIN}%".replace("-", "−")


@register.filter
def degrees(value: float | None) -> str:
    if value is None:
        return "–"
    return f"{value:.1f}°" if abs(value - round(value)) > 0.05 else f"{round(value)}°"


@register.filter
def day(value: int) -> str:
    """A day of the year as "24 March"."""
    return spoken_day(value)


@register.filter
def window(value: Any) -> str:
    """The window of a move: "15 Mar to 2 Apr"."""

    return f"{short_day(value.earliest)} to {short_day(value.latest)}"


@register.filter
def short_day(value: int) -> str:
    """A day of the year as "24 Mar"."""
    number, _, month = spoken_day(value).partition(" ")
    return f"{number} {month[:3]}"


@register.filter
def as_length(value: float, units: str) -> str:
    return format_length(value, "us") if units == "us" else f"{value:.2f} m"


@register.filter
def area(value: float, units: str) -> str:
    return f"{value / FOOT**2:.0f} sq ft" if units == "us" else f"{value:.1f} m²"


@register.filter
def size(value: float) -> float:
    """Without its sign."""
    return abs(value)


@register.filter
def shown_by(value: Any, field: BoundField) -> Any:
    """What a field of a form shows: what was typed, or its value as it writes it."""
    if hasattr(value, "strftime"):
        return value.strftime("%Y-%m-%dT%H:%M")
    found = field.field.prepare_value(value) if hasattr(field.field, "prepare_value") else value
    return "" if found is None else found


@register.filter
def weight(newtons: float, units: Units) -> str:
    """A force as what hands know: with the mass that weighs as much, where that has another number."""
    told = told_quantity(newtons, FORCE, units)
    return told if units == "us" else f"{told} ({newtons / 9.80665:.0f} kg)"


@register.filter
def minutes(value: float) -> str:
    if 0 < value < 0.95:
        return f"{60 * value:.0f} s"
    if value < 100:
        return f"{value:.0f} min"
    return f"{value / 60:.1f} h"


@register.inclusion_tag("builds/_ask.html")
def ask(field: BoundField, currency: str = "€", wide: str = "") -> dict[str, Any]:
    """One question of a form: name, explanation, input, unit, refusal."""
    asked = field.field
    kind = getattr(field.field.widget, "input_type", "textarea")
    described = f"err-{field.name}"
    chosen = getattr(field.form, "chosen_units", None)
    units: Units = "metric" if chosen is None else chosen()
    attributes = {"aria-describedby": described, "class": _css(kind)}
    if field.errors:
        attributes["aria-invalid"] = "true"
    return {
        "field": field,
        "widget": field.as_widget(attrs=attributes),  # type: ignore[arg-type]
        "kind": kind,
        "unit": getattr(asked, "unit", "").replace("{currency}", currency),
        "why": in_both(getattr(asked, "why", ""), units),
        "source": in_both(getattr(asked, "source", ""), units),
        "wide": wide,
        "names": [(when, name, in_both(said, units)) for when, name, said in getattr(asked, "names", ())],
        "twelve": "data-twelve" in field.field.widget.attrs,
    }


def _css(kind: str) -> str:
    return {
        "checkbox": "form-check-input",
        "radio": "",
        "select": "form-select form-select-sm",
        "file": "form-control form-control-sm",
    }.get(kind, "form-control form-control-sm")


@register.simple_tag
def pages_of(station: str) -> list[registry.Pages]:
    """What apps of their own bring to a station."""
    return registry.pages_of(station)


@register.simple_tag
def row_input(form: Any, key: str, name: str) -> str:
    """A bare input of the comparison's table, with its refusal; it belongs to the station's form by id."""
    field = form[f"{key}_{name}"]
    kind = getattr(field.field.widget, "input_type", "text")
    attributes: dict[str, str | bool] = {
        "form": "station-form",
        "class": _css(kind),
        "aria-label": field.label,
        "aria-describedby": f"err-{field.name}",
    }
    if field.errors:
        attributes["aria-invalid"] = "true"
    return format_html(
        '{}<span class="refusal" id="err-{}">{}</span>', field.as_widget(attrs=attributes), field.name, " ".join(field.errors)
    )


@register.simple_tag
def named_input(field: BoundField, prefix: str) -> str:
    """The input of one of several small forms on a page, whose fields share their names: ids begin with ``prefix``."""
    kind = getattr(field.field.widget, "input_type", "text")
    attributes: dict[str, str | bool] = {
        "id": f"{prefix}-{field.name}", "class": _css(kind), "aria-describedby": f"err-{prefix}-{field.name}",
    }  # fmt: skip
    if field.errors:
        attributes["aria-invalid"] = "true"
    return field.as_widget(attrs=attributes)


@register.filter
def signed_percent(value: float, decimals: int = 1) -> str:
    """A change as a share, with its sign."""
    return f"{value * 100:+.{decimals}f}{THIN}%".replace("-", "−")


@register.filter
def at(values: Any, index: Any) -> Any:
    """The item at an index or key."""
    return values[index]


@register.filter
def json(value: Any) -> str:
    """Data for a drawing in the browser, for use inside an attribute (the template escapes it)."""
    return json_lib.dumps(value)


@register.filter
def joined(values: Any) -> str:
    return " ".join(str(value) for value in values)


@register.filter
def plain(value: float) -> str:
    return f"{value:.2f}"


@register.filter
def tenth(value: float) -> str:
    return f"{value:.1f}"


@register.filter
def text(value: Any) -> str:
    return "" if value is None else str(value)


@register.filter
def whole_numbers(values: Any) -> list[int]:
    """Chosen options as whole numbers, whether typed or kept."""
    return [int(value) for value in values or [] if str(value).isascii() and str(value).isdecimal() and len(str(value)) < 9]


@register.filter
def clock(value: Any) -> str:
    """HH:MM as the clock at the place shows it."""
    return value.strftime("%H:%M")


@register.filter
def hours(value: float) -> str:
    """9.75 as "9 h 45 min"."""
    whole, rest = divmod(round(value * 60), 60)
    return f"{whole} h {rest:02d} min"


@register.filter
def in_words(count: int) -> str:
    """2 as "two"; from thirteen on in figures."""
    names = ("no", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve")
    return names[count] if 0 <= count < len(names) else str(count)


@register.filter
def listed(words: Sequence[str]) -> str:
    """ "the fence, the gate and the planter"."""
    return words[0] if len(words) == 1 else f"{', '.join(words[:-1])} and {words[-1]}"


@register.filter
def kilowatts(watts: float) -> str:
    return f"{watts / 1000:.2f}{THIN}kW"


@register.filter
def tilts(values: Sequence[float]) -> str:
    return ", ".join(map(degrees, values))


@register.filter
def times(value: int) -> str:
    return {1: "once", 2: "twice"}.get(value, f"{value} times")


@register.filter
def east_west(value: float) -> str:
    return f"{abs(value):.1f}° {'east' if value >= 0 else 'west'}"


@register.filter
def compass_words(azimuth: float) -> str:
    """198 as "198° (south-south-west)"."""
    names = (
        "north", "north-north-east", "north-east", "east-north-east", "east", "east-south-east", "south-east", "south-south-east",
        "south", "south-south-west", "south-west", "west-south-west", "west", "west-north-west", "north-west", "north-north-west",
    )  # fmt: skip
    return f"{azimuth:.0f}° ({names[round(azimuth / 22.5) % 16]})"


@register.filter
def short_number(value: float) -> str:
    return f"{value:.5g}"


@register.filter
def times_price(kwh: float, price: float) -> float:
    return kwh * price


@register.filter
def less(value: float, taken: float) -> float:
    return value - taken


@register.filter
def season_short(name: str) -> str:
    """ "in the winter half-year" as the head of a column."""
    return name.removeprefix("in the ").removeprefix("in ")


@register.filter
def along(value: float, units: str) -> str:
    """A plan coordinate to the east or west."""
    return f"{_near(abs(value), units)} {'east' if value >= 0 else 'west'}"


@register.filter
def across(value: float, units: str) -> str:
    """A plan coordinate to the north or south."""
    return f"{_near(abs(value), units)} {'north' if value >= 0 else 'south'}"


def _near(value: float, units: str) -> str:
    """A distance in the yard to a tenth of a metre, or a foot."""
    return f"{value / FOOT:.0f} ft" if units == "us" else f"{value:.1f} m"


@register.filter
def lower_first(value: str) -> str:
    return value[:1].lower() + value[1:]


@register.filter
def told_speed(value: float | None, units: str) -> str:
    """A gust in whole m/s or mph."""
    if value is None:
        return "any gust"
    return f"{value / 0.44704:.0f} mph" if units == "us" else f"{value:.0f} m/s"


@register.filter
def both(text: str, units: Units) -> str:
    """Words with quantities in them: in feet and pounds with the metric ones in brackets where people think so."""
    return in_both(text, units)


@register.filter
def hardware(name: str, units: Units) -> str:
    """The name of a part as a shop has it in these units."""
    return hardware_name(name, units)


@register.filter
def how_many(part: Any, units: Units) -> str:
    """How many of a part are bought, or more are needed, with the unit it is sold by."""
    return hardware_count(part.name, getattr(part, "bought", part.count), units)


@register.filter
def force(value: float, units: Units) -> str:
    """A force in N, kN or lbf."""
    return told_quantity(value, FORCE, units)


@register.filter
def mass(value: float, units: Units) -> str:
    return told_quantity(value, MASS, units)


@register.filter
def pressure(value: float, units: Units) -> str:
    """Of the wind, or under a foot: Pa, kPa or psf."""
    return told_quantity(value, PRESSURE, units)


@register.filter
def stress(value: float, units: Units) -> str:
    return told_quantity(value, STRESS, units)


@register.filter
def temperature(value: float, units: Units) -> str:
    return told_quantity(value, TEMPERATURE, units)


@register.filter
def volume(litres: float, units: Units) -> str:
    return told_quantity(litres, VOLUME, units)


@register.filter
def wire(area: float, units: Units) -> str:
    """A thickness in mm² or, where it is one, its gauge."""
    return told_quantity(area, WIRE, units)


@register.filter
def small_length(value: float, units: Units) -> str:
    """What is measured with a feeler or a rule: tenths of a millimetre, hundredths of an inch."""
    return f"{value / INCH:.2f} in" if units == "us" else f"{value * 1000:.1f} mm"


@register.filter
def small_number(value: float, units: Units) -> str:
    """Metres as whole millimetres, or hundredths of an inch, without the unit."""
    return f"{value / INCH:.2f}" if units == "us" else f"{value * 1000:.0f}"


@register.filter
def minus(value: float) -> str:
    """kWh that are lost, as a change: 11 lost is -11."""
    return signed(-value)


@register.filter
def people(count: int) -> str:
    return "one person" if count == 1 else f"{in_words(count)} people"
