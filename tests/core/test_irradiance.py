"""Irradiance on planes: pvlib's own algebra, the skyline's closed forms, and nothing lost or made on the way."""

from __future__ import annotations

import numpy as np
import pvlib
import pytest
from hypothesis import given
from hypothesis import strategies as st

from sundial.energy.irradiance import irradiance_components, light_direction
from sundial.energy.production import convert
from sundial.energy.shaded import Shade
from sundial.energy.system import System, beam_glass, diffuse_glass
from sundial.errors import BriefError
from sundial.frame.panels import Array, Panel
from sundial.shade.geometry import ArrayGeometry
from sundial.shade.skyline import Skyline
from sundial.shade.yard import Yard
from sundial.sky.weather_year import flipped
from sundial.sun import declinations, extraterrestrial_normal
from tests.core.conftest import study_of

ARRAY = Array(Panel(430, 1.722, 1.134), 2, 4, 180.0)


def plane(light, tilt, azimuth, skyline=None):
    """W/m2 on a plane in the lit hours."""
    tilts, azimuths = np.array([[float(tilt)]]), np.array([[float(azimuth)]])
    factors = skyline and Shade(light, ArrayGeometry(ARRAY), Yard(), skyline).at_tilts(tilts[0], float(azimuth))
    return convert(light, System(ARRAY, glass=False), tilts, azimuths, factors).poa_global[0]


@pytest.mark.parametrize("model", ["haydavies", "perez"])
@pytest.mark.parametrize(("tilt", "azimuth"), [(0, 180), (30, 180), (60, 95), (90, 250), (45, 0)])
def test_plane_irradiance_is_pvlibs_to_1e_9(greensboro, model, tilt, azimuth):
    weather, sun = greensboro.scene.weather, greensboro.scene.sun
    light = irradiance_components(weather, sun, np.full(12, 0.2), "hay-davies" if model == "haydavies" else "perez")
    hours = light.hours
    zenith = 90 - sun.elevation[hours]
    airmass = np.asarray(pvlib.atmosphere.get_relative_airmass(np.minimum(zenith, 89.9)))
    theirs = pvlib.irradiance.get_total_irradiance(
        tilt, azimuth, zenith, sun.azimuth[hours], weather.dni[hours], weather.ghi[hours], weather.dhi[hours],
        dni_extra=sun.dni_extra[hours], airmass=airmass, albedo=0.2, model=model,
    )  # fmt: skip
    ours = plane(light, tilt, azimuth)
    # pvlib bounds the sun's height for circumsolar light differently in the hour of rise and set: leave those hours out.
    up = sun.elevation[hours] > 1.5
    np.testing.assert_allclose(ours[up], np.nan_to_num(np.asarray(theirs["poa_global"]))[up], rtol=1e-9, atol=1e-9)


def test_glass_losses_are_pvlibs():
    cosine = np.cos(np.radians(np.array([0.0, 30, 60, 85])))
    np.testing.assert_allclose(beam_glass(cosine), pvlib.iam.martin_ruiz(np.array([0.0, 30, 60, 85]), a_r=0.16), rtol=1e-9)
    sky, ground = diffuse_glass(np.array([0.0, 40.0]))
    theirs = pvlib.iam.martin_ruiz_diffuse(np.array([0.0, 40.0]), a_r=0.16)
    np.testing.assert_allclose(sky, theirs["sky"])
    np.testing.assert_allclose(ground, theirs["ground"])


@given(st.floats(0, 90), st.floats(0, 359))
def test_a_level_skyline_leaves_the_whole_sky(tilt, azimuth):
    share = Skyline(((0.0, 0.0),)).sky_share(np.array([tilt]), np.array([azimuth]))
    assert share[0] == pytest.approx((1 + np.cos(np.radians(tilt))) / 2, abs=2e-5)


@given(st.floats(0, 80))
def test_a_ring_of_even_height_leaves_cos_squared_of_it_on_the_flat(height):
    """Closed form: the horizontal view factor of the dome above elevation h is cos(h)^2."""
    share = Skyline(((0.0, height),)).sky_share(np.array([0.0]), np.array([180.0]))
    assert share[0] == pytest.approx(np.cos(np.radians(height)) ** 2, abs=1e-9)


def test_the_skyline_is_linear_and_closed_over_the_north():
    line = Skyline(((10.0, 10.0), (350.0, 30.0)))
    np.testing.assert_allclose(line.elevation_at(np.array([0.0, 10, 180, 350, 355])), [20, 10, 20, 30, 25])


