"""What every weather file must pass before it becomes a year."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAY_OF_HOUR, HOURS, MONTH_LENGTHS
from sundial.errors import BriefError
from sundial.sky.weather_year import WeatherYear
from sundial.sun import Site, sun_year

Floats = NDArray[np.float64]
MOST_GHI, MOST_DNI, MOST_DHI = 1500.0, 1500.0, 1000.0  # W/m2, hourly means
SHIFTS = (-120, -90, -60, -30, 0, 30, 60, 90, 120)  # minutes


@dataclass(frozen=True, eq=False)
class YearTable:
    """A file's columns as read, one entry a row; ``hour`` is the start of the hour, 0 to 23. NaN in ``temp_air`` and
    ``wind_speed`` marks what the file does not know. ``split``: dni and dhi are still to be made from ghi."""

    first_row: int
    month: NDArray[np.int64]
    day: NDArray[np.int64]
    hour: NDArray[np.int64]
    ghi: Floats
    dni: Floats
    dhi: Floats
    temp_air: Floats
    wind_speed: Floats
    names: tuple[str, str, str] | tuple[str, ...]
    split: bool = False

    def keep(self, rows: NDArray[np.bool_]) -> YearTable:
        columns = ("month", "day", "hour", "ghi", "dni", "dhi", "temp_air", "wind_speed")
        return replace(self, **{name: getattr(self, name)[rows] for name in columns})


def finish(
    table: YearTable,
    site: Site,
    offset: float,
    source: str,
    notes: tuple[str, ...],
    station: tuple[float, float] | None,
    shift_minutes: int,
) -> WeatherYear:
    """Check a file's table and make it a year; BriefError names the row and the column of the first thing wrong."""
    _plausible(table)
    leap = (table.month == 2) & (table.day == 29)
    if leap.any():
        _in_order(table)
        table = table.keep(~leap)
        notes = (*notes, "29 February was dropped: a year here has 365 days.")
    if len(table.ghi) != HOURS:
        raise BriefError("sky.file", f"holds {len(table.ghi)} hours; a year without 29 February has {HOURS}")
    _in_order(table)
    notes = (*notes, *_far_from(site, station))
    table, more = _filled(table)
    ghi, dni, dhi, temp_air, wind_speed = (
        shifted(values, shift_minutes) for values in (table.ghi, table.dni, table.dhi, table.temp_air, table.wind_speed)
    )
    if shift_minutes:
        more = (*more, f"The file's clock was shifted by {shift_minutes:+d} minutes, as asked.")
    warnings = _clock(ghi, site, offset, table.first_row, table.names[0])
    if table.split:
        dni, dhi = _erbs(ghi, site, offset)
        more = (*more, "Beam and diffuse were split from GHI by the Erbs model.")
    return WeatherYear(
        ghi, dni, dhi, temp_air, wind_speed, offset, source,
        "As good as the file: a typical or measured year.", (*notes, *more, *warnings),
    )  # fmt: skip


def _plausible(table: YearTable) -> None:
    for name, values, most in zip(table.names, (table.ghi, table.dni, table.dhi), (MOST_GHI, MOST_DNI, MOST_DHI), strict=True):
        wrong = np.flatnonzero((values < 0) | (values > most))
        if wrong.size:
            row, value = int(wrong[0]), values[wrong[0]]
            why = "is negative" if value < 0 else f"is more than sunlight can give ({most:g} W/m2)"
            raise BriefError(f"sky.file row {table.first_row + row}, column {name}", f"{value:g} {why}")
    known = table.temp_air[np.isfinite(table.temp_air)]
    if known.size:
        if known.max() > 60 or (known.mean() > 40):
            row = int(np.nanargmax(table.temp_air))
            raise BriefError(
                f"sky.file row {table.first_row + row}, column temperature",
                f"{np.nanmax(table.temp_air):g} degrees: this looks like Fahrenheit; give degrees Celsius",
            )
        if known.min() < -90:
            row = int(np.nanargmin(table.temp_air))
            raise BriefError(
                f"sky.file row {table.first_row + row}, column temperature", f"{known.min():g} degC is colder than any place"
            )
    wind = np.flatnonzero((table.wind_speed < 0) | (table.wind_speed > 100))
    if wind.size:
        raise BriefError(
            f"sky.file row {table.first_row + int(wind[0])}, column wind speed", f"{table.wind_speed[wind[0]]:g} m/s cannot be"
        )


def _in_order(table: YearTable) -> None:
    lengths = np.array(MONTH_LENGTHS)
    lengths = lengths + ((table.month == 2) & (table.day == 29)).any() * (np.arange(12) == 1)
    starts = np.concatenate([[0], np.cumsum(lengths)])
    bad = (table.month < 1) | (table.month > 12) | (table.hour < 0) | (table.hour > 23) | (table.day < 1)
    if not bad.any():
        bad = table.day > lengths[table.month - 1]
    if bad.any():
        raise BriefError(f"sky.file row {table.first_row + int(np.flatnonzero(bad)[0])}", "is not a date and hour of the year")
    place = (starts[table.month - 1] + table.day - 1) * 24 + table.hour
    wrong = np.flatnonzero(place != np.arange(len(place)))
    if wrong.size:
        row = int(wrong[0])
        raise BriefError(
            f"sky.file row {table.first_row + row}",
            f"{table.month[row]:02d}-{table.day[row]:02d} hour {table.hour[row]}: the hours do not follow one another from "
            "1 January to 31 December here (a gap, a repeat, or dates out of order)",
        )


