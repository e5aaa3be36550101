"""What this sun should give: against pvlib's own steps, through shade, and through invented series with a known truth."""

from __future__ import annotations

import json
from datetime import UTC, date, datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
import pandas as pd
import pvlib
import pytest

from sundial.brief.read import brief_of
from sundial.cli import main
from sundial.days import spoken_day
from sundial.errors import BriefError
from sundial.expected.clear import ClearDay, change_of, judge
from sundial.expected.conditions import clear_light, hours_of_year
from sundial.expected.day import day_made
from sundial.expected.moment import expected_at, expected_series
from sundial.record.dialect import Columns
from sundial.record.entries import Move
from sundial.record.series import Series, read_series
from sundial.study import Study, studied

LABEL = {"voc": 37.2, "isc": 14.2, "vmp": 31.1, "imp": 13.85, "beta": -0.0027}


def data(
    latitude: float = 42.9, longitude: float = -6.1, elevation: float = 870, zone: str = "Europe/Madrid", **more: Any
) -> dict[str, Any]:
    return {
        "format": "crooked-sundial-brief", "version": 1, "name": "Rack",
        "site": {"latitude": latitude, "longitude": longitude, "elevation": elevation, "timezone": zone},
        "sky": {"kind": "made-up", "name": "dry-upland"},
        "panel": {"power": 430, "length": 1.722, "width": 1.134, "mass": 21.5, "gamma": -0.0034},
        "array": {"rows": 1, "columns": 4, "clearance": 0.6}, "mount": {"kind": "fixed", "tilt": 33},
        "electrics": LABEL,
    } | more  # fmt: skip


def study(**more: Any) -> Study:
    return studied(brief_of(data(**more)))


@pytest.mark.parametrize(
    ("latitude", "longitude", "elevation", "zone", "when"),
    [
        (42.9, -6.1, 870, "Europe/Madrid", "2026-06-21T15:10"),
        (-41.3, 147.0, 40, "Australia/Hobart", "2026-07-02T10:25"),
        (36.4, -105.6, 2300, "America/Denver", "2026-02-11T14:40"),
        (1.2, 36.9, 1600, "Africa/Nairobi", "2026-10-05T09:20"),
    ],
)
def test_the_light_and_the_power_are_those_of_pvlibs_own_steps(latitude, longitude, elevation, zone, when) -> None:
    azimuth = 180.0 if latitude > 0 else 0.0
    one = study(latitude=latitude, longitude=longitude, elevation=elevation, zone=zone)
    at = pd.DatetimeIndex([pd.Timestamp(when, tz=zone)])
    place = pvlib.location.Location(latitude, longitude, zone, elevation)
    sun, clear = place.get_solarposition(at), place.get_clearsky(at)
    poa = pvlib.irradiance.get_total_irradiance(
        33, azimuth, sun.apparent_zenith, sun.azimuth, clear.dni, clear.ghi, clear.dhi, albedo=0.2, model="haydavies",
        dni_extra=pvlib.irradiance.get_extra_radiation(at),
    ).poa_global.iloc[0]  # fmt: skip
    found = expected_at(one, datetime.fromisoformat(when))
    assert found.poa == pytest.approx(poa, rel=0.004)
    light = clear_light(one.scene, np.array([at[0].timestamp()]))
    cell = pvlib.temperature.faiman(poa, light.temp_air[0], light.wind_speed[0])
    assert found.cell_temperature == pytest.approx(cell, abs=0.15)
    incidence = pvlib.irradiance.aoi(33, azimuth, sun.apparent_zenith, sun.azimuth).iloc[0]
    assert found.incidence == pytest.approx(incidence, abs=0.1)
    dc = pvlib.pvsystem.pvwatts_dc(poa * pvlib.iam.martin_ruiz(incidence, 0.16), cell, 1720, -0.0034)
    kept = 0.98 * 0.98 * 0.99 * 0.99 * 0.96
    assert found.clear_power == pytest.approx(dc * kept, rel=0.02), "beside the glass's share of diffuse light"


