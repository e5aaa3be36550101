"""The mount on the bench: its axes, how they turn the glass, and how each sees the sun."""

from __future__ import annotations

from dataclasses import dataclass
from math import radians, sin
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from sundial.bench.minutes import Minutes
from sundial.errors import BriefError
from sundial.mounts.hinge import HingeMount
from sundial.mounts.kind import MountBrief
from sundial.mounts.one_axis import OneAxisMount
from sundial.mounts.two_axis import TwoAxisMount
from sundial.scene import Scene
from sundial.study import Study

Floats = NDArray[np.float64]
EAST = 0.5  # sine of the azimuth from which a side counts as eastern: within 60 degrees of east
DAWN = 60.0  # degrees of tilt from which light cells see a low sun (thumb); a night place to the east is no steeper
GRID = 181  # angles at which a jack's speed is worked out
Kind = Literal["one-axis", "hinge", "two-axis"]


@dataclass(frozen=True, eq=False)
class Axis:
    """One motor's axis. ``low`` and ``high`` end stops, degrees; ``flat`` the angle at which the glass lies flattest; ``speeds`` degrees a minute at
    ``grid`` angles. Arrays (d, 1440): ``sun`` the angle that looks straight at the sun within what this axis turns; ``share`` of the beam in its
    plane; ``scale`` degrees of the axis for one degree between sun and glass. ``east``: the angle at which the glass looks most to the east (None:
    at none of them does it look there); ``places``: it may be put elsewhere at night and in a storm."""

    name: str
    low: float
    high: float
    flat: float
    grid: Floats
    speeds: Floats
    sun: Floats
    share: Floats
    scale: Floats
    east: float | None = None
    places: bool = False

    @property
    def travel(self) -> float:
        return self.high - self.low

    @property
    def full_minutes(self) -> float:
        """Minutes from one end to the other."""
        angles = np.linspace(self.low, self.high, GRID)
        return float(np.trapezoid(1 / np.interp(angles, self.grid, self.speeds), angles))

    @property
    def slowest(self) -> float:
        """Its least speed, degrees a minute."""
        return float(np.interp(np.linspace(self.low, self.high, GRID), self.grid, self.speeds).min())


@dataclass(frozen=True, eq=False)
class BenchMount:
    """``axes`` (one, or azimuth and tilt) as the mount really stands; ``told`` (d, 1440) for each axis: the sun's angle for a clock that trusts the
    compass; ``axis_tilt`` (d,) and ``axis_azimuth`` of a roll axis; watts of the motor while it moves, and always. ``turned``: degrees by which the glass sits about a roll
    axis against what the controller turns."""

    kind: Kind
    axes: tuple[Axis, ...]
    told: tuple[Floats, ...]
    axis_tilt: Floats
    axis_azimuth: float
    moving_watts: float
    standby_watts: float
    turned: float = 0.0

    def facing(self, angles: tuple[Floats, ...]) -> tuple[Floats, Floats]:
        """Tilt and azimuth of the glass, degrees, at angles of the axes, all (d, 1440)."""
        if self.kind == "two-axis":
            return angles[1], (self.axis_azimuth + angles[0]) % 360
        if self.kind == "hinge":
            tilt = angles[0]
            return np.abs(tilt), np.broadcast_to(self.axis_azimuth + 90, tilt.shape) % 360
        roll, lean = np.radians(angles[0] + self.turned), np.radians(self.axis_tilt)[:, None]
        axis = np.radians(self.axis_azimuth)
        up = np.cos(roll) * np.cos(lean)
        toward = np.cos(roll) * np.sin(lean)  # along the axis, downhill
        side = np.sin(roll)
        east = toward * np.sin(axis) + side * np.cos(axis)
        north = toward * np.cos(axis) - side * np.sin(axis)
        return np.degrees(np.arccos(np.clip(up, -1, 1))), np.degrees(np.arctan2(east, north)) % 360

    @property
    def ideal(self) -> tuple[Floats, ...]:
        """Angles (d, 1440) of the axes that look straight at the sun within the stops."""
        return tuple(np.clip(axis.sun, axis.low, axis.high) for axis in self.axes)

    @property
    def unstopped(self) -> tuple[Floats, ...]:
        """Angles (d, 1440) that look straight at the sun as if there were no end stops: a flap no steeper than upright, a roll no farther over."""
        if self.kind == "two-axis":
            return self.axes[0].sun, np.clip(self.axes[1].sun, 0, 90)
        low = 0.0 if self.kind == "hinge" else -90.0
        return (np.clip(self.axes[0].sun, low, 90.0),)

    @property
    def flat(self) -> tuple[Floats, ...]:
        """The angles at which the glass lies flattest."""
        return tuple(np.full_like(axis.sun, axis.flat) for axis in self.axes)


