"""The bench: minutes that keep the hour's energy, a controller that loses what theory says, settings that are suggested, tables for a board."""

from __future__ import annotations

import json
import subprocess
import sys
from datetime import datetime, timedelta, timezone
from functools import cache
from math import asin, degrees, radians, tan
from pathlib import Path
from typing import Any

import numpy as np
import pandas as pd
import pvlib
import pytest

from sundial.answers.bench.report import day_report, side_by_side, year_report
from sundial.bench import compiled, drive
from sundial.bench.axes import mount_of
from sundial.bench.controller import Why, clock_angles, first_state, knobs, noise_of_days, run, stowed
from sundial.bench.minutes import DAY, minutes_of
from sundial.bench.results import Bench, Result, afterwards, bench_of, events, months, result_of
from sundial.bench.settings import Settings, band, read_settings, remarks
from sundial.bench.table import DOWN, sun_table, written
from sundial.bench.trade import costs, front_of, trade, wrong_sensor
from sundial.brief.read import brief_of
from sundial.cli import main
from sundial.days import date_of_day
from sundial.errors import BriefError
from sundial.study import Study, studied
from tests.core.test_expected import data

ROLL = {"kind": "one-axis", "limit": 60, "speed": 6, "moving_watts": 25, "standby_watts": 1}
TWO = {"kind": "two-axis", "max_tilt": 85, "speed": 6, "moving_watts": 40}
FLAP = {"kind": "hinge", "max_tilt": 60, "speed": 5, "moving_watts": 40}
JUNE, MARCH = 171, 79


@cache
def study(kind: str = "one-axis", **more: Any) -> Study:
    mounts = {"one-axis": ROLL, "two-axis": TWO, "hinge": FLAP}
    return studied(brief_of(data(mount=mounts[kind], sky={"kind": "world"}, **more)))


@cache
def bench(kind: str = "one-axis", day: int | None = JUNE, sky: str = "clear", seed: int = 1) -> Bench:
    one = study(kind)
    minutes = minutes_of(one.scene, None if day is None else [day], sky, seed)  # type: ignore[arg-type]
    return bench_of(one, minutes, mount_of(one, minutes), seed)


def played(settings: Settings, kind: str = "one-axis", day: int | None = JUNE, sky: str = "clear", seed: int = 1) -> Result:
    return result_of(bench(kind, day, sky, seed), settings)


# -- the sky --------------------------------------------------------------------------------------------------------------


def test_every_hour_of_the_year_keeps_its_energy() -> None:
    one = study()
    minutes, weather = minutes_of(one.scene), one.scene.weather
    hourly = minutes.dni.reshape(365, 24, 60).mean(axis=2).ravel()
    assert hourly == pytest.approx(weather.dni, rel=0.005, abs=1.0)
    diffuse = minutes.dhi.reshape(365, 24, 60).mean(axis=2).ravel()
    assert float(np.abs(diffuse - weather.dhi).sum()) < 0.005 * float(weather.dhi.sum())
    level = (minutes.dni * np.maximum(minutes.up, 0) + minutes.dhi).reshape(365, 24, 60).mean(axis=2).sum()
    assert level == pytest.approx(weather.ghi.sum(), rel=0.015)


def test_clouds_have_edges_and_their_seed() -> None:
    one = study()
    first, again, other = (minutes_of(one.scene, [JUNE], "broken", seed) for seed in (3, 3, 4))
    assert np.array_equal(first.dni, again.dni) and not np.array_equal(first.dni, other.dni)
    alone, among = minutes_of(one.scene, [JUNE], "weather", 3), minutes_of(one.scene, [JUNE - 1, JUNE], "weather", 3)
    assert np.array_equal(alone.dni[0], among.dni[1]), "a day is the same in whatever company"
    noon = slice(600, 840)
    share = first.dni[0, noon] / minutes_of(one.scene, [JUNE], "clear").dni[0, noon]
    assert share.min() < 0.1 and share.max() > 0.9
    assert 8 < int((np.abs(np.diff(share > 0.5))).sum()) < 80, "clouds last for minutes"
    assert minutes_of(one.scene, [JUNE], "overcast").dni.max() == 0
    with pytest.raises(BriefError):
        minutes_of(one.scene, [JUNE], "foggy")  # type: ignore[arg-type]