def test_the_volts_on_the_meter_are_the_manuals() -> None:
    """37.2 V, -0.27 %/K at 48 degC: 34.89 V."""
    hot = expected_at(study(), datetime(2026, 7, 1, 14, 20), temp_air=23.0)
    assert hot.voc == pytest.approx(37.2 * (1 - 0.0027 * (hot.cell_temperature - 25)))
    assert pytest.approx(34.89, abs=0.005) == 37.2 * (1 - 0.0027 * 23)
    assert hot.vmp == pytest.approx(hot.voc - 6.1)
    assert expected_at(study(electrics=None), datetime(2026, 7, 1, 14)).voc is None
    assert expected_at(study(), datetime(2026, 7, 1, 1)).voc is None, "in the dark there is none to expect"


def test_fair_tests_and_why_not() -> None:
    one = study()
    noon = expected_at(one, datetime(2026, 6, 21, 14, 25))
    assert noon.fair and noon.why_not == () and noon.low < noon.power < noon.high
    late = expected_at(one, datetime(2026, 6, 21, 20, 10))
    assert not late.fair and "hours from solar noon" in late.why_not[0]
    assert expected_at(one, datetime(2026, 6, 22, 2)).why_not == ("the sun is down",)
    dull = expected_at(one, datetime(2026, 6, 21, 14, 25), sky="overcast")
    assert dull.why_not == ("the sky is not clear",) and dull.high < 0.4 * noon.power
    full = expected_at(study(system={"inverter": {"power": 900}}), datetime(2026, 6, 21, 14, 25))
    assert full.clear_power == 900 and "at its limit" in full.why_not[0]
    flat = expected_at(one, datetime(2026, 12, 21, 13, 30), tilt=0.0)
    steep = expected_at(one, datetime(2026, 12, 21, 13, 30), tilt=60.0)
    assert steep.power > 1.7 * flat.power
    wall = {
        "objects": [{"kind": "building", "name": "Barn", "footprint": [[-20, -3], [20, -3], [20, -9], [-20, -9]], "height": 6}]
    }
    shaded = expected_at(study(yard=wall), datetime(2026, 12, 21, 13, 30))
    assert shaded.shaded > 0.9 and "something shades" in shaded.why_not[0] and shaded.power < 0.4 * steep.power
    for words, answers in (("--sky", {"sky": "purple"}), ("--tilt", {"tilt": 120.0})):
        with pytest.raises(BriefError) as caught:
            expected_at(one, datetime(2026, 6, 21, 14), **answers)
        assert caught.value.path == words


def test_a_day_with_and_without_the_shade_of_a_barn() -> None:
    barn = {"kind": "building", "name": "Barn", "footprint": [[-20, -6], [-2, -6], [-2, -12], [-20, -12]], "height": 5}
    built, bare = study(yard={"objects": [barn]}), study()
    lifted = [Move(at=datetime(2026, 12, 1, tzinfo=UTC), tilt=33), Move(at=datetime(2026, 12, 21, 12, tzinfo=UTC), tilt=58)]
    made = day_made(built, date(2026, 12, 21), None, lifted)
    unix = datetime(2026, 12, 21, tzinfo=ZoneInfo("Europe/Madrid")).timestamp() + 300.0 * np.arange(288)
    stood = np.where(unix < lifted[1].at.timestamp(), 33.0, 58.0)
    assert made.unshaded == pytest.approx(expected_series(bare, unix, stood), abs=0.051)
    taken = np.array(made.unshaded) - np.array(made.expected)
    afternoon = np.array(made.hours) > 13.4
    assert taken.min() >= -0.1 and taken[afternoon].sum() > 4 * max(taken[~afternoon].sum(), 1.0)
    # What the sky's dome sees of the barn is traced once a study, for each tilt by itself.
    anew = study(yard={"objects": [barn]})
    for tilt in (58.0, 12.0, 33.0):
        assert expected_series(built, unix, tilt) == pytest.approx(expected_series(anew, unix, tilt), abs=1e-6)
    # A tracker looked at from minute to minute stands at ever new azimuths: only the latest domes are kept.
    noon = datetime(2026, 12, 21, 13, 20)
    for azimuth in np.arange(150.0, 210.0, 1.7):
        expected_at(built, noon, tilt=40.0, azimuth=float(azimuth))
    assert built.scene.traces.domes.count("domes") == 60
    assert expected_series(built, unix, 58.0) == pytest.approx(expected_series(anew, unix, 58.0), abs=1e-6)


