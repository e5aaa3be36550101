"""A mount that a motor rolls about one axis, level or raised; a hand may set the tilt of the axis."""

from __future__ import annotations

from dataclasses import dataclass
from math import acos, cos, degrees, radians, sin
from typing import Annotated, Any, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from sundial.brief_section import Azimuth, Upright
from sundial.days import HOURS
from sundial.frames.kind import Structure
from sundial.frames.pole import Pole
from sundial.mounts.facing import Direction, Facing
from sundial.mounts.kind import Motor, Situation

Floats = NDArray[np.float64]
STEEPEST = 60.0  # degrees at which a tracker without a told frame must clear the ground


class OneAxisMount(Motor):
    kind: Literal["one-axis"]
    axis_tilt: Upright = 0.0
    axis_tilts: Annotated[list[Upright] | None, Field(description="axis tilts set by hand, instead of axis_tilt")] = None
    axis_azimuth: Azimuth | None = None
    limit: Annotated[float, Field(gt=0, le=180)] = 60.0
    backtrack: bool = False
    ground_cover: Annotated[float, Field(gt=0, lt=1)] = 0.3

    motors: ClassVar[int] = 1
    centre_pivot: ClassVar[bool] = True

    @property
    def hand_axis(self) -> OneAxisMount | None:
        return self if len(set(self.axis_tilts or ())) > 1 else None

    @property
    def set_tilts(self) -> Floats:
        """Tilts that its axis can be set to by hand, rising (T,)."""
        return np.unique(np.array(self.axis_tilts, dtype=float))

    @property
    def steepest(self) -> float | None:
        return self.limit

    @property
    def way(self) -> str:
        return "one-axis-hand" if self.axis_tilts else self.kind

    def moves(self, settings: int | None, planned: int, year: int) -> int:
        return 0 if self.hand_axis is None else settings or 2

    def rolling(self, situation: Situation, axis_tilt: float) -> Facing:
        """How it rolls about its axis at a tilt, degrees."""
        azimuth = self.axis_towards(situation.equator_ward)
        return situation.at(
            OneAxis(axis_tilt, azimuth, self.limit, self.backtrack, self.ground_cover, situation.turned), self.aim
        )

    def axis_towards(self, equator_ward: float) -> float:
        """Azimuth of the axis, degrees."""
        return equator_ward if self.axis_azimuth is None else self.axis_azimuth % 360

    def facing(self, situation: Situation, settings: int) -> Facing:
        if not self.axis_tilts:
            return self.rolling(situation, self.axis_tilt)
        if self.hand_axis is None:
            return self.rolling(situation, float(self.set_tilts[0]))
        return self.through_the_year(situation, situation.planned(self, settings))

    def through_the_year(self, situation: Situation, tilt_by_day: tuple[float, ...]) -> Facing:
        """How it faces with its axis at a tilt of each day (365,)."""
        tilts, day = np.unique(np.array(tilt_by_day), return_inverse=True)
        facings = [self.rolling(situation, float(tilt)) for tilt in tilts]
        at = np.repeat(day.reshape(-1), 24)
        return Facing(
            np.choose(at, [facing.surface_tilt for facing in facings]),
            np.choose(at, [facing.surface_azimuth for facing in facings]),
            np.choose(at, [_served(facing) for facing in facings]),
        )

    def at_axis_tilt(self, tilt: float) -> OneAxisMount:
        """The same mount with its axis at one tilt."""
        return self.model_copy(update={"axis_tilts": None, "axis_tilt": tilt})

    def ends_of_tilt(self, reachable: Floats) -> set[float]:
        return {0.0, self.limit if self.limit < 90 else 60.0}

    def flattest(self, reachable: Floats) -> tuple[float, str]:
        return self.axis_tilt, "motor"

    def settable(self, structure: Structure | None, stow: bool) -> Floats:
        """Of the axis: as it lies level in the roll where it is stowed, else rolled to its limit."""
        tilts = np.unique(np.array(self.axis_tilts or [self.axis_tilt], dtype=float))
        if stow:
            return np.stack([tilts, tilts], axis=1)
        rolled = [degrees(acos(cos(radians(tilt)) * cos(radians(min(self.limit, 90.0))))) for tilt in tilts]
        return np.stack([tilts, np.array(rolled)], axis=1)

    def own_tilts(self, settable: Floats, stow: bool) -> Floats:
        return np.unique(settable[:, 1])

    def assumed_structure(self, clearance: float, slope_length: float) -> Structure:
        return assumed_pole(clearance, slope_length)

    def as_neighbour(self, equator_ward: float) -> dict[str, Any]:
        leaning = float(np.mean(self.axis_tilts)) if self.axis_tilts else self.axis_tilt
        return {"follows": "axis", "axis_tilt": leaning, "axis_azimuth": self.axis_towards(equator_ward)}


def assumed_pole(clearance: float, slope_length: float) -> Pole:
    """A pole for what a motor turns, high enough for its lower edge."""
    height = clearance + slope_length / 2 * sin(radians(STEEPEST))
    return Pole(front_height=height, height=height, ends=(0.0, 90.0), frames=1)


def _served(facing: Facing) -> NDArray[np.bool_]:
    return np.ones(HOURS, dtype=bool) if facing.in_service is None else facing.in_service


@dataclass(frozen=True)
class OneAxis:
    """Rolls about one axis. ``axis_tilt`` raises the axis so that its flat position looks to ``axis_azimuth``;
    ``limit`` degrees of roll to each side; with ``backtrack`` rows of ``ground_cover`` (slope length over pitch)
    keep out of each other's shade. pvlib's single-axis geometry: Marion and Dobos 2013, NREL/TP-6A20-58891;
    Anderson and Mikofski 2020, NREL/TP-5K00-76626. ``turned`` degrees by which the glass sits about the axis against it, to the right as one
    looks along the axis azimuth: the axis turns as it would without. Where the target has set by the middle of the hour pvlib gives no
    position: the mount is going to its night stop and the hour counts for nothing (under 0.1 % of a year)."""

    axis_tilt: float
    axis_azimuth: float
    limit: float
    backtrack: bool = False
    ground_cover: float = 0.3
    turned: float = 0.0

    def facing(self, target: Direction) -> Facing:
        from pvlib.tracking import calc_surface_orientation, singleaxis

        with np.errstate(invalid="ignore", divide="ignore"):
            turned = singleaxis(
                target.zenith,
                target.azimuth,
                self.axis_tilt,
                self.axis_azimuth,
                max_angle=self.limit,
                backtrack=self.backtrack,
                gcr=self.ground_cover,
            )
        served = np.isfinite(turned["surface_tilt"])
        if self.turned:
            turned = calc_surface_orientation(turned["tracker_theta"] + self.turned, self.axis_tilt, self.axis_azimuth)
        tilt = np.nan_to_num(np.asarray(turned["surface_tilt"], dtype=float), nan=self.axis_tilt)
        azimuth = np.nan_to_num(np.asarray(turned["surface_azimuth"], dtype=float), nan=self.axis_azimuth)
        return Facing(tilt, azimuth, served)
