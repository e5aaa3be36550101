"""Tilts that a frame reaches, as people write or paste them."""

from __future__ import annotations

import re

from sundial.errors import BriefError

LONGEST_TABLE = 20_000  # characters of a pasted table of holes
_TILT_SPAN = re.compile(r"^(-?\d+(?:\.\d+)?)\s*(?:to|-|–|\.\.)\s*(-?\d+(?:\.\d+)?)(?:\s*(?:by|step|every)\s*(\d+(?:\.\d+)?))?$")


def parse_tilts(text: str) -> list[float]:
    """Reachable tilts from a list ("15, 22, 29"), a range ("10 to 60 by 5") or a pasted hole table: one hole a line,
    its tilt the last number ("hole 3  36.5"). BriefError names the line that cannot be read."""
    if len(text) > LONGEST_TABLE:
        raise BriefError("mount.tilts", f"holds {len(text)} characters: give the tilts alone, {LONGEST_TABLE} are the most")
    lines = [line.strip() for line in text.replace("°", " ").replace("\t", " ").splitlines() if line.strip()]
    if not lines:
        raise BriefError("mount.tilts", "the list is empty: give every tilt that the frame reaches")
    if len(lines) == 1:
        span = _TILT_SPAN.match(lines[0])
        if span:
            low, high, step = float(span.group(1)), float(span.group(2)), float(span.group(3) or 1)
            if step <= 0 or high < low or (high - low) / step > 720:
                raise BriefError("mount.tilts", f"{lines[0]!r} is not a range such as 10 to 60 by 5")
            return [round(low + step * i, 6) for i in range(int((high - low) / step + 1e-9) + 1)]
        words = [word for word in re.split(r"[,;\s]+", lines[0]) if word]
        if not words:
            raise BriefError("mount.tilts", "the list is empty: give every tilt that the frame reaches")
        return [_tilt(word, 1) for word in words]
    if not any(char in text for char in "hH") and all(re.fullmatch(r"[-\d.,;\s]+", line) for line in lines):
        columns = [len([w for w in re.split(r"[,;\s]+", line) if w]) for line in lines]
        if max(columns) > 2:
            return [_tilt(word, row) for row, line in enumerate(lines, 1) for word in re.split(r"[,;\s]+", line) if word]
    tilts = []
    for row, line in enumerate(lines, 1):
        numbers = re.findall(r"-?\d+(?:\.\d+)?", line)
        if not numbers:
            if row == 1:
                continue  # a heading
            raise BriefError(f"mount.tilts line {row}", f"{line[:40]!r} holds no tilt")
        tilts.append(_tilt(numbers[-1], row))
    if not tilts:
        raise BriefError("mount.tilts", "the table holds no tilt")
    return tilts


def _tilt(word: str, row: int) -> float:
    try:
        value = float(word)
    except ValueError:
        raise BriefError(f"mount.tilts line {row}", f"{word[:20]!r} is not a tilt in degrees") from None
    if not -90 <= value <= 90:
        raise BriefError(f"mount.tilts line {row}", f"{value:g} degrees: a tilt lies from 0 (flat) to 90 (upright)")
    return value
