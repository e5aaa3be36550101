"""The ground: feet, ballast, posts, piers or screws."""

from __future__ import annotations

from sundial.stands.kind import Stand


class Ground(Stand):
    """Feet on the ground, loose unless a brief says that they are anchored."""

    on = "ground"
    carrier = "ground"
    foreign = False
    anchors = False
