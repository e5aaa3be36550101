"""Weather files: EPW, TMY3 and hourly CSV, read with refusals that name the row and the column."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta, timezone

import numpy as np
from numpy.typing import NDArray

from sundial.days import HOURS
from sundial.errors import BriefError
from sundial.sky.checks import YearTable, finish
from sundial.sky.weather_year import WeatherYear
from sundial.sun import Site

LARGEST = 16_000_000  # bytes; an EPW year is about 1.6 MB
MOST_LINES = 20_000  # a year by the hour has 8760, and a head
LONGEST_LINE = 10_000  # characters; an EPW's comments may run to a few hundred
Floats = NDArray[np.float64]


@dataclass(frozen=True)
class _Rows:
    """Rows of text with the line number of the first."""

    cells: list[list[str]]
    first_line: int

    def numbers(self, place: int, name: str, blank: float | None = None) -> Floats:
        """One column as numbers; refuses the first cell that is none."""
        values = np.empty(len(self.cells))
        for index, row in enumerate(self.cells):
            cell = row[place].strip() if place < len(row) else ""
            if not cell and blank is not None:
                values[index] = blank
                continue
            try:
                values[index] = float(cell)
            except ValueError:
                shown = f"{cell[:30]!r} is not a number" if cell else "is empty"
                raise BriefError(f"sky.file row {self.first_line + index}, column {name}", shown) from None
            if not np.isfinite(values[index]):
                raise BriefError(f"sky.file row {self.first_line + index}, column {name}", f"{cell!r} is not a number")
        return values


def decode(data: bytes) -> tuple[str, tuple[str, ...]]:
    """Text of a file and a note where its encoding was not UTF-8; refuses empty, huge, long and binary files."""
    text, notes = _decode(data)
    lines = text.count("\n") + 1
    if lines > MOST_LINES:
        raise BriefError(
            "sky.file", f"the file has {lines} lines; a year by the hour has 8760 rows, and {MOST_LINES} lines are the most"
        )
    for number, line in enumerate(text.splitlines(), 1):
        if len(line) > LONGEST_LINE:
            raise BriefError(f"sky.file row {number}", f"has {len(line)} characters; {LONGEST_LINE} are the most")
    return text, notes


def _decode(data: bytes) -> tuple[str, tuple[str, ...]]:
    if not data.strip():
        raise BriefError("sky.file", "the file is empty")
    if len(data) > LARGEST:
        raise BriefError("sky.file", f"the file has {len(data) / 1e6:.0f} MB; a year of weather has under {LARGEST / 1e6:.0f} MB")
    if data[:2] in (b"\xff\xfe", b"\xfe\xff"):
        try:
            return data.decode("utf-16"), ("The file was in UTF-16; read as such.",)
        except UnicodeDecodeError:
            raise BriefError("sky.file", "the file is not readable text") from None
    if b"\0" in data:
        raise BriefError("sky.file", "this is not a text file; give an EPW, TMY3 or CSV file")
    try:
        return data.decode("utf-8-sig"), ()
    except UnicodeDecodeError:
        return data.decode("latin-1"), ("The file was not in UTF-8; read as Latin-1.",)


def _lines(text: str) -> list[list[str]]:
    # A quote left open would make the csv module swallow the rest: weather files need no quoted line breaks.
    return [next(csv.reader([line]), []) for line in text.splitlines()]


def read_epw(data: bytes, site: Site, shift_minutes: int = 0) -> WeatherYear:
    """An EPW year (EnergyPlus weather format: 8 header lines, then 35 columns, hours 1 to 24 labelled at their end)."""
    text, notes = decode(data)
    lines = _lines(text)
    head = lines[0] if lines else []
    if not head or head[0].strip().upper() != "LOCATION":
        raise BriefError("sky.file row 1", "an EPW file starts with the word LOCATION; is this another kind of file?")
    if len(head) < 10:
        raise BriefError("sky.file row 1", "the LOCATION line is cut short")
    header = _Rows([head], 1)
    latitude, longitude, offset = (
        float(header.numbers(i, n)[0]) for i, n in ((6, "latitude"), (7, "longitude"), (8, "time zone"))
    )
    rows = _Rows([row for row in lines[8:] if row], 9)
    for index, row in enumerate(rows.cells):
        if len(row) < 22:
            raise BriefError(f"sky.file row {9 + index}", f"has {len(row)} columns, an EPW row has 35")
    stamps = np.stack([rows.numbers(i, n) for i, n in ((1, "month"), (2, "day"), (3, "hour"))]).astype(int)
    wind = rows.numbers(21, "wind speed")
    temperature = rows.numbers(6, "dry bulb temperature")
    table = YearTable(
        first_row=9,
        month=stamps[0],
        day=stamps[1],
        hour=stamps[2] - 1,
        ghi=_known(rows.numbers(13, "global horizontal radiation"), 9999, "global horizontal radiation", 9),
        dni=_known(rows.numbers(14, "direct normal radiation"), 9999, "direct normal radiation", 9),
        dhi=_known(rows.numbers(15, "diffuse horizontal radiation"), 9999, "diffuse horizontal radiation", 9),
        temp_air=np.where(temperature >= 99.9, np.nan, temperature),
        wind_speed=np.where(wind >= 999, np.nan, wind),
        names=("global horizontal radiation", "direct normal radiation", "diffuse horizontal radiation"),
    )
    name = head[1].strip() or "unnamed station"
    return finish(table, site, offset, f"EPW file: {name}", notes, (latitude, longitude), shift_minutes)


def _known(values: Floats, missing: float, name: str, first_row: int) -> Floats:
    gaps = np.flatnonzero(values >= missing)
    if gaps.size:
        raise BriefError(
            f"sky.file row {first_row + int(gaps[0])}, column {name}",
            f"is marked as missing ({values[gaps[0]]:g}), in {gaps.size} rows; a year without gaps is needed",
        )
    return values


def read_tmy3(data: bytes, site: Site, shift_minutes: int = 0) -> WeatherYear:
    """A TMY3 CSV (Wilcox and Marion 2008, NREL/TP-581-43156): two header lines, hours labelled at their end."""
    text, notes = decode(data)
    lines = _lines(text)
    if len(lines) < 3 or len(lines[0]) < 7:
        raise BriefError("sky.file row 1", "a TMY3 file starts with station, name, state, time zone, latitude, longitude, height")
    header = _Rows([lines[0]], 1)
    offset, latitude, longitude = (
        float(header.numbers(i, n)[0]) for i, n in ((3, "time zone"), (4, "latitude"), (5, "longitude"))
    )
    titles = [cell.strip() for cell in lines[1]]
    wanted = ("Date (MM/DD/YYYY)", "Time (HH:MM)", "GHI (W/m^2)", "DNI (W/m^2)", "DHI (W/m^2)", "Dry-bulb (C)", "Wspd (m/s)")
    for title in wanted:
        if title not in titles:
            raise BriefError("sky.file row 2", f"the column {title!r} is missing; a TMY3 file has it")
    place = {title: titles.index(title) for title in wanted}
    rows = _Rows([row for row in lines[2:] if row], 3)
    dates, hours = [], []
    for index, row in enumerate(rows.cells):
        try:
            month, day = (int(part[:4]) for part in row[place[wanted[0]]].split("/")[:2])
            hour = int(row[place[wanted[1]]].split(":")[0][:4]) - 1
        except (ValueError, IndexError):
            raise BriefError(f"sky.file row {3 + index}", "the date or time is not of the form MM/DD/YYYY and HH:MM") from None
        dates.append((month, day))
        hours.append(hour)
    stamps = np.array(dates, dtype=int).reshape(-1, 2)
    ghi, dni, dhi, temperature, wind = (rows.numbers(place[title], title) for title in wanted[2:])
    table = YearTable(3, stamps[:, 0], stamps[:, 1], np.array(hours), ghi, dni, dhi, temperature, wind, names=wanted[2:5])
    return finish(table, site, offset, f"TMY3 file: {lines[0][1].strip()}", notes, (latitude, longitude), shift_minutes)


def read_hourly(data: bytes, site: Site, shift_minutes: int = 0) -> WeatherYear:
    """An hourly CSV with a header line naming ``time`` (start of hour, any ISO 8601 form: local standard time without an offset, or
    with one, which is honoured) and ``ghi`` (W/m2), and
    ``dni`` with ``dhi``, or neither (then split by Erbs et al. 1982, doi 10.1016/0038-092X(82)90302-4);
    ``temp_air`` (degC) and ``wind_speed`` (m/s) may be there. Lines starting with # are passed over."""
    text, notes = decode(data)
    kept = [(number, line) for number, line in enumerate(text.splitlines(), 1) if line.strip() and not line.startswith("#")]
    if not kept:
        raise BriefError("sky.file", "the file holds no rows")
    delimiter = ";" if kept[0][1].count(";") > kept[0][1].count(",") else ","
    lines = [next(csv.reader([line], delimiter=delimiter), []) for _, line in kept]
    titles = [cell.strip().lower() for cell in lines[0]]
    for title in ("time", "ghi"):
        if title not in titles:
            raise BriefError(f"sky.file row {kept[0][0]}", f"the column {title!r} is missing; found: {', '.join(titles)[:120]}")
    if ("dni" in titles) != ("dhi" in titles):
        have, lack = ("dni", "dhi") if "dni" in titles else ("dhi", "dni")
        raise BriefError(f"sky.file row {kept[0][0]}", f"there is {have!r} but no {lack!r}: give both, or neither")
    first = kept[1][0] if len(kept) > 1 else 2
    rows = _Rows(lines[1:], first)
    place = {title: index for index, title in enumerate(titles)}
    cells = [row[place["time"]].strip() if place["time"] < len(row) else "" for row in rows.cells]
    stamps, offset = _times(cells, first, site.standard_offset)

    def column(title: str, otherwise: float | None = None) -> Floats:
        if title not in place:
            return np.full(len(rows.cells), np.nan if otherwise is None else otherwise)
        return rows.numbers(place[title], title)

    split = "dni" not in place
    table = YearTable(
        first,
        stamps[:, 0],
        stamps[:, 1],
        stamps[:, 2],
        column("ghi"),
        column("dni", 0.0),
        column("dhi", 0.0),
        column("temp_air"),
        column("wind_speed"),
        names=("ghi", "dni", "dhi"),
        split=split,
    )
    return finish(table, site, site.standard_offset if offset is None else offset, "Hourly CSV", notes, None, shift_minutes)


