"""Several builds in one yard: the shade of one on another, sums, and arrays on one string."""

from __future__ import annotations

import json
from dataclasses import replace
from itertools import product

import numpy as np
import pytest

from sundial.answers.group.report import group_report, together
from sundial.balance.flows import balance
from sundial.brief.model import Brief
from sundial.brief.read import brief_of
from sundial.cli import main
from sundial.errors import BriefError
from sundial.group.standing import among, as_things, stands_by_month
from sundial.group.wiring import string_power, widest_angle
from sundial.money.tariff import tariff_of, value_by_month
from sundial.mounts.facing import Facing
from sundial.scene import Scene
from sundial.shade.ground import Ground
from sundial.shade.other_array import OtherArray
from sundial.shade.solids import hits
from sundial.study import studied


def brief(name: str = "Fence row", *, latitude: float = 42.9, **changes: object) -> Brief:
    data = {
        "format": "crooked-sundial-brief",
        "version": 1,
        "name": name,
        "site": {"latitude": latitude, "longitude": -6.1, "elevation": 870, "timezone": "Europe/Madrid"},
        "sky": {"kind": "made-up", "name": "dry-upland"},
        "panel": {"power": 430, "length": 1.722, "width": 1.134, "mass": 21.5, "gamma": -0.0034},
        "array": {"rows": 1, "columns": 3, "clearance": 0.5},
        "mount": {"kind": "fixed", "tilt": 30},
        "wiring": {"kind": "own"},
    }
    return brief_of({**data, **changes})


def test_two_builds_make_what_two_rows_of_one_make():
    rows = brief(
        array={"rows": 2, "columns": 3, "clearance": 0.5},
        spot={"split": {"groups": 2, "how": "behind", "distance": 2.6}},
    )
    front = brief("Front")
    back = brief("Back", spot={"y": 2.6})
    found = group_report(together([studied(front), studied(back)]))
    whole = studied(rows)
    lost = whole.open_sky.production().year - whole.production().year
    assert found.lost == pytest.approx(lost, rel=0.01)  # at a tilt that is traced, not read between two
    by_name = {member.name: member for member in found.members}
    assert by_name["Back"].lost > 50  # kWh: the front row stands before it
    assert by_name["Front"].lost < 0.1 * by_name["Back"].lost
    assert by_name["Back"].taken_by == (("Front", pytest.approx(by_name["Back"].lost)),)


def test_the_yard_mirrors_south_of_the_equator():
    north = group_report(together([studied(brief("Front")), studied(brief("Back", spot={"y": 2.6}))]))
    turned = {"latitude": -42.9}
    south = group_report(together([studied(brief("Front", **turned)), studied(brief("Back", spot={"y": -2.6}, **turned))]))
    shares = [found.members[1].lost / found.members[1].alone for found in (north, south)]
    assert shares[0] == pytest.approx(shares[1], rel=0.25)  # another half-year's clouds
    assert south.members[0].lost < 0.1 * south.members[1].lost


def test_of_three_each_is_told_what_it_takes():
    builds = [brief("Front"), brief("Middle", spot={"y": 2.4}), brief("Back", spot={"y": 4.8})]
    found = group_report(together([studied(each) for each in builds]))
    back = dict(found.members[2].taken_by)
    assert back["Middle"] > 5 * back["Front"] >= 0
    assert found.lost == pytest.approx(sum(member.lost for member in found.members))
    assert np.sum(found.by_month) == pytest.approx(found.energy)


def test_an_array_that_stands_otherwise_in_winter_shades_by_month():
    tilts = (50.0, *[20.0] * 10, 50.0)
    other = OtherArray("Planter", (0, 0), 180, tilts, 3.0, 1.7, 0.4)
    layers = other.layers(Ground())
    assert sorted(tuple(layer.light) for layer in layers) == sorted(
        [tuple(0.0 if tilt == now else 1.0 for tilt in tilts) for now in (20.0, 50.0)]
    )
    tops = {float(layer.solids[0].corners[:, 2].max()) for layer in layers}
    edge = 0.4 + 1.7 * np.sin(np.radians([20, 50]))
    assert sorted(tops) == pytest.approx(sorted(edge), abs=1e-9)


def lit_area(solids, toward: np.ndarray, size: float = 6.0, count: int = 241) -> float:
    """Area of a shadow square to the light, m2, by a grid of rays."""
    across = np.cross(toward, [0.0, 0.0, 1.0])
    across /= np.linalg.norm(across)
    up = np.cross(across, toward)
    steps = np.linspace(-size / 2, size / 2, count)
    grid = np.array([a * across + b * up for a, b in product(steps, steps)]) + np.array([0, 0, 2.0]) - 20 * toward
    met = hits(solids, grid, toward[None, :])[0]
    return float(met.mean() * (size * count / (count - 1)) ** 2)


