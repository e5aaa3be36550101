"""A motor rolls it about one axis."""

from __future__ import annotations

from typing import Any

from django import forms

from web.builds.fields import NumberField, SwitchField
from web.builds.models import Build
from web.frame.mounts.kind import MountKind, Told
from web.frame.mounts.typed import MOTOR, motor, typed_tilts


def _read(form: forms.Form, data: Told) -> dict[str, Any]:
    tilts = typed_tilts(form, data, "axis_tilts") if data.get("axis_tilts") else []
    return {
        "axis_tilt": data.get("axis_tilt"),
        "limit": data.get("limit"),
        "backtrack": data.get("backtrack", False),
        **motor(data),
        **({"ground_cover": data["ground_cover"]} if data.get("ground_cover") else {}),
        **({"axis_tilts": tilts} if tilts else {}),
    }


def _shown(build: Build) -> dict[str, Any]:
    return {"axis_tilts": ", ".join(f"{tilt:g}" for tilt in build.frame.mount.get("axis_tilts") or [])}


KIND = MountKind(
    "one-axis",
    "One axis, by motor",
    _read,
    needed=("axis_tilt", "limit"),
    shares=MOTOR,
    fields={
        "axis_tilt": NumberField(
            0, 90, label="Axis tilt", unit="°", required=False, why="0 is a level axis; tilted axes lean to the equator."
        ),
        "axis_tilts": forms.CharField(label="Axis tilts set by hand", max_length=400, required=False),
        "limit": NumberField(1, 180, label="Rolls to each side", unit="°", required=False, why="Where the end stops are."),
        "backtrack": SwitchField(label="Backtracks", why="Rolls back early and late so that rows do not shade each other."),
        "ground_cover": NumberField(
            0.01, 0.99, label="Slope length over row pitch", required=False, why="Only for backtracking rows."
        ),
    },
    questions="frame/mounts/one-axis.html",
    first=("axis_tilt", "limit"),
    paths={"mount.axis_tilts": "axis_tilts", "mount.limit": "limit"},
    usual={"axis_tilt": 0.0, "limit": 55.0, "ground_cover": 0.3},
    shown=_shown,
)
