"""Long work: what was asked for, by whom, and how far it is. The row is the truth; a message to a worker is only a nudge."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.utils import timezone


class Job(models.Model):
    """One piece of long work, the same question once: a dear result of a build, or a chore of a person or of the product.

    ``digest`` makes it idempotent: that of the result, or the name of the chore. ``attempt`` rises whenever a worker takes
    it, and a worker writes only under the attempt it took, so that one thought dead cannot overwrite another's work.
    """

    class State(models.TextChoices):
        WAITING = "waiting"
        RUNNING = "running"
        DONE = "done"
        REFUSED = "refused"  # the question cannot be answered; words say why
        ENDED = "ended"  # over its budget of time or memory
        GIVEN_UP = "given-up"  # its worker died twice, or it failed
        CANCELLED = "cancelled"

    OPEN = (State.WAITING, State.RUNNING)

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, null=True, on_delete=models.CASCADE, related_name="jobs")
    build = models.ForeignKey("builds.Build", null=True, on_delete=models.CASCADE, related_name="jobs")
    kind = models.CharField(max_length=16)
    name = models.CharField(max_length=24)
    params = models.JSONField(default=dict)
    digest = models.CharField(max_length=64)
    shaded = models.BooleanField(default=True)
    seconds = models.PositiveSmallIntegerField(default=120)
    state = models.CharField(max_length=10, choices=State.choices, default=State.WAITING)
    words = models.CharField(max_length=400, blank=True)
    done = models.PositiveIntegerField(default=0)
    steps = models.PositiveIntegerField(default=0)
    message_id = models.CharField(max_length=64, blank=True)
    attempt = models.PositiveIntegerField(default=0)
    deaths = models.PositiveSmallIntegerField(default=0)
    created_at = models.DateTimeField(default=timezone.now)
    sent_at = models.DateTimeField(null=True)
    started_at = models.DateTimeField(null=True)
    heartbeat_at = models.DateTimeField(null=True)
    finished_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["build", "name", "digest"], name="one_job_a_question"),
            models.CheckConstraint(condition=models.Q(state__in=[
                "waiting", "running", "done", "refused", "ended", "given-up", "cancelled",
            ]), name="job_in_a_known_state"),
        ]  # fmt: skip
        indexes = [
            models.Index(fields=["state", "heartbeat_at"], name="jobs_by_state"),
            models.Index(fields=["state", "created_at"], name="jobs_by_age"),
        ]

    @property
    def share(self) -> float:
        """How much of it is done, 0 to 1."""
        return min(self.done / self.steps, 1.0) if self.steps else 0.0
