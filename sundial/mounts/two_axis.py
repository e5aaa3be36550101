"""A mount that two motors turn to look straight at the sun."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from sundial.brief_section import Upright
from sundial.frames.kind import Structure
from sundial.mounts.facing import Direction, Facing
from sundial.mounts.kind import Motor, Situation
from sundial.mounts.one_axis import assumed_pole

Floats = NDArray[np.float64]


class TwoAxisMount(Motor):
    kind: Literal["two-axis"]
    min_tilt: Upright = 0.0
    max_tilt: Upright = 90.0
    azimuth_limit: Annotated[float, Field(gt=0, le=180, description="degrees to each side")] = 180.0

    motors: ClassVar[int] = 2
    centre_pivot: ClassVar[bool] = True
    any_azimuth: ClassVar[bool] = True
    meets_wind: ClassVar[bool] = True

    @property
    def steepest(self) -> float | None:
        return self.max_tilt

    def facing(self, situation: Situation, settings: int) -> Facing:
        return situation.at(TwoAxis(self.min_tilt, self.max_tilt, situation.azimuth, self.azimuth_limit), self.aim)

    def ends_of_tilt(self, reachable: Floats) -> set[float]:
        return {0.0, 60.0}

    def flattest(self, reachable: Floats) -> tuple[float, str]:
        return self.min_tilt, "motor"

    def own_tilts(self, settable: Floats, stow: bool) -> Floats:
        return np.array([self.min_tilt]) if stow else np.arange(self.min_tilt, self.max_tilt + 1)

    def assumed_structure(self, clearance: float, slope_length: float) -> Structure:
        return assumed_pole(clearance, slope_length)

    def as_neighbour(self, equator_ward: float) -> dict[str, Any]:
        return {"follows": "sun"}


@dataclass(frozen=True)
class TwoAxis:
    """Looks straight at its target within limits of tilt, and of azimuth to each side of ``azimuth``."""

    min_tilt: float = 0.0
    max_tilt: float = 90.0
    azimuth: float = 180.0
    azimuth_limit: float = 180.0

    def facing(self, target: Direction) -> Facing:
        turn = (target.azimuth - self.azimuth + 180) % 360 - 180
        azimuth = (self.azimuth + np.clip(turn, -self.azimuth_limit, self.azimuth_limit)) % 360
        return Facing(np.clip(target.zenith, self.min_tilt, self.max_tilt), azimuth)
