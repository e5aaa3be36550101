"""Which kinds of frames there are. A new one is its file, a name in ``MODULES``, and what the application asks about it."""

from __future__ import annotations

from functools import lru_cache

from sundial.frames.kind import Structure, StructureBrief
from sundial.kinds import answered, classes_of

MODULES = [
    "legs",
    "prop",
    "a_frame",
    "pole",
    "jack",
    "wall",
    "wedge",
    "untold",
]  # of this package, or by full name; in the schema's order


@lru_cache(maxsize=1)
def briefs() -> tuple[type[StructureBrief], ...]:
    """The section of a brief of every kind that has one. TypeError for a kind that leaves something unanswered."""
    for name in MODULES:
        for kind in classes_of("sundial.frames", name, Structure):
            answered(kind)
    return tuple(answered(kind) for name in MODULES for kind in classes_of("sundial.frames", name, StructureBrief))
