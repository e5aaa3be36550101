"""A series of a monitor: power, energy or a counter over time, as one row an interval."""

from __future__ import annotations

import io
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from sundial.errors import BriefError
from sundial.record.dialect import EITHER_WAY, Columns, named_unit, time_format_of
from sundial.sun import Site
from sundial.zones import units_at

Floats = NDArray[np.float64]
LARGEST = 200_000_000  # bytes
TO_WATTS = {"W": 1.0, "kW": 1000.0}
TO_WH = {"Wh": 1.0, "kWh": 1000.0}
PLAIN = Columns()
LONG_PAST = 946_684_800.0  # 2000-01-01
FAR_FUTURE = 4_102_444_800.0  # 2100-01-01
LONGEST = 7200.0  # seconds of an interval: by the hour, or every two


@dataclass(frozen=True, eq=False)
class Series:
    """Rising Unix times (n,) at which intervals of ``step`` seconds begin, and the mean power in each (n,), W. ``notes``: what was mended."""

    unix: Floats
    power: Floats
    step: float
    notes: tuple[str, ...] = field(default=())

    @property
    def energy(self) -> Floats:
        """Wh of each interval (n,)."""
        return self.power * (self.step / 3600)

    def by(self, step: float) -> Series:
        """The same in intervals of ``step`` seconds: means of what lies in each; a series that is as coarse already, or whose
        intervals do not fill those evenly, stays."""
        if self.step >= step or step % self.step > 1e-6 or not len(self.unix):
            return self
        at = np.floor(self.unix / step).astype(np.int64)
        slots, place = np.unique(at, return_inverse=True)
        count = np.bincount(place)
        return Series(np.asarray(slots * step, dtype=np.float64), np.bincount(place, self.power) / count, step, self.notes)

    def part(self, use: NDArray[np.bool_]) -> Series:
        """Some of its intervals."""
        return Series(self.unix[use], self.power[use], self.step, self.notes)


def read_series(data: bytes, site: Site, columns: Columns = PLAIN, nameplate: float | None = None) -> Series:
    """Read a CSV. Rows out of order are sorted, repeats dropped, a counter's resets found, negative nights set to zero: each is told.
    BriefError where a column is missing, a time or a number cannot be read, or nothing is left; and where the power is more than
    twice the ``nameplate`` (W), which is a unit mistaken."""
    frame, kind, name = _frame(data, columns)
    notes: list[str] = []
    if not columns.time_format:
        told = time_format_of(frame[columns.time].astype(str).str.strip().tolist(), units_at(site.timezone) == "us")
        columns = replace(columns, time_format=told.form)
        notes += [EITHER_WAY] if told.open else []
    columns = replace(columns, unit=columns.unit or named_unit(name, kind))
    times = _times(frame[columns.time], site, columns)
    values = _numbers(frame[name], name)
    order = np.argsort(times, kind="stable")
    if (np.diff(times) < 0).any():
        notes.append("Some rows were out of order: they are sorted by their time.")
    times, values = times[order], values[order]
    first = np.concatenate([[True], np.diff(times) > 0])
    if not first.all():
        notes.append(f"{int((~first).sum())} rows repeat a time: the first of each is taken.")
        times, values = times[first], values[first]
    if len(times) < 3:
        raise BriefError("series", "holds fewer than three rows")
    step = float(np.median(np.diff(times)))
    if not 1 <= step <= LONGEST:
        raise BriefError("series", f"has a row every {step / 3600:.1f} hours: by the hour or finer is needed")
    power = _power(times, values, kind, columns.unit, step, notes)
    dark = power < 0
    if dark.any():
        notes.append(f"{int(dark.sum())} rows are below zero, what a monitor takes itself at night: they count as nothing.")
        power = np.maximum(power, 0)
    if nameplate is not None and float(np.nanmax(power)) > 2 * nameplate:
        raise BriefError(
            "series",
            f"shows {np.nanmax(power):.0f} W from {nameplate:.0f} W of panels: is it kW taken for W, or Wh for W? Give --unit",
        )
    if nameplate is not None and not columns.unit and 0 < float(np.nanmax(power)) <= 2 * nameplate / 1000:
        thousand = {"power": "kW taken for W", "energy": "kWh taken for Wh", "total": "kWh taken for Wh"}[kind]
        raise BriefError(
            "series",
            f"shows {np.nanmax(power):.2g} W at most from {nameplate:.0f} W of panels, a thousandth: is it {thousand}? Give --unit",
        )
    gaps = int(((np.diff(times) > 1.5 * step) & (np.diff(times) < 86400)).sum())
    if gaps:
        notes.append(f"{gaps} gaps are left as they are.")
    there = np.isfinite(power)
    return Series(times[there], power[there], step, tuple(notes))


