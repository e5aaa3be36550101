"""Lengths, positions and tilts as people write them."""

import json
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from sundial.errors import BriefError
from sundial.positions import parse_angle, split_pair, wrap_longitude
from sundial.quantities import format_length, parse_length, parse_tilts
from sundial.zones import currency_at, units_at


@pytest.mark.parametrize(
    ("text", "metres"),
    [
        ("2 ft 3 1/2 in", 0.6985), ("69 cm", 0.69), ("1.72", 1.72), ("1,72 m", 1.72), ("5'8\"", 1.7272), ("67 3/4 in", 1.72085),
        ("1134mm", 1.134), ("-3 ft", -0.9144), ("5 ft 7 13/16 in", 1.7224375), ("3/4 in", 0.01905),
    ],
)  # fmt: skip
def test_lengths(text, metres):
    assert parse_length(text) == pytest.approx(metres)


@pytest.mark.parametrize(("text", "us", "metres"), json.loads((Path(__file__).parents[1] / "js" / "lengths.json").read_text()))
def test_lengths_are_read_as_the_browser_reads_them(text, us, metres):
    units = "us" if us else "metric"
    if metres is None:
        with pytest.raises(ValueError):
            parse_length(text, units)
    else:
        assert parse_length(text, units) == pytest.approx(metres)


def test_a_bare_number_follows_the_units():
    assert parse_length("6", "us") == pytest.approx(1.8288)
    assert parse_length("6", "us", small=True) == pytest.approx(0.1524)
    assert parse_length("5 ft 8", "us") == pytest.approx(1.7272)


@pytest.mark.parametrize("text", ["", "two feet", "1.2.3 m", "3 parsecs", "1/0 in", "5 ft 3 in 2 in 1 in"])
def test_texts_that_are_no_length_are_refused(text):
    with pytest.raises(ValueError):
        parse_length(text)


@given(st.floats(0.001, 29))
def test_feet_and_inches_come_back_to_a_sixteenth(metres):
    assert parse_length(format_length(metres, "us"), "us") == pytest.approx(metres, abs=0.0254 / 32 + 1e-9)


def test_formatting_is_short():
    assert [format_length(x) for x in (1.722, 0.6, 870.0)] == ["1.722 m", "0.6 m", "870 m"]
    assert format_length(870.0, "us") == "2854 ft"
    assert format_length(1.8288, "us") == "6 ft"
    assert format_length(0.0127, "us") == "1/2 in"


@pytest.mark.parametrize(
    ("text", "axis", "degrees"),
    [
        ("42.9", "latitude", 42.9),
        ("42,9", "latitude", 42.9),
        ("42° 54' N", "latitude", 42.9),
        ("41°18'0\"S", "latitude", -41.3),
        ("6.1 W", "longitude", -6.1),
        ("-6.1", "longitude", -6.1),
        ("E 147", "longitude", 147),
        ("121 40 W", "longitude", -121.66667),
        ("W121d40m30s", "longitude", -121.675),
        ("6d06m12s", "longitude", 6.10333),
        ("−105.6", "longitude", -105.6),
    ],
)
def test_angles(text, axis, degrees):
    assert parse_angle(text, axis) == pytest.approx(degrees)


@pytest.mark.parametrize(
    ("text", "axis"),
    [
        ("north", "latitude"),
        ("42 N", "longitude"),
        ("42 61'", "latitude"),
        ("-42 S", "latitude"),
        ("", "latitude"),
        ("42.5 30 N", "latitude"),
        ("N 42 N", "latitude"),
        ("42 -30", "latitude"),
        ("1 2 3 4", "latitude"),
    ],
)
def test_texts_that_are_no_angle_are_refused(text, axis):
    with pytest.raises(ValueError):
        parse_angle(text, axis)


@pytest.mark.parametrize(
    ("text", "latitude", "longitude"),
    [
        ("42.9, -6.1", 42.9, -6.1),
        ("42,9; -6,1", 42.9, -6.1),
        ("42,9 -6,1", 42.9, -6.1),
        ("42,9,6,1", 42.9, 6.1),
        ("42.9 -6.1", 42.9, -6.1),
        ("(42.9, -6.1)", 42.9, -6.1),
        ("geo:42.9,-6.1", 42.9, -6.1),
        ("lat 42.9 lon -6.1", 42.9, -6.1),
        ("42°54'N 6°06'W", 42.9, -6.1),
        ("47°36' N 121°40' W", 47.6, -121.6667),
        ("47°36′36″ N, 121°40′12″ W", 47.61, -121.67),
        ("N47 36.6 W121 40.2", 47.61, -121.67),
        ("121°40' W 47°36' N", 47.6, -121.6667),
        ("33 52 S 151 12 E", -33.8667, 151.2),
        ("42d54m36s N 6d06m W", 42.91, -6.1),
        ("42.9 north, 6.1 west", 42.9, -6.1),
        ("42°54' 6°06'", 42.9, 6.1),
    ],
)
def test_pasted_pairs(text, latitude, longitude):
    pair = split_pair(text)
    assert pair is not None
    assert parse_angle(pair[0], "latitude") == pytest.approx(latitude, abs=1e-4)
    assert parse_angle(pair[1], "longitude") == pytest.approx(longitude, abs=1e-4)


@pytest.mark.parametrize("text", ["42.9", "42,9", "121 40 W", "42 54 36", "n n n", "6 N 7 N", "", "a, b", "1,2,3"])
def test_what_is_no_pair_is_left_as_one(text):
    assert split_pair(text) is None


@pytest.mark.parametrize(
    ("zone", "currency", "units"),
    [
        ("Europe/Madrid", "€", "metric"),
        ("America/Denver", "$", "us"),
        ("America/Toronto", "$", "us"),
        ("America/Mexico_City", "¤", "metric"),
        ("Europe/London", "£", "metric"),
        ("Asia/Kolkata", "¤", "metric"),
        ("Etc/GMT+3", "¤", "metric"),
    ],
)
def test_money_and_units_follow_the_zone(zone, currency, units):
    assert (currency_at(zone), units_at(zone)) == (currency, units)


def test_longitudes_wrap_to_the_same_meridian():
    assert wrap_longitude(540) == -180 or wrap_longitude(540) == 180
    assert wrap_longitude(190) == pytest.approx(-170)
    assert wrap_longitude(-6.1) == -6.1


@pytest.mark.parametrize(
    ("text", "tilts"),
    [
        ("15, 22, 29", [15, 22, 29]),
        ("10 to 30 by 10", [10, 20, 30]),
        ("10-12", [10, 11, 12]),
        ("hole\ttilt\n1\t16\n2\t23.5", [16, 23.5]),
        ("hole 1  16°\nhole 2  23", [16, 23]),
        ("30", [30]),
        ("-10, 0, 10", [-10, 0, 10]),
    ],
)
def test_reachable_tilts(text, tilts):
    assert parse_tilts(text) == tilts


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "empty"),
        ("15, steep", "not a tilt"),
        ("1 95\n2 100", "95 degrees"),
        ("60 to 10", "not a range"),
        ("hole tilt\nhole", "holds no"),
    ],
)
def test_tilts_that_cannot_be_read(text, said):
    with pytest.raises(BriefError, match=said):
        parse_tilts(text)
