"""What the controller on the bench is set to, and the day that is replayed."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db import models

from sundial.brief.model import Brief
from web.builds.part import Part, Progress


class Bench(Part):
    """``settings`` are the core's, in words that it validated; empty: its own. ``sky`` and ``seed`` are of the day shown alone."""

    SKIES = [("weather", "as told"), ("clear", "clear"), ("broken", "broken"), ("overcast", "overcast")]

    settings = models.JSONField(default=dict, blank=True)
    sky = models.CharField(max_length=10, default="weather", choices=SKIES)
    seed = models.PositiveIntegerField(default=1)
    beside = models.JSONField(null=True, blank=True)  # other settings, kept to be set beside these

    def to_brief(self) -> dict[str, Any]:
        return {"bench": self.settings}

    def from_brief(self, brief: Brief, files: Mapping[str, bytes]) -> None:
        self.settings = brief.bench.model_dump(mode="json", exclude_defaults=True)

    def complete(self) -> Progress:
        return "complete" if self.settings else "enough"
