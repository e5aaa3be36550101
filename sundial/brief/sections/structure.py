"""What the frame is built from: the section of whichever kind it is (:mod:`sundial.frames`)."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Union

from pydantic import Field

from sundial.frames.kind import StructureBrief
from sundial.frames.registry import briefs

if TYPE_CHECKING:
    Structure = StructureBrief
else:
    Structure = Annotated[Union[briefs()], Field(discriminator="kind")]  # noqa: UP007 - of a tuple made at run time
