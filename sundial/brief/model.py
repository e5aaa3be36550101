"""What a brief may hold. The JSON Schema in docs/ is generated from these classes.

Units: degrees, m, kg, W, kWh, degC, m/s, years; money in any one currency; shares from 0 to 1.
"""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field

Month = Annotated[int, Field(ge=1, le=12)]
Share = Annotated[float, Field(ge=0, le=1)]
Tilt = Annotated[float, Field(ge=-90, le=90)]
Upright = Annotated[float, Field(ge=0, le=90)]
Azimuth = Annotated[float, Field(ge=0, le=360)]
Twelve = Annotated[list[float], Field(min_length=12, max_length=12)]
Money = Annotated[float, Field(ge=-1e9, le=1e9)]
Name = Annotated[str, Field(max_length=120)]

ROWS = (
    "flat", "best-fixed", "yours", "two-moves", "four-moves", "twelve-moves",
    "one-axis", "one-axis-hand", "two-axis", "more-panels",
)  # fmt: skip
Row = Literal[
    "flat", "best-fixed", "yours", "two-moves", "four-moves", "twelve-moves",
    "one-axis", "one-axis-hand", "two-axis", "more-panels",
]  # fmt: skip


class Part(BaseModel):
    """Every part refuses keys it does not know, and numbers that are not finite."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)


class SiteBrief(Part):
    latitude: Annotated[float, Field(gt=-90, lt=90, description="degrees, north positive")]
    longitude: Annotated[float, Field(ge=-180, le=180, description="degrees, east positive")]
    elevation: Annotated[float, Field(ge=-450, le=6000, description="m above the sea")] = 0.0
    timezone: Annotated[Name, Field(description="IANA name")] = "UTC"


class FileSky(Part):
    kind: Literal["epw", "tmy3", "hourly"]
    file: Annotated[str, Field(min_length=1, max_length=400, description="path relative to the brief")]
    shift_minutes: Annotated[int, Field(ge=-720, le=720, multiple_of=30)] = 0


class MonthlySky(Part):
    kind: Literal["monthly"]
    ghi: Annotated[Twelve | float, Field(description="mean daily irradiation on the flat, kWh/m2 a day")]
    temp_air: Annotated[Twelve | float, Field(description="mean air temperature, degC")] = 12.0
    wind_speed: Annotated[Twelve | float, Field(description="mean wind at 10 m, m/s")] = 3.0
    seed: Annotated[int, Field(ge=0, le=2**31)] = 1


class MadeUpSky(Part):
    kind: Literal["made-up"]
    name: Name
    seed: Annotated[int, Field(ge=0, le=2**31)] = 1


Sky = Annotated[FileSky | MonthlySky | MadeUpSky, Field(discriminator="kind")]


class GroundBrief(Part):
    albedo: Annotated[
        Annotated[list[Share], Field(min_length=12, max_length=12)] | Share,
        Field(description="share of light the ground sends back"),
    ] = 0.2


class PanelBrief(Part):
    power: Annotated[float, Field(gt=0, le=2000, description="W at 1000 W/m2 and 25 degC")]
    length: Annotated[float, Field(gt=0, le=5, description="m")]
    width: Annotated[float, Field(gt=0, le=5, description="m")]
    mass: Annotated[float, Field(ge=0, le=200, description="kg")] = 0.0
    gamma: Annotated[float, Field(ge=-0.01, le=0, description="power temperature coefficient, 1/K")] = -0.0035
    bifaciality: Share = 0.0
    blocks: Annotated[int, Field(ge=1, le=12, description="bypass blocks")] = 3
    half_cut: bool = True


class ArrayBrief(Part):
    rows: Annotated[int, Field(ge=1, le=50)]
    columns: Annotated[int, Field(ge=1, le=200)]
    orientation: Literal["portrait", "landscape"] = "portrait"
    azimuth: Annotated[Azimuth | None, Field(description="degrees from true north; left out: toward the equator")] = None
    clearance: Annotated[float, Field(ge=0, le=20, description="height of the lower edge, m")] = 0.5


class WiringBrief(Part):
    kind: Annotated[
        Literal["series", "parallel", "own"],
        Field(description="one string on one input, strings side by side, or a converter for every panel"),
    ] = "series"
    strings: Annotated[
        list[list[Annotated[int, Field(ge=1, le=10000)]]],
        Field(max_length=200, description="panel numbers in the order of the cable: from 1, lower row first, from the left"),
    ] = []


class Motor(Part):
    standby_watts: Annotated[float, Field(ge=0, le=1000)] = 0.0
    moving_watts: Annotated[float, Field(ge=0, le=5000)] = 0.0
    speed: Annotated[float, Field(gt=0, le=3600, description="degrees a minute")] = 10.0
    aim: Annotated[
        Literal["sun", "light"], Field(description="light: lie flatter when the sky is dull and that catches more")
    ] = "sun"


class FixedMount(Part):
    kind: Literal["fixed"]
    tilt: Tilt


class SteppedMount(Part):
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


Mount = Annotated[FixedMount | SteppedMount | OneAxisMount | TwoAxisMount, Field(discriminator="kind")]
LossShare = Annotated[list[Share], Field(min_length=12, max_length=12)] | Share


class LossesBrief(Part):
    soiling: LossShare = 0.02
    wiring: LossShare = 0.02
    mismatch: LossShare = 0.01
    light_induced: LossShare = 0.01
    availability: LossShare = 0.0
    ageing: LossShare = 0.0


class InverterBrief(Part):
    power: Annotated[float | None, Field(gt=0, le=1e6, description="AC limit, W")] = None
    efficiency: Annotated[float, Field(gt=0, le=1)] = 0.96


class SystemBrief(Part):
    losses: LossesBrief = LossesBrief()
    mounting: Literal["open-rack", "raised", "close"] = "open-rack"
    inverter: InverterBrief = InverterBrief()
    transposition: Literal["hay-davies", "perez"] = "hay-davies"


class GridUse(Part):
    kind: Literal["grid"]
    import_price: Annotated[Money, Field(description="per kWh bought")] = 0.25
    export_price: Annotated[Money, Field(description="per kWh sold; negative where export costs")] = 0.05
    own_share: Annotated[Share, Field(description="share of the energy used on the spot")] = 0.4


class PlanBrief(Part):
    goal: Literal["year", "winter", "months", "worst-month", "demand"] = "year"
    months: Annotated[list[Month] | None, Field(description="for goal months")] = None
    demand: Annotated[
        Annotated[list[Annotated[float, Field(ge=0)]], Field(min_length=12, max_length=12)] | None,
        Field(description="for goal demand, kWh a month"),
    ] = None
    moves: Annotated[int, Field(ge=1, le=12, description="settings a year; 1 is fixed")] = 2
    cap: Annotated[
        Annotated[list[Upright], Field(min_length=12, max_length=12)] | None, Field(description="highest tilt by month")
    ] = None
    floor: Annotated[
        Annotated[list[Upright], Field(min_length=12, max_length=12)] | None, Field(description="lowest tilt by month")
    ] = None
    weekdays: Annotated[
        list[Annotated[int, Field(ge=0, le=6)]] | None, Field(description="days of the week on which somebody is there, 0 Monday")
    ] = None
    year: Annotated[int, Field(ge=2000, le=2200, description="the year whose weekdays count")] = 2026
    slack: Annotated[float, Field(gt=0, le=0.1, description="share of the goal's energy that a late move may cost")] = 0.001
    tilt_now: Upright | None = None
    minutes_per_move: Annotated[float, Field(ge=0, le=10000)] = 12.0
    people: Annotated[int, Field(ge=1, le=20)] = 1
    value_of_hour: Annotated[float, Field(ge=0, le=1e6)] = 0.0


class WorthBrief(Part):
    life: Annotated[int, Field(ge=1, le=60, description="years")] = 20
    interest: Annotated[float, Field(gt=-1, le=1)] = 0.03
    price_growth: Annotated[float, Field(gt=-1, le=1, description="a year")] = 0.0
    ageing: Annotated[Share, Field(description="of the panels, a year")] = 0.005
    panel_cost: Annotated[float | None, Field(ge=0, le=1e6, description="one more panel with its frame, wire and freight")] = None
    count_hours: Annotated[bool, Field(description="put a price on the hours of work")] = False


XY = tuple[float, float]
LeafMonths = Annotated[list[Month], Field(max_length=12, description="months in leaf; left out: evergreen")]


class MeasuredBrief(Part):
    """The raw readings behind a height or distance, kept as they were taken. Lengths in m, angles in degrees."""

    way: Literal["clinometer", "stick", "paces"]
    distance: Annotated[float | None, Field(gt=0, le=500)] = None
    angle: Annotated[float | None, Field(gt=-90, lt=90, description="up to the top")] = None
    foot_angle: Annotated[float | None, Field(gt=-90, lt=90, description="to the foot, where the ground slopes")] = None
    eye_height: Annotated[float | None, Field(ge=0, le=5)] = None
    stick: Annotated[float | None, Field(gt=0, le=20)] = None
    stick_shadow: Annotated[float | None, Field(gt=0, le=200)] = None
    shadow: Annotated[float | None, Field(gt=0, le=500)] = None
    slope: Annotated[float | None, Field(ge=-45, le=45, description="of the ground along the shadow, falling positive")] = None
    paces: Annotated[float | None, Field(gt=0, le=1000)] = None
    pace: Annotated[float | None, Field(gt=0, le=2, description="m")] = None


class ThingBrief(Part):
    name: Annotated[str, Field(min_length=1, max_length=60)]
    measured: Annotated[list[MeasuredBrief], Field(max_length=8, description="raw readings")] = []


class BuildingBrief(ThingBrief):
    kind: Literal["building"]
    footprint: Annotated[list[XY], Field(min_length=3, max_length=60, description="corners in order around it, m east and north")]
    height: Annotated[float, Field(description="of the eaves, m")]
    top: Literal["flat", "lean-to", "gable"] = "flat"
    ridge: Annotated[float | None, Field(description="height of a sloped top's highest line, m")] = None
    roof_azimuth: Annotated[Azimuth, Field(description="the way a gable's ridge runs; the side toward which a lean-to falls")] = (
        180.0
    )


class TreeBrief(ThingBrief):
    kind: Literal["tree"]
    at: Annotated[XY, Field(description="the trunk, m east and north")]
    crown_radius: Annotated[float, Field(description="m")]
    height: Annotated[float, Field(description="m")]
    crown_base: Annotated[float, Field(description="where the crown begins, m")] = 1.5
    trunk_radius: Annotated[float | None, Field(ge=0, le=5, description="m; left out: by the crown")] = None
    leaf_months: LeafMonths | None = None
    light_in_leaf: Annotated[float, Field(description="share that passes the crown")] = 0.05
    light_bare: Annotated[float, Field(description="share that passes without leaves")] = 0.45


class FenceBrief(ThingBrief):
    kind: Literal["fence", "wall"]
    line: Annotated[list[XY], Field(min_length=2, max_length=60)]
    height: Annotated[float, Field(description="m")]
    open: Annotated[float, Field(description="share of light that gets through")] = 0.0
    thickness: Annotated[float | None, Field(description="m")] = None


class PostBrief(ThingBrief):
    kind: Literal["post"]
    at: XY
    height: Annotated[float, Field(description="of its top, m")]
    width: Annotated[float, Field(description="m")] = 0.1
    base: Annotated[float, Field(description="where it begins, m")] = 0.0


class RailBrief(ThingBrief):
    kind: Literal["rail"]
    line: Annotated[list[XY], Field(min_length=2, max_length=2)]
    height: Annotated[float, Field(description="of its top at both ends, m")]
    thickness: Annotated[float, Field(description="m")] = 0.05


ThingOfBrief = Annotated[BuildingBrief | TreeBrief | FenceBrief | PostBrief | RailBrief, Field(discriminator="kind")]


class YardBrief(Part):
    """Plan in metres about any origin: x east, y north (true)."""

    objects: list[ThingOfBrief] = []
    slope: Annotated[float, Field(ge=0, le=45, description="of the ground, degrees")] = 0.0
    slope_toward: Annotated[Azimuth, Field(description="the way it falls")] = 180.0


class SplitBrief(Part):
    groups: Annotated[int, Field(ge=1, le=12)]
    how: Literal["behind", "beside"] = "behind"
    distance: Annotated[float, Field(gt=0, le=100, description="front edge to front edge behind, or the gap beside, m")]


class FramePartBrief(Part):
    """Something of the frame near the glass, in m: along the row from the middle, up from the lower edge, off the glass."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    along: XY
    up: XY
    off: XY


