"""Registries of kinds: classes found by the names of their modules, each of which must answer all that is asked."""

from __future__ import annotations

from importlib import import_module
from typing import Any, TypeVar

Kind = TypeVar("Kind", bound=type)


def classes_of(package: str, name: str, base: type) -> list[Any]:
    """Classes of a ``base`` that a module defines itself; ``name`` in the ``package``, or in full where it has a dot."""
    module = import_module(name if "." in name else f"{package}.{name}")
    own = [value for value in vars(module).values() if isinstance(value, type) and value.__module__ == module.__name__]
    return [one for one in own if issubclass(one, base)]


def answered(kind: Kind) -> Kind:
    """The same class; TypeError where it leaves an abstract question unanswered."""
    if missing := sorted(getattr(kind, "__abstractmethods__", ())):
        raise TypeError(f"{kind.__name__} does not answer {', '.join(missing)}")
    return kind
