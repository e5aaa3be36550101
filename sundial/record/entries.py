"""What a log holds: moves, readings, inspections, changes and notes, each at its time."""

from __future__ import annotations

from datetime import date, datetime
from typing import Annotated, Literal

from pydantic import AfterValidator, AwareDatetime, Field, TypeAdapter

from sundial.brief_section import Azimuth, BriefSection
from sundial.doors import in_years
from sundial.errors import BriefError


def _of_these_years(moment: datetime | date) -> datetime | date:
    """A year in which something may have been logged: others cannot be told in another zone."""
    try:
        in_years(moment, "")
    except BriefError as error:
        raise ValueError(error.message) from None
    return moment


Moment = Annotated[AwareDatetime, AfterValidator(_of_these_years)]
Day = Annotated[date, AfterValidator(_of_these_years)]

Leaning = Annotated[float, Field(ge=-90, le=90, description="degrees from level")]
Words = Annotated[str, Field(max_length=400)]
Watts = Annotated[float, Field(ge=0, le=2e6, description="W")]
BATTERIES = ("none", "charging", "nearly full", "full")
INSPECTED = ("bolts", "sealant", "level", "growth", "dirt", "hinges", "cables")
CHANGES = ("cleaned", "rain", "pruned", "panel swapped", "row added", "other")


class Entry(BriefSection):
    """What every entry has."""

    at: Annotated[Moment, Field(description="when it was, with its offset from UTC")]
    note: Words = ""


class Move(Entry):
    """The frame was set to another tilt; ``before``: as the inclinometer read first; ``planned``: the day the plan wanted it."""

    kind: Literal["move"] = "move"
    tilt: Leaning
    before: Leaning | None = None
    planned: Day | None = None
    minutes: Annotated[float | None, Field(ge=0, le=1440)] = None
    by: Annotated[str, Field(max_length=60)] = ""


class Reading(Entry):
    """What a display or a meter shows. Power W, or volts and amps; or any other ``quantity`` in its ``unit`` since ``since``.

    ``with_load``: W a moment later, with a load switched on. ``export_cap``: W that may be fed in at most, where that is known."""

    kind: Literal["reading"] = "reading"
    power: Watts | None = None
    volts: Annotated[float | None, Field(ge=0, le=2000)] = None
    amps: Annotated[float | None, Field(ge=0, le=2000)] = None
    quantity: Annotated[float | None, Field(ge=0, le=1e9)] = None
    unit: Annotated[str, Field(max_length=20)] = ""
    since: Moment | None = None
    sky: Literal["clear", "haze", "broken", "overcast"] = "clear"
    tilt: Leaning | None = None
    azimuth: Azimuth | None = None
    panel_temp: Annotated[float | None, Field(ge=-60, le=120, description="degC")] = None
    battery: Literal["", "none", "charging", "nearly full", "full"] = ""
    with_load: Watts | None = None
    in_the_way: bool = False

    @property
    def watts(self) -> float | None:
        """Power, told or of volts and amps."""
        if self.power is not None:
            return self.power
        return None if self.volts is None or self.amps is None else self.volts * self.amps


class Inspection(Entry):
    """What was looked at, whether it was in order, and when it is due again."""

    kind: Literal["inspection"] = "inspection"
    what: Literal["bolts", "sealant", "level", "growth", "dirt", "hinges", "cables"]
    fine: bool = True
    due: Day | None = None


class Change(Entry):
    """Something was done that may change what it makes."""

    kind: Literal["change"] = "change"
    what: Literal["cleaned", "rain", "pruned", "panel swapped", "row added", "other"]


class Note(Entry):
    """Words alone."""

    kind: Literal["note"] = "note"
    note: Annotated[str, Field(min_length=1, max_length=400)]


AnyEntry = Annotated[Move | Reading | Inspection | Change | Note, Field(discriminator="kind")]
ENTRY: TypeAdapter[Move | Reading | Inspection | Change | Note] = TypeAdapter(AnyEntry)
ENTRIES: TypeAdapter[list[Move | Reading | Inspection | Change | Note]] = TypeAdapter(list[AnyEntry])
