"""The controller of :mod:`~sundial.bench.drive` as machine code, by numba: for many days at once. A single day needs no compiler, and whoever
serves pages never loads one."""

from __future__ import annotations

from collections.abc import Callable
from types import FunctionType
from typing import Any, Literal

from numba import njit

from sundial.bench import drive as plain


def _compiled(function: Any, inline: Literal["never", "always"] = "never", **calls: Any) -> Callable[..., Any]:
    """A plain function as machine code, which calls compiled ones where it called plain ones; ``inline`` "always": it becomes part of
    these."""
    found: Callable[..., Any] = njit(cache=True, inline=inline)(FunctionType(function.__code__, {**vars(plain), **calls}))
    return found


speed_at = _compiled(plain.speed_at)
look = _compiled(plain.look, "always")
in_the_dull = _compiled(plain.in_the_dull, "always")
by_the_cells = _compiled(plain.by_the_cells, "always", speed_at=speed_at)
decide = _compiled(plain.decide, "always", look=look, in_the_dull=in_the_dull, by_the_cells=by_the_cells)
begin = _compiled(plain.begin, "always")
turn = _compiled(plain.turn, "always", speed_at=speed_at)
drive_day = _compiled(plain.drive_day, decide=decide, begin=begin, turn=turn)
drive = _compiled(plain.drive, drive_day=drive_day)
