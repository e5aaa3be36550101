"""Lengths as they are set at the saw: whole millimetres, or sixteenths of an inch, each rounded from the true length alone, so that
no error is carried from one piece or hole to the next."""

from __future__ import annotations

from sundial.quantities import INCH, Units

STEP = {"metric": 0.001, "us": INCH / 16}  # m


def at_the_saw(length: float, units: Units) -> tuple[float, float]:
    """A length as it is marked, m, and by how much that is off, m (above zero: marked too long)."""
    step = STEP[units]
    marked = round(length / step) * step
    return marked, marked - length
