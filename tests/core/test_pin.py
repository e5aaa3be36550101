"""The shadow pin: readings from a known plane give the plane back; and what being off costs."""

from __future__ import annotations

import json
from datetime import datetime, timedelta

import numpy as np
import pytest

from sundial.aim.pin import Reading, aimed, axes_of, rings, sun_vectors, tips
from sundial.answers.aim.report import aim_report, off_aim_cost, pin_report, readings_of
from sundial.cli import main
from sundial.errors import BriefError
from sundial.sun import Site, sun_at
from tests.core.conftest import brief_data, study_of

PIN = 0.25  # m
SORREL = Site(latitude=42.9, longitude=-6.1, elevation=870.0, timezone="Europe/Madrid")


def read(site: Site, times: list[datetime], tilt: float, azimuth: float, noise: np.ndarray | float = 0.0) -> list[Reading]:
    found = tips(sun_vectors(site, times), PIN, tilt, azimuth) + noise
    return [Reading(time, float(x), float(y)) for time, (x, y) in zip(times, found, strict=True)]


def test_rings_and_their_losses_by_hand():
    found = rings(100.0)
    assert [round(ring.radius, 1) for ring in found] == [3.5, 8.7, 17.6, 26.8, 36.4]
    assert [round(ring.loss * 100, 2) for ring in found] == [0.06, 0.38, 1.52, 3.41, 6.03]


def test_the_tip_falls_away_from_the_sun():
    # A wall that faces south, the sun in the south-west and high: the shadow falls to the right (east) and down.
    sun = np.array([[-0.5, -0.6, 0.62]])
    ((x, y),) = tips(sun, 1.0, 90.0, 180.0)
    assert x == pytest.approx(0.5 / 0.6) and y == pytest.approx(-0.62 / 0.6)
    # Square to the sun there is no shadow; misaligned by an angle it is as long as its tangent.
    off = np.radians(7.0)
    normal = axes_of(33.0, 200.0)
    aside = np.cos(off) * normal[2] + np.sin(off) * normal[0]
    ((x, y),) = tips(aside[None], 1.0, 33.0, 200.0)
    assert x == pytest.approx(-np.tan(off)) and y == pytest.approx(0.0, abs=1e-12)


def test_two_readings_three_hours_apart_give_the_plane_within_half_a_degree():
    rng = np.random.default_rng(8)
    checked = 0
    while checked < 60:
        latitude = float(rng.uniform(-58, 58))
        site = Site(latitude=latitude, longitude=float(rng.uniform(-170, 170)), elevation=100.0, timezone="UTC")
        home = 180.0 if latitude > 0 else 0.0
        tilt, azimuth = float(rng.uniform(20, 65)), home + float(rng.uniform(-25, 25))
        noon = datetime(2026, int(rng.integers(1, 13)), int(rng.integers(1, 28))) + timedelta(hours=12 - site.longitude / 15)
        times = [noon - timedelta(hours=1.5), noon + timedelta(hours=1.5)]
        if min(sun_at(site, time).elevation for time in times) < 5:
            continue
        if (sun_vectors(site, times) @ axes_of(tilt, azimuth)[2] < 0.35).any():
            continue
        noise = rng.normal(0, 0.001 / 2**0.5, (2, 2))  # the tip off by 1 mm
        found = aimed(site, PIN, read(site, times, tilt, azimuth, noise), (tilt + 4, home))
        turned = (found.azimuth - azimuth + 180) % 360 - 180
        assert abs(found.tilt - tilt) < 0.5 and abs(turned) * np.sin(np.radians(tilt)) < 0.5, (site, tilt, azimuth)
        checked += 1


def test_one_reading_and_the_tilt_give_the_azimuth():
    time = datetime(2026, 4, 12, 16, 5)
    found = aimed(SORREL, PIN, read(SORREL, [time], 36.0, 171.0), (36.0, 180.0), known_tilt=36.0)
    assert found.azimuth == pytest.approx(171.0, abs=1e-4) and found.residual < 1e-6
    assert found.off[0] == pytest.approx(np.degrees(np.arccos(sun_vectors(SORREL, [time])[0] @ axes_of(36.0, 171.0)[2])))


def test_a_target_printed_too_small_is_put_right_by_its_check_line():
    times = [datetime(2026, 4, 12, 12, 30), datetime(2026, 4, 12, 16, 30)]
    true = read(SORREL, times, 41.0, 186.0)
    # Read against the print's own scale, which came out at 94 %: the rings' numbers read too large.
    printed = [Reading(one.time, one.x / 0.94, one.y / 0.94) for one in true]
    found = aimed(SORREL, PIN, printed, (36.0, 180.0), check=0.094)
    assert (found.tilt, found.azimuth) == pytest.approx((41.0, 186.0), abs=1e-3)
    assert abs(aimed(SORREL, PIN, printed, (36.0, 180.0)).tilt - 41.0) > 0.3


