"""A plank over a log: a motor lays it to the morning's side until noon and to the evening's after it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from sundial.brief_section import Upright
from sundial.mounts.facing import Direction, Facing
from sundial.mounts.kind import Motor, Situation

Floats = NDArray[np.float64]


class SeesawMount(Motor):
    kind: Literal["seesaw"]
    lean: Upright

    motors: ClassVar[int] = 1
    centre_pivot: ClassVar[bool] = True

    def facing(self, situation: Situation, settings: int) -> Facing:
        return situation.at(Seesaw(self.lean, situation.azimuth), self.aim)

    def ends_of_tilt(self, reachable: Floats) -> set[float]:
        return {self.lean}

    def flattest(self, reachable: Floats) -> tuple[float, str]:
        return self.lean, "motor"

    def own_tilts(self, settable: Floats, stow: bool) -> Floats:
        return np.array([self.lean])

    @property
    def steepest(self) -> float | None:
        return self.lean


@dataclass(frozen=True)
class Seesaw:
    lean: float
    azimuth: float

    def facing(self, target: Direction) -> Facing:
        before = (target.azimuth - self.azimuth + 180) % 360 - 180 < 0
        side = np.where(before, self.azimuth - 90, self.azimuth + 90) % 360
        return Facing(np.full(len(side), self.lean), side)
