"""What the frame is cut from and bolted with, and the wiring's own figures: stock, own pieces, saw, parts, strings and cable."""

from __future__ import annotations

from math import cos, radians, sin
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from sundial.brief_section import BriefSection, Name, Share
from sundial.quantities import WIRE, parse_quantity

MOST_PIECES = 2000  # of the whole list
BOLT_PLAY = 0.002  # m that a plate's hole is wider than its bolt of 12 to 24 mm (EN 1090-2:2018, table 11)
EDGE_DISTANCE = 1.2  # hole diameters from the middle of a hole to the edge, at least (EN 1993-1-8:2005, table 3.3)
SectionName = Annotated[
    Name, Field(min_length=1, description="such as 45x95 C24, strut 41x41x2.5, box 40x40x3 aluminium, or your own")
]
BoardLength = Annotated[float, Field(gt=0, le=15, description="m")]
Price = Annotated[float, Field(ge=0, le=1e6, description="of one")]


def _of_a_saw(kerf: float) -> float:
    if kerf > 0.01:
        raise ValueError(f"{kerf:g} m is {kerf * 100:.0f} cm: a saw takes 1 to 5 mm, write 0.003 for 3 mm")
    return kerf


Kerf = Annotated[float, AfterValidator(_of_a_saw), Field(ge=0, description="of the saw, m")]


class StockBrief(BriefSection):
    section: SectionName
    length: BoardLength
    count: Annotated[int | None, Field(ge=0, le=1000, description="on hand; left out: for sale, as many as are wanted")] = None
    price: Price = 0.0


class PieceBrief(BriefSection):
    """A piece of the person's own, beside those that the frame asks for."""

    name: Annotated[Name, Field(min_length=1)] = "piece"
    section: SectionName
    length: Annotated[float, Field(gt=0, le=50, description="along its middle line, m")]
    count: Annotated[int, Field(ge=1, le=1000)] = 1
    angle: Annotated[float, Field(ge=-75, le=75, description="off a square cut at one end, degrees")] = 0.0
    foot: Annotated[float, Field(ge=-75, le=75, description="the same at the other end")] = 0.0
    supports: Annotated[
        list[Annotated[float, Field(gt=0, le=50)]],
        Field(max_length=20, description="m from its foot, over which a joint may lie"),
    ] = []


class PartPriceBrief(BriefSection):
    """What a part of the parts list costs and weighs, and how many are sold together."""

    name: Annotated[Name, Field(min_length=1, description="as the parts list names it")]
    price: Annotated[Price | None, Field(description="of a pack")] = None
    pack: Annotated[int, Field(ge=1, le=10000)] = 1
    mass: Annotated[float | None, Field(ge=0, le=1000, description="of one, kg")] = None


class BasePlateBrief(BriefSection):
    """The bolt pattern of a pole's base plate, for the template that holds the bolts while the concrete sets."""

    plate: Annotated[float, Field(gt=0.05, le=1.2, description="side of the square plate, m")] = 0.3
    bolt_circle: Annotated[float, Field(gt=0.03, le=1.5, description="diameter through the bolts, m")] = 0.3
    bolts: Annotated[int, Field(ge=3, le=16)] = 4
    bolt: Annotated[float, Field(gt=0.004, le=0.06, description="thickness of a bolt, m")] = 0.016
    pole: Annotated[float, Field(gt=0.02, le=1.0, description="across the pole, m")] = 0.114
    turn: Annotated[float, Field(ge=-180, le=180, description="degrees from the north line to the first bolt, clockwise")] = 45.0

    @model_validator(mode="after")
    def _fits(self) -> BasePlateBrief:
        hole = self.bolt + BOLT_PLAY
        reach = max(
            self.bolt_circle / 2 * max(abs(sin(angle)), abs(cos(angle)))
            for angle in (radians(self.turn + 360 / self.bolts * number) for number in range(self.bolts))
        )
        needed = 2 * (reach + EDGE_DISTANCE * hole)
        if needed > self.plate + 1e-9:
            where = "outside the plate" if reach >= self.plate / 2 else "too near its edge"
            raise ValueError(
                f"bolt_circle: the bolts lie {where}: a smaller bolt circle, or a plate of at least {needed * 1000:.0f} mm "
                f"({EDGE_DISTANCE:g} hole diameters from a hole's middle to the edge)"
            )
        if self.bolt_circle / 2 - self.bolt < self.pole / 2:
            raise ValueError("bolt_circle: the bolts lie inside the pole: a larger bolt circle, or a thinner pole")
        return self


