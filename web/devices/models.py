"""How readings come in: files on their way, the keys of devices, and what controllers tell of their turns."""

from __future__ import annotations

import hashlib
import secrets

from django.db import models
from django.utils import timezone

from web.builds.models import Build
from web.log.models import Source

MOST_TOKENS = 20
MOST_TURNS = 2_000  # of one source


class Turn(models.Model):
    """Where a controller has turned its mount to: degrees of each axis, and why."""

    source = models.ForeignKey(Source, on_delete=models.CASCADE, related_name="turns")
    at = models.DateTimeField()
    angles = models.JSONField()
    why = models.CharField(max_length=80, blank=True)

    class Meta:
        db_table = "log_turn"
        constraints = [models.UniqueConstraint(fields=["source", "at"], name="one_turn_a_time")]
        ordering = ["-at"]

    @property
    def words(self) -> str:
        """The angles, for a person."""
        return " and ".join(f"{angle:.1f}°".replace("-", "\N{MINUS SIGN}") for angle in self.angles)


class Upload(models.Model):
    """A file on its way in, as pieces; ``rows`` are taken in already, so that a task that is taken up again goes on there."""

    class State(models.TextChoices):
        LOOKED_AT = "looked-at"  # shown, waits for the person's word
        COMING = "coming"  # being taken in
        IN = "in"
        REFUSED = "refused"

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="uploads")
    source = models.ForeignKey(Source, null=True, on_delete=models.SET_NULL)
    name = models.CharField(max_length=120)
    size = models.PositiveIntegerField()
    guess = models.JSONField(default=dict)
    columns = models.JSONField(default=dict)
    state = models.CharField(max_length=10, choices=State.choices, default=State.LOOKED_AT)
    rows = models.PositiveIntegerField(default=0)
    added = models.PositiveIntegerField(default=0)
    known = models.PositiveIntegerField(default=0)
    differing = models.PositiveIntegerField(default=0)
    notes = models.JSONField(default=list)
    digest = models.CharField(max_length=64, default="")
    created_at = models.DateTimeField(default=timezone.now)

    class Meta:
        db_table = "log_upload"
        ordering = ["-pk"]


class Chunk(models.Model):
    """A deflated piece of an uploaded file; they go when the file is in."""

    upload = models.ForeignKey(Upload, on_delete=models.CASCADE, related_name="chunks")
    number = models.PositiveIntegerField()
    data = models.BinaryField()

    class Meta:
        db_table = "log_chunk"
        constraints = [models.UniqueConstraint(fields=["upload", "number"], name="one_chunk_a_number")]
        ordering = ["number"]


class Token(models.Model):
    """A device's key to one build: only its hash is kept. It is as long as a hash, so a plain hash of it cannot be tried out."""

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="tokens")
    source = models.ForeignKey(Source, on_delete=models.CASCADE, related_name="tokens")
    name = models.CharField(max_length=60)
    digest = models.CharField(max_length=64, unique=True)
    hint = models.CharField(max_length=8)
    created_at = models.DateTimeField(default=timezone.now)
    used_at = models.DateTimeField(null=True)
    revoked_at = models.DateTimeField(null=True)

    class Meta:
        db_table = "log_token"
        ordering = ["-pk"]

    @classmethod
    def made(cls, build: Build, source: Source, name: str) -> tuple[Token, str]:
        """A new token, and its secret, which is shown once."""
        secret = f"sundial_{secrets.token_urlsafe(32)}"
        return cls.objects.create(build=build, source=source, name=name, digest=digest_of(secret), hint=secret[-4:]), secret


def digest_of(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()
