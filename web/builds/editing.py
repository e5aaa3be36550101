"""Saving a station's form: one way for all stations, short, and safe against a second tab.

The draft is checked with the core outside any transaction; only then the build is locked, its version compared, and the
parts that changed are written.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from typing import Any, ClassVar, cast

from django import forms
from django.db import models, transaction
from django.http import HttpRequest
from django.shortcuts import get_object_or_404
from django.utils import timezone

from sundial.errors import BriefError
from sundial.quantities import Units, in_both
from web.builds import registry
from web.builds.fields import ChoiceField, Measured
from web.builds.group import drafts_of_fellows
from web.builds.models import Build
from web.builds.part import Part
from web.builds.results import Results

ABOUT = ("where", "units", "currency", "group", "string")  # fields of a build that a save may change


class StationForm(forms.Form):
    """A form about one build. ``paths`` maps the start of a brief's path to the field it belongs to."""

    paths: ClassVar[dict[str, str]] = {}
    only: ClassVar[tuple[str, ...]] = ()  # a short form asks just these, the rest stays as it is

    def __init__(self, build: Build, *args: Any, **kwargs: Any) -> None:
        self.build = build
        self.told: list[str] = []  # what was mended, in words
        kwargs.setdefault("initial", self.current(build))
        kwargs.setdefault("label_suffix", "")
        super().__init__(*args, **kwargs)
        for name in set(self.fields) - set(self.only or self.fields):
            del self.fields[name]
        for name, field in self.fields.items():
            if isinstance(field, Measured):
                field.measure_in(self.chosen_units(), self.initial.get(name))
            elif isinstance(field, ChoiceField):
                labels: list[tuple[Any, Any]] = list(cast(Any, field.choices))
                field.choices = [(value, in_both(str(label), self.chosen_units())) for value, label in labels]

    @property
    def on_page(self) -> Iterable[forms.BoundField]:
        """The fields that the page which sent this form has: all of them, unless it grows with what it says."""
        return list(self)

    def chosen_units(self) -> Units:
        return self.build.shown_in

    def current(self, build: Build) -> dict[str, Any]:
        """What the form shows before anything is typed."""
        raise NotImplementedError

    def clean(self) -> dict[str, Any]:
        return super().clean() or {}

    def put(self, part: Any, names: Iterable[str]) -> None:
        """Set what this form asked, by name, on the build or one of its parts."""
        for name in names:
            if name in self.cleaned_data:
                setattr(part, name, self.cleaned_data[name])

    def apply(self, build: Build) -> list[models.Model]:
        """Put the cleaned values into the build's parts, and give the rows to save."""
        raise NotImplementedError

    def check(self, results: Results) -> None:
        """Ask the core whether it can work with this: BriefError where it cannot."""
        results.check()

    def refuse(self, error: BriefError) -> None:
        """Set a refusal of the core beside the field it is about."""
        for start in sorted(self.paths, key=len, reverse=True):
            if error.path.startswith(start):
                field = self.paths[start]
                where = error.path[len(start) :].strip(" ,.")
                said = f"{where}: {error.message}" if where and where[0] not in "[" else error.message
                self.add_error(field if field in self.fields else None, said[0].upper() + said[1:])
                return
        self.add_error(None, self._elsewhere(error))

    def _elsewhere(self, error: BriefError) -> str:
        """A refusal of what another station asks, under that station's name."""
        key = error.path.partition(".")[0].partition("[")[0]
        for station in registry.stations():
            if any(key in part.of(self.build).to_brief() for part in station.parts):
                return f"{station.title}: {error.message}"
        return str(error)


@dataclass(frozen=True)
class Saved:
    """How a save went: "saved", "invalid" or "conflict"; ``form`` and ``build`` as they now are."""

    outcome: str
    form: StationForm
    build: Build
    results: Results | None = None


def save(request: HttpRequest, build: Build, form_class: type[StationForm]) -> Saved:
    """Save a posted form if it holds and nobody saved the build in between."""
    form = form_class(build, request.POST, request.FILES)
    if not form.is_valid():
        return Saved("invalid", form, build)
    if request.POST.get("version", "") != str(build.version):
        return Saved("conflict", form, build)
    draft = get_object_or_404(Build.objects.of(request.user).whole(), pk=build.pk)  # thrown away in another tab: told as gone
    try:
        changed = form.apply(draft)
        sharing = drafts_of_fellows(draft, changed)
        results = Results(draft)
        form.check(results)
        for fellow, _ in sharing:
            check_fellow(fellow)
    except BriefError as error:
        form.refuse(error)
        return Saved("invalid", form, build)
    if not write(draft, build.version, changed, sharing):
        return Saved("conflict", form, get_object_or_404(Build.objects.of(request.user).whole(), pk=build.pk))
    form.build = draft  # what it shows from here on follows from the build as saved
    return Saved("saved", form, draft, results)


def check_fellow(fellow: Build) -> None:
    """BriefError where another build of the group could not be worked with any more."""
    try:
        Results(fellow).check()
    except BriefError as error:
        raise BriefError(error.path, f"“{fellow.name}”, which stands in the same yard: {error.message}") from None


@transaction.atomic
def write(
    draft: Build, version: int, changed: Iterable[models.Model], sharing: Sequence[tuple[Build, Iterable[models.Model]]] = ()
) -> bool:
    """Lock the build and those ``sharing`` the change, and write what changed in each if the versions are still those that the
    drafts were made from."""
    versions = {draft.pk: version} | {fellow.pk: fellow.version for fellow, _ in sharing}
    locked = Build.objects.select_for_update().filter(pk__in=versions, deleted_at=None).order_by("pk")
    if draft.version != version or dict(locked.values_list("pk", "version")) != versions:
        return False
    for one, rows in ((draft, changed), *sharing):
        for row in rows:
            if isinstance(row, Part):
                row.save_changes()
            else:
                row.save()
        one.version, one.changed_at = one.version + 1, timezone.now()
        one.save(update_fields=["version", "changed_at", *ABOUT])
    return True