# -- geometry -------------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("tilt", "azimuth", "latitude"), [(0.0, 180.0, 42.9), (25.0, 160.0, 42.9), (15.0, 20.0, -35.1)])
def test_the_roll_and_the_facing_are_pvlibs(tilt: float, azimuth: float, latitude: float) -> None:
    zone = "Europe/Madrid" if latitude > 0 else "Australia/Sydney"
    longitude = -6.1 if latitude > 0 else 149.2
    one = studied(
        brief_of(data(latitude, longitude, zone=zone, mount=ROLL | {"axis_tilt": tilt, "axis_azimuth": azimuth, "limit": 170}))
    )
    minutes = minutes_of(one.scene, [MARCH], "clear")
    mount = mount_of(one, minutes)
    up = minutes.elevation[0] > 2
    found = pvlib.tracking.singleaxis(
        90 - minutes.elevation[0][up], minutes.azimuth[0][up], tilt, azimuth, max_angle=180, backtrack=False
    )
    assert mount.axes[0].sun[0][up] == pytest.approx(np.asarray(found["tracker_theta"]), abs=1e-6)
    surface_tilt, surface_azimuth = mount.facing(mount.ideal)
    assert surface_tilt[0][up] == pytest.approx(np.asarray(found["surface_tilt"]), abs=1e-6)
    off = (surface_azimuth[0][up] - np.asarray(found["surface_azimuth"]) + 180) % 360 - 180
    assert np.abs(off[surface_tilt[0][up] > 0.1]).max() < 1e-6


def test_a_jack_turns_a_flap_faster_where_its_lever_is_short() -> None:
    frame = {
        "kind": "jack",
        "base": [0.3, -0.35],
        "rail_point": 0.8,
        "retracted": 0.61,
        "extended": 1.01,
        "thrust": 1500,
        "speed": 0.008,
    }
    one = studied(brief_of(data(mount=FLAP | {"max_tilt": 53}, frame=frame)))
    axis = mount_of(one, minutes_of(one.scene, [JUNE], "clear")).axes[0]
    jack = one.scene.structure.jack  # type: ignore[union-attr]
    for tilt in (5.0, 30.0, 50.0):
        length = (jack.length(tilt + 0.01) - jack.length(tilt - 0.01)) / 0.02  # type: ignore[union-attr]  # m a degree
        assert float(np.interp(tilt, axis.grid, axis.speeds)) == pytest.approx(0.008 * 60 / length, rel=0.01)
    assert axis.full_minutes == pytest.approx((jack.length(53) - jack.length(max(jack.span[0], 0))) / 0.008 / 60, rel=0.02)  # type: ignore[union-attr,index]


# -- the truths of the field ----------------------------------------------------------------------------------------------


def test_a_step_of_five_degrees_loses_under_a_thousandth_of_the_beam() -> None:
    made = played(Settings(control="clock", step=5, cycle=1))
    minutes, mount = bench().minutes, bench().mount
    off = np.radians(np.asarray(made.runs[0].angle[0], dtype=float) - mount.axes[0].sun[0])
    inside = (minutes.elevation[0] > 5) & (np.abs(mount.axes[0].sun[0]) < 55)
    beam = minutes.dni[0][inside] * mount.axes[0].share[0][inside]
    lost = float((beam * (1 - np.cos(off[inside]))).sum() / beam.sum())
    assert 0.0001 < lost < 0.001


def test_an_error_of_five_degrees_costs_four_thousandths_of_the_beam() -> None:
    one = bench("two-axis")
    turn, tilt = one.mount.ideal
    straight, off = (one.power((turn, np.clip(tilt + by, 0, 85))) for by in (0.0, 5.0))
    beam_share = float((one.minutes.light.beam * 1).sum() / (one.minutes.light.beam + one.minutes.light.dhi).sum())
    assert 1 - off.sum() / straight.sum() == pytest.approx(0.0038 * beam_share, abs=0.002)


