"""A vehicle."""

from __future__ import annotations

from sundial.stands.kind import Stand


class Vehicle(Stand):
    """Bolts through the roof of a trailer or a van."""

    on = "vehicle"
    carrier = "vehicle"
    foreign = True
    anchors = True
