"""A wall."""

from __future__ import annotations

from sundial.stands.kind import Stand


class HouseWall(Stand):
    """Ledgers fixed to a house."""

    on = "wall"
    carrier = "wall"
    carrier_in_full = "house wall"
    foreign = True
    anchors = True
    upright = True
