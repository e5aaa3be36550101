"""The ground that things of a yard stand on, the layers of solids they are made of, and what is asked of all of them."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from sundial.errors import BriefError
from sundial.shade.solids import Solid

Floats = NDArray[np.float64]
Point = tuple[float, float]
REACH = 500.0  # m: farther things belong in the skyline
TALLEST = 150.0  # m


@dataclass(frozen=True)
class Ground:
    """A plane that falls by ``slope`` degrees toward azimuth ``toward``; height 0 at the origin. The far hill belongs
    in the skyline: the ground itself casts no shadow here."""

    slope: float = 0.0
    toward: float = 180.0

    def __post_init__(self) -> None:
        if not 0 <= self.slope <= 45:
            raise BriefError("yard.slope", "must be from 0 to 45 degrees")

    @cached_property
    def gradient(self) -> Floats:
        """Rise per metre east and north (2,)."""
        turn = np.radians(self.toward)
        fall: Floats = -np.tan(np.radians(self.slope)) * np.array([np.sin(turn), np.cos(turn)])
        return fall

    def height(self, x: float, y: float) -> float:
        """Height of the ground at a point, m."""
        return float(self.gradient @ np.array([x, y]))


@dataclass(frozen=True, eq=False)
class Layer:
    """Solids of one thing that let the same ``light`` through: (12,) shares by month."""

    solids: tuple[Solid, ...]
    light: Floats


class Named(Protocol):
    @property
    def name(self) -> str: ...


def check_name(thing: Named) -> None:
    """BriefError for a thing without a name."""
    if not thing.name.strip():
        raise BriefError("name", "give it a name: its shade is priced under that name")


def check_points(path: str, points: Sequence[Point]) -> None:
    """BriefError for a point that lies too far off."""
    for index, (x, y) in enumerate(points):
        if max(abs(x), abs(y)) > REACH:
            where = f"{path}[{index}]" if path != "at" else path
            raise BriefError(
                where,
                f"({x:g}, {y:g}) lies more than {REACH:g} m off: a yard is given in metres, and far things belong in the skyline",
            )


def check_height(path: str, name: str, height: float) -> None:
    """BriefError for a height that nothing has."""
    if not 0 < height <= TALLEST:
        raise BriefError(path, f"the height of “{name}” must be more than 0 and at most {TALLEST:g} m, not {height:g}")
