"""The panels and what holds them."""

from django.db import models


def stepped_default():
    return {"kind": "stepped", "tilts": [15.0, 20.0, 25.0, 30.0, 35.0, 40.0, 45.0, 50.0, 55.0, 60.0]}


def usual_losses():
    return {"soiling": 0.02, "wiring": 0.02, "mismatch": 0.01, "light_induced": 0.01, "availability": 0.0, "ageing": 0.0}


class Frame(models.Model):
    """Panels as on their label, how they stand, and the mount in the words of a brief (``mount``)."""

    KINDS = [
        ("fixed", "Fixed"),
        ("stepped", "Stepped by hand"),
        ("one-axis", "One axis, by motor"),
        ("two-axis", "Two axes, by motor"),
    ]
    MOUNTINGS = [
        ("open-rack", "Open rack, air all round"),
        ("raised", "Raised on rails over a surface"),
        ("close", "Close to a surface"),
    ]

    build = models.OneToOneField("builds.Build", on_delete=models.CASCADE, related_name="frame")
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
    mount = models.JSONField(default=stepped_default)
    tilts_typed = models.TextField(blank=True)
    losses = models.JSONField(default=usual_losses)
    mounting = models.CharField(max_length=10, choices=MOUNTINGS, default="open-rack")
    transposition = models.CharField(max_length=12, default="hay-davies")
    inverter_power = models.FloatField(null=True, blank=True)
    inverter_efficiency = models.FloatField(default=0.96)
