"""What the frame is sawn from and bolted with, and the panel's label with what it is plugged into."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django.db import models

from sundial.beams.sections import USUAL_SECTION
from sundial.brief.model import Brief, CuttingBrief, ElectricsBrief
from sundial.quantities import INCH
from web.builds.part import Part, Progress

OF_CUTTING = (
    "sections", "leave_out", "default", "purlins", "braces", "fixing", "end_distance", "bolt", "least_rest", "mitre_allowance",
    "splices", "overlap", "freight", "tax", "longer", "longer_rows", "longer_way", "gap", "hole_pitch", "done",
)  # fmt: skip
OF_LABEL = ("voc", "isc", "vmp", "imp", "beta", "alpha", "min_temp", "max_temp", "lead", "boxes", "leapfrog")
OF_BASE = ("plate", "bolt_circle", "bolts", "bolt", "pole", "turn")
SPLICES = [("none", "nothing"), ("any", "what is too long, anywhere"), ("over supports", "what is too long, over supports")]

WAYS = [("down", "below, down the slope"), ("up", "above, up the slope")]


# What a new build begins with where boards are sold in inches: a 2x4, a 1/2 in bolt, the saw's 1/8 in, the rest in round inches.
IN_INCHES = {
    "default": USUAL_SECTION["us"], "bolt": 0.5 * INCH, "kerf": INCH / 8, "end_distance": 3 * INCH, "least_rest": 12 * INCH, "gap": 0.75 * INCH,
    "mitre_allowance": INCH / 16, "hole_pitch": 2 * INCH,
}  # fmt: skip


class Cutting(Part):
    """Sections, stock, saw, parts and what is ticked off."""

    FIXING = [
        ("brackets", "four brackets a panel"),
        ("clamps", "clamps on long rails"),
        ("short rails", "clamps on short rails"),
    ]

    sections = models.JSONField(default=dict)
    leave_out = models.JSONField(default=list)
    default = models.CharField(max_length=120, default="45x95 C24")
    purlins = models.PositiveSmallIntegerField(default=2)
    braces = models.BooleanField(default=True)
    fixing = models.CharField(max_length=12, default="brackets")
    end_distance = models.FloatField(default=0.08)
    bolt = models.FloatField(default=0.012)
    kerf = models.FloatField(default=0.003)
    least_rest = models.FloatField(default=0.3)
    mitre_allowance = models.FloatField(default=0.002)
    splices = models.CharField(max_length=14, default="none", choices=SPLICES)
    overlap = models.FloatField(null=True, blank=True)
    stock = models.JSONField(default=list)
    pieces = models.JSONField(default=list)
    parts = models.JSONField(default=list)
    freight = models.FloatField(default=0.0)
    tax = models.FloatField(default=0.0)
    longer = models.PositiveSmallIntegerField(default=0)
    longer_rows = models.PositiveSmallIntegerField(default=0)
    longer_way = models.CharField(max_length=4, default="down", choices=WAYS)
    gap = models.FloatField(default=0.02)
    hole_pitch = models.FloatField(default=0.05)
    base = models.JSONField(null=True, blank=True)
    done = models.JSONField(default=list)

    def begin_in(self, units: str) -> bool:
        if units != "us":
            return False
        for name, value in IN_INCHES.items():
            setattr(self, name, value)
        return True

    def complete(self) -> Progress:
        return "complete" if self.stock else "enough"

    def to_brief(self) -> dict[str, Any]:
        cutting = {name: getattr(self, name) for name in OF_CUTTING} | {"parts": self.parts, "base": self.base}
        return {"stock": self.stock, "pieces": self.pieces, "kerf": self.kerf, "cutting": cutting}

    def from_brief(self, brief: Brief, files: Mapping[str, bytes]) -> None:
        held: CuttingBrief = brief.cutting
        for name in OF_CUTTING:
            setattr(self, name, getattr(held, name))
        self.splices = held.splices or ("any" if held.splice else "none")
        self.kerf = brief.kerf
        self.stock = [row.model_dump() for row in brief.stock]
        self.pieces = [row.model_dump() for row in brief.pieces]
        self.parts = [row.model_dump() for row in held.parts]
        self.base = held.base.model_dump() if held.base else None


class Electrics(Part):
    """The panel's label, the input, the cable; nothing of it counts until it is ``told``."""

    BOXES = [("middle", "in its middle"), ("end", "near its upper short side")]
    STRANDS = [("class 2", "stranded (house cable)"), ("class 5", "fine, tinned (panel cable)")]

    told = models.BooleanField(default=False)
    voc = models.FloatField(null=True, blank=True)
    isc = models.FloatField(null=True, blank=True)
    vmp = models.FloatField(null=True, blank=True)
    imp = models.FloatField(null=True, blank=True)
    beta = models.FloatField(null=True, blank=True)
    alpha = models.FloatField(default=0.0005)
    min_temp = models.FloatField(default=-10.0)
    max_temp = models.FloatField(default=38.0)
    input = models.JSONField(null=True, blank=True)
    cable = models.JSONField(null=True, blank=True)
    lead = models.FloatField(null=True, blank=True)
    boxes = models.CharField(max_length=8, default="middle")
    leapfrog = models.BooleanField(default=False)

    def complete(self) -> Progress:
        return "complete" if self.told and self.input else "enough"

    def to_brief(self) -> dict[str, Any]:
        if not self.told:
            return {"electrics": None}
        label = {name: getattr(self, name) for name in OF_LABEL}
        return {"electrics": label | {"input": self.input, "cable": self.cable}}

    def from_brief(self, brief: Brief, files: Mapping[str, bytes]) -> None:
        held: ElectricsBrief | None = brief.electrics
        self.told = held is not None
        if held is None:
            return
        for name in OF_LABEL:
            setattr(self, name, getattr(held, name))
        self.input = held.input.model_dump(mode="json") if held.input else None
        self.cable = held.cable.model_dump(mode="json") if held.cable else None