class SpotBrief(Part):
    """Where the array stands in the yard: under the middle of its lower edge, or the foot of its pole."""

    x: Annotated[float, Field(ge=-500, le=500)] = 0.0
    y: Annotated[float, Field(ge=-500, le=500)] = 0.0
    split: SplitBrief | None = None
    parts: Annotated[list[FramePartBrief], Field(max_length=40)] = []


class ReadingBrief(Part):
    """A skyline reading as taken: compass ``bearing`` (magnetic), ``declination`` applied to it, ``elevation``, degrees."""

    bearing: Azimuth
    declination: Annotated[float, Field(ge=-180, le=180)]
    elevation: Upright
    kind: Literal["solid", "evergreen", "leafy"] = "solid"


class OptionBrief(Part):
    name: Annotated[str, Field(min_length=1, max_length=120)] | None = None
    row: Annotated[Row | None, Field(description="the standard row this prices or switches off")] = None
    mount: Mount | None = None
    settings: Annotated[int | None, Field(ge=1, le=12, description="for a stepped mount")] = None
    off: bool = False
    extra_cost: Annotated[float | None, Field(ge=-1e9, le=1e9, description="over the base; left out: not priced")] = None
    upkeep: Annotated[float, Field(ge=0, le=1e6, description="a year")] = 0.0
    minutes_per_move: Annotated[float | None, Field(ge=0, le=10000)] = None


class Brief(Part):
    """One build."""

    format: Literal["crooked-sundial-brief"]
    version: Literal[1]
    name: Name = ""
    site: SiteBrief
    sky: Sky
    ground: GroundBrief = GroundBrief()
    horizon: Annotated[
        list[tuple[float, float] | tuple[float, float, Literal["solid", "evergreen", "leafy"]]] | None,
        Field(max_length=5000, description="azimuth, elevation and, if not solid, the kind of the stretch to the next point"),
    ] = None
    readings: Annotated[list[ReadingBrief], Field(max_length=5000, description="the skyline's raw readings")] = []
    leaf_months: Annotated[
        list[Month] | None, Field(max_length=12, description="when leafy stretches of the skyline are in leaf")
    ] = None
    yard: YardBrief | None = None
    spot: SpotBrief = SpotBrief()
    wiring: WiringBrief = WiringBrief()
    panel: PanelBrief
    array: ArrayBrief
    mount: Mount
    system: SystemBrief = SystemBrief()
    use: Annotated[GridUse, Field(description="what the energy is worth")] = GridUse(kind="grid")
    plan: PlanBrief = PlanBrief()
    worth: WorthBrief = WorthBrief()
    options: Annotated[list[OptionBrief], Field(max_length=40)] = []
