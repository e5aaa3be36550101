"""Pieces of the frame that lie under the glass as beams: over which span, what of the glass each carries, and how far it reaches beyond."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise
from typing import TYPE_CHECKING

from sundial.cutting.cut_list import CutPiece, apart, cut_list
from sundial.errors import BriefError

if TYPE_CHECKING:
    from sundial.scene import Scene

ALONG_THE_ROW = ("purlin", "mounting rail")
LEAST = 0.05  # m: a shorter span is none
MOST = 10.0  # m that is told of what reaches beyond
FAR = 0.35  # of its field: an end that reaches further strains more than the field does (w a^2 / 2 over w L^2 / 8 is 0.49 there, and it sags more)


@dataclass(frozen=True)
class OwnBeam:
    """A piece of the frame as a beam: ``span`` m of its longest field, ``beyond`` m past its first and last support, ``spacing`` m of glass that it
    carries across itself."""

    name: str
    section: str
    span: float
    spacing: float
    beyond: tuple[float, float]


def own_beams(scene: Scene) -> tuple[OwnBeam, ...]:
    """What of the frame bends under the glass, as it is cut; none of a frame that is not told, or cannot be cut."""
    try:
        pieces = cut_list(scene)
    except BriefError:
        return ()
    found: dict[tuple[str, float, float], OwnBeam] = {}
    for piece in pieces:
        for beam in _beams_of(scene, piece):
            found.setdefault((beam.name, round(beam.span, 3), round(sum(beam.beyond), 3)), beam)
    return tuple(found.values())


def _beams_of(scene: Scene, piece: CutPiece) -> Iterator[OwnBeam]:
    structure, array = scene.structure, scene.array
    if structure is None or piece.own:
        return
    if piece.name in ALONG_THE_ROW and len(piece.supports) > 1:
        yield from _over(piece, piece.supports, array.slope_length / max(piece.count, 1))
    elif piece.name in ("rail", "rafter"):
        spacing = _across(scene, structure.frames)
        for supports in structure.rail_supports(piece.length):
            yield from _over(piece, supports, spacing)


def _over(piece: CutPiece, supports: Sequence[float], spacing: float) -> Iterator[OwnBeam]:
    """Its field as a beam, with what reaches beyond it; where it runs on over several, its longest as a simple beam, which is on the safe side,
    and each end that reaches far."""
    places = sorted(supports)
    fields = [after - before for before, after in pairwise(places)]
    if not fields or max(fields) < LEAST:
        return
    ends = [min(max(over, 0.0), MOST) for over in (places[0], piece.length - places[-1])]
    if len(fields) == 1:
        yield OwnBeam(piece.name, piece.section, fields[0], spacing, (ends[0], ends[1]))
        return
    yield OwnBeam(piece.name, piece.section, max(fields), spacing, (0.0, 0.0))
    words = ("its end",) if piece.name in ALONG_THE_ROW else ("its lower end", "its upper end")
    for where, over, field in zip(words, ends, (fields[0], fields[-1]), strict=False):
        if over > FAR * field:
            yield OwnBeam(f"{piece.name}, {where}", piece.section, field, spacing, (over, 0.0))


def _across(scene: Scene, frames: int) -> float:
    """Breadth of glass that the frame with the most of it carries, m: half of what lies to each side, and all beyond the last."""
    breadth = scene.array.breadth
    if frames < 2:
        return breadth
    bay = apart(scene, frames)
    edge = bay / 2 + (breadth - bay * (frames - 1)) / 2
    return max(edge, bay if frames > 2 else 0.0)
