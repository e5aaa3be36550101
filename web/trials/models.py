"""Trials of a build: their designs, and repeat after repeat."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from typing import Any

from django.db import models
from django.utils import timezone

from sundial.trials.design import Design
from sundial.trials.model import Repeat
from sundial.trials.model import Trial as CoreTrial
from web.builds.models import Build

MOST_TRIALS = 60


class Trial(models.Model):
    """Two arms beside each other. ``design`` is the core's design in words that it validated."""

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="trials")
    design = models.JSONField()
    created_at = models.DateTimeField(default=timezone.now)

    class Meta:
        db_table = "log_trial"
        ordering = ["-pk"]

    @property
    def core(self) -> Design:
        """The core's design."""
        return Design.model_validate(self.design)

    @property
    def measured(self) -> CoreTrial | None:
        """The core's trial with its repeats; None while there are none."""
        repeats = [row.core for row in self.repeats.all()]
        design = self.core
        if not repeats:
            return None
        return CoreTrial(arms=design.arms, nameplate=design.nameplate, repeats=repeats, gain=design.gain)

    @property
    def told(self) -> dict[str, Any]:
        """All of it as plain data."""
        return {"design": self.design, "repeats": [row.data for row in self.repeats.all()]}

    @classmethod
    def from_told(cls, build: Build, told: Mapping[str, Any]) -> Trial:
        """A trial from plain data, its repeats with it. ValueError where the core refuses it."""
        design = Design.model_validate(told["design"])
        trial = cls.objects.create(build=build, design=design.model_dump(mode="json"))
        repeats = [Repeat.model_validate(one) for one in told["repeats"]]
        TrialRepeat.objects.bulk_create([TrialRepeat(trial=trial, data=one.model_dump(mode="json")) for one in repeats])
        return trial


class TrialRepeat(models.Model):
    """One repeat of a trial; ``client_id`` makes the same one sent twice one."""

    trial = models.ForeignKey(Trial, on_delete=models.CASCADE, related_name="repeats")
    client_id = models.UUIDField(default=uuid.uuid4)
    data = models.JSONField()

    class Meta:
        db_table = "log_trialrepeat"
        constraints = [models.UniqueConstraint(fields=["trial", "client_id"], name="one_repeat_a_client_id")]
        ordering = ["pk"]

    @property
    def core(self) -> Repeat:
        """The core's repeat."""
        return Repeat.model_validate(self.data)