def test_under_a_fully_overcast_sky_flat_beats_aiming() -> None:
    one = bench("two-axis", JUNE, "overcast")
    noon = one.minutes.lit.ravel().cumsum()[12 * 60] - 1
    hours = slice(noon - 120, noon + 300)
    assert one.laid_flat.sum() > one.aimed.sum()
    afternoon = one.laid_flat[hours].sum() / one.aimed[hours].sum()
    assert 1.005 < afternoon < 1.5
    flat, aims = (played(one, "two-axis", JUNE, "overcast") for one in (Settings(dull="flat"), Settings(control="clock", step=1)))
    assert flat.made > 1.01 * aims.made and aims.losses["dead band"] > 0


@pytest.mark.parametrize("kind", ["one-axis", "hinge", "two-axis"])
def test_a_controller_without_a_dead_band_reaches_the_ideal_tracker(kind: str) -> None:
    settings = Settings(control="clock", step=0.1, cycle=1, night=5, sunny=10)
    made = played(settings, kind)
    one = bench(kind)
    assert made.made == pytest.approx(one.kwh(one.aimed), rel=0.001)
    cells = Settings(threshold=0.002, noise=0, cycle=1, night=5, sunny=30, averaging=1)
    assert played(cells, kind).made == pytest.approx(one.kwh(one.aimed), rel=0.006)


def test_nothing_gives_more_than_the_ideal_and_the_losses_add_up() -> None:
    for kind in ("one-axis", "hinge", "two-axis"):
        for sky in ("clear", "broken", "overcast"):
            for settings in (
                Settings(),
                Settings(dull="flat"),
                Settings(control="clock", step=2),
                Settings(control="manual"),
                Settings(control="hybrid", stow_gust=4),
            ):
                made = played(settings, kind, JUNE, sky, 5)
                assert made.made <= made.ideal * 1.0002, (kind, sky, settings)
                assert sum(made.losses.values()) == pytest.approx(made.ideal - made.energy, abs=1e-6)


@pytest.mark.parametrize(("ratio", "hunts"), [(0.5, False), (1.4, False), (3.2, True), (5.0, True)])
def test_it_hunts_where_one_pulse_is_wider_than_the_dead_band(ratio: float, hunts: bool) -> None:
    settings = Settings(threshold=0.03, noise=0, cycle=2)
    half = band(settings)
    assert half == pytest.approx(degrees(asin(0.03 / tan(radians(30)))))
    pulse = 60 * ratio * half / 6  # seconds at 6 degrees a minute
    made = played(settings.model_copy(update={"pulse": pulse}))
    assert (made.reversals > 40) == hunts and (hunts or made.reversals <= 3)
    mount = bench().mount
    told = dict(remarks(settings.model_copy(update={"pulse": pulse}), mount))
    assert ("pulse" in told) == hunts


def test_noise_over_the_threshold_makes_it_hunt_and_averaging_stops_it() -> None:
    calm, loud = Settings(threshold=10, threshold_kind="absolute", noise=0, cycle=1, pulse=0.5), {"noise": 30.0, "averaging": 1.0}
    noisy = calm.model_copy(update=loud)
    assert played(noisy).reversals > 10 * max(played(calm).reversals, 1)
    assert played(noisy.model_copy(update={"averaging": 30.0})).reversals < played(noisy).reversals / 2
    assert "threshold" in dict(remarks(noisy, bench().mount)) and "threshold" in dict(afterwards(bench(), played(noisy)))


# -- the controller -------------------------------------------------------------------------------------------------------