@pytest.mark.parametrize(
    ("readings", "tilt", "words"),
    [
        ([], None, "at least one reading"),
        ([Reading(datetime(2026, 4, 12, 23, 0), 0.01, 0.02)], 36.0, "under the horizon"),
        ([Reading(datetime(2026, 4, 12, 14, 0), 0.01, 0.02)], None, "one reading tells the azimuth only"),
        (
            [Reading(datetime(2026, 4, 12, 14, 0), 0.01, 0.02), Reading(datetime(2026, 4, 12, 14, 1), 0.01, 0.02)],
            None,
            "1 minutes apart, too close",
        ),
    ],
)
def test_readings_that_tell_nothing_are_refused_in_words(readings, tilt, words):
    with pytest.raises(BriefError, match=words):
        aimed(SORREL, PIN, readings, (36.0, 180.0), tilt)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("time,x\n2026-04-12T14:00,3\n", "y is missing"),
        ("time,x,y\n0001-04-12T14:00,3,4\n", "readings row 2, column time: must lie in the years"),
        ("time,x,y\n2026-04-12T14:00,3,4\n2026-04-12T17:00Z,3,4\n", "readings row 3, column time: give all times"),
        ("time,x,y\nnoon,3,4\n", "readings row 2, column time: 'noon'"),
        ("time,x,y\n2026-04-12T14:00,3,4\n2026-04-12T17:00,nan,4\n", "readings row 3, column x: 'nan' is no number"),
    ],
)
def test_rows_that_cannot_be_read_are_named(text, words):
    with pytest.raises(BriefError) as refused:
        readings_of(text)
    assert words in str(refused.value)


def test_being_off_costs_what_the_turned_year_lacks(greensboro):
    assert off_aim_cost(greensboro, 0.0, greensboro.scene.azimuth) == pytest.approx(0.0, abs=1e-9)
    east, far = off_aim_cost(greensboro, 0.0, 168.0), off_aim_cost(greensboro, 0.0, 140.0)
    assert 0 < east < far
    planned = greensboro.plans().with_settings(2).energy
    turned = study_of(array={"rows": 2, "columns": 4, "azimuth": 140.0})
    tilts = greensboro.plans().with_settings(2).tilt_by_day
    there = sum(float(turned.surface().daily(tilt)[day]) for day, tilt in enumerate(tilts))
    assert far == pytest.approx(planned - there, rel=1e-6)


def test_pin_and_aim_over_the_command_line(tmp_path, capsys):
    brief, readings = tmp_path / "brief.json", tmp_path / "pin.csv"
    site = {"latitude": 42.9, "longitude": -6.1, "elevation": 870.0, "timezone": "Europe/Madrid"}
    brief.write_text(json.dumps(brief_data(site=site, sky={"kind": "world"}, mount={"kind": "stepped", "tilts": [16, 36, 52]})))
    times = [datetime(2026, 4, 12, 12, 0), datetime(2026, 4, 12, 16, 0)]
    rows = [f"{one.time.isoformat()},{one.x * 1000:.1f},{one.y * 1000:.1f}" for one in read(SORREL, times, 38.0, 174.0)]
    readings.write_text("\n".join(["time,x,y", *rows]))
    assert main(["aim", str(brief), "--pin", "250", "--readings", str(readings)]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["tilt"] == pytest.approx(38.0, abs=0.1) and answer["azimuth_off"] == pytest.approx(-6.0, abs=0.2)
    assert answer["tilt_off"] == pytest.approx(2.0, abs=0.1)  # it stands in the hole of 36
    assert answer["costs_kwh"] > 0
    assert main(["aim", str(brief), "--on", "2026-03-21"]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert [one["tilt"] for one in answer["inclinometer"]] == [16, 36, 52]
    assert answer["solar_noon"].startswith("2026-03-21T13:3") and answer["compass"] == pytest.approx(180 - answer["declination"])
    for options in (["--on", "soon"], ["--pin", "250"], [], ["--pin", "250", "--readings", str(readings), "--check", "3"]):
        assert main(["aim", str(brief), *options]) == 2
        assert capsys.readouterr().err


def test_the_report_aims_holes_by_their_true_tilt():
    frame = {"kind": "prop", "rail_points": [1.1], "lengths": [0.8], "base_holes": [1.5, 0.9], "slope": 4.0}
    report = aim_report(study_of(mount={"kind": "stepped"}, frame=frame).scene, datetime(2026, 6, 1).date())
    assert [round(one.tilt, 1) for one in report.inclinometer] == [35.3, 49.8]


def test_the_pin_knows_the_nearest_hole(greensboro):
    times = [datetime(2026, 4, 12, 11, 30), datetime(2026, 4, 12, 15, 30)]
    site = greensboro.scene.site
    found = pin_report(greensboro, PIN, read(site, times, 30.4, 190.0))
    assert found.tilt_off == pytest.approx(0.4, abs=1e-3) and found.azimuth_off == pytest.approx(10.0, abs=1e-3)


def test_flat_panels_are_found_whichever_way_they_face():
    """Tilts of 3 to 15 degrees have false minima: readings made by the formula itself come back, from a start that is far off."""
    rng = np.random.default_rng(3)
    times = [datetime(2026, 4, 17, hour, 20) for hour in (10, 13, 16)]
    for _ in range(60):
        tilt, azimuth = float(rng.uniform(3, 15)), float(rng.uniform(0, 360))
        found = aimed(SORREL, PIN, read(SORREL, times, tilt, azimuth), (35.0, 180.0))
        assert found.tilt == pytest.approx(tilt, abs=0.01)
        assert (found.azimuth - azimuth + 180) % 360 - 180 == pytest.approx(0, abs=0.05)
        assert found.residual < 1e-4


def test_shadows_that_no_plane_throws_are_refused():
    times = [datetime(2026, 4, 17, hour, 20) for hour in (10, 13, 16)]
    good = read(SORREL, times, 30.0, 170.0)
    swapped = [Reading(one.time, -one.x, one.y) for one in good]  # the first and the last on the wrong side
    assert aimed(SORREL, PIN, good, (30.0, 180.0)).residual < 1e-4
    with pytest.raises(BriefError, match="no way that the glass could stand") as error:
        aimed(SORREL, PIN, swapped, (30.0, 180.0))
    assert error.value.path == "readings"
