"""What all sections of a brief share: the base class, and types with their ranges."""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

Month = Annotated[int, Field(ge=1, le=12)]
Share = Annotated[float, Field(ge=0, le=1)]
Tilt = Annotated[float, Field(ge=-90, le=90)]
Upright = Annotated[float, Field(ge=0, le=90)]
Azimuth = Annotated[float, Field(ge=0, le=360)]
Twelve = Annotated[list[float], Field(min_length=12, max_length=12)]
Money = Annotated[float, Field(ge=-1e9, le=1e9)]
Name = Annotated[str, Field(max_length=120)]
XY = tuple[float, float]


class BriefSection(BaseModel):
    """A section refuses keys it does not know, and numbers that are not finite."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)
