"""Builds of one person that stand in one yard: they share place, sky, yard and prices, and each shades the others."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable
from typing import Any

from django.db import models

from sundial.answers.group.report import MOST
from sundial.brief.geojson import mend_names
from sundial.brief.read import FORMAT, VERSION, brief_of
from sundial.caching import Cache
from sundial.errors import BriefError
from sundial.group.standing import as_things, free_spot, is_array_of
from sundial.scene import Scene
from web.builds import registry
from web.builds.models import Build
from web.builds.part import Part
from web.builds.quota import refuse_over


class _ThingCache(Cache):
    """Arrays as their neighbours see them, by build, version and name."""

    sizes = {"things": 256}


_known = _ThingCache()


def fellows(build: Build) -> list[Build]:
    """The other builds of its group, oldest first."""
    if not build.group:
        return []
    if build.neighbours is None:
        every = Build.objects.of(build.owner_id).whole().filter(group=build.group).exclude(pk=build.pk).order_by("pk")
        build.neighbours = list(every[:MOST])
    return build.neighbours


def own_data(build: Build) -> dict[str, Any]:
    """The build as a brief's JSON object, without what its fellows put into the yard."""
    data: dict[str, Any] = {"format": FORMAT, "version": VERSION, "name": build.name, "group": build.group}
    for part in registry.parts():
        data |= part.of(build).to_brief()
    if build.string:
        data["wiring"] = {**data.get("wiring", {}), "string": build.string}
    return data


def data_among_fellows(build: Build) -> dict[str, Any]:
    """The build as a brief's JSON object, with the arrays of its fellows in the yard."""
    data, others = own_data(build), fellows(build)
    if others:
        things = arrays_of_fellows(build)
        yard = _yard(data, {build.name, *(other.name for other in others)})
        kept = [dict(thing) for thing in yard["objects"]]
        mend_names([*things, *kept])  # an array goes by its build's name
        data["yard"] = {**yard, "objects": [*kept, *things]}
    return data


def _things_of(build: Build) -> list[dict[str, Any]]:
    """A build's array as its neighbours see it; nothing of one that cannot be worked with yet."""

    def made() -> list[dict[str, Any]]:
        try:
            scene = Scene(brief_of(own_data(build)))
            return [thing.model_dump(mode="json", exclude_defaults=True) | {"kind": "array"} for thing in as_things(scene)]
        except BriefError:
            return []

    if build.unsaved:
        return made()
    found = _known.get("things", (build.pk, build.version, build.name), made)
    return [dict(thing) for thing in found]


def arrays_of_fellows(build: Build) -> list[dict[str, Any]]:
    """The arrays of the group in the build's yard."""
    return [thing for fellow in fellows(build) for thing in _things_of(fellow)]


def without_arrays_of(things: list[dict[str, Any]], build: Build) -> list[dict[str, Any]]:
    """Things of a yard without the arrays of a build's group, its own one too: a file may have brought them."""
    others = fellows(build)
    names = {build.name, *(other.name for other in others)} if others else set()
    return [thing for thing in things if not _is_of(thing, names)]


def digest_of_group(build: Build) -> str:
    """Digest of all builds of the group as they stand."""
    held = [own_data(one) for one in (build, *fellows(build))]
    return hashlib.sha256(json.dumps(held, sort_keys=True).encode()).hexdigest()


def spelled(owner: Any, name: str) -> str:
    """The name of a group as it is spelled already, or as it is given."""
    held = Build.objects.of(owner).exclude(group="").values_list("group", flat=True)
    return next((group for group in held if group.casefold() == name.casefold()), name)


def groups_of(owner: Any) -> list[str]:
    """The names of a person's groups."""
    return sorted(set(Build.objects.of(owner).exclude(group="").values_list("group", flat=True)))


# -- sharing -------------------------------------------------------------------------------------------------------------


