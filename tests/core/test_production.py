"""From light to energy: pvlib's chain, named losses that add up, both faces, and trackers."""

from __future__ import annotations

import inspect

import numpy as np
import pvlib
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sundial.answers.plan.report import plan_report
from sundial.answers.siting.report import shade_report
from sundial.answers.worth.report import worth_report
from sundial.energy.irradiance import sun_direction
from sundial.energy.system import FAIMAN, REAR_FRAME_SHADE, System, diffuse_glass
from sundial.frame.panels import Array, Panel
from sundial.mounts.facing import Drive, Facing, angle_between
from sundial.mounts.fixed import FixedMount
from sundial.mounts.one_axis import OneAxis, OneAxisMount
from sundial.mounts.two_axis import TwoAxis, TwoAxisMount
from sundial.siting.costs import shade_costs
from tests.core.conftest import study_of


def test_energy_chain_agrees_with_pvlib(greensboro):
    """Hay-Davies, Martin-Ruiz, Faiman, DC power linear in irradiance, the losses' product and a flat inverter, hour by hour with pvlib."""
    weather, sun, light = greensboro.scene.weather, greensboro.scene.sun, greensboro.scene.light
    hours = light.hours[sun.elevation[light.hours] > 1.5]
    zenith, azimuth = 90 - sun.elevation[hours], sun.azimuth[hours]
    tilt = 35.0
    poa = pvlib.irradiance.get_total_irradiance(
        tilt,
        180.0,
        zenith,
        azimuth,
        weather.dni[hours],
        weather.ghi[hours],
        weather.dhi[hours],
        dni_extra=sun.dni_extra[hours],
        albedo=0.2,
        model="haydavies",
    )
    aoi = pvlib.irradiance.aoi(tilt, 180.0, zenith, azimuth)
    circumsolar = (
        np.asarray(poa["poa_sky_diffuse"])
        - weather.dhi[hours] * (1 - weather.dni[hours] / sun.dni_extra[hours]) * (1 + np.cos(np.radians(tilt))) / 2
    )
    diffuse = pvlib.iam.martin_ruiz_diffuse(tilt, a_r=0.16)
    behind = (np.asarray(poa["poa_direct"]) + circumsolar) * pvlib.iam.martin_ruiz(np.minimum(aoi, 90), a_r=0.16)
    behind += (np.asarray(poa["poa_sky_diffuse"]) - circumsolar) * diffuse["sky"] + np.asarray(
        poa["poa_ground_diffuse"]
    ) * diffuse["ground"]
    cell = pvlib.temperature.faiman(
        np.asarray(poa["poa_global"]), weather.temp_air[hours], weather.wind_speed[hours], *FAIMAN["open-rack"]
    )
    dc = pvlib.pvsystem.pvwatts_dc(behind, cell, 3440.0, -0.0034)
    expected = dc * 0.98 * 0.98 * 0.99 * 0.99 * 0.96
    ours = greensboro.held_year(tilt).hourly[hours]
    np.testing.assert_allclose(ours, expected, rtol=1e-6, atol=1e-3)


def test_the_surface_is_the_sum_of_the_hours(greensboro):
    surface = greensboro.surface()
    for tilt in (0.0, 30.0, 90.0):
        made = greensboro.held_year(tilt)
        np.testing.assert_allclose(surface.daily(tilt), made.energy, rtol=1e-9, atol=1e-9)
        np.testing.assert_allclose(surface.daily(tilt, "irradiation"), made.irradiation, rtol=1e-9, atol=1e-9)


def test_between_two_tilts_the_surface_is_linear(greensboro):
    surface = greensboro.surface()
    np.testing.assert_allclose(surface.daily(30.5), (surface.daily(30) + surface.daily(31)) / 2)
    assert surface.daily(30.5).sum() == pytest.approx(greensboro.held_year(30.5).year, rel=1e-4)


