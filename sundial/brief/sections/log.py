"""The log: what is known of the meter that it is kept with."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from sundial.brief_section import BriefSection


class LogBrief(BriefSection):
    meter_error: Annotated[
        float, Field(ge=0, le=0.25, description="share by which the meter itself may be off; no figure is surer than it")
    ] = 0.02
