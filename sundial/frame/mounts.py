"""Every mount answers one question for every hour of the year: which way do the panels face?

::

    surface_tilt      0 flat, 90 upright
    surface_azimuth   clockwise from true north, the way the glass looks
"""

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


class Mount(Protocol):
    """What the rest of the core asks of any mount."""

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


@dataclass(frozen=True)
class Fixed:
    """Stands still. A negative ``tilt`` leans to the other side."""

    tilt: float
    azimuth: float

    def facing(self, target: Direction) -> Facing:
        return by_day(np.full(HOURS // 24, self.tilt), self.azimuth)


@dataclass(frozen=True)
class Stepped:
    """Moved by hand: ``tilts`` (365,) is the tilt of each day."""

    tilts: tuple[float, ...]
    azimuth: float

    def facing(self, target: Direction) -> Facing:
        return by_day(np.array(self.tilts), self.azimuth)


def by_day(tilts: NDArray[np.float64], azimuth: float) -> Facing:
    """Facing of a plane at ``tilts`` (365,); below zero it leans to the other side."""
    hourly = np.repeat(tilts, 24)
    return Facing(np.abs(hourly), np.where(hourly < 0, (azimuth + 180) % 360, azimuth))


@dataclass(frozen=True)
class OneAxis:
    """Rolls about one axis. ``axis_tilt`` raises the axis so that its flat position looks to ``axis_azimuth``;
    ``limit`` degrees of roll to each side; with ``backtrack`` rows of ``ground_cover`` (slope length over pitch)
    keep out of each other's shade. pvlib's single-axis geometry: Marion and Dobos 2013, NREL/TP-6A20-58891;
    Anderson and Mikofski 2020, NREL/TP-5K00-76626. Where the target has set by the middle of the hour pvlib gives no
    position: the mount is going to its night stop and the hour counts for nothing (under 0.1 % of a year)."""

    axis_tilt: float
    axis_azimuth: float
    limit: float
    backtrack: bool = False
    ground_cover: float = 0.3

    def facing(self, target: Direction) -> Facing:
        from pvlib.tracking import singleaxis

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
        tilt = np.nan_to_num(np.asarray(turned["surface_tilt"], dtype=float), nan=self.axis_tilt)
        azimuth = np.nan_to_num(np.asarray(turned["surface_azimuth"], dtype=float), nan=self.axis_azimuth)
        return Facing(tilt, azimuth, np.isfinite(turned["surface_tilt"]))


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


@dataclass(frozen=True)
class Turned:
    """Held at ``tilt``; on the days ``done`` (365,) a hand turns it to the one of ``facings`` that is nearest to the target; on others, and
    at night, it looks to ``azimuth``."""

    tilt: float
    facings: tuple[float, ...]
    azimuth: float
    done: tuple[bool, ...]

    def facing(self, target: Direction) -> Facing:
        off = (target.azimuth[:, None] - np.array(self.facings) + 180) % 360 - 180
        nearest = np.array(self.facings)[np.abs(off).argmin(axis=1)]
        turned = np.repeat(np.array(self.done), 24) & (target.zenith < 90)
        return Facing(np.full(len(nearest), self.tilt), np.where(turned, nearest, self.azimuth) % 360)
