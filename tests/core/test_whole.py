"""The whole build against nothing built; and the build's own mount among the rows of the comparison."""

from __future__ import annotations

import pytest

from sundial.answers.worth.command import compare_answer
from sundial.worth.comparison import compare
from sundial.worth.whole import whole_build
from tests.core.conftest import study_of

USE = {"kind": "grid", "import_price": 0.3, "export_price": 0.05, "own_share": 0.6}
WORTH = {"life": 12, "interest": 0.04, "price_growth": 0.02, "ageing": 0.006}


def test_a_whole_build_by_the_sum_of_its_years():
    study = study_of(use=USE, worth={**WORTH, "spent": 5200.0}, mount={"kind": "fixed", "tilt": 28.0})
    found = whole_build(study, compare(study))
    year = study.held_year(28.0).year
    price = 0.6 * 0.3 + 0.4 * 0.05
    assert found is not None and found.energy == pytest.approx(year)
    assert found.value == pytest.approx(year * price)
    left = sum(year * price * (0.994 * 1.02) ** n / 1.04 ** (n + 1) for n in range(12)) - 5200.0
    assert found.money.npv == pytest.approx(left)
    assert found.money.payback_years == pytest.approx(5200.0 / (year * price))
    assert compare_answer(study)["whole"]["npv"] == pytest.approx(left)


def test_what_a_mount_may_cost_more_than_a_fixed_one():
    study = study_of(use=USE, worth={**WORTH, "spent": 9000.0}, mount={"kind": "one-axis", "limit": 55.0})
    found = whole_build(study, compare(study))
    assert found is not None
    fixed = study.plans(goal="year").simplest.energy
    gain = study.production().year - fixed
    factors = sum((0.994 * 1.02) ** n / 1.04 ** (n + 1) for n in range(12))
    assert found.fixed_energy == pytest.approx(fixed, rel=1e-9)
    assert found.mount_may_cost == pytest.approx(gain * (0.6 * 0.3 + 0.4 * 0.05) * factors, rel=1e-6)


def test_nothing_is_said_where_the_cost_is_not_told():
    study = study_of(use=USE)
    assert whole_build(study, compare(study)) is None and "whole" not in compare_answer(study)


@pytest.mark.parametrize(
    "mount",
    [
        {"kind": "hinge", "min_tilt": 10.0, "max_tilt": 45.0},
        {"kind": "turned", "tilt": 33.0, "facings": [120.0, 180.0, 240.0]},
        {"kind": "one-axis", "limit": 40.0, "axis_tilt": 12.0},
        {"kind": "one-axis", "axis_tilts": [10.0, 45.0], "limit": 50.0},
        {"kind": "two-axis", "max_tilt": 70.0},
    ],
)
def test_the_own_mount_is_a_row_from_the_start(mount):
    study = study_of(mount=mount, plan={"settings": 2})
    row = next(row for row in compare(study).rows if row.kind == study.brief.mount.way)
    assert row.energy == pytest.approx(study.production().year, rel=1e-9), "the figure that all other pages have"