def motor_mount(scene: Scene) -> OneAxisMount | HingeMount | TwoAxisMount:
    """The mount that the bench tries: the build's own where a motor moves it, else the first of its ways that one does. BriefError where none
    is."""
    options = [scene.brief.mount, *(option.mount for option in scene.brief.options)]
    for mount in options:
        if isinstance(mount, OneAxisMount | HingeMount | TwoAxisMount):
            return mount
    raise BriefError("mount", "no motor moves this build: choose a mount with one, or add a way that has one")


def mount_of(
    study: Study, minutes: Minutes, mount: OneAxisMount | HingeMount | TwoAxisMount | None = None, north_error: float = 0.0
) -> BenchMount:
    """The mount under the sun of these minutes. ``north_error``: degrees clockwise by which it stands turned without its controller knowing."""
    chosen = mount or motor_mount(study.scene)
    speed = _speeds(study.scene, chosen)
    home = study.scene.azimuth
    if isinstance(chosen, TwoAxisMount):
        return _two_axis(chosen, minutes, home, north_error, speed)
    if isinstance(chosen, HingeMount):
        tilts, axis, low, high = np.zeros(minutes.count), home - 90, chosen.min_tilt, chosen.max_tilt
        flat, kind, name = max(low, 0.0), "hinge", "tilt"
    else:
        tilts, axis = _axis_tilts(study, chosen, minutes), chosen.axis_azimuth if chosen.axis_azimuth is not None else home
        low, high, flat, kind, name = -chosen.limit, chosen.limit, 0.0, "one-axis", "roll"
    if high - low < 1:
        raise BriefError("mount", f"its end stops at {low:g} and {high:g} degrees leave no room to move")
    told, _ = _roll(minutes, tilts, axis)
    sun, share = _roll(minutes, tilts, axis + north_error)
    # A roll of +90 looks a quarter turn clockwise from the axis's own way, a flap raised upright looks where it faces.
    side = axis + 90 + north_error
    east = high if _looks_east(side) else low if kind == "one-axis" and _looks_east(side + 180) else None
    made = Axis(name, low, high, flat, speed[0], speed[1], sun, share, np.ones_like(sun), east, kind == "hinge")
    return BenchMount(
        kind,  # type: ignore[arg-type]
        (made,),
        (told,),
        tilts,
        (axis + north_error) % 360,
        chosen.moving_watts,
        chosen.standby_watts,
        _turned(study, chosen),
    )


def _turned(study: Study, mount: MountBrief) -> float:
    """Degrees by which the panels sit about the axis of the build's own mount."""
    return study.brief.array.turned if mount.kind == "one-axis" and mount == study.brief.mount else 0.0


def _looks_east(azimuth: float) -> bool:
    return sin(radians(azimuth)) >= EAST


def _most_east(home: float, limit: float) -> float | None:
    """The turn from ``home`` (degrees), within ``limit`` to each side, that looks most to the east; None where that is west of north and south."""
    turn = (90 - home + 180) % 360 - 180
    if abs(turn) <= limit:
        return turn
    nearest = limit if turn > 0 else -limit
    return nearest if sin(radians(home + nearest)) > 0 else None


