"""How more than two rows of posts under one rail share what it brings, so that forces *and* moment close, on falling ground too.

::

    V, V s    what presses the rail and its moment: as a load that changes evenly along it
    b_i       what each support takes of it: a continuous rail over rigid supports (E I y'''' = load, y = 0 at each)
    N_i       b_i + R/n + M c_i / sum c^2      the rest (own weight of the frame, what the level force turns) as in a rigid trestle
              (the rule of a pile group, c_i from the middle of the rows)
    level     anchored: each row the same; on friction: in proportion to what presses it, or the one that is pressed most where one lifts
"""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from sundial.frames.feet import Hold, Resultant, Vector

Floats = NDArray[np.float64]


def rail_reactions(length: float, supports: tuple[float, ...], force: float, at: float) -> tuple[float, ...]:
    """What each of ``supports`` (m from the lower end of a rail ``length`` m long, two or more) takes of a ``force``, N, whose middle lies
    ``at`` m up the rail, spread over it as a load that changes evenly; they sum to the force."""
    even, turned = _per_unit(length, supports)
    return tuple((force * (even + at * turned)).tolist())


@lru_cache(maxsize=256)
def _per_unit(length: float, supports: tuple[float, ...]) -> tuple[Floats, Floats]:
    """Reactions (n,) of a load of 1 N whose middle is the lower end, and what a metre further up changes of them."""
    s, n = np.array(supports) / length, len(supports)
    system = np.zeros((n + 2, n + 2))
    for i in range(n):
        system[i, :n] = -(np.clip(s[i] - s, 0.0, None) ** 3) / 6
        system[i, n:] = s[i], 1.0
    system[n, :n], system[n + 1, :n] = 1.0, s
    found = []
    for middle in (0.0, 1.0):
        b = 12 * middle - 6  # load a + b s over the unit rail, of 1 N with this middle
        a = 1 - b / 2
        right = np.array([*(-(a * s**4 / 24 + b * s**5 / 120)), 1.0, middle])
        found.append(np.linalg.solve(system, right)[:n])
    return found[0], (found[1] - found[0]) / length


def shared_by_rows(
    total: Resultant, rail: Sequence[float], laid: Sequence[float], feet: Sequence[Vector], hold: Hold
) -> list[Vector]:
    """What each row of ``feet`` (m in the side view, three or more, front first) brings into the ground, N (level, up). ``rail`` N upward on it
    through the rail (below zero it is pressed), ``laid`` N upward of what lies on it itself (ballast); ``total`` of all loads, its moment about
    the first foot."""
    x = np.array([foot[0] - feet[0][0] for foot in feet])
    z = np.array([foot[1] - feet[0][1] for foot in feet])
    level, up = total.force
    many = len(feet)
    own = np.array(rail) + np.array(laid)

    def upright(levels: Floats) -> Floats:
        rest = up - own.sum()
        turned = total.moment + float(levels @ z) - float(own @ x)
        off = x - x.mean()
        found: Floats = own + rest / many + (turned - rest * x.mean()) * off / float(off @ off)
        return found

    levels = np.full(many, level / many)
    if hold != "anchored":
        levels = np.zeros(many)
        levels[0] = level
        if hold == "friction":
            levels = _by_friction(upright, level, many)
    return list(zip(levels.tolist(), upright(levels).tolist(), strict=True))


def _by_friction(upright, level: float, many: int) -> Floats:  # type: ignore[no-untyped-def]
    """Levels in proportion to what presses each row. Uprights are linear in the levels, so the share that closes is the root of a line."""
    even = np.zeros(many)
    still = upright(even)
    if still.sum() >= 0:
        levels = np.zeros(many)
        levels[int(np.argmin(still))] = level
        return levels
    # levels = level N / sum N and N = still + G levels: (I - level/U G) N = still, G by unit levels
    turned = np.column_stack([upright(np.eye(many)[i]) - still for i in range(many)])
    pressed = np.linalg.solve(np.eye(many) - level / still.sum() * turned, still)
    if (pressed <= 1e-9).all():
        found: Floats = level * pressed / pressed.sum()
        return found
    levels = np.zeros(many)
    levels[int(np.argmin(pressed))] = level
    return levels
