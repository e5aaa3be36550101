"""The frame: panels, array, wiring, mount, and the system behind them."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from sundial.brief_section import Azimuth, BriefSection, Month, Share, Tilt, Upright


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


class Motor(BriefSection):
    standby_watts: Annotated[float, Field(ge=0, le=1000)] = 0.0
    moving_watts: Annotated[float, Field(ge=0, le=5000)] = 0.0
    speed: Annotated[float, Field(gt=0, le=3600, description="degrees a minute")] = 10.0
    aim: Annotated[
        Literal["sun", "light"], Field(description="light: lie flatter when the sky is dull and that catches more")
    ] = "sun"


class FixedMount(BriefSection):
    kind: Literal["fixed"]
    tilt: Tilt


class SteppedMount(BriefSection):
    kind: Literal["stepped"]
    tilts: Annotated[list[Tilt] | None, Field(description="every tilt the frame reaches; or give min, max and step")] = None
    min: Tilt | None = None
    max: Tilt | None = None
    step: Annotated[float, Field(gt=0, le=90)] = 1.0
    both_sides: Annotated[bool, Field(description="negative tilts, leaning to the other side, are allowed")] = False


class OneAxisMount(Motor):
    kind: Literal["one-axis"]
    axis_tilt: Upright = 0.0
    axis_tilts: Annotated[list[Upright] | None, Field(description="axis tilts set by hand, instead of axis_tilt")] = None
    axis_azimuth: Azimuth | None = None
    limit: Annotated[float, Field(gt=0, le=180)] = 60.0
    backtrack: bool = False
    ground_cover: Annotated[float, Field(gt=0, lt=1)] = 0.3


class TwoAxisMount(Motor):
    kind: Literal["two-axis"]
    min_tilt: Upright = 0.0
    max_tilt: Upright = 90.0
    azimuth_limit: Annotated[float, Field(gt=0, le=180, description="degrees to each side")] = 180.0


class HingeMount(Motor):
    """A flap that an actuator tilts about a level hinge; it follows the sun in tilt only."""

    kind: Literal["hinge"]
    min_tilt: Upright = 0.0
    max_tilt: Upright = 60.0


class TurnedMount(BriefSection):
    """A frame whose facing a hand changes a few times a day, on days on which somebody does it."""

    kind: Literal["turned"]
    tilt: Upright
    facings: Annotated[
        list[Azimuth],
        Field(min_length=2, max_length=5, description="from the morning's to the evening's, degrees from true north"),
    ]
    weekdays: Annotated[
        list[Annotated[int, Field(ge=0, le=6)]] | None, Field(description="days of the week on which it is done, 0 Monday")
    ] = None
    months: Annotated[list[Month] | None, Field(description="months in which it is done")] = None
    minutes: Annotated[float, Field(ge=0, le=240, description="for one turn")] = 2.0


Mount = Annotated[FixedMount | SteppedMount | OneAxisMount | TwoAxisMount | HingeMount | TurnedMount, Field(discriminator="kind")]
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