def direction(azimuth: float, elevation: float) -> np.ndarray:
    a, e = np.radians([azimuth, elevation])
    return np.array([np.cos(e) * np.sin(a), np.cos(e) * np.cos(a), np.sin(e)])


@pytest.mark.parametrize(("azimuth", "elevation"), [(100, 12), (215, 48)])
def test_what_follows_the_sun_shades_with_its_whole_glass(azimuth, elevation):
    other = OtherArray("Pole", (0, 0), 180, (0.0,) * 12, 2.3, 1.7, 1.15, on_pole=True, follows="sun")
    area = lit_area(other.layers(Ground())[0].solids, direction(azimuth, elevation))
    assert area == pytest.approx(2.3 * 1.7, rel=0.02)


def test_what_rolls_shades_as_wide_as_its_glass_across_the_axis():
    level = OtherArray("Tube", (0, 0), 180, (0.0,) * 12, 3.4, 1.7, 1.15, on_pole=True, follows="axis", axis_azimuth=180)
    for elevation in (14, 33, 71):  # the sun across the axis
        area = lit_area(level.layers(Ground())[0].solids, direction(90, elevation))
        assert area == pytest.approx(3.4 * 1.7, rel=0.03)
    leaning = OtherArray(
        "Mast", (0, 0), 180, (0.0,) * 12, 2.3, 3.4, 0.3, on_pole=True, follows="axis", axis_tilt=30, axis_azimuth=180
    )
    noon = lit_area(leaning.layers(Ground())[0].solids, direction(180, 60))
    assert noon == pytest.approx(2.3 * 3.4, rel=0.03)


def test_neighbours_see_a_frame_at_the_rule_of_the_trade():
    moved = brief(mount={"kind": "stepped", "tilts": [16, 31, 43, 57]})
    tilts = stands_by_month(Scene(moved))
    assert tilts.tolist() == [57, 57, 57, 31, 31, 31, 31, 31, 31, 57, 57, 57]  # 42.9 plus and less 15
    still = brief(mount={"kind": "stepped", "tilts": [16, 31, 43, 57]}, plan={"settings": 1})
    assert set(stands_by_month(Scene(still))) == {43.0}
    windy = brief(mount={"kind": "stepped", "tilts": [16, 31, 43, 57]}, plan={"cap": [45] * 3 + [90] * 9})
    assert stands_by_month(Scene(windy)).tolist()[:3] == [43, 43, 43]
    south = brief(latitude=-42.9, mount={"kind": "stepped", "tilts": [16, 31, 43, 57]})
    assert stands_by_month(Scene(south)).tolist()[:3] == [31, 31, 31]


def test_a_flap_is_seen_as_it_lies_at_noon():
    flap = brief(mount={"kind": "hinge", "min_tilt": 0, "max_tilt": 55})
    tilts = stands_by_month(Scene(flap))
    assert tilts[5] == pytest.approx(42.9 - 23.3, abs=0.3)
    assert tilts[0] == 55  # 42.9 + 21.2 would be more than it reaches
    assert tilts[2] == pytest.approx(42.9 + 2.6, abs=0.8)


def test_trackers_are_told_apart():
    pole = brief(mount={"kind": "two-axis"}, array={"rows": 1, "columns": 2, "clearance": 1})
    assert as_things(Scene(pole))[0].follows == "sun"
    tube = brief(mount={"kind": "one-axis", "axis_azimuth": 170, "axis_tilts": [10, 30]})
    (thing,) = as_things(Scene(tube))
    assert (thing.follows, thing.axis_tilt, thing.axis_azimuth) == ("axis", 20, 170)


def test_every_row_of_a_split_array_stands_in_the_way():
    split = brief(
        array={"rows": 2, "columns": 3, "clearance": 0.5}, spot={"x": 4, "split": {"groups": 2, "how": "behind", "distance": 3}}
    )
    things = as_things(Scene(split))
    assert [(thing.name, thing.at) for thing in things] == [
        ("Fence row, panels", (4, 0)),
        ("Fence row, panels, row 2", (pytest.approx(4), pytest.approx(3))),
    ]
    alone = brief("Planter")
    mixed = among(among(alone, things), things)  # again: nothing stands there twice
    assert [thing.name for thing in mixed.yard.objects] == ["Fence row, panels", "Fence row, panels, row 2"]
    assert among(alone, []) is alone


