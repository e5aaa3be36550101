"""A railing."""

from __future__ import annotations

from sundial.stands.kind import Stand


class Railing(Stand):
    """Clamps on two lines of a railing."""

    on = "railing"
    carrier = "railing"
    foreign = True
    anchors = True
    upright = True
    not_there = frozenset({"level", "growth", "sealant"})
