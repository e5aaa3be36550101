"""Which things to stand on there are, and which of them a build stands on."""

from __future__ import annotations

from functools import lru_cache

from sundial.frames.kind import Structure
from sundial.kinds import answered, classes_of
from sundial.stands.kind import Stand

MODULES = ["ground", "pole", "wall", "railing", "pergola", "roof", "vehicle"]  # of this package, or by full name


@lru_cache(maxsize=1)
def stands() -> dict[str, type[Stand]]:
    """Every kind by its name in a brief. TypeError for a kind that leaves something unanswered."""
    kinds = [answered(kind) for name in MODULES for kind in classes_of("sundial.stands", name, Stand)]
    return {kind().on: kind for kind in kinds}


def stand_of(carried_by: str, structure: Structure, on: str | None = None) -> Stand:
    """What a frame stands on: as told (``on``), else in ``wind.carried_by``; where that is the ground, as its kind does."""
    if on is not None:
        return stands()[on](told=True)
    return stands()[structure.stands_on]() if carried_by == "ground" else stands()[carried_by](told=True)
