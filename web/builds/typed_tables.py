"""Tables that people type or paste: a line each, columns apart by ; or a tab."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from typing import Any

from django import forms

from sundial.brief_section import one_line
from sundial.quantities import Units

MOST_LINES = 200
Row = dict[str, Any]


class TableField(forms.CharField):
    """Rows of a pasted table, read by ``read(cells, units)`` and written again by ``write(row, units)``; the form sets ``units`` and
    ``held``. With ``columns`` the browser shows a table of them."""

    def __init__(
        self, read: Callable[[Sequence[str], Units], Row], write: Callable[[Row, Units], str], why: str = "", **kwargs: Any
    ) -> None:
        rows, columns = kwargs.pop("rows", 4), kwargs.pop("columns", ())
        attributes = {"rows": rows, "autocomplete": "off", "spellcheck": "false"}
        if columns:
            attributes["data-columns"] = "|".join(columns)
        super().__init__(max_length=20_000, required=False, widget=forms.Textarea(attrs=attributes), **kwargs)
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
            if not found and number == 1 and not any(re.search(r"\d", cell) for cell in cells):
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
