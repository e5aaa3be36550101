"""The budget of a ray trace: what exceeds it is refused before any ray is traced."""

from __future__ import annotations

from sundial.errors import BriefError
from sundial.shade.geometry import ArrayGeometry
from sundial.shade.solids import Body
from sundial.shade.yard import Yard

MOST_WORK = 6_000_000  # some 8 s of tracing for a year on one core
ROUND = 10  # a crown or a post costs as much as so many flat faces
PANEL = 36  # what a panel costs
EACH = 1_000  # what a solid costs whatever the array


def trace_work(yard: Yard, geometry: ArrayGeometry) -> int:
    """Flat faces (round solids count as ``ROUND``) times what the panels cost: the measure of a year's tracing."""
    faces = sum(
        len(solid.offsets) if isinstance(solid, Body) else ROUND
        for layers in yard.layers
        for layer in layers
        for solid in layer.solids
    )
    return faces * (len(geometry.sections.panels) * PANEL + EACH)


def refuse_too_much(yard: Yard, geometry: ArrayGeometry) -> None:
    """BriefError where tracing the yard for this array would take longer than a person should wait."""
    work = trace_work(yard, geometry)
    if work > MOST_WORK:
        panels = geometry.array.count
        raise BriefError(
            "yard.objects",
            f"are {len(yard.things)} with so many corners that {panels} panels looking past them take {work / MOST_WORK:.1f} times "
            "what can be computed: leave out what casts no shade, draw simpler outlines, or split the array into two builds",
        )
