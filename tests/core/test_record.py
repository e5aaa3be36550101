"""The log: moves beside the plan, and files of monitors in any dialect, in pieces, without counting anything twice."""

from __future__ import annotations

import io
from datetime import UTC, date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from pydantic import ValidationError

from sundial.energy.production import TiltSurface
from sundial.errors import BriefError
from sundial.expected.simulate import DIALECTS, packets, written
from sundial.plan.tilt_plan import Stretch, TiltPlan
from sundial.plan.today import today_from, weeks_of
from sundial.record.actual import Beside, beside, by_month
from sundial.record.blocks import by_day, merged, unpacked
from sundial.record.dialect import Columns, guess
from sundial.record.entries import ENTRY, Move, Reading
from sundial.record.moves import kept, tilt_at_times, tilts_stood
from sundial.record.series import Series, read_series
from sundial.record.stream import Stream
from sundial.sun import Site

MADRID = ZoneInfo("Europe/Madrid")
SITE = Site(42.9, -6.1, 870, "Europe/Madrid")
NOW = datetime(2026, 6, 1, tzinfo=UTC).timestamp()


# -- entries --------------------------------------------------------------------------------------------------------------


def test_an_entry_is_read_by_its_kind_and_refuses_what_is_not_there() -> None:
    move = ENTRY.validate_python({"kind": "move", "at": "2026-03-04T10:00:00+01:00", "tilt": 42})
    assert isinstance(move, Move) and move.at.utcoffset() == timedelta(hours=1)
    reading = ENTRY.validate_python({"kind": "reading", "at": "2026-03-04T10:00:00Z", "volts": 30.5, "amps": 4})
    assert isinstance(reading, Reading) and reading.watts == pytest.approx(122.0)
    for wrong in (
        {"kind": "move", "at": "2026-03-04T10:00:00", "tilt": 42},
        {"kind": "move", "at": "2026-03-04T10:00:00Z", "tilt": 142},
        {"kind": "reading", "at": "2026-03-04T10:00:00Z", "power": float("nan")},
        {"kind": "party", "at": "2026-03-04T10:00:00Z"},
        {"kind": "note", "at": "2026-03-04T10:00:00Z", "note": ""},
    ):
        with pytest.raises(ValidationError):
            ENTRY.validate_python(wrong)


# -- moves ----------------------------------------------------------------------------------------------------------------


def surface() -> TiltSurface:
    """A tilt gives 10 kWh less a tenth for each degree from the best: 20 degrees until day 181, then 50."""
    tilts = np.arange(0.0, 91.0, 10)
    best = np.where(np.arange(365) < 181, 20.0, 50.0)
    return TiltSurface(tilts, 180.0, 10 - 0.1 * np.abs(tilts - best[:, None]), np.ones((365, 10)))


def two_settings() -> TiltPlan:
    """20 degrees from 11 March (day 69), 50 from 8 September (day 250)."""
    by_day = tuple(20.0 if 69 <= day < 250 else 50.0 for day in range(365))
    low = Stretch(69, 181, 20.0, 1.0, 1.0, 60, 80, (15.0, 25.0), (15.0, 25.0))
    high = Stretch(250, 184, 50.0, 1.0, 1.0, 240, 260, (45.0, 55.0), (45.0, 55.0))
    return TiltPlan(2, (low, high), by_day, 2.0, 2.0, 2.0)


def move(day: str, tilt: float, **more: Any) -> Move:
    return Move(at=datetime.fromisoformat(f"{day}T09:00").replace(tzinfo=MADRID), tilt=tilt, **more)


def test_late_and_missed_moves_cost_what_the_surface_says() -> None:
    """By hand: set to 20 four days late loses 4 x 3 kWh before it (50 stood); then nobody sets 50 on 8 September, and each day until the 18th
    gives 3 kWh less than 50 would."""
    found = kept(surface(), two_settings(), [move("2026-03-15", 20, before=50)], MADRID, date(2026, 9, 18))
    spring, autumn = found.made
    assert (spring.start, spring.done, spring.late) == (date(2026, 3, 11), date(2026, 3, 15), 4)
    assert spring.cost == pytest.approx(4 * 3.0)
    assert (autumn.start, autumn.done, autumn.late, autumn.cost) == (date(2026, 9, 8), None, None, pytest.approx(10 * 3.0))
    assert found.cost == pytest.approx(42.0) and found.last is autumn
    early = kept(surface(), two_settings(), [move("2026-03-08", 20)], MADRID, date(2026, 4, 1)).made[-1]
    assert (early.done, early.late) == (date(2026, 3, 8), -3)
    half = kept(surface(), two_settings(), [move("2026-03-11", 35)], MADRID, date(2026, 3, 21)).made[-1]
    assert half.done is None and half.cost == pytest.approx(10 * 1.5), "15 degrees off, half way between two columns"
    assert kept(surface(), two_settings(), [], MADRID, date(2026, 9, 18)).cost == 0.0


