"""A build, who owns it, and the results that were computed for it."""

from __future__ import annotations

import uuid
from typing import Any, Self

from django.conf import settings
from django.db import models, transaction
from django.utils import timezone

from sundial.quantities import Units
from web.builds import registry

UNITS = [("metric", "metric"), ("us", "feet and inches")]
CURRENCIES = [("€", "€"), ("$", "$"), ("£", "£"), ("¤", "other")]


class BuildQuerySet(models.QuerySet["Build"]):
    def of(self, user: Any) -> Self:
        """Only this person's builds that are not thrown away. Every view starts here."""
        return self.filter(owner=user, deleted_at=None)

    def whole(self) -> Self:
        """With their parts; large binary fields stay in the database until they are read."""
        parts = registry.parts()
        binary = [
            f"{part.accessor}__{field.name}"
            for part in parts
            for field in part._meta.concrete_fields
            if isinstance(field, models.BinaryField)
        ]
        return self.select_related(*(part.accessor for part in parts)).defer(*binary)

    def listed(self) -> Self:
        """With their parts and all further rows that these read, in as many queries for many builds as for one."""
        return self.whole().prefetch_related(*(name for part in registry.parts() for name in part.further))


class Build(models.Model):
    """One mount that somebody plans. ``version`` rises with every saved change, so that two tabs notice each other.

    ``units`` and ``currency`` are how it is shown; ``open_sky`` shows the stations without the shade;
    ``group`` is the name of the yard that it shares with others of its owner's builds, ``string`` that of the string of panels it
    shares with some of them; ``stands_at`` is the tilt at which it stands now, where the person has said so; ``start_step`` is the step
    at which its guided start was left, empty where that is done or was never asked.

    Of one that is not saved yet: ``unsaved`` says that its rows differ from its version; ``neighbours`` are the other builds of its group
    as they would be (None: they are read when asked for).
    """

    unsaved: bool = False
    neighbours: list[Build] | None = None

    owner = models.ForeignKey(settings.AUTH_USER_MODEL, on_delete=models.CASCADE, related_name="builds")
    name = models.CharField(max_length=80)
    where = models.CharField(max_length=80, blank=True)
    units = models.CharField(max_length=8, choices=UNITS, default="metric")
    currency = models.CharField(max_length=4, default="€")
    open_sky = models.BooleanField(default=False)
    group = models.CharField(max_length=80, blank=True, db_index=True)
    string = models.CharField(max_length=20, blank=True)
    version = models.PositiveIntegerField(default=1)
    creation_key = models.UUIDField(default=uuid.uuid4, unique=True)
    chosen_day = models.PositiveSmallIntegerField(default=0)
    stands_at = models.FloatField(null=True, blank=True)
    last_station = models.CharField(max_length=12, default="tilt")
    start_step = models.CharField(max_length=20, blank=True, default="")
    demo = models.BooleanField(default=False)
    created_at = models.DateTimeField(auto_now_add=True)
    changed_at = models.DateTimeField(default=timezone.now)
    deleted_at = models.DateTimeField(null=True, blank=True)

    objects = BuildQuerySet.as_manager()

    class Meta:
        ordering = ["-changed_at", "pk"]
        constraints = [models.CheckConstraint(condition=models.Q(chosen_day__lt=365), name="chosen_day_in_the_year")]

    def __str__(self) -> str:
        return self.name

    @property
    def unfinished(self) -> registry.Step | None:
        """The step at which the guided start was left; from there on the answers are stand-ins of ours."""
        return next((step for step in registry.steps() if step.key == self.start_step), None)

    @property
    def shown_in(self) -> Units:
        """The units as the core knows them."""
        return "us" if self.units == "us" else "metric"

    @transaction.atomic
    def copy(self, owner: Any = None, name: str = "", key: uuid.UUID | None = None) -> Build:
        """The same build again: under another name to try something, or for another ``owner``. It stands by itself. IntegrityError
        where a build was made with this ``key`` before."""
        twin = Build.objects.create(
            owner=owner or self.owner,
            name=name or f"{self.name[:73]} (copy)",
            **({"creation_key": key} if key else {}),
            **{
                name: getattr(self, name)
                for name in ("where", "units", "currency", "open_sky", "chosen_day", "last_station", "start_step", "stands_at")
            },
        )
        for keeper in registry.keepers():
            keeper.of(Build.objects.get(pk=self.pk)).copy_to(twin)
        return Build.objects.get(pk=twin.pk)


class StoredResult(models.Model):
    """A computed result kept under a digest of everything it was computed from."""

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="results")
    kind = models.CharField(max_length=24)
    digest = models.CharField(max_length=64)
    payload = models.BinaryField()
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["build", "kind", "digest"], name="one_result_a_digest")]
