"""A build, who owns it, and the answers that were computed for it."""

from __future__ import annotations

import uuid
from typing import Any, Self

from django.conf import settings
from django.db import models, transaction
from django.utils import timezone


class BuildQuerySet(models.QuerySet["Build"]):
    def of(self, user: Any) -> Self:
        """Only this person's builds that are not thrown away. Every view starts here."""
        return self.filter(owner=user, deleted_at=None)

    def whole(self) -> Self:
        """With their parts; an uploaded weather file stays in the database until it is read."""
        return self.select_related("place", "yard", "frame", "plan", "purse").defer("place__file_data")


class Build(models.Model):
    """One mount that somebody plans. ``version`` rises with every saved change, so that two tabs notice each other."""

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="builds")
    name = models.CharField(max_length=80)
    where = models.CharField(max_length=80, blank=True)
    version = models.PositiveIntegerField(default=1)
    creation_key = models.UUIDField(default=uuid.uuid4, unique=True)
    chosen_day = models.PositiveSmallIntegerField(default=0)
    last_station = models.CharField(max_length=12, default="tilt")
    demo = models.BooleanField(default=False)
    created_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(default=timezone.now)
    deleted_at = models.DateTimeField(null=True, blank=True)

    objects = BuildQuerySet.as_manager()

    class Meta:
        ordering = ["-changed_at", "pk"]

    def __str__(self) -> str:
        return self.name

    @property
    def units(self) -> str:
        return self.place.units

    @transaction.atomic
    def copy(self) -> Build:
        """The same build again under another name, to try something."""
        self.place.refresh_from_db(fields=["file_data"])  # a weather file is left out until it is wanted
        from web.shade.models import Picture

        picture = Picture.objects.filter(yard=self.yard).first()
        parts = [self.place, self.yard, self.frame, self.plan, self.purse, *self.options.all()]
        twin = Build.objects.create(
            owner=self.owner,
            name=f"{self.name[:73]} (copy)",
            where=self.where,
            chosen_day=self.chosen_day,
            last_station=self.last_station,
        )
        for part in parts:
            part.pk = None
            part._state.adding = True
            part.build = twin
            part.save()
        if picture:
            picture.pk, picture.yard = None, twin.yard
            picture.save(force_insert=True)
        return twin


class Answer(models.Model):
    """A computed answer kept under a digest of everything it was computed from."""

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="answers")
    kind = models.CharField(max_length=16)
    digest = models.CharField(max_length=64)
    payload = models.BinaryField()
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["build", "kind", "digest"], name="one_answer_a_digest")]