def _far_from(site: Site, station: tuple[float, float] | None) -> tuple[str, ...]:
    if station is None:
        return ()
    north = (station[0] - site.latitude) * 111.2
    east = ((station[1] - site.longitude + 180) % 360 - 180) * 111.2 * np.cos(np.radians(site.latitude))
    away = float(np.hypot(north, east))
    if away < 100:
        return ()
    return (f"The file's station is {away:,.0f} km from your place: check that it is the right one.",)


def _filled(table: YearTable) -> tuple[YearTable, tuple[str, ...]]:
    notes: list[str] = []
    filled = {}
    for name, title, otherwise in (("temp_air", "Air temperature", 15.0), ("wind_speed", "Wind speed", 2.0)):
        values = getattr(table, name)
        gaps = ~np.isfinite(values)
        if gaps.all():
            notes.append(
                f"{title} is not in the file: {otherwise:g} {'degC' if name == 'temp_air' else 'm/s'} is taken all year."
            )
            values = np.full(len(values), otherwise)
        elif gaps.any():
            notes.append(f"{title} was missing in {int(gaps.sum())} hours: filled in between its neighbours.")
            hours = np.arange(len(values))
            values = np.interp(hours, hours[~gaps], values[~gaps])
        filled[name] = values
    columns = (table.month, table.day, table.hour, table.ghi, table.dni, table.dhi, filled["temp_air"], filled["wind_speed"])
    return YearTable(table.first_row, *columns, table.names, table.split), tuple(notes)


def shifted(values: Floats, minutes: int) -> Floats:
    """Values (8760,) moved later by whole or half hours; half hours are the mean of two neighbours."""
    if minutes % 30:
        raise BriefError("sky.shift_minutes", "must be a multiple of 30")
    whole, half = divmod(minutes, 60)
    moved = np.roll(values, whole)
    return (moved + np.roll(moved, 1)) / 2 if half else moved.copy()


def _cos_zenith_shifted(site: Site, offset: float) -> list[Floats]:
    """Cosine of the zenith at mid-hour when the clock is off by each of SHIFTS: two years half an hour apart, and those rolled
    by whole hours (the few hours at the turn of the year come from its other end)."""
    whole, half = (np.maximum(sun_year(site, offset - minutes / 60).cos_zenith, 0) for minutes in (0, 30))
    return [np.roll(half if minutes % 60 else whole, -(minutes // 60)) for minutes in SHIFTS]


def _clock(ghi: Floats, site: Site, offset: float, first_row: int, name: str) -> tuple[str, ...]:
    """Warn of a clock that is off; refuse light in the dead of night that no such shift explains."""
    total = float(ghi.sum())
    if total <= 0:
        raise BriefError("sky.file", f"column {name} is zero all year")
    sun = sun_year(site, offset)
    dark = (sun.elevation < -8) & (ghi > 5)
    # Compare with the sun at shifted clocks on the clearer half of the days, whose shape is the sun's own.
    by_day = ghi.reshape(-1, 24).sum(axis=1)
    above = np.maximum(sun.cos_zenith, 0).reshape(-1, 24).sum(axis=1)
    clearness = np.divide(by_day, above, out=np.zeros_like(by_day), where=above > 0.5)
    use = (clearness >= np.median(clearness))[DAY_OF_HOUR]
    fits = [float(np.corrcoef(ghi[use], cosine[use])[0, 1]) for cosine in _cos_zenith_shifted(site, offset)]
    best = int(np.argmax(fits))
    off = SHIFTS[best]
    if off and fits[best] > fits[SHIFTS.index(0)] + 0.002 and fits[best] > 0.85:
        side = "behind" if off > 0 else "ahead of"
        return (f"The clock in this file seems {abs(off)} minutes {side} the sun. If so, set the shift to {off:+d} minutes.",)
    if ghi[dark].sum() > 0.002 * total or fits[SHIFTS.index(0)] < 0.6:
        row = int(np.flatnonzero(dark)[0]) if dark.any() else 0
        raise BriefError(
            f"sky.file row {first_row + row}, column {name}",
            f"{ghi[row]:g} W/m2 while the sun is {-sun.elevation[row]:.0f} degrees under the horizon: "
            "is the file for another place, or its time zone wrong?",
        )
    return ()


def _erbs(ghi: Floats, site: Site, offset: float) -> tuple[Floats, Floats]:
    from pvlib.irradiance import erbs

    sun = sun_year(site, offset)
    parts = erbs(ghi, np.minimum(90 - sun.elevation, 89.9), DAY_OF_HOUR + 1)
    dni = np.where(sun.cos_zenith > 0.02, np.nan_to_num(np.asarray(parts["dni"], dtype=float)), 0)
    dni = np.clip(dni, 0, None)
    return dni, np.maximum(ghi - dni * np.maximum(sun.cos_zenith, 0), 0)
