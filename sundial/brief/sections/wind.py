"""The wind, what holds the frame against it, snow, and the beams that carry the panels."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field, model_validator

from sundial.brief_section import BriefSection, Month, Share, Upright
from sundial.days import MONTH_NAMES

Gust = Annotated[float, Field(gt=0, le=120, description="m/s")]
Level = Annotated[float, Field(ge=-1, le=1, description="m")]


class WindBrief(BriefSection):
    gust: Annotated[Gust | None, Field(description="the strongest in years, m/s; left out: the strongest month's")] = None
    surroundings: Literal["water", "open", "farmland", "built-up"] = "open"
    gust_height: Annotated[
        Annotated[float, Field(gt=0, le=200)] | Literal["panel"],
        Field(description="m above ground at which gusts are told, or panel: at the panels, no correction for height"),
    ] = 10.0
    gusts: Annotated[
        Annotated[list[Gust], Field(min_length=12, max_length=12)] | None,
        Field(description="strong gust of each month, m/s; left out: the strongest all year, or from the sky where none is told"),
    ] = None
    blocked: Annotated[bool, Field(description="something stacked underneath, or a solid skirt")] = False
    anchored: Annotated[bool | None, Field(description="held by its footing; left out: poles and walls are")] = None
    carried_by: Annotated[
        Literal["ground", "wall", "pergola", "railing", "roof", "vehicle"],
        Field(description="what it stands on: all but the ground is somebody else's structure"),
    ] = "ground"
    frame_mass: Annotated[
        float | None,
        Field(ge=0, le=100000, description="of the whole frame without panels and ballast, kg; left out: frame.mass"),
    ] = None
    ballast: Annotated[float, Field(ge=0, le=100000, description="lying on each side, front and back, kg")] = 0.0
    friction: Annotated[float, Field(ge=0, le=1.5, description="under the feet")] = 0.5
    factor: Annotated[float, Field(ge=1, le=5, description="in hand against tipping, sliding and lifting")] = 1.5
    feet: Annotated[
        tuple[Annotated[float, Field(ge=-20, le=20)], Annotated[float, Field(ge=-20, le=20)]] | None,
        Field(description="the lines it stands on, m behind the front support; left out: as the frame's kind says"),
    ] = None
    width: Annotated[float | None, Field(gt=0, le=100, description="between the outermost feet along the row, m")] = None
    stow: Annotated[bool, Field(description="a motor lays it flat before the gust comes")] = True
    table: Annotated[
        list[tuple[Upright, Annotated[float, Field(ge=0, le=5)], Annotated[float, Field(ge=0, le=5)]]] | None,
        Field(min_length=2, max_length=91, description="own coefficients: tilt, pressing, lifting; left out: the standard ones"),
    ] = None
    in_plan: Annotated[list[Month], Field(max_length=12, description="months whose cap the tilt plan obeys")] = []

    @model_validator(mode="after")
    def _strongest(self) -> WindBrief:
        if self.gust is not None and self.gusts is not None and max(self.gusts) > self.gust:
            month = self.gusts.index(max(self.gusts))
            raise ValueError(
                f"gusts: {MONTH_NAMES[month]} has {self.gusts[month]:g} m/s, more than the strongest gust ({self.gust:g} m/s): raise "
                "that, or lower the month's"
            )
        return self


class LevelsBrief(BriefSection):
    date: Annotated[str, Field(pattern=r"^\d{4}-\d{2}-\d{2}$", description="YYYY-MM-DD")]
    levels: Annotated[list[Level], Field(min_length=2, max_length=24, description="of each foot in a row, m against one mark")]


class FootingBrief(BriefSection):
    kind: Literal["ballast", "post", "pier", "screw", "pad"] = "ballast"
    diameter: Annotated[float, Field(gt=0, le=5, description="m, of the buried post or pier, or across the pad")] = 0.3
    height: Annotated[
        float | None, Field(gt=0, le=20, description="at which the level load pushes, m above ground; left out: from the frame")
    ] = None
    feet: Annotated[int | None, Field(ge=1, le=200, description="left out: two for each frame, one for a pole")] = None
    soil: Literal["gravel", "sandy gravel", "sand", "silty sand", "clay", "silt", "peat", "fill"] = "sandy gravel"
    fresh_fill: bool = False
    frost_depth: Annotated[float, Field(ge=0, le=5, description="m")] = 0.0
    depth: Annotated[float | None, Field(gt=0, le=10, description="as it is, m; left out: only what it needs")] = None
    rating: Annotated[float | None, Field(gt=0, le=1e6, description="of a ground screw against pulling out, by its maker, N")] = (
        None
    )
    reduction: Annotated[Share, Field(description="of that rating, for the soil as it is")] = 0.7
    stored: Annotated[float, Field(ge=0, le=100000, description="what else the frame carries (wood), kg")] = 0.0
    levels: Annotated[list[LevelsBrief], Field(max_length=400, description="levels at the feet over time")] = []
    spacing: Annotated[float | None, Field(gt=0, le=50, description="from foot to foot, for uneven settling, m")] = None
    thread: Annotated[
        float | None, Field(gt=0, le=0.1, description="by which a turn of its screw jack lifts a foot, m; left out: it has none")
    ] = None


class SnowBrief(BriefSection):
    load: Annotated[float | None, Field(ge=0, le=20, description="on the ground, kN/m2")] = None
    depth: Annotated[float | None, Field(ge=0, le=10, description="of settled snow on the ground, m, instead of the load")] = None
    slides: Annotated[bool, Field(description="it can slide off the glass")] = True


class BeamBrief(BriefSection):
    name: Annotated[str, Field(max_length=80)] = "beam"
    section: Annotated[str, Field(max_length=60, description="such as 45x95 C24, strut 41x41x2.5, box 40x40x3 aluminium")]
    span: Annotated[float, Field(ge=0.01, le=20, description="m")]
    spacing: Annotated[float, Field(ge=0.01, le=20, description="of beams side by side: the width each carries, m")]
    members: Annotated[int, Field(ge=1, le=10, description="side by side")] = 1
    joined: Annotated[bool, Field(description="stacked and glued or bolted into one deep section")] = False
    outdoors: Annotated[bool, Field(description="wetted by rain (service class 3)")] = True
    load: Annotated[float, Field(ge=0, le=100000, description="that it carries beside the frame, N/m")] = 0.0
    stored: Annotated[bool, Field(description="it carries its share of what is stored (footing.stored)")] = False
    carries: Annotated[
        Literal["glass", "floor"], Field(description="the glass over it, or a floor: then only itself, load and what is stored")
    ] = "glass"
    beyond: Annotated[
        tuple[Annotated[float, Field(ge=0, le=10)], Annotated[float, Field(ge=0, le=10)]],
        Field(description="m by which it reaches beyond its first and last support"),
    ] = (0.0, 0.0)
