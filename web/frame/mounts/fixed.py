"""It stands still."""

from __future__ import annotations

from typing import Any

from django.forms import Form

from web.frame.mounts.kind import MountKind, Told


def _read(form: Form, data: Told) -> dict[str, Any]:
    return {"tilt": data.get("tilt")}


KIND = MountKind("fixed", "Fixed", _read, needed=("tilt",), shares=("tilt",), first=("tilt",), paths={"mount.tilt": "tilt"})
