"""Prices, and the rows of the comparison that the person priced, added or switched off."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db import models
from django.db.models import Q

from sundial.brief.model import Brief
from web.builds.part import Part, Progress

WORTH = ("life", "interest", "price_growth", "ageing", "panel_cost", "count_hours")
OPTION = ("mount", "settings", "extra_cost", "upkeep", "minutes_per_move", "off")


class Economics(Part):
    """What energy and money are worth to this build."""

    import_price = models.FloatField(default=0.25)
    export_price = models.FloatField(default=0.05)
    self_consumption = models.FloatField(default=0.4)
    life = models.PositiveSmallIntegerField(default=20)
    interest = models.FloatField(default=0.03)
    price_growth = models.FloatField(default=0.0)
    ageing = models.FloatField(default=0.005)
    panel_cost = models.FloatField(null=True, blank=True)
    count_hours = models.BooleanField(default=False)
    room = models.PositiveSmallIntegerField(null=True, blank=True)

    shared = ("import_price", "export_price", "self_consumption")
    shared_words = "what a kWh is worth"

    class Meta:
        constraints = [
            models.CheckConstraint(condition=Q(life__gte=1), name="economics_of_a_year_or_more"),
            models.CheckConstraint(condition=Q(self_consumption__gte=0, self_consumption__lte=1), name="economics_share"),
        ]

    def complete(self) -> Progress:
        return "enough" if self.panel_cost is None else "complete"

    @property
    def options(self) -> list[Option]:
        """The build's options in their order; changes to the list count for what is computed, saved or not."""
        if not hasattr(self, "_options"):
            stored = Option.objects.filter(build_id=self.build_id) if self.build_id else ()
            self._options = list(stored)
        return self._options

    def to_brief(self) -> dict[str, Any]:
        return {
            "use": {
                "kind": "grid",
                "import_price": self.import_price,
                "export_price": self.export_price,
                "own_share": self.self_consumption,
            },
            "worth": {name: getattr(self, name) for name in WORTH},
            "options": [option.to_brief() for option in self.options],
            "room": self.room,
        }

    def from_brief(self, brief: Brief, files: Mapping[str, bytes]) -> None:
        use, worth = brief.use, brief.worth.model_dump()
        self.import_price, self.export_price, self.self_consumption = use.import_price, use.export_price, use.own_share
        self.room = brief.room
        for name in WORTH:
            setattr(self, name, worth[name])
        self._options = [
            Option(build=self.build, position=position, **option.model_dump(exclude_none=True))
            for position, option in enumerate(brief.options)
        ]

    def child_rows(self) -> list[models.Model]:
        return list(self.options)


class Option(models.Model):
    """One row: a standard one (``row``) priced or switched off, or one of the person's own with its ``mount``."""

    build = models.ForeignKey("builds.Build", on_delete=models.CASCADE, related_name="options")
    position = models.PositiveSmallIntegerField(default=0)
    name = models.CharField(max_length=120, blank=True)
    row = models.CharField(max_length=16, null=True, blank=True)
    mount = models.JSONField(null=True, blank=True)
    settings = models.PositiveSmallIntegerField(null=True, blank=True)
    off = models.BooleanField(default=False)
    extra_cost = models.FloatField(null=True, blank=True)
    upkeep = models.FloatField(default=0.0)
    minutes_per_move = models.FloatField(null=True, blank=True)

    class Meta:
        ordering = ["position", "pk"]
        constraints = [models.UniqueConstraint(fields=["build", "row"], name="one_option_a_row")]  # own ones have no row

    def to_brief(self) -> dict[str, Any]:
        """The option as a brief holds it."""
        return {"name": self.name or None, "row": self.row or None, **{name: getattr(self, name) for name in OPTION}}
