"""What real meters write: one way of writing times for a whole file, units that are asked about, clocks that are far off, nights, odd zones."""

from __future__ import annotations

import json
from datetime import UTC, date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo, available_timezones

import numpy as np
import pytest

from sundial.cli import main
from sundial.errors import BriefError
from sundial.expected.clear import change_of, far_off, judge
from sundial.expected.moment import expected_at, expected_series
from sundial.record.dialect import Columns, guess, time_format_of
from sundial.record.series import read_series
from sundial.sky.files import read_hourly
from sundial.sun import Site
from tests.core.test_expected import data
from tests.core.test_expected import study as study_of

SITE = Site(42.9, -6.1, 870, "Europe/Madrid")


def played(
    study: Any, start: datetime, days: int, off_minutes: float = 0.0, share: float = 1.0
) -> tuple[list[datetime], np.ndarray]:
    """Clear days at quarters of an hour: local times as a clock that runs ``off_minutes`` ahead writes them, and watts."""
    zone = study.scene.site.zone
    first = start.replace(tzinfo=zone).timestamp()
    unix = first + 900.0 * np.arange(96 * days)
    watts = expected_series(study, unix + 450) * share
    times = [datetime.fromtimestamp(float(at) + off_minutes * 60, UTC).astimezone(zone).replace(tzinfo=None) for at in unix]
    return times, watts


def csv_of(
    times: list[datetime], watts: np.ndarray, form: str = "%Y-%m-%dT%H:%M", head: str = "time,power", per: float = 1.0
) -> bytes:
    rows = (f"{at.strftime(form)},{value / per:.5f}" for at, value in zip(times, watts, strict=True))
    return "\n".join([head, *rows]).encode()


@pytest.fixture(scope="module")
def study() -> Any:
    return study_of()


@pytest.mark.parametrize(
    "form", ["%d.%m.%Y %H:%M", "%d/%m/%Y %H:%M", "%m/%d/%Y %H:%M", "%m/%d/%Y %I:%M %p", "%d-%m-%Y %H:%M", "%Y/%m/%d %H:%M"]
)
def test_a_whole_file_is_read_in_one_way(study: Any, form: str) -> None:
    """Three weeks of May: read row by row the first twelve days would each fall on the fifth of another month."""
    times, watts = played(study, datetime(2025, 5, 1), 21)
    plain, other = read_series(csv_of(times, watts), SITE), read_series(csv_of(times, watts, form), SITE)
    assert np.array_equal(plain.unix, other.unix) and not [note for note in other.notes if "other way round" in note]
    if form.startswith(("%d", "%m")) and "%p" not in form:
        assert guess(csv_of(times, watts, form)).columns.time_format == form


def test_a_change_is_the_same_however_its_days_are_written(study: Any) -> None:
    times, watts = played(study, datetime(2025, 5, 1), 28)
    on, random = date(2025, 5, 15), np.random.default_rng(2)
    scale = np.array([0.834 if at.date() >= on else 1.0 for at in times]) * np.repeat(random.uniform(0.99, 1.01, 28), 96)
    ratios = [
        change_of(judge(study, read_series(csv_of(times, watts * scale, form), SITE)).clear, on).ratio
        for form in ("%Y-%m-%d %H:%M", "%d.%m.%Y %H:%M", "%d/%m/%Y %H:%M")
    ]
    assert ratios[0] == pytest.approx(0.834, abs=0.004) and ratios == [ratios[0]] * 3


def test_a_file_whose_days_could_be_months_is_told(study: Any) -> None:
    """The third and the fourth of March alone, or the third of March and of April: both go on, and the file says so."""
    times, watts = played(study, datetime(2025, 3, 3), 1)
    series = read_series(csv_of(times, watts, "%d/%m/%Y %H:%M"), SITE)
    assert any("other way round" in note for note in series.notes)
    american = Site(39.7, -105.2, 1800, "America/Denver")
    assert time_format_of(["03/04/2025 10:00", "03/04/2025 10:15"], month_first=True).form == "%m/%d/%Y %H:%M"
    assert (
        datetime.fromtimestamp(
            read_series(csv_of(times, watts, "%d/%m/%Y %H:%M"), american).unix[0], ZoneInfo("America/Denver")
        ).month
        == 3
    )
    with pytest.raises(BriefError, match=r"row 3.*is not a time"):
        read_series(b"time,power\n01.05.2025 10:00,5\n31.31.2025 10:15,6\n01.05.2025 10:30,7\n01.05.2025 10:45,7\n", SITE)


