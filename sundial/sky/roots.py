"""SciPy's Brent root finder by itself."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from importlib.machinery import EXTENSION_SUFFIXES
from importlib.util import find_spec, module_from_spec, spec_from_file_location
from pathlib import Path
from types import ModuleType

import numpy as np

XTOL, RTOL, MOST = 2e-12, 4 * float(np.finfo(float).eps), 100  # as scipy.optimize.brentq has them


@lru_cache(maxsize=1)
def _zeros() -> ModuleType:
    """SciPy's compiled root finders, loaded by themselves: ``scipy.optimize`` brings half a second of other solvers."""
    package = find_spec("scipy")
    if package is None or not package.submodule_search_locations:
        raise ImportError("scipy is not installed")
    folder = Path(package.submodule_search_locations[0]) / "optimize"
    path = next((folder / f"_zeros{ending}" for ending in EXTENSION_SUFFIXES if (folder / f"_zeros{ending}").exists()), None)
    spec = path and spec_from_file_location("scipy.optimize._zeros", path)
    if not spec or spec.loader is None:
        raise ImportError("scipy's root finders are not where they were")
    module = module_from_spec(spec)
    spec.loader.exec_module(module)
    return module


def brentq(miss: Callable[[float], float], low: float, high: float) -> float:
    """Where ``miss`` is 0 between ``low`` and ``high``, at which its signs differ (ValueError where they do not): Brent 1973, equal to
    ``scipy.optimize.brentq`` to the last digit."""
    return float(_zeros()._brentq(miss, low, high, XTOL, RTOL, MOST, (), False, True))
