"""Which kinds of frames there are. A new one is its file, a name in ``MODULES``, and what the application asks about it."""

from __future__ import annotations

from functools import lru_cache
from importlib import import_module
from types import ModuleType

from sundial.frames.kind import Structure, StructureBrief

MODULES = [
    "legs",
    "prop",
    "pole",
    "jack",
    "wall",
    "wedge",
]  # of this package, or by their full name; in the order of the brief's schema


@lru_cache(maxsize=1)
def briefs() -> tuple[type[StructureBrief], ...]:
    """The section of a brief of every kind. TypeError for a kind that leaves something unanswered."""
    found = []
    for name in MODULES:
        module = import_module(name if "." in name else f"sundial.frames.{name}")
        for kind in _own(module, Structure) + _own(module, StructureBrief):
            if missing := sorted(getattr(kind, "__abstractmethods__", ())):
                raise TypeError(f"{kind.__name__} does not answer {', '.join(missing)}")
        found += _own(module, StructureBrief)
    return tuple(found)


def _own(module: ModuleType, base: type) -> list[type]:
    """Classes that a module defines itself, of a base."""
    of_module = [value for value in vars(module).values() if isinstance(value, type) and value.__module__ == module.__name__]
    return [one for one in of_module if issubclass(one, base)]
