"""More than two rows of posts: the rail's share of each, statics that close, and footing row by row."""

from dataclasses import replace
from math import cos, radians, tan

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from sundial.answers.footing.command import footing_answer
from sundial.answers.frame.command import frame_answer
from sundial.answers.wind.command import wind_answer
from sundial.brief.read import brief_of
from sundial.errors import BriefError
from sundial.frames.feet import Resultant, shared
from sundial.frames.legs import ROW, Legs
from sundial.frames.load_path import GRAVITY
from sundial.frames.rows import rail_reactions, shared_by_rows
from sundial.study import studied
from sundial.wind.members import load_paths
from sundial.wind.pressure import standard_coefficients
from sundial.wind.stance import Rig, stance
from sundial.wind.standing import Air, pushes, weights

AIR = Air(1.225, standard_coefficients(), measured_at=None)
HUT = {
    "format": "crooked-sundial-brief", "version": 1, "name": "Hut under the ridge",
    "site": {"latitude": 44.3, "longitude": 7.4, "elevation": 900, "timezone": "Europe/Rome"},
    "sky": {"kind": "made-up", "name": "dry-upland", "seed": 3},
    "panel": {"power": 400, "length": 1.72, "width": 1.13, "mass": 21},
    "array": {"rows": 3, "columns": 3, "orientation": "portrait", "azimuth": 170, "clearance": 0.5},
    "mount": {"kind": "fixed", "tilt": 33},
    "frame": {"kind": "legs", "front_height": 0.5, "overhang": 0.35, "support_spacing": 4.4, "middle_supports": [1.1, 2.2, 3.3], "slope": 6, "frames": 2},
    "wind": {"gust": 31, "anchored": True},
    "footing": {"kind": "post", "diameter": 0.25, "soil": "silty sand", "frost_depth": 0.3},
    "snow": {"load": 1.4},
}  # fmt: skip


def told(**changes):
    return brief_of({**HUT, **changes})


@pytest.mark.parametrize(
    ("supports", "spans"),
    [((0, 2), (0.5, 0.5)), ((0, 1, 2), (0.375, 1.25, 0.375)), ((0, 1, 2, 3), (0.4, 1.1, 1.1, 0.4)), ((0, 1, 2, 3, 4), (11 / 28, 32 / 28, 26 / 28, 32 / 28, 11 / 28))],
)  # fmt: skip
def test_an_even_load_on_equal_spans_gives_the_tables_reactions(supports, spans):
    length = float(supports[-1])
    span = length / (len(supports) - 1)
    got = rail_reactions(length, tuple(map(float, supports)), 700.0 * length, length / 2)
    assert got == pytest.approx([700.0 * span * one for one in spans], rel=1e-9)


def test_unequal_spans_agree_with_the_three_moment_equation():
    w, a, b = 900.0, 1.3, 2.1
    moment = -w * (a**3 + b**3) / (8 * (a + b))  # over the middle support
    front, back = w * a / 2 + moment / a, w * b / 2 + moment / b
    got = rail_reactions(a + b, (0.0, a, a + b), w * (a + b), (a + b) / 2)
    assert got == pytest.approx([front, w * (a + b) - front - back, back], rel=1e-9)


def test_a_rail_agrees_with_a_beam_of_finite_elements():
    length, supports, force, at = 4.9, (0.3, 1.5, 3.1, 4.4), 2600.0, 2.9
    n = 980
    h, middle = length / n, 12 * at / length - 6
    stiff = np.array([[12, 6 * h, -12, 6 * h], [6 * h, 4 * h * h, -6 * h, 2 * h * h], [-12, -6 * h, 12, -6 * h], [6 * h, 2 * h * h, -6 * h, 4 * h * h]]) / h**3  # fmt: skip
    whole, load = np.zeros((2 * n + 2, 2 * n + 2)), np.zeros(2 * n + 2)
    for element in range(n):
        ends = slice(2 * element, 2 * element + 4)
        whole[ends, ends] += stiff
        q = force / length * (1 - middle / 2 + middle * (element + 0.5) / n)
        load[ends] += q * np.array([h / 2, h * h / 12, h / 2, -h * h / 12])
    held = [2 * round(one / h) for one in supports]
    free = [one for one in range(2 * n + 2) if one not in held]
    bent = np.zeros(2 * n + 2)
    bent[free] = np.linalg.solve(whole[np.ix_(free, free)], load[free])
    reactions = -(whole[held] @ bent - load[held])
    assert rail_reactions(length, supports, force, at) == pytest.approx(reactions.tolist(), rel=2e-3)