def test_one_string_carries_one_current():
    generator = np.random.default_rng(5)
    power, counts = generator.uniform(0, 400, (3, 50)), [4, 3, 7]
    brute = []
    for hour in power.T:
        panels = np.repeat(hour, counts)
        brute.append(max(level * (panels >= level).sum() for level in panels))
    assert string_power(power, counts) == pytest.approx(brute)


def test_planes_apart_are_measured_by_their_normals():
    flat, east = np.full(3, 20.0), np.full(3, 90.0)
    angle = widest_angle([Facing(flat, east), Facing(flat, east + 180)], np.array([True, True, False]))
    assert angle == pytest.approx(40)


def test_a_string_over_two_facings_is_warned_about():
    wired = {"kind": "series", "string": "A"}
    east = brief("Morning", array={"rows": 1, "columns": 3, "azimuth": 100}, wiring=wired)
    west = brief("Evening", array={"rows": 1, "columns": 3, "azimuth": 260}, wiring=wired, spot={"x": 12, "y": 9})
    (string,) = group_report(together([studied(east), studied(west)])).strings
    assert string.matters and string.builds == ("Morning", "Evening")
    assert 0.15 < string.share < 0.4  # each is dark while the other shines
    alike = brief("Evening", array={"rows": 1, "columns": 3, "azimuth": 100}, wiring=wired, spot={"x": 40, "y": 9})
    (same,) = group_report(together([studied(east), studied(alike)])).strings
    assert not same.matters and same.lost < 1


@pytest.mark.parametrize(
    ("second", "said"),
    [
        (brief("Fence row", spot={"y": 9}), "two names"),
        (brief("Planter", site={"latitude": 42.93, "longitude": -6.1, "timezone": "Europe/Madrid"}), "more than a kilometre"),
        (brief("", spot={"y": 9}), "needs a name"),
    ],
)
def test_what_is_no_group_is_refused(second, said):
    with pytest.raises(BriefError, match=said):
        together([studied(brief()), studied(second)])


def test_two_arrays_in_one_spot_are_refused():
    studies = together([studied(brief()), studied(brief("Planter", mount={"kind": "fixed", "tilt": 60}, spot={"y": 0.3}))])
    with pytest.raises(BriefError, match="inside “"):
        group_report(studies)


def test_the_command_answers_for_the_whole_yard(tmp_path, capsys):
    paths = []
    for each in (brief("Front"), brief("Back", spot={"y": 2.6})):
        paths.append(str(tmp_path / f"{each.name}.json"))
        (tmp_path / f"{each.name}.json").write_text(json.dumps(each.model_dump(mode="json", exclude_none=True)))
    assert main(["group", *paths]) == 0
    answer = json.loads(capsys.readouterr().out)
    assert answer["energy"] == pytest.approx(sum(build["energy"] for build in answer["builds"]))
    assert answer["builds"][1]["taken_by"]["Front"] == pytest.approx(answer["lost"], rel=0.2)
    assert main(["group", *paths, paths[0]]) == 2
    assert "two names" in capsys.readouterr().err


def test_the_builds_of_a_yard_share_one_use_and_battery():
    """The whole yard through one meter is worth less than each through a meter of its own; and what one of them is worth beside the
    other is what it adds."""
    use, battery = {"kind": "grid", "yearly": 2400.0, "import_price": 0.3, "export_price": 0.04}, {"usable": 3.0}
    both = together(
        [studied(brief("Front", use=use, battery=battery)), studied(brief("Back", spot={"y": 6.0}, use=use, battery=battery))]
    )
    found = group_report(both)
    assert found.used is not None and found.used.made == pytest.approx(found.energy)
    assert found.used.demand == pytest.approx(2400.0)
    hours = [study.production().hourly for study in both]

    def worth(made: np.ndarray) -> float:
        needs = both[0].needs
        return float(value_by_month(balance(made[None], needs), needs, tariff_of(both[0].brief, 1.0)).sum())

    assert found.worth == pytest.approx(worth(hours[0] + hours[1]))
    assert found.worth < worth(hours[0]) + worth(hours[1])
    beside = replace(both[1], shared_hours=hours[0])
    alone = value_by_month(balance(hours[1][None], beside.needs), beside.needs, tariff_of(both[1].brief, 1.0)).sum()
    assert alone == pytest.approx(found.worth - worth(hours[0]))
    assert group_report(together([studied(brief("Front"))])).used is None, "a share has no hours"