def _speeds(scene: Scene, mount: OneAxisMount | HingeMount | TwoAxisMount) -> tuple[Floats, Floats]:
    """Angles, and degrees a minute at them: a jack's by its triangle, any other motor's the same everywhere."""
    jack = scene.structure.jack if scene.structure is not None else None
    grid = np.linspace(-180, 180, GRID)
    if not isinstance(mount, HingeMount) or jack is None or not jack.speed or jack.span is None:
        return grid, np.full(GRID, mount.speed)
    tilts = np.linspace(max(mount.min_tilt, jack.span[0]), min(mount.max_tilt, jack.span[1]), GRID)
    if tilts[-1] - tilts[0] < 1:
        return grid, np.full(GRID, mount.speed)
    levers = np.array([jack.lever(float(tilt)) for tilt in tilts])  # m of stroke for a radian
    return tilts, np.degrees(jack.speed * 60 / np.maximum(levers, 1e-3))


def _axis_tilts(study: Study, mount: OneAxisMount, minutes: Minutes) -> Floats:
    """Tilt of the axis on each day (d,): the plan's where a hand sets it."""
    if mount.axis_tilts and study.hand_axis is not None and mount == study.brief.mount:
        held = np.asarray(study.own_plans.with_settings(study.brief.plan.settings).tilt_by_day, dtype=np.float64)
        return held[minutes.days]
    return np.full(minutes.count, mount.axis_tilt)


def _roll(minutes: Minutes, tilts: Floats, axis_azimuth: float) -> tuple[Floats, Floats]:
    """The roll that looks at the sun (d, 1440), degrees, and the share of the beam in the plane that the axis turns through.

    ASCII, looking along the axis from its high end: positive roll leans the glass to the right of the way it points downhill, which is west for an
    axis that points south. pvlib's convention (positive to the azimuth a quarter turn clockwise from the axis's)."""
    lean, axis = np.radians(tilts)[:, None], np.radians(axis_azimuth)
    across = minutes.east * np.cos(axis) - minutes.north * np.sin(axis)
    downhill = minutes.east * np.sin(axis) + minutes.north * np.cos(axis)
    above = downhill * np.sin(lean) + minutes.up * np.cos(lean)
    return np.degrees(np.arctan2(across, above)), np.hypot(across, above)


def _two_axis(mount: TwoAxisMount, minutes: Minutes, home: float, north_error: float, speed: tuple[Floats, Floats]) -> BenchMount:
    """Azimuth, then tilt."""
    if mount.max_tilt - mount.min_tilt < 1:
        raise BriefError("mount", f"its end stops at {mount.min_tilt:g} and {mount.max_tilt:g} degrees leave no room to move")
    zenith = 90 - minutes.elevation
    told = (minutes.azimuth - home + 180) % 360 - 180
    turn = (minutes.azimuth - home - north_error + 180) % 360 - 180
    scale = 1 / np.maximum(np.sin(np.radians(np.clip(zenith, 0, 90))), 0.15)  # near the zenith a turn moves the glass little
    ones = np.ones_like(zenith)
    axes = (
        Axis(
            "azimuth",
            -mount.azimuth_limit,
            mount.azimuth_limit,
            0.0,
            *speed,
            turn,
            ones,
            scale,
            _most_east(home + north_error, mount.azimuth_limit),
        ),
        Axis(
            "tilt",
            mount.min_tilt,
            mount.max_tilt,
            mount.min_tilt,
            *speed,
            zenith,
            ones,
            ones,
            min(max(DAWN, mount.min_tilt), mount.max_tilt),
        ),
    )
    return BenchMount(
        "two-axis",
        axes,
        (told, zenith),
        np.zeros(minutes.count),
        (home + north_error) % 360,
        mount.moving_watts,
        mount.standby_watts,
    )
