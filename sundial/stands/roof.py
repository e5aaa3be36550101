"""Roofs, flat and pitched."""

from __future__ import annotations

from sundial.stands.kind import Stand

EDGES = "Near edges and corners of a roof the wind pulls half as hard again, and more: keep away from them. The roof's engineer decides what it bears."


class PitchedRoof(Stand):
    """Hooks into the rafters of a pitched roof."""

    on = "roof"
    carrier = "roof"
    foreign = True
    anchors = True
    beneath = True
    caution = EDGES


class FlatRoof(Stand):
    """A frame on a flat roof: by ballast, or fixed into it; taken as fixed until a brief says that it is not."""

    on = "flat-roof"
    carrier = "roof"
    foreign = True
    anchors = True
    beneath = True
    caution = EDGES
