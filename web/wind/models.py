"""The wind, what holds the frame against it, snow, and beams."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db import models

from sundial.brief.model import Brief, FootingBrief, SnowBrief, WindBrief
from web.builds.part import Part, Progress

WIND = (
    "gust", "surroundings", "gusts", "blocked", "anchored", "carried_by", "frame_mass", "ballast", "friction", "factor",
    "width", "stow", "table", "in_plan",
)  # fmt: skip
FOOTING = (
    "kind", "diameter", "height", "feet", "soil", "fresh_fill", "frost_depth", "depth", "rating", "reduction", "stored", "spacing", "thread",
)  # fmt: skip


class Wind(Part):
    """What blows, and how it stands against it, in the words of a brief; nothing of it counts until it is ``told``."""

    SURROUNDINGS = [
        ("water", "open water or flats"),
        ("open", "open land"),
        ("farmland", "farmland, trees, houses"),
        ("built-up", "built-up land"),
    ]
    CARRIED = [
        ("ground", "the ground"),
        ("wall", "a wall"),
        ("pergola", "a pergola"),
        ("railing", "a railing"),
        ("roof", "a roof"),
        ("vehicle", "a vehicle"),
    ]

    told = models.BooleanField(default=False)
    gust = models.FloatField(null=True, blank=True)
    surroundings = models.CharField(max_length=10, default="open")
    gust_height = models.FloatField(null=True, blank=True, default=10.0)  # None: at the panels
    gusts = models.JSONField(null=True, blank=True)
    blocked = models.BooleanField(default=False)
    anchored = models.BooleanField(null=True, blank=True)
    carried_by = models.CharField(max_length=10, default="ground")
    frame_mass = models.FloatField(null=True, blank=True)
    ballast = models.FloatField(default=0.0)
    friction = models.FloatField(default=0.5)
    factor = models.FloatField(default=1.5)
    front_foot = models.FloatField(null=True, blank=True)
    back_foot = models.FloatField(null=True, blank=True)
    width = models.FloatField(null=True, blank=True)
    stow = models.BooleanField(default=True)
    table = models.JSONField(null=True, blank=True)
    in_plan = models.JSONField(default=list)
    snow_load = models.FloatField(null=True, blank=True)
    snow_slides = models.BooleanField(default=True)

    def complete(self) -> Progress:
        if not self.told:
            return "empty"
        return "complete" if self.gusts or self.gust else "enough"

    def to_brief(self) -> dict[str, Any]:
        if not self.told:
            return {"wind": None, "snow": None}
        feet = None if self.front_foot is None or self.back_foot is None else [self.front_foot, self.back_foot]
        wind = {name: getattr(self, name) for name in WIND} | {
            "gust_height": "panel" if self.gust_height is None else self.gust_height,
            "feet": feet,
        }
        snow = None if self.snow_load is None else {"load": self.snow_load, "slides": self.snow_slides}
        return {"wind": wind, "snow": snow}

    def from_brief(self, brief: Brief, files: Mapping[str, bytes]) -> None:
        self.told = brief.wind is not None
        held = brief.wind or WindBrief()
        for name in WIND:
            setattr(self, name, getattr(held, name))
        self.in_plan = list(held.in_plan)
        self.table = [list(row) for row in held.table] if held.table else None
        self.gust_height = None if held.gust_height == "panel" else float(held.gust_height)
        self.front_foot, self.back_foot = held.feet or (None, None)
        snow = brief.snow or SnowBrief()
        self.snow_slides = snow.slides
        self.snow_load = snow.load if snow.load is not None else None if snow.depth is None else snow.depth * 2.0


class Footing(Part):
    """What the frame stands in or on (``kind`` empty: not told), and the beams that carry the panels."""

    KINDS = [
        ("", "not told"),
        ("ballast", "ballast on the ground"),
        ("pad", "a slab or pads"),
        ("post", "posts in the ground"),
        ("pier", "concrete piers"),
        ("screw", "ground screws"),
    ]
    SOILS = [
        ("gravel", "gravel"),
        ("sandy gravel", "sandy gravel"),
        ("sand", "sand"),
        ("silty sand", "silty or clayey sand"),
        ("clay", "clay"),
        ("silt", "silt"),
        ("peat", "peat, organic"),
        ("fill", "fresh fill"),
    ]

    kind = models.CharField(max_length=10, blank=True, default="")
    diameter = models.FloatField(default=0.3)
    height = models.FloatField(null=True, blank=True)
    feet = models.PositiveSmallIntegerField(null=True, blank=True)
    soil = models.CharField(max_length=16, default="sandy gravel")
    fresh_fill = models.BooleanField(default=False)
    frost_depth = models.FloatField(default=0.0)
    depth = models.FloatField(null=True, blank=True)
    rating = models.FloatField(null=True, blank=True)
    reduction = models.FloatField(default=0.7)
    stored = models.FloatField(default=0.0)
    spacing = models.FloatField(null=True, blank=True)
    thread = models.FloatField(null=True, blank=True)
    levels = models.JSONField(default=list)
    beams = models.JSONField(default=list)

    def complete(self) -> Progress:
        return "complete" if self.kind else "enough"

    def to_brief(self) -> dict[str, Any]:
        footing = {name: getattr(self, name) for name in FOOTING} | {"levels": self.levels} if self.kind else None
        return {"footing": footing, "beams": self.beams}

    def from_brief(self, brief: Brief, files: Mapping[str, bytes]) -> None:
        held = brief.footing
        for name in FOOTING:
            setattr(self, name, getattr(held or FootingBrief(), name))
        if held is None:
            self.kind = ""
        self.levels = [one.model_dump() for one in held.levels] if held else []
        self.beams = [one.model_dump() for one in brief.beams]