@st.composite
def racks(draw):
    gaps = draw(st.lists(st.floats(ROW, 1.4), min_size=2, max_size=5))
    places = np.cumsum(gaps).tolist()
    return Legs(
        front_height=draw(st.floats(0.1, 1.0)),
        overhang=draw(st.floats(0.0, 0.5)),
        slope=draw(st.sampled_from([0.0, -11.0, 8.0, 19.0])),
        spacing=places[-1],
        middle=tuple(places[:-1]),
        frames=3,
    )


@given(racks(), st.floats(5, 70), st.floats(0, 1500), st.booleans(), st.sampled_from(["front", "back"]), st.floats(0, 300))
def test_forces_and_moment_close_over_all_rows(structure, tilt, pressure, anchored, direction, ballast):
    length = structure.overhang + structure.spacing + 0.3
    rig = Rig(
        structure=structure,
        length=length,
        breadth=3.0,
        area=length * 3,
        moving=140.0,
        fixed=55.0,
        ballast=ballast,
        anchored=anchored,
    )
    how = stance(rig, tilt)
    for push in pushes(rig, AIR, how)[direction]:
        held = load_paths(rig, how, push, pressure).feet
        assert len(held) == len(structure.rows)
        feet = [(at * cos(radians(tilt)),) for _, at in structure.rows]
        feet = [(x, x * tan(radians(structure.slope))) for (x,) in feet]
        level = sum(one.level * one.count for one in held)
        up = -sum(one.down * one.count for one in held)
        moment = sum(x * -one.down * one.count - z * one.level * one.count for (x, z), one in zip(feet, held, strict=True))
        wind = (push.level * pressure, push.up * pressure)
        loads = [(wind, push.at), *(((0.0, -one.newtons), one.at) for one in weights(rig, how))]
        size = 1 + sum(abs(force[0]) + abs(force[1]) for force, _ in loads)
        assert level == pytest.approx(sum(force[0] for force, _ in loads), abs=1e-7 * size)
        assert up == pytest.approx(sum(force[1] for force, _ in loads), abs=1e-7 * size)
        assert moment == pytest.approx(sum(at[0] * f[1] - at[1] * f[0] for f, at in loads), abs=1e-6 * size * 5)


def test_rows_on_friction_slide_together_and_what_lifts_slides_nowhere():
    feet = [(0.0, 0.0), (1.5, 0.3), (3.4, 0.68)]
    pressed = shared_by_rows(Resultant((260.0, -2400.0), -3900.0), (-600.0, -900.0, -500.0), (0.0, 0.0, 0.0), feet, "friction")
    shares = [level / up for level, up in pressed]
    assert shares == pytest.approx([260.0 / -2400.0] * 3, rel=1e-9)
    lifted = shared_by_rows(Resultant((900.0, -300.0), 1700.0), (-200.0, -50.0, 150.0), (0.0, 0.0, 0.0), feet, "friction")
    assert [level for level, _ in lifted].count(0.0) == 2
    assert max(up for _, up in lifted) > 0
    assert next(up for level, up in lifted if level) == min(up for _, up in lifted)


