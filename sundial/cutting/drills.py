"""Where the pieces of a frame are drilled, and how much longer than from hole to hole they are cut."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from sundial.errors import BriefError
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
        first = structure.along(piece.length) if isinstance(structure, Pole) else structure.overhang
        if isinstance(structure, Legs):
            return _rail(piece, edge, holes, first, ("front leg", 0.0), ("rear leg", structure.spacing))
        if isinstance(structure, Jack):
            return _rail(piece, edge, holes, first, ("hinge", 0.0), ("actuator", structure.rail_point))
        if isinstance(structure, Pole) and structure.screw:
            return _rail(piece, edge, holes, first, ("joint", 0.0), ("actuator", structure.screw.rail_point))
    return piece.length, ()


def _rail(
    piece: Piece, edge: float, make: Callable[..., tuple[Drill, ...]], first: float, *named: tuple[str, float]
) -> tuple[float, tuple[Drill, ...]]:
    """A rail with holes further up than its ``first`` one, m from its lower end: cut longer where a hole would lie nearer than ``edge`` to
    an end."""
    more = max(edge - first, 0.0)
    start = first + more
    last = start + max(at for _, at in named)
    return max(piece.length + more, last + edge), make(*((name, start + at) for name, at in named))


def _prop(prop: Prop, piece: Piece, edge: float, make: Callable[..., tuple[Drill, ...]]) -> tuple[float, tuple[Drill, ...]]:
    if piece.name in ("prop", "spreader bar"):
        return piece.length + 2 * edge, make(("foot", edge), ("head", edge + piece.length))
    rails = [(f"{piece.name} hole {number}", at) for number, at in enumerate(prop.rail_points, 1)]
    bases = [(f"hole {number}", at) for number, at in enumerate(prop.base_holes, 1)]
    if prop.legs:
        for path, name, points in (("rail_points", "front leg", prop.rail_points), ("base_holes", "back leg", prop.base_holes)):
            if piece.name == name and max(points) > piece.length - edge + 1e-9:
                raise BriefError(
                    f"frame.{path}[{points.index(max(points))}]",
                    f"its hole lies {max(piece.length - max(points), 0.0) * 1000:.0f} mm from the foot of the {name}; {edge * 1000:.0f} mm are the "
                    "least there",
                )
        if piece.name == "front leg":  # its lower end here is the hinge at the top
            return piece.length + edge, make(("hinge", edge), *((name, edge + at) for name, at in rails))
        if piece.name == "back leg":
            return piece.length + edge, make(("hinge", edge), *((name, edge + at) for name, at in bases))
        return piece.length, ()
    if piece.name == "rail":
        return _rail(piece, edge, make, prop.overhang, ("hinge", 0.0), *rails)
    if piece.name == "base bar":
        return max(piece.length + 2 * edge, prop.base_length or 0.0), make(
            ("hinge", edge), *((name, edge + at) for name, at in bases)
        )
    return piece.length, ()