class CuttingBrief(BriefSection):
    """How the frame is made: sections by part, and what joins it."""

    sections: Annotated[
        dict[Annotated[str, Field(max_length=60)], SectionName],
        Field(max_length=40, description="section of a piece by its name (rail, prop, purlin ...); others: default"),
    ] = {}
    leave_out: Annotated[
        list[Annotated[str, Field(max_length=60)]], Field(max_length=40, description="pieces by name that stand there already")
    ] = []
    default: Annotated[SectionName, Field(description="of pieces that are not named")] = "45x95 C24"
    purlins: Annotated[int, Field(ge=0, le=4, description="along the row under each row of panels; 0: rails alone")] = 2
    braces: Annotated[bool, Field(description="a crossed pair between the rear supports")] = True
    fixing: Annotated[
        Literal["brackets", "clamps", "short rails"],
        Field(description="panels held by four brackets each, by end and mid clamps on long rails, or on short rails"),
    ] = "brackets"
    end_distance: Annotated[float, Field(ge=0, le=0.5, description="from a bolt to the end of its piece, m")] = 0.08
    bolt: Annotated[float, Field(gt=0.003, le=0.05, description="thickness of the frame's bolts, m")] = 0.012
    least_rest: Annotated[float, Field(ge=0, le=10, description="a rest of this length is kept, m")] = 0.3
    mitre_allowance: Annotated[float, Field(ge=0, le=0.1, description="more for each slanting cut, m")] = 0.002
    splice: Annotated[bool, Field(description="pieces longer than any board are made of two or more, as splices: any")] = False
    splices: Annotated[
        Literal["any", "over supports", "none"] | None,
        Field(description="where pieces longer than any board may be joined; left out: as splice says"),
    ] = None
    overlap: Annotated[
        float | None, Field(ge=0, le=3, description="of a joint lapped over a support, m; left out: as its bolts need")
    ] = None
    parts: Annotated[list[PartPriceBrief], Field(max_length=100)] = []
    freight: Annotated[Price, Field(description="of everything bought")] = 0.0
    tax: Annotated[Share, Field(description="on everything bought")] = 0.0
    base: Annotated[BasePlateBrief | None, Field(description="of a pole")] = None
    longer: Annotated[int, Field(ge=0, le=20, description="columns to add to the rack as it is")] = 0
    longer_rows: Annotated[int, Field(ge=0, le=10, description="rows to add to it")] = 0
    longer_way: Annotated[Literal["down", "up"], Field(description="the slope, where these rows are added")] = "down"
    gap: Annotated[float, Field(ge=0, le=0.2, description="between panels, m")] = 0.02
    hole_pitch: Annotated[float, Field(ge=0, le=0.5, description="of a channel's holes, m")] = 0.05
    done: Annotated[list[Annotated[str, Field(max_length=40)]], Field(max_length=MOST_PIECES, description="what is ticked")] = []


class InputBrief(BriefSection):
    """The inverter's or charge controller's side, as its label has it."""

    max_voltage: Annotated[float, Field(gt=0, le=2000, description="V, open circuit")]
    window: Annotated[
        tuple[Annotated[float, Field(ge=0, le=2000)], Annotated[float, Field(gt=0, le=2000)]],
        Field(description="in which it tracks, V"),
    ]
    max_current: Annotated[float, Field(gt=0, le=500, description="A, of each input")]
    inputs: Annotated[int, Field(ge=1, le=12)] = 1

    @model_validator(mode="after")
    def _in_order(self) -> InputBrief:
        low, high = self.window
        if low >= high:
            raise ValueError(f"window: the tracking window runs from low to high, not from {low:g} to {high:g} V")
        if high > self.max_voltage:
            raise ValueError(
                f"window: the tracking window ends at {high:g} V, over the most the input bears, {self.max_voltage:g} V"
            )
        return self


