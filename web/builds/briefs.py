"""Builds to briefs and back: what the parts of all stations hold, put together."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any
from uuid import UUID

from django.db import transaction

from sundial.brief.model import Brief
from sundial.brief.read import FORMAT, VERSION, brief_of
from web.builds import registry
from web.builds.group import data_among_fellows, settle, spelled
from web.builds.models import Build

OBSTACLES = ("horizon", "readings", "leaf_months", "yard", "spot", "boundaries")  # the keys of what stands in the light's way


def brief_data(build: Build) -> dict[str, Any]:
    """The build as a brief's JSON object, the arrays of its group in its yard."""
    return data_among_fellows(build)


def without_obstacles(data: dict[str, Any]) -> dict[str, Any]:
    """The same brief under an open sky."""
    bare = {key: value for key, value in data.items() if key not in OBSTACLES}
    if bare.get("stand"):
        bare["stand"] = {**bare["stand"], "house": None}
    return bare


def export_data(build: Build) -> dict[str, Any]:
    """The brief with the keys that say nothing left out, for a file that people read."""
    return _without_none(brief_data(build))


def _without_none(value: Any) -> Any:
    if isinstance(value, dict):
        return {key: _without_none(inner) for key, inner in value.items() if inner is not None}
    return [_without_none(inner) for inner in value] if isinstance(value, list) else value


@transaction.atomic
def build_from_brief(
    owner: Any, brief: Brief, key: UUID | None = None, files: Mapping[str, bytes] | None = None, **about: Any
) -> Build:
    """A new build with all its parts from a brief. ``files``: bytes of the files it names, by key (``sky.file``);
    ``about``: fields of the build itself, such as ``where`` and ``units``."""
    extra = {"creation_key": key} if key else {}
    about |= {"group": spelled(owner, brief.group[:80]), "string": brief.wiring.string}
    build = Build.objects.create(owner=owner, name=brief.name[:80] or "My build", **about, **extra)
    for model in registry.parts():
        part = model(build=build)
        part.from_brief(brief, files or {})
        part.save(force_insert=True)
        for row in part.child_rows():
            row.save(force_insert=True)
    found = Build.objects.get(pk=build.pk)
    settle(found)
    return found


def default_brief(name: str) -> Brief:
    """A sensible start for a new build."""
    return brief_of(
        {
            "format": FORMAT,
            "version": VERSION,
            "name": name,
            "site": {"latitude": 45.0, "longitude": 0.0, "elevation": 100.0, "timezone": "Europe/Paris"},
            "sky": {"kind": "world"},
            "panel": {"power": 430.0, "length": 1.722, "width": 1.134, "mass": 21.5, "gamma": -0.0034},
            "array": {"rows": 2, "columns": 3, "clearance": 0.6},
            "mount": {"kind": "stepped", "tilts": [15.0, 20.0, 25.0, 30.0, 35.0, 40.0, 45.0, 50.0, 55.0, 60.0]},
        }
    )
