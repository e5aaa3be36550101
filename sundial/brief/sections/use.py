"""What the energy is used for, what it is worth, what stores it, and the options compared."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import ConfigDict, Field, model_validator

from sundial.brief.sections.frame import Mount
from sundial.brief_section import BriefSection, Money, Month, Share

ROWS = (
    "flat", "best-fixed", "yours", "winter-left", "two-moves", "four-moves", "twelve-moves", "turned",
    "hinge", "one-axis", "one-axis-hand", "two-axis", "more-panels", "more-flat", "bigger-battery",
)  # fmt: skip
Row = Literal[
    "flat", "best-fixed", "yours", "winter-left", "two-moves", "four-moves", "twelve-moves", "turned",
    "hinge", "one-axis", "one-axis-hand", "two-axis", "more-panels", "more-flat", "bigger-battery",
]  # fmt: skip
Shape = Literal["home-day", "home-evening", "workshop", "cold-store", "pump", "constant"]
Positive = Annotated[float, Field(ge=0, le=1e6)]
Amounts = Annotated[list[Positive], Field(min_length=12, max_length=12)]
HOUR = r"^([01][0-9]|2[0-3]):00$|^24:00$"


class ProfileBrief(BriefSection):
    """A file of the use: a CSV of a year, or of a typical week from Monday, by the hour or finer."""

    file: Annotated[str, Field(min_length=1, max_length=200, description="relative to the brief")]
    time: Annotated[str, Field(max_length=80, description="name of the column of times; empty: the first")] = ""
    column: Annotated[
        str, Field(max_length=80, description="name of the column of the use; empty: the second, or the only one")
    ] = ""
    unit: Literal["kWh", "Wh", "W", "kW"] = "kWh"


class TariffBandBrief(BriefSection):
    """A price for some hours of the day, in some months. Without ``from`` and ``to``: the rest of the day."""

    model_config = ConfigDict(populate_by_name=True)

    from_: Annotated[str | None, Field(alias="from", pattern=HOUR, description="whole hour of the clock on the wall")] = None
    to: Annotated[str | None, Field(pattern=HOUR, description="the hour it ends before")] = None
    price: Annotated[Money, Field(description="per kWh")]
    months: Annotated[list[Month] | None, Field(min_length=1, max_length=12, description="left out: all")] = None

    @model_validator(mode="after")
    def _both_ends(self) -> TariffBandBrief:
        if (self.from_ is None) != (self.to is None):
            raise ValueError("to: give both from and to, or neither for the rest of the day")
        if self.from_ is not None and self.from_ == self.to:
            raise ValueError("to: is the hour it starts at; 00:00 to 24:00 is the whole day")
        return self


class BlockBrief(BriefSection):
    """A part of a month's use, on top of the band's price."""

    up_to: Annotated[float | None, Field(gt=0, le=1e6, description="kWh of the month; the last block has none")] = None
    price: Annotated[Money, Field(description="per kWh, on top of the band's")]


class CreditBrief(BriefSection):
    """What is sold is kept as kWh that later purchases are set against, until it expires once a year."""

    expires: Annotated[Month, Field(description="at the end of this month what is left expires")] = 3
    payout: Annotated[Money, Field(description="paid for a kWh that expires")] = 0.0


class ContractBrief(BriefSection):
    """An old contract that ends where too much is added."""

    added: Annotated[float, Field(ge=0, le=1e6, description="W of nameplate that may be added under it")] = 0.0
    export: Annotated[Money, Field(description="per kWh sold, once it has ended")] = 0.0


class TariffBrief(BriefSection):
    """Prices by the hour of the clock on the wall, the month and the month's use."""

    model_config = ConfigDict(populate_by_name=True)

    import_: Annotated[
        list[TariffBandBrief] | None, Field(alias="import", min_length=1, max_length=48, description="left out: import_price")
    ] = None
    blocks: Annotated[list[BlockBrief] | None, Field(min_length=1, max_length=12)] = None
    export: Annotated[Money | list[TariffBandBrief] | None, Field(description="one price, or bands; left out: export_price")] = (
        None
    )
    export_limit: Annotated[float | None, Field(ge=0, le=1e6, description="W; 0: nothing may be fed in")] = None
    credit: CreditBrief | None = None
    standing: Annotated[Money, Field(description="a month, whatever is used")] = 0.0
    contract: ContractBrief | None = None

    @model_validator(mode="after")
    def _check(self) -> TariffBrief:
        for key, bands in (("import", self.import_), ("export", self.export)):
            if isinstance(bands, list):
                price_table(bands, key)
        last = 0.0
        for number, block in enumerate(self.blocks or ()):
            if block.up_to is None:
                if number < len(self.blocks or ()) - 1:
                    raise ValueError(f"blocks: block {number + 1} has no end, so none can come after it")
            elif block.up_to <= last:
                raise ValueError(f"blocks: block {number + 1} ends at {block.up_to:g} kWh, not after the one before ({last:g})")
            else:
                last = block.up_to
        if self.blocks and self.blocks[-1].up_to is not None:
            raise ValueError(f"blocks: say what a kWh over {last:g} costs: the last block has no up_to")
        return self


