"""Whether the panels' own leads reach from one to the next, and where an extension is needed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import hypot

from sundial.frame.panels import Array

SLACK = 0.1  # m at every joint, for the curve and the clip (thumb)
END = 0.12  # of a panel's length from its upper end to a box at the end (thumb)
EXTENSION_ENDS = "an end like a plus lead's for the minus lead it meets, and at the other one like a minus lead's"
EXTENSION = 0.5  # m: extensions are made in steps of this (thumb)


@dataclass(frozen=True)
class Joint:
    """From one panel's minus to the next one's plus (numbers from 1): ``needed`` m of both leads together, ``there`` m; ``extension`` m that
    is missing, made up (0: it reaches)."""

    string: int
    start: int
    end: int
    needed: float
    there: float
    extension: float

    @property
    def ends(self) -> str:
        """Genders of the extension's ends: each the other one of the lead that it meets."""
        return EXTENSION_ENDS


def box_place(array: Array, number: int, boxes: str) -> tuple[float, float]:
    """Where the leads of panel ``number`` (from 1, lower row first, from the left) leave it: m along the row and up the slope."""
    row, column = divmod(number - 1, array.columns)
    wide, high = (array.panel.width, array.panel.length) if array.portrait else (array.panel.length, array.panel.width)
    x, y = column * (wide + 0.02) + wide / 2, row * (high + 0.02) + high / 2
    if boxes == "end":
        away = array.panel.length * (0.5 - END)
        return (x, y + away) if array.portrait else (x + away, y)
    return x, y


def joints(array: Array, strings: Sequence[Sequence[int]], lead: float, boxes: str, leapfrog: bool = False) -> list[Joint]:
    """Every joint of every string, in the order of the cable (panel numbers from 1)."""
    found = []
    for which, string in enumerate(strings, 1):
        path = leapfrogged(string) if leapfrog else list(string)
        for start, end in zip(path, path[1:], strict=False):
            (x0, y0), (x1, y1) = box_place(array, start, boxes), box_place(array, end, boxes)
            needed = hypot(x1 - x0, y1 - y0) + SLACK
            short = max(needed - 2 * lead, 0.0)
            steps = -(-short // EXTENSION) if short > 1e-9 else 0.0
            found.append(Joint(which, start, end, needed, 2 * lead, steps * EXTENSION))
    return found


def leapfrogged(string: Sequence[int]) -> list[int]:
    """Every second panel on the way out, the others on the way back: both ends of the string are at the same end of the row."""
    return [*string[::2], *reversed(string[1::2])]


@dataclass(frozen=True)
class CableEnd:
    """One cable to make or buy: what it is, from where to where, and what its two ends are like."""

    name: str
    start: str
    end: str
    length: float | None
    ends: str


def connectors(strings: Sequence[Sequence[int]], found: Sequence[Joint], leapfrog: bool, length: float | None) -> list[CableEnd]:
    """Every cable beside the panels' own leads: extensions, and two home runs of ``length`` m for each string."""
    listed = []
    for which, string in enumerate(strings, 1):
        listed += [
            CableEnd("extension", f"panel {one.start}, minus", f"panel {one.end}, plus", one.extension, one.ends)
            for one in found
            if one.string == which and one.extension
        ]
        path = leapfrogged(string) if leapfrog else list(string)
        for sign, other, panel in (("plus", "minus", path[0]), ("minus", "plus", path[-1])):
            ends = f"an end like a {other} lead's at the panel; the other as the input's {sign} asks"
            listed.append(CableEnd(f"home run, {sign}", f"panel {panel}, {sign}", f"input, string {which}", length, ends))
    return listed