def test_what_is_not_known_costs_nothing() -> None:
    days = [date(2026, 3, day) for day in (10, 14, 15, 16)]
    known = tilts_stood([move("2026-03-15", 20)], days, MADRID)
    assert np.isnan(known[:2]).all() and known[2:].tolist() == [20, 20]
    times = np.array([datetime(2026, 3, 15, hour, tzinfo=UTC).timestamp() for hour in (6, 9, 12)])
    assert tilt_at_times([move("2026-03-15", 20, before=50)], times).tolist() == [50, 20, 20]
    evening = Move(at=datetime(2026, 3, 15, 19, tzinfo=MADRID), tilt=20, before=50)
    assert tilts_stood([evening], days, MADRID).tolist() == [50, 50, 50, 20], "after noon it counts from the next day"


def test_waiting_a_week_is_priced_by_the_days_of_that_week() -> None:
    """It stands at 50 on 5 March; the plan keeps 50 until the 11th, so of the week only the 11th loses: 3 kWh."""
    found = today_from(surface(), two_settings(), 63, 50.0)
    assert found.week == pytest.approx(3.0)
    assert today_from(surface(), two_settings(), 100, 50.0).week == pytest.approx(21.0)


def test_a_surface_by_weeks_says_nearly_the_same() -> None:
    weeks = weeks_of(surface())
    assert weeks.lost(20.0, 50.0, 100) == pytest.approx(21.0, abs=0.01) and weeks.lost(50.0, 50.0, 100) == 0.0
    assert weeks.lost(50.0, 35.0, 300) == pytest.approx(7 * 1.5, abs=0.01)


# -- blocks ---------------------------------------------------------------------------------------------------------------


@settings(max_examples=60, deadline=None)
@given(
    st.lists(st.tuples(st.integers(0, 3 * 86400 - 1), st.floats(0, 5000, width=32)), min_size=1, max_size=80), st.integers(0, 79)
)
def test_blocks_hold_each_time_once_however_often_it_comes(rows: list[tuple[int, float]], cut: int) -> None:
    unix, power = (np.array(column, dtype=float) for column in zip(*rows, strict=True))
    first: dict[int, float] = {}
    for at, watts in rows:
        first.setdefault(at, watts)
    held: dict[int, Any] = {}
    added = 0
    for part in (slice(0, cut), slice(cut, None), slice(0, None)):
        for block in by_day(unix[part], power[part]):
            again = unpacked(block.day, block.packed())
            assert again.seconds.tolist() == block.seconds.tolist() and again.power.tolist() == block.power.tolist()
            step = merged(held.get(block.day), again)
            held[block.day], added = step.block, added + step.added
    assert added == len(first)
    found = {int(at): float(watts) for block in held.values() for at, watts in zip(block.unix, block.power, strict=True)}
    assert found == {at: float(np.float32(watts)) for at, watts in first.items()}
    assert all((np.diff(block.seconds.astype(int)) > 0).all() for block in held.values())


def test_another_value_for_a_known_time_is_counted_and_left() -> None:
    (held,), (more,) = (
        list(by_day(np.array([10.0, 20]), np.array([5.0, 6]))),
        list(by_day(np.array([20.0, 30]), np.array([9.0, 7]))),
    )
    step = merged(held, more)
    assert (step.added, step.differing, step.block.power.tolist()) == (1, 1, [5.0, 6.0, 7.0])


# -- dialects and streams -------------------------------------------------------------------------------------------------


