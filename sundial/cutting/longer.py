"""Making an old rack longer, along the row and up or down the slope: rails that grow, pieces and parts that are added, which clamps move, and
what the longer rack is."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from math import ceil
from typing import TYPE_CHECKING, Any

from sundial.brief.sections.frame import WiringBrief
from sundial.cutting.cut_list import CutPiece, cut_list
from sundial.cutting.parts import parts_list
from sundial.errors import BriefError

if TYPE_CHECKING:
    from sundial.frames.kind import Structure
    from sundial.scene import Scene

SAME = 1e-3  # m: pieces this near in length are one
GROUND = 0.05  # m that the lower edge stays above the ground at least (thumb)
Numbers = tuple[tuple[int, ...], ...]


@dataclass(frozen=True)
class MorePieces:
    """``count`` pieces of ``length`` m to cut beside those that are there."""

    name: str
    section: str
    count: int
    length: float


@dataclass(frozen=True)
class Grown:
    """Each of ``count`` pieces gets ``by`` m more, ``cut`` m as it is sawn (up to the next hole of the channel); from ``old`` m."""

    name: str
    section: str
    count: int
    old: float
    by: float
    cut: float


@dataclass(frozen=True)
class MoreParts:
    """``count`` of a part more than there are."""

    name: str
    count: int


@dataclass(frozen=True)
class Longer:
    """``columns`` more. ``needed`` m of rail beyond the old one, ``extension`` m as it is cut (a whole number of hole pitches), on each of
    ``rails``; end clamps that ``move``, mid clamps ``added``; panels ``before`` and ``after``; ``load`` times as much wind and weight on
    the rack, ``overhang`` m of the row beyond its last frame, and ``more_frames`` wanted.

    ``rows`` more, ``way`` down or up the slope: ``slope_needed`` m of glass; ``reach`` m of rail beyond the outermost support then, and
    ``more_supports`` rows of them wanted (0 where the frame takes none); ``lower_edge`` and ``upper_edge`` m over the ground afterwards at the steepest tilt. ``grown``, ``pieces``,
    ``anew`` (cut to another length) and ``parts``: what is sawn and bought. ``numbers``: the panels' numbers, lowest row first; old ones keep theirs."""

    columns: int
    needed: float
    extension: float
    rails: int
    move: int
    added: int
    panels_before: int
    panels_after: int
    load: float
    breadth: float
    overhang: float
    more_frames: int
    rows: int = 0
    way: str = ""
    slope_needed: float = 0.0
    reach: float = 0.0
    more_supports: int = 0
    lower_edge: float | None = None
    upper_edge: float | None = None
    grown: tuple[Grown, ...] = ()
    pieces: tuple[MorePieces, ...] = ()
    anew: tuple[MorePieces, ...] = ()
    parts: tuple[MoreParts, ...] = ()
    numbers: Numbers = ()


def extension(columns: int, width: float, gap: float, pitch: float) -> tuple[float, float]:
    """Rail that ``columns`` more panels of ``width`` m ask for, and that as it is cut: up to the next whole ``pitch`` of the channel's
    holes, so that no cut falls on a hole (0: none). m."""
    needed = columns * (width + gap)
    return needed, up_to_hole(needed, pitch)


def up_to_hole(length: float, pitch: float) -> float:
    """A length up to the next whole ``pitch`` of a channel's holes (0: as it is), m."""
    return length if pitch <= 0 else ceil(length / pitch - 1e-9) * pitch


def longer_numbers(rows: int, columns: int, more_rows: int, more_columns: int, way: str) -> Numbers:
    """Numbers of the panels of a longer rack, lowest row first: the old ones keep theirs, the new ones follow, lowest row first, from the
    left. Columns are added on the right."""
    below = more_rows if way == "down" else 0
    numbers, following = [], rows * columns
    for row in range(rows + more_rows):
        line = []
        for column in range(columns + more_columns):
            if below <= row < below + rows and column < columns:
                line.append((row - below) * columns + column + 1)
            else:
                following += 1
                line.append(following)
        numbers.append(tuple(line))
    return tuple(numbers)


def lengthen(scene: Scene) -> Longer | None:
    """What ``cutting.longer`` columns and ``cutting.longer_rows`` rows ask of the rack as it stands; None for none. BriefError where it turns on
    a pole, where a wall is in the way, or where the ground is."""
    cutting, array, structure = scene.brief.cutting, scene.array, scene.structure
    if not cutting.longer and not cutting.longer_rows:
        return None
    if structure is not None and not structure.row_grows:
        raise BriefError("cutting.longer", "a pole carries what its joint was made for: it is not made longer")
    width, height = (array.panel.width, array.panel.length) if array.portrait else (array.panel.length, array.panel.width)
    needed, cut = extension(cutting.longer, width, cutting.gap, cutting.hole_pitch)
    rails = max(cutting.purlins, 2) * array.rows if cutting.longer else 0
    wind = scene.brief.wind
    outermost = wind.width if wind and wind.width else array.breadth * 0.6
    frames = structure.frames if structure else 2
    bay = outermost / max(frames - 1, 1)
    breadth = array.breadth + needed
    reach = (array.breadth - outermost) / 2 + needed  # the rail beyond the last frame, all on one side
    more, down = _further(reach, bay) if cutting.longer else 0, cutting.longer_way == "down"
    whole = (array.rows + cutting.longer_rows) * (array.columns + cutting.longer)
    sloped = _up_or_down(scene, structure, cutting.longer_rows * (height + cutting.gap), down) if cutting.longer_rows else {}
    return Longer(
        cutting.longer, needed, cut, rails, rails, rails * cutting.longer, array.count, array.count + whole - array.rows * array.columns,
        whole / (array.rows * array.columns), breadth, reach, more,
        numbers=longer_numbers(array.rows, array.columns, cutting.longer_rows, cutting.longer, cutting.longer_way), **sloped,
    )  # fmt: skip


