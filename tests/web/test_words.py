"""Numbers as the pages show them."""

import pytest

from web.builds.templatetags import sundial as shown


@pytest.mark.parametrize(
    ("value", "text"),
    [
        (0, "0"),
        (1e-7, "0"),
        (-1e-7, "0"),
        (0.3, "0.3"),
        (-4.2, "−4.2"),
        (12.4, "12"),
        (5654.2, "5\u202f654"),
        (-1234567.0, "−1\u202f234\u202f567"),
        (None, "–"),
    ],
)
def test_kwh(value, text):
    assert shown.kwh(value) == text


@pytest.mark.parametrize(("value", "text"), [(235.2, "+235"), (-19.0, "−19"), (0.0, "0"), (1e-9, "0"), (3.3, "+3.3")])
def test_signed(value, text):
    assert shown.signed(value) == text


def test_other_quantities():
    assert shown.money(-0.2) == "0"
    assert shown.money(-110.4) == "−110"
    assert shown.price(None) == "–"
    assert shown.percent(0.0434) == "4.3\u202f%"
    assert [shown.degrees(t) for t in (16.0, 29.5, None)] == ["16°", "29.5°", "–"]
    assert shown.minutes(24) == "24 min"
    assert shown.minutes(600) == "10.0 h"
    assert shown.hours(9.85) == "9 h 51 min"
    assert shown.as_length(4.596, "metric") == "4.60 m"
    assert shown.as_length(1.8288, "us") == "6 ft"
    assert shown.east_west(-0.14) == "0.1° west"
    assert shown.compass_words(198) == "198° (south-south-west)"
    assert shown.times(2) == "twice"
    assert shown.short_day(83) == "25 Mar"
