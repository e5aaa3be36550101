"""The sun's place against the paper's own value, and against itself."""

from datetime import UTC, date, datetime, timedelta, timezone

import numpy as np
import pvlib
import pytest
from hypothesis import given
from hypothesis import strategies as st

from sundial.days import NOMINAL_YEAR, date_of_day, day_of_date, per_month, sum_by_month, winter_days
from sundial.errors import BriefError
from sundial.sun import RISE, Site, noon_and_length, sun_at, sun_day, sun_path, sun_through, sun_year

GOLDEN = Site(39.742476, -105.1786, 1830.14, "America/Denver")


def test_position_is_the_one_printed_by_reda_and_andreas():
    """2003-10-17 12:30:30 at UTC-7: zenith 50.11162, azimuth 194.34024 (at 820 mbar, 11 degC)."""
    at = datetime(2003, 10, 17, 12, 30, 30, tzinfo=timezone(timedelta(hours=-7)))
    found = sun_at(GOLDEN, at)
    assert found.azimuth == pytest.approx(194.34024, abs=2e-5)
    assert 90 - found.elevation == pytest.approx(50.11162, abs=4e-4)  # our air is the standard atmosphere's, not 820 mbar
    exact = pvlib.spa.solar_position(np.array([at.timestamp()]), 39.742476, -105.1786, 1830.14, 820, 11, 67, 0.5667, 1)
    assert exact[0][0] == pytest.approx(50.11162, abs=1e-5)


def test_sun_positions_of_the_year_agree_with_pvlib(greensboro):
    import pandas as pd

    times = pd.date_range("2023-01-01 00:30", periods=8760, freq="h", tz="Etc/GMT+5")
    theirs = pvlib.solarposition.get_solarposition(times, 36.1, -79.95, altitude=273.0, temperature=12)
    np.testing.assert_allclose(greensboro.scene.sun.elevation, theirs["apparent_elevation"], atol=1e-9)
    np.testing.assert_allclose(greensboro.scene.sun.azimuth, theirs["azimuth"], atol=1e-9)


def test_clock_time_without_zone_is_the_places_own():
    summer = sun_at(GOLDEN, datetime(2026, 6, 21, 13, 0))
    assert summer.azimuth == pytest.approx(sun_at(GOLDEN, datetime(2026, 6, 21, 19, 0, tzinfo=UTC)).azimuth)


def test_sunrise_and_sunset_agree_with_pvlib():
    import pandas as pd

    site = Site(42.9, -6.1, 0, "Europe/Madrid")
    theirs = pvlib.solarposition.sun_rise_set_transit_spa(pd.DatetimeIndex(["2026-11-12"], tz="Europe/Madrid"), 42.9, -6.1)
    ours = sun_day(site, date(2026, 11, 12))
    for mine, name in ((ours.sunrise, "sunrise"), (ours.solar_noon, "transit"), (ours.sunset, "sunset")):
        assert abs((theirs[name].iloc[0].to_pydatetime() - mine).total_seconds()) < 20, name


def test_summer_time_is_in_the_clock():
    site = Site(42.9, -6.1, 0, "Europe/Madrid")
    assert sun_day(site, date(2026, 6, 21)).solar_noon.hour == 14
    assert sun_day(site, date(2026, 12, 21)).solar_noon.hour == 13


@pytest.mark.parametrize(("day", "hours"), [(date(2026, 6, 21), 24.0), (date(2026, 12, 21), 0.0)])
def test_polar_day_and_night_have_no_rise_and_no_set(day, hours):
    found = sun_day(Site(78.2, 15.6, 10, "Arctic/Longyearbyen"), day)
    assert (found.sunrise, found.sunset, found.day_length) == (None, None, hours)


@given(st.floats(-62, 62), st.integers(0, 364))
def test_the_year_curves_agree_with_the_days_own_search(latitude, day):
    site = Site(latitude, 12.0)
    noon, length = noon_and_length(site)
    exact = sun_day(site, date_of_day(day))
    assert length[day] == pytest.approx(exact.day_length, abs=0.06)
    assert noon[day] == pytest.approx(exact.noon_elevation, abs=0.2)


def test_mirrored_places_have_mirrored_suns():
    north, south = sun_year(Site(40, 0), 0), sun_year(Site(-40, 0), 0)
    # Half a year apart; the orbit is not round, so days differ by up to a couple of degrees.
    shifted = np.roll(south.elevation.reshape(365, 24), 182, axis=0).reshape(-1)
    assert np.abs(north.elevation - shifted)[north.elevation > 5].max() < 4


@pytest.mark.parametrize(
    ("zone", "hours"), [("Europe/Madrid", 1), ("Australia/Hobart", 10), ("America/Denver", -7), ("Asia/Kolkata", 5.5)]
)
def test_standard_time_leaves_summer_time_out(zone, hours):
    assert Site(10, 10, 0, zone).standard_offset == hours


@pytest.mark.parametrize(
    ("values", "path"),
    [
        ((91, 0), "site.latitude"),
        ((90, 0), "site.latitude"),
        ((-90, 0), "site.latitude"),
        ((0, 181), "site.longitude"),
        ((0, 0, 9000), "site.elevation"),
        ((0, 0, 0, "Nowhere/Here"), "site.timezone"),
    ],
)
def test_impossible_places_are_refused_by_name(values, path):
    with pytest.raises(BriefError) as refused:
        Site(*values)
    assert refused.value.path == path


def test_days_and_months():
    assert day_of_date(date(2024, 2, 29)) == 58 == day_of_date(date(2023, 2, 28))
    assert date_of_day(364) == date(2023, 12, 31)
    assert sum_by_month(np.ones(365)).tolist() == [31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31]
    assert per_month(3, "x").tolist() == [3] * 12
    with pytest.raises(BriefError, match="neither|twelve"):
        per_month([1, 2], "x")


def test_winter_is_the_half_year_around_the_local_solstice():
    north, south = winter_days(40), winter_days(-40)
    assert north[354] and north[0] and not north[171]
    assert south[171] and not south[354]
    assert north.sum() == south.sum() == 183


@pytest.mark.parametrize(("latitude", "longitude", "offset"), [(47.6, 11.4, 1.0), (-33.2, 151.1, 10.0), (68.9, -105.3, -7.0)])
def test_the_path_of_the_sun_between_the_hours(latitude, longitude, offset):
    """Every five minutes within a hundredth of a degree of SPA itself, at the first and last step of the year too."""
    site = Site(latitude, longitude, 420.0, "UTC")
    path = sun_path(site, offset, 5)
    start = datetime(NOMINAL_YEAR, 1, 1, tzinfo=UTC) - timedelta(hours=offset)
    steps = [0, 1, 17, 6_911, 23_457, 50_003, 77_770, 105_118, 105_119]
    azimuth, elevation = sun_through(site, [start + timedelta(minutes=5 * step + 2.5) for step in steps])
    np.testing.assert_allclose(path.elevation[steps], elevation, atol=0.01)
    apart = (path.azimuth[steps] - azimuth + 180) % 360 - 180
    np.testing.assert_allclose(apart * np.cos(np.radians(elevation)), 0, atol=0.01)


def test_hours_above_the_horizon_are_the_length_of_the_days():
    site = Site(51.3, 4.7, 20.0, "UTC")
    up = sun_path(site, 0.0, 5).true_elevation.reshape(365, -1) > -RISE
    np.testing.assert_allclose(up.sum(axis=1) / 12, noon_and_length(site)[1], atol=0.12)