def _frame(data: bytes, columns: Columns):  # type: ignore[no-untyped-def]
    import pandas as pd

    if not data.strip():
        raise BriefError("series", "the file is empty")
    if len(data) > LARGEST:
        raise BriefError("series", f"the file has {len(data) / 1e6:.0f} MB; {LARGEST / 1e6:.0f} MB are the most")
    if b"\0" in data[:10_000]:
        raise BriefError("series", "this is not a text file; give a CSV")
    first = data[:4000].split(b"\n", 1)[0]
    mark = max((b";", b"\t", b","), key=first.count)
    try:
        frame = pd.read_csv(
            io.BytesIO(data),
            sep=mark.decode(),
            decimal="," if mark != b"," else ".",
            dtype={columns.time: str},
            encoding_errors="replace",
        )
    except (ValueError, pd.errors.ParserError, pd.errors.EmptyDataError) as error:
        raise BriefError("series", f"this is not a CSV: {error}") from None
    frame.columns = [str(name).strip().lstrip("\ufeff") for name in frame.columns]
    heads = ", ".join(frame.columns)
    if columns.time not in frame.columns:
        raise BriefError("--time", f"there is no column {columns.time!r}; there are: {heads}")
    for kind in ("power", "energy", "total"):
        name = getattr(columns, kind)
        if name:
            if name not in frame.columns:
                raise BriefError(f"--{kind}", f"there is no column {name!r}; there are: {heads}")
            return frame, kind, name
    for kind in ("power", "energy", "total"):
        if kind in frame.columns:
            return frame, kind, kind
    raise BriefError("--power", f"say which column holds power, energy or a counter; there are: {heads}")


def times_of(text, site: Site, columns: Columns, seen: frozenset[str] = frozenset()) -> tuple[Floats, Any]:  # type: ignore[no-untyped-def]
    """Unix times (n,) of a column, NaN where one cannot be read, and the local times of hours that the clock shows twice.

    Times without an offset go by the clock of the zone, both of its changes included: an hour that it shows twice is first that of summer;
    ``seen``: such times of the rows before."""
    import pandas as pd

    if columns.time_format.startswith("unix"):
        numbers: Floats = pd.to_numeric(text, errors="coerce").to_numpy(dtype=float)
        return (numbers / 1000 if columns.time_format == "unix ms" else numbers), seen
    text = text.astype(str).str.strip()
    offset = text.str.contains(r"\d(?:Z|[+-]\d\d:?\d\d)$", regex=True)
    with_offset = bool(offset.any())
    if with_offset and not offset[text.str.contains(r"\d", regex=True)].all():
        raise BriefError("series", "some times have an offset from UTC and some have none")
    # A way that is not known is read only where the month is a word: numbers row by row would exchange day and month.
    form = columns.time_format or ("mixed" if text.str.contains(r"[A-Za-z]{3}", regex=True).all() else "ISO8601")
    try:
        found = pd.to_datetime(text, errors="coerce", utc=with_offset, format=form)
        return _seconds(found, site, columns, with_offset, seen)
    except (pd.errors.OutOfBoundsDatetime, OverflowError):
        raise BriefError("series", "holds years that no monitor has seen: look at its times") from None


