"""The yard's document, and the small forms around it."""

from __future__ import annotations

import json
import re
from typing import Any, ClassVar

from django import forms
from django.db.models import Model

from sundial.errors import BriefError
from sundial.shade.skyline import KINDS
from web.builds.editing import StationForm
from web.builds.models import Build
from web.shade.document import document_of, read_document, set_document


class ShadeForm(StationForm):
    """Everything that stands around, and where the array stands in it, as one document."""

    paths: ClassVar[dict[str, str]] = dict.fromkeys(
        ("yard", "spot", "horizon", "readings", "wiring", "array", "leaf_months", "boundaries"), "document"
    )
    document = forms.CharField(widget=forms.HiddenInput)

    def current(self, build: Build) -> dict[str, Any]:
        return {"document": json.dumps(document_of(build))}

    def clean_document(self) -> dict[str, Any]:
        try:
            made, self.told = read_document(self.cleaned_data["document"], self.build.shown_in)
        except BriefError as error:
            raise forms.ValidationError(said_by_name(error, self.data.get("document", ""))) from None
        return made

    def apply(self, build: Build) -> list[Model]:
        set_document(build, self.cleaned_data["document"])
        return [build.yard, build.frame]

    def refuse(self, error: BriefError) -> None:
        self.add_error("document", said_by_name(error, self.data.get("document", "")))


def said_by_name(error: BriefError, document: str) -> str:
    """The refusal with the thing's own name in it: ``“Wall”, height: ...``."""
    at = re.match(r"yard\.objects\[(\d+)\]\.?([\w.\[\]]*)", error.path)
    reading = re.match(r"(?:yard\.skyline|horizon)\[(\d+)\]", error.path)
    message = error.message
    if reading:
        return f"Reading {int(reading[1]) + 1} of the skyline: {message}."
    if not at:
        words = error.path.removeprefix("yard.").replace("_", " ").replace(".", ", ")
        return (
            f"{words[:1].upper()}{words[1:]}: {message}."
            if words not in ("yard", "spot", "")
            else f"{message[:1].upper()}{message[1:]}."
        )
    try:
        name = str(json.loads(document)["objects"][int(at[1])]["name"]).encode(errors="replace").decode()
    except (ValueError, KeyError, IndexError, TypeError):
        name = f"thing {int(at[1]) + 1}"
    if f"“{name}”" in message:
        return f"{message[:1].upper()}{message[1:]}."
    key = at[2].split("[")[0].replace("_", " ")
    return f"“{name}”{', ' + key if key else ''}: {message}."


HOURS = dict.fromkeys(("required", "invalid", "min_value", "max_value"), "Give hours from 0 to 24.")


class ReadingForm(forms.Form):
    """One skyline reading, sent from the field; ``key`` makes sending it twice harmless."""

    key = forms.RegexField(r"^[0-9a-f-]{8,40}$")
    bearing = forms.FloatField(
        min_value=0, max_value=360, error_messages={"min_value": "From 0 to 360.", "max_value": "From 0 to 360."}
    )
    magnetic = forms.BooleanField(required=False)
    elevation = forms.FloatField(
        min_value=0, max_value=90, error_messages={"min_value": "From 0 to 90.", "max_value": "From 0 to 90."}
    )
    kind = forms.ChoiceField(choices=[(kind, kind) for kind in KINDS])


class DropForm(forms.Form):
    """A reading taken back in the field, named by its azimuth."""

    drop = forms.FloatField(min_value=0, max_value=360)


class PitchForm(forms.Form):
    """The hours of solar time, and the day, in which rows shall clear each other."""

    first = forms.FloatField(min_value=0, max_value=24, error_messages=HOURS)
    last = forms.FloatField(min_value=0, max_value=24, error_messages=HOURS)
    on = forms.ChoiceField(choices=[("shortest", "the shortest day"), ("chosen", "the chosen day")])

    @property
    def hours(self) -> tuple[float, float]:
        return self.cleaned_data["first"], self.cleaned_data["last"]
