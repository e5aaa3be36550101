"""The time zone of a place, offline, and what goes with its country: the currency and the units of length."""

from __future__ import annotations

from functools import lru_cache
from importlib.resources import files
from typing import Any

from sundial.quantities import Units

# Countries by ISO 3166 code. Euro: the members of the euro area and those that use it by agreement (ECB, 2026); US customary
# units: as CLDR's measurement data has them. Canada measures in metres by law, and sells its lumber and hardware by the inch and the
# foot (CSA O141, softwood lumber sizes): a builder there begins in feet and inches.
EURO = "AD AT BE BG CY DE EE ES FI FR GF GP GR HR IE IT LT LU LV MC ME MQ MT NL PM PT RE SI SK SM VA XK YT"
DOLLAR = "AG AS AU BB BM BN BS BZ CA DM EC FJ GD GU GY HK JM KI KN KY LC LR MP NA NR NZ PR PW SB SG SR SV TL TT TV TW US VC VI"
POUND = "GB GG IM JE"
US_CUSTOMARY = "US LR MM PR GU VI AS MP"
BUILT_IN_FEET = "CA"


@lru_cache(maxsize=1)
def _finder() -> Any:
    from timezonefinder import TimezoneFinder

    return TimezoneFinder()


def zone_at(latitude: float, longitude: float) -> str:
    """IANA name of the zone at a place (degrees); open sea gives the nautical zone. Source: the timezonefinder package."""
    return _finder().timezone_at(lng=longitude, lat=latitude) or "UTC"


@lru_cache(maxsize=1)
def _countries() -> dict[str, str]:
    """Country by time zone: the first that zone.tab of the tz database names."""
    text = (files("tzdata") / "zoneinfo" / "zone.tab").read_text("utf-8")
    rows = [line.split("\t") for line in text.splitlines() if line and not line.startswith("#")]
    return {row[2]: row[0] for row in rows}


def currency_at(timezone: str) -> str:
    """Sign of the money used in a zone's country: one of €, $, £, or ¤ where it is another."""
    country = _countries().get(timezone)
    return next((sign for sign, where in (("€", EURO), ("$", DOLLAR), ("£", POUND)) if country in where.split()), "¤")


def units_at(timezone: str) -> Units:
    """The units of length that a builder in a zone's country works in."""
    return "us" if _countries().get(timezone) in (*US_CUSTOMARY.split(), *BUILT_IN_FEET.split()) else "metric"