@pytest.mark.parametrize(
    "mount",
    [
        FixedMount(kind="fixed", tilt=35),
        OneAxisMount(kind="one-axis", standby_watts=2, moving_watts=20),
        TwoAxisMount(kind="two-axis", aim="light"),
    ],
)
def test_energies_add_up_over_months_days_and_losses(mount):
    study = study_of(
        system={"inverter": {"power": 2600.0, "efficiency": 0.95}, "losses": {"soiling": [0.05] * 6 + [0.01] * 6}},
        panel={"power": 430.0, "length": 1.722, "width": 1.134, "bifaciality": 0.7},
        horizon=[[0, 3], [90, 12], [180, 4], [270, 8]],
    )
    made = study.production(mount)
    assert made.by_month.sum() == pytest.approx(made.year, abs=1e-6)
    assert made.energy.sum() == pytest.approx(made.hourly.sum() / 1000, abs=1e-6)
    assert made.label_energy - sum(made.ledger.values()) == pytest.approx(made.year, abs=1e-6)
    assert made.ledger["clipping"] > 0 > made.ledger["rear_gain"]


def test_clipping_is_what_stands_above_the_limit():
    free, bound = study_of(), study_of(system={"inverter": {"power": 2000.0}})
    hourly = free.held_year(30).hourly
    assert bound.held_year(30).hourly.max() == pytest.approx(2000.0)
    assert bound.held_year(30).ledger["clipping"] == pytest.approx(np.maximum(hourly - 2000, 0).sum() / 1000)


def test_reference_conditions_make_the_nameplate():
    """1000 W/m2 and 25 degC at the cell: the label's watts (here with light square to the glass, so none lost)."""
    study = study_of()
    assert study.scene.array.power == 3440
    with_heat = study_of(system={"mounting": "close"}).held_year(30).year
    assert with_heat < study.held_year(30).year  # less air behind, hotter cells


def test_cell_temperature_coefficients_come_from_their_sources():
    """Open rack: pvlib's defaults are Faiman's pair. The others: Sandia's close mount and insulated back, carried over by
    pvlib's generic linear model, which fits over another range of wind."""
    from pvlib.temperature import GenericLinearModel, faiman

    defaults = inspect.signature(faiman).parameters
    assert FAIMAN["open-rack"] == (defaults["u0"].default, defaults["u1"].default)
    for mounting, a, b in (("raised", -2.98, -0.0471), ("close", -2.81, -0.0455)):
        model = GenericLinearModel(module_efficiency=0.21, absorptance=0.88)
        model.use_sapm(a, b)
        carried = model.to_faiman()
        assert FAIMAN[mounting] == pytest.approx((carried["u0"], carried["u1"]), rel=0.035)


def test_diffuse_glass_is_continuous_at_the_level():
    """Flat under a ten-thousandth of a degree, pvlib's own value from there on; a tilt below zero counts as its mirror."""
    tilts = np.array([0.0, 5e-5, 2e-4, 0.5, 33.0, -33.0])
    sky, ground = diffuse_glass(tilts)
    whole = pvlib.iam.martin_ruiz_diffuse(np.abs(tilts[2:]), a_r=0.16)
    np.testing.assert_allclose(sky[2:], whole["sky"], rtol=1e-10)
    np.testing.assert_allclose(ground[2:], whole["ground"], rtol=1e-10)
    assert sky[0] == sky[1] and ground[0] == ground[1]
    assert 0.9 < sky[4] < 1 and 0.4 < ground[4] < sky[4]


def test_system_defaults():
    system = System(study_of().scene.array)
    assert (system.mounting, system.glass) == ("open-rack", True)
    assert (system.inverter.efficiency, system.inverter.power) == (0.96, None)
    assert REAR_FRAME_SHADE == 0.05


def test_standby_of_1_5_watts_is_13_1_kwh_a_year():
    still = Facing(np.zeros(8760), np.full(8760, 180.0))
    assert Drive(standby=1.5).drive_consumption(still).sum() / 1000 == pytest.approx(13.14)


def test_a_motor_takes_watts_while_it_turns():
    """20 W at 6 degrees a minute for 90 degrees: a quarter of an hour, 5 Wh."""
    tilts = np.zeros(8760)
    tilts[100:] = 90.0
    facing = Facing(tilts, np.full(8760, 180.0))
    assert Drive(0, 20, 6).drive_consumption(facing)[100] == pytest.approx(5.0)


