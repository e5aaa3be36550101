"""How the hours of the ways are stored: compressed, in single precision, which they are rounded to from the start."""

from __future__ import annotations

import io
from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray
from pydantic import TypeAdapter

from sundial.study import Study
from sundial.worth.ways import Ways, WayYears
from web.builds.group import fellows
from web.builds.registry import Codec
from web.builds.results import Results

Floats = NDArray[np.float64]

_ways = TypeAdapter(Ways)


def _pack(years: WayYears) -> bytes:
    out = io.BytesIO()
    about = np.frombuffer(_ways.dump_json(years.ways), dtype=np.uint8)
    np.savez_compressed(out, about=about, hourly=years.hourly.astype(np.float32), panels=years.panels.astype(np.float32))
    return out.getvalue()


def _unpack(data: bytes) -> WayYears:
    with np.load(io.BytesIO(data), allow_pickle=False) as held:
        ways = _ways.validate_json(held["about"].tobytes())
        return WayYears(ways, held["hourly"].astype(float), held["panels"].astype(float))


WAYS = Codec(_pack, _unpack)


def _pack_hours(hourly: Floats) -> bytes:
    out = io.BytesIO()
    np.savez_compressed(out, hourly=hourly.astype(np.float32))
    return out.getvalue()


def _unpack_hours(data: bytes) -> Floats:
    with np.load(io.BytesIO(data), allow_pickle=False) as held:
        return np.asarray(held["hourly"], dtype=float)


HOURS = Codec(_pack_hours, _unpack_hours)


def own_hours(results: Results, *_: Any) -> Floats:
    """Wh of every hour (8760,) of the build's own mount under its own plan."""
    return results.study.production().hourly


def shared_study(results: Results) -> Study:
    """The study of a build together with what the other builds of its group give to the same use and battery."""
    study = results.study
    others = fellows(results.build)
    if not others or study.needs.kind == "share":
        return study
    hours = [Results(other, results.shaded)["own_hours"] for other in others]
    return replace(study, shared_hours=np.sum(hours, axis=0))
