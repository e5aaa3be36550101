"""What aiming a build takes and what being off costs."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass
from datetime import date, datetime
from typing import TYPE_CHECKING

import numpy as np

from sundial.aim.compass import compass
from sundial.aim.pin import CHECK, Aimed, Reading, aimed
from sundial.energy.production import produce
from sundial.errors import BriefError
from sundial.mounts.facing import by_day
from sundial.sun import sun_day

if TYPE_CHECKING:
    from sundial.scene import Scene
    from sundial.study import Study

MOST_READINGS = 200


@dataclass(frozen=True)
class Inclinometer:
    """What a phone laid on the glass along its fall reads in each hole, degrees."""

    hole: int
    tilt: float


@dataclass(frozen=True)
class AimReport:
    """``solar_noon`` local; ``declination`` degrees, east positive; ``azimuth`` true and ``bearing`` magnetic, degrees, of the way the
    glass should look; ``valid_to``: year until which the magnetic model holds."""

    solar_noon: datetime
    declination: float
    azimuth: float
    bearing: float
    valid_to: int
    inclinometer: list[Inclinometer]


@dataclass(frozen=True)
class OffAim:
    """What the pin says: ``tilt`` and ``azimuth`` found, how far both are ``tilt_off`` and ``azimuth_off`` (clockwise positive) from
    what they should be, and kWh a year that it ``costs``."""

    found: Aimed
    tilt_off: float
    azimuth_off: float
    costs: float


def aim_report(scene: Scene, on: date) -> AimReport:
    """How to aim the build on a date."""
    found = compass(scene.site, on)
    structure, fixed = scene.structure, scene.brief.mount.fixed_tilt
    if structure is not None and structure.says_tilts:
        tilts = [hole.plane.tilt for hole in structure.holes]
    elif fixed is not None:
        tilts = [abs(fixed)]
    else:
        tilts = [float(tilt) for tilt in scene.reachable]
    return AimReport(
        sun_day(scene.site, on).solar_noon,
        found.declination,
        scene.azimuth,
        (scene.azimuth - found.declination) % 360,
        found.valid_to,
        [Inclinometer(number, tilt) for number, tilt in enumerate(tilts, 1)],
    )


def pin_report(
    study: Study, height: float, readings: list[Reading], known_tilt: float | None = None, check: float = CHECK
) -> OffAim:
    """The glass by its shadow pin, and what being off costs. ``known_tilt``: the tilt it is set to now, degrees (left out: the
    reachable one that is nearest to what the pin says)."""
    start = known_tilt if known_tilt is not None else float(study.scene.reachable.mean())
    found = aimed(study.scene.site, height, readings, (start, study.scene.azimuth), known_tilt, check)
    wanted = known_tilt if known_tilt is not None else _nearest(study.scene, found.tilt)
    tilt_off = found.tilt - wanted
    azimuth_off = (found.azimuth - study.scene.azimuth + 180) % 360 - 180
    return OffAim(found, tilt_off, azimuth_off, off_aim_cost(study, tilt_off, found.azimuth))


def _nearest(scene: Scene, tilt: float) -> float:
    if scene.brief.mount.fixed_tilt is not None:
        return scene.brief.mount.fixed_tilt
    return float(scene.reachable[np.abs(scene.reachable - tilt).argmin()])


def off_aim_cost(study: Study, tilt_off: float, azimuth: float) -> float:
    """kWh a year that the plan loses when every tilt is ``tilt_off`` degrees too steep and the glass looks to ``azimuth``."""
    fixed = study.brief.mount.fixed_tilt
    if fixed is not None:
        tilts = np.full(365, fixed)
    else:
        tilts = np.array(study.own_plans.with_settings(study.brief.plan.settings).tilt_by_day)
    years = [
        produce(study.scene.light, study.scene.system, by_day(held, facing), None, study.scene.shade).year
        for held, facing in ((tilts, study.scene.azimuth), (np.clip(tilts + tilt_off, -90, 90), azimuth))
    ]
    return years[0] - years[1]


def readings_of(text: str) -> list[Reading]:
    """Readings from CSV with the columns time, x, y; BriefError names the row and column."""
    rows = csv.DictReader(io.StringIO(text))
    names = [name.strip().lower() for name in rows.fieldnames or []]
    for name in ("time", "x", "y"):
        if name not in names:
            raise BriefError("readings", f"the first row must name the columns time, x, y: {name} is missing")
    found: list[Reading] = []
    for number, row in enumerate(rows, 2):
        if len(found) >= MOST_READINGS:
            raise BriefError("readings", f"more than {MOST_READINGS} readings")
        held = {str(name).strip().lower(): (value or "").strip() for name, value in row.items() if isinstance(value, str | None)}
        try:
            time = datetime.fromisoformat(held["time"])
        except ValueError:
            raise BriefError(
                f"readings row {number}, column time", f"{held['time'][:40]!r} is no date and time such as 2026-03-21T10:30"
            ) from None
        if not 2000 <= time.year <= 2200:
            raise BriefError(f"readings row {number}, column time", "must lie in the years 2000 to 2200")
        if found and (found[0].time.tzinfo is None) != (time.tzinfo is None):
            raise BriefError(f"readings row {number}, column time", "give all times with an offset, or none of them")
        values = []
        for name in ("x", "y"):
            try:
                value = float(held[name].replace(",", "."))
            except ValueError:
                value = np.nan
            if not np.isfinite(value) or abs(value) > 1e6:
                raise BriefError(f"readings row {number}, column {name}", f"{held[name][:40]!r} is no number")
            values.append(value)
        found.append(Reading(time, *values))
    return found
