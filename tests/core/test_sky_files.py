"""Weather files: read right, and refused by row and column when they are wrong."""

from __future__ import annotations

import csv
import io
from datetime import datetime, timedelta, timezone

import numpy as np
import pytest

from sundial.errors import BriefError
from sundial.sky.files import decode, read_epw, read_hourly, read_tmy3, sniff, write_hourly
from sundial.sky.weather_year import WeatherYear
from sundial.sun import Site
from tests.core.conftest import GREENSBORO, load

SITE = Site(**GREENSBORO)


@pytest.fixture(scope="module")
def tmy3() -> bytes:
    return load("723170TYA.CSV")


@pytest.fixture(scope="module")
def year(tmy3) -> WeatherYear:
    return read_tmy3(tmy3, SITE)


@pytest.fixture(scope="module")
def hourly(year) -> str:
    return write_hourly(year)


def epw_of(year: WeatherYear, leap: bool = False) -> str:
    """The same year in the layout of an EPW file."""
    lines = ["LOCATION,Invented Field,-,-,made,000000,36.1,-79.95,-5.0,273.0", *["HEADER,0"] * 7]
    rows = list(csv.reader(io.StringIO(write_hourly(year))))[1:]
    if leap:
        rows = rows[: 59 * 24] + [[f"2024-02-29 {h:02d}:00", *rows[58 * 24 + h][1:]] for h in range(24)] + rows[59 * 24 :]
    for time, ghi, dni, dhi, temperature, wind in rows:
        cells = ["0"] * 35
        cells[0:5] = ["2023", time[5:7], time[8:10], str(int(time[11:13]) + 1), "60"]
        cells[6], cells[13], cells[14], cells[15], cells[21] = temperature, ghi, dni, dhi, wind
        lines.append(",".join(cells))
    return "\n".join(lines)


def changed(text: str, row: int, column: int, value: str) -> bytes:
    """The CSV with one cell of one line (counted from 1) replaced."""
    lines = text.splitlines()
    cells = lines[row - 1].split(",")
    cells[column] = value
    lines[row - 1] = ",".join(cells)
    return "\n".join(lines).encode()


def refusal(call, *args, **kwargs) -> BriefError:
    with pytest.raises(BriefError) as caught:
        call(*args, **kwargs)
    return caught.value


def test_tmy3_sums_to_the_manuals_figure_and_its_hours_are_shifted_to_their_start(year, tmy3):
    assert year.ghi.sum() / 1000 == pytest.approx(1566.2, abs=0.05)
    first = next(line for line in tmy3.decode().splitlines()[2:] if float(line.split(",")[4]) > 0).split(",")
    assert year.ghi[int(first[1][:2]) - 1] == float(first[4])  # labelled 09:00, kept as the hour from 8 to 9
    assert year.utc_offset == -5


def test_hourly_csv_round_trips(year, hourly):
    again = read_hourly(hourly.encode(), SITE)
    for name in ("ghi", "dni", "dhi", "temp_air", "wind_speed"):
        np.testing.assert_allclose(getattr(again, name), getattr(year, name), atol=0.006)


def test_epw_gives_the_same_year(year):
    again = read_epw(epw_of(year).encode(), SITE)
    np.testing.assert_allclose(again.dni, year.dni, atol=0.006)
    assert again.source == "EPW file: Invented Field"


def test_the_kind_of_file_is_told_from_its_first_lines(tmy3, year, hourly):
    assert [sniff(data) for data in (tmy3, epw_of(year).encode(), hourly.encode())] == ["tmy3", "epw", "hourly"]


def test_a_file_with_ghi_alone_is_split_and_says_so(hourly, year):
    lines = [",".join(line.split(",")[:2]) for line in hourly.splitlines()]
    split = read_hourly("\n".join(lines).encode(), SITE)
    assert any("Erbs" in note for note in split.notes)
    assert any("Air temperature is not in the file" in note for note in split.notes)
    assert split.dhi.sum() == pytest.approx(year.dhi.sum(), rel=0.15)
    assert split.ghi.sum() == pytest.approx(year.ghi.sum(), rel=1e-4)


