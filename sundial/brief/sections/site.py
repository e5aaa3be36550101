"""The site."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from sundial.brief_section import BriefSection, Name


class SiteBrief(BriefSection):
    latitude: Annotated[float, Field(gt=-90, lt=90, description="degrees, north positive")]
    longitude: Annotated[float, Field(ge=-180, le=180, description="degrees, east positive")]
    elevation: Annotated[float, Field(ge=-450, le=6000, description="m above the sea")] = 0.0
    timezone: Annotated[Name, Field(description="IANA name")] = "UTC"
