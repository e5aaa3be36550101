"""Tables that people type or paste: stock, own pieces, prices of parts, prices of cable; a line each, columns apart by ; or a tab."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from typing import Any

from django import forms

from sundial.brief.sections.base import one_line
from sundial.quantities import Units, format_length, parse_length

MOST_LINES = 200
Row = dict[str, Any]


class TableField(forms.CharField):
    """Rows of a pasted table, read by ``read(cells, units)`` and written again by ``write(row, units)``; the form sets ``units`` and ``held``."""

    def __init__(
        self, read: Callable[[Sequence[str], Units], Row], write: Callable[[Row, Units], str], why: str = "", **kwargs: Any
    ) -> None:
        rows = kwargs.pop("rows", 4)
        super().__init__(
            max_length=20_000, required=False, widget=forms.Textarea(attrs={"rows": rows, "autocomplete": "off", "spellcheck": "false"}),
            **kwargs,
        )  # fmt: skip
        self.read, self.write = read, write
        self.units: Units = "metric"
        self.held: list[Row] = []  # what is kept now: an untouched line stands for exactly that
        self.unit, self.why, self.source = "", why, ""

    def clean(self, value: Any) -> list[Row]:
        text = super().clean(value)
        found: list[Row] = []
        untouched = {self.write(row, self.units): row for row in self.held}
        for number, line in enumerate(text.splitlines(), 1):
            if not line.strip():
                continue
            if len(found) >= MOST_LINES:
                raise forms.ValidationError(f"That is more than {MOST_LINES} lines.")
            if line.strip() in untouched:
                found.append(untouched[line.strip()])
                continue
            cells = cells_of(line)
            if not found and number == 1 and not any(re.search(r"\d", cell) for cell in cells[1:]):
                continue  # a heading
            try:
                found.append(self.read(cells, self.units))
            except ValueError as error:
                raise forms.ValidationError(f"Line {number}, “{one_line(line)[:40]}”: {error}.") from None
        return found

    def prepare_value(self, value: Any) -> Any:
        if not isinstance(value, list):
            return value
        return "\n".join(self.write(row, self.units) for row in value)


def cells_of(line: str) -> list[str]:
    """Columns of a line: by tabs, else by semicolons, else by commas that are followed by a space or are no decimal comma."""
    for mark in ("\t", ";"):
        if mark in line:
            return [one_line(cell) for cell in line.split(mark)]
    return [one_line(cell) for cell in re.split(r",\s+|,(?!\d)|(?<!\d),", line)]


def number(text: str, what: str, low: float, high: float) -> float:
    """A number between two limits. ValueError in words."""
    try:
        value = float(re.sub(r"[^\d.,\-−]", "", text).replace("−", "-").replace(",", "."))
    except ValueError:
        raise ValueError(f"{text[:20]!r} is no {what}") from None
    if not low <= value <= high:
        raise ValueError(f"a {what} of {value:g} cannot be: {low:g} to {high:g}")
    return value


def whole(text: str, what: str, low: int, high: int) -> int:
    value = number(text, what, low, high)
    if value != int(value):
        raise ValueError(f"{text[:20]!r} is no whole {what}")
    return int(value)


def length(text: str, units: Units, most: float) -> float:
    metres = parse_length(text, units)
    if not 0 < metres <= most:
        raise ValueError(f"a length of {text[:20]} cannot be: up to {format_length(most, units)}")
    return metres


def read_stock(cells: Sequence[str], units: Units) -> Row:
    """Section; length; and either how many are on hand, or the price of one."""
    if len(cells) < 2 or not cells[0]:
        raise ValueError("give section, length, and how many are on hand or what one costs")
    row: Row = {"section": cells[0], "length": length(cells[1], units, 15.0), "count": None, "price": 0.0}
    for cell in cells[2:]:
        words = cell.lower()
        if not words:
            continue
        if re.search(r"hand|have|there|pcs|pieces|×|^x\s*\d|\bx$", words):
            row["count"] = whole(words, "count", 0, 1000)
        else:
            row["price"] = number(cell, "price", 0, 1e6)
    return row


def write_stock(row: Row, units: Units) -> str:
    end = f"{row['price']:.2f}" if row["count"] is None else f"{row['count']} on hand"
    both = row["count"] is not None and row["price"]
    return "; ".join([row["section"], format_length(row["length"], units), end, *([f"{row['price']:.2f}"] if both else [])])


def read_piece(cells: Sequence[str], units: Units) -> Row:
    """Name; section; length; count; and the angles of both cuts where they slant."""
    if len(cells) < 3 or not cells[0] or not cells[1]:
        raise ValueError("give name, section, length, and how many")
    row: Row = {
        "name": cells[0],
        "section": cells[1],
        "length": length(cells[2], units, 50.0),
        "count": 1,
        "angle": 0.0,
        "foot": 0.0,
    }
    if len(cells) > 3 and cells[3]:
        row["count"] = whole(cells[3], "count", 1, 1000)
    for name, cell in zip(("angle", "foot"), cells[4:6], strict=False):
        row[name] = number(cell, "saw angle", -75, 75) if cell else 0.0
    return row


def write_piece(row: Row, units: Units) -> str:
    cells = [row["name"], row["section"], format_length(row["length"], units), str(row["count"])]
    if row.get("angle") or row.get("foot"):
        cells += [f"{row.get('angle', 0):g}°", f"{row.get('foot', 0):g}°"]
    return "; ".join(cells)


def read_part(cells: Sequence[str], units: Units) -> Row:
    """Name as the list has it; price of a pack; how many in it; weight of one."""
    if len(cells) < 2 or not cells[0]:
        raise ValueError("give the part's name and the price of a pack")
    row: Row = {"name": cells[0], "price": number(cells[1], "price", 0, 1e6) if cells[1] else None, "pack": 1, "mass": None}
    if len(cells) > 2 and cells[2]:
        row["pack"] = whole(cells[2], "number in a pack", 1, 10000)
    if len(cells) > 3 and cells[3]:
        row["mass"] = number(cells[3], "weight", 0, 1000)
    return row


def write_part(row: Row, units: Units) -> str:
    price = "" if row.get("price") is None else f"{row['price']:.2f}"
    cells = [row["name"], price, str(row.get("pack", 1))]
    return "; ".join(cells + ([f"{row['mass']:g} kg"] if row.get("mass") is not None else []))


def read_price(cells: Sequence[str], units: Units) -> Row:
    """Area of a conductor; the price of a metre."""
    if len(cells) < 2:
        raise ValueError("give mm² and the price of a metre")
    return {
        "area": number(cells[0].replace("mm2", "").replace("mm²", ""), "area", 0.1, 400),
        "price": number(cells[1], "price", 0, 1e6),
    }


def write_price(row: Row, units: Units) -> str:
    return f"{row['area']:g}; {row['price']:.2f}"