@pytest.mark.parametrize(
    ("points", "path"),
    [
        ((), "horizon"),
        (((10, 5), (5, 5)), "horizon[1]"),
        (((0, 95),), "horizon[0]"),
        (((400, 5),), "horizon[0]"),
        (((5, 1), (5, 2)), "horizon[1]"),
    ],
)
def test_impossible_skylines_are_refused(points, path):
    with pytest.raises(BriefError) as refused:
        Skyline(points)
    assert refused.value.path == path


def test_skyline_to_the_zenith_blocks_all_light(greensboro):
    light = irradiance_components(greensboro.scene.weather, greensboro.scene.sun, np.full(12, 0.2))
    assert plane(light, 40, 180, Skyline(((0.0, 90.0),))).max() < 1e-9


def test_loss_never_falls_with_height():
    years = [study_of(horizon=[[0, 0], [120, h], [240, h], [300, 0]]).held_year(35).year for h in (0, 5, 15, 30)]
    assert years == sorted(years, reverse=True)
    assert years[-1] < years[0] * 0.95


def test_mirrored_days_swap_east_and_west(greensboro):
    """A day turned end for end gives an east wall what the west wall had."""
    weather, sun = greensboro.scene.weather, greensboro.scene.sun
    light = irradiance_components(weather, sun, np.full(12, 0.2))
    mirrored = irradiance_components(
        weather,
        type(sun)(sun.elevation, (360 - sun.azimuth) % 360, sun.cos_zenith, sun.sin_zenith, sun.dni_extra),
        np.full(12, 0.2),
    )
    np.testing.assert_allclose(plane(light, 60, 110), plane(mirrored, 60, 250), rtol=1e-9)


def test_snow_in_one_month_lifts_that_month_alone(greensboro):
    albedo = np.full(12, 0.2)
    albedo[1] = 0.8
    snow, bare = (irradiance_components(greensboro.scene.weather, greensboro.scene.sun, a) for a in (albedo, np.full(12, 0.2)))
    gain = snow.daily(plane(snow, 60, 180)) - bare.daily(plane(bare, 60, 180))
    assert gain[31:59].min() > 0
    assert abs(gain[:31]).max() == abs(gain[59:]).max() == 0


def test_the_best_direction_is_the_best_of_all(greensboro):
    """No plane on a grid catches more than one that looks along the light's own direction."""
    light, sun = greensboro.scene.light, greensboro.scene.sun
    target = light_direction(light, sun)
    pick = np.argsort(light.ghi)[-400::7]
    tilts, azimuths = target.zenith[light.hours], target.azimuth[light.hours]
    best = convert(light, System(ARRAY, glass=False), tilts, azimuths).poa_global[pick]
    for tilt in range(0, 91, 15):
        for azimuth in range(0, 360, 30):
            assert (plane(light, tilt, azimuth)[pick] <= best + 1e-6).all()


def test_a_flipped_sky_keeps_its_sum(greensboro):
    year = flipped(greensboro.scene.weather)
    assert year.ghi.sum() == pytest.approx(greensboro.scene.weather.ghi.sum())
    assert year.ghi_by_month[0] == pytest.approx(greensboro.scene.weather.ghi_by_month[6], rel=0.05)


def test_what_is_written_out_of_pvlib_is_equal_to_it():
    tilts = np.array([-63.0, 0.5, 17.0, 31.3, 62.0, 89.0, 90.0, 120.0])
    theirs = pvlib.iam.martin_ruiz_diffuse(np.abs(tilts), a_r=0.16)
    sky, ground = diffuse_glass(tilts)
    np.testing.assert_allclose(sky, theirs["sky"], rtol=1e-9)
    np.testing.assert_allclose(ground, theirs["ground"], rtol=1e-9)
    days = np.arange(1, 366)
    np.testing.assert_allclose(extraterrestrial_normal(), pvlib.irradiance.get_extra_radiation(days), rtol=1e-12)
    np.testing.assert_allclose(declinations(), pvlib.solarposition.declination_spencer71(days), atol=1e-12)


def test_glass_near_the_level_is_that_of_the_level():
    sky, ground = diffuse_glass(np.array([0.0, 1e-7, 1e-3]))
    assert np.isfinite(ground).all()
    np.testing.assert_allclose(sky, sky[0], rtol=1e-4)
    np.testing.assert_allclose(ground, 0, atol=1e-4)
