"""What a build stands on, how high that is, and what holds it there."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from sundial.brief_section import BriefSection

On = Literal["ground", "pole", "wall", "railing", "pergola", "flat-roof", "roof", "vehicle"]


class FixingsBrief(BriefSection):
    count: Annotated[int | None, Field(ge=2, le=400, description="in all, on two lines; left out: two for each frame")] = None
    lines_apart: Annotated[
        float | None,
        Field(gt=0, le=20, description="between the two lines of fixings, m; left out: as far as the frame's feet are apart"),
    ] = None
    rating: Annotated[float | None, Field(gt=0, le=1e6, description="of one fixing, by its maker or engineer, N")] = None


class StandBrief(BriefSection):
    on: On
    height: Annotated[float, Field(ge=0, le=200, description="of that surface over the ground, m")] = 0.0
    slope: Annotated[float, Field(ge=0, le=70, description="of a roof, degrees by which it falls the way the array faces")] = 0.0
    fixings: FixingsBrief = FixingsBrief()
    road_speed: Annotated[float | None, Field(gt=0, le=60, description="of a vehicle with the panels on it, m/s")] = None
