"""Posts and piers in the ground, unconstrained at its surface.

::

        P ->|  h            d = 0.5 A (1 + sqrt(1 + 4.36 h / A))
    ________|________       A = 2.34 P / (S1 b)
            |               S1: lateral bearing at a third of the depth, s d / 3
            |  d            b: diameter (IBC 1807.3.2.1, from which the formula is)
            |
"""

from __future__ import annotations

from math import pi, sqrt

from sundial.footing.soils import concrete_weight

DEEPEST = 50.0  # m, for the search


def lateral_capacity(depth: float, diameter: float, height: float, lateral: float) -> float:
    """The level load, N, at ``height`` m that a post ``depth`` m deep stands: the formula turned round, A = d^2 / (d + 1.09 h).
    ``lateral``: Pa per m of depth."""
    return _a_of(depth, height) * lateral * depth / 3 * diameter / 2.34


def _a_of(depth: float, height: float) -> float:
    return depth**2 / (depth + 1.09 * height)


def depth_needed(load: float, diameter: float, height: float, lateral: float) -> float:
    """Depth, m, at which a post stands ``load`` N at ``height`` m; S1 grows with the depth, so it is found by halving."""
    if load <= 0:
        return 0.0
    low, high = 0.0, DEEPEST
    for _ in range(80):
        middle = (low + high) / 2
        low, high = (low, middle) if lateral_capacity(middle, diameter, height, lateral) >= load else (middle, high)
    return high


def formula_depth(load: float, diameter: float, height: float, lateral: float, depth: float) -> float:
    """What the formula gives where S1 is taken at a third of ``depth``: equal to it at the depth that is needed."""
    a = 2.34 * load / (lateral * depth / 3 * diameter)
    return 0.5 * a * (1 + sqrt(1 + 4.36 * height / a))


def pier_weight(depth: float, diameter: float) -> float:
    """Of a round pier of plain concrete, N."""
    return pi / 4 * diameter**2 * depth * concrete_weight()
