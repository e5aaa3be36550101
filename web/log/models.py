"""What was done and what it reads: entries of the time line, series of monitors by the day, files on their way in, and the tokens of devices."""

from __future__ import annotations

import hashlib
import json
import secrets
import uuid
from collections.abc import Mapping
from typing import Any, Self

from django.conf import settings
from django.db import models
from django.db.models import F
from django.utils import timezone

from sundial.brief.model import Brief
from sundial.record.entries import ENTRIES, ENTRY
from sundial.trials.design import Design
from sundial.trials.model import Repeat
from sundial.trials.model import Trial as CoreTrial
from web.builds.models import Build
from web.builds.part import Part, Progress, bytes_in
from web.numbers import whole

KINDS = [("move", "moves"), ("reading", "readings"), ("inspection", "inspections"), ("change", "changes"), ("note", "notes")]
MOST_ENTRIES = 20_000  # of one build
MOST_SOURCES = 12
MOST_TOKENS = 20
MOST_ASIDE = 500
MOST_TURNS = 2_000  # of one source
MOST_TRIALS = 60
MOST_CASES = 100  # days of one build whose questions were answered
OWN, SOURCES, TRIALS = "log.json", "log-sources.json", "log-trials.json"


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
                Chunk.objects.filter(upload__build__in=builds),
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
        trials = [trial.told for trial in Trial.objects.filter(build=self.build_id).prefetch_related("repeats")]
        if trials:
            found[TRIALS] = json.dumps(trials, ensure_ascii=False).encode()
        for number, source in enumerate(sources):
            found |= {f"series-{number}-{part:04d}.csv": data for part, data in enumerate(series_parts(source))}
        return found

    def take_keepsakes(self, files: Mapping[str, bytes]) -> None:
        from web.log.store import add_entries, take_csv

        if OWN in files:
            add_entries(self.build, ENTRIES.validate_json(files[OWN]))
        for told in json.loads(files.get(TRIALS, b"[]"))[:MOST_TRIALS]:
            Trial.from_told(self.build, told)
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
        for trial in Trial.objects.filter(build=original).prefetch_related("repeats"):
            Trial.from_told(twin, trial.told)
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


class Turn(models.Model):
    """Where a controller has turned its mount to: degrees of each axis, and why."""

    source = models.ForeignKey(Source, on_delete=models.CASCADE, related_name="turns")
    at = models.DateTimeField()
    angles = models.JSONField()
    why = models.CharField(max_length=80, blank=True)

    class Meta:
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
        ordering = ["-pk"]


class Chunk(models.Model):
    """A deflated piece of an uploaded file; they go when the file is in."""

    upload = models.ForeignKey(Upload, on_delete=models.CASCADE, related_name="chunks")
    number = models.PositiveIntegerField()
    data = models.BinaryField()

    class Meta:
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
        ordering = ["-pk"]

    @classmethod
    def made(cls, build: Build, source: Source, name: str) -> tuple[Token, str]:
        """A new token, and its secret, which is shown once."""
        secret = f"sundial_{secrets.token_urlsafe(32)}"
        return cls.objects.create(build=build, source=source, name=name, digest=digest_of(secret), hint=secret[-4:]), secret


def digest_of(secret: str) -> str:
    return hashlib.sha256(secret.encode()).hexdigest()


class Trial(models.Model):
    """Two arms beside each other. ``design`` is the core's design in words that it validated."""

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="trials")
    design = models.JSONField()
    created_at = models.DateTimeField(default=timezone.now)

    class Meta:
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
        constraints = [models.UniqueConstraint(fields=["trial", "client_id"], name="one_repeat_a_client_id")]
        ordering = ["pk"]

    @property
    def core(self) -> Repeat:
        """The core's repeat."""
        return Repeat.model_validate(self.data)


class WhyLow(models.Model):
    """What was answered about a day that read low; ``passed``: questions that nobody could answer."""

    build = models.ForeignKey(Build, on_delete=models.CASCADE, related_name="why_low")
    day = models.DateField()
    answers = models.JSONField(default=dict)
    passed = models.JSONField(default=list)

    class Meta:
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
        indexes = [models.Index(fields=["owner", "level"], name="practice_by_level")]
        ordering = ["-pk"]
