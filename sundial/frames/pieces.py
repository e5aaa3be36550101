"""Pieces that a frame is cut from, with their saw angles, and the holes in them."""

from __future__ import annotations

from dataclasses import dataclass
from math import radians, tan


@dataclass(frozen=True)
class Piece:
    """``length`` m along its middle line; ``angle`` degrees off a square cut at its upper (or outer) end, ``foot`` at the other;
    ``toe`` and ``heel`` m along its longer and shorter side; ``tilt`` where it is for one tilt only; ``seated``: the cut instead of ``angle``
    where the end sits under what it holds and is not lapped beside it (None: it is always so cut); ``supports`` m from its lower end on which it
    lies between its ends."""

    name: str
    length: float
    count: int
    angle: float = 0.0
    foot: float = 0.0
    depth: float = 0.0
    tilt: float | None = None
    seated: float | None = None
    supports: tuple[float, ...] = ()

    @property
    def toe(self) -> float:
        return self.length + self._slant

    @property
    def heel(self) -> float:
        return self.length - self._slant

    @property
    def _slant(self) -> float:
        """Half of what the two sides differ by, m: the cuts of a leg lean the same way, and the foot's takes from the top's."""
        return abs(tan(radians(self.angle)) - tan(radians(self.foot))) * self.depth / 2


@dataclass(frozen=True)
class Drill:
    """A hole ``at`` m from the lower (hinge) end of its piece, ``across`` m wide."""

    name: str
    at: float
    across: float


Drilled = tuple[float, tuple[Drill, ...]]  # cut length, m, and holes of a piece


def holes(bolt: float, *named: tuple[str, float]) -> tuple[Drill, ...]:
    """Holes for a ``bolt`` (m thick) by name and place."""
    return tuple(Drill(name, at, bolt) for name, at in named)


def drilled_rail(piece: Piece, edge: float, bolt: float, first: float, *named: tuple[str, float]) -> Drilled:
    """A rail with holes further up than its ``first`` one, m from its lower end: cut longer where a hole would lie nearer than ``edge`` to
    an end."""
    more = max(edge - first, 0.0)
    start = first + more
    last = start + max(at for _, at in named)
    return max(piece.length + more, last + edge), holes(bolt, *((name, start + at) for name, at in named))


def is_leg(name: str) -> bool:
    """Whether a piece is a leg, whatever row it stands in."""
    return " leg" in name
