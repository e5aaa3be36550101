"""A simple beam under an even load: 5 w L^4 / (384 E I) in its middle, w L^2 / 8 there, against L/180 and what its material bears."""

from __future__ import annotations

from dataclasses import dataclass, replace

from sundial.beams.sections import Duration, Section

LIMIT = 180.0  # of the span: what panels and eyes put up with


@dataclass(frozen=True)
class Load:
    """An even load along a beam, N/m, and for how long it lasts."""

    name: str
    per_metre: float
    duration: Duration


def side_by_side(section: Section, members: int, joined: bool = False) -> Section:
    """``members`` of a section together: side by side, or stacked without ties, n I; glued or bolted into one deep section
    (``joined``, one on the other) n^3 I and n^2 W."""
    power = (3, 2) if joined else (1, 1)
    return replace(
        section, inertia=section.inertia * members ** power[0], modulus=section.modulus * members ** power[1],
        mass=section.mass * members,
    )  # fmt: skip


def deflection(section: Section, span: float, per_metre: float) -> float:
    """In the middle, m."""
    return 5 * abs(per_metre) * span**4 / (384 * section.stiffness * section.inertia)


def stress(section: Section, span: float, per_metre: float) -> float:
    """Bending stress in the middle, Pa."""
    return abs(per_metre) * span**2 / 8 / section.modulus


def longest_span(section: Section, loads: list[Load], outdoors: bool) -> float:
    """The longest span, m, at which every load stays within both limits."""
    spans: list[float] = []
    for load in loads:
        w = max(abs(load.per_metre), 1e-9)
        by_bending = (384 * section.stiffness * section.inertia / (5 * w * LIMIT)) ** (1 / 3)
        by_stress = (8 * section.allowed(load.duration, outdoors) * section.modulus / w) ** 0.5
        spans.append(min(by_bending, by_stress))
    return min(spans)