def price_table(bands: list[TariffBandBrief], key: str) -> list[list[float]]:
    """Prices by month and hour of the day (12 x 24). ValueError, led by the ``key``, where bands overlap or leave a gap."""
    table: list[list[float | None]] = [[None] * 24 for _ in range(12)]
    named: list[list[int]] = [[0] * 24 for _ in range(12)]
    rests: list[tuple[float, int] | None] = [None] * 12
    for number, band in enumerate(bands, 1):
        for month in band.months or range(1, 13):
            if band.from_ is None or band.to is None:
                if rests[month - 1] is not None:
                    raise ValueError(f"{key}: bands {rests[month - 1][1]} and {number} are both for the rest of the day")  # type: ignore[index]
                rests[month - 1] = (band.price, number)
                continue
            start, end = int(band.from_[:2]), int(band.to[:2])
            for hour in range(start, end if end > start else end + 24):
                if named[month - 1][hour % 24]:
                    raise ValueError(f"{key}: bands {named[month - 1][hour % 24]} and {number} overlap at {hour % 24:02}:00")
                named[month - 1][hour % 24] = number
                table[month - 1][hour % 24] = band.price
    for month in range(12):
        for hour in range(24):
            rest = rests[month]
            if table[month][hour] is None and rest is None:
                raise ValueError(
                    f"{key}: no band holds at {hour:02}:00 in month {month + 1}; add one without from and to for the rest"
                )
            if table[month][hour] is None and rest is not None:
                table[month][hour] = rest[0]
    return table  # type: ignore[return-value]


class GridUse(BriefSection):
    """On a grid. Without ``yearly``, ``monthly`` or ``profile`` a fixed share of every hour is used on the spot."""

    kind: Literal["grid"]
    import_price: Annotated[Money, Field(description="per kWh bought")] = 0.25
    export_price: Annotated[Money, Field(description="per kWh sold; negative where export costs")] = 0.05
    own_share: Annotated[
        Share, Field(description="share of the energy used on the spot, where the use is not told by the hour")
    ] = 0.4
    yearly: Annotated[float | None, Field(gt=0, le=1e7, description="kWh used in a year")] = None
    monthly: Annotated[Amounts | None, Field(description="kWh used in each month, in place of yearly")] = None
    shape: Annotated[Shape, Field(description="how the use lies in the day")] = "home-day"
    profile: ProfileBrief | None = None
    tariff: TariffBrief | None = None

    @model_validator(mode="after")
    def _one_amount(self) -> GridUse:
        if self.yearly is not None and self.monthly is not None:
            raise ValueError("monthly: give the use of the year or of the months, not both")
        if self.monthly is not None and not sum(self.monthly):
            raise ValueError("monthly: nothing is used in any month")
        if self.tariff is not None and not self.by_hour:
            raise ValueError("tariff: prices by the hour need a use by the hour: give yearly, monthly or a profile")
        return self

    @property
    def by_hour(self) -> bool:
        """Whether the use of every hour is told."""
        return self.yearly is not None or self.monthly is not None or self.profile is not None


class GeneratorBrief(BriefSection):
    power: Annotated[float, Field(gt=0, le=1e6, description="W")]
    cost_per_kwh: Annotated[float, Field(ge=0, le=1e4, description="fuel and wear")]
    minimum_run: Annotated[int, Field(ge=1, le=24, description="hours it runs once it is started")] = 1


