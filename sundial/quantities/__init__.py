"""Quantities as people write them, in and out of SI: one grammar, both systems in every field."""

from sundial.quantities.both import in_both
from sundial.quantities.hardware import hardware_count, hardware_name
from sundial.quantities.kinds import (
    AREA,
    AREA_LOAD,
    ENERGY,
    FEED,
    FORCE,
    KINDS,
    LINE_LOAD,
    MASS,
    POUND_FORCE,
    POWER,
    PRESSURE,
    PSI,
    STRESS,
    TEMPERATURE,
    VOLUME,
    WIND_SPEED,
    WIRE,
    Kind,
    gauge_area,
    gauge_name,
    in_unit,
    parse_quantity,
    spelled,
    told_quantity,
    unit_of,
    write_quantity,
)
from sundial.quantities.lengths import FOOT, INCH, LONGEST, Units, fine_length, format_length, parse_length, rough_length
from sundial.quantities.speeds import format_speed, parse_speed
from sundial.quantities.tilts import LONGEST_TABLE, parse_tilts

__all__ = [
    "AREA", "AREA_LOAD", "ENERGY", "FEED", "FOOT", "FORCE", "INCH", "KINDS", "LINE_LOAD", "LONGEST", "LONGEST_TABLE", "MASS", "POUND_FORCE", "POWER", "PRESSURE", "PSI",
    "STRESS", "TEMPERATURE", "VOLUME", "WIND_SPEED", "WIRE", "Kind", "Units", "fine_length", "format_length", "format_speed", "gauge_area", "gauge_name", "hardware_count", "hardware_name", "in_both", "in_unit",
    "parse_length", "parse_quantity", "parse_speed", "parse_tilts", "rough_length", "spelled", "told_quantity", "unit_of", "write_quantity",
]  # fmt: skip
