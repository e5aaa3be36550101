"""A flap that an actuator tilts about a level hinge after the sun."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from sundial.brief_section import Upright
from sundial.frames.kind import Structure
from sundial.mounts.facing import Direction, Facing, no_steeper
from sundial.mounts.kind import Motor, Situation

Floats = NDArray[np.float64]


class HingeMount(Motor):
    """A flap that an actuator tilts about a level hinge; it follows the sun in tilt only."""

    kind: Literal["hinge"]
    min_tilt: Upright = 0.0
    max_tilt: Upright = 60.0

    motors: ClassVar[int] = 1
    keeps_caps: ClassVar[bool] = True

    @property
    def steepest(self) -> float | None:
        return self.max_tilt

    @property
    def _span(self) -> Floats:
        """Every whole step from its flattest, and its steepest, degrees."""
        return np.unique(np.append(np.arange(self.min_tilt, self.max_tilt), self.max_tilt))

    def facing(self, situation: Situation, settings: int) -> Facing:
        turned = situation.at(Hinge(self.min_tilt, self.max_tilt, situation.azimuth), self.aim)
        return no_steeper(turned, situation.cap())

    def ends_of_tilt(self, reachable: Floats) -> set[float]:
        return {self.min_tilt, self.max_tilt}

    def flattest(self, reachable: Floats) -> tuple[float, str]:
        return self.min_tilt, "motor"

    def settable(self, structure: Structure | None, stow: bool) -> Floats:
        return np.stack([self._span, self._span], axis=1)

    def own_tilts(self, settable: Floats, stow: bool) -> Floats:
        return self._span

    def noon_tilts(self, noon: Floats) -> Floats:
        return np.clip(noon, self.min_tilt, self.max_tilt)


@dataclass(frozen=True)
class Hinge:
    """Tilts about a level hinge by motor, glass to ``azimuth``: within its limits it holds the tilt that looks most squarely at the
    target, and lies at its flattest while that is under the level."""

    min_tilt: float
    max_tilt: float
    azimuth: float

    def facing(self, target: Direction) -> Facing:
        zenith, turn = np.radians(target.zenith), np.radians(target.azimuth - self.azimuth)
        wanted = np.degrees(np.arctan2(np.sin(zenith) * np.cos(turn), np.cos(zenith)))
        tilt = np.where(target.zenith < 90, np.clip(wanted, self.min_tilt, self.max_tilt), self.min_tilt)
        return Facing(tilt, np.full(len(tilt), self.azimuth % 360))
