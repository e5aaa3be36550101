"""One grammar for every quantity: known values, both systems, what is written reads back, and the browser tells the same."""

import json
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from sundial.doors import length, measure
from sundial.errors import BriefError
from sundial.quantities import (
    AREA_LOAD,
    FORCE,
    KINDS,
    LINE_LOAD,
    MASS,
    PRESSURE,
    TEMPERATURE,
    WIND_SPEED,
    WIRE,
    format_length,
    gauge_area,
    parse_length,
    parse_quantity,
    told_quantity,
    unit_of,
    write_quantity,
)
from tests.core.conftest import study_of

KNOWN = [
    ("24 lb", MASS, 10.88621688), ("24 lb 6 oz", MASS, 11.056313), ("1/2 kg", MASS, 0.5), ("2 1/2 lb", MASS, 1.13398), ("1 t", MASS, 1000),
    ("1 psf", PRESSURE, 47.88026), ("12 psi", PRESSURE, 82737.09), ("1.2 kN/m²", PRESSURE, 1200), ("25 psf", AREA_LOAD, 1.197006),
    ("1 lbf", FORCE, 4.4482216), ("1.5 kip", FORCE, 6672.332), ("20 lb", FORCE, 88.964432), ("3 kgf", FORCE, 29.41995), ("1,2 kN", FORCE, 1200),
    ("-4 F", TEMPERATURE, -20), ("100 °F", TEMPERATURE, 37.77778), ("-12,5 degC", TEMPERATURE, -12.5), ("300 K", TEMPERATURE, 26.85),
    ("20 lb/ft", LINE_LOAD, 291.878), ("0.3 kN/m", LINE_LOAD, 300), ("50 mph", WIND_SPEED, 22.352), ("8 AWG", WIRE, 8.36556), ("AWG 6", WIRE, 13.3018),
    ("#10", WIRE, 5.26115), ("2/0 AWG", WIRE, 67.431), ("00 awg", WIRE, 67.431), ("2.5 mm2", WIRE, 2.5),
    ("80 gal", KINDS["volume"], 302.833), ("38 sq ft", KINDS["area"], 3.53032), ("0.3 in/s", KINDS["speed"], 0.00762), ("2 hp", KINDS["power"], 1491.4),
]  # fmt: skip
REFUSED = [
    ("24 miles", MASS), ("lb", MASS), ("24 lb 6 lb", MASS), ("6 oz 24 lb", MASS), ("", FORCE), ("12 m/s", FORCE), ("1 2 3", PRESSURE), ("1e9999", MASS),
    ("40 AWG", WIRE), ("5/0", WIRE), ("nan", TEMPERATURE), ("--4", TEMPERATURE), ("12 kg", FORCE), ("x" * 200, MASS),
]  # fmt: skip


@pytest.mark.parametrize(("text", "kind", "value"), KNOWN)
def test_known_values_in_either_systems_field(text, kind, value):
    for units in ("metric", "us"):
        assert parse_quantity(text, kind, units) == pytest.approx(value, rel=1e-5, abs=1e-6)


@pytest.mark.parametrize(("text", "kind"), REFUSED)
def test_what_is_none_is_refused_in_words(text, kind):
    with pytest.raises(ValueError, match="such as|give a|characters"):
        parse_quantity(text, kind, "us")


def test_a_bare_number_is_in_the_unit_beside_the_field():
    assert parse_quantity("30", MASS, "us") == pytest.approx(13.6078, rel=1e-5)
    assert parse_quantity("30", MASS, "metric") == 30
    assert parse_quantity("6", WIRE, "us") == gauge_area(6) and parse_quantity("6", WIRE, "metric") == 6
    assert unit_of(MASS, "us") == "lb" and unit_of(AREA_LOAD) == "kN/m²"
    assert parse_quantity("14", TEMPERATURE, "us") == pytest.approx(-10)


@pytest.mark.parametrize("number", [14, 12, 10, 8, 6, 4, 2, 0, -1])
def test_gauges_are_the_standards(number):
    table = {14: 2.08, 12: 3.31, 10: 5.26, 8: 8.37, 6: 13.3, 4: 21.2, 2: 33.6, 0: 53.5, -1: 67.4}
    assert gauge_area(number) == pytest.approx(table[number], rel=3e-3)


def test_neither_series_of_wires_is_rounded_to_the_other():
    assert write_quantity(4.0, WIRE, "us") == "4 mm²"
    assert write_quantity(8.37, WIRE, "us") == "8 AWG"
    assert write_quantity(gauge_area(-1), WIRE, "metric") == "67.4309 mm²"


@given(st.sampled_from(sorted(KINDS)), st.floats(1e-3, 1e5), st.sampled_from(["metric", "us"]))
def test_what_is_written_reads_back_in_either_system(name, value, units):
    kind = KINDS[name]
    text = write_quantity(value, kind, units)
    for other in ("metric", "us"):
        assert parse_quantity(text, kind, other) == pytest.approx(value, rel=6e-3 if kind is WIRE else 2e-5, abs=5e-4)
    again = write_quantity(parse_quantity(text, kind, units), kind, units)
    assert again == text  # shown and read again it stays as it is


def test_it_is_told_by_its_size():
    assert told_quantity(948, FORCE) == "948 N" and told_quantity(10147, FORCE) == "10.1 kN"
    assert told_quantity(10147, FORCE, "us") == "2281 lbf" and told_quantity(60000, FORCE, "us") == "13.5 kip"
    assert told_quantity(-20, TEMPERATURE, "us") == "-4 °F" and told_quantity(-0.4, TEMPERATURE) == "0 °C"
    assert told_quantity(3.2, MASS) == "3.2 kg" and told_quantity(58, MASS, "us") == "128 lb"


def test_sixteenths_with_a_hyphen():
    assert parse_length("4' 7-1/2\"") == parse_length("4 ft 7 1/2 in") == pytest.approx(1.4097)
    assert format_length(1.4097, "us") == "4 ft 7 1/2 in"


@pytest.mark.parametrize(("text", "value"), [("80mph", 35.7632), ("35", 35.0), ("90 km/h", 25.0)])
def test_the_command_line_takes_units(text, value):
    assert measure(WIND_SPEED, 0, 120)(text) == pytest.approx(value)
    assert length(0, 10)("4ft") == pytest.approx(1.2192)


def test_a_cable_is_told_by_its_gauge():
    def cable(**told):
        label = {"voc": 40, "isc": 10, "vmp": 33, "imp": 9.5, "beta": -0.003}
        return study_of(electrics={**label, "cable": {"length": 79, **told}}).brief.electrics.cable

    assert cable(awg=6).area == gauge_area(6) and cable(awg="2/0").area == gauge_area(-1) and cable(area=6).area == 6.0
    for wrong, path in (
        ({"awg": "thick"}, "electrics.cable.awg"),
        ({}, "electrics.cable.area"),
        ({"awg": 6, "area": 6}, "electrics.cable.awg"),
    ):
        with pytest.raises(BriefError) as caught:
            cable(**wrong)
        assert caught.value.path == path


def test_the_browser_is_held_against_the_same_strings():
    """tests/js/quantities.json is what the browser's copy is tested with."""
    held = json.loads((Path(__file__).parents[1] / "js" / "quantities.json").read_text("utf-8"))
    kinds = {"mass": MASS, "force": FORCE, "speed": WIND_SPEED}
    assert len(held) >= 400
    for kind, value, us, text in held:
        assert told_quantity(value, kinds[kind], "us" if us else "metric") == text, (kind, value)
