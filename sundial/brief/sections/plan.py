"""The constraints behind the tilt plan."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import Field, model_validator

from sundial.brief_section import BriefSection, Month, Upright


class PlanBrief(BriefSection):
    goal: Literal["year", "winter", "months", "worst-month", "demand", "empty-days"] = "year"
    months: Annotated[list[Month] | None, Field(description="for goal months")] = None
    demand: Annotated[
        Annotated[list[Annotated[float, Field(ge=0)]], Field(min_length=12, max_length=12)] | None,
        Field(description="for goal demand, kWh a month"),
    ] = None
    settings: Annotated[int, Field(ge=1, le=12, description="settings a year; 1 is fixed")] = 2
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

    @model_validator(mode="before")
    @classmethod
    def _settings_were_moves(cls, data: Any) -> Any:
        """Older briefs say ``moves`` for the number of settings; both at once are refused as an unknown key."""
        if isinstance(data, dict) and "moves" in data and "settings" not in data:
            return {("settings" if key == "moves" else key): value for key, value in data.items()}
        return data
