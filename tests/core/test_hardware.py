"""Bolts, screws and what is sold by the metre, named as shops in feet do."""

import pytest

from sundial.cutting.parts import bolt_size
from sundial.quantities import hardware_count, hardware_name


@pytest.mark.parametrize(
    ("name", "told"),
    [
        ("bolt M8 x 20", "bolt 5/16 in x 1 in (M8 x 20)"),  # 20 mm is 0.79 in: up to the next quarter, not to 3/4
        ("bolt M12 x 120", "bolt 1/2 in x 4 3/4 in (M12 x 120)"),
        ("wood screw 6 x 60", "wood screw #14 x 2 1/2 in (6 x 60)"),
        ("lock nut M10", "lock nut 3/8 in (M10)"),
        ("bolt 1/2 in x 4 in", "bolt 1/2 in x 4 in"),  # an inch bolt already
        ("earthing wire, m", "earthing wire"),
        ("concrete bag, 25 kg", "concrete bag, 55 lb (25 kg)"),
        ("end clamp", "end clamp"),
    ],
)
def test_a_part_has_its_shop_name_in_inches_and_its_own_in_metric(name, told):
    assert hardware_name(name, "us") == told
    assert hardware_name(name, "metric") == name.removesuffix(", m")


def test_what_is_sold_by_the_metre_is_counted_in_feet_and_never_too_short():
    assert (hardware_count("earthing wire, m", 7, "us"), hardware_count("earthing wire, m", 7, "metric")) == ("23 ft", "7 m")
    assert (hardware_count("fabric under gravel, m2", 2, "us"), hardware_count("fabric under gravel, m2", 2, "metric")) == (
        "22 sq ft",
        "2 m²",
    )
    assert hardware_count("end clamp", 8, "us") == "8"


def test_a_bolt_is_named_in_millimetres_or_in_parts_of_an_inch():
    assert (bolt_size(0.012), bolt_size(0.0127), bolt_size(0.009525)) == ("M12", "1/2 in", "3/8 in")
