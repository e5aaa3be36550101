"""The sky and the ground."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from sundial.brief_section import BriefSection, Name, Share, Twelve


class FileSky(BriefSection):
    kind: Literal["epw", "tmy3", "hourly"]
    file: Annotated[str, Field(min_length=1, max_length=400, description="path relative to the brief")]
    shift_minutes: Annotated[int, Field(ge=-720, le=720, multiple_of=30)] = 0


class MonthlySky(BriefSection):
    kind: Literal["monthly"]
    ghi: Annotated[Twelve | float, Field(description="mean daily irradiation on the flat, kWh/m2 a day")]
    dhi: Annotated[Twelve | float | None, Field(description="its diffuse part, kWh/m2 a day; left out: split by a model")] = None
    temp_air: Annotated[Twelve | float, Field(description="mean air temperature, degC")] = 12.0
    wind_speed: Annotated[Twelve | float, Field(description="mean wind at 10 m, m/s")] = 3.0
    seed: Annotated[int, Field(ge=0, le=2**31)] = 1
    learned_days: Annotated[
        int | None,
        Field(ge=1, le=100_000, description="learned from so many days of the array's own; left out: told by somebody"),
    ] = None


class MadeUpSky(BriefSection):
    kind: Literal["made-up"]
    name: Name
    seed: Annotated[int, Field(ge=0, le=2**31)] = 1


class WorldSky(BriefSection):
    """From the coordinates alone, anywhere on land."""

    kind: Literal["world"]
    seed: Annotated[int, Field(ge=0, le=2**31)] = 1


Sky = Annotated[FileSky | MonthlySky | MadeUpSky | WorldSky, Field(discriminator="kind")]


class GroundBrief(BriefSection):
    albedo: Annotated[
        Annotated[list[Share], Field(min_length=12, max_length=12)] | Share,
        Field(description="share of light the ground sends back"),
    ] = 0.2
