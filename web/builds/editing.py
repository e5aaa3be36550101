"""Saving a station's form: one way for all stations, safe against a second tab."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any, ClassVar

from django import forms
from django.db import transaction
from django.http import HttpRequest
from django.utils import timezone

from sundial.errors import BriefError
from web.builds.answers import Answers
from web.builds.fields import LengthField
from web.builds.models import Build


class StationForm(forms.Form):
    """A form about one build. ``paths`` maps the start of a brief's path to the field it belongs to."""

    paths: ClassVar[dict[str, str]] = {}
    only: ClassVar[tuple[str, ...]] = ()  # a short form asks just these, the rest stays as it is

    def __init__(self, build: Build, *args: Any, **kwargs: Any) -> None:
        self.build = build
        kwargs.setdefault("initial", self.current(build))
        kwargs.setdefault("label_suffix", "")
        super().__init__(*args, **kwargs)
        for name in set(self.fields) - set(self.only or self.fields):
            del self.fields[name]
        for name, field in self.fields.items():
            if isinstance(field, LengthField):
                field.units, field.held = self.chosen_units(), self.initial.get(name)

    def chosen_units(self) -> str:
        return self.build.place.units

    def current(self, build: Build) -> dict[str, Any]:
        """What the form shows before anything is typed."""
        raise NotImplementedError

    def put(self, part: Any, names: Iterable[str]) -> None:
        """Set what this form asked, by name, on one of the build's parts."""
        for name in names:
            if name in self.cleaned_data:
                setattr(part, name, self.cleaned_data[name])

    def apply(self, build: Build) -> None:
        """Put the cleaned values into the build's parts and save them."""
        raise NotImplementedError

    def check(self, answers: Answers) -> None:
        """Ask the core whether it can work with this: BriefError where it cannot."""
        answers.study.own_plans  # noqa: B018

    def refuse(self, error: BriefError) -> None:
        """Set a refusal of the core beside the field it is about."""
        for start in sorted(self.paths, key=len, reverse=True):
            if error.path.startswith(start):
                field = self.paths[start]
                where = error.path[len(start) :].strip(" ,.")
                said = f"{where}: {error.message}" if where and where[0] not in "[" else error.message
                self.add_error(field if field in self.fields else None, said[0].upper() + said[1:])
                return
        self.add_error(None, str(error))


@dataclass(frozen=True)
class Saved:
    """How a save went: "saved", "invalid" or "conflict"; ``form`` and ``build`` as they now are."""

    outcome: str
    form: StationForm
    build: Build
    answers: Answers | None = None


class _Refused(Exception):
    """Rolls the save back."""


def save(request: HttpRequest, build: Build, form_class: type[StationForm], name: str = "form") -> Saved:
    """Save a posted form if it holds and nobody saved the build in between."""
    form = form_class(build, request.POST, request.FILES)
    if not form.is_valid():
        return Saved("invalid", form, build)
    try:
        with transaction.atomic():
            locked = Build.objects.select_for_update().of(request.user).whole().get(pk=build.pk)
            if request.POST.get("version", "") != str(locked.version):
                return Saved("conflict", form, locked)
            try:
                form.apply(locked)
                # Read it back as the next page will: nothing half-set is checked.
                fresh = Build.objects.whole().get(pk=locked.pk)
                answers = Answers(fresh)
                form.check(answers)
            except BriefError as error:
                form.refuse(error)
                raise _Refused from None
            fresh.version += 1
            fresh.changed_at = timezone.now()
            fresh.save(update_fields=["version", "changed_at", "where", "name"])
    except _Refused:
        return Saved("invalid", form, build)
    return Saved("saved", form, fresh, answers)
