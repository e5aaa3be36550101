"""Whole numbers out of a request: counters, keys and sizes, bounded before Python turns the text into a number."""

from __future__ import annotations

LONGEST = 18  # digits: what a database's 64-bit column holds, whatever they are


def whole(text: str | None) -> int | None:
    """The number that plain digits say, 0 or more; None for anything else, and for more digits than a key or a size has."""
    if text and len(text) <= LONGEST and text.isascii() and text.isdecimal():
        return int(text)
    return None
