from __future__ import annotations

from typing import Any, ClassVar

from django import forms
from django.db.models import Model

from web.builds.editing import StationForm
from web.builds.fields import NumberField
from web.builds.models import Build


class LanternForm(StationForm):
    paths: ClassVar[dict[str, str]] = {"lantern.power": "power"}

    power = NumberField(0, 1000, label="Lantern", unit="W", why="How bright it hangs.")
    note = forms.CharField(label="Note", max_length=40, required=False)

    def current(self, build: Build) -> dict[str, Any]:
        return {"power": build.lantern.power, "note": build.lantern.note}

    def apply(self, build: Build) -> list[Model]:
        self.put(build.lantern, ("power", "note"))
        return [build.lantern]