def _seconds(found, site: Site, columns: Columns, with_offset: bool, seen: frozenset[str]) -> tuple[Floats, Any]:  # type: ignore[no-untyped-def]
    """Unix times (n,) of times that were read, and the local times of hours that the clock shows twice."""
    import pandas as pd

    if not with_offset:
        zone, local = columns.zone or site.timezone, found.dt.tz_localize(None)
        twice = local.dt.tz_localize(zone, ambiguous="NaT", nonexistent="shift_forward").isna() & local.notna()
        stamps = local[twice].astype(str)
        first = pd.Series(True, index=local.index)
        first[twice] = ~(stamps.duplicated() | stamps.isin(seen))
        seen = frozenset(stamps)
        found = local.dt.tz_localize(zone, ambiguous=first.to_numpy(), nonexistent="shift_forward").dt.tz_convert("UTC")
    seconds: Floats = found.astype("datetime64[ns, UTC]").astype("int64").to_numpy() / 1e9
    return np.where(found.isna().to_numpy(), np.nan, seconds), seen


def _times(column, site: Site, columns: Columns) -> Floats:  # type: ignore[no-untyped-def]
    """The times of a whole file; BriefError where one cannot be read."""
    seconds, _ = times_of(column, site, columns)
    wrong = np.flatnonzero(np.isnan(seconds))
    if wrong.size:
        told = str(column.iloc[int(wrong[0])])
        raise BriefError(f"series row {int(wrong[0]) + 2}", f"{told[:30]!r} is not a time such as 2025-03-01T14:05")
    if (seconds > FAR_FUTURE).any():
        bad = int(np.flatnonzero(seconds > FAR_FUTURE)[0])
        raise BriefError(
            f"series row {bad + 2}", f"{str(column.iloc[bad])[:30]!r} lies in a far future: the monitor's clock was not set"
        )
    if (seconds < LONG_PAST).any():
        bad = int(np.flatnonzero(seconds < LONG_PAST)[0])
        told = str(column.iloc[bad])
        raise BriefError(f"series row {bad + 2}", f"{told[:30]!r} is long past: the monitor's clock was not set")
    return seconds


def _numbers(column, name: str) -> Floats:  # type: ignore[no-untyped-def]
    import pandas as pd

    values: Floats = pd.to_numeric(column, errors="coerce").to_numpy(dtype=float)
    text = column.fillna("").astype(str).str.strip()
    empty = text.isin(["", "nan", "NaN", "None"]).to_numpy()
    wrong = np.flatnonzero(~np.isfinite(values) & ~empty)
    if wrong.size:
        at = int(wrong[0])
        raise BriefError(f"series row {at + 2}, column {name}", f"{text.iloc[at][:30]!r} is not a number")
    return values


def _power(times: Floats, values: Floats, kind: str, unit: str, step: float, notes: list[str]) -> Floats:
    """Mean power of each interval, W; the last one of a counter is not known."""
    if kind == "power":
        watts: Floats = values * factor_of(unit or "W", TO_WATTS)
        return watts
    factor = factor_of(unit or "Wh", TO_WH)
    if kind == "energy":
        return values * factor * (3600 / step)
    grown = np.diff(values * factor)
    resets = grown < -1e-6
    if resets.any():
        notes.append(f"The counter went back {int(resets.sum())} times: it is taken as begun anew.")
    grown = np.where(resets, np.nan, grown)
    wide = np.diff(times) > 1.5 * step  # what came in a gap belongs to no interval
    return np.concatenate([np.where(wide, np.nan, grown * (3600 / step)), [np.nan]])


def factor_of(unit: str, known: dict[str, float]) -> float:
    if unit not in known:
        raise BriefError("--unit", f"must be one of {', '.join(known)}")
    return known[unit]
