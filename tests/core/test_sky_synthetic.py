"""Years synthetic from twelve numbers: close to real years, and true to their numbers."""

from __future__ import annotations

import numpy as np
import pandas as pd
import pvlib
import pytest
from hypothesis import given
from hypothesis import strategies as st

from sundial.brief.read import brief_of
from sundial.days import MONTH_LENGTHS, sum_by_month
from sundial.errors import BriefError
from sundial.mounts.two_axis import TwoAxisMount
from sundial.sky.files import read_tmy3
from sundial.sky.made_up import CLIMATES, climate_named, made_up_year, monthly_irradiation
from sundial.sky.synthetic import ENHANCEMENT, clear_sky, dirint_dni, synthesise_year
from sundial.sky.weather_year import WeatherYear
from sundial.study import studied
from sundial.sun import Site, sun_year
from tests.core.conftest import FILES, brief_data, load


def synthetic_like(year: WeatherYear, site: Site, seed: int = 1) -> WeatherYear:
    days = np.array(MONTH_LENGTHS)
    means = [sum_by_month(values.reshape(365, 24).mean(axis=1)) / days for values in (year.temp_air, year.wind_speed)]
    return synthesise_year(site, year.ghi_by_month / days, *means, seed, "", "")


def figures(weather: WeatherYear, place: dict) -> dict[str, float]:
    study = studied(brief_of(brief_data(site=place)), given_weather=weather)
    plans = study.plans(every_tilt=True, by="irradiation")
    fixed = plans.simplest
    tracked = float(study.production(TwoAxisMount(kind="two-axis")).irradiation.sum())
    return {
        "latitude_tilt": float(study.surface().daily(place["latitude"], "irradiation").sum()),
        "tilt": fixed.stretches[0].tilt,
        "two_moves": plans.with_settings(2).irradiation / fixed.irradiation - 1,
        "two_axis": tracked / fixed.irradiation - 1,
    }


@pytest.mark.parametrize("seed", [1, 2, 3])
@pytest.mark.parametrize("name", FILES)
def test_a_synthetic_year_is_as_good_as_the_manual_asks(name, seed):
    """Keep only the monthly means of a real file, grow a year, compare: within 3 %, 4 degrees, 1 point and 5 points."""
    site = Site(**FILES[name])
    real_year = read_tmy3(load(name), site)
    real, synthetic = figures(real_year, FILES[name]), figures(synthetic_like(real_year, site, seed), FILES[name])
    assert synthetic["latitude_tilt"] == pytest.approx(real["latitude_tilt"], rel=0.03)
    assert abs(synthetic["tilt"] - real["tilt"]) <= 4
    assert abs(synthetic["two_moves"] - real["two_moves"]) <= 0.01
    assert abs(synthetic["two_axis"] - real["two_axis"]) <= 0.05


@pytest.fixture(scope="module", params=[43.0, -41.3, 5.0, 68.0])
def synthetic(request) -> tuple[Site, np.ndarray, WeatherYear]:
    site = Site(request.param, 10.0, 200.0, "Etc/GMT-1")
    asked = monthly_irradiation(climate_named("foggy-continental"), site)
    return site, asked, synthesise_year(site, asked, np.full(12, 10.0), np.full(12, 3.0), 4, "", "")


def test_monthly_sums_are_kept(synthetic):
    _, asked, year = synthetic
    np.testing.assert_allclose(year.ghi_by_month, asked * np.array(MONTH_LENGTHS), rtol=1e-3, atol=1e-6)


def test_every_hour_closes_and_none_is_brighter_than_clouds_allow(synthetic):
    site, _, year = synthetic
    sun = sun_year(site, year.utc_offset)
    np.testing.assert_allclose(year.ghi, year.dhi + year.dni * np.maximum(sun.cos_zenith, 0), atol=1e-6)
    assert (year.ghi <= ENHANCEMENT * clear_sky(site, sun, year.utc_offset) + 1e-6).all()
    assert (year.ghi[~sun.up] == 0).all()


def test_dirint_agrees_with_pvlib(synthetic):
    site, _, year = synthetic
    zenith = np.minimum(90 - sun_year(site, year.utc_offset).elevation, 89.9)
    times = pd.date_range("2023-01-01", periods=8760, freq="h")
    theirs = pvlib.irradiance.dirint(pd.Series(year.ghi, times), pd.Series(zenith, times), times)
    np.testing.assert_allclose(dirint_dni(year.ghi, zenith), theirs, rtol=1e-9, atol=1e-9)


def test_days_differ_as_weather_does(synthetic):
    _, _, year = synthetic
    july = year.ghi.reshape(365, 24).sum(axis=1)[181:212] if year.ghi[4500] else year.ghi.reshape(365, 24).sum(axis=1)[0:31]
    assert july.std() / july.mean() > 0.15


def test_temperature_and_wind_keep_their_monthly_means(synthetic):
    _, _, year = synthetic
    days = np.array(MONTH_LENGTHS)
    np.testing.assert_allclose(sum_by_month(year.wind_speed.reshape(365, 24).mean(axis=1)) / days, 3.0, rtol=1e-9)
    np.testing.assert_allclose(sum_by_month(year.temp_air.reshape(365, 24).mean(axis=1)) / days, 10.0, atol=0.05)


def test_the_same_seed_gives_the_same_year_and_another_another():
    site = Site(43, 0)
    one, same, other = (
        synthesise_year(site, np.full(12, 2.0) * 0.5, np.full(12, 9.0), np.full(12, 3.0), s, "", "") for s in (1, 1, 2)
    )
    assert (one.dni == same.dni).all()
    assert (one.dni != other.dni).any()


def test_more_sun_than_a_cloudless_sky_is_refused_by_month():
    numbers = [2.0] * 12
    numbers[11] = 9.0
    with pytest.raises(BriefError, match="December has 9") as refused:
        synthesise_year(Site(43, 0), np.array(numbers), np.zeros(12), np.ones(12), 1, "", "")
    assert refused.value.path == "sky.ghi[11]"


@pytest.mark.parametrize("name", CLIMATES)
@pytest.mark.parametrize("latitude", [-42.0, 2.0, 55.0, 71.0])
def test_made_up_skies_work_everywhere_and_are_labelled(name, latitude):
    year = made_up_year(name, Site(latitude, 0), 1)
    assert year.made_up
    assert "made up" in year.trust.lower()
    assert 500 < year.ghi.sum() / 1000 < 2700


def test_made_up_skies_turn_with_the_hemisphere():
    north, south = (made_up_year("dry-upland", Site(latitude, 0), 1).ghi_by_month for latitude in (40.0, -40.0))
    # Months differ in length and the sun is 7 % stronger in January, so the mirror is not exact.
    np.testing.assert_allclose(np.roll(south, 6), north, rtol=0.2)
    assert south.sum() == pytest.approx(north.sum(), rel=0.06)


@given(st.floats(0.2, 0.62))
def test_any_clearness_can_be_synthesised(share):
    site = Site(35.0, 0.0)
    sun = sun_year(site, 0)
    above = sun.dni_extra * np.maximum(sun.cos_zenith, 0)
    asked = np.minimum(share * sum_by_month(above.reshape(365, 24).sum(axis=1)) / np.array(MONTH_LENGTHS) / 1000, 99)
    year = synthesise_year(site, asked, np.full(12, 15.0), np.full(12, 3.0), 1, "", "")
    np.testing.assert_allclose(year.ghi_by_month, asked * np.array(MONTH_LENGTHS), rtol=1e-3)
