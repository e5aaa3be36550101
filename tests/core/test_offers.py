"""Offers of panels, per watt and per kWh."""

from __future__ import annotations

import pytest

from sundial.errors import BriefError
from sundial.worth.offers import PanelOffer, fits, offered
from tests.core.conftest import study_of

WORTH = {"life": 15, "interest": 0.03, "ageing": 0.005}


@pytest.mark.parametrize(
    ("length", "width", "slope", "breadth", "wanted"),
    [
        (1.7, 1.0, 3.4, 4.0, (2, 4, True)),
        (1.7, 1.0, 2.0, 5.2, (2, 3, False)),
        (1.7, 1.0, 1.7, 1.7, (1, 1, True)),
        (1.7, 1.0, 0.9, 9.0, (0, 9, True)),
        (1.7, 1.0, 3.399, 4.0, (2, 4, True)),
    ],
)
def test_how_many_fit(length, width, slope, breadth, wanted):
    assert fits(length, width, slope, breadth) == wanted


def test_an_offer_per_watt_and_per_kwh():
    study = study_of(worth=WORTH, mount={"kind": "fixed", "tilt": 27.0}, array={"rows": 1, "columns": 3, "azimuth": 200.0})
    (found,) = offered(study, [PanelOffer("plain", 430.0, 95.0, 60.0)])
    assert found.count == 3 and found.portrait
    assert found.energy == pytest.approx(study.held_year(27.0).year, rel=1e-9), "the same panels as it has"
    assert found.cost == 345.0 and found.per_watt == pytest.approx(345.0 / 1290.0)
    kwh = sum(found.energy * 0.995**n / 1.03 ** (n + 1) for n in range(15))
    assert found.per_kwh == pytest.approx(345.0 / kwh)


def test_two_sided_panels_are_told_what_their_backs_give():
    study = study_of(
        worth=WORTH,
        ground={"albedo": 0.4},
        mount={"kind": "fixed", "tilt": 27.0},
        array={"rows": 1, "columns": 3, "clearance": 1.2},
    )
    one, two = offered(study, [PanelOffer("plain", 430.0, 95.0), PanelOffer("two-sided", 430.0, 104.0, bifaciality=0.7)])
    assert one.rear == 0.0 and two.rear == pytest.approx(two.energy - one.energy) and 0.02 < two.rear / one.energy < 0.2


def test_smaller_panels_lie_where_they_fit_and_large_ones_do_not():
    study = study_of(worth=WORTH, mount={"kind": "fixed", "tilt": 27.0}, array={"rows": 1, "columns": 3})
    small, large = offered(
        study,
        [PanelOffer("small", 200.0, 60.0, length=1.48, width=0.67), PanelOffer("large", 700.0, 160.0, length=2.4, width=1.3)],
    )
    assert (small.rows, small.columns, small.portrait) == (1, 5, True) and small.power == 1000.0
    assert large.count == 1 and not large.portrait, "it lies across: 1.3 m up, 2.4 m along"
    (none,) = offered(study, [PanelOffer("too large", 900.0, 200.0, length=3.6, width=1.8)])
    assert none.count == 0 and none.per_watt is None


def test_none_and_too_many_are_refused():
    study = study_of()
    for offers in ([], [PanelOffer("x", 400.0, 90.0)] * 6):
        with pytest.raises(BriefError, match="one to 5"):
            offered(study, offers)
