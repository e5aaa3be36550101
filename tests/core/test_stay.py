"""A short stay, and mounts that a hand turns or a motor tilts about a hinge."""

from __future__ import annotations

import json

import numpy as np
import pytest

from sundial.cli import main
from sundial.energy.production import TiltSurface
from sundial.errors import BriefError
from sundial.mounts.fixed import FixedMount
from sundial.mounts.hinge import HingeMount
from sundial.mounts.turned import TurnedMount
from sundial.mounts.two_axis import TwoAxisMount
from sundial.plan.stay import stay
from sundial.study import Study, studied
from tests.core.conftest import brief_data, study_of
from tests.core.test_plans import flipped

WALL = {"objects": [{"kind": "fence", "name": "Wall", "line": [[-4, -3], [4, -3]], "height": 1.4}]}


def surface() -> TiltSurface:
    """Flat gives 5 kWh a day; 40 degrees 4 + the day's number modulo 4, 60 degrees always 6."""
    days = np.arange(365)
    energy = np.stack([np.full(365, 5.0), 4.0 + days % 4, np.full(365, 6.0), np.full(365, 1.0)], axis=1)
    return TiltSurface(np.array([0.0, 40.0, 60.0, 90.0]), 180.0, energy, energy)


def test_a_stay_counted_by_hand():
    # Days 363, 364, 0, 1, 2: at 40 degrees 7 + 4 + 4 + 5 + 6 = 26 (363 % 4 = 3, 364 % 4 = 0), flat 25, at 60 degrees 30.
    found = stay(surface(), np.array([40.0, 60.0]), 363, 5, 12.0, worth=3.0)
    assert (found.flat, found.tilted, found.best_tilt) == (25.0, 30.0, 60.0)
    assert found.gain == 5.0 and found.gain_per_minute == pytest.approx(5 / 12)
    assert found.break_even_days == 3
    assert found.own_shadow == pytest.approx(6.0 * 0.2 / 10)
    assert found.gain_with_shadow == pytest.approx(5 - 0.12)
    first = stay(surface(), np.array([40.0, 60.0]), 363, 1, 12.0, worth=2.0)
    assert (first.best_tilt, first.tilted, first.break_even_days) == (40.0, 7.0, 1)


def test_a_stay_that_never_pays_says_so():
    assert stay(surface(), np.array([90.0]), 10, 3, 5.0, worth=1.0).break_even_days is None
    for wrong in ((10, 0, 5.0), (10, 366, 5.0), (10, 3, -1.0)):
        with pytest.raises(BriefError):
            stay(surface(), np.array([90.0]), *wrong)


def test_stay_over_the_command_line(tmp_path, capsys):
    brief = tmp_path / "brief.json"
    brief.write_text(json.dumps(brief_data(sky={"kind": "world"})))
    options = ["--from", "2026-12-01", "--days", "6", "--minutes", "10"]
    assert main(["stay", str(brief), *options]) == 0
    south = json.loads(capsys.readouterr().out)
    assert main(["stay", str(brief), *options, "--azimuth", "270"]) == 0
    west = json.loads(capsys.readouterr().out)
    assert south["flat"] == pytest.approx(west["flat"], rel=1e-6) and west["gain"] < south["gain"]
    assert south["break_even_days"] == 1 and south["best_tilt"] > 45
    for wrong in (["--from", "soon"], ["--days", "0"], ["--azimuth", "400"]):
        assert main(["stay", str(brief), *options, *wrong]) == 2
        assert capsys.readouterr().err


# --- Mounts


def year(study: Study, mount) -> float:
    return study.production(mount).year


@pytest.mark.parametrize("yard", [None, WALL])
def test_a_hinge_lies_between_a_plane_held_still_and_two_axes(yard):
    study = study_of(yard=yard, array={"rows": 2, "columns": 4, "azimuth": 200.0})
    hinge = year(study, HingeMount(kind="hinge", min_tilt=0.0, max_tilt=75.0))
    assert hinge < year(study, TwoAxisMount(kind="two-axis"))
    assert hinge > max(year(study, FixedMount(kind="fixed", tilt=tilt)) for tilt in (0.0, 20.0, 35.0, 50.0, 75.0))
    assert hinge > study.plans(every_tilt=True).with_settings(12).energy
    narrow = year(study, HingeMount(kind="hinge", min_tilt=20.0, max_tilt=40.0))
    assert year(study, FixedMount(kind="fixed", tilt=30.0)) < narrow < hinge


@pytest.mark.parametrize("yard", [None, WALL])
def test_turning_by_hand_lies_between_standing_still_and_two_axes(yard):
    study = study_of(yard=yard)
    turned = TurnedMount(kind="turned", tilt=35.0, facings=[115.0, 180.0, 245.0])
    every = year(study, turned)
    assert every < year(study, TwoAxisMount(kind="two-axis"))
    weekends = year(study, turned.model_copy(update={"weekdays": [5, 6]}))
    summer = year(study, turned.model_copy(update={"months": [6, 7]}))
    still = year(study, turned.model_copy(update={"facings": [180.0, 180.0]}))
    assert still < weekends < every and still < summer < every
    # On a pole it turns about its middle, like a tracker: standing still it is the fixed plane, but for what stands near.
    fixed = year(study, FixedMount(kind="fixed", tilt=35.0))
    assert still == pytest.approx(fixed, rel=1e-9 if yard is None else 0.02)


def test_turns_are_counted_with_their_minutes():
    from sundial.worth.comparison import compare

    mount = {"kind": "turned", "tilt": 35.0, "facings": [120.0, 180.0, 240.0], "months": [6], "minutes": 3.0}
    study = study_of(options=[{"name": "By hand", "mount": mount, "extra_cost": 20.0}])
    way = next(row for row in compare(study).rows if row.name == "By hand")
    assert way.moves == 90 and way.minutes == 270.0


def test_hinge_and_turned_mirror_south_of_the_equator(greensboro):
    data = greensboro.brief.model_dump()
    data["site"] |= {"latitude": -36.1}
    data["array"]["azimuth"] = None
    from sundial.brief.read import brief_of

    south = studied(brief_of(data), given_weather=flipped(greensboro.scene.weather))
    hinge = HingeMount(kind="hinge", max_tilt=80.0)
    ours = {"kind": "turned", "tilt": 30.0}
    morning = TurnedMount(**ours, facings=[110.0, 180.0, 250.0]), TurnedMount(**ours, facings=[70.0, 0.0, 290.0])
    for here, there in ((hinge, hinge), morning):
        north = greensboro.production(here)
        assert float(south.production(there).irradiation.sum()) == pytest.approx(float(north.irradiation.sum()), rel=0.02)
    at_noon = south.own_facing  # the build's own mount is untouched by what is compared
    assert at_noon is not None


def test_a_hinge_never_leaves_its_limits_and_rests_flat():
    study = study_of(mount={"kind": "hinge", "min_tilt": 5.0, "max_tilt": 55.0, "aim": "light"})
    facing, drive = study.own_facing
    assert drive is not None
    assert (facing.surface_tilt.min(), facing.surface_tilt.max()) == (5.0, 55.0)
    assert set(facing.surface_azimuth.tolist()) == {180.0}
    assert (facing.surface_tilt.reshape(365, 24)[:, 1] == 5.0).all()  # at night
    from sundial.answers.plan.report import plan_report

    assert plan_report(study).moved_by_motor
