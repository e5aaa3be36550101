"""The cut list: every piece of a frame with its saw angles and holes, lettered.

Mitres and holes lie in the plane of the side view, so a piece may be turned over: those left and right of the row's middle are mirror images
of each other and sawn alike. On ground that falls sideways the foot of a plumb leg is bevelled too; then a piece has a hand, the side to which
its foot falls as you look at the glass.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from math import hypot, radians, tan
from typing import TYPE_CHECKING, Literal

from sundial.beams.sections import parse_section, size_of
from sundial.brief.sections.cutting import MOST_PIECES
from sundial.errors import BriefError
from sundial.frames.kind import Structure
from sundial.frames.pieces import Drill, Piece, is_leg

if TYPE_CHECKING:
    from sundial.scene import Scene

Hand = Literal["either", "left", "right"]
SHORT_RAIL = 0.4  # m: carries one clamp, and reaches over two rafters' bolts (thumb)
HIGHEST_JIG = 1.2  # m: a higher lower edge is reached from a ladder, not rested on a board
LOOSE = {
    "mounting rail": "rail",
    "spreader bar": "prop",
    "rod": "prop",
    "base bar": "base",
}  # a piece, and the shorter name under which its section may be told
USUAL_SECTION = {
    "pole": "tube 114x4 steel",
    "mounting rail": "strut 41x41x2.5",
    "short rail": "strut 41x41x2.5",
}  # where none is told


@dataclass(frozen=True, kw_only=True)
class CutPiece(Piece):
    """One kind of piece as it is sawn, ``count`` times; ``angle`` and ``foot`` degrees off a square cut at its upper (outer) and lower end.
    ``bevel`` degrees across the foot; ``depth`` m of its section in the plane of the mitres; ``holes`` from its lower end; ``parts`` m of which
    each is made where no board is long enough (none: whole); ``supports`` m from its lower end over which a joint may lie; ``own``: of the person's
    own list; ``paired``: one half of them stands left of the row's middle, the other right of it."""

    letter: str = ""
    section: str
    bevel: float = 0.0
    hand: Hand = "either"
    holes: tuple[Drill, ...] = ()
    parts: tuple[float, ...] = ()
    why: str = ""
    own: bool = False
    paired: bool = False

    @property
    def sides(self) -> tuple[int, int]:
        """How many stand left and right of the row's middle as you look at the glass, mirror images; (0, 0) where they are not so parted."""
        return (self.count // 2, self.count // 2) if self.paired else (0, 0)

    def extent(self, allowance: float) -> float:
        """What it takes of a board between two square ends, m: from the furthest point of one end to that of the other, and
        ``allowance`` for each slanting cut."""
        return self.length + self._end(self.foot, allowance) + self._end(self.angle, allowance) + self._bevelled

    def part_extent(self, number: int, parts: tuple[float, ...], allowance: float) -> float:
        """The same of one of its ``parts``, from the lower end: what lies between two joints is square at both."""
        first, last = number == 0, number == len(parts) - 1
        foot = self._end(self.foot, allowance) + self._bevelled if first else 0.0
        return parts[number] + foot + (self._end(self.angle, allowance) if last else 0.0)

    def extents(self, allowance: float) -> tuple[float, ...]:
        """What each of its parts takes of a board, or the whole of it."""
        if not self.parts:
            return (self.extent(allowance),)
        return tuple(self.part_extent(number, self.parts, allowance) for number in range(len(self.parts)))

    @property
    def _bevelled(self) -> float:
        return abs(tan(radians(self.bevel))) * self.depth / 2

    def _end(self, angle: float, allowance: float) -> float:
        """More that a slanting end takes."""
        return abs(tan(radians(angle))) * self.depth / 2 + allowance if abs(angle) > 0.05 else 0.0


def section_key(name: str) -> str:
    """One name for a section however it is written: small letters, single spaces, x between sizes."""
    return " ".join(name.lower().replace("×", "x").replace("*", "x").replace(" x ", "x").split())


def cut_list(scene: Scene) -> list[CutPiece]:
    """Pieces of the frame, of what lies on it, and of the person's own list, lettered. BriefError for a list that is too long."""
    left_out = {section_key(name) for name in scene.brief.cutting.leave_out}
    found = [piece for piece in (*_of_frame(scene), *_across(scene)) if section_key(piece.name) not in left_out]
    found += _own(scene)
    total = sum(piece.count for piece in found)
    if total > MOST_PIECES:
        raise BriefError(
            "pieces", f"with these the list has {total} pieces; {MOST_PIECES} are the most that one build is cut from"
        )
    return [replace(piece, letter=letter_of(number)) for number, piece in enumerate(found)]


def asked_names(scene: Scene) -> list[str]:
    """Names of the pieces that the frame asks for, each once; those that are left out too."""
    return list(dict.fromkeys(piece.name for piece in (*_of_frame(scene), *_across(scene))))


def letter_of(number: int) -> str:
    """A to Z, AA, AB ... for 0, 1 ..."""
    first, second = divmod(number, 26)
    return (chr(64 + first) if first else "") + chr(65 + second)


def _of_frame(scene: Scene) -> Iterable[CutPiece]:
    structure, brief = scene.structure, scene.brief
    if structure is None:
        return []
    array, cutting = scene.array, brief.cutting
    tilts = [hole.tilt for hole in structure.holes] if structure.says_tilts else _wanted(scene)
    if structure.span is not None and len(tilts) > 12:
        tilts = tilts[:1]
    found = []
    for whole in structure.pieces(tilts, array.slope_length, array.breadth):
        piece = structure.sawn(whole, tilts, _in_ground(scene))
        if piece is None:
            continue
        length, holes = structure.drills(piece, cutting.end_distance, cutting.bolt)
        section, fall = _section(scene, piece.name), structure.bevel(piece.name)
        bevel = abs(fall)
        hand: Hand = "either" if bevel == 0 else "right" if fall > 0 else "left"
        found.append(
            CutPiece(
                name=piece.name, length=length, count=piece.count, angle=piece.angle, foot=piece.foot,
                depth=depth_of(section, piece.depth), tilt=piece.tilt, section=section, bevel=bevel, hand=hand, holes=holes,
                supports=tuple(hole.at for hole in holes) if piece.name == "rail" else piece.supports,
                paired=structure.frames % 2 == 0 and piece.count % structure.frames == 0 and hand == "either" and piece.name != "ledger",  # it runs along the row
            )
        )  # fmt: skip
    return found


def _wanted(scene: Scene) -> list[float]:
    """Tilts that a frame without holes is cut to."""
    fixed = scene.brief.mount.fixed_tilt
    return [float(tilt) for tilt in scene.reachable[:12]] if fixed is None else [fixed]


def _in_ground(scene: Scene) -> float:
    """How far a pole goes down, m: as it is told where no base plate carries it."""
    footing = scene.brief.footing
    if scene.brief.cutting.base is not None or footing is None or footing.kind not in ("post", "pier"):
        return 0.0
    return footing.depth or 0.0


def _across(scene: Scene) -> Iterable[CutPiece]:
    """What runs along the row: purlins or rails, braces, and the jig."""
    array, cutting, structure = scene.array, scene.brief.cutting, scene.structure
    found = []
    if cutting.fixing == "short rails":
        count = 2 * array.rows * (array.columns + 1)
        found.append(_plain(scene, "short rail", SHORT_RAIL, count, "one under every clamp"))
    if cutting.purlins and cutting.fixing != "short rails":
        name = "mounting rail" if cutting.fixing == "clamps" else "purlin"
        found.append(_plain(scene, name, array.breadth, cutting.purlins * array.rows, "under the panels, along the row"))
    if cutting.braces and structure is not None:
        found += _braces(scene, structure)
    edge = _lowest_edge(scene, structure)
    if structure is not None and structure.on_trestles and 0.05 < edge <= HIGHEST_JIG:
        found.append(_plain(scene, "jig", edge, 2, "under the lower edge while the first panel is squared; from rests"))
    return found


def _plain(scene: Scene, name: str, length: float, count: int, why: str) -> CutPiece:
    section = _section(scene, name)
    return CutPiece(
        name=name,
        length=length,
        count=count,
        depth=depth_of(section, 0.0),
        section=section,
        why=why,
        supports=_frames_at(scene, length),
    )


def _frames_at(scene: Scene, length: float) -> tuple[float, ...]:
    """Where the frames stand under what lies along the row, m from its end."""
    structure = scene.structure
    if structure is None or structure.frames < 2:
        return ()
    each = apart(scene, structure.frames)
    first = (length - each * (structure.frames - 1)) / 2
    return tuple(first + number * each for number in range(structure.frames)) if first >= 0 else ()


def _lowest_edge(scene: Scene, structure: Structure | None) -> float:
    if structure is None:
        return 0.0
    tilt = structure.holes[0].tilt if structure.holes else next(iter(_wanted(scene)), 0.0)
    return structure.lower_edge(tilt, scene.array.slope_length)


def _braces(scene: Scene, structure: Structure) -> list[CutPiece]:
    """A crossed pair, lapped over the faces of the two outermost rear supports that stand side by side."""
    frames, edge = structure.frames, scene.brief.cutting.end_distance
    if frames < 2:
        return []
    high = structure.brace_height([hole.tilt for hole in structure.holes] or _wanted(scene))
    if high < 0.3:
        return []
    wide = apart(scene, frames)
    return [_plain(scene, "brace", hypot(wide, high) + 2 * edge, 2, "crossed, one on each face, between the rear supports")]


def apart(scene: Scene, frames: int) -> float:
    """From frame to frame along the row, m: as the wind is told, else with the outermost at the fifth points."""
    wind = scene.brief.wind
    outermost = wind.width if wind and wind.width else scene.array.breadth * 0.6
    return outermost / max(frames - 1, 1)


def _own(scene: Scene) -> Iterable[CutPiece]:
    return [
        CutPiece(
            name=one.name, length=one.length, count=one.count, angle=one.angle, foot=one.foot, depth=depth_of(one.section, 0.0),
            section=one.section, why="your own", own=True, supports=tuple(one.supports),
        )
        for one in scene.brief.pieces
    ]  # fmt: skip


def _section(scene: Scene, name: str) -> str:
    told = {section_key(key): value for key, value in scene.brief.cutting.sections.items()}
    return told.get(
        section_key(name),
        told.get("leg" if is_leg(name) else LOOSE.get(name, ""), USUAL_SECTION.get(name, scene.brief.cutting.default)),
    )


def depth_of(section: str, otherwise: float) -> float:
    """Height of a section, m; ``otherwise`` where its words say none. BriefError for the name of a board that is not known: its size is asked."""
    try:
        size = size_of(section)
    except ValueError as error:
        raise BriefError("cutting.sections", str(error)) from None
    try:
        return parse_section(section).height
    except ValueError:
        return otherwise if size is None else size[1]
