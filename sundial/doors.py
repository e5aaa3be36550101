"""One door for numbers and dates that a person types: finite, within what can be, and refused in words with what was typed."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from datetime import date, datetime
from math import isfinite

from sundial.errors import BriefError
from sundial.quantities import Kind, parse_length, parse_quantity

FIRST_YEAR, LAST_YEAR = 1950, 2100  # in which anything here was built, measured or planned
LONGEST = 40  # letters of what was typed that are shown again


def number(low: float, high: float, what: str = "") -> Callable[[str], float]:
    """For an option of the command line: a number from ``low`` to ``high`` (``what``: its unit)."""

    def told(text: str) -> float:
        try:
            value = float(text[:LONGEST])
        except ValueError:
            value = float("nan")
        if not isfinite(value) or not low <= value <= high:
            unit = f" {what}" if what else ""
            raise argparse.ArgumentTypeError(f"must be from {low:g} to {high:g}{unit}, not {text[:LONGEST]!r}")
        return value

    return told


def measure(kind: Kind, low: float, high: float) -> Callable[[str], float]:
    """Reads a quantity of a ``kind`` from ``low`` to ``high`` (in its SI unit, which a bare number is in), with a unit of either system after it
    ("80mph")."""

    return _read(lambda text: parse_quantity(text, kind), low, high, kind.si)


def length(low: float, high: float) -> Callable[[str], float]:
    """Reads a length in m, or with a unit of either system after it ("4ft")."""
    return _read(parse_length, low, high, "m")


def _read(parse: Callable[[str], float], low: float, high: float, si: str) -> Callable[[str], float]:
    plain = number(low, high, si)

    def told(text: str) -> float:
        try:
            float(text)
        except ValueError:
            try:
                return plain(repr(parse(text[:LONGEST])))
            except ValueError as error:
                raise argparse.ArgumentTypeError(str(error)) from None
        return plain(text)

    return told


def day_of(text: str, path: str) -> date:
    """A date in ISO 8601. BriefError where it is none, or of a year in which nothing here happens."""
    try:
        found = date.fromisoformat(text)
    except ValueError:
        raise BriefError(path, f"{text[:LONGEST]!r} is not a date such as 2026-06-21") from None
    return in_years(found, path)


def moment_of(text: str, path: str) -> datetime:
    """A time in ISO 8601, with an offset or without. BriefError as for :func:`day_of`."""
    try:
        found = datetime.fromisoformat(text)
    except ValueError:
        raise BriefError(path, f"{text[:LONGEST]!r} is not a time such as 2026-06-21T13:00") from None
    in_years(found, path)
    return found


def in_years(day: date, path: str) -> date:
    """The same, or BriefError for a year out of :data:`FIRST_YEAR` to :data:`LAST_YEAR`."""
    if not FIRST_YEAR <= day.year <= LAST_YEAR:
        raise BriefError(path, f"the year {day.year} is out of {FIRST_YEAR} to {LAST_YEAR}")
    return day
