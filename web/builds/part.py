"""A part of a build: what one station stores of it, one row a build."""

from __future__ import annotations

import copy
from collections.abc import Collection, Mapping
from typing import TYPE_CHECKING, Any, ClassVar, Literal, Self, cast

from django.db import models
from django.db.models.fields.related_descriptors import ReverseOneToOneDescriptor

from sundial.brief.model import Brief

if TYPE_CHECKING:
    from web.builds.models import Build

Progress = Literal["empty", "enough", "complete"]


class _MadeWhenAsked(ReverseOneToOneDescriptor):
    """``build.frame``: a part that is not there yet is made with its defaults, so that a new station needs no data
    migration."""

    def __get__(self, instance: Any, cls: Any = None) -> Any:
        try:
            return super().__get__(instance, cls)
        except self.RelatedObjectDoesNotExist:
            model = self.related.related_model
            if instance.pk is None:
                part = model(build=instance)
            else:
                part, _ = model._default_manager.get_or_create(build=instance)
            self.related.set_cached_value(instance, part)
            part.build = instance  # type: ignore[attr-defined]
            return part


class PartOfBuild(models.OneToOneField):
    """The link from a part to its build; unique in the database."""

    related_accessor_class = _MadeWhenAsked

    def __init__(self, to: Any = "builds.Build", on_delete: Any = models.CASCADE, **kwargs: Any) -> None:
        super().__init__(to, on_delete, **kwargs)

    def deconstruct(self) -> Any:
        name, _, args, kwargs = super().deconstruct()
        return name, "django.db.models.OneToOneField", args, kwargs


class Part(models.Model):
    """What a station stores of a build, in the words of a brief where it can.

    ``accessor`` is the attribute of a build that leads to it (``build.frame``): the class's name in small letters.
    """

    accessor: ClassVar[str]
    _read: dict[str, Any]  # field values as they were read
    shared: ClassVar[tuple[str, ...]] = ()  # fields that are the same in all builds of a group
    shared_words: ClassVar[str] = ""  # what these are, in words
    further: ClassVar[tuple[str, ...]] = ()  # rows that it reads, by the name under which a build has them
    build = PartOfBuild(related_name="%(class)s")

    class Meta:
        abstract = True

    def __init_subclass__(cls, **kwargs: Any) -> None:
        super().__init_subclass__(**kwargs)
        cls.accessor = cls.__name__.lower()

    @classmethod
    def from_db(cls, db: str | None, field_names: Collection[str], values: Collection[Any]) -> Self:  # type: ignore[override]
        """As Django reads a row, with its values kept aside: what a draft changes is told by them."""
        row = super().from_db(db, field_names, values)
        row._read = {
            name: copy.deepcopy(value) for name, value in zip(field_names, values, strict=True) if value is not models.DEFERRED
        }
        return row

    def save_changes(self) -> None:
        """Write the fields that differ from what was read, and no others: a tick or a device may have written them meanwhile."""
        read: dict[str, Any] | None = getattr(self, "_read", None)
        if read is None or self.pk is None:
            self.save()
            return
        changed = [
            field.name for field in self._meta.concrete_fields
            if field.attname in self.__dict__ and (field.attname not in read or self.__dict__[field.attname] != read[field.attname])
        ]  # fmt: skip
        if changed:
            self.save(update_fields=changed)

    @classmethod
    def of(cls, build: Build) -> Self:
        """The build's part; a missing one is made."""
        return cast(Self, getattr(build, cls.accessor))

    def to_brief(self) -> dict[str, Any]:
        """The sections of a brief that follow from this part, by key."""
        raise NotImplementedError

    def from_brief(self, brief: Brief, files: Mapping[str, bytes]) -> None:
        """Take the fields over from a brief, without saving. ``files``: bytes of the files it names."""
        raise NotImplementedError

    def stand_at(self, x: float, y: float) -> bool:
        """Take over the spot of the array in the yard, m, unsaved; whether this part holds it."""
        return False

    def begin_in(self, units: str) -> bool:
        """Begin with what is usual where people think in these units, unsaved; whether that changes anything."""
        return False

    def complete(self) -> Progress:
        """How far it is, for the rail."""
        return "enough"

    def warning(self) -> str:
        """What makes every figure of the build smaller than its person may think, in a sentence; empty where nothing does."""
        return ""

    def file_digests(self) -> dict[str, str]:
        """Digests of uploaded files that the brief names, by the key that names them (``sky.file``)."""
        return {}

    def states(self) -> dict[str, str]:
        """What else results may follow from, that no brief carries, by a name that stands among their ``inputs``."""
        return {}

    def file(self, name: str) -> bytes | None:
        """The bytes of an uploaded file by its name in the brief, None where it is not this part's."""
        return None

    @classmethod
    def bytes_of(cls, builds: models.QuerySet[Build]) -> int:
        """Bytes of uploaded files that some builds hold in this part."""
        return bytes_in(cls._default_manager.filter(build__in=builds))

    def keepsakes(self) -> dict[str, bytes]:
        """Files of the person's own, by name, that no brief carries: they go into the zip of all data."""
        return {}

    def take_keepsakes(self, files: Mapping[str, bytes]) -> None:
        """Take them over again, and save."""

    def child_rows(self) -> list[models.Model]:
        """Rows of other tables that belong to this part and are saved, and copied, after it."""
        return []

    def copy_to(self, twin: Build) -> None:
        """The same part again, with its rows, for a copy of the build."""
        rows = self.child_rows()
        if self.get_deferred_fields():
            self.refresh_from_db(fields=self.get_deferred_fields())
        self.pk, self._state.adding = None, True
        self.build = twin
        self.save(force_insert=True)
        for row in rows:
            row.pk, row._state.adding = None, True
            self.adopt(row)
            row.save(force_insert=True)

    def adopt(self, row: models.Model) -> None:
        """Point one of ``child_rows`` at this part or its build."""
        row.build = self.build  # type: ignore[attr-defined]


class Keeper:
    """What an app stores of a build in tables of its own, without a part: as a part's, of what is the person's in it."""

    def __init__(self, build: Build) -> None:
        self.build = build

    @classmethod
    def of(cls, build: Build) -> Self:
        return cls(build)

    @classmethod
    def bytes_of(cls, builds: models.QuerySet[Build]) -> int:
        """Bytes of uploaded files that some builds hold in it."""
        return 0

    def keepsakes(self) -> dict[str, bytes]:
        """Files for the zip of all data, by name."""
        return {}

    def take_keepsakes(self, files: Mapping[str, bytes]) -> None:
        """Take them over again, and save."""

    def copy_to(self, twin: Build) -> None:
        """The same again for a copy of the build."""


def bytes_in(rows: models.QuerySet[Any]) -> int:
    """Bytes in the binary fields of some rows, counted by the database."""
    fields = [field.name for field in rows.model._meta.concrete_fields if isinstance(field, models.BinaryField)]
    held = rows.aggregate(**{f"in_{name}": models.Sum(_Bytes(name)) for name in fields}) if fields else {}
    return sum(int(value or 0) for value in held.values())


class _Bytes(models.Func):
    function = "OCTET_LENGTH"
    output_field = models.BigIntegerField()
