"""A throw-away station that uses everything a station can: it plugs in with no other file touched."""

from __future__ import annotations

import os
import signal
import time
from dataclasses import dataclass
from typing import Annotated, Any

import numpy as np
from pydantic import Field

from sundial.brief.model import BriefSection, add_section
from tests.lantern.forms import LanternForm
from tests.lantern.models import Lantern
from web.builds.registry import Export, Result, Station, register
from web.builds.results import BYTES, json_codec


class LanternBrief(BriefSection):
    power: Annotated[float, Field(ge=0, le=500, description="W")] = 5.0
    note: Annotated[str, Field(max_length=40)] = ""


@dataclass(frozen=True)
class Glow:
    hours: float


def _glow(results: Any, *_: Any) -> Glow:
    return Glow(results.brief.lantern.power * 2)


def _poster(results: Any, params: Any, report: Any) -> bytes:
    report(1, 2)
    return f"Glows for {results['glow'].hours:g} hours".encode()


def _candle(results: Any, params: Any, report: Any) -> bytes:
    """Long work of four kinds that go wrong, and one that does not."""
    note = results.brief.lantern.note
    if note == "kills its worker":
        os.kill(os.getpid(), signal.SIGKILL)
    if note == "wants the whole memory":
        return bytes(np.ones(10**11))
    for step in range(600 if note == "takes for ever" else 40 if note == "takes its time" else 1):
        report(step, 40)
        time.sleep(0.1)
    return b"burnt"


add_section("lantern", LanternBrief | None, None)
register(
    Station(
        key="lantern",
        title="The lantern",
        question="How bright does it hang?",
        order=10,
        group="use",
        urls="tests.lantern.urls",
        form=LanternForm,
        parts=(Lantern,),
        results=(
            Result("glow", ("lantern",), _glow, json_codec(Glow)),
            Result("poster", ("lantern",), _poster, BYTES, dear=True),
            Result("candle", ("lantern",), _candle, BYTES, dear=True, seconds=20),
        ),
        exports=(
            Export("words", "glow.txt", "glow.txt", "text/plain", lambda build, results: f"{results['glow'].hours:g}"),
            Export("poster", "poster.txt", "poster.txt", "text/plain", result="poster"),
        ),
        demo={"Honey house": {"lantern": {"power": 7.0, "note": "by the door"}}},
        keys=(("g", "nothing at all"),),
    )
)