def test_the_angle_between_facings():
    flat, south, east = (Facing(np.array([t]), np.array([a])) for t, a in ((0.0, 0.0), (90.0, 180.0), (90.0, 90.0)))
    assert angle_between(flat, south)[0] == pytest.approx(90)
    assert angle_between(south, east)[0] == pytest.approx(90)
    assert angle_between(south, south)[0] == pytest.approx(0, abs=1e-5)


def test_one_axis_facing_is_pvlibs(greensboro):
    target = sun_direction(greensboro.scene.sun)
    theirs = pvlib.tracking.singleaxis(target.zenith, target.azimuth, 20, 180, 45, True, 0.4)
    ours = OneAxis(20, 180, 45, True, 0.4).facing(target)
    up = np.isfinite(theirs["surface_tilt"])
    np.testing.assert_allclose(ours.surface_tilt[up], np.asarray(theirs["surface_tilt"])[up])
    assert ours.in_service is not None
    np.testing.assert_array_equal(ours.in_service, up)


def test_two_axes_stay_inside_their_limits(greensboro):
    facing = TwoAxis(15, 60, 180, 70).facing(sun_direction(greensboro.scene.sun))
    assert facing.surface_tilt.min() >= 15
    assert facing.surface_tilt.max() <= 60
    assert np.abs((facing.surface_azimuth - 180 + 180) % 360 - 180).max() <= 70 + 1e-9


PLACES = st.sampled_from([(-41.3, 147.0), (5.0, 20.0), (42.9, -6.1), (66.0, 25.0)])
SKIES = st.sampled_from(["dry-upland", "green-maritime", "foggy-continental", "monsoon"])


@settings(max_examples=10, deadline=None)
@given(PLACES, SKIES, st.integers(1, 50))
def test_two_axes_catch_no_less_than_one_and_one_no_less_than_none(place, sky, seed):
    """With no limits, no consumption, and free to lie flat when that catches more."""
    study = study_of(
        site={"latitude": place[0], "longitude": place[1]},
        sky={"kind": "made-up", "name": sky, "seed": seed},
        array={"rows": 1, "columns": 1},
    )
    fixed = study.plans(every_tilt=True, by="irradiation").simplest.irradiation
    two = study.production(TwoAxisMount(kind="two-axis", aim="light")).irradiation.sum()
    fixed_tilt = study.plans(every_tilt=True, by="irradiation").simplest.stretches[0].tilt
    one = study.production(OneAxisMount(kind="one-axis", axis_tilt=fixed_tilt, limit=180, aim="light")).irradiation.sum()
    assert two >= one - 1e-6
    assert one >= fixed * 0.999  # the hours before the axis is in service (see OneAxis) are the only ones it can lose


def test_rear_gain_is_a_few_per_cent_low_over_grass_and_much_when_upright():
    def gain(clearance: float, albedo: float, tilt: float) -> float:
        study = study_of(
            ground={"albedo": albedo},
            panel={"power": 430.0, "length": 1.722, "width": 1.134, "bifaciality": 0.75},
            array={"rows": 2, "columns": 4, "azimuth": 180.0, "clearance": clearance},
        )
        made = study.held_year(tilt)
        return -made.ledger["rear_gain"] / made.label_energy

    low, raised, upright = gain(0.3, 0.2, 30), gain(2.0, 0.3, 30), gain(1.0, 0.3, 90)
    assert 0.02 < low < 0.08
    assert 0.1 < raised < 0.18  # two metres up, and a table only as broad as it is high
    assert upright > 0.25
    heights = [gain(h, 0.3, 25) for h in (0.2, 0.6, 1.5, 3.0)]
    assert heights == sorted(heights)