def test_two_rows_of_the_rule_are_the_old_statics():
    feet, total = [(0.0, 0.0), (2.0, 0.4)], Resultant((350.0, -1900.0), -2100.0)
    by_rows = shared_by_rows(total, (0.0, 0.0), (0.0, 0.0), feet, "anchored")
    old = shared(total, (2.0, 0.4), "anchored")
    assert [one for pair in by_rows for one in pair] == pytest.approx([one for pair in old for one in pair], rel=1e-12)


def test_ten_posts_in_five_rows_are_told_row_by_row():
    scene = studied(told()).scene
    answer = footing_answer(scene)
    assert answer["feet"] == 10
    assert [row["name"] for row in answer["rows"]] == [
        "front foot",
        "middle foot 1",
        "middle foot 2",
        "middle foot 3",
        "back foot",
    ]
    assert all(row["load"]["feet"] == 2 for row in answer["rows"])
    assert answer["load_per_foot"] == max(row["load"]["down"] for row in answer["rows"])
    assert answer["depth"] == pytest.approx(max(row["depth"] for row in answer["rows"]), rel=1e-12)
    pulled = [row["load"]["up"] for row in answer["rows"]]
    assert pulled == sorted(pulled)  # the wind behind lifts the high end
    assert answer["rows"][0]["depth"] < answer["depth"]


def test_more_rows_ask_less_of_each_and_wind_agrees_with_footing():
    few = {**HUT["frame"], "middle_supports": []}
    two, five = (studied(told(frame=frame)).scene for frame in (few, HUT["frame"]))
    assert footing_answer(five)["load_per_foot"] < footing_answer(two)["load_per_foot"]
    answer = wind_answer(studied(told()), None, None)
    assert all(
        [one["name"] for one in each["reactions"]] == [row["name"] for row in footing_answer(five)["rows"]]
        for each in answer["loads"]
    )


def test_legs_between_are_cut_to_their_row_and_stand_plumb():
    structure = studied(told()).scene.structure
    legs = {piece.name: piece.length for piece in structure.pieces([33.0], 5.2, 3.4) if "leg" in piece.name}
    steps = [legs[name] for name, _ in structure.rows]
    assert np.diff(steps) == pytest.approx([steps[1] - steps[0]] * 4, rel=1e-9)
    assert steps[-1] == pytest.approx(structure.rear_height(33.0))
    rear = structure.rear_height(33.0)
    assert rear == pytest.approx(0.5 + 4.4 * (np.sin(radians(33)) - np.cos(radians(33)) * tan(radians(6))))
    names = {piece["name"] for piece in frame_answer(studied(told()).scene)["pieces"]}
    assert {"front leg", "middle leg 1", "middle leg 2", "middle leg 3", "rear leg"} <= names


@pytest.mark.parametrize("wrong", [[2.2, 1.1], [0.1], [4.3], [4.9], [1.0, 1.1]])
def test_rows_that_cannot_be_are_refused_by_path(wrong):
    with pytest.raises(BriefError) as caught:
        _ = studied(told(frame={**HUT["frame"], "middle_supports": wrong})).scene.structure
    assert caught.value.path == "frame.middle_supports"


def test_swapped_legs_stand_on_two_rows():
    with pytest.raises(BriefError, match="two rows"):
        _ = studied(told(frame={**HUT["frame"], "rear_heights": [2.0, 2.4]})).scene.structure


def test_snow_weighs_on_the_second_row_most():
    bare = studied(told(snow=None)).scene
    snowy = studied(told()).scene
    more = [
        after["load"]["down"] - before["load"]["down"]
        for before, after in zip(footing_answer(bare)["rows"], footing_answer(snowy)["rows"], strict=True)
    ]
    assert more[1] == max(more)
    assert sum(more) * 2 == pytest.approx(footing_answer(snowy)["snow"]["on_glass"], rel=1e-9)
    assert replace(snowy.structure, middle=()).shares_of_rail(5.2) == (0.5, 0.5)
    assert sum(row["load"]["down"] for row in footing_answer(bare)["rows"]) * 2 > 21 * 9 * GRAVITY
