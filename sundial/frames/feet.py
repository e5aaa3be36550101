"""How the two lines of feet share what a frame brings to the ground, so that forces *and* moment close, on falling ground too.

::

    R   resultant of wind and weights (into the ground), M its moment about the front foot, e from front to back foot

    friction   each foot slides at the same share of what presses it, so both reactions lie along R:
               back = l R, front = (1 - l) R with l = M / (e x R)
    one pulls  a foot that lifts has no friction: the other takes all of the level force
    anchored   posts of one kind take the same: half of the level force each (any distribution in equilibrium within what
               each can take is safe: the static theorem of plasticity)

Every share is continuous in the wind where a foot begins to lift; an anchored one is linear in its pressure.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt
from typing import Literal

Vector = tuple[float, float]
Hold = Literal["anchored", "friction", "front"]  # front: the back foot slides freely (a folding frame's back leg)
NEARLY = 1e-12


@dataclass(frozen=True)
class Resultant:
    """Force (level, up), N, and moment about the front foot, Nm, above zero where it would raise what lies behind it."""

    force: Vector
    moment: float

    def plus(self, other: Resultant, times: float) -> Resultant:
        """This and ``times`` the other."""
        level, up = self.force
        return Resultant((level + times * other.force[0], up + times * other.force[1]), self.moment + times * other.moment)


def turning(force: Vector, at: Vector, about: Vector) -> float:
    """Moment, Nm, above zero where it would raise what lies behind the point."""
    return (at[0] - about[0]) * force[1] - (at[1] - about[1]) * force[0]


def resultant(loads: Sequence[tuple[Vector, Vector]], front: Vector) -> Resultant:
    """Of forces (N) at points (m)."""
    force = (sum(one[0] for one, _ in loads), sum(one[1] for one, _ in loads))
    return Resultant(force, sum(turning(one, at, front) for one, at in loads))


def shared(total: Resultant, apart: Vector, hold: Hold) -> tuple[Vector, Vector]:
    """What the front and the back foot bring into the ground, N (level, up); ``apart`` m from front to back, level and up."""
    (level, up), cross = total.force, _cross(apart, total.force)
    if hold == "friction":
        if up < 0 and cross < -NEARLY and 0 <= total.moment / cross <= 1:
            part = total.moment / cross
            return ((1 - part) * level, (1 - part) * up), (part * level, part * up)
        by_front, by_back = _split(total, apart, 0.0), _split(total, apart, level)
        # Without friction under what lifts: the foot that is pressed (or pulled less) takes the level force.
        return by_front if by_front[0][1] <= by_back[1][1] else by_back
    return _split(total, apart, level / 2 if hold == "anchored" else 0.0)


def _split(total: Resultant, apart: Vector, at_back: float) -> tuple[Vector, Vector]:
    """Upright forces by moments, where the back foot takes ``at_back`` N of the level force."""
    level, up = total.force
    back = (total.moment + apart[1] * at_back) / apart[0]
    return (level - at_back, up - back), (at_back, back)


def _cross(one: Vector, other: Vector) -> float:
    return one[0] * other[1] - one[1] * other[0]


def worst_pressures(still: Resultant, per_pascal: Resultant, apart: Vector, hold: Hold, most: float) -> list[float]:
    """Pressures from 0 to ``most`` Pa at which the share of a foot may be greatest: both ends, and where friction shares, the turning
    points of l R (a quotient of polynomials in the pressure) and where a foot begins to lift."""
    ends = [0.0, most]
    if hold != "friction" or most <= 0:
        return ends
    (level0, up0), (level1, up1) = still.force, per_pascal.force
    d0, d1 = _cross(apart, still.force), _cross(apart, per_pascal.force)
    m0, m1 = still.moment, per_pascal.moment
    found = [*_roots(0.0, m1, m0), *_roots(0.0, m1 - d1, m0 - d0), *_roots(0.0, d1, d0), *_roots(0.0, up1, up0)]
    swap = [apart[0] * up - 2 * m - apart[1] * level for up, m, level in ((up1, m1, level1), (up0, m0, level0))]
    found += [q * side for q in _roots(0.0, *swap) for side in (1 - 1e-9, 1 + 1e-9)]  # both lift: which of them is held
    for r0, r1 in ((level0, level1), (up0, up1)):
        p0, p1, p2 = m0 * r0, m0 * r1 + m1 * r0, m1 * r1  # M times one component of R
        for sign, rest in ((1.0, 0.0), (-1.0, r1)):  # of the back foot, M R / D; of the front foot, R - M R / D
            a = sign * p2 * d1 + rest * d1 * d1
            b = sign * 2 * p2 * d0 + rest * 2 * d0 * d1
            c = sign * (p1 * d0 - p0 * d1) + rest * d0 * d0
            found += _roots(a, b, c)
    return [*ends, *(q for q in found if 0 < q < most)]


def _roots(a: float, b: float, c: float) -> list[float]:
    """Real roots of a q^2 + b q + c."""
    if abs(a) < NEARLY:
        return [] if abs(b) < NEARLY else [-c / b]
    inside = b * b - 4 * a * c
    if inside < 0:
        return []
    away = -(b + sqrt(inside) * (1 if b >= 0 else -1)) / 2
    return [away / a, *([c / away] if abs(away) > NEARLY else [])]
