"""Reading a file of the use: a CSV of a year, or of a typical week, by the hour or finer."""

from __future__ import annotations

import csv
import io
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAYS, HOURS, day_of_date
from sundial.errors import BriefError

Floats = NDArray[np.float64]
LARGEST = 6_000_000  # bytes; a year by quarters of an hour has about 1 MB
MOST_ROWS = 110_000  # a year by five minutes has 105 120
MOST_MISSING = 240  # hours that are filled from the days beside them
TO_WH = {"kWh": 1000.0, "Wh": 1.0, "kW": 1000.0, "W": 1.0}
ISO = "ISO 8601"
FORMS = ("%d.%m.%Y %H:%M", "%d.%m.%Y %H:%M:%S", "%d/%m/%Y %H:%M", "%d/%m/%Y %H:%M:%S")


@dataclass(frozen=True, eq=False)
class Profile:
    """The use of a file. ``hours``: Wh of every standard hour (8760,), or of a week's by the clock on the wall (168,), from Monday;
    ``notes`` say what was done to it."""

    hours: Floats
    notes: tuple[str, ...] = ()

    @property
    def is_week(self) -> bool:
        return len(self.hours) == 168


@dataclass(frozen=True)
class Table:
    """A file's rows: ``heads`` (empty: it has none), ``cells`` and the line number of the first row; ``comma``: decimals are written with
    a comma."""

    heads: tuple[str, ...]
    cells: list[list[str]]
    first_line: int
    comma: bool


def read_table(data: bytes, path: str = "use.profile.file") -> Table:
    """The rows of a CSV: delimiter, header and decimal sign found by themselves. BriefError where it is none."""
    if not data.strip():
        raise BriefError(path, "the file is empty")
    if len(data) > LARGEST:
        raise BriefError(path, f"the file has {len(data) / 1e6:.0f} MB; {LARGEST / 1e6:.0f} MB are the most")
    if b"\0" in data:
        raise BriefError(path, "this is not a text file; give a CSV")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = data.decode("latin-1")
    first = next((line for line in text.splitlines() if line.strip()), "")
    delimiter = next((mark for mark in ";\t" if mark in first), "," if "," in first else ";")
    if delimiter == "," and first.replace(",", "").strip().isdigit():
        delimiter = ";"  # one column of numbers with decimal commas
    try:
        rows = [
            (number, [cell.strip() for cell in row])
            for number, row in enumerate(csv.reader(io.StringIO(text), delimiter=delimiter), 1)
        ]
    except csv.Error as error:
        raise BriefError(path, f"this is not a CSV: {error}") from None
    rows = [(number, row) for number, row in rows if any(row)]
    if len(rows) > MOST_ROWS:
        raise BriefError(path, f"the file has {len(rows)} rows; {MOST_ROWS} are the most")
    comma = delimiter != ","
    head = not any(_number(cell, comma) is not None for cell in rows[0][1])
    if head and len(rows) < 2:
        raise BriefError(path, "the file has a head and no rows")
    heads = tuple(rows[0][1]) if head else ()
    body = rows[1:] if head else rows
    return Table(heads, [row for _, row in body], body[0][0], comma)


def _number(cell: str, comma: bool) -> float | None:
    try:
        value = float(cell.replace(",", ".") if comma else cell)
    except ValueError:
        return None
    return value if np.isfinite(value) else None


def read_profile(
    data: bytes, timezone: str, utc_offset: float, time: str = "", column: str = "", unit: str = "kWh", path: str = "use.profile"
) -> Profile:
    """The use by the hour. Times without an offset go by the clock on the wall, both of its changes included, unless the file has the
    hour that the clock skips in spring: then by standard time. ``unit``: kWh or Wh of the row, or mean kW or W. 29 February is left
    out; up to 240 missing hours are taken from the days beside. BriefError names the row or the column."""
    table = read_table(data, f"{path}.file")
    at_time, at_use = _columns(table, time, column, path)
    values = np.empty(len(table.cells))
    for index, row in enumerate(table.cells):
        cell = row[at_use] if at_use < len(row) else ""
        value = _number(cell, table.comma)
        if value is None:
            raise BriefError(
                f"{path}.file row {table.first_line + index}", f"{cell[:30]!r} is not a number" if cell else "holds no use"
            )
        if value < 0:
            raise BriefError(f"{path}.file row {table.first_line + index}", f"the use is {value:g}: it cannot be negative")
        values[index] = value
    if not values.sum():
        raise BriefError(f"{path}.file", "the use is zero in every row")
    rows = len(values)
    if at_time is None or rows == 168:
        return _without_times(values, unit, path)
    stamps = _stamps(table, at_time, timezone, utc_offset, path)
    return _binned(stamps, values, unit, table.first_line, path)


def _columns(table: Table, time: str, column: str, path: str) -> tuple[int | None, int]:
    wide = max(len(row) for row in table.cells)
    for name, key in ((time, "time"), (column, "column")):
        if name and name not in table.heads:
            known = ", ".join(table.heads) or "the file has no head"
            raise BriefError(f"{path}.{key}", f"there is no column {name!r} (there are: {known})")
    at_use = table.heads.index(column) if column else 1 if wide > 1 else 0
    if time:
        return table.heads.index(time), at_use
    return (0 if wide > 1 and at_use != 0 else None), at_use


