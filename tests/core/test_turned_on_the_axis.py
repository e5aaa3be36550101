"""Panels that sit turned about a tracker's axis."""

from __future__ import annotations

from dataclasses import replace
from math import atan2, cos, degrees, radians, sin

import numpy as np
import pytest

from sundial.answers.bench.report import day_report
from sundial.answers.plan.report import plan_report
from sundial.bench.axes import mount_of
from sundial.bench.minutes import minutes_of
from sundial.mounts.facing import Direction
from sundial.mounts.one_axis import OneAxis
from tests.core.conftest import study_of

AXIS = {"kind": "one-axis", "limit": 50.0}


def towards(zenith: float, azimuth: float) -> Direction:
    return Direction(np.array([zenith]), np.array([azimuth]))


@pytest.mark.parametrize(("turned", "rolled"), [(0.0, 20.0), (12.0, 32.0), (-15.0, 5.0)])
def test_the_glass_looks_past_the_axis_by_its_angle(turned, rolled):
    """A level axis to the south, the sun 20 degrees off the zenith in the west: the axis rolls 20 degrees to the west."""
    facing = OneAxis(0.0, 180.0, 50.0, turned=turned).facing(towards(20.0, 270.0))
    assert facing.surface_tilt[0] == pytest.approx(rolled) and facing.surface_azimuth[0] == pytest.approx(270.0)


def test_about_a_raised_axis_by_rotation_matrices():
    """Axis raised 25 degrees toward 200: the normal of the glass is turned about the axis by the roll and the 14 degrees."""
    tracker = OneAxis(25.0, 200.0, 55.0)
    sun = towards(48.0, 245.0)
    plain, turned = tracker.facing(sun), replace(tracker, turned=14.0).facing(sun)
    lean, to = radians(25.0), radians(200.0)
    along = np.array([sin(to) * cos(lean), cos(to) * cos(lean), -sin(lean)])  # down the axis, the way it looks

    def normal(facing):
        tilt, azimuth = radians(facing.surface_tilt[0]), radians(facing.surface_azimuth[0])
        return np.array([sin(tilt) * sin(azimuth), sin(tilt) * cos(azimuth), cos(tilt)])

    def about(vector, angle):
        return vector * cos(angle) + np.cross(along, vector) * sin(angle) + along * (along @ vector) * (1 - cos(angle))

    wanted = about(normal(plain), radians(14.0))
    assert normal(turned) == pytest.approx(wanted, abs=1e-9)
    assert degrees(atan2(wanted[0], wanted[1])) % 360 > plain.surface_azimuth[0], "to the right, toward the west"


def test_turned_panels_gain_where_the_evening_is_hidden():
    wall = {"objects": [{"kind": "fence", "name": "the neighbour's wall", "height": 6.0, "line": [[-6.0, -9.0], [-6.0, 9.0]]}]}
    made = {
        turned: study_of(mount=AXIS, yard=wall, array={"rows": 1, "columns": 2, "azimuth": 180.0, "turned": turned})
        .production()
        .year
        for turned in (-10.0, 0.0, 10.0)
    }
    assert made[-10.0] > made[10.0], "to the east it dodges a wall in the west"
    report = plan_report(study_of(mount=AXIS, array={"rows": 1, "columns": 2, "azimuth": 180.0, "turned": 10.0}))
    assert any("turned 10° about the axis" in note and "less than straight" in note for note in report.notes)


def test_a_frame_that_does_not_roll_knows_nothing_of_it():
    straight, turned = (
        study_of(mount={"kind": "fixed", "tilt": 31.0}, array={"rows": 1, "columns": 2, "azimuth": 170.0, "turned": t})
        for t in (0.0, 20.0)
    )
    assert straight.production().year == turned.production().year


def test_the_bench_turns_the_glass_as_the_plan_does():
    """At the angles of the bench's own axis the glass faces as the mount's geometry has it, and the day differs from that of straight panels."""
    plain = study_of(mount=AXIS)
    study = study_of(mount=AXIS, array={**study_of(mount=AXIS).brief.array.model_dump(), "turned": 14.0})
    mount = mount_of(study, minutes_of(study.scene, np.array([172])))
    roll = np.full_like(mount.axes[0].sun, 22.0)
    tilt, azimuth = mount.facing((roll,))
    from pvlib.tracking import calc_surface_orientation

    chosen = study.brief.mount
    wanted = calc_surface_orientation(36.0, chosen.axis_tilt, mount.axis_azimuth)
    assert tilt == pytest.approx(float(np.ravel(wanted["surface_tilt"])[0])) and azimuth == pytest.approx(
        float(np.ravel(wanted["surface_azimuth"])[0])
    )
    settings = study.brief.bench
    made = [day_report(one, settings, 172, "clear").result for one in (plain, study)]
    assert made[0].moves == made[1].moves and abs(made[0].made - made[1].made) > 0.001 * made[0].made
