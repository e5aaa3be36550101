"""One pole in the ground."""

from __future__ import annotations

from sundial.stands.kind import Stand


class PoleInGround(Stand):
    """A post that its footing holds."""

    on = "pole"
    carrier = "ground"
    foreign = False
    anchors = True
