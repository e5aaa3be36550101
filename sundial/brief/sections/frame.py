"""The frame: panels, array, wiring, mount, and the system behind them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Literal, Union

from pydantic import Field

from sundial.brief_section import Azimuth, BriefSection, Share
from sundial.mounts.kind import MountBrief
from sundial.mounts.registry import briefs


class PanelBrief(BriefSection):
    power: Annotated[float, Field(gt=0, le=2000, description="W at 1000 W/m2 and 25 degC")]
    length: Annotated[float, Field(ge=0.01, le=5, description="m")]
    width: Annotated[float, Field(ge=0.01, le=5, description="m")]
    mass: Annotated[float, Field(ge=0, le=200, description="kg")] = 0.0
    gamma: Annotated[float, Field(ge=-0.01, le=0, description="power temperature coefficient, 1/K")] = -0.0035
    bifaciality: Share = 0.0
    blocks: Annotated[int, Field(ge=1, le=12, description="bypass blocks")] = 3
    half_cut: bool = True


class ArrayBrief(BriefSection):
    rows: Annotated[int, Field(ge=1, le=50)]
    columns: Annotated[int, Field(ge=1, le=200)]
    orientation: Literal["portrait", "landscape"] = "portrait"
    azimuth: Annotated[Azimuth | None, Field(description="degrees from true north; left out: toward the equator")] = None
    clearance: Annotated[float, Field(ge=0, le=20, description="height of the lower edge, m")] = 0.5
    turned: Annotated[
        float,
        Field(
            ge=-90, le=90, description="degrees by which panels sit turned about a tracker's axis, to the right along its azimuth"
        ),
    ] = 0.0


class WiringBrief(BriefSection):
    kind: Annotated[
        Literal["series", "parallel", "own"],
        Field(description="one string on one input, strings side by side, or a converter for every panel"),
    ] = "series"
    strings: Annotated[
        list[list[Annotated[int, Field(ge=1, le=10000)]]],
        Field(max_length=200, description="panel numbers in the order of the cable: from 1, lower row first, from the left"),
    ] = []
    unwired: Annotated[
        list[Annotated[int, Field(ge=1, le=10000)]],
        Field(max_length=10000, description="panel numbers that are on no string yet: they stand there and give nothing"),
    ] = []
    string: Annotated[
        str, Field(max_length=20, description="name of the string that other builds of the group lie on too; empty: none do")
    ] = ""


if TYPE_CHECKING:
    Mount = MountBrief
else:
    Mount = Annotated[Union[briefs()], Field(discriminator="kind")]  # noqa: UP007 - of a tuple made at run time
LossShare = Annotated[list[Share], Field(min_length=12, max_length=12)] | Share


class LossesBrief(BriefSection):
    soiling: LossShare = 0.02
    wiring: LossShare = 0.02
    mismatch: LossShare = 0.01
    light_induced: LossShare = 0.01
    availability: LossShare = 0.0
    ageing: LossShare = 0.0


class InverterBrief(BriefSection):
    power: Annotated[float | None, Field(gt=0, le=1e6, description="AC limit, W")] = None
    efficiency: Annotated[float, Field(gt=0, le=1)] = 0.96


class SystemBrief(BriefSection):
    losses: LossesBrief = LossesBrief()
    mounting: Literal["open-rack", "raised", "close"] = "open-rack"
    inverter: InverterBrief = InverterBrief()
    transposition: Literal["hay-davies", "perez"] = "hay-davies"
