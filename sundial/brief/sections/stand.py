"""What a build stands on, how high that is, and what holds it there."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from sundial.brief_section import BriefSection

On = Literal["ground", "pole", "wall", "railing", "pergola", "flat-roof", "roof", "vehicle"]


class FixingsBrief(BriefSection):
    count: Annotated[int | None, Field(ge=2, le=400, description="in all, on two lines; left out: two for each frame")] = None
    lines_apart: Annotated[
        float | None,
        Field(gt=0, le=20, description="between the two lines of fixings, m; left out: as far as the frame's feet are apart"),
    ] = None
    rating: Annotated[float | None, Field(gt=0, le=1e6, description="of one fixing, by its maker or engineer, N")] = None


class HouseBrief(BriefSection):
    """The house that the build hangs on."""

    height: Annotated[float, Field(gt=0, le=60, description="of its wall behind the glass, over the ground, m")]
    width: Annotated[float, Field(gt=0, le=100, description="of that wall, along the row, m")]
    aside: Annotated[
        float, Field(ge=-60, le=60, description="of the wall's middle from the array's, m to the right as you look at the glass")
    ] = 0.0
    behind: Annotated[float, Field(gt=0, le=20, description="from the rearmost edge of the glass to the wall, level, m")] = 0.05
    depth: Annotated[float, Field(gt=0, le=60, description="of the house behind that wall, m")] = 8.0
    out: Annotated[
        float | None, Field(gt=0, le=10, description="by which a roof's edge or a balcony stands out over it, m; left out: none")
    ] = None
    under: Annotated[float | None, Field(gt=0, le=60, description="height of its underside over the ground, m")] = None

    @model_validator(mode="after")
    def _both(self) -> HouseBrief:
        if (self.out is None) != (self.under is None):
            raise ValueError("under: what stands out over it needs both, how far it stands out and how high its underside is")
        return self


class StandBrief(BriefSection):
    on: On
    height: Annotated[float, Field(ge=0, le=200, description="of that surface over the ground, m")] = 0.0
    slope: Annotated[float, Field(ge=0, le=70, description="of a roof, degrees by which it falls the way the array faces")] = 0.0
    fixings: FixingsBrief = FixingsBrief()
    house: HouseBrief | None = None
    road_speed: Annotated[float | None, Field(gt=0, le=60, description="of a vehicle with the panels on it, m/s")] = None

    @model_validator(mode="after")
    def _hung(self) -> StandBrief:
        if self.house is not None and self.on in ("ground", "pole", "vehicle"):
            raise ValueError("house: what stands on its own hangs on no house: draw the house in the yard")
        return self
