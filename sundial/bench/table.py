"""The sun table for a controller: the angles of a month or a year, as CSV, JSON and a C header of plain arrays."""

from __future__ import annotations

import json
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from sundial.bench.axes import BenchMount, mount_of
from sundial.bench.minutes import DAY, minutes_of
from sundial.days import DAYS, MONTH_STARTS, date_of_day
from sundial.errors import BriefError
from sundial.study import Study

DOWN = -32768  # INT16_MIN: the sun is down
EVERY = 10  # minutes of a row
FORMATS = ("csv", "json", "c")


@dataclass(frozen=True, eq=False)
class SunTable:
    """``days`` of the year (d,) from 0; rows of ``every`` minutes of local standard time; ``angles`` by axis name (d, rows), tenths of degrees, in
    steps of ``step`` degrees, within the end stops; :data:`DOWN` while the sun is down."""

    name: str
    month: int | None
    days: NDArray[np.int64]
    every: int
    step: float
    angles: dict[str, NDArray[np.int16]]
    utc_offset: float
    latitude: float
    longitude: float
    kind: str
    axis_azimuth: float
    axis_tilt: float

    @property
    def rows(self) -> int:
        return DAY // self.every


def sun_table(study: Study, month: int | None = None, step: float = 0.1, every: int = EVERY, mount: Any = None) -> SunTable:
    """The table of a month (1 to 12) or of the year. The angle of a row is the sun's at its middle. BriefError for a month, a step or an interval
    that cannot be."""
    if month is not None and not 1 <= month <= 12:
        raise BriefError("--month", "must be from 1 to 12")
    if not 0.1 <= step <= 45:
        raise BriefError("--step", "must be from 0.1 to 45 degrees")
    if not 1 <= every <= 60 or DAY % every:
        raise BriefError("--every", "must divide the day, from 1 to 60 minutes")
    days = np.arange(DAYS) if month is None else np.arange(MONTH_STARTS[month - 1], MONTH_STARTS[month])
    minutes = minutes_of(study.open_sky.scene, days, "clear")
    made: BenchMount = mount_of(study, minutes, mount)
    middles = np.arange(DAY // every) * every + every // 2
    up = minutes.elevation[:, middles] > 0
    angles = {}
    for axis, told in zip(made.axes, made.told, strict=True):
        # The middle of a row of even length lies between two minutes.
        at = told[:, middles] if every % 2 else half_way(told[:, middles - 1], told[:, middles])
        stepped = np.clip(np.round(at / step) * step, axis.low, axis.high)
        angles[axis.name] = np.where(up, np.round(10 * stepped), DOWN).astype(np.int16)
    return SunTable(
        study.brief.name, month, days, every, step, angles, study.scene.weather.utc_offset, study.scene.site.latitude, study.scene.site.longitude, made.kind,
        made.axis_azimuth, float(made.axis_tilt.mean()),
    )  # fmt: skip


def half_way(one: NDArray[np.float64], other: NDArray[np.float64]) -> NDArray[np.float64]:
    """The angle half-way between two, degrees, the short way round, from -180 to 180: between 179 and -179 lies 180, not nought."""
    turned = (other - one + 180) % 360 - 180
    middle: NDArray[np.float64] = 180 - (180 - one - turned / 2) % 360
    return middle


def written(table: SunTable, form: str) -> str:
    """The table as text. BriefError for another format."""
    if form not in FORMATS:
        raise BriefError("--format", f"must be one of {', '.join(FORMATS)}")
    return {"csv": _csv, "json": _json, "c": _header}[form](table)


def _clock(table: SunTable, row: int) -> str:
    return f"{row * table.every // 60:02d}:{row * table.every % 60:02d}"


def _csv(table: SunTable) -> str:
    names = list(table.angles)
    lines = [",".join(["date", "time", *(f"{name}_deg" for name in names)])]
    for place, day in enumerate(table.days):
        date = f"{date_of_day(int(day), 2026):%m-%d}"
        for row in range(table.rows):
            values = [int(table.angles[name][place, row]) for name in names]
            if values[0] != DOWN:
                lines.append(",".join([date, _clock(table, row), *(f"{value / 10:.1f}" for value in values)]))
    return "\n".join(lines) + "\n"


def as_data(table: SunTable) -> dict[str, Any]:
    """The table as plain data; null while the sun is down."""
    return {
        "name": table.name, "month": table.month, "utc_offset": table.utc_offset, "every_minutes": table.every, "step_degrees": table.step,
        "unit": "tenths of degrees", "mount": table.kind, "axis_azimuth": round(table.axis_azimuth, 2), "axis_tilt": round(table.axis_tilt, 2),
        "days": [
            {"day": f"{date_of_day(int(day), 2026):%m-%d}", **{name: [None if value == DOWN else int(value) for value in rows[place]] for name, rows in table.angles.items()}}
            for place, day in enumerate(table.days)
        ],
    }  # fmt: skip


def _json(table: SunTable) -> str:
    return json.dumps(as_data(table)) + "\n"


HEADER = """\
/* Sun table: {name}, {span}.
 *
 * Angles of a {kind} mount at latitude {latitude:.4f}, longitude {longitude:.4f}, axis to {axis_azimuth:.1f} degrees from true north,
 * raised by {axis_tilt:.1f} degrees. Tenths of degrees, in steps of {step:g} degrees, within the end stops.
 * Positive {positive}.
 * One row is {every} minutes of local standard time (UTC{offset:+g} h, no summer time); its angle is the sun's at its middle.
 * SUN_TABLE_DOWN: the sun is down. {size} bytes of constant data.
 *
 *   int16_t angle = sun_table_{first}[day_of_year - SUN_TABLE_FIRST_DAY][minute_of_day / SUN_TABLE_EVERY_MINUTES];
 *
 * Software is no end stop: switches that cut the motor, a fuse, and an isolating switch within reach come first.
 */
#ifndef SUN_TABLE_H
#define SUN_TABLE_H

#include <stdint.h>

#define SUN_TABLE_FIRST_DAY {first_day} /* 0: 1 January; 29 February has no row, use 28 February */
#define SUN_TABLE_DAYS {days}
#define SUN_TABLE_EVERY_MINUTES {every}
#define SUN_TABLE_ROWS {rows}
#define SUN_TABLE_DOWN (-32767 - 1)

"""
POSITIVE = {
    "hinge": "tilts the glass up toward where the array faces",
    "two-axis": "azimuth is clockwise from where the array faces, tilt from level",
}


def _header(table: SunTable) -> str:
    names = list(table.angles)
    size = 2 * sum(rows.size for rows in table.angles.values())
    text = HEADER.format(
        name=_plain(table.name), span="the year" if table.month is None else f"month {table.month}", kind=table.kind, latitude=table.latitude,
        longitude=table.longitude, axis_azimuth=table.axis_azimuth, axis_tilt=table.axis_tilt, step=table.step, every=table.every,
        offset=table.utc_offset, size=size, first=names[0], first_day=int(table.days[0]), days=len(table.days), rows=table.rows,
        positive=POSITIVE.get(table.kind, "rolls the glass to the right of the way the axis points"),
    )  # fmt: skip
    for name in names:
        rows = ",\n".join(
            f"  {{{', '.join('SUN_TABLE_DOWN' if value == DOWN else str(value) for value in row)}}}"
            for row in table.angles[name].tolist()
        )
        text += f"static const int16_t sun_table_{name}[SUN_TABLE_DAYS][SUN_TABLE_ROWS] = {{\n{rows}\n}};\n\n"
    return text + "#endif\n"


def _plain(text: str) -> str:
    """A name within a comment: nothing that could end it, nothing but plain letters."""
    return "".join(letter if letter.isascii() and letter.isprintable() and letter not in "*/\\?" else " " for letter in text)[:60]