def test_february_29_is_dropped_and_said(year):
    read = read_epw(epw_of(year, leap=True).encode(), SITE)
    assert any("29 February was dropped" in note for note in read.notes)
    assert read.ghi.sum() == pytest.approx(year.ghi.sum(), rel=1e-4)


@pytest.mark.parametrize(
    ("row", "column", "value", "path", "said"),
    [
        (13, 1, "-5", "row 13, column ghi", "negative"),
        (4000, 1, "1600", "row 4000, column ghi", "more than sunlight"),
        (40, 2, "high", "row 40, column dni", "not a number"),
        (40, 2, "nan", "row 40, column dni", "not a number"),
        (41, 1, "", "row 41, column ghi", "is empty"),
        (50, 0, "yesterday", "row 50, column time", "not a time"),
        (51, 0, "2023-06-01 00:00", "row 51", "do not follow"),
        (60, 4, "95", "row 60, column temperature", "Fahrenheit"),
        (60, 5, "-2", "row 60, column wind speed", "cannot be"),
    ],
)
def test_a_wrong_cell_is_named_by_row_and_column(hourly, row, column, value, path, said):
    error = refusal(read_hourly, changed(hourly, row, column, value), SITE)
    assert path in error.path
    assert said in error.message


def test_a_whole_year_in_fahrenheit_is_noticed(hourly):
    lines = hourly.splitlines()
    hot = [lines[0]] + [
        ",".join([*c[:4], f"{float(c[4]) * 1.8 + 32:.1f}", c[5]]) for c in (line.split(",") for line in lines[1:])
    ]
    assert "Fahrenheit" in refusal(read_hourly, "\n".join(hot).encode(), SITE).message


def test_files_of_the_wrong_length_are_refused(hourly, year):
    assert "8759 hours" in refusal(read_hourly, "\n".join(hourly.splitlines()[:-1]).encode(), SITE).message
    assert "0 hours" in refusal(read_hourly, hourly.splitlines()[0].encode(), SITE).message
    assert "is cut short" in refusal(read_epw, b"LOCATION,a,b", SITE).message


def test_missing_columns_are_named(hourly, tmy3):
    assert "'ghi' is missing" in refusal(read_hourly, hourly.replace("ghi", "sun", 1).encode(), SITE).message
    assert "no 'dhi'" in refusal(read_hourly, hourly.replace(",dhi", ",diffuse", 1).encode(), SITE).message
    assert "GHI (W/m^2)" in refusal(read_tmy3, tmy3.replace(b"GHI (W/m^2)", b"Sun", 1), SITE).message


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "empty"),
        (b"  \n", "empty"),
        (b"\x89PNG\0\0", "not a text file"),
        (b"a" * 17_000_000, "17 MB"),
        (b"time,ghi\n" + b"2026-01-01 00:00,0\n" * 700_000, "700002 lines"),
        (b"\xff\xfea", "not readable"),
    ],
)
def test_binary_files_are_refused(data, said):
    assert said in refusal(decode, data).message


def test_other_encodings_are_read_and_said(hourly):
    text = "# Sonnenhügel\n" + hourly
    assert any("Latin-1" in note for note in read_hourly(text.encode("latin-1"), SITE).notes)
    assert any("UTF-16" in note for note in read_hourly(text.encode("utf-16"), SITE).notes)


def test_sun_at_night_is_refused(hourly):
    far = Site(36.1, 100.0, 273.0, "Asia/Shanghai")  # the file's days fall into that place's nights
    error = refusal(read_hourly, hourly.encode(), Site(36.1, -79.95, 273.0, "Asia/Shanghai"))
    assert "under the horizon" in error.message
    assert read_hourly(hourly.encode(), far).ghi.sum() > 0


@pytest.mark.parametrize("minutes", [-60, -30, 30, 60])
def test_a_clock_that_is_off_is_noticed_and_the_offered_shift_mends_it(year, minutes):
    from sundial.sky.checks import shifted

    late = write_hourly(
        WeatherYear(*(shifted(getattr(year, n), minutes) for n in ("ghi", "dni", "dhi", "temp_air", "wind_speed")), -5, "", "")
    )
    warned = [note for note in read_hourly(late.encode(), SITE).notes if "clock" in note]
    assert warned, f"{minutes} minutes went unnoticed"
    assert f"set the shift to {-minutes:+d} minutes" in warned[0]
    mended = read_hourly(late.encode(), SITE, -minutes)
    assert not any("seems" in note for note in mended.notes)


