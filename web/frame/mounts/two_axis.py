"""Two motors turn it to the sun."""

from __future__ import annotations

from typing import Any

from django.forms import Form

from web.frame.mounts.kind import MountKind, Told
from web.frame.mounts.typed import MOTOR, span


def _read(form: Form, data: Told) -> dict[str, Any]:
    return span(form, data)


KIND = MountKind(
    "two-axis",
    "Two axes, by motor",
    _read,
    needed=("min_tilt", "max_tilt"),
    shares=("min_tilt", "max_tilt", *MOTOR),
    first=("min_tilt", "max_tilt"),
    paths={"mount.min_tilt": "min_tilt", "mount.max_tilt": "max_tilt"},
)
