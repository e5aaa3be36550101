"""What stands around: the yard, the spot of the array in it, and the skyline."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from sundial.brief_section import XY, Azimuth, BriefSection, Month, Tilt, Upright

LeafMonths = Annotated[list[Month], Field(max_length=12, description="months in leaf; left out: evergreen")]


class MeasuredBrief(BriefSection):
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


class ThingBrief(BriefSection):
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


class OtherArrayBrief(ThingBrief):
    """Another array of panels that stands in the yard: of the same group, or somebody else's."""

    kind: Literal["array"]
    at: Annotated[XY, Field(description="under the middle of its lower edge, or the foot of its pole, m east and north")]
    azimuth: Annotated[Azimuth, Field(description="the way it faces")]
    tilt: Annotated[Tilt | Annotated[list[Tilt], Field(min_length=12, max_length=12)], Field(description="one, or by month")]
    breadth: Annotated[float, Field(gt=0, le=200, description="along the row, m")]
    slope_length: Annotated[float, Field(gt=0, le=200, description="up the slope, m")]
    clearance: Annotated[float, Field(ge=0, le=20, description="of its lower edge (on a pole: as it stands upright), m")] = 0.5
    on_pole: Annotated[bool, Field(description="it turns about its middle")] = False
    follows: Annotated[Literal["nothing", "axis", "sun"], Field(description="what it turns after through the day")] = "nothing"
    axis_tilt: Upright = 0.0
    axis_azimuth: Azimuth = 180.0


ThingOfBrief = Annotated[
    BuildingBrief | TreeBrief | FenceBrief | PostBrief | RailBrief | OtherArrayBrief, Field(discriminator="kind")
]


class YardBrief(BriefSection):
    """Plan in metres about any origin: x east, y north (true)."""

    objects: list[ThingOfBrief] = []
    slope: Annotated[float, Field(ge=0, le=45, description="of the ground, degrees")] = 0.0
    slope_toward: Annotated[Azimuth, Field(description="the way it falls")] = 180.0


class SplitBrief(BriefSection):
    groups: Annotated[int, Field(ge=1, le=12)]
    how: Literal["behind", "beside"] = "behind"
    distance: Annotated[float, Field(gt=0, le=100, description="front edge to front edge behind, or the gap beside, m")]


class FramePartBrief(BriefSection):
    """Something of the frame near the glass, in m: along the row from the middle, up from the lower edge, off the glass."""

    name: Annotated[str, Field(min_length=1, max_length=60)]
    along: XY
    up: XY
    off: XY


class SpotBrief(BriefSection):
    """Where the array stands in the yard: under the middle of its lower edge, or the foot of its pole."""

    x: Annotated[float, Field(ge=-500, le=500)] = 0.0
    y: Annotated[float, Field(ge=-500, le=500)] = 0.0
    split: SplitBrief | None = None
    parts: Annotated[list[FramePartBrief], Field(max_length=40)] = []


Setback = Annotated[float | None, Field(ge=0, le=2000, description="m; left out: not told")]


class BoundariesBrief(BriefSection):
    """How far the lot reaches from the nearest edge of the panels, square to the way they face, as you look at the glass."""

    front: Setback = None
    back: Setback = None
    left: Setback = None
    right: Setback = None


class ReadingBrief(BriefSection):
    """A skyline reading as taken: compass ``bearing`` (magnetic), ``declination`` applied to it, ``elevation``, degrees."""

    bearing: Azimuth
    declination: Annotated[float, Field(ge=-180, le=180)]
    elevation: Upright
    kind: Literal["solid", "evergreen", "leafy"] = "solid"
