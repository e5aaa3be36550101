"""A seesaw."""

from __future__ import annotations

from typing import Any

from django.forms import Form

from web.builds.fields import NumberField
from web.frame.mounts.kind import MountKind, Told
from web.frame.mounts.typed import MOTOR, motor


def _read(form: Form, data: Told) -> dict[str, Any]:
    return {"lean": data.get("lean"), **motor(data)}


KIND = MountKind(
    "seesaw",
    "A seesaw, by motor",
    _read,
    needed=("lean",),
    shares=MOTOR,
    fields={"lean": NumberField(0, 60, label="Leans to", unit="°", required=False)},
    questions="frame/mounts/seesaw.html",
    first=("lean",),
    paths={"mount.lean": "lean"},
    usual={"lean": 25.0},
)