def test_array_measures():
    array = Array(Panel(430, 1.722, 1.134), 2, 4, 180.0, portrait=True)
    assert (array.count, array.power) == (8, 3440)
    assert array.slope_length == pytest.approx(2 * 1.722 + 0.02)
    assert array.breadth == pytest.approx(4 * 1.134 + 3 * 0.02)
    lying = Array(Panel(430, 1.722, 1.134), 2, 4, 180.0, portrait=False)
    assert lying.slope_length == pytest.approx(2 * 1.134 + 0.02)


def test_a_hand_set_axis_is_never_worse_than_any_of_its_tilts():
    tilts = [10.0, 30.0, 50.0]
    study = study_of()
    by_hand = study.production(OneAxisMount(kind="one-axis", axis_tilts=tilts), settings=2).year
    single = [study.production(OneAxisMount(kind="one-axis", axis_tilt=t)).year for t in tilts]
    assert by_hand >= max(single) - 1e-6


def test_the_builds_own_hand_set_axis_follows_its_own_plan():
    """Goal, moves and caps of the plan hold for what the mount makes, with and without shade."""
    wall = {"objects": [{"kind": "wall", "name": "Wall", "line": [[-9, -6], [9, -6]], "height": 2.5}]}
    mount = {"kind": "one-axis", "axis_tilts": [10, 25, 40], "limit": 50, "moving_watts": 5}
    free, capped, shaded = (
        study_of(mount=mount, plan={"settings": 2, "cap": cap}, yard=yard)
        for cap, yard in ((None, None), ([30.0] * 6 + [45.0] * 6, None), ([30.0] * 6 + [45.0] * 6, wall))
    )
    assert capped.production().year < free.production().year
    assert shaded.production().year < capped.production().year
    for study in (free, capped, shaded):
        plan = study.own_plans.with_settings(2)
        assert study.production().year == pytest.approx(plan.energy, rel=2e-4), "moved twice a year between the axis's own years"
        assert shade_report(study).energy == pytest.approx(study.production().year)
    assert max(capped.own_plans.with_settings(2).tilt_by_day[:181]) <= 30


@pytest.mark.parametrize("bifaciality", [0.0, 0.8])
def test_a_tilt_of_next_to_nothing_is_flat(bifaciality):
    panel = {"power": 430.0, "length": 1.722, "width": 1.134, "bifaciality": bifaciality}
    flat = study_of(mount={"kind": "fixed", "tilt": 0.0}, panel=panel).production().year
    for tilt in (1e-300, 1e-9, 1e-6, 1e-5, 1e-3):
        assert study_of(mount={"kind": "fixed", "tilt": tilt}, panel=panel).production().year == pytest.approx(flat, rel=1e-4)


def test_a_motor_that_takes_more_than_the_panels_make_still_has_a_plan():
    """Every year is a loss: the band about the best tilt holds at least that tilt."""
    mount = {"kind": "one-axis", "axis_tilts": [10, 40], "standby_watts": 30}
    plan = study_of(mount=mount, panel={"power": 0.01, "length": 1.722, "width": 1.134}).own_plans.with_settings(2)
    assert plan.energy < -200
    assert all(stretch.band[0] <= stretch.tilt <= stretch.band[1] for stretch in plan.stretches)


@pytest.mark.parametrize(
    "mount",
    [{"kind": "stepped", "tilts": [10.0, 20.0, 50.0]}, {"kind": "two-axis"}, {"kind": "one-axis", "axis_tilts": [0.0, 40.0]}],
)
def test_a_year_without_any_light_makes_nothing_and_breaks_nothing(mount):
    """Twelve noughts are typed now and then; panels with a bright back in a yard walk through every part."""
    yard = {"objects": [{"kind": "post", "name": "Pole", "at": [0.0, -2.0], "height": 3.0, "width": 0.3}]}
    panel = {"power": 430.0, "length": 1.7, "width": 1.1, "bifaciality": 0.7}
    study = study_of(sky={"kind": "monthly", "ghi": 0.0}, yard=yard, mount=mount, panel=panel)
    assert plan_report(study).chosen.energy == 0
    assert all(row.energy <= 0 for row in worth_report(study, "€").comparison.rows)
    assert all(cost.kwh == 0 for cost in shade_costs(study))
