"""A trial as a file: two arms, their nameplates, and repeats of what each gave."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from pydantic import Field, ValidationError, model_validator

from sundial.brief_section import BriefSection
from sundial.errors import BriefError

Nameplate = Annotated[float, Field(gt=0, le=1e7, description="W")]
Energy = Annotated[float, Field(ge=0, le=1e9, description="Wh")]
Stopped = Literal["", "shade", "throttled", "cloud", "other"]
MOST = 400  # repeats of one trial


class Repeat(BriefSection):
    """One repeat: Wh of the position ``a`` and of the position ``b`` over the same ``hours``.

    ``swapped``: what is tried stood at the other position. ``alike``: both were treated alike, so only the panels and meters differ.
    ``stopped``: what ended it early; a repeat that shade or a full battery stopped says nothing and is left out.
    ``spot``: watts of two moments, each over the sun of its minute, instead of energy."""

    a: Energy
    b: Energy
    swapped: bool = False
    alike: bool = False
    hours: Annotated[float | None, Field(gt=0, le=240)] = None
    stopped: Stopped = ""
    spot: bool = False
    on: date | None = None


class Trial(BriefSection):
    """``gain``: the gain that the trial is to be able to show, a fraction (left out: the one that it found)."""

    arms: Annotated[list[Annotated[str, Field(min_length=1, max_length=60)]], Field(min_length=2, max_length=2)] = ["A", "B"]
    nameplate: Annotated[list[Nameplate], Field(min_length=2, max_length=2)]
    repeats: Annotated[list[Repeat], Field(min_length=1, max_length=MOST)]
    gain: Annotated[float | None, Field(gt=0, le=5)] = None

    @model_validator(mode="after")
    def _told_apart(self) -> Trial:
        if self.arms[0].strip().lower() == self.arms[1].strip().lower():
            raise ValueError("arms: both have the same name")
        return self


def read_trial(text: bytes | str) -> Trial:
    """A trial from JSON. BriefError naming the path of what is wrong."""
    try:
        return Trial.model_validate_json(text)
    except ValidationError as error:
        first = error.errors()[0]
        path = ".".join(str(part) for part in first["loc"]) or "trial"
        raise BriefError(path, first["msg"].removeprefix("Value error, ")) from None
