"""The use by the hour: shapes, files of the use, tariffs of a brief, and verdicts that follow from them."""

from __future__ import annotations

import json
from datetime import datetime, timedelta
from typing import Any
from zoneinfo import ZoneInfo

import numpy as np
import pytest

from sundial.answers.balance.command import balance_answer, balance_csv, notes_of
from sundial.answers.worth.report import worth_report
from sundial.balance.clock import wall_hours, weekdays
from sundial.balance.profile import read_profile
from sundial.balance.shapes import shape_of_year, shapes, to_months
from sundial.days import DAYS, HOURS, MONTH_OF_HOUR
from sundial.errors import BriefError
from sundial.money.tariff import tariff_of
from sundial.study import Study, studied
from tests.core.conftest import brief_data, study_of

GRID = {"kind": "grid", "yearly": 3600.0, "shape": "home-evening", "import_price": 0.3, "export_price": 0.05}
MADRID = "Europe/Madrid"


# -- the clock and shapes -------------------------------------------------------------------------------------------


def test_the_clock_on_the_wall_goes_by_summer_time() -> None:
    hours = wall_hours(MADRID, 1.0, 2026)
    assert hours[24 * 10 + 7] == 7, "January: standard time"
    assert hours[24 * 190 + 7] == 8, "July: an hour on"
    assert wall_hours("Australia/Hobart", 10.0, 2026)[24 * 10 + 23] == 0, "January is summer there"
    assert weekdays(2026)[0] == 3 and weekdays(2028)[58:60].tolist() == [0, 2], "29 February is stepped over"


def test_every_shape_is_scaled_to_its_months() -> None:
    wall, week = wall_hours(MADRID, 1.0, 2026), weekdays(2026)
    air = 15 + 10 * np.sin(np.arange(HOURS) / HOURS * 2 * np.pi)
    monthly = np.arange(12) * 20.0
    for name in shapes():
        hourly = to_months(shape_of_year(name, wall, week, air), monthly)
        assert np.bincount(MONTH_OF_HOUR, hourly).tolist() == pytest.approx((monthly * 1000).tolist()), name
        assert (hourly >= 0).all()
    cold = shape_of_year("cold-store", wall, week, np.where(np.arange(HOURS) < HOURS / 2, 24.0, 9.0))
    assert cold[100 * 24 + 12] / cold[300 * 24 + 12] == pytest.approx(20 / 5)
    shop = shape_of_year("workshop", wall, week, air).reshape(DAYS, 24)
    assert (week[:7] == [3, 4, 5, 6, 0, 1, 2]).all()
    assert shop[:7].sum(axis=1) / shop[0].sum() == pytest.approx([1, 1, 2 / 9, 2 / 9, 1, 1, 1], abs=1e-3)


# -- files --------------------------------------------------------------------------------------------------------------