def test_a_right_clock_is_not_warned_about(year):
    assert not any("clock" in note for note in year.notes)


def test_a_station_far_away_is_told(tmy3):
    assert any("km from your place" in note for note in read_tmy3(tmy3, Site(42.9, -80.1, 0, "America/New_York")).notes)


def test_gaps_in_temperature_are_filled_and_said(year):
    lines = epw_of(year).splitlines()
    cells = lines[20].split(",")
    cells[6] = "99.9"
    lines[20] = ",".join(cells)
    read = read_epw("\n".join(lines).encode(), SITE)
    assert any("missing in 1 hours" in note for note in read.notes)
    cells[13] = "9999"
    lines[20] = ",".join(cells)
    assert "marked as missing" in refusal(read_epw, "\n".join(lines).encode(), SITE).message


def with_times(hourly: str, stamp) -> bytes:
    """The same year, its times written by ``stamp`` from the local standard time of each row."""
    start = datetime(2023, 1, 1)
    head, *rows = hourly.splitlines()
    return "\n".join(
        [head, *(f"{stamp(start + timedelta(hours=i))},{row.partition(',')[2]}" for i, row in enumerate(rows))]
    ).encode()


@pytest.mark.parametrize(
    "pattern", ["{:%Y-%m-%dT%H:%M:%S%z}", "{:%Y-%m-%d %H:%M}{}", "{:%Y-%m-%dT%H:%M:%S}{}", "{:%Y%m%dT%H%M}{}"]
)
def test_times_in_any_iso_form_with_their_offset(hourly, pattern):
    plain = read_hourly(hourly.encode(), SITE)
    zone = timezone(timedelta(hours=SITE.standard_offset))
    for offset in (f"{zone}"[3:], f"{zone}"[3:].replace(":", "")):
        read = read_hourly(
            with_times(hourly, lambda when, offset=offset: pattern.format(when.replace(tzinfo=zone), offset)), SITE
        )
        assert read.utc_offset == SITE.standard_offset
        np.testing.assert_array_equal(read.ghi, plain.ghi)


def test_a_file_in_utc_is_taken_at_its_own_clock(hourly):
    """The same rows, stamped by a clock in UTC: the sun of each hour is that of UTC, wherever the site's own zone is."""
    hours = int(SITE.standard_offset)
    rows = hourly.splitlines()
    rolled = [rows[0], *np.roll(np.array(rows[1:], dtype=object), -hours)]
    read = read_hourly(with_times("\n".join(rolled), lambda when: f"{when:%Y-%m-%dT%H:%M}Z"), SITE)
    assert read.utc_offset == 0
    np.testing.assert_array_equal(np.roll(read.ghi, hours), read_hourly(hourly.encode(), SITE).ghi)
    assert not [note for note in read.notes if "clock" in note]


def test_summer_time_with_its_offset_is_brought_to_standard_time(hourly):
    standard, summer = SITE.standard_offset, SITE.standard_offset + 1

    def local(when: datetime) -> str:
        ahead = summer if datetime(2023, 3, 12, 2) <= when < datetime(2023, 11, 5, 1) else standard
        return (when + timedelta(hours=ahead - standard)).replace(tzinfo=timezone(timedelta(hours=ahead))).isoformat()

    read = read_hourly(with_times(hourly, local), SITE)
    assert read.utc_offset == standard
    np.testing.assert_array_equal(read.ghi, read_hourly(hourly.encode(), SITE).ghi)


def test_offsets_on_some_rows_only_are_refused_by_row(hourly):
    mixed = hourly.splitlines()
    mixed[100] = mixed[100].replace(",", "-05:00,", 1)
    error = refusal(read_hourly, "\n".join(mixed).encode(), SITE)
    assert "row 101, column time" in error.path
    assert "an offset from UTC, the rows before it have none" in error.message