def _conductor(text: str) -> str:
    said = " ".join(text.lower().replace("-", " ").split())
    if said in ("copper", "cu"):
        return "copper"
    if said in ("aluminium", "aluminum", "al"):
        return "aluminium"
    if any(word in said for word in ("clad", "coated", "cca", "plated")):
        raise ValueError(
            f"{text!r} carries current like aluminium, not like copper: name it aluminium, and expect the thicker size"
        )
    raise ValueError(f"is copper or aluminium, not {text!r}")


class CableBrief(BriefSection):
    """The run from the panels to the input."""

    length: Annotated[float, Field(gt=0, le=1000, description="one way, m")]
    area: Annotated[float, Field(gt=0, le=400, description="mm2 of one conductor; or awg instead")] = 0.0
    awg: Annotated[str | int | None, Field(description="its American gauge instead of an area: 6, or 2/0")] = None
    material: Annotated[str, AfterValidator(_conductor), Field(max_length=40, description="copper or aluminium")] = "copper"
    strands: Annotated[
        Literal["class 2", "class 5"], Field(description="stranded (house cable), or fine and tinned (panel cable); IEC 60228")
    ] = "class 2"
    temperature: Annotated[float, Field(ge=-40, le=120, description="of the conductor, degC")] = 50.0
    prices: Annotated[
        list[tuple[Annotated[float, Field(gt=0, le=400)], Price]],
        Field(max_length=20, description="mm2, and the price of a metre of one conductor"),
    ] = []

    @model_validator(mode="after")
    def _gauge(self) -> CableBrief:
        """An area in mm2, whichever of the two is told."""
        if self.awg is None:
            if not self.area:
                raise ValueError("area: is missing (or give awg)")
            return self
        try:
            area = parse_quantity(str(self.awg), WIRE, "us")
        except ValueError:
            raise ValueError(f"awg: {str(self.awg)[:20]!r} is no gauge such as 6 or 2/0") from None
        if self.area and abs(self.area / area - 1) > 0.005:
            raise ValueError("awg: and area say two things: leave one of them out")
        for name, value in (("area", area), ("awg", None)):
            object.__setattr__(self, name, value)
        return self


class ElectricsBrief(BriefSection):
    voc: Annotated[float, Field(gt=0, le=500, description="open-circuit voltage of a panel at 25 degC, V")]
    isc: Annotated[float, Field(gt=0, le=100, description="short-circuit current, A")]
    vmp: Annotated[float, Field(gt=0, le=500, description="voltage at its best, V")]
    imp: Annotated[float, Field(gt=0, le=100, description="current at its best, A")]
    beta: Annotated[
        float, Field(gt=-0.02, lt=0, description="temperature coefficient of the open-circuit voltage, 1/K, below zero")
    ]
    alpha: Annotated[float, Field(ge=-0.001, le=0.005, description="of the short-circuit current, 1/K")] = 0.0005
    min_temp: Annotated[float, Field(ge=-70, le=30, description="coldest air at sunrise, degC")] = -10.0
    max_temp: Annotated[float, Field(ge=0, le=60, description="hottest air, degC")] = 38.0
    input: InputBrief | None = None
    cable: CableBrief | None = None
    lead: Annotated[float | None, Field(gt=0, le=10, description="each of a panel's two leads, m")] = None
    boxes: Annotated[
        Literal["middle", "end"], Field(description="where the leads leave: in the panel's middle, or near its upper short side")
    ] = "middle"
    leapfrog: Annotated[
        bool, Field(description="the cable takes every second panel on its way out, and the others on its way back")
    ] = False

    @model_validator(mode="after")
    def _as_on_a_label(self) -> ElectricsBrief:
        if self.vmp >= self.voc:
            raise ValueError(f"voc: must be over vmp ({self.vmp:g} V), not {self.voc:g} V: the two are easily swapped")
        if self.imp > self.isc:
            raise ValueError(f"isc: must be at least imp ({self.imp:g} A), not {self.isc:g} A: the two are easily swapped")
        if self.min_temp >= self.max_temp:
            raise ValueError("min_temp: the coldest air is colder than the hottest")
        return self
