"""The shade of the house that a build hangs on: as if somebody had drawn it, wherever it faces and however it stands."""

from math import cos, radians, sin

import numpy as np
import pytest

from sundial.brief.read import brief_of
from sundial.errors import BriefError
from sundial.siting.facings import facings
from sundial.study import studied

LENGTH, BREADTH = 1.72, 2 * 1.13 + 0.02
BALCONY = {
    "format": "crooked-sundial-brief", "version": 1, "name": "Balcony over the lane",
    "site": {"latitude": 47.1, "longitude": 8.3, "elevation": 430, "timezone": "Europe/Zurich"},
    "sky": {"kind": "made-up", "name": "green-maritime", "seed": 2},
    "panel": {"power": 400, "length": 1.72, "width": 1.13, "mass": 21},
    "array": {"rows": 1, "columns": 2, "orientation": "portrait", "azimuth": 247, "clearance": 0.1},
    "mount": {"kind": "fixed", "tilt": 62},
    "stand": {"on": "railing", "height": 5.4, "house": {"height": 11, "width": 14, "aside": 2.5, "behind": 1.4, "depth": 9, "out": 2.3, "under": 8.1}},
}  # fmt: skip


def told(**changes):
    return studied(brief_of({**BALCONY, **changes}))


def with_house(**changes):
    return {**BALCONY["stand"], "house": {**BALCONY["stand"]["house"], **changes}}


def drawn(azimuth: float, tilt: float) -> dict:
    """The wall of that house drawn by hand in the yard: the glass turns about its lower edge over the spot."""
    house, turn = BALCONY["stand"]["house"], radians(azimuth)
    face, right = np.array([sin(turn), cos(turn)]), np.array([-cos(turn), sin(turn)])
    near = LENGTH * cos(radians(tilt)) + house["behind"]
    ends = [-near * face + side * right for side in (2.5 - 7, 2.5 + 7)]
    far = [end - 9 * face for end in reversed(ends)]
    footprint = [[float(one) for one in end] for end in (*ends, *far)]
    return {"objects": [{"kind": "building", "name": "house", "footprint": footprint, "height": 11}]}


@pytest.mark.parametrize(("azimuth", "tilt"), [(247.0, 62.0), (161.0, 24.0)])
def test_it_shades_as_if_it_were_drawn(azimuth, tilt):
    changes = {"array": {**BALCONY["array"], "azimuth": azimuth}, "mount": {"kind": "fixed", "tilt": tilt}}
    own = told(**changes, stand=with_house(out=None, under=None))
    by_hand = told(**changes, stand={"on": "railing", "height": 5.4}, yard=drawn(azimuth, tilt))
    bare = told(**changes, stand={"on": "railing", "height": 5.4})
    made = [study.held_year(tilt).year for study in (own, by_hand, bare)]
    assert made[0] == pytest.approx(made[1], rel=1e-9)
    assert made[0] < made[2] * 0.998


def test_what_stands_out_over_it_takes_the_high_sun():
    over, without = told(), told(stand=with_house(out=None, under=None))
    lost = without.held_year(62.0).energy - over.held_year(62.0).energy
    summer, winter = lost[150:200].sum(), lost[340:365].sum() + lost[:25].sum()
    assert summer > 3 * winter >= 0
    out = [told(stand=with_house(out=far)).held_year(62.0).year for far in (0.8, 1.6, 2.3)]
    assert out[0] > out[1] > out[2]


def test_facings_turn_the_house_with_the_glass():
    table = facings(told().scene, (95.0, 247.0), (30.0, 62.0))
    for azimuth, row in zip(table.azimuths, table.energy, strict=True):
        turned = told(array={**BALCONY["array"], "azimuth": azimuth})
        assert row[1] == pytest.approx(turned.held_year(62.0).year, rel=1e-9)


def test_it_stands_behind_the_flattest_of_its_tilts():
    moved = told(mount={"kind": "stepped", "tilts": [10, 40, 80]}, stand=with_house(out=None, under=None))
    wall = moved.scene.yard.things[0]
    turn = radians(247.0)
    near = max(np.array(wall.footprint) @ np.array([sin(turn), cos(turn)]))
    assert near == pytest.approx(-(LENGTH * cos(radians(10)) + 1.4), abs=1e-9)
    assert [thing.name for thing in told().scene.yard.things] == ["Its own house", "What stands out over it"]


def test_a_name_that_is_taken_is_left_to_whom_it_belongs():
    tree = {"kind": "tree", "name": "Its own house", "at": [-6, -9], "crown_radius": 1.5, "height": 5}
    names = [thing.name for thing in told(yard={"objects": [tree]}).scene.yard.things]
    assert names == ["Its own house", "Its own house too", "What stands out over it"]


def test_half_a_canopy_is_refused():
    with pytest.raises(BriefError) as caught:
        told(stand=with_house(under=None))
    assert caught.value.path == "stand.house.under"
