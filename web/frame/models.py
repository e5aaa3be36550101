"""The panels and what holds them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db import models
from django.db.models import Q

from sundial.brief.model import Brief, StandBrief
from sundial.mounts.stepped import SteppedMount
from sundial.stands.registry import stands
from web.builds.part import Part, Progress
from web.frame.stands import ON_A_HOUSE, STANDS

PANEL = ("power", "length", "width", "mass", "gamma", "bifaciality", "blocks", "half_cut")
ARRAY = ("rows", "columns", "orientation", "azimuth", "clearance", "turned")


STAND = ("on", "height", "slope", "road_speed")
FIXINGS = ("count", "lines_apart", "rating")
HOUSE = ("height", "width", "aside", "behind", "depth", "out", "under")


def stepped_default():
    return {"kind": "stepped", "tilts": [15.0, 20.0, 25.0, 30.0, 35.0, 40.0, 45.0, 50.0, 55.0, 60.0]}


def usual_losses():
    return {"soiling": 0.02, "wiring": 0.02, "mismatch": 0.01, "light_induced": 0.01, "availability": 0.0, "ageing": 0.0}


class Frame(Part):
    """Panels as on their label, how they stand, and what moves and holds them in the words of a brief: its ``mount``, and as
    ``structure`` its ``frame`` (None: its tilts are told, not what it is built from)."""

    MOUNTINGS = [
        ("open-rack", "Open rack, air all round"),
        ("raised", "Raised on rails over a surface"),
        ("close", "Close to a surface"),
    ]

    power = models.FloatField(default=430.0)
    length = models.FloatField(default=1.722)
    width = models.FloatField(default=1.134)
    mass = models.FloatField(default=21.5)
    gamma = models.FloatField(default=-0.0034)
    bifaciality = models.FloatField(default=0.0)
    blocks = models.PositiveSmallIntegerField(default=3)
    half_cut = models.BooleanField(default=True)
    rows = models.PositiveSmallIntegerField(default=2)
    columns = models.PositiveSmallIntegerField(default=3)
    orientation = models.CharField(max_length=10, default="portrait")
    azimuth = models.FloatField(null=True, blank=True)
    clearance = models.FloatField(default=0.6)
    turned = models.FloatField(default=0.0)
    mount = models.JSONField(default=stepped_default)
    structure = models.JSONField(null=True, blank=True)
    pin = models.JSONField(null=True, blank=True)  # the last readings of a shadow pin, raw
    tilts_typed = models.TextField(blank=True)
    losses = models.JSONField(default=usual_losses)
    mounting = models.CharField(max_length=10, choices=MOUNTINGS, default="open-rack")
    transposition = models.CharField(max_length=12, default="hay-davies")
    inverter_power = models.FloatField(null=True, blank=True)
    inverter_efficiency = models.FloatField(default=0.96)

    class Meta:
        constraints = [models.CheckConstraint(condition=Q(rows__gte=1, columns__gte=1), name="frame_holds_a_panel")]

    def complete(self) -> Progress:
        return "complete"

    def to_brief(self) -> dict[str, Any]:
        return {
            "panel": {name: getattr(self, name) for name in PANEL},
            "array": {name: getattr(self, name) for name in ARRAY},
            "mount": self.mount,
            "frame": self.structure,
            "system": {
                "losses": self.losses,
                "mounting": self.mounting,
                "transposition": self.transposition,
                "inverter": {"power": self.inverter_power, "efficiency": self.inverter_efficiency},
            },
        }

    def from_brief(self, brief: Brief, files: Mapping[str, bytes]) -> None:
        system = brief.system
        for name, value in (brief.panel.model_dump() | brief.array.model_dump()).items():
            setattr(self, name, value)
        self.mount, self.tilts_typed = brief.mount.model_dump(exclude_none=True), tilts_text(brief)
        self.losses, self.mounting, self.transposition = system.losses.model_dump(), system.mounting, system.transposition
        self.structure = (
            brief.frame.model_dump(mode="json", exclude_defaults=True) | {"kind": brief.frame.kind} if brief.frame else None
        )
        self.inverter_power, self.inverter_efficiency = system.inverter.power, system.inverter.efficiency


class Stand(Part):
    """What the build stands on, in the words of a brief; ``on`` empty: as its frame says. Lengths m, ``slope`` degrees, ``rating`` N,
    ``road_speed`` m/s. ``house_height`` and ``house_width`` empty: it hangs on no house."""

    on = models.CharField(max_length=10, blank=True, default="")
    height = models.FloatField(default=0.0)
    slope = models.FloatField(default=0.0)
    count = models.PositiveSmallIntegerField(null=True, blank=True)
    lines_apart = models.FloatField(null=True, blank=True)
    rating = models.FloatField(null=True, blank=True)
    road_speed = models.FloatField(null=True, blank=True)
    house_height = models.FloatField(null=True, blank=True)
    house_width = models.FloatField(null=True, blank=True)
    house_aside = models.FloatField(default=0.0)
    house_behind = models.FloatField(default=0.05)
    house_depth = models.FloatField(default=8.0)
    house_out = models.FloatField(null=True, blank=True)
    house_under = models.FloatField(null=True, blank=True)

    def complete(self) -> Progress:
        return "complete"

    @property
    def on_words(self) -> str:
        """What it stands on, in a sentence."""
        return STANDS[self.on].label if self.on else ""

    @property
    def foreign(self) -> bool:
        """Whether that is somebody else's structure."""
        return bool(self.on) and stands()[self.on]().foreign

    def to_brief(self) -> dict[str, Any]:
        if not self.on:
            return {"stand": None}
        fixings = {name: getattr(self, name) for name in FIXINGS}
        return {"stand": {**{name: getattr(self, name) for name in STAND}, "fixings": fixings, "house": self.house}}

    @property
    def house(self) -> dict[str, Any] | None:
        """The house it hangs on, where its wall is told whole."""
        if self.on not in ON_A_HOUSE.split(",") or self.house_height is None or self.house_width is None:
            return None
        return {name: getattr(self, f"house_{name}") for name in HOUSE}

    def from_brief(self, brief: Brief, files: Mapping[str, bytes]) -> None:
        held = brief.stand
        self.on = "" if held is None else held.on
        told = held or StandBrief(on="ground")
        for name in STAND[1:]:
            setattr(self, name, getattr(told, name))
        for name in FIXINGS:
            setattr(self, name, getattr(told.fixings, name))
        for name in HOUSE:
            field = f"house_{name}"
            setattr(self, field, getattr(Stand(), field) if told.house is None else getattr(told.house, name))


def tilts_text(brief: Brief) -> str:
    """The reachable tilts as a person would type them."""
    mount = brief.mount
    if not isinstance(mount, SteppedMount):
        return ""
    if mount.tilts is None and mount.min is None:  # the frame says them
        return ""
    if mount.tilts is not None:
        return ", ".join(f"{tilt:g}" for tilt in mount.tilts)
    return f"{mount.min or 0:g} to {mount.max or 0:g} by {mount.step:g}"
