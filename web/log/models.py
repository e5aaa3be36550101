"""What was done and what it reads: entries of the time line, and series of monitors by the day."""

from __future__ import annotations

import json
import uuid
from collections.abc import Mapping
from typing import Any, Self

from django.db import models
from django.db.models import F
from django.utils import timezone

from sundial.brief.model import Brief
from sundial.record.entries import ENTRIES, ENTRY
from web.builds.models import Build
from web.builds.part import Part, Progress, bytes_in
from web.numbers import whole

KINDS = [("move", "moves"), ("reading", "readings"), ("inspection", "inspections"), ("change", "changes"), ("note", "notes")]
MOST_ENTRIES = 20_000  # of one build
MOST_SOURCES = 12
MOST_ASIDE = 500
OWN, SOURCES = "log.json", "log-sources.json"


class LogBook(Part):
    """The log of a build. ``revision`` rises with every change of what judgements follow from; ``main`` is the source that is judged."""

    meter_error = models.FloatField(default=0.02)
    revision = models.PositiveIntegerField(default=0)
    main = models.ForeignKey("log.Source", null=True, blank=True, on_delete=models.SET_NULL, related_name="+")

    def to_brief(self) -> dict[str, Any]:
        return {"log": {"meter_error": self.meter_error}}

    def from_brief(self, brief: Brief, files: Mapping[str, bytes]) -> None:
        self.meter_error = brief.log.meter_error

    def complete(self) -> Progress:
        return "complete" if self.revision else "empty"

    def states(self) -> dict[str, str]:
        return {"logged": f"{self.revision} {self.main_id}"}

    @classmethod
    def bytes_of(cls, builds: models.QuerySet[Build]) -> int:
        return sum(
            bytes_in(rows)
            for rows in (
                SeriesDay.objects.filter(source__build__in=builds),
                Photo.objects.filter(entry__build__in=builds),
            )
        )

    def keepsakes(self) -> dict[str, bytes]:
        if not self.build_id:
            return {}
        from web.log.store import series_parts

        entries = [entry.told for entry in Entry.objects.filter(build=self.build_id).order_by("at", "pk")]
        found = {OWN: json.dumps(entries, ensure_ascii=False).encode()} if entries else {}
        sources = list(Source.objects.filter(build=self.build_id).order_by("pk"))
        if sources:
            found[SOURCES] = json.dumps([source.name for source in sources]).encode()
        for number, source in enumerate(sources):
            found |= {f"series-{number}-{part:04d}.csv": data for part, data in enumerate(series_parts(source))}
        return found

    def take_keepsakes(self, files: Mapping[str, bytes]) -> None:
        from web.log.store import add_entries, take_csv

        if OWN in files:
            add_entries(self.build, ENTRIES.validate_json(files[OWN]))
        names = json.loads(files.get(SOURCES, b"[]"))
        for name in sorted(files):
            number = whole(name.removeprefix("series-").partition("-")[0]) if name.startswith("series-") else None
            if number is not None and number < len(names):
                take_csv(self.build, str(names[number])[:60], files[name])

    def copy_to(self, twin: Build) -> None:
        """The settings go over; what was logged belongs to the rack that stands, so only a copy for another person (the demo) has it."""
        original = self.build_id
        main = self.main_id
        if twin.owner_id == self.build.owner_id:
            LogBook.objects.create(build=twin, meter_error=self.meter_error)
            return
        book = LogBook.objects.create(build=twin, meter_error=self.meter_error, revision=self.revision)
        entries = list(Entry.objects.filter(build=original))
        for row in entries:
            row.pk, row.build, row.client_id = None, twin, uuid.uuid4()
        Entry.objects.bulk_create(entries)
        for source in Source.objects.filter(build=original):
            days = list(SeriesDay.objects.filter(source=source))
            old = source.pk
            source.pk, source.build = None, twin
            source.save(force_insert=True)
            for day in days:
                day.pk, day.source = None, source
            SeriesDay.objects.bulk_create(days, batch_size=200)
            if old == main:
                book.main = source
        book.save(update_fields=["main"])

    def touch(self) -> None:
        """What judgements follow from has changed."""
        LogBook.objects.filter(pk=self.pk).update(revision=F("revision") + 1)


class Entry(models.Model):
    """One line of the time line. ``data`` is the core's entry in words that it validated; ``client_id`` makes the same one sent twice one."""

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="entries")
    client_id = models.UUIDField(default=uuid.uuid4)
    kind = models.CharField(max_length=12, choices=KINDS)
    at = models.DateTimeField()
    data = models.JSONField()
    due = models.DateField(null=True, blank=True)
    created_at = models.DateTimeField(default=timezone.now)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["build", "client_id"], name="one_entry_a_client_id")]
        indexes = [models.Index(fields=["build", "-at"], name="entries_by_time")]
        ordering = ["-at", "-pk"]

    @property
    def told(self) -> dict[str, Any]:
        """The entry as the core reads it."""
        return {**self.data, "kind": self.kind}

    @property
    def core(self) -> Any:
        """The core's entry."""
        return ENTRY.validate_python(self.told)


class Photo(models.Model):
    """A picture with a move or an inspection. ``raw`` as it came, until a worker has drawn it anew: nothing of where it was taken is left
    then; ``words`` say why it could not be."""

    entry = models.OneToOneField(Entry, on_delete=models.CASCADE, related_name="photo")
    kind = models.CharField(max_length=20, default="image/jpeg")
    width = models.PositiveSmallIntegerField(default=0)
    height = models.PositiveSmallIntegerField(default=0)
    data = models.BinaryField(default=b"")
    raw = models.BinaryField(null=True)
    words = models.CharField(max_length=200, blank=True)


class SourceQuerySet(models.QuerySet["Source"]):
    def of_build(self, build: Build) -> Self:
        return self.filter(build=build)


class Source(models.Model):
    """Where a series comes from: files of one monitor, or one device. ``columns`` is how its files are written, as last confirmed;
    ``utc_offset`` hours by which its days are cut."""

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="sources")
    name = models.CharField(max_length=60, db_collation="utf8mb4_bin")  # Zoë, Zoe and ZOE are three devices
    columns = models.JSONField(default=dict)
    utc_offset = models.FloatField(default=0.0)
    step = models.FloatField(default=300.0)
    created_at = models.DateTimeField(default=timezone.now)

    objects = SourceQuerySet.as_manager()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["build", "name"], name="one_source_a_name")]
        ordering = ["pk"]

    def __str__(self) -> str:
        return self.name


class SeriesDay(models.Model):
    """A day of a source: the packed block, and its sum in Wh. ``day`` counts from 1970 by the source's own offset."""

    source = models.ForeignKey(Source, on_delete=models.CASCADE, related_name="days")
    day = models.IntegerField()
    count = models.PositiveIntegerField()
    energy = models.FloatField()
    data = models.BinaryField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["source", "day"], name="one_block_a_day")]
        ordering = ["day"]


class Aside(models.Model):
    """A reading that is kept aside until the person says whether it is true."""

    source = models.ForeignKey(Source, on_delete=models.CASCADE, related_name="aside")
    at = models.DateTimeField()
    power = models.FloatField()

    class Meta:
        constraints = [models.UniqueConstraint(fields=["source", "at"], name="one_aside_a_time")]
        ordering = ["at"]
