"""Rows of the comparison for other panels: more of another kind, facing or with a back that makes too; the same ones on a roof."""

import numpy as np
import pytest

from sundial.answers.worth.command import compare_answer
from sundial.brief.read import brief_of
from sundial.errors import BriefError
from sundial.study import studied
from sundial.worth.comparison import compare
from sundial.worth.verdict import verdict
from sundial.worth.whole import whole_build

RACK = {
    "format": "crooked-sundial-brief", "version": 1, "name": "Rack behind the barn",
    "site": {"latitude": 46.2, "longitude": 11.3, "elevation": 300, "timezone": "Europe/Rome"},
    "sky": {"kind": "made-up", "name": "foggy-continental", "seed": 7},
    "panel": {"power": 380, "length": 1.76, "width": 1.05, "mass": 20},
    "array": {"rows": 1, "columns": 5, "orientation": "portrait", "azimuth": 190, "clearance": 0.7},
    "mount": {"kind": "fixed", "tilt": 36},
    "use": {"kind": "grid", "import_price": 0.3, "export_price": 0.08, "own_share": 0.5},
    "worth": {"life": 20, "interest": 0.02, "panel_cost": 150, "spent": 1800},
    "yard": {"objects": [{"kind": "building", "name": "barn", "footprint": [[-9, -9], [-4, -9], [-4, 4], [-9, 4]], "height": 4.5}]},
}  # fmt: skip


def told(*options, **changes):
    return studied(brief_of({**RACK, "options": list(options), **changes}))


def row_of(study, name):
    return next(row for row in compare(study).rows if row.name == name)


def limited(power):
    return {"inverter": {"power": power, "efficiency": 0.96}}


def test_more_that_face_another_way_make_what_such_an_array_makes_here():
    study = told({"name": "Three to the west", "panels": {"count": 3, "azimuth": 262, "tilt": 18}})
    row = row_of(study, "Three to the west")
    there = told(array={**RACK["array"], "azimuth": 262}, mount={"kind": "fixed", "tilt": 18}).production().year
    assert row.extra_kwh == pytest.approx(there * 3 / 5, rel=1e-6)
    assert row.extra_cost == 450 and row.panels_only and row.added_panels == 3


def test_an_inverter_takes_no_more_than_it_takes():
    options = [{"name": "West", "panels": {"count": 4, "azimuth": 262, "tilt": 18}}, {"name": "Same way", "panels": {"count": 4}}]
    free, tight = told(*options), told(*options, system=limited(1500))
    west, same = row_of(tight, "West"), row_of(tight, "Same way")
    assert west.extra_kwh < row_of(free, "West").extra_kwh
    base = tight.held_year(36.0).hourly
    unlimited = free.held_year(36.0).hourly
    assert same.extra_kwh == pytest.approx(float((np.minimum(unlimited * 9 / 5, 1500) - base).sum()) / 1000, rel=1e-6)
    assert west.extra_kwh / row_of(free, "West").extra_kwh > same.extra_kwh / row_of(free, "Same way").extra_kwh


def test_two_sided_ones_gain_by_ground_and_height():
    def extra(albedo, clearance):
        study = told(
            {"name": "Two-sided", "panels": {"count": 2, "bifaciality": 0.8}}, {"name": "One-sided", "panels": {"count": 2, "bifaciality": 0}},
            ground={"albedo": albedo}, array={**RACK["array"], "clearance": clearance},
        )  # fmt: skip
        return row_of(study, "Two-sided").extra_kwh - row_of(study, "One-sided").extra_kwh

    dark, bright, low = extra(0.15, 0.9), extra(0.6, 0.9), extra(0.6, 0.15)
    assert 0 < dark < bright and low < bright


def test_stronger_ones_count_by_their_nameplate_and_have_no_price_until_told():
    study = told({"name": "Strong", "panels": {"count": 2, "power": 475}}, {"name": "Like these", "panels": {"count": 2}})
    strong, like = row_of(study, "Strong"), row_of(study, "Like these")
    assert strong.extra_kwh == pytest.approx(like.extra_kwh * 475 / 380, rel=1e-6)
    assert strong.extra_cost is None and like.extra_cost == 300


def test_the_same_panels_on_the_roof_that_is_there():
    study = told({"name": "Barn roof", "panels": {"azimuth": 320, "tilt": 27}, "extra_cost": -600})
    row = row_of(study, "Barn roof")
    there = told(array={**RACK["array"], "azimuth": 320}, mount={"kind": "fixed", "tilt": 27}).production().year
    assert row.energy == pytest.approx(there, rel=1e-6)
    assert row.extra_kwh < 0 and not row.panels_only and row.tilt == 27
    whole = whole_build(study, compare(study))
    (one,) = whole.elsewhere
    assert one.energy == row.energy and one.value == pytest.approx(whole.value + row.saved, rel=1e-6)
    assert one.may_cost > 0
    assert compare_answer(study)["whole"]["elsewhere"][0]["name"] == "Barn roof"


def test_a_row_that_wins_is_called_by_its_name_and_no_change_of_angle():
    study = told(
        {"name": "The south roof", "panels": {"azimuth": 180, "tilt": 34}, "extra_cost": -50}, mount={"kind": "fixed", "tilt": 70}
    )
    found = verdict(study, compare(study))
    assert "The south roof" in found.headline + " ".join(found.sentences)
    assert "change the angle: “The south roof”" not in found.headline


def test_it_is_other_panels_or_another_way_of_holding_these():
    with pytest.raises(BriefError) as caught:
        compare(told({"name": "Both", "panels": {"count": 2}, "mount": {"kind": "two-axis"}}))
    assert caught.value.path == "options[0].panels"


def test_where_they_would_stand_in_something_is_said():
    wall = {
        "objects": [{"kind": "building", "name": "shed", "footprint": [[-3, 0.6], [-0.5, 0.6], [-0.5, 4], [-3, 4]], "height": 3}]
    }
    with pytest.raises(BriefError) as caught:
        compare(told({"name": "Turned", "panels": {"azimuth": 90, "tilt": 20}}, yard=wall, array={**RACK["array"], "azimuth": 0}))
    assert caught.value.path == "options[0].panels" and "shed" in caught.value.message