def wave(days: int = 3, step: int = 300, start: str = "2026-03-27T23:00:00+00:00") -> Series:
    unix = datetime.fromisoformat(start).timestamp() + step * np.arange(days * 86400 // step, dtype=float)
    return Series(unix, np.round(np.maximum(900 * np.sin((unix % 86400) / 86400 * 2 * np.pi - 1.6), 0), 1), float(step))


def taken(data: bytes, columns: Columns | None = None, rows: int = 100, nameplate: float = 1000.0) -> tuple[Any, Any, Stream]:
    known = columns or guess(data, nameplate).columns
    stream = Stream(SITE, known, NOW, nameplate)
    pieces = list(stream.pieces(io.BytesIO(data), rows))
    return np.concatenate([piece.unix for piece in pieces]), np.concatenate([piece.power for piece in pieces]), stream


@pytest.mark.parametrize("dialect", DIALECTS)
@pytest.mark.parametrize("rows", [100, 5000])
def test_four_dialects_in_pieces_are_the_same_series_through_the_change_of_the_clock(dialect: str, rows: int) -> None:
    series = wave()
    unix, power, stream = taken(written(series, dialect, "Europe/Madrid"), rows=rows)
    if dialect == "counter":  # its last interval is not known, and none over its reset
        reset = len(series.unix) // 2 - 1
        keep = np.r_[0:reset, reset + 1 : len(series.unix) - 1]
        assert unix.tolist() == series.unix[keep].tolist() and stream.tally.resets == 1
        assert power == pytest.approx(series.power[keep], abs=0.2)
    else:
        assert unix.tolist() == series.unix.tolist(), "29 March: the clock jumps from two to three"
        assert power == pytest.approx(series.power, abs=0.1)
    assert stream.step == 300
    assert (stream.tally.negative > 0) == (dialect == "american")


def test_an_hour_that_the_clock_shows_twice_is_told_apart_across_pieces() -> None:
    series = wave(2, 900, "2026-10-24T12:00:00+00:00")
    unix, _, _ = taken(written(series, "comma", "Europe/Madrid"), rows=52)  # a piece ends inside the doubled hour
    assert np.setdiff1d(series.unix, unix).size == 0 or series.unix[0] > NOW
    stream = Stream(SITE, guess(written(series, "comma", "Europe/Madrid"), 1000).columns, series.unix[-1] + 10, 1000.0)
    got = np.concatenate([piece.unix for piece in stream.pieces(io.BytesIO(written(series, "comma", "Europe/Madrid")), 52)])
    assert got.tolist() == series.unix.tolist()


def test_headers_are_understood() -> None:
    found = guess(written(wave(), "comma", "Europe/Madrid"), 1000)
    c = found.columns
    assert (c.time, c.clock, c.power, c.unit, c.delimiter, c.decimal, c.skip) == (
        "Datum", "Uhrzeit", "Leistung [kW]", "kW", ";", ",", 2,
    )  # fmt: skip
    assert found.heads == ("Datum", "Uhrzeit", "Leistung [kW]") and len(found.rows) == 8
    c = guess(written(wave(), "american", "Europe/Madrid"), 1000).columns
    assert (c.energy, c.unit, c.time_format, c.encoding) == ("Energy (Wh)", "Wh", "%m/%d/%Y %I:%M:%S %p", "utf-16")
    c = guess(b"when,a,b\n1772000000,3.5,x\n1772000300,3.6,y\n1772000600,0.2,z\n", 1000).columns
    assert (c.time_format, c.power, c.unit) == ("unix", "a", "kW"), "3.6 of a kilowatt of panels are kW"
    doubtful = guess(b"date,watt\n03/04/2026 10:00,5\n03/04/2026 10:05,6\n03/04/2026 10:10,7\n", 1000)
    assert "other way round" in doubtful.notes[0]


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "empty"),
        (b"hello\nworld\n", "not a table"),
        (b"a,b\n1,2\n3,4\n", "no column holds dates"),
        (b"time,word\n2026-01-01T00:00,x\n2026-01-01T00:05,y\n", "no column holds numbers"),
        (b"time,power\n", "not a table"),
        (b"PK\x03\x04\0\0\0" * 40 + b"\n", "text file"),
    ],
)
def test_files_that_are_no_series_are_refused_in_words(data: bytes, words: str) -> None:
    with pytest.raises(BriefError, match=words):
        guess(data, 1000)


def test_rows_that_cannot_be_are_left_out_or_kept_aside_and_named() -> None:
    rows = [
        "time,power", "2026-01-01T10:00Z,5", "yesterday,5", "2026-01-01T10:05Z,many", "1970-01-01T00:00Z,5", "2030-01-01T00:00Z,5",
        "2026-01-01T10:10Z,3000", "2026-01-01T10:15Z,-4", "2026-01-01T10:20Z,nan", "2026-01-01T09:55Z,4", "2026-01-01T10:25Z,8",
    ]  # fmt: skip
    columns = Columns(power="power", unit="W", time_format="ISO8601")
    unix, power, stream = taken("\n".join(rows).encode(), columns)
    assert sorted(power.tolist()) == [0, 4, 5, 8] and len(unix) == 4
    told = " ".join(stream.tally.notes())
    for words in (
        "row 3: 'yesterday'",
        "row 4: 'many'",
        "row 5: '1970",
        "row 6: '2030",
        "kept aside",
        "3000 W",
        "1 rows are below zero",
    ):
        assert words in told, told
    piece = next(Stream(SITE, columns, NOW, 1000.0).pieces(io.BytesIO("\n".join(rows).encode())))
    assert piece.aside == ((datetime(2026, 1, 1, 10, 10, tzinfo=UTC).timestamp(), 3000.0),)
    with pytest.raises(BriefError, match="no column 'watts'"):
        taken("\n".join(rows).encode(), Columns(power="watts"))


