"""Panels that stand there and are on no string: they give nothing, and everything that is told of the array agrees on that."""

from __future__ import annotations

import pytest

from sundial.errors import BriefError
from sundial.shade.strings import Wiring, rewired
from sundial.worth.more_panels import years_with_panels
from tests.core.conftest import brief_data, study_of


def study(rows: int = 2, columns: int = 4, wiring: dict | None = None, **more: object):
    held = brief_data(**more)
    return study_of(**more, array={**held["array"], "rows": rows, "columns": columns}, **({"wiring": wiring} if wiring else {}))


WALL = {"objects": [{"kind": "wall", "name": "Barn", "line": [[-9.0, -6.0], [7.0, -6.0]], "height": 3.4}]}


@pytest.mark.parametrize("yard", [None, WALL])
def test_a_row_that_is_not_wired_gives_nothing_with_and_without_shade(yard):
    more = {"yard": yard} if yard else {}
    five = [[1, 2, 3], [4, 5]]
    told = study(2, 4, {"kind": "parallel", "strings": five, "unwired": [6, 7, 8]}, **more)
    all_of_them = study(2, 4, {"kind": "parallel", "strings": [*five, [6, 7, 8]]}, **more)
    share = told.held_year(33.0).year.real / all_of_them.held_year(33.0).year.real
    if yard:
        assert 0.5 < share < 0.7, "by the light of those that are wired"
    else:
        assert share == pytest.approx(5 / 8, rel=1e-9)
    assert told.scene.array.power == 5 * told.scene.array.panel.power and told.scene.array.area == all_of_them.scene.array.area


def test_numbers_that_contradict_each_other_are_refused():
    for kind, strings, unwired, words in [
        ("parallel", ((1, 2), (3,)), (), "panel 4 is in no string"),
        ("parallel", ((1, 2), (3, 4)), (4,), "names panel 4, which is on a string"),
        ("series", (), (5,), "names panel 5; the array has 4"),
        ("own", (), (1, 2, 3, 4), "names every panel"),
    ]:
        with pytest.raises(BriefError, match=words):
            Wiring(kind, strings, unwired).groups(4)
    assert Wiring("own", (), (2,)).groups(4) == [[0], [2], [3]]
    assert Wiring("series", (), (4,)).groups(4) == [[0, 1, 2]]


@pytest.mark.parametrize(
    ("was", "now", "strings", "kept", "unwired"),
    [
        ((2, 3), (3, 3), [[1, 2, 3], [4, 5, 6]], [[1, 2, 3], [4, 5, 6]], [7, 8, 9]),
        ((3, 3), (2, 3), [[1, 2, 3], [9, 8, 7, 6, 5, 4]], [[1, 2, 3], [6, 5, 4]], []),
        ((2, 3), (2, 4), [[3, 2, 1], [4, 5, 6]], [[3, 2, 1], [5, 6, 7]], [4, 8]),
        ((2, 4), (2, 3), [[4, 8], [1, 2, 3, 5, 6, 7]], [[1, 2, 3, 4, 5, 6]], []),
        (None, (3, 3), [[1, 2, 3], [4, 5, 6]], [[1, 2, 3], [4, 5, 6]], [7, 8, 9]),
        (None, (2, 4), [[1, 2, 3], [4, 5, 6]], [[1, 2, 3], [5, 6, 7]], [4, 8]),
        ((2, 3), (1, 1), [[5, 6], [2, 3, 4]], [], []),
    ],
)
def test_panels_keep_their_place_and_their_string_when_rows_or_columns_change(was, now, strings, kept, unwired):
    assert rewired(strings, [], was, now) == (kept, unwired)


def test_one_string_of_all_stays_one_string_of_all():
    assert rewired([], [], (2, 3), (5, 5)) == ([], [])


def test_a_shared_inverter_feels_the_panels_that_are_wired():
    """Six of eight panels on an inverter of four: two more panels bring what the same two bring to six alone."""
    inverter = {"inverter": {"power": 1500.0, "efficiency": 0.96}}
    told = study(2, 4, {"kind": "series", "strings": [], "unwired": [7, 8]}, system=inverter)
    six = study(2, 3, system=inverter)
    tilts = (33.0,) * 365
    one, other = years_with_panels(told, tilts, 300.0), years_with_panels(six, tilts, 300.0)
    assert len(one) == len(other) and one == pytest.approx(other, rel=2e-3)
