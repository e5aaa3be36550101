"""What the person wants of the tilt plan."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import timedelta
from typing import Any

from django.db import models
from django.db.models import Q
from django.utils import timezone

from sundial.brief.model import Brief
from web.builds.part import Part, Progress

PLAN = (
    "goal", "months", "demand", "settings", "cap", "floor", "weekdays", "year", "slack", "tilt_now", "minutes_per_move", "people",
    "value_of_hour",
)  # fmt: skip


def coming_year() -> int:
    """The year in which most of the next twelve months' weekends lie."""
    return (timezone.localdate() + timedelta(days=183)).year


class Plan(Part):
    """The wish behind the plan. Lists of twelve run January to December."""

    GOALS = [
        ("year", "all year"),
        ("winter", "winter"),
        ("worst-month", "worst month"),
        ("months", "my months"),
        ("demand", "my demand"),
        ("empty-days", "fewest empty days"),
    ]

    goal = models.CharField(max_length=12, choices=GOALS, default="year")
    months = models.JSONField(null=True, blank=True)
    demand = models.JSONField(null=True, blank=True)
    settings = models.PositiveSmallIntegerField(default=2)
    cap = models.JSONField(null=True, blank=True)
    floor = models.JSONField(null=True, blank=True)
    weekdays = models.JSONField(null=True, blank=True)
    year = models.PositiveSmallIntegerField(default=coming_year)  # whose weekends count
    slack = models.FloatField(default=0.001)
    tilt_now = models.FloatField(null=True, blank=True)
    minutes_per_move = models.FloatField(default=12.0)
    people = models.PositiveSmallIntegerField(default=1)
    value_of_hour = models.FloatField(default=0.0)

    class Meta:
        constraints = [models.CheckConstraint(condition=Q(settings__gte=1, settings__lte=12), name="plan_of_1_to_12_settings")]

    def complete(self) -> Progress:
        return "complete" if self.tilt_now is not None or self.value_of_hour else "enough"

    def to_brief(self) -> dict[str, Any]:
        return {"plan": {name: getattr(self, name) for name in PLAN}}

    def from_brief(self, brief: Brief, files: Mapping[str, bytes]) -> None:
        held = brief.plan.model_dump()
        for name in PLAN:
            setattr(self, name, held[name])
        if "year" not in brief.plan.model_fields_set:
            self.year = coming_year()
