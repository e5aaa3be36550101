"""A hand turns it through the day."""

from __future__ import annotations

import re
from typing import Any

from django import forms

from sundial.sun import Site
from web.builds.fields import NumberField
from web.builds.models import Build
from web.frame.mounts.kind import MountKind, Told

DAYS = ("Mo", "Tu", "We", "Th", "Fr", "Sa", "Su")
MONTHS = ("J", "F", "M", "A", "M", "J", "J", "A", "S", "O", "N", "D")


def _read(form: forms.Form, data: Told) -> dict[str, Any]:
    """Days and months only where not all are ticked; the guided start does not ask for them."""
    left_out = {
        key: data[name] or []
        for key, name, all_of_them in (("weekdays", "turn_days", DAYS), ("months", "turn_months", MONTHS))
        if name in data and len(data[name] or []) < len(all_of_them)
    }
    return {
        "tilt": data.get("tilt"),
        "facings": _facings(form, data),
        **({"minutes": data.get("turn_minutes") or 0.0} if "turn_minutes" in data else {}),
        **left_out,
    }


def _facings(form: forms.Form, data: Told) -> list[float]:
    parts = [part for part in re.split(r"[;,\s]+", data.get("facings") or "") if part]
    try:
        ways = [float(part) for part in parts]
    except ValueError:
        ways = []
    if not 2 <= len(ways) <= 5 or not all(0 <= way <= 360 for way in ways):
        form.add_error("facings", "Give two to five facings in degrees from true north, such as 120, 180, 240.")
        return []
    return ways


def _shown(build: Build) -> dict[str, Any]:
    """Facings to begin with: half way to the morning, straight, half way to the evening."""
    mount = build.frame.mount
    straight = Site(build.place.latitude, build.place.longitude).equator_ward
    turn = 60.0 if straight == 180 else -60.0
    usual = [(straight + step) % 360 for step in (-turn, 0.0, turn)]
    return {
        "facings": ", ".join(f"{way:g}" for way in mount.get("facings", usual)),
        "turn_minutes": mount.get("minutes", 2.0),
        "turn_days": mount.get("weekdays") or list(range(7)),
        "turn_months": mount.get("months") or list(range(1, 13)),
    }


KIND = MountKind(
    "turned",
    "Turned by hand through the day",
    _read,
    needed=("tilt",),
    shares=("tilt",),
    fields={
        "facings": forms.CharField(label="Facings, morning to evening", max_length=120, required=False, initial="120, 180, 240"),
        "turn_days": forms.TypedMultipleChoiceField(
            label="Days it is really done",
            choices=list(enumerate(DAYS)),
            coerce=int,
            required=False,
            widget=forms.CheckboxSelectMultiple,
        ),
        "turn_months": forms.TypedMultipleChoiceField(
            label="in these months",
            choices=list(enumerate(MONTHS, 1)),
            coerce=int,
            required=False,
            widget=forms.CheckboxSelectMultiple,
        ),
        "turn_minutes": NumberField(0, 240, label="One turn takes", unit="min", required=False),
    },
    questions="frame/mounts/turned.html",
    first=("tilt", "facings"),
    paths={"mount.facings": "facings", "mount.weekdays": "turn_days", "mount.months": "turn_months"},
    shown=_shown,
)
