"""How the hours of the ways are stored: compressed, in single precision, which they are rounded to from the start."""

from __future__ import annotations

import io

import numpy as np
from pydantic import TypeAdapter

from sundial.worth.ways import Ways, WayYears
from web.builds.registry import Codec

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