def test_packets_are_lost_and_repeated_as_often_as_told() -> None:
    series = wave(7)
    sent = list(packets(series, dropped=0.1, repeated=0.2, seed=3))
    known = {packet.number for packet in sent}
    assert 0.07 < 1 - len(known) / len(series.unix) < 0.13
    assert 0.16 < len(sent) / len(known) - 1 < 0.24
    assert [packet.unix for packet in sent] == sorted(packet.unix for packet in sent)


# -- what was made beside what was planned --------------------------------------------------------------------------------


def test_a_coarser_series_holds_the_means_of_what_lies_in_each_interval() -> None:
    fine = Series(np.array([900.0, 1200.0, 1500.0, 2700.0]), np.array([10.0, 40.0, 70.0, 8.0]), 300.0, ("a note",))
    coarse = fine.by(900.0)
    assert coarse.unix.tolist() == [900.0, 2700.0] and coarse.power.tolist() == [40.0, 8.0]
    assert (coarse.step, coarse.notes) == (900.0, ("a note",))
    for step in (300.0, 120.0, 700.0):  # as fine, finer, not filled evenly
        assert fine.by(step) is fine
    nothing = Series(np.array([]), np.array([]), 300.0)
    assert nothing.by(900.0) is nothing


def test_a_month_is_set_against_the_plan_of_the_days_that_are_there() -> None:
    planned = [float(day) for day in range(365)]
    made = {date(2027, 3, 2): 4.0, date(2026, 3, 1): 3.0, date(2026, 3, 31): 5.0, date(2026, 4, 1): 7.0, date(2027, 1, 1): 2.0}
    months = by_month(made, planned)
    assert [(one.year, one.month, one.days, one.made, one.planned) for one in months] == [
        (2026, 3, 2, 8.0, 59.0 + 89.0), (2026, 4, 1, 7.0, 90.0), (2027, 1, 1, 2.0, 0.0), (2027, 3, 1, 4.0, 60.0),
    ]  # fmt: skip
    assert months[0].share == pytest.approx(8 / 148) and months[2].share is None


def test_two_monitors_are_compared_per_kilowatt_on_the_quarters_that_both_have() -> None:
    """Ten minutes and quarters have no interval in common but the coarser one's."""
    start = datetime(2026, 3, 4, 22, 0, tzinfo=UTC).timestamp()
    five = Series(start + 300.0 * np.arange(36), np.full(36, 600.0), 300.0)
    quarter = Series(start + 3600 + 900.0 * np.arange(12), np.full(12, 500.0), 900.0)
    found = beside(five, quarter, (2.0, 1.0), 1.0)
    assert found is not None
    # 23:00 to 01:00 in UTC are 0:00 to 2:00 of the next day an hour further east
    assert (found.days, found.first, found.second) == (1, pytest.approx(0.6), pytest.approx(1.0))
    assert found.hours_first == (300.0, 300.0, *[0.0] * 22) and found.hours_second == (500.0, 500.0, *[0.0] * 22)
    assert found.gain == pytest.approx(500 / 300 - 1)
    west = beside(five, quarter, (2.0, 1.0), 0.0)
    assert west is not None and west.days == 2 and west.hours_second[23] == west.hours_second[0] == 500.0
    hourly = Series(start + 3600.0 * np.arange(3), np.array([0.0, 700.0, 0.0]), 3600.0)
    mixed = beside(five, hourly, (1.0, 1.0), 0.0)
    assert mixed is not None and mixed.second == pytest.approx(0.7) and mixed.first == pytest.approx(1.8)
    later = Series(quarter.unix + 86400 * 9, quarter.power, 900.0)
    assert beside(five, later, (1.0, 1.0), 0.0) is None
    assert Beside(1, 0.0, 1.0, (), ()).gain is None


@pytest.mark.parametrize(("form", "written_as"), [("unix", 1), ("unix ms", 1000)])
def test_times_that_are_counted_are_read(form: str, written_as: int) -> None:
    rows = [f"{(1772618400 + 300 * row) * written_as},{120 * row}" for row in range(3)]
    data = ("t,W\n" + "\n".join(rows)).encode()
    found = read_series(data, SITE, Columns(time="t", power="W", time_format=form))
    assert found.unix.tolist() == [1772618400.0, 1772618700.0, 1772619000.0] and found.power.tolist() == [0.0, 120.0, 240.0]
