"""Roofs, flat and pitched."""

from __future__ import annotations

from sundial.stands.kind import Stand


class PitchedRoof(Stand):
    """Hooks into the rafters of a pitched roof."""

    on = "roof"
    carrier = "roof"
    foreign = True
    anchors = True


class FlatRoof(Stand):
    """A frame on a flat roof: by ballast, or fixed into it; taken as fixed until a brief says that it is not."""

    on = "flat-roof"
    carrier = "roof"
    foreign = True
    anchors = True