@pytest.mark.parametrize("told", [
    Settings(noise=6, backlash=1.5, pulse=3), Settings(control="hybrid", dull="clock", mismatch=1.15, position="switches"),
    Settings(control="clock", step=4, drift=30, night_to="stay"), Settings(dull="flat", stow_gust=5, night_to="flat", timeout=3, shadow=[14, 16]),
])  # fmt: skip
def test_the_compiled_loop_is_the_plain_one(told: Settings) -> None:
    one = bench("two-axis", MARCH, "broken", 2)
    minutes, noise = one.minutes, noise_of_days(one.minutes, 2, 2)
    made = run(one.mount, minutes, told, noise)  # a single day: plain Python
    for number, axis in enumerate(one.mount.axes):
        rows = (
            axis.sun, minutes.dni * axis.share, minutes.dhi, axis.scale, clock_angles(one.mount.told[number], axis, told, minutes.days),
            stowed(minutes.gust, told), noise.cells[number], noise.slips[number],
        )  # fmt: skip
        state = first_state(axis, told)
        angle, running = np.zeros((1, DAY), dtype=np.float32), np.zeros((1, DAY), dtype=np.float32)
        why, started = np.zeros((1, DAY), dtype=np.int8), np.zeros((1, DAY), dtype=bool)
        compiled.drive(knobs(axis, told), axis.speeds, drive.Day(*rows), state, drive.Track(angle, why, running, started))
        assert np.allclose(angle, made[number].angle, atol=1e-4) and np.array_equal(why, made[number].why)
        assert np.allclose(running, made[number].running, atol=1e-5) and np.array_equal(started, made[number].started)
        assert len(set(why[0])) > 2, "a day on which something happens"


