"""What the energy is used for, its worth, and the options compared."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from sundial.brief.sections.base import BriefSection, Money, Share
from sundial.brief.sections.frame import Mount

ROWS = (
    "flat", "best-fixed", "yours", "two-moves", "four-moves", "twelve-moves",
    "one-axis", "one-axis-hand", "two-axis", "more-panels",
)  # fmt: skip
Row = Literal[
    "flat", "best-fixed", "yours", "two-moves", "four-moves", "twelve-moves",
    "one-axis", "one-axis-hand", "two-axis", "more-panels",
]  # fmt: skip


class GridUse(BriefSection):
    kind: Literal["grid"]
    import_price: Annotated[Money, Field(description="per kWh bought")] = 0.25
    export_price: Annotated[Money, Field(description="per kWh sold; negative where export costs")] = 0.05
    own_share: Annotated[Share, Field(description="share of the energy used on the spot")] = 0.4


class WorthBrief(BriefSection):
    life: Annotated[int, Field(ge=1, le=60, description="years")] = 20
    interest: Annotated[float, Field(gt=-1, le=1)] = 0.03
    price_growth: Annotated[float, Field(gt=-1, le=1, description="a year")] = 0.0
    ageing: Annotated[Share, Field(description="of the panels, a year")] = 0.005
    panel_cost: Annotated[float | None, Field(ge=0, le=1e6, description="one more panel with its frame, wire and freight")] = None
    count_hours: Annotated[bool, Field(description="put a price on the hours of work")] = False


class OptionBrief(BriefSection):
    name: Annotated[str, Field(min_length=1, max_length=120)] | None = None
    row: Annotated[Row | None, Field(description="the standard row this prices or switches off")] = None
    mount: Mount | None = None
    settings: Annotated[int | None, Field(ge=1, le=12, description="for a stepped mount")] = None
    off: bool = False
    extra_cost: Annotated[float | None, Field(ge=-1e9, le=1e9, description="over the base; left out: not priced")] = None
    upkeep: Annotated[float, Field(ge=0, le=1e6, description="a year")] = 0.0
    minutes_per_move: Annotated[float | None, Field(ge=0, le=10000)] = None
