"""The controller of :mod:`~sundial.bench.drive` as machine code, by numba: for many days at once. A single day needs no compiler, and whoever
serves pages never loads one."""

from __future__ import annotations

from collections.abc import Callable
from types import FunctionType
from typing import Any

from numba import njit

from sundial.bench import drive as plain


def _compiled(function: Any, **calls: Any) -> Callable[..., Any]:
    """A plain function as machine code, which calls compiled ones where it called plain ones."""
    found: Callable[..., Any] = njit(cache=True)(FunctionType(function.__code__, {**vars(plain), **calls}))
    return found


speed_at = _compiled(plain.speed_at)
drive_day = _compiled(plain.drive_day, speed_at=speed_at)
drive = _compiled(plain.drive, drive_day=drive_day)
