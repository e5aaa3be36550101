"""What the page asks about each thing to stand on, and what is usual there."""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class StandKind:
    """One of the eight: its ``key`` in a brief, its ``label``, what the height of its surface is called (``height``; empty: it has none of
    its own), the ``clearance`` m and ``tilt`` degrees that are usual there, and the air ``mounting`` behind."""

    key: str
    label: str
    height: str
    clearance: float
    tilt: float
    mounting: str = "open-rack"


STANDS = {
    kind.key: kind
    for kind in (
        StandKind("ground", "the ground", "", 0.6, 35.0),
        StandKind("pole", "a pole", "", 1.4, 35.0),
        StandKind("wall", "a wall, an awning", "Foot of the wall over the ground", 2.2, 30.0),
        StandKind("railing", "a railing", "Level of its foot over the ground", 0.1, 90.0),
        StandKind("pergola", "a pergola", "Rafters over the ground", 0.1, 10.0),
        StandKind("flat-roof", "a flat roof", "Roof over the ground", 0.2, 15.0),
        StandKind("roof", "a pitched roof", "Roof over the ground", 0.1, 30.0, "raised"),
        StandKind("vehicle", "a trailer or van", "Its roof over the ground", 0.1, 0.0),
    )
}
RAISED = ",".join(kind.key for kind in STANDS.values() if kind.height)
SLOPED = "roof,pergola"
ON_A_HOUSE = "wall,railing,pergola,flat-roof,roof"
FIXED_TO = "wall,railing,pergola,flat-roof,roof,vehicle"
MOVES = [("fixed", "stays put"), ("hand", "moved by hand"), ("motor", "moved by a motor")]
HANDS = [("stepped", "its tilt, a few times a year"), ("turned", "its facing, a few times a day")]
MOTORS = [("hinge", "tilts about a level hinge"), ("one-axis", "rolls east to west"), ("two-axis", "follows the sun on two axes")]
