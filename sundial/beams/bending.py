"""A beam under an even load, with what reaches beyond its supports: 5 w L^4 / (384 E I) in the middle and w L^2 / 8 there where nothing does.

What lies beyond turns the beam about its supports (``w a^2 / 2`` each) and lifts the middle; superposition of a simple beam, of both end
moments, and of two cantilevers that start at the slopes there. Sag against L/180 of the span, and twice that of what reaches beyond (a
cantilever counts twice its length: IBC 2021, table 1604.3, note i), strain against what the material bears. An
end that the field beside it lifts is not judged.
"""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from scipy.optimize import brentq

from sundial.beams.sections import Duration, Section

LIMIT = 180.0  # of the span: what panels and eyes put up with
POINTS = 401  # of a field, at which its sag is read
LONGEST = 40.0  # m that a span is looked for up to
NONE = (0.0, 0.0)


@dataclass(frozen=True)
class Load:
    """An even load along a beam, N/m, and for how long it lasts."""

    name: str
    per_metre: float
    duration: Duration


@dataclass(frozen=True)
class Bent:
    """One beam under one load: the sag that is nearest to its ``limit``, m (both), whether it is that of a free end; ``moment`` Nm, the largest."""

    sag: float
    limit: float
    free_end: bool
    moment: float


def side_by_side(section: Section, members: int, joined: bool = False) -> Section:
    """``members`` of a section together: side by side, or stacked without ties, n I; glued or bolted into one deep section
    (``joined``, one on the other) n^3 I and n^2 W."""
    power = (3, 2) if joined else (1, 1)
    return replace(
        section, inertia=section.inertia * members ** power[0], modulus=section.modulus * members ** power[1],
        mass=section.mass * members,
    )  # fmt: skip


def bent(section: Section, span: float, per_metre: float, beyond: tuple[float, float] = NONE) -> Bent:
    """A beam over a ``span`` m that reaches ``beyond`` its left and right support, m, under an even load, N/m."""
    w = abs(per_metre)
    left, right = (w * over**2 / 2 for over in beyond)
    sags = sag_line(section, span, per_metre, beyond)
    found = [(max(abs(sag) for at, sag in sags if 0 <= at <= span), span / LIMIT, False)]
    found += [
        (max(sag, 0.0), 2 * over / LIMIT, True) for over, (_, sag) in zip(beyond, (sags[0], sags[-1]), strict=True) if over > 0
    ]
    worst = max(found, key=lambda one: one[0] / one[1])
    along = w * span / 2 + (left - right) / span  # shear at the left support
    middle = along**2 / (2 * w) - left if w and 0 < along < w * span else 0.0
    return Bent(*worst, max(abs(middle), left, right))


def sag_line(section: Section, span: float, per_metre: float, beyond: tuple[float, float] = NONE) -> list[tuple[float, float]]:
    """Places along the beam, m from its left support, and the sag there, m downward: from one end to the other."""
    w, bending = abs(per_metre), section.stiffness * section.inertia
    left, right = (w * over**2 / 2 for over in beyond)
    x = np.linspace(0.0, span, POINTS)
    even = w * x * (span**3 - 2 * span * x**2 + x**3) / 24
    lifted = left * x * (span - x) * (2 * span - x) / (6 * span) + right * x * (span - x) * (span + x) / (6 * span)
    slopes = (w * span**3 / 24 - left * span / 3 - right * span / 6, w * span**3 / 24 - right * span / 3 - left * span / 6)
    ends = []
    for over, slope in zip(beyond, slopes, strict=True):
        s = np.linspace(0.0, over, 9)[1:] if over > 0 else np.zeros(0)
        free = w * s**2 * (6 * over**2 - 4 * over * s + s**2) / 24 - slope * s
        ends.append(list(zip(s.tolist(), (free / bending).tolist(), strict=True)))
    before = [(-at, sag) for at, sag in reversed(ends[0])]
    after = [(span + at, sag) for at, sag in ends[1]]
    return [*before, *zip(x.tolist(), ((even - lifted) / bending).tolist(), strict=True), *after]


def margin(section: Section, span: float, load: Load, outdoors: bool, beyond: tuple[float, float] = NONE) -> float:
    """How many times the load may grow until it sags or strains too much."""
    found = bent(section, span, load.per_metre, beyond)
    allowed = section.allowed(load.duration, outdoors)
    return min(found.limit / max(found.sag, 1e-12), allowed / max(found.moment / section.modulus, 1e-9))


def longest_span(section: Section, loads: list[Load], outdoors: bool, beyond: tuple[float, float] = NONE) -> float:
    """The longest span, m, at which every load stays within both limits; 0 where what reaches beyond is too much at any."""
    if beyond != NONE:
        return _searched(section, loads, outdoors, beyond)
    spans: list[float] = []
    for load in loads:
        w = max(abs(load.per_metre), 1e-9)
        by_bending = (384 * section.stiffness * section.inertia / (5 * w * LIMIT)) ** (1 / 3)
        by_stress = (8 * section.allowed(load.duration, outdoors) * section.modulus / w) ** 0.5
        spans.append(min(by_bending, by_stress))
    return min(spans)


def _searched(section: Section, loads: list[Load], outdoors: bool, beyond: tuple[float, float]) -> float:
    def spare(span: float) -> float:
        return min(margin(section, span, load, outdoors, beyond) for load in loads) - 1

    spans = np.geomspace(0.05, LONGEST, 240)
    stands = [spare(float(span)) >= 0 for span in spans]
    last = max((number for number, good in enumerate(stands) if good), default=None)
    if last is None:
        return 0.0
    if last == len(spans) - 1:
        return LONGEST
    return float(brentq(spare, spans[last], spans[last + 1]))
