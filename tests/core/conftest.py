"""What the core's tests share: pvlib's two TMY3 files, and briefs about their places."""

from __future__ import annotations

import json
from functools import lru_cache
from pathlib import Path
from typing import Any

import pvlib
import pytest

from sundial.brief.read import brief_of
from sundial.errors import BriefError
from sundial.sky.weather_year import WeatherYear
from sundial.study import Study, studied

DATA = Path(pvlib.__file__).parent / "data"
GREENSBORO = {"latitude": 36.1, "longitude": -79.95, "elevation": 273.0, "timezone": "America/New_York"}
SAND_POINT = {"latitude": 55.317, "longitude": -160.517, "elevation": 7.0, "timezone": "America/Anchorage"}
FILES = {"723170TYA.CSV": GREENSBORO, "703165TY.csv": SAND_POINT}


def brief_data(**changes: Any) -> dict[str, Any]:
    """A plain brief at Greensboro; ``changes`` replace whole keys."""
    return {
        "format": "crooked-sundial-brief",
        "version": 1,
        "name": "Test rack",
        "site": GREENSBORO,
        "sky": {"kind": "tmy3", "file": "723170TYA.CSV"},
        "panel": {"power": 430.0, "length": 1.722, "width": 1.134, "gamma": -0.0034},
        "array": {"rows": 2, "columns": 4, "azimuth": 180.0},
        "mount": {"kind": "stepped", "min": 0.0, "max": 90.0, "step": 1.0},
        **changes,
    }


def load(name: str) -> bytes:
    return (DATA / name).read_bytes()


@lru_cache(maxsize=64)
def _weather(site: str, sky: str) -> WeatherYear | None:
    """The year under a sky, read or synthesised once; None where it is refused."""
    try:
        return studied(brief_of(brief_data(site=json.loads(site), sky=json.loads(sky))), load).scene.weather
    except BriefError:
        return None


def study_of(**changes: Any) -> Study:
    brief = brief_of(brief_data(**changes))
    return studied(brief, load, _weather(brief.site.model_dump_json(), brief.sky.model_dump_json()))


@pytest.fixture(scope="session")
def greensboro() -> Study:
    """The study that the manual's reference table is about."""
    return study_of()


@pytest.fixture(scope="session")
def upland() -> Study:
    """A grown sky north of the equator."""
    return study_of(
        site={"latitude": 42.9, "longitude": -6.1, "elevation": 870.0, "timezone": "Europe/Madrid"},
        sky={"kind": "made-up", "name": "dry-upland", "seed": 5},
    )