def _without_times(values: Floats, unit: str, path: str) -> Profile:
    rows = len(values)
    steps = {168: 168, HOURS: HOURS, HOURS + 24: HOURS}
    for parts in (1, 2, 4, 12):
        if rows % parts == 0 and rows // parts in steps:
            hours = values.reshape(-1, parts)
            made = (hours.mean(axis=1) if unit in ("kW", "W") else hours.sum(axis=1)) * TO_WH[unit]
            notes: tuple[str, ...] = ()
            if len(made) == HOURS + 24:
                made = np.delete(made, slice(59 * 24, 60 * 24))
                notes = ("29 February is left out.",)
            return Profile(made, notes)
    raise BriefError(
        f"{path}.file",
        f"has {rows} rows; a year by the hour has 8760 (8784 with 29 February), a typical week 168, or give a column of times",
    )


def _stamps(table: Table, at: int, timezone: str, utc_offset: float, path: str) -> list[datetime]:
    """Standard time of every row, without a zone."""
    found: list[datetime] = []
    usual = ""
    for index, row in enumerate(table.cells):
        cell = row[at] if at < len(row) else ""
        when, usual = _time(cell, usual)
        if when is None:
            raise BriefError(
                f"{path}.file row {table.first_line + index}",
                f"{cell[:30]!r} is not a time such as 2025-03-01 14:00 or 01.03.2025 14:00",
            )
        found.append(when)
    shift = timedelta(hours=utc_offset)
    if any(when.tzinfo is not None for when in found):
        if not all(when.tzinfo is not None for when in found):
            raise BriefError(f"{path}.file", "some times have an offset from UTC and some have none")
        return [(when.astimezone(UTC) + shift).replace(tzinfo=None) for when in found]
    zone = ZoneInfo(timezone)
    if any(_skipped(when, zone) for when in found):
        return found
    made, met = [], set()  # times that the clock shows twice: the second time they are met, it is the later one
    for when in found:
        fold = int(when in met)
        if _doubled(when, zone):
            met.add(when)
        made.append((when.replace(tzinfo=zone, fold=fold).astimezone(UTC) + shift).replace(tzinfo=None))
    return made


UTC = UTC


def _time(cell: str, usual: str = "") -> tuple[datetime | None, str]:
    """A time, and the form it is written in; the form that was ``usual`` so far is tried first."""
    for form in (usual or ISO, ISO, *FORMS):
        try:
            return (datetime.fromisoformat(cell) if form == ISO else datetime.strptime(cell, form)), form
        except ValueError:
            continue
    return None, usual


def _skipped(when: datetime, zone: ZoneInfo) -> bool:
    """Whether the clock on the wall never shows that time."""
    there = when.replace(tzinfo=zone)
    return there.astimezone(UTC).astimezone(zone).replace(tzinfo=None) != when


def _doubled(when: datetime, zone: ZoneInfo) -> bool:
    return when.replace(tzinfo=zone, fold=0).utcoffset() != when.replace(tzinfo=zone, fold=1).utcoffset()


def _binned(stamps: list[datetime], values: Floats, unit: str, first_line: int, path: str) -> Profile:
    seen: dict[datetime, int] = {}
    for index, when in enumerate(stamps):
        if when in seen:
            raise BriefError(f"{path}.file row {first_line + index}", f"the time is that of row {first_line + seen[when]} too")
        seen[when] = index
    leap = np.array([(when.month, when.day) == (2, 29) for when in stamps])
    hours = np.array([day_of_date(when.date()) * 24 + when.hour for when in stamps])
    kept = ~leap
    sums = np.bincount(hours[kept], values[kept], HOURS)
    counts = np.bincount(hours[kept], minlength=HOURS)
    notes = ["29 February is left out."] if leap.any() else []
    usual = int(np.median(counts[counts > 0]))
    if len(stamps) / max(usual, 1) > HOURS + 48:
        raise BriefError(
            f"{path}.file", f"holds {len(stamps) / usual / 24:.0f} days; give one year, or a typical week of 168 rows"
        )
    made = np.divide(sums, counts, out=np.zeros(HOURS), where=counts > 0)
    if unit in ("kWh", "Wh"):
        made *= usual
    missing = np.flatnonzero(counts == 0)
    if len(missing) > MOST_MISSING:
        first = int(missing[0])
        raise BriefError(
            f"{path}.file",
            f"{len(missing)} of the year's 8760 hours are missing, the first on {_spoken(first)}; up to {MOST_MISSING} are filled by themselves",
        )
    if missing.size:
        made = _filled(made, counts > 0)
        notes.append(
            f"{len(missing)} missing hours are taken from the days beside them, the first on {_spoken(int(missing[0]))}."
        )
    return Profile(made * TO_WH[unit], tuple(notes))


def _filled(made: Floats, there: NDArray[np.bool_]) -> Floats:
    """Missing hours as the mean of the same hour on the nearest days before and after that have it."""
    by_day, known = made.reshape(DAYS, 24).copy(), there.reshape(DAYS, 24)
    for day, hour in zip(*np.nonzero(~known), strict=True):
        near = [
            next(
                made.reshape(DAYS, 24)[(day + step * away) % DAYS, hour]
                for away in range(1, DAYS)
                if known[(day + step * away) % DAYS, hour]
            )
            for step in (-1, 1)
        ]
        by_day[day, hour] = sum(near) / 2
    return by_day.reshape(-1)


def _spoken(hour: int) -> str:
    from sundial.days import spoken_day

    return f"{spoken_day(hour // 24)} at {hour % 24:02}:00"
