"""A pergola."""

from __future__ import annotations

from sundial.stands.kind import Stand


class Pergola(Stand):
    """Fixings into the rafters of a pergola."""

    on = "pergola"
    carrier = "pergola"
    foreign = True
    anchors = True
