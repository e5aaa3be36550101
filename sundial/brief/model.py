"""What a brief may hold: its sections, assembled. The JSON Schema in docs/ is generated from these classes.

Units: degrees, m, kg, W, kWh, degC, m/s, years; money in any one currency; shares from 0 to 1.
"""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator
from pydantic.fields import FieldInfo

from sundial.brief.sections.bench import BenchBrief, PlacesBrief
from sundial.brief.sections.cutting import (
    BasePlateBrief,
    CableBrief,
    CuttingBrief,
    ElectricsBrief,
    Kerf,
    PieceBrief,
    StockBrief,
)
from sundial.brief.sections.frame import (
    ArrayBrief,
    InverterBrief,
    LossesBrief,
    Mount,
    PanelBrief,
    SystemBrief,
    WiringBrief,
)
from sundial.brief.sections.log import LogBrief
from sundial.brief.sections.plan import PlanBrief
from sundial.brief.sections.site import SiteBrief
from sundial.brief.sections.sky import FileSky, GroundBrief, MadeUpSky, MonthlySky, Sky, WorldSky
from sundial.brief.sections.stand import FixingsBrief, HouseBrief, StandBrief
from sundial.brief.sections.structure import Structure
from sundial.brief.sections.use import (
    ROWS,
    BatteryBrief,
    DirectUse,
    GridUse,
    OffGridUse,
    OptionBrief,
    OtherPanelsBrief,
    ProfileBrief,
    Row,
    TariffBrief,
    Use,
    WorthBrief,
)
from sundial.brief.sections.wind import BeamBrief, FootingBrief, LevelsBrief, SnowBrief, WindBrief
from sundial.brief.sections.yard import (
    BoundariesBrief,
    BuildingBrief,
    FenceBrief,
    FramePartBrief,
    MeasuredBrief,
    OtherArrayBrief,
    PostBrief,
    RailBrief,
    ReadingBrief,
    SplitBrief,
    SpotBrief,
    ThingOfBrief,
    TreeBrief,
    YardBrief,
)
from sundial.brief_section import BriefSection, Month, Name

__all__ = [
    "ArrayBrief",
    "BasePlateBrief",
    "BoundariesBrief",
    "BatteryBrief",
    "BeamBrief",
    "BenchBrief",
    "PlacesBrief",
    "Brief",
    "BriefSection",
    "BuildingBrief",
    "CableBrief",
    "CuttingBrief",
    "DirectUse",
    "ElectricsBrief",
    "FenceBrief",
    "FileSky",
    "FootingBrief",
    "FixingsBrief",
    "HouseBrief",
    "FramePartBrief",
    "GridUse",
    "GroundBrief",
    "InverterBrief",
    "LevelsBrief",
    "LossesBrief",
    "MadeUpSky",
    "MeasuredBrief",
    "Month",
    "MonthlySky",
    "Mount",
    "Name",
    "OffGridUse",
    "OptionBrief",
    "OtherPanelsBrief",
    "OtherArrayBrief",
    "PanelBrief",
    "PieceBrief",
    "PlanBrief",
    "PostBrief",
    "ProfileBrief",
    "ROWS",
    "RailBrief",
    "ReadingBrief",
    "Row",
    "SiteBrief",
    "Sky",
    "SnowBrief",
    "SplitBrief",
    "SpotBrief",
    "StandBrief",
    "StockBrief",
    "SystemBrief",
    "TariffBrief",
    "ThingOfBrief",
    "TreeBrief",
    "Use",
    "WindBrief",
    "WiringBrief",
    "WorldSky",
    "WorthBrief",
    "YardBrief",
    "add_section",
    "drop_section",
]


class Brief(BriefSection):
    """One build."""

    format: Literal["crooked-sundial-brief"]
    version: Literal[1]
    name: Name = ""
    group: Annotated[Name, Field(description="of builds of one person that stand in one yard; empty: it stands alone")] = ""
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
    boundaries: BoundariesBrief = BoundariesBrief()
    wiring: WiringBrief = WiringBrief()
    log: LogBrief = LogBrief()
    bench: BenchBrief = BenchBrief()
    panel: PanelBrief
    array: ArrayBrief
    mount: Mount
    frame: Annotated[
        Structure | None,
        Field(description="what it is built from; with it mount.tilts may be left out: the frame says what it reaches"),
    ] = None
    stand: Annotated[
        StandBrief | None, Field(description="what it stands on; left out: as wind.carried_by, mount and frame say")
    ] = None
    wind: WindBrief | None = None
    footing: FootingBrief | None = None
    snow: SnowBrief | None = None
    beams: Annotated[list[BeamBrief], Field(max_length=40)] = []
    stock: Annotated[list[StockBrief], Field(max_length=200, description="boards and bars on hand and for sale")] = []
    pieces: Annotated[list[PieceBrief], Field(max_length=200, description="the person's own, beside the frame's")] = []
    kerf: Kerf = 0.003
    cutting: CuttingBrief = CuttingBrief()
    electrics: ElectricsBrief | None = None
    system: SystemBrief = SystemBrief()
    use: Annotated[Use, Field(description="what the energy is used for and worth")] = GridUse(kind="grid")
    battery: BatteryBrief | None = None
    plan: PlanBrief = PlanBrief()
    worth: WorthBrief = WorthBrief()
    options: Annotated[list[OptionBrief], Field(max_length=40)] = []
    room: Annotated[int | None, Field(ge=0, le=1000, description="for how many more panels; left out: not known")] = None

    @model_validator(mode="after")
    def _battery_by_the_hour(self) -> Brief:
        if self.battery is not None and isinstance(self.use, GridUse) and not self.use.by_hour:
            raise ValueError("battery: needs a use by the hour: give use.yearly, use.monthly or use.profile")
        if self.battery is not None and isinstance(self.use, DirectUse):
            raise ValueError("battery: a direct load has none; what a tank stores is use.tank")
        return self


def add_section(key: str, annotation: Any, default: Any) -> None:
    """Let a brief hold one more section: a plug-in's own, with its model as ``annotation`` (left out: ``default``)."""
    if key in Brief.model_fields:
        raise ValueError(f"a brief has a section {key!r} already")
    Brief.model_fields[key] = FieldInfo.from_annotated_attribute(annotation, default)
    Brief.model_rebuild(force=True)


def drop_section(key: str) -> None:
    """Take a plug-in's section out again."""
    del Brief.model_fields[key]
    Brief.model_rebuild(force=True)
