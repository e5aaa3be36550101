"""A mount that stands still."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from sundial.brief_section import Tilt
from sundial.days import DAYS
from sundial.mounts.facing import Direction, Facing, by_day
from sundial.mounts.kind import MountBrief, Situation

Floats = NDArray[np.float64]


class FixedMount(MountBrief):
    kind: Literal["fixed"]
    tilt: Tilt

    still_by_day: ClassVar[bool] = True

    @property
    def fixed_tilt(self) -> float | None:
        return self.tilt

    def facing(self, situation: Situation, settings: int) -> Facing:
        return situation.at(Fixed(self.tilt, situation.azimuth))

    def ends_of_tilt(self, reachable: Floats) -> set[float]:
        return {abs(self.tilt)}

    def flattest(self, reachable: Floats) -> tuple[float, str]:
        return abs(self.tilt), "nothing"

    def own_tilts(self, settable: Floats, stow: bool) -> Floats:
        return np.array([abs(self.tilt)])


@dataclass(frozen=True)
class Fixed:
    """Stands still. A negative ``tilt`` leans to the other side."""

    tilt: float
    azimuth: float

    def facing(self, target: Direction) -> Facing:
        return by_day(np.full(DAYS, self.tilt), self.azimuth)
