"""A hand sets its tilt a few times a year."""

from __future__ import annotations

from typing import Any

from web.builds.fields import SwitchField
from web.builds.models import Build
from web.frame.built import BuiltForm
from web.frame.fields import HolesField
from web.frame.mounts.kind import MountKind, Told
from web.frame.mounts.typed import typed_tilts


def _read(form: BuiltForm, data: Told) -> dict[str, Any]:
    """Nothing where its frame says the tilts."""
    if form.says_tilts(data):
        return {}
    both = bool(data.get("both_sides"))
    return {"tilts": typed_tilts(form, data, "tilts", both), "both_sides": both}


def _shown(build: Build) -> dict[str, Any]:
    return {"tilts": build.frame.tilts_typed or "15, 20, 25, 30, 35, 40, 45, 50, 55, 60"}


KIND = MountKind(
    "stepped",
    "Stepped by hand",
    _read,
    fields={
        "tilts": HolesField(
            label="Tilts it can reach",
            required=False,
            why="A list (15, 22, 29), a range (10 to 60 by 5), or a pasted hole table: one hole a line, its tilt last.",
            source="Inclinometer on the glass at each hole.",
        ),
        "both_sides": SwitchField(
            label="Leans to both sides",
            why="Tilts below 0 lean away from the facing: of use in the tropics, where the summer sun stands on the polar side.",
        ),
    },
    questions="frame/mounts/stepped.html",
    first=("tilts",),
    paths={"mount.tilts": "tilts", "mount.min": "tilts", "mount.max": "tilts"},
    shown=_shown,
)
