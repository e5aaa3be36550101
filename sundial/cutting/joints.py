"""Where a piece that is longer than any board may be joined: the ways among which the cheapest plan is sought.

All pieces of one letter are joined alike, by as few joints as the longest board allows. A joint "over supports" is lapped over one of the piece's
supports, so both parts reach half of ``overlap`` past it. "any" joint is a butt with a board bolted along it; it lies at a support, in the middle, or a whole board from either end::

    |-------- s + o/2 --------|              parts over a support at s, lapped by o
                     |--------- L - s + o/2 ---------|
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import combinations
from typing import TYPE_CHECKING, Literal

if TYPE_CHECKING:
    from sundial.cutting.cut_list import CutPiece

Splices = Literal["any", "over supports", "none"]
MOST_WAYS = 24  # of one piece that are tried
MOST_JOINTS = 4
SAME = 5e-4  # m: joints nearer than this are one


def ways_to_join(
    piece: CutPiece, boards: Sequence[float], allowance: float, splices: Splices, overlap: float
) -> list[tuple[float, ...]]:
    """Lengths of the parts of a piece, m along its middle, a tuple a way; empty where no way holds. ``boards``: lengths there are, m."""
    longest = max(boards)
    lap = overlap if splices == "over supports" else 0.0
    places = sorted(_places(piece, boards, allowance, splices))
    for joints in range(1, MOST_JOINTS + 1):
        found = []
        for chosen in combinations(places, joints):
            parts = _parts(piece.length, chosen, lap)
            if min(parts) > 0 and all(
                piece.part_extent(number, parts, allowance) <= longest + 1e-9 for number in range(len(parts))
            ):
                found.append(parts)
        if found:
            return _fewest_alike(found)
    if splices == "any":
        return [_equal(piece, longest, allowance)]
    return []


def _places(piece: CutPiece, boards: Sequence[float], allowance: float, splices: Splices) -> set[float]:
    """Where a joint may lie, m from its lower end."""
    inside = {place for place in piece.supports if SAME < place < piece.length - SAME}
    if splices == "over supports":
        return inside
    found = {piece.length / 2, *inside}
    for board in boards:
        cut = board - (piece.extent(allowance) - piece.length)  # of the board, once its slanting end is off
        for times in range(1, MOST_JOINTS + 1):
            found |= {times * cut, piece.length - times * cut}
    return {round(place, 5) for place in found if SAME < place < piece.length - SAME}


def _parts(length: float, joints: Sequence[float], lap: float) -> tuple[float, ...]:
    ends = [0.0, *joints, length]
    last = len(ends) - 2
    return tuple(
        round(after - before + (lap / 2 if number > 0 else 0.0) + (lap / 2 if number < last else 0.0), 6)
        for number, (before, after) in enumerate(zip(ends, ends[1:], strict=False))
    )


def _fewest_alike(ways: list[tuple[float, ...]]) -> list[tuple[float, ...]]:
    """Each set of parts once, whichever end it begins at."""
    once: dict[tuple[float, ...], tuple[float, ...]] = {}
    for parts in ways:
        once.setdefault(tuple(sorted(round(part, 4) for part in parts)), parts)
    return list(once.values())[:MOST_WAYS]


def _equal(piece: CutPiece, longest: float, allowance: float) -> tuple[float, ...]:
    """As few equal parts as the longest board allows."""
    parts = 2
    while piece.part_extent(0, (piece.length / parts,) * parts, allowance) > longest + 1e-9:
        parts += 1
    return (piece.length / parts,) * parts