def _further(reach: float, bay: float) -> int:
    """Supports that are wanted a ``bay`` apart until no more than half of one reaches beyond the last, m."""
    return max(ceil((reach - bay / 2) / bay - 1e-9), 0) if bay > 0 else 0


def _up_or_down(scene: Scene, structure: Structure | None, needed: float, down: bool) -> dict[str, Any]:
    """What rows further down or up the slope ask, ``needed`` m of glass."""
    brief, cutting = scene.brief, scene.brief.cutting
    found: dict[str, Any] = {"rows": cutting.longer_rows, "way": cutting.longer_way, "slope_needed": needed}
    changes: dict[str, Any] = {
        "array": brief.array.model_copy(
            update={"rows": brief.array.rows + cutting.longer_rows, "columns": brief.array.columns + cutting.longer}
        ),
        "wiring": WiringBrief(),
        "pieces": [],
    }
    if structure is not None and brief.frame is not None:
        if not structure.on_trestles and not down:
            raise BriefError("cutting.longer_rows", f"the {structure.stands_on} is in the way above: rows are added below")
        if down:
            changes["frame"] = brief.frame.model_copy(
                update={"front_height": structure.front_height, "overhang": structure.overhang + needed}
            )
    wider = scene.beside(brief.model_copy(update=changes))
    if structure is not None and wider.structure is not None:
        found |= _edges(scene, wider.structure, wider.array.slope_length)
        found |= _beyond(structure, scene.array.slope_length, needed, down)
    before, after = cut_list(scene), cut_list(wider)
    own = [piece for piece in before if not piece.own]
    return found | _pieces(own, after, needed, cutting.hole_pitch) | {"parts": _more_parts(scene, before, wider, after)}


def _edges(scene: Scene, structure: Structure, length: float) -> dict[str, Any]:
    """Lower and upper edge of the longer rack's ``structure`` under glass ``length`` m up the slope, at the steepest tilt it is set to. BriefError
    where it would reach into the ground."""
    fixed = scene.brief.mount.fixed_tilt
    steepest = fixed if fixed is not None else float(max(scene.reachable))
    low = structure.lower_edge(steepest, length)
    if structure.on_trestles and low < GROUND:
        reaches = f"{-low:.2f} m into the ground" if low < 0 else f"{low:.2f} m from the ground"
        raise BriefError(
            "cutting.longer_rows", f"at {steepest:.0f} degrees the lower edge would be {reaches}: raise the front, or add above"
        )
    return {"lower_edge": low + scene.raised, "upper_edge": structure.upper_edge(steepest, length) + scene.raised}


def _beyond(structure: Structure, length: float, needed: float, down: bool) -> dict[str, Any]:
    """How far the rail reaches beyond its outermost support, and how many more rows of supports that asks for."""
    held = structure.rail_holes()
    if held is None:
        return {}
    supports = sorted({held[0], *(held[0] + at for _, at in held[1])})
    outer, inner = supports[:2] if down else supports[:-3:-1]
    reach = (outer if down else length - outer) + needed
    return {"reach": reach, "more_supports": _further(reach, abs(outer - inner)) if structure.takes_rows else 0}


def _pieces(before: list[CutPiece], after: list[CutPiece], needed: float, pitch: float) -> dict[str, Any]:
    """What of the cut list grows by the glass, what is added, and what is cut anew."""
    grown, more, anew = [], [], []
    old: dict[tuple[str, float | None], list[CutPiece]] = {}
    for piece in before:
        old.setdefault((piece.name, piece.tilt), []).append(piece)
    for piece in after:
        if piece.name == "jig":  # from rests
            continue
        there = old.get((piece.name, piece.tilt), [])
        was = there.pop(0) if there else None
        if was is None or abs(piece.length - was.length) < SAME:
            count = piece.count - (was.count if was else 0)
            if count > 0:
                more.append(MorePieces(piece.name, piece.section, count, piece.length))
        elif abs(piece.length - was.length - needed) < SAME:
            grown.append(Grown(piece.name, piece.section, was.count, was.length, needed, up_to_hole(needed, pitch)))
        else:
            anew.append(MorePieces(piece.name, piece.section, piece.count, piece.length))
    return {"grown": tuple(grown), "pieces": tuple(more), "anew": tuple(anew)}


def _more_parts(scene: Scene, before: list[CutPiece], wider: Scene, after: list[CutPiece]) -> tuple[MoreParts, ...]:
    """Of which parts more are needed than there are."""
    there = Counter({part.name: part.count for part in parts_list(scene, before)})
    found = [MoreParts(part.name, part.count - there[part.name]) for part in parts_list(wider, after)]
    return tuple(part for part in found if part.count > 0)
