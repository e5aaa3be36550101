"""A throw-away station that uses everything a station can: it plugs in with no other file touched."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Any

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
        ),
        exports=(
            Export("words", "glow.txt", "glow.txt", "text/plain", lambda build, results: f"{results['glow'].hours:g}"),
            Export("poster", "poster.txt", "poster.txt", "text/plain", result="poster"),
        ),
        demo={"Honey house": {"lantern": {"power": 7.0, "note": "by the door"}}},
        keys=(("g", "nothing at all"),),
    )
)
