"""Which kinds of mounts there are. A new one is its file, a name in ``MODULES``, and what the application asks about it."""

from __future__ import annotations

from functools import lru_cache

from sundial.kinds import answered, classes_of
from sundial.mounts.kind import MountBrief

MODULES = [
    "fixed",
    "stepped",
    "one_axis",
    "two_axis",
    "hinge",
    "turned",
]  # of this package, or by full name; in the schema's order


@lru_cache(maxsize=1)
def briefs() -> tuple[type[MountBrief], ...]:
    """The section of a brief of every kind. TypeError for a kind that leaves something unanswered."""
    return tuple(answered(kind) for name in MODULES for kind in classes_of("sundial.mounts", name, MountBrief))
