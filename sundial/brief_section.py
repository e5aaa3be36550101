"""What all sections of a brief share: the base class, and types with their ranges."""

from __future__ import annotations

from typing import Annotated

from pydantic import AfterValidator, BaseModel, ConfigDict, Field

Month = Annotated[int, Field(ge=1, le=12)]
Share = Annotated[float, Field(ge=0, le=1)]
Tilt = Annotated[float, Field(ge=-90, le=90)]
Upright = Annotated[float, Field(ge=0, le=90)]
Azimuth = Annotated[float, Field(ge=0, le=360)]
Twelve = Annotated[list[float], Field(min_length=12, max_length=12)]
Money = Annotated[float, Field(ge=-1e9, le=1e9)]


def one_line(text: str) -> str:
    """A name as one line: whatever cannot be printed, line ends included, becomes a space."""
    return " ".join("".join(char if char.isprintable() else " " for char in text).split())


Name = Annotated[str, AfterValidator(one_line), Field(max_length=120)]
XY = tuple[float, float]


class BriefSection(BaseModel):
    """A section refuses keys it does not know, and numbers that are not finite."""

    model_config = ConfigDict(extra="forbid", frozen=True, allow_inf_nan=False)