def test_a_single_day_loads_no_compiler() -> None:
    """A page shows one day: whoever serves pages never waits for a compiler, nor holds it in memory."""
    told = (
        "import sys; from sundial.answers.bench.report import day_report; from sundial.bench.settings import Settings; "
        "from scripts.bench_tracker import study; day_report(study(), Settings(), 171); print('numba' in sys.modules)"
    )
    done = subprocess.run([sys.executable, "-W", "ignore", "-c", told], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "False"


def test_the_same_seed_gives_the_same_run_to_the_bit() -> None:
    first, again = (
        result_of(bench_of(study(), m, mount_of(study(), m), 9), Settings(noise=8))
        for m in (minutes_of(study().scene, [JUNE], "broken", 9) for _ in range(2))
    )
    assert np.array_equal(first.runs[0].angle, again.runs[0].angle) and first.energy == again.energy


def test_it_ends_the_day_in_the_west_and_loses_the_morning() -> None:
    minutes = minutes_of(study().scene, [JUNE, JUNE + 1], "clear")
    one = bench_of(study(), minutes, mount_of(study(), minutes))
    narrow = Settings(night_to="stay", cell_angle=10)
    stays, returns = result_of(one, narrow), result_of(one, narrow.model_copy(update={"night_to": "east"}))
    assert (
        float(stays.runs[0].angle[1, 0]) == pytest.approx(float(stays.runs[0].angle[0, -1]))
        and float(stays.runs[0].angle[1, 0]) > 40
    )
    assert (stays.runs[0].why[1] == Why.UNSEEN).any() and not (returns.runs[0].why[1] == Why.UNSEEN).any()
    assert stays.made_by_day[1] < 0.97 * returns.made_by_day[1] and stays.longest_loss > returns.longest_loss


def test_wind_lays_it_flat_until_the_release_time_has_passed() -> None:
    gust = np.zeros((1, DAY))
    gust[0, 700] = 15.0
    held = stowed(gust, Settings(stow_gust=12, stow_release=20))
    assert held[0].nonzero()[0].tolist() == list(range(700, 721)) and not stowed(gust, Settings(stow_gust=16)).any()
    made = played(Settings(stow_gust=2, stow_release=30), day=MARCH, sky="weather")
    assert "wind stow" in made.losses and float(np.abs(made.runs[0].angle[0][made.runs[0].why[0] == Why.STOW][60:]).min()) == 0


def test_cells_that_differ_settle_beside_the_sun() -> None:
    right, skewed = played(Settings(noise=0)), played(Settings(noise=0, mismatch=1.3))
    noon = slice(700, 800)
    off = np.asarray(skewed.runs[0].angle[0, noon], dtype=float) - np.asarray(right.runs[0].angle[0, noon], dtype=float)
    assert 5 < abs(float(np.median(off))) < 25 and skewed.made < right.made
    assert (
        wrong_sensor(bench(), skewed) == pytest.approx(right.energy - skewed.energy, rel=0.2)
        and wrong_sensor(bench(), right) == 0
    )
    shaded = played(Settings(noise=0, shadow=[13, 15]))
    assert shaded.made < 0.97 * right.made


def test_counted_positions_slip_until_an_end_is_met() -> None:
    settings = Settings(control="clock", step=2, position="switches", slip=1.0, cycle=1)
    known, counted = played(settings.model_copy(update={"position": "known"})), played(settings)
    off = np.abs(np.asarray(counted.runs[0].angle[0], dtype=float) - np.asarray(known.runs[0].angle[0], dtype=float))
    assert off[:300].max() < 0.01 < 1 < off.max() and counted.made < known.made
    assert off[-1] == pytest.approx(0, abs=1e-4), "the east end tells where it is"


def test_backlash_costs_time_only_when_it_turns_back() -> None:
    plain, loose = (played(Settings(backlash=play)) for play in (0.0, 6.0))
    extra = loose.motor_minutes - plain.motor_minutes
    assert extra == pytest.approx(loose.reversals * 6 / 6, abs=0.6) and loose.reversals >= 1


def test_events_tell_each_move_with_its_reason() -> None:
    made = played(Settings(), sky="broken", seed=3)
    told = events(bench(sky="broken", seed=3), made)
    assert sum(event.kind == "start" for event in told) == made.moves
    assert all(told[place].minute <= told[place + 1].minute for place in range(len(told) - 1))
    assert any("for the night" in event.words for event in told) and any(event.kind == "dull" for event in told)


# -- settings, trade, costs -----------------------------------------------------------------------------------------------


@pytest.mark.parametrize(("told", "field"), [
    ({"night": 300, "sunny": 200}, "night"), ({"cycle": 0}, "cycle"), ({"timeout": 5}, "timeout"), ({"threshold": 0.001}, "threshold"),
    ({"mismatch": 1.5}, "mismatch"), ({}, "stow_gust"),
])  # fmt: skip
def test_settings_that_harm_are_said_and_simulated_all_the_same(told: dict[str, Any], field: str) -> None:
    settings = Settings(**told)
    assert field in dict(remarks(settings, bench().mount))
    assert played(settings).ideal > 0


def test_a_motor_slower_than_the_sun_and_stops_that_contradict_are_said() -> None:
    slow = studied(brief_of(data(mount=ROLL | {"speed": 0.1})))
    mount = mount_of(slow, minutes_of(slow.scene, [JUNE], "clear"))
    assert "slower than the sun" in dict(remarks(Settings(), mount))["speed"]
    shut = studied(brief_of(data(mount=FLAP | {"min_tilt": 40, "max_tilt": 40.5})))
    with pytest.raises(BriefError, match="leave no room"):
        mount_of(shut, minutes_of(shut.scene, [JUNE], "clear"))
    still = studied(brief_of(data()))
    with pytest.raises(BriefError, match="no motor moves this build"):
        mount_of(still, minutes_of(still.scene, [JUNE], "clear"))


def test_cells_that_are_dark_at_noon_are_told_afterwards() -> None:
    made = played(Settings(night=1500, sunny=1600))
    assert "takes the day for night" in dict(afterwards(bench(), made))["night"]


@pytest.mark.parametrize(
    ("text", "path"),
    [
        ('{"control": "magic"}', "control"),
        ('{"cycle": -1}', "cycle"),
        ('{"shadow": [15]}', "settings"),
        ('{"kp": 2}', "kp"),
        ("{", "settings"),
    ],
)
def test_wrong_settings_are_refused_by_name(text: str, path: str) -> None:
    with pytest.raises(BriefError) as refused:
        read_settings(text)
    assert refused.value.path == path


def test_a_seeded_search_finds_fewer_moves_for_half_a_per_cent() -> None:
    days = list(range(5, 365, 40))
    minutes = minutes_of(study().scene, days)
    one = bench_of(study(), minutes, mount_of(study(), minutes))
    nervous = Settings(threshold=0.02, cycle=1)
    found, again = trade(one, nervous, 26, 4), trade(one, nervous, 26, 4)
    assert [point.energy for point in found.points] == [point.energy for point in again.points] and len(found.points) == 26
    chosen, best = found.points[found.suggested], found.points[found.best]
    assert chosen.energy >= 0.995 * best.energy and chosen.moves_a_day < 0.7 * found.points[0].moves_a_day
    assert all(point.moves_a_day >= chosen.moves_a_day for point in found.points if point.energy >= 0.995 * best.energy)
    front = [found.points[place] for place in front_of(list(found.points))]
    assert all(point.front for point in front)
    assert all(
        one.energy < other.energy and one.moves_a_day <= other.moves_a_day for one, other in zip(front, front[1:], strict=False)
    )
    assert found.worst_day in days and found.worst_lost > 0


def test_what_an_error_costs_grows_with_it() -> None:
    minutes = minutes_of(study().scene, list(range(0, 365, 20)))
    told = {
        cost.what.split()[0]: cost.kwh
        for cost in costs(study(), minutes, Settings(control="hybrid", dull="clock", noise=0, threshold=0.02))
    }
    assert set(told) == {"half", "dirt", "a"}
    clock = {
        cost.what.split()[0]: cost.kwh for cost in costs(study(), minutes, Settings(control="clock", step=1, cycle=1, drift=20))
    }
    assert clock["a"] > 0


def test_end_stops_keep_away_what_lies_beyond_them() -> None:
    near, far = (
        bench_of(one, minutes_of(one.scene, [JUNE], "clear"), mount_of(one, minutes_of(one.scene, [JUNE], "clear")))
        for one in (studied(brief_of(data(mount=ROLL | {"limit": limit}))) for limit in (30, 89))
    )
    assert near.kept_away > 20 * far.kept_away >= 0 and near.kwh(near.aimed) + near.kept_away == pytest.approx(
        far.kwh(far.aimed), rel=0.01
    )


def test_a_year_by_month_adds_up() -> None:
    one = bench(day=None, sky="weather")
    made = result_of(one, Settings(control="clock", step=5))
    rows = months(one, made)
    assert (
        len(rows) == 12
        and sum(row.made for row in rows) == pytest.approx(made.made)
        and sum(row.ideal for row in rows) == pytest.approx(made.ideal)
    )
    assert made.gain > 0.05 and 0 < made.loss < 0.05 and made.fixed < made.ideal


# -- the table ------------------------------------------------------------------------------------------------------------


def angle_by_pvlib(day: int, minute: float) -> float:
    at = pd.DatetimeIndex([pd.Timestamp("2026-01-01", tz="Etc/GMT-1") + pd.Timedelta(days=day, minutes=minute)])
    sun = pvlib.location.Location(42.9, -6.1, "Etc/GMT-1", 870).get_solarposition(at)
    found = pvlib.tracking.singleaxis(sun["apparent_zenith"], sun["azimuth"], 0, 180, max_angle=60, backtrack=False)
    return float(found["tracker_theta"].iloc[0])


@pytest.mark.parametrize("step", [0.1, 5.0])
def test_the_header_compiles_without_a_warning_and_prints_pvlibs_angles(tmp_path: Path, step: float) -> None:
    (tmp_path / "sun_table.h").write_text(written(sun_table(study(), 3, step), "c"))
    (tmp_path / "main.c").write_text(
        '#include <stdio.h>\n#include "sun_table.h"\nint main(void) {\n  for (int d = 0; d < SUN_TABLE_DAYS; d += 6)\n'
        "    for (int r = 0; r < SUN_TABLE_ROWS; r++)\n      if (sun_table_roll[d][r] != SUN_TABLE_DOWN)\n"
        '        printf("%d %d %d\\n", d + SUN_TABLE_FIRST_DAY, r * SUN_TABLE_EVERY_MINUTES, sun_table_roll[d][r]);\n  return 0;\n}\n'
    )
    subprocess.run(
        ["gcc", "-std=c11", "-Wall", "-Wextra", "-Werror", "-pedantic", "main.c", "-o", "main"], cwd=tmp_path, check=True
    )
    lines = subprocess.run([str(tmp_path / "main")], capture_output=True, text=True, check=True).stdout.split("\n")
    rows = [tuple(map(int, line.split())) for line in lines if line]
    assert len(rows) > 300
    for day, minute, tenths in rows[::17]:
        wanted = angle_by_pvlib(day, minute + 5)
        assert abs(tenths / 10 - wanted) <= 0.1 + step / 2 + 0.06, (day, minute)


def test_the_table_in_other_forms_and_for_other_mounts() -> None:
    month = sun_table(study("two-axis"), 6, 1.0, 30)
    assert list(month.angles) == ["azimuth", "tilt"] and month.angles["tilt"].shape == (30, 48)
    assert int((month.angles["tilt"] == DOWN).sum()) == int((month.angles["azimuth"] == DOWN).sum()) > 300
    rows = written(month, "csv").splitlines()
    assert rows[0] == "date,time,azimuth_deg,tilt_deg" and rows[1].startswith("06-01,0")
    told = json.loads(written(month, "json"))
    assert told["days"][0]["tilt"][24] == int(month.angles["tilt"][0, 24]) and told["days"][0]["tilt"][0] is None
    assert sun_table(study("hinge")).angles["tilt"].shape == (365, 144)
    for wrong in ({"month": 13}, {"step": 0.0}, {"every": 7}):
        with pytest.raises(BriefError):
            sun_table(study(), **wrong)
    with pytest.raises(BriefError):
        written(month, "xml")
    odd = written(sun_table(studied(brief_of(data(mount=ROLL, name='Rack */ "x" \\'))), 1, 5, 60), "c")
    assert odd.index("*/") == odd.index("come first.\n */") + len("come first.\n "), "a name cannot end the comment"


def test_bench_and_sun_table_on_the_command_line(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    brief, settings = tmp_path / "brief.json", tmp_path / "settings.json"
    brief.write_text(json.dumps(data(mount=ROLL)))
    settings.write_text(json.dumps({"cycle": 9, "dull": "flat"}))
    assert main(["bench", str(brief), str(settings), "--day", "2026-06-21", "--sky", "broken", "--seed", "4"]) == 0
    told = json.loads(capsys.readouterr().out)
    assert {"energy", "fixed", "ideal", "moves", "motor_minutes", "motor_wh", "longest_loss", "events"} <= set(told) and told[
        "moves"
    ] > 3
    assert main(["bench", str(brief), str(settings), "--year"]) == 0
    assert len(json.loads(capsys.readouterr().out)["months"]) == 12
    assert main(["sun-table", str(brief), "--month", "6", "--step", "5", "--format", "c"]) == 0
    assert "sun_table_roll[SUN_TABLE_DAYS]" in capsys.readouterr().out
    for wrong in (["--sky", "foggy", "--day", "2026-06-21"], [], ["--day", "soon"], ["--day", "2026-06-21", "--seed", "-1"]):
        assert main(["bench", str(brief), str(settings), *wrong]) == 2
        assert "Traceback" not in capsys.readouterr().err


def placed(kind: str = "one-axis", latitude: float = 42.9, azimuth: float = 180.0) -> Study:
    """A build on Greenwich's meridian, facing ``azimuth``."""
    mounts = {"one-axis": ROLL, "two-axis": {**TWO, "max_tilt": 90}, "hinge": FLAP}
    made = data(mount=mounts[kind], sky={"kind": "made-up", "name": "dry-upland"})
    made["site"] = {"latitude": latitude, "longitude": 0.0, "elevation": 0, "timezone": "UTC"}
    made["array"] = {**made["array"], "azimuth": azimuth}
    return studied(brief_of(made))


@pytest.mark.parametrize(
    ("latitude", "month", "home"), [(-10.0, 12, 0.0), (10.0, 6, 180.0), (42.9, 6, 180.0), (-41.3, 12, 0.0), (69.6, 6, 180.0)]
)
def test_no_row_of_a_two_axis_table_looks_away_from_the_sun(latitude: float, month: int, home: float) -> None:
    """Where the sun passes behind, +179 and -179 degrees have 180 between them, and not nought: against pvlib at the middle of each row."""
    made = placed("two-axis", latitude, home)
    table = sun_table(made, month, 0.1, 10)
    zone = timezone(timedelta(hours=table.utc_offset))
    for place in (0, len(table.days) // 2):
        day = date_of_day(int(table.days[place]), 2026)
        times = pd.DatetimeIndex(
            [datetime(2026, day.month, day.day, tzinfo=zone) + timedelta(minutes=10 * row + 5) for row in range(table.rows)]
        )
        sun = pvlib.solarposition.get_solarposition(times, latitude, 0.0)
        turn, tilt = (table.angles[name][place] / 10 for name in ("azimuth", "tilt"))
        up = (
            (table.angles["azimuth"][place] != DOWN)
            & (sun["apparent_elevation"].to_numpy() > 1)
            & (sun["apparent_zenith"].to_numpy() > 3)
        )
        off = (turn + home - sun["azimuth"].to_numpy() + 180) % 360 - 180
        assert up.sum() > 30 and np.abs(off[up]).max() < 0.6
        assert np.abs(tilt - sun["apparent_zenith"].to_numpy())[up].max() < 0.6


@pytest.mark.parametrize(("latitude", "home"), [(42.9, 180.0), (-41.3, 0.0), (42.9, 150.0)])
def test_a_two_axis_mount_with_usual_settings_finds_the_sun(latitude: float, home: float) -> None:
    made = placed("two-axis", latitude, home)
    for day in (80, 171, 354):
        found = day_report(made, Settings(), day, "clear")
        assert found.result.loss < 0.12, day  # the flat tilt cell wakes when the sun is well up
        assert not [words for _, words in found.remarks if "never find" in words]


def test_the_east_end_is_in_the_east() -> None:
    """Of a roll axis that points north, rolling on to +60 looks east; a flap to the west has no east end, and says so."""
    south = placed("one-axis", -41.3, 0.0)
    roll = mount_of(south, minutes_of(south.scene, [171], "clear"))
    tilt, azimuth = roll.facing((np.full_like(roll.axes[0].sun, roll.axes[0].east),))
    assert np.sin(np.radians(azimuth)).min() > 0.9 and tilt.min() > 40
    north = mount_of(placed(), minutes_of(placed().scene, [171], "clear"))
    assert np.sin(np.radians(north.facing((np.full_like(north.axes[0].sun, north.axes[0].east),))[1])).min() > 0.9
    west = day_report(placed("hinge", azimuth=270.0), Settings(), 171, "clear")
    assert any("no east end" in words for field, words in west.remarks if field == "night_to")
    assert west.axes[0].angle[0] == 0.0
    east = day_report(placed("hinge", azimuth=90.0), Settings(), 171, "clear")
    assert east.axes[0].angle[0] > 30 and not any("no east end" in words for _, words in east.remarks)


def test_a_mount_that_never_finds_the_sun_is_named() -> None:
    """Parked to the north with cells that look little aside, it stays in the dark; cells that look further out find the sun."""
    made = placed("two-axis", azimuth=0.0)
    lost = day_report(made, Settings(cell_angle=5.0, night_to="flat"), 354, "clear")
    assert any(field == "night_to" and "never find the sun" in words for field, words in lost.remarks)
    found = day_report(made, Settings(cell_angle=5.0, night_to="east"), 354, "clear")
    assert not any("never find" in words for _, words in found.remarks) and found.result.loss < lost.result.loss


def test_side_by_side_is_each_by_itself():
    """Two settings through one sky give what each gives alone."""
    study = studied(brief_of(data(mount={"kind": "one-axis", "limit": 50.0})))
    one, other = Settings(), Settings(control="clock", step=12.0)
    found = side_by_side(study, [one, other], every=61)
    for side, settings in zip(found, (one, other), strict=True):
        alone = year_report(study, settings, count=2, every=61)
        assert side.energy == pytest.approx(alone.energy) and side.moves_a_day == pytest.approx(alone.moves_a_day)
    assert found[0].moves_a_day != found[1].moves_a_day
