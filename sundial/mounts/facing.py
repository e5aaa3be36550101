"""How glass faces, hour by hour, and what a motor takes to turn it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from sundial.days import HOURS, MONTH_OF_HOUR


@dataclass(frozen=True, eq=False)
class Facing:
    """Tilt and azimuth of the glass in each hour, degrees, (8760,); ``in_service`` (8760,) is False in hours that
    count for nothing because the mount is on its way to its night position (None: always in service)."""

    surface_tilt: NDArray[np.float64]
    surface_azimuth: NDArray[np.float64]
    in_service: NDArray[np.bool_] | None = None


def no_steeper(facing: Facing, cap: NDArray[np.float64] | None) -> Facing:
    """The same facing, no steeper than ``cap`` (12,) degrees in each month."""
    if cap is None:
        return facing
    return replace(facing, surface_tilt=np.minimum(facing.surface_tilt, cap[MONTH_OF_HOUR]))


@dataclass(frozen=True, eq=False)
class Direction:
    """Where a tracker should look in each hour: zenith and azimuth in degrees, (8760,)."""

    zenith: NDArray[np.float64]
    azimuth: NDArray[np.float64]


class Turning(Protocol):
    """What holds or turns glass, placed and aimed: it answers how it faces."""

    def facing(self, target: Direction) -> Facing:
        """The facing of each hour, given where the light is."""
        ...


@dataclass(frozen=True)
class Drive:
    """What the motor and its controller take: ``standby`` W always, ``moving`` W while it turns at ``speed`` degrees a minute."""

    standby: float = 0.0
    moving: float = 0.0
    speed: float = 10.0

    def drive_consumption(self, facing: Facing) -> NDArray[np.float64]:
        """Energy taken in each hour, Wh (8760,): standby always, plus the motor for the angle turned."""
        turned = angle_between(facing, rolled(facing))
        return self.standby + self.moving * turned / self.speed / 60


STEP = 5.0  # degrees: a motor that moves in such steps gives under a thousandth of the beam away (thumb)


def starts_a_day(facing: Facing, axes: int) -> float:
    """How often the motors of a mount with one or two ``axes`` start on a day of the year, in steps of ``STEP`` degrees, the way back
    at night among them."""
    before = rolled(facing)
    if axes == 1:
        turned = angle_between(facing, before).sum()
    else:
        around = (facing.surface_azimuth - before.surface_azimuth + 180) % 360 - 180
        turned = np.abs(facing.surface_tilt - before.surface_tilt).sum() + np.abs(around).sum()
    return float(turned) / STEP / (HOURS // 24)


def rolled(facing: Facing) -> Facing:
    """The facing of the hour before."""
    return Facing(np.roll(facing.surface_tilt, 1), np.roll(facing.surface_azimuth, 1))


def angle_between(one: Facing, other: Facing) -> NDArray[np.float64]:
    """Angle between two facings, degrees, per hour."""
    a, b = np.radians(one.surface_tilt), np.radians(other.surface_tilt)
    turn = np.radians(one.surface_azimuth - other.surface_azimuth)
    cosine = np.cos(a) * np.cos(b) + np.sin(a) * np.sin(b) * np.cos(turn)
    angle: NDArray[np.float64] = np.degrees(np.arccos(np.clip(cosine, -1, 1)))
    return angle


def by_day(tilts: NDArray[np.float64], azimuth: float) -> Facing:
    """Facing of a plane at ``tilts`` (365,); below zero it leans to the other side."""
    hourly = np.repeat(tilts, 24)
    return Facing(np.abs(hourly), np.where(hourly < 0, (azimuth + 180) % 360, azimuth))
