"""SciPy's Brent root finder by itself."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from types import ModuleType

import numpy as np

from sundial.lazily import load_alone

XTOL, RTOL, MOST = 2e-12, 4 * float(np.finfo(float).eps), 100  # as scipy.optimize.brentq has them


@lru_cache(maxsize=1)
def _zeros() -> ModuleType:
    """SciPy's compiled root finders, loaded by themselves: ``scipy.optimize`` brings half a second of other solvers."""
    return load_alone("scipy", "optimize/_zeros", "scipy.optimize._zeros")


def brentq(miss: Callable[[float], float], low: float, high: float) -> float:
    """Where ``miss`` is 0 between ``low`` and ``high``, at which its signs differ (ValueError where they do not): Brent 1973, equal to
    ``scipy.optimize.brentq`` to the last digit."""
    return float(_zeros()._brentq(miss, low, high, XTOL, RTOL, MOST, (), False, True))
