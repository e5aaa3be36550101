"""The kinds that the page asks about, in the order of its choices."""

from __future__ import annotations

from functools import lru_cache
from importlib import import_module
from typing import Any

from web.frame.kinds.kind import Choice, FrameKind

MODULES = ["legs", "prop", "pole", "jack", "wall", "wedge"]  # of this package, or by full name


@lru_cache(maxsize=1)
def kinds() -> tuple[FrameKind, ...]:
    return tuple(import_module(name if "." in name else f"web.frame.kinds.{name}").KIND for name in MODULES)


@lru_cache(maxsize=1)
def choices() -> dict[str, Choice]:
    """By key, in the order of the page."""
    return {choice.key: choice for kind in kinds() for choice in kind.choices}


def choice_of(told: dict[str, Any]) -> Choice:
    """The choice that a brief's frame is."""
    return next(choice for choice in choices().values() if choice.kind == told["kind"] and choice.is_it(told))
