"""Whether the panels' own leads reach from one to the next, and where an extension is needed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import hypot

from sundial.frame.panels import Array

SLACK = 0.1  # m at every joint, for the curve and the clip (thumb)
END = 0.12  # of a panel's length from its upper end to a box at the end (thumb)
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
        """Genders of the extension's ends, which are the other ones of the leads they meet."""
        return "a socket for the plug of the minus lead, a plug for the socket of the plus lead"


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
