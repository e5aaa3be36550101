"""Where the pieces of a frame are drilled, and how much longer than from hole to hole they are cut."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from sundial.frame.pieces import Piece
from sundial.frame.structure import Jack, Legs, Pole, Prop, Structure

LOOSE = {
    "mounting rail": "rail",
    "spreader bar": "prop",
    "base bar": "base",
    "front leg": "leg",
    "rear leg": "leg",
    "back leg": "leg",
}


@dataclass(frozen=True)
class Drill:
    """A hole ``at`` m from the lower (hinge) end of its piece, ``across`` m wide."""

    name: str
    at: float
    across: float


def drills_of(structure: Structure, piece: Piece, edge: float, bolt: float) -> tuple[float, tuple[Drill, ...]]:
    """Cut length, m, and holes of a piece. Pieces that are measured from hole to hole get ``edge`` m beyond the outermost bolt at
    each end."""

    def holes(*named: tuple[str, float]) -> tuple[Drill, ...]:
        return tuple(Drill(name, at, bolt) for name, at in named)

    if isinstance(structure, Prop):
        return _prop(structure, piece, edge, holes)
    if piece.name == "rail":
        more = max(edge - structure.overhang, 0.0) if isinstance(structure, (Legs, Jack)) else 0.0
        start = structure.overhang + more
        if isinstance(structure, Legs):
            return piece.length + more, holes(("front leg", start), ("rear leg", start + structure.spacing))
        if isinstance(structure, Jack):
            return piece.length + more, holes(("hinge", start), ("actuator", start + structure.rail_point))
        if isinstance(structure, Pole) and structure.screw:
            start = structure.along(piece.length)
            return piece.length, holes(("joint", start), ("actuator", start + structure.screw.rail_point))
    return piece.length, ()


def _prop(prop: Prop, piece: Piece, edge: float, make: Callable[..., tuple[Drill, ...]]) -> tuple[float, tuple[Drill, ...]]:
    if piece.name in ("prop", "spreader bar"):
        return piece.length + 2 * edge, make(("foot", edge), ("head", edge + piece.length))
    rails = [(f"{piece.name} hole {number}", at) for number, at in enumerate(prop.rail_points, 1)]
    bases = [(f"hole {number}", at) for number, at in enumerate(prop.base_holes, 1)]
    if prop.legs:
        if piece.name == "front leg":  # its lower end here is the hinge at the top
            return piece.length + edge, make(("hinge", edge), *((name, edge + at) for name, at in rails))
        if piece.name == "back leg":
            return piece.length + edge, make(("hinge", edge), *((name, edge + at) for name, at in bases))
        return piece.length, ()
    if piece.name == "rail":
        more = max(edge - prop.overhang, 0.0)
        start = prop.overhang + more
        return piece.length + more, make(("hinge", start), *((name, start + at) for name, at in rails))
    if piece.name == "base bar":
        return piece.length + 2 * edge, make(("hinge", edge), *((name, edge + at) for name, at in bases))
    return piece.length, ()
