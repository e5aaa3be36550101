"""The kinds that the page asks about, in the order of its choices."""

from __future__ import annotations

from functools import lru_cache
from importlib import import_module

from web.frame.mounts.kind import MountKind

MODULES = ["fixed", "stepped", "one_axis", "two_axis", "hinge", "turned"]  # of this package, or by full name


@lru_cache(maxsize=1)
def mounts() -> dict[str, MountKind]:
    """By key, in the order of the page."""
    kinds = [import_module(name if "." in name else f"web.frame.mounts.{name}").KIND for name in MODULES]
    return {kind.key: kind for kind in kinds}


def asking(field: str) -> str:
    """The kinds that share a field, as the page's condition has them."""
    return ",".join(kind.key for kind in mounts().values() if field in kind.shares)
