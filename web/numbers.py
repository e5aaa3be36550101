"""Numbers out of a request: counters, keys, sizes and angles, bounded before anything is done with them."""

from __future__ import annotations

LONGEST = 18  # digits: what a database's 64-bit column holds, whatever they are


def whole(text: str | None) -> int | None:
    """The number that plain digits say, 0 or more; None for anything else, and for more digits than a key or a size has."""
    if text and len(text) <= LONGEST and text.isascii() and text.isdecimal():
        return int(text)
    return None


def number_in(text: str | None, low: float, high: float) -> float | None:
    """The number from ``low`` to ``high`` that a text says; None for anything else."""
    try:
        value = float((text or "")[:LONGEST])
    except ValueError:
        return None
    return value if low <= value <= high else None