def test_times_find_their_hour_of_the_year_through_a_leap_day() -> None:
    def place(*parts: int) -> int:
        return int(hours_of_year(np.array([datetime(*parts, tzinfo=ZoneInfo("UTC")).timestamp()]), 1.0)[0])

    assert place(2025, 12, 31, 23, 30) == 0, "an hour ahead of Greenwich"
    assert place(2024, 2, 28, 12) == place(2024, 2, 29, 12) == 58 * 24 + 13
    assert place(2024, 3, 1, 12) == place(2025, 3, 1, 12) == 59 * 24 + 13
    assert spoken_day(place(2024, 12, 31, 12) // 24) == "31 December"


# -- series -------------------------------------------------------------------------------------------------------------


def csv_of(rows: list[tuple[str, str]], head: str = "time,power", mark: str = ",") -> bytes:
    return "\n".join([head, *(f"{a}{mark}{b}" for a, b in rows)]).encode()


SITE = study().scene.site


def test_a_series_in_other_dialects_is_the_same_series() -> None:
    times = [datetime(2025, 6, 1, 8, tzinfo=ZoneInfo("UTC")) + timedelta(minutes=15 * n) for n in range(40)]
    watts = [100.0 + 10 * n for n in range(40)]
    plain = read_series(csv_of([(f"{t:%Y-%m-%dT%H:%M:%S}Z", f"{w}") for t, w in zip(times, watts, strict=True)]), SITE)
    assert plain.step == 900 and plain.power.tolist() == watts and plain.notes == ()
    local = [t.astimezone(SITE.zone) for t in times]
    comma = csv_of(
        [(f"{t:%Y-%m-%d %H:%M}", f"{w / 1000}".replace(".", ",")) for t, w in zip(local, watts, strict=True)], "Zeit;P", ";"
    )
    assert read_series(comma, SITE, Columns("Zeit", power="P", unit="kW")).power == pytest.approx(watts)
    energy = csv_of([(f"{t:%Y-%m-%dT%H:%M}Z", f"{w / 4}") for t, w in zip(times, watts, strict=True)], "time,energy")
    assert read_series(energy, SITE).power == pytest.approx(watts)
    total = 5000 + np.concatenate([[0], np.cumsum(np.array(watts) / 4)])[:40]
    total[20:] -= total[20] - 3  # the counter begins anew
    counted = read_series(
        csv_of([(f"{t:%Y-%m-%dT%H:%M}Z", f"{w}") for t, w in zip(times, total, strict=True)], "time,total"), SITE
    )
    assert "The counter went back 1 times" in counted.notes[0] and len(counted.power) == 38
    assert counted.power[:19] == pytest.approx(watts[:19]) and counted.power[19:] == pytest.approx(watts[20:39])
    assert read_series(csv_of([("2025-06-01 10:00", "1")] * 1 + [(f"{t:%Y-%m-%d %H:%M}", "5") for t in local[::-1]]), SITE).notes


def test_both_changes_of_the_clock_are_undone() -> None:
    start = datetime(2025, 10, 25, 22, tzinfo=ZoneInfo("UTC"))
    times = [start + timedelta(hours=n) for n in range(12)]
    rows = [(f"{t.astimezone(SITE.zone):%Y-%m-%d %H:%M}", f"{n}") for n, t in enumerate(times)]
    found = read_series(csv_of(rows), SITE)
    assert found.unix.tolist() == [t.timestamp() for t in times] and found.power.tolist() == list(range(12))


@pytest.mark.parametrize(
    ("text", "path", "words"),
    [
        ("", "series", "empty"),
        ("a,b\n1,2\n", "--time", "there is no column 'time'"),
        ("time,x\n2025-01-01,2\n", "--power", "say which column"),
        ("time,power\nyesterday,2\n", "series row 2", "not a time"),
        ("time,power\n2025-01-01 00:00,2\n2025-01-01 01:00,many\n", "series row 3, column power", "not a number"),
        ("time,power\n1970-01-01 00:00,2\n1970-01-01 01:00,2\n1970-01-01 02:00,2\n", "series row 2", "clock was not set"),
        ("time,power\n2025-01-01 00:00,2\n2025-01-02 00:00,2\n2025-01-03 00:00,2\n", "series", "every 24.0 hours"),
        ("time,power\n2025-01-01 00:00,2\n2025-01-01 01:00,9000\n2025-01-01 02:00,2\n", "series", "kW taken for W"),
        ("time,power\n2025-01-01 00:00,2\n2025-01-01T01:00Z,3\n", "series", "some have none"),
    ],
)
def test_series_that_are_refused_in_words(text: str, path: str, words: str) -> None:
    with pytest.raises(BriefError) as caught:
        read_series(text.encode(), SITE, nameplate=1720.0)
    assert caught.value.path == path and words in caught.value.message


def test_what_is_mended_is_told() -> None:
    rows = [
        ("2025-06-01 10:00", "5"),
        ("2025-06-01 09:00", "4"),
        ("2025-06-01 11:00", "-2"),
        ("2025-06-01 11:00", "7"),
        ("2025-06-01 14:00", ""),
    ]
    found = read_series(csv_of([*rows, ("2025-06-01 15:00", "6")]), SITE)
    assert found.power.tolist() == [4.0, 5.0, 0.0, 6.0]
    told = " ".join(found.notes)
    for words in ("out of order", "1 rows repeat", "1 rows are below zero", "1 gaps"):
        assert words in told


# -- clear days and changes ----------------------------------------------------------------------------------------------


def invented(one: Study, days: int, seed: int, first: date = date(2025, 3, 1), step: int = 900) -> tuple[Series, set[date]]:
    """A series under an invented sky: each day clear (a third of them), broken or evenly dull, with noise of a percent; and the clear days."""
    random = np.random.default_rng(seed)
    start = datetime(first.year, first.month, first.day, tzinfo=ZoneInfo("UTC")).timestamp()
    unix = start + step * np.arange(days * 86400 // step, dtype=float)
    should = expected_series(one, unix + step / 2)
    per = 86400 // step
    share, clear = np.ones(len(unix)), set()
    for day in range(days):
        kind, at = random.uniform(), slice(day * per, (day + 1) * per)
        if kind < 0.34:
            clear.add(first + timedelta(days=day))
            share[at] = random.normal(1, 0.012)
        elif kind < 0.75:
            cloud = random.uniform(0.2, 1.1, per)
            share[at] = np.convolve(np.pad(cloud, 1, mode="edge"), [0.25, 0.5, 0.25], "valid")
        else:
            share[at] = random.uniform(0.1, 0.4) * (1 + 0.02 * random.standard_normal(per))
    return Series(unix, should * share * (1 + 0.006 * random.standard_normal(len(unix))), float(step)), clear


def test_clear_days_are_found_and_no_others() -> None:
    one = study()
    hits = found = truth = 0
    for seed in range(3):
        series, clear = invented(one, 90, seed)
        said = {day.day for day in judge(one, series).clear}
        hits, found, truth = hits + len(said & clear), found + len(said), truth + len(clear)
    assert hits / found > 0.97 and hits / truth > 0.9, (hits, found, truth)


def test_the_clock_of_a_file_is_checked_against_the_sun() -> None:
    one = study()
    series, _ = invented(one, 40, 5)
    late = Series(series.unix + 3600, series.power, series.step)
    assert judge(one, series).clock == 0
    assert judge(one, late).clock == 60


def test_a_change_is_found_with_its_interval_and_the_season_drops_out() -> None:
    one = study()
    series, _ = invented(one, 120, 8, date(2025, 8, 1))
    on = date(2025, 10, 1)
    after = series.unix >= datetime(2025, 10, 1, tzinfo=ZoneInfo("UTC")).timestamp()
    better = Series(series.unix, series.power * np.where(after, 1.06, 1.0), series.step)
    found = change_of(judge(one, better).clear, on)
    assert found.low < 1.06 < found.high and found.high - found.low < 0.04
    assert found.ratio == pytest.approx(1.06, abs=0.012), (
        "from August to November the sun sinks by 25 degrees, and that is no change"
    )
    nothing = change_of(judge(one, series).clear, on)
    assert nothing.low < 1.0 < nothing.high
    with pytest.raises(BriefError, match="at least 5 are needed on each side"):
        change_of(judge(one, series).clear, date(2025, 8, 2))


def test_the_interval_covers_the_truth_as_often_as_it_says() -> None:
    """Of 200 invented changes of 4 %, with days that scatter by 2 % and remember the day before, 93 to 97 of 100 are covered."""
    random = np.random.default_rng(3)
    covered = 0
    for trial in range(200):
        noise = np.zeros(60)
        for day in range(1, 60):
            noise[day] = 0.3 * noise[day - 1] + 0.02 * random.standard_normal()
        days = [
            ClearDay(date(2025, 5, 1) + timedelta(days=n), float(np.exp(noise[n] + (np.log(1.04) if n > 30 else 0))), 1.0, 0.0)
            for n in range(60)
            if n != 30
        ]
        change = change_of(tuple(days), date(2025, 5, 31), trial)
        covered += change.low <= 1.04 <= change.high
    assert 186 <= covered <= 194, covered


def test_the_commands_answer(tmp_path: Any, capsys: Any) -> None:
    one = study()
    brief, file = tmp_path / "brief.json", tmp_path / "series.csv"
    brief.write_text(json.dumps(data()))
    series, clear = invented(one, 60, 2)
    stamps = pd.to_datetime(series.unix, unit="s", utc=True).strftime("%Y-%m-%dT%H:%M:%SZ")
    file.write_text("\n".join(["time,power", *(f"{t},{p:.1f}" for t, p in zip(stamps, series.power, strict=True))]))
    assert main(["expected", str(brief), "--at", "2026-06-21T14:25", "--sky", "haze"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert {
        "power",
        "low",
        "high",
        "share_of_nameplate",
        "fair",
        "why_not",
        "incidence",
        "cell_temperature",
        "voc",
        "vmp",
    } <= set(told)
    assert main(["clear-days", str(brief), str(file)]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["of"] in (60, 61) and abs(told["count"] - len(clear)) <= 2
    assert main(["change", str(brief), str(file), "--on", "2025-04-01"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert told["low"] < 1 < told["high"] and told["days"] == told["before"] + told["after"]
    assert main(["change", str(brief), str(file), "--on", "soon"]) == 2
    assert main(["expected", str(brief), "--at", "noon"]) == 2


def test_a_day_is_told_in_its_own_hours_and_set_against_the_sun_of_the_same_minutes() -> None:
    """A monitor that shows three quarters of what the sun gives; the day on which the clock goes forward has 23 hours."""
    built = study()
    for day, hours in ((date(2026, 5, 21), 24), (date(2026, 3, 29), 23)):
        start = datetime(day.year, day.month, day.day, tzinfo=built.scene.site.zone).timestamp()
        unix = start - 3600 + 900.0 * np.arange(4 * (hours + 2))
        power = 0.75 * expected_series(built, np.asarray(unix + 450))
        made = day_made(built, day, Series(unix, power, 900.0))
        assert (made.hours[0], made.hours[12], made.hours[-1]) == (0.0, 1.0, pytest.approx(hours - 1 / 12, abs=1e-4))
        assert len(made.measured) == 4 * hours and made.measured[5][0] == pytest.approx(1.375)  # the middle of its quarter
        assert made.share == pytest.approx(0.75, rel=0.004)
        assert made.kwh == pytest.approx(float(power[4:-4].sum()) * 0.25 / 1000)
        assert made.expected == made.unshaded  # nothing stands here
    held = day_made(
        built,
        date(2026, 5, 21),
        None,
        [Move(at=datetime(2026, 5, 21, 10, 30, tzinfo=built.scene.site.zone), tilt=41.0, before=12.0)],
    )
    assert held.tilts == ((0.0, 12.0), (10.5, 41.0)) and held.kwh == 0 and held.share is None