def test_a_thousandth_is_asked_about_as_twice_is(study: Any) -> None:
    times, watts = played(study, datetime(2025, 5, 1), 3)
    assert study.scene.array.power == 1720
    for head, per in (("time,power", 1000.0), ("time,energy", 4000.0)):  # kW and kWh of a quarter, under names that tell no unit
        with pytest.raises(BriefError, match="a thousandth"):
            read_series(csv_of(times, watts, head=head, per=per), SITE, nameplate=1720)
    counted = np.cumsum(watts) / 4000
    with pytest.raises(BriefError, match="kWh taken for Wh"):
        read_series(csv_of(times, counted, head="time,total"), SITE, nameplate=1720)
    told = read_series(csv_of(times, watts, per=1000.0), SITE, Columns(unit="kW"), 1720)
    named = read_series(csv_of(times, watts, head="time,P (kW)", per=1000.0), SITE, Columns(power="P (kW)"), 1720)
    assert (
        float(told.power.max())
        == pytest.approx(float(watts.max()), rel=1e-3)
        == pytest.approx(float(named.power.max()), rel=1e-3)
    )
    dull = read_series(csv_of(times, watts, per=300.0), SITE, nameplate=1720)  # a week of snow makes little, and not a thousandth
    assert float(dull.power.max()) < 6
    with pytest.raises(BriefError, match="twice|taken for W"):
        read_series(csv_of(times, watts, per=0.3), SITE, nameplate=1720)


@pytest.mark.parametrize(
    ("off", "told"), [(0, None), (60, None), (120, None), (180, 180), (-180, -180), (720, -720), (-690, -690), (300, 300)]
)
def test_a_clock_that_is_hours_off_is_said(study: Any, off: int, told: float | None) -> None:
    times, watts = played(study, datetime(2025, 6, 2), 12, off)
    zone = study.scene.site.zone
    unix = np.array([at.replace(tzinfo=zone).timestamp() for at in times])
    series = read_series(csv_of(times, watts), SITE)
    assert far_off(series, expected_series(study, series.unix + 450)) == told and len(unix) == len(times)


def test_am_and_pm_exchanged_are_said_on_the_command_line(study: Any, tmp_path: Any, capsys: pytest.CaptureFixture[str]) -> None:
    brief = tmp_path / "rack.json"
    brief.write_text(json.dumps(data()))
    times, watts = played(study, datetime(2025, 6, 2), 10, 720)
    file = tmp_path / "meter.csv"
    file.write_bytes(csv_of(times, watts, "%d.%m.%Y %H:%M"))
    assert main(["clear-days", str(brief), str(file)]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert abs(answer["clock_minutes"]) == 720 and any("am and pm" in note for note in answer["notes"])
    assert answer["count"] >= 9 and all(one["ratio"] == pytest.approx(1, abs=0.02) for one in answer["days"])


def test_a_night_hour_of_two_sided_panels_is_answered() -> None:
    """At midnight no light is there at all: nothing is made, and nothing fails."""
    made = data()
    made["panel"] = {**made["panel"], "bifaciality": 0.7}
    two_sided = study_of(**{key: made[key] for key in ("panel",)})
    night, noon = (expected_at(two_sided, datetime(2026, 1, 10, hour, 0)) for hour in (0, 13))
    assert night.power == 0.0 and noon.power > expected_at(study_of(), datetime(2026, 1, 10, 13, 0)).power


def test_standard_time_is_the_clock_without_summer_time() -> None:
    """Ireland's rules call the summer standard and the winter a negative summer time: by the clock it stands as Britain does."""
    offsets = {
        name: Site(53.3, -6.3, 0, name).standard_offset
        for name in ("Europe/Dublin", "Europe/London", "Europe/Lisbon", "Africa/Casablanca")
    }
    assert offsets == {"Europe/Dublin": 0, "Europe/London": 0, "Europe/Lisbon": 0, "Africa/Casablanca": 1}
    assert Site(-36.8, 174.8, 0, "Pacific/Auckland").standard_offset == 12
    for name in sorted(available_timezones()):
        hours = {
            (datetime(2023, month, 15, tzinfo=ZoneInfo(name)).utcoffset() or timedelta()).total_seconds() / 3600
            for month in (1, 7)
        }
        assert Site(10.0, 10.0, 0, name).standard_offset == min(hours), name


@pytest.mark.parametrize(("zone", "offset"), [("Europe/Madrid", 1), ("America/Denver", -7), ("Asia/Kolkata", 5.5)])
def test_a_local_year_told_in_utc_is_a_year(zone: str, offset: float) -> None:
    """The hours of a year of local standard time, each written with Z: they begin on the evening before, or the morning after, in UTC."""
    site = Site(30.0, 15.0 * offset, 0, zone)
    start = datetime(2023, 1, 1, tzinfo=UTC) - timedelta(hours=offset)
    hours = [start + timedelta(hours=number) for number in range(8760)]
    sun = [max(0.0, 600 - 100 * abs((number % 24) + 0.5 - 12)) for number in range(8760)]
    rows = "\n".join(f"{at:%Y-%m-%dT%H:%M}Z,{value:.1f}" for at, value in zip(hours, sun, strict=True))
    year = read_hourly(f"time,ghi\n{rows}\n".encode(), site)
    assert year.utc_offset == offset and year.ghi[12] == 550 == year.ghi[11]
    plain = "\n".join(
        f"{datetime(2023, 1, 1) + timedelta(hours=number):%Y-%m-%dT%H:%M}Z,{value:.1f}" for number, value in enumerate(sun)
    )
    assert read_hourly(f"time,ghi\n{plain}\n".encode(), Site(30.0, 0.0, 0, "Europe/London")).utc_offset == 0
