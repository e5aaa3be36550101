"""What the throw-away station stores."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db import models

from sundial.brief.model import Brief
from web.builds.part import Part, Progress


class Lantern(Part):
    """A lantern that hangs from the frame."""

    power = models.FloatField(default=5.0)
    note = models.CharField(max_length=40, blank=True)

    def complete(self) -> Progress:
        return "complete" if self.note else "empty"

    def to_brief(self) -> dict[str, Any]:
        return {"lantern": {"power": self.power, "note": self.note}}

    def from_brief(self, brief: Brief, files: Mapping[str, bytes]) -> None:
        held = brief.lantern  # type: ignore[attr-defined]
        if held is not None:
            self.power, self.note = held.power, held.note