def _times(cells: list[str], first_row: int, site_offset: float) -> tuple[NDArray[np.int64], float | None]:
    """Month, day and hour of each row (n, 3), and the hours ahead of UTC of that clock, None where the file does not say.

    Where the offset changes (summer time), all rows are brought to the smaller one, standard time; a file whose year does not begin with that
    clock's but with the site's own standard time (``site_offset``; a local year told in UTC) is brought to the latter.
    """
    times = [_time(cell, first_row + index) for index, cell in enumerate(cells)]
    offsets = [None if time.tzinfo is None else time.utcoffset() for time in times]
    odd = next((index for index, offset in enumerate(offsets) if (offset is None) != (offsets[0] is None)), None)
    if odd is not None:
        have, lack = ("no", "the rows before it have one") if offsets[odd] is None else ("an", "the rows before it have none")
        raise BriefError(f"sky.file row {first_row + odd}, column time", f"has {have} offset from UTC, {lack}")
    known = [offset for offset in offsets if offset is not None]
    if not known:
        return np.array([(time.month, time.day, time.hour) for time in times], dtype=np.int64).reshape(-1, 3), None
    offset = min(known)
    clock, own = timezone(offset), timezone(timedelta(hours=site_offset))
    try:
        if not _begins_a_year(times[0].astimezone(clock)) and _begins_a_year(times[0].astimezone(own)):
            clock, offset = own, timedelta(hours=site_offset)
        moved = [time.astimezone(clock) for time in times]
    except OverflowError:
        raise BriefError("sky.file, column time", "a year near 1 or 9999 cannot be brought to another clock") from None
    return np.array([(time.month, time.day, time.hour) for time in moved], dtype=np.int64), offset.total_seconds() / 3600


