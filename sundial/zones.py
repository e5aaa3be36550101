"""The time zone of a place, offline."""

from __future__ import annotations

from functools import lru_cache
from typing import Any


@lru_cache(maxsize=1)
def _finder() -> Any:
    from timezonefinder import TimezoneFinder

    return TimezoneFinder()


def zone_at(latitude: float, longitude: float) -> str:
    """IANA name of the zone at a place (degrees); open sea gives the nautical zone. Source: the timezonefinder package."""
    return _finder().timezone_at(lng=longitude, lat=latitude) or "UTC"