def year_csv(step_minutes: int = 60, start: datetime = datetime(2025, 1, 1), zone: str | None = MADRID, days: int = 365) -> str:
    """A year's rows by the clock on the wall of a zone, each worth its true hour of the year in Wh."""
    lines = ["when;what"]
    first = start.replace(tzinfo=ZoneInfo(zone)) if zone else start
    utc = first.astimezone(ZoneInfo("UTC")) if zone else first
    for number in range(days * 24 * 60 // step_minutes):
        at = utc + timedelta(minutes=step_minutes * number)
        shown = at.astimezone(ZoneInfo(zone)) if zone else at
        worth = f"{(number * step_minutes // 60) * step_minutes / 60:.2f}".replace(".", ",")
        lines.append(f"{shown:%d.%m.%Y %H:%M};{worth}")
    return "\n".join(lines)


def test_a_file_by_the_clock_on_the_wall_loses_no_hour_at_its_changes() -> None:
    profile = read_profile(year_csv().encode(), MADRID, 1.0, unit="Wh")
    assert profile.hours.tolist() == list(range(HOURS)), "both changes of the clock are undone"
    quarters = read_profile(year_csv(15).encode(), MADRID, 1.0, unit="Wh")
    assert quarters.hours.tolist() == list(range(HOURS)) and quarters.notes == ()


def test_a_file_in_standard_time_is_told_by_the_hour_that_the_clock_skips() -> None:
    text = "\n".join(["time,use", *(f"{datetime(2025, 1, 1) + timedelta(hours=h):%Y-%m-%d %H:%M},{h}" for h in range(HOURS))])
    assert read_profile(text.encode(), MADRID, 1.0, unit="Wh").hours.tolist() == list(range(HOURS))


def test_kilowatts_weeks_leap_days_and_gaps() -> None:
    rows = [f"{datetime(2024, 1, 1) + timedelta(minutes=30 * n):%Y-%m-%dT%H:%M}+01:00,2" for n in range(366 * 48)]
    leap = read_profile("\n".join(["t,p", *rows]).encode(), MADRID, 1.0, unit="kW")
    assert np.allclose(leap.hours, 2000.0) and leap.notes == ("29 February is left out.",)
    gone = rows[: 100 * 48] + rows[102 * 48 + 3 :]
    filled = read_profile("\n".join(["t,p", *gone]).encode(), MADRID, 1.0, unit="kW")
    assert np.allclose(filled.hours, 2000.0) and "missing hours are taken from the days beside them" in filled.notes[1]
    week = read_profile("\n".join(str(n) for n in range(168)).encode(), MADRID, 1.0, unit="Wh")
    assert week.is_week and week.hours[30] == 30
    assert read_profile(b"use\n" + b"1,5\n" * HOURS, MADRID, 1.0).hours[0] == 1500.0


@pytest.mark.parametrize(
    ("text", "path", "words"),
    [
        ("", "use.profile.file", "empty"),
        ("time,use\n", "use.profile.file", "no rows"),
        ("1\n" * 100, "use.profile.file", "has 100 rows"),
        ("time,use\n2025-01-01 00:00,x\n", "use.profile.file row 2", "not a number"),
        ("time,use\n2025-01-01 00:00,-3\n", "use.profile.file row 2", "cannot be negative"),
        ("time,use\nyesterday,3\n", "use.profile.file row 2", "not a time"),
        ("time,use\n2025-01-01 00:00,1\n2025-01-01 00:00,1\n", "use.profile.file row 3", "that of row 2 too"),
        ("time,use\n2025-01-01 00:00,1\n", "use.profile.file", "8759 of the year's 8760 hours are missing"),
        ("0\n" * 168, "use.profile.file", "zero in every row"),
    ],
)
def test_files_that_are_refused_in_words(text: str, path: str, words: str) -> None:
    with pytest.raises(BriefError) as caught:
        read_profile(text.encode(), MADRID, 1.0)
    assert caught.value.path == path and words in caught.value.message


def test_a_column_that_is_not_there_is_named() -> None:
    with pytest.raises(BriefError, match="there is no column 'power'") as caught:
        read_profile(b"time,use\n2025-01-01 00:00,1\n", MADRID, 1.0, column="power")
    assert caught.value.path == "use.profile.column"


def test_a_brief_names_its_file_and_its_week_goes_by_the_wall_clock() -> None:
    week = "\n".join(str(hour % 24 + 1) for hour in range(168)).encode()
    data = brief_data(use={"kind": "grid", "profile": {"file": "use.csv", "unit": "Wh"}})
    from sundial.brief.read import brief_of

    weather = study_of().scene.weather
    study = studied(brief_of(data), lambda name: {"use.csv": week}[name], weather)
    demand = study.needs.demand.reshape(DAYS, 24)
    assert demand[10].tolist() == list(range(1, 25))
    assert demand[190].tolist() == [*range(2, 25), 1], "an hour earlier by standard time"


# -- tariffs of a brief ---------------------------------------------------------------------------------------------------


def refused(use: dict[str, Any], **more: Any) -> tuple[str, str]:
    with pytest.raises(BriefError) as caught:
        study_of(use=use, **more)
    return caught.value.path, caught.value.message


def test_bands_go_by_hours_and_months_of_the_wall_clock() -> None:
    bands = [
        {"from": "22:00", "to": "06:00", "price": 0.1},
        {"price": 0.3, "months": [6, 7, 8]},
        {"price": 0.2, "months": [1, 2, 3, 4, 5, 9, 10, 11, 12]},
    ]
    study = study_of(
        use={**GRID, "tariff": {"import": bands, "export": [{"from": "12:00", "to": "15:00", "price": -0.02}, {"price": 0.07}]}}
    )
    tariff = tariff_of(study.brief, study.scene.weather.utc_offset)
    buy, sell = tariff.buy.reshape(DAYS, 24), tariff.sell.reshape(DAYS, 24)
    assert buy[10, [5, 6, 21, 22]].tolist() == [0.1, 0.2, 0.2, 0.1]
    assert buy[190, [4, 5, 20, 21]].tolist() == [0.1, 0.3, 0.3, 0.1], "by summer time"
    assert sell[10, [11, 12, 14, 15]].tolist() == [0.07, -0.02, -0.02, 0.07]
    moved = tariff_of(study.brief, study.scene.weather.utc_offset, buying=1.15, selling=0.05)
    assert moved.buy[0] == pytest.approx(0.115) and moved.sell[12] == pytest.approx(0.03)


@pytest.mark.parametrize(
    ("tariff", "words"),
    [
        ({"import": [{"from": "07:00", "to": "23:00", "price": 0.3}]}, "no band holds at 00:00"),
        ({"import": [{"from": "07:00", "to": "23:00", "price": 0.3}, {"from": "22:00", "to": "08:00", "price": 0.1}]}, "bands 1 and 2 overlap at 22:00"),
        ({"import": [{"price": 0.3}, {"price": 0.1}]}, "both for the rest"),
        ({"import": [{"from": "07:00", "price": 0.3}]}, "give both from and to"),
        ({"import": [{"from": "07:30", "to": "08:00", "price": 0.3}]}, "whole hour"),
        ({"blocks": [{"up_to": 200, "price": 0.1}, {"up_to": 100, "price": 0.2}, {"price": 0.3}]}, "block 2 ends at 100 kWh, not after"),
        ({"blocks": [{"price": 0.1}, {"up_to": 100, "price": 0.2}]}, "none can come after"),
        ({"blocks": [{"up_to": 100, "price": 0.2}]}, "what a kWh over 100 costs"),
        ({"export_limit": -1}, "from 0"),
    ],
)  # fmt: skip
def test_tariffs_that_are_refused(tariff: dict[str, Any], words: str) -> None:
    path, message = refused({**GRID, "tariff": tariff})
    assert path.startswith("use.tariff") and words in message


def test_uses_and_batteries_that_are_refused() -> None:
    assert refused(GRID | {"yearly": -3})[0] == "use.yearly"
    assert refused(GRID | {"monthly": [1.0] * 12})[1].startswith("give the use of the year or of the months")
    assert refused({"kind": "grid", "tariff": {"standing": 3}})[0] == "use.tariff"
    assert (
        refused({"kind": "off-grid", "demand": [1, 2]})[1]
        == "must be one number, or a list of twelve numbers, January to December"
    )
    for battery, path in (({"usable": 0}, "battery.usable"), ({"usable": 5, "round_trip": 1.2}, "battery.round_trip")):
        assert refused(GRID, battery=battery)[0] == path
    assert refused({"kind": "grid"}, battery={"usable": 5})[0] == "battery"
    assert refused({"kind": "direct", "demand": 5}, battery={"usable": 5})[0] == "battery"
    with pytest.raises(BriefError, match="off-grid use without a generator"):
        study_of(plan={"goal": "empty-days"}).plans()


def test_prices_of_zero_and_a_limit_of_zero_are_told() -> None:
    nothing = study_of(use={"kind": "grid", "yearly": 3000, "import_price": 0, "export_price": 0, "tariff": {"export_limit": 0}})
    first, second = notes_of(nothing.scene)
    assert "no kWh is worth anything" in first and "nothing is sold" in second
    assert worth_report(nothing).verdict.headline.startswith("Buy nothing")


# -- what follows -----------------------------------------------------------------------------------------------------------


def rack(use: dict[str, Any], **more: Any) -> Study:
    return study_of(
        **{
            "mount": {"kind": "stepped", "tilts": [15, 30, 45, 60]},
            "plan": {"tilt_now": 30.0},
            "use": use,
            "worth": {"panel_cost": 165.0},
            "room": 0,
            "options": [{"row": "two-axis", "extra_cost": 900.0}, {"row": "two-moves", "extra_cost": 40.0}],
            **more,
        }
    )


def test_the_same_build_under_three_uses_gives_three_verdicts() -> None:
    """A good export price: a tracker pays. Nothing may be fed in and the use is small: nothing does. Off the grid: the empty days."""
    good = worth_report(rack(GRID | {"export_price": 0.28})).verdict
    shut = worth_report(rack(GRID | {"yearly": 700.0, "tariff": {"export_limit": 0}})).verdict
    hut = worth_report(rack({"kind": "off-grid", "demand": 8.0}, battery={"usable": 14.0}), "€").verdict
    assert good.focus is not None and good.focus.kind == "two-axis"
    assert good.headline == f"“Two axes” pays: {good.focus.extra_kwh:+.0f} kWh a year, back in {good.focus.money.payback_text}."
    assert shut.headline == "Buy nothing: stay with “Your angle now”; what more could be made here, nothing takes."
    assert any("hardly any of it is used" in sentence for sentence in shut.sentences)
    assert any("99 % is thrown away" in sentence for sentence in shut.sentences)
    assert not any("pays" in sentence or "pay:" in sentence for sentence in shut.sentences)
    assert hut.headline == "“A battery 7 kWh bigger”: 11 empty days a year instead of 23."


def test_a_contract_that_ends_is_told_and_not_advised() -> None:
    use = GRID | {"export_price": 0.3, "tariff": {"export": 0.3, "contract": {"added": 0, "export": 0.01}}}
    report = worth_report(rack(use, room=4, options=[]))
    more = report.row("more-panels")
    assert more is not None and more.breaks_contract and not more.advisable
    assert more.saved < 0 < more.extra_kwh, "priced with what the contract's end takes"
    assert any("would end the old contract (at most 0 W may be added)" in sentence for sentence in report.verdict.sentences)
    assert "more panel" not in report.verdict.headline
    free = worth_report(rack(GRID | {"export_price": 0.3}, room=4, options=[])).row("more-panels")
    assert free is not None and free.saved > 0 and not free.breaks_contract


def test_the_answer_adds_up_and_so_does_its_file(tmp_path: Any) -> None:
    study = rack(GRID, battery={"usable": 5.0, "reserve": 0.2})
    answer, report = balance_answer(study)
    assert answer["made"] + answer["bought"] + answer["discharged"] == pytest.approx(
        answer["demand"] + answer["sold"] + answer["curtailed"] + answer["charged"]
    )
    assert answer["demand"] == pytest.approx(3600.0) and answer["deepest"] == pytest.approx(1.0), "a fifth of 5 kWh is kept back"
    assert answer["saved"] == pytest.approx(sum(answer["saved_by_month"]))
    rows = balance_csv(study.production().plane, report).splitlines()
    assert len(rows) == 8761 and rows[0].startswith("time,irradiation,energy,used,sold,bought,curtailed,charged")
    column = rows[0].split(",").index("sold")
    assert sum(float(row.split(",")[column]) for row in rows[1:]) / 1000 == pytest.approx(answer["sold"], abs=0.5)
    named, _ = balance_answer(study, "two-axis")
    assert named["made"] > answer["made"]
    bigger, _ = balance_answer(study, "bigger-battery")
    still, _ = balance_answer(study, "best-fixed")
    assert bigger["bought"] < still["bought"]
    with pytest.raises(BriefError, match="there is no row 'sail'"):
        balance_answer(study, "sail")
    json.dumps(answer)
