"""Modules of packages that the command line may never need, loaded when first used.

``import pvlib`` loads all of it, spectra, file readers and models of whole plants included: more than a second before the
first answer. The standard library's LazyLoader puts that off; nothing else changes, and the web does not use it.
"""

from __future__ import annotations

import sys
from collections.abc import Sequence
from importlib.machinery import ModuleSpec, PathFinder
from importlib.util import LazyLoader
from types import ModuleType

SELDOM = frozenset(
    f"pvlib.{name}"
    for name in (
        "albedo", "bifacial", "clearsky", "iam", "inverter", "iotools", "ivtools", "location", "modelchain", "pvarray", "pvsystem", "scaling",
        "shading", "singlediode", "snow", "soiling", "spectrum", "temperature", "tracking", "transformer",
    )
)  # fmt: skip


class _Seldom:
    """Finds the modules that are seldom needed, to be loaded at their first use."""

    def find_spec(self, name: str, path: Sequence[str] | None = None, target: ModuleType | None = None) -> ModuleSpec | None:
        if name not in SELDOM:
            return None
        spec = PathFinder.find_spec(name, path)
        if spec is not None and spec.loader is not None:
            spec.loader = LazyLoader(spec.loader)
        return spec


def load_lazily() -> None:
    """From now on these modules are loaded when they are first used."""
    sys.meta_path.insert(0, _Seldom())