def _begins_a_year(at: datetime) -> bool:
    return (at.month, at.day, at.hour) == (1, 1, 0)


def _time(cell: str, row: int) -> datetime:
    try:
        found = datetime.fromisoformat(cell)
    except ValueError:
        found = None
    if found is None or len(cell) < 11:  # a date alone is no hour
        raise BriefError(
            f"sky.file row {row}, column time", f"{cell[:30]!r} is not a time such as 2025-06-01 13:00 or 2025-06-01T13:00-07:00"
        )
    return found


def write_hourly(weather: WeatherYear) -> str:
    """The 8760 rows as CSV text: time (start of hour, local standard time), ghi, dni, dhi, temp_air, wind_speed."""
    return hours_csv({name: getattr(weather, name) for name in ("ghi", "dni", "dhi", "temp_air", "wind_speed")}, 2)


def hours_csv(columns: Mapping[str, Floats], digits: int = 1) -> str:
    """The 8760 hours as CSV text: time (start of hour, local standard time), then the columns (8760,)."""
    import pandas as pd

    times = pd.date_range("2023-01-01", periods=HOURS, freq="h").strftime("%Y-%m-%d %H:%M")
    frame = pd.DataFrame({"time": times})
    for name, values in columns.items():
        frame[name] = np.round(values, digits)
    out = io.StringIO()
    frame.to_csv(out, index=False)
    return out.getvalue()


def sniff(data: bytes) -> str:
    """Which of "epw", "tmy3" or "hourly" a file looks like from its first lines."""
    text, _ = decode(data)
    first: Sequence[str] = text.lstrip().splitlines()[:2]
    if first and first[0].upper().startswith("LOCATION"):
        return "epw"
    if len(first) > 1 and first[1].startswith("Date (MM/DD/YYYY)"):
        return "tmy3"
    return "hourly"
