"""Days that read low and what was answered about them; invented days that a person read."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from web.builds.models import Build

MOST_CASES = 100  # days of one build whose questions were answered


class WhyLow(models.Model):
    """What was answered about a day that read low; ``passed``: questions that nobody could answer."""

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="why_low")
    day = models.DateField()
    answers = models.JSONField(default=dict)
    passed = models.JSONField(default=list)

    class Meta:
        db_table = "log_whylow"
        constraints = [models.UniqueConstraint(fields=["build", "day"], name="one_case_a_day")]
        ordering = ["-pk"]


class Practice(models.Model):
    """An invented day that a person read: what they asked, in order, and what they named; ``done_at`` when they did."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="practice")
    level = models.PositiveSmallIntegerField()
    seed = models.PositiveIntegerField()
    asked = models.JSONField(default=list)
    named = models.JSONField(default=list)
    hits = models.PositiveSmallIntegerField(default=0)
    hidden = models.PositiveSmallIntegerField(default=1)
    minutes = models.FloatField(default=0.0)
    done_at = models.DateTimeField(null=True)

    class Meta:
        db_table = "log_practice"
        indexes = [models.Index(fields=["owner", "level"], name="practice_by_level")]
        ordering = ["-pk"]
