"""Prices, and the rows of the comparison that the person priced, added or switched off."""

from django.db import models


class Purse(models.Model):
    """What energy and money are worth to this build."""

    build = models.OneToOneField("builds.Build", on_delete=models.CASCADE, related_name="purse")
    currency = models.CharField(max_length=4, default="€")
    import_price = models.FloatField(default=0.25)
    export_price = models.FloatField(default=0.05)
    own_share = models.FloatField(default=0.4)
    life = models.PositiveSmallIntegerField(default=20)
    interest = models.FloatField(default=0.03)
    price_growth = models.FloatField(default=0.0)
    ageing = models.FloatField(default=0.005)
    panel_cost = models.FloatField(null=True, blank=True)
    count_hours = models.BooleanField(default=False)


class Option(models.Model):
    """One row: a standard one (``row``) priced or switched off, or one of the person's own with its ``mount``."""

    build = models.ForeignKey("builds.Build", on_delete=models.CASCADE, related_name="options")
    position = models.PositiveSmallIntegerField(default=0)
    name = models.CharField(max_length=120, blank=True)
    row = models.CharField(max_length=16, blank=True)
    mount = models.JSONField(null=True, blank=True)
    settings = models.PositiveSmallIntegerField(null=True, blank=True)
    off = models.BooleanField(default=False)
    extra_cost = models.FloatField(null=True, blank=True)
    upkeep = models.FloatField(default=0.0)
    minutes_per_move = models.FloatField(null=True, blank=True)

    class Meta:
        ordering = ["position", "pk"]
