"""What stands in a yard: slopes, roofs, crowns, walls, posts, groups, trackers; and what is refused."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from sundial.answers.siting.report import shade_report
from sundial.energy.shaded import SKYLINE
from sundial.errors import BriefError
from sundial.frame.panels import Array, Panel
from sundial.shade.array_trace import trace_array
from sundial.shade.block_irradiance import block_irradiance
from sundial.shade.geometry import ArrayGeometry, FramePart
from sundial.shade.ground import Ground
from sundial.shade.shadows import outlines, shadows, skyline_of
from sundial.shade.yard import Barrier, Building, Post, Tree, Yard
from sundial.siting.costs import shade_costs
from tests.core.conftest import study_of
from tests.core.test_shade import ARRAY, HOUSE, POST, QUARTERS, TREE, WALL, YARD, fixed
from tests.core.wall_table import as_markdown


def test_a_sloping_yard_lifts_what_stands_uphill():
    wall = Barrier("Wall", ((-60, -20), (60, -20)), 6.0, thickness=0.001)
    falls_north = Yard((wall,), Ground(5.0, 0.0))
    found = skyline_of(falls_north, np.array([0.0, 0.0, 1.0]), np.array([180.0]))
    np.testing.assert_allclose(found, np.degrees(np.arctan((5 + 20 * np.tan(np.radians(5))) / 20)), atol=0.02)


def test_roofs_against_the_sky():
    """TracedFacing along its ridge a gable shows its height in the middle; a lean-to its high side."""
    foot = ((-3.0, -16.0), (3.0, -16.0), (3.0, -10.0), (-3.0, -10.0))
    eye = np.array([0.0, 0.0, 1.0])
    gable = Yard((Building("Barn", foot, 3.0, "gable", 5.0, 0.0),))
    assert skyline_of(gable, eye, np.array([180.0]))[0] == pytest.approx(np.degrees(np.arctan(4 / 10)), abs=0.05)
    flat = Yard((Building("Barn", foot, 3.0),))
    assert skyline_of(flat, eye, np.array([180.0]))[0] == pytest.approx(np.degrees(np.arctan(2 / 10)), abs=0.05)
    falling_north = Yard((Building("Barn", foot, 3.0, "lean-to", 5.0, 0.0),))
    assert skyline_of(falling_north, eye, np.array([180.0]))[0] == pytest.approx(np.degrees(np.arctan(4 / 16)), abs=0.05)


def test_a_crown_hangs_over_what_is_under_it():
    tree = Yard((Tree("Elm", (0, -10), 2.0, 8.0, 4.0, trunk_radius=0.2),))
    crown, trunk = outlines(tree, np.array([0.0, 0.0, 0.5]))
    assert crown.low.min() > 15
    top = np.arctan(5.5 / 10) + np.arcsin(2 / np.hypot(10, 5.5))  # the tangent to a ball of 2 m
    assert crown.high.max() == pytest.approx(np.degrees(top), abs=0.1)
    assert trunk.low.max() == 0
    assert np.ptp(trunk.azimuths) < 3 < np.ptp(crown.azimuths)


def test_a_shadow_is_as_long_as_the_sun_is_low():
    (shadow,) = shadows(Yard((Post("Mast", (0, 0), 4.0, 0.1),)), 180.0, 45.0, 5)
    assert shadow.rings[0][:, 1].max() == pytest.approx(4.05, abs=0.02)
    assert shadows(Yard((Post("Mast", (0, 0), 4.0, 0.1),)), 180.0, 1.0, 5) == []


def test_a_low_wall_tells_full_cells_from_half_cut():
    """Its shadow on the lowest cells stops a whole-cell panel in portrait, half of a half-cut one, and one block in three
    of a panel in landscape."""
    sun = np.array([[0.0, -np.cos(np.radians(20)), np.sin(np.radians(20))]])
    shares = {}
    for name, half, portrait in (("full", False, True), ("half", True, True), ("landscape", False, False)):
        array = Array(Panel(430, 1.722, 1.134, half_cut=half), 1, 4, 180.0, portrait, 0.5)
        wall = Yard((Barrier("Wall", ((-9, -1.5), (9, -1.5)), 1.2),))  # its shadow ends some 0.25 m up the slope
        geometry = ArrayGeometry(array)
        lit = block_irradiance(trace_array(geometry, wall, sun, np.array([35.0]), np.array([180.0])), geometry.cells)
        wired = geometry.sections.wired
        shares[name] = float(wired.share(wired.ranked(lit.sections[0]))[0])
        assert 0.02 < 1 - lit.mean[0, 0] < 0.25, "the shadow itself is small"
    assert shares["full"] == 0
    assert shares["half"] == pytest.approx(0.5)
    assert shares["landscape"] == pytest.approx(2 / 3)


def test_wiring_changes_what_a_shadow_costs():
    tree = {"objects": [{**TREE, "at": [5, -5], "crown_radius": 2}]}
    series, parallel, own = (
        fixed(yard=tree, wiring=wiring).production().year
        for wiring in ({"kind": "series"}, {"kind": "parallel", "strings": QUARTERS}, {"kind": "own"})
    )
    assert series < parallel < own


def test_groups_behind_each_other_shade_and_a_rail_does_too():
    plain = fixed().production().year
    near, far = (fixed(spot={"split": {"groups": 2, "how": "behind", "distance": d}}).production().year for d in (2.2, 8.0))
    assert near < far <= plain * 1.0001
    rail = {"name": "Rail", "along": [-3, 3], "up": [-0.15, -0.1], "off": [0.0, 0.25]}
    assert fixed(spot={"parts": [rail]}).production().year < plain * 0.999


def test_a_post_shades_one_panel_and_not_the_next():
    geometry = ArrayGeometry(ARRAY)
    sun = np.array([[0.0, -np.cos(0.5), np.sin(0.5)]])
    post = Yard((Post("Post", (0.67, -0.6), 3.0, 0.15),))
    found = block_irradiance(trace_array(geometry, post, sun, np.array([30.0]), np.array([180.0])), geometry.cells)
    lit = found.sections[0, 0].reshape(8, 3).min(axis=1)
    assert lit[[0, 1, 3]].min() == 1
    assert lit[2] < 1


def test_trackers_stand_in_the_same_yard():
    for mount in ({"kind": "two-axis"}, {"kind": "one-axis"}):
        shaded, bare = study_of(mount=mount, yard=YARD).production(), study_of(mount=mount).production()
        assert 0.6 * bare.year < shaded.year < 0.99 * bare.year
        assert shaded.ledger["shade"] > 0
        taken = sum(shaded.ledger.values())
        assert shaded.label_energy - taken == pytest.approx(shaded.year)


# -- what cannot be ------------------------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("thing", "path", "words"),
    [
        ({**HOUSE, "footprint": [[0, 0], [4, 4], [4, 0], [0, 4]]}, "footprint", "crosses itself"),
        ({**HOUSE, "ridge": 2.0}, "ridge", "under its eaves"),
        ({**TREE, "crown_base": 9.5}, "crown_base", "above its top"),
        ({**WALL, "height": -2}, "height", "more than 0"),
        ({**WALL, "line": [[0, 0], [9000, 0]]}, "line[1]", "500 m"),
        ({**WALL, "line": [[1, 1], [1, 1]]}, "line", "no length"),
        ({**POST, "width": 0}, "width", "wide"),
        ({**TREE, "light_bare": 1.4}, "light_bare", "share"),
    ],
)
def test_impossible_objects_are_refused(thing, path, words):
    with pytest.raises(BriefError, match=words) as refused:
        _ = fixed(yard={"objects": [thing]}).scene.yard
    assert refused.value.path == f"yard.objects[0].{path}"


def test_the_array_inside_something_and_names_twice():
    for thing in (
        {**HOUSE, "footprint": [[-5, -3], [5, -3], [5, 4], [-5, 4]]},
        {**TREE, "at": [0, 0.5]},
        {**WALL, "line": [[-3, 0.6], [3, 0.6]]},
    ):
        with pytest.raises(BriefError, match="stands inside") as refused:
            fixed(yard={"objects": [thing]}).production()
        assert refused.value.path == "spot"
    with pytest.raises(BriefError, match="there twice"):
        _ = fixed(yard={"objects": [TREE, {**POST, "name": "Walnut"}]}).scene.yard


def test_a_thousand_things_are_refused_in_words():
    many = [{**POST, "name": f"Post {i}", "at": [i % 40, 20 + i // 40]} for i in range(1000)]
    with pytest.raises(BriefError, match="200 are the most"):
        _ = fixed(yard={"objects": many}).scene.yard


@pytest.mark.parametrize(
    ("wiring", "words"),
    [
        ({"kind": "series", "strings": [[1, 2, 3]]}, "panel 4 is in no string"),
        ({"kind": "parallel", "strings": [[1, 2, 3, 4], [5, 6, 7, 7, 8]]}, "wired twice"),
        ({"kind": "parallel", "strings": [[1, 2, 3, 4], [5, 6, 7, 9]]}, "the array has 8"),
        ({"kind": "series", "strings": [[1, 2, 3, 4], [5, 6, 7, 8]]}, "one string"),
    ],
)
def test_impossible_wirings_are_refused(wiring, words):
    with pytest.raises(BriefError, match=words):
        fixed(yard=YARD, wiring=wiring).production()


def test_groups_that_do_not_divide_and_parts_turned_round():
    with pytest.raises(BriefError, match="cannot be parted"):
        fixed(spot={"split": {"groups": 3, "how": "behind", "distance": 3}}).production()
    with pytest.raises(BriefError, match="beyond where it begins"):
        FramePart("Clamp", (0.2, 0.1), (0, 1), (0, 1))


def test_a_rail_over_the_edge_and_a_skyline_have_their_price():
    rail = {"kind": "rail", "name": "Rail", "line": [[-3, -0.3], [3, -0.3]], "height": 1.2, "thickness": 0.08}
    study = fixed(yard={"objects": [rail, TREE]}, horizon=[[90, 4], [180, 15], [270, 4]])
    prices = shade_costs(study)
    assert {price.name for price in prices} == {"Rail", "Walnut", SKYLINE}
    assert min(price.kwh for price in prices) > 5
    assert sum(price.share for price in prices) == pytest.approx(shade_report(study).loss)


def test_the_table_of_the_low_wall_is_the_codes_own():
    text = (Path(__file__).parents[2] / "docs" / "method.md").read_text()
    assert text.partition("<!-- wall -->\n")[2].partition("\n<!-- /wall -->")[0] == as_markdown()