class OffGridUse(BriefSection):
    """A hut without a grid: what counts is demand met."""

    kind: Literal["off-grid"]
    demand: Annotated[Amounts | Positive, Field(description="kWh a day; one number, or twelve by month")]
    shape: Shape = "home-evening"
    profile: Annotated[ProfileBrief | None, Field(description="its hours, scaled to the demand")] = None
    generator: GeneratorBrief | None = None
    missing_price: Annotated[float, Field(ge=0, le=1e4, description="what a kWh that is missing costs you")] = 0.5


class DirectUse(BriefSection):
    """A load that runs while the sun shines: a water lift, a heater, a fan."""

    kind: Literal["direct"]
    demand: Annotated[Amounts | Positive, Field(description="kWh a month; one number, or twelve")]
    power: Annotated[float | None, Field(gt=0, le=1e6, description="W that the load takes at most; left out: whatever comes")] = (
        None
    )
    tank: Annotated[
        float, Field(ge=0, le=1e5, description="kWh's worth that a tank stores; 0: a day's need is met that day or not")
    ] = 0.0
    shape: Annotated[Shape, Field(description="how it is drawn from the tank")] = "constant"
    price: Annotated[float, Field(ge=0, le=1e4, description="what a kWh of it replaces costs")] = 0.2


Use = Annotated[GridUse | OffGridUse | DirectUse, Field(discriminator="kind")]


class BatteryBrief(BriefSection):
    usable: Annotated[float, Field(gt=0, le=1e5, description="kWh")]
    charge: Annotated[float, Field(gt=0, le=1e6, description="W")] = 2500.0
    discharge: Annotated[float, Field(gt=0, le=1e6, description="W")] = 2500.0
    round_trip: Annotated[float, Field(gt=0, le=1, description="share of what goes in that comes out")] = 0.9
    reserve: Annotated[float, Field(ge=0, le=0.95, description="share that is kept back")] = 0.0
    more: Annotated[
        float | None, Field(gt=0, le=1e5, description="kWh more of the row with a bigger battery; left out: half")
    ] = None


class WorthBrief(BriefSection):
    life: Annotated[int, Field(ge=1, le=60, description="years")] = 20
    interest: Annotated[float, Field(gt=-1, le=1)] = 0.03
    price_growth: Annotated[float, Field(gt=-1, le=1, description="a year")] = 0.0
    ageing: Annotated[Share, Field(description="of the panels, a year")] = 0.005
    panel_cost: Annotated[float | None, Field(ge=0, le=1e6, description="one more panel with its frame, wire and freight")] = None
    count_hours: Annotated[bool, Field(description="put a price on the hours of work")] = False
    spent: Annotated[
        float | None,
        Field(ge=0, le=1e9, description="on the whole build: panels, frame, wires, converter, hours; left out: not told"),
    ] = None


class OtherPanelsBrief(BriefSection):
    """``count`` more panels beside the array, on its inverter (left out: the array's own, held elsewhere), in this yard's light and shade; what is
    left out is as the array's."""

    count: Annotated[int | None, Field(ge=1, le=400)] = None
    power: Annotated[float | None, Field(ge=1, le=2000, description="nameplate of one, W")] = None
    bifaciality: Annotated[float | None, Field(ge=0, le=1, description="of two-sided ones; 0: the back gives nothing")] = None
    azimuth: Annotated[float | None, Field(ge=0, le=360, description="degrees from true north")] = None
    tilt: Annotated[float | None, Field(ge=0, le=90, description="degrees from level")] = None


class OptionBrief(BriefSection):
    name: Annotated[str, Field(min_length=1, max_length=120)] | None = None
    row: Annotated[Row | None, Field(description="the standard row this prices, shows or switches off")] = None
    mount: Mount | None = None
    panels: OtherPanelsBrief | None = None
    settings: Annotated[int | None, Field(ge=1, le=12, description="for a stepped mount")] = None
    off: bool = False
    extra_cost: Annotated[float | None, Field(ge=-1e9, le=1e9, description="over the base; left out: not priced")] = None
    upkeep: Annotated[float, Field(ge=0, le=1e6, description="a year")] = 0.0
    minutes_per_move: Annotated[float | None, Field(ge=0, le=10000)] = None
