"""Modules of packages that the command line may never need, loaded when first used; and single ones without their package.

``import pvlib`` loads all of it, spectra, file readers and models of whole plants included: more than a second before the
first answer. The standard library's LazyLoader puts that off; nothing else changes, and the web does not use it.
"""

from __future__ import annotations

import sys
from collections.abc import Sequence
from importlib import import_module
from importlib.abc import Loader
from importlib.machinery import EXTENSION_SUFFIXES, ModuleSpec, PathFinder
from importlib.util import LazyLoader, find_spec, module_from_spec, spec_from_file_location
from pathlib import Path
from types import ModuleType
from typing import Any

SELDOM = frozenset(
    f"pvlib.{name}"
    for name in (
        "albedo", "bifacial", "clearsky", "iam", "inverter", "iotools", "ivtools", "location", "modelchain", "pvarray", "pvsystem", "scaling",
        "shading", "singlediode", "snow", "soiling", "spectrum", "temperature", "tracking", "transformer",
    )
)  # fmt: skip


# Of these pvlib takes single functions by name when it is itself loaded, for models that no command uses: what it takes is a
# function that loads the module when it is called. Everybody else gets the module itself.
BY_NAME = frozenset({"scipy.interpolate", "scipy.linalg", "scipy.optimize"})


class _Later(Loader):
    """Puts the real module off until somebody else than pvlib asks for something in it, or calls what pvlib took."""

    def create_module(self, spec: ModuleSpec) -> ModuleType:
        return _ByName(spec.name)

    def exec_module(self, module: ModuleType) -> None:
        pass


class _ByName(ModuleType):
    def __getattr__(self, name: str) -> Any:
        if name.startswith("__"):
            raise AttributeError(name)
        if not _asker().startswith("pvlib."):
            return getattr(_really(self.__name__), name)

        def later(*given: Any, **named: Any) -> Any:
            return getattr(_really(self.__name__), name)(*given, **named)

        return later


def _asker() -> str:
    """The module that asks, past the machinery of imports."""
    frame = sys._getframe(2)
    while frame.f_back is not None and frame.f_globals.get("__name__", "").startswith("importlib."):
        frame = frame.f_back
    return str(frame.f_globals.get("__name__", ""))


def _really(name: str) -> ModuleType:
    """The module itself; from now on all of them are what they are."""
    for other in BY_NAME:
        if isinstance(sys.modules.get(other), _ByName):
            del sys.modules[other]
    sys.meta_path[:] = [finder for finder in sys.meta_path if not isinstance(finder, _Seldom)]
    return import_module(name)


class _Seldom:
    """Finds the modules that are seldom needed, to be loaded at their first use."""

    def find_spec(self, name: str, path: Sequence[str] | None = None, target: ModuleType | None = None) -> ModuleSpec | None:
        if name not in SELDOM and name not in BY_NAME:
            return None
        spec = PathFinder.find_spec(name, path)
        if spec is not None and name in BY_NAME:
            spec.loader = _Later()  # its parts are found in its folder, as ever
        elif spec is not None and spec.loader is not None:
            spec.loader = LazyLoader(spec.loader)
        return spec


def load_lazily() -> None:
    """From now on these modules are loaded when they are first used."""
    sys.meta_path.insert(0, _Seldom())


def load_alone(package: str, part: str, name: str) -> ModuleType:
    """One module of a package by itself, under ``name``, without all that the package would load: ``part`` is its path in the
    package, without an ending. ImportError where it is not there."""
    found = find_spec(package)
    folders = found.submodule_search_locations if found is not None else None
    for folder in folders or ():
        for ending in (".py", *EXTENSION_SUFFIXES):
            path = Path(folder) / f"{part}{ending}"
            spec = spec_from_file_location(name, path) if path.exists() else None
            if spec is not None and spec.loader is not None:
                module = module_from_spec(spec)
                spec.loader.exec_module(module)
                return module
    raise ImportError(f"{package} has no {part}, or is not installed")