def drafts_of_fellows(draft: Build, changed: Iterable[models.Model]) -> list[tuple[Build, list[Part]]]:
    """The builds of the group that a change of ``draft`` changes too, each with its changed parts, unsaved."""
    parts = [part for part in changed if isinstance(part, Part) and part.shared]
    found = []
    for fellow in fellows(draft):
        rows = [mine for part in parts if (mine := _taken_over(fellow, part)) is not None]
        refuse_over(draft.owner, sum(_file_bytes(part) for part in rows))
        if rows:
            fellow.unsaved = True
            found.append((fellow, rows))
    draft.unsaved = True
    for fellow, _ in found:
        fellow.neighbours = [draft, *(other for other in fellows(draft) if other.pk != fellow.pk)]
    return found


def _taken_over(fellow: Build, part: Part) -> Part | None:
    """The fellow's own part with what is shared taken over; None where nothing differs."""
    mine = type(part).of(fellow)
    if not _differs(mine, part):
        return None
    for name in part.shared:
        setattr(mine, name, getattr(part, name))
    return mine


def _file_bytes(part: Part) -> int:
    """Bytes of the files that a part takes over."""
    fields = [name for name in part.shared if isinstance(part._meta.get_field(name), models.BinaryField)]
    return sum(len(getattr(part, name) or b"") for name in fields)


def _differs(mine: Part, other: Part) -> bool:
    return any(
        getattr(mine, name) != getattr(other, name)
        for name in mine.shared
        if not isinstance(mine._meta.get_field(name), models.BinaryField)  # its digest tells
    )


def gives_way(build: Build, fellow: Build) -> list[str]:
    """What of a build differs from that of a group it would join, in words."""
    return [part.shared_words for part in registry.parts() if part.shared and _differs(part.of(build), part.of(fellow))]


# -- joining and leaving ---------------------------------------------------------------------------------------------------


def take_over(draft: Build, fellow: Build) -> list[Part]:
    """Let a draft share what a group shares, as ``fellow`` has it; its changed parts, unsaved."""
    return [mine for part in registry.parts() if part.shared and (mine := _taken_over(draft, part.of(fellow))) is not None]


def place_beside(draft: Build, changed: list[Part]) -> bool:
    """Move a draft that stands where something else stands to the next free ground; whether it was moved. What changed by it is
    added to ``changed``."""
    scene = Scene(brief_of(data_among_fellows(draft)))
    spot = free_spot(scene)
    if spot == (scene.brief.spot.x, scene.brief.spot.y):
        return False
    for model in registry.parts():
        part = model.of(draft)
        if part.stand_at(*spot) and part not in changed:
            changed.append(part)
    return True


def settle(build: Build) -> None:
    """A build that came with the name of a group stands in it where that yard is its own; else by itself."""
    others = fellows(build)
    if not others:
        return
    if len(others) < MOST and build.name not in {other.name for other in others} and _one_yard(build, others):
        for part in take_over(build, others[0]):
            part.save()
    else:
        build.group = build.string = ""
        build.save(update_fields=["group", "string"])


SHARED = ("site", "sky", "ground", "horizon", "leaf_months", "use")  # keys of the brief


def _one_yard(build: Build, others: list[Build]) -> bool:
    mine, theirs = own_data(build), own_data(others[0])
    names = {build.name, *(other.name for other in others)}
    return all(mine.get(key) == theirs.get(key) for key in SHARED) and _yard(mine, names) == _yard(theirs, names)


def _yard(data: dict[str, Any], names: set[str]) -> dict[str, Any]:
    """The yard of a brief without the arrays of a group."""
    yard = data.get("yard") or {}
    return {**yard, "objects": [thing for thing in yard.get("objects", []) if not _is_of(thing, names)]}


def _is_of(thing: dict[str, Any], names: Iterable[str]) -> bool:
    """Whether a thing is the array of one of some builds."""
    return thing["kind"] == "array" and any(is_array_of(thing["name"], name) for name in names)
