"""Drawings of the cutting: the frame with letters, pieces and boards as bars to scale, the template of a base plate."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import dist, hypot, radians, tan

from sundial.answers.cutting.report import CuttingReport
from sundial.cutting.cut_list import CutPiece
from sundial.cutting.cut_plan import Board, CutPlan
from sundial.cutting.saw import at_the_saw
from sundial.cutting.stock import OnHand
from sundial.cutting.template import CHECK, Circle, Template
from sundial.frames.kind import Structure
from sundial.frames.lines import Line
from sundial.frames.pieces import is_leg
from sundial.quantities import FOOT, INCH, Units, format_length, rough_length
from web.builds.drawing import nice_step
from web.builds.models import Build
from web.builds.results import Results
from web.frame.built_view import ToPixels, hole_of

PIECE_OF = {
    "base bar": "base bar", "prop": "prop", "front post": "post", "rear post": "post", "post": "post", "back post": "back post", "base": "base", "spreader": "spreader bar", "strut": "strut", "upright": "upright",
    "pole": "pole",
}  # fmt: skip  # a line of the side view: the piece it is
BOARD_WIDE = 560.0  # px of the longest board
PIECE_WIDE = 330.0  # px of the longest piece
TOO_SHORT = 26.0  # px: a cut under this is named beside
SHARES = (0.5, 0.4, 0.6, 0.3, 0.7, 0.2, 0.8, 0.1, 0.9)  # of a part, where its letter may stand
EXPLODE = 0.16  # of the drawing's size, by which parts stand off


def letter_hue(index: int) -> int:
    """One of six fills that go with a pattern of their own."""
    return index % 6


@dataclass(frozen=True)
class PartDrawn:
    """A part of the exploded side view: a thick line, and its letter in a ring."""

    letter: str
    name: str
    d: str
    width: float
    x: float
    y: float
    hue: int


@dataclass(frozen=True)
class EndDrawn:
    """Purlins or rails seen from their ends."""

    letter: str
    x: float
    y: float
    size: float
    hue: int


@dataclass(frozen=True)
class Exploded:
    """The frame from the side, its parts drawn apart, to scale; ``beside``: letters of pieces that are not seen from there."""

    parts: list[PartDrawn]
    ends: list[EndDrawn]
    glass: str
    beside: list[tuple[str, str]]
    scale_px: float
    scale_text: str
    tilt: float


def exploded(build: Build, results: Results, pieces: Sequence[CutPiece], tilt: float) -> Exploded | None:
    """The frame at a tilt, drawn apart; None where nothing is told of what it is built from."""
    study = results.study
    structure = study.scene.structure
    if structure is None:
        return None
    length, hole = study.scene.array.slope_length, hole_of(structure, tilt)
    lines = {line.name: line for line in structure.side_lines(hole.tilt, length, hole.set_by)}
    glass = lines["glass"]
    by_name: dict[str, CutPiece] = {}
    for piece in pieces:
        held = by_name.get(piece.name)
        if held is None or (piece.tilt is not None and abs(piece.tilt - hole.tilt) < 0.5) or _is_set(piece, hole.set_by):
            by_name[piece.name] = piece
    order = {piece.letter: letter_hue(number) for number, piece in enumerate(pieces)}
    apart = []
    for line in _apart(structure, lines, length):
        named = line.name if line.name == "rail" or is_leg(line.name) else PIECE_OF.get(line.name, "")
        found = by_name.get(named) or by_name.get({"rail": "rafter", "spreader bar": "rod"}.get(named, ""))
        if found is not None and dist(line.start, line.end) >= 0.02:
            apart.append((line, found))
    points = [point for line in (*(line for line, _ in apart), glass) for point in (line.start, line.end)]
    low, high = min(x for x, _ in points) - 0.25, max(x for x, _ in points) + 0.25
    top = max(z for _, z in points) + 0.2
    bottom = min(z for _, z in points) - 0.1
    scale = min(330 / (high - low), 240 / (top - bottom))
    left = 180 - (low + high) / 2 * scale
    ground = 250 + bottom * scale

    def px(point: tuple[float, float]) -> tuple[float, float]:
        return round(left + point[0] * scale, 1), round(ground - point[1] * scale, 1)

    across = next((by_name[name] for name in ("purlin", "mounting rail", "short rail") if name in by_name), None)
    ends = _ends(glass, study.scene.array.rows, across, px, scale, order) if across else []
    parts, taken = [], [(end.x + 14, end.y + 14) for end in ends[-1:]]  # the letter of the ends stands beside the last of them
    for line, found in apart:
        (x1, y1), (x2, y2) = px(line.start), px(line.end)
        taken.append(_clear_of(taken, (x1, y1), (x2, y2)))
        parts.append(
            PartDrawn(
                found.letter, found.name, f"M{x1} {y1}L{x2} {y2}", max(round(max(found.depth, 0.04) * scale, 1), 4.0),
                *taken[-1], order[found.letter],
            )
        )  # fmt: skip
    drawn = {part.letter for part in parts} | {end.letter for end in ends}
    unit = FOOT if build.units == "us" else 1.0
    step = nice_step((high - low) / unit, 3)
    return Exploded(
        parts, ends, "M{} {}L{} {}".format(*px(glass.start), *px(glass.end)),
        [(piece.letter, piece.name) for piece in pieces if piece.letter not in drawn], round(step * unit * scale, 1),
        f"{step:g} {'ft' if build.units == 'us' else 'm'}", hole.plane.tilt,
    )  # fmt: skip


def _clear_of(taken: Sequence[tuple[float, float]], start: tuple[float, float], end: tuple[float, float]) -> tuple[float, float]:
    """Where on a part its letter stands: in its middle, or off it where another letter stands there, rings of 20 px apart."""
    places = [(start[0] + (end[0] - start[0]) * share, start[1] + (end[1] - start[1]) * share) for share in SHARES]
    found = next((place for place in places if all(dist(place, other) > 22 for other in taken)), places[0])
    return round(found[0], 1), round(found[1], 1)


def _is_set(piece: CutPiece, set_by: dict[str, float]) -> bool:
    """Whether this prop is the one that sets the tilt drawn."""
    ends = [hole.at for hole in piece.holes if hole.name in ("foot", "head")]
    return len(ends) == 2 and abs(abs(ends[1] - ends[0]) - set_by.get("length", -1)) < 1e-6


def _apart(structure: Structure, lines: dict[str, Line], length: float) -> list[Line]:
    """The parts shifted from each other: the rail under the glass, what holds it down and back."""
    glass = lines["glass"]
    away = EXPLODE * length
    run, rise = glass.end[0] - glass.start[0], glass.end[1] - glass.start[1]
    whole = hypot(run, rise) or 1.0
    under = (rise / whole * away * 0.5, -run / whole * away * 0.5)
    found = [Line("rail", _moved(glass.start, under), _moved(glass.end, under))]
    middle = (glass.start[0] + run / 2, 0.0)
    for line in lines.values():
        if line.name in ("glass", "joint", "wall", "actuator"):
            continue
        at = ((line.start[0] + line.end[0]) / 2, (line.start[1] + line.end[1]) / 2)
        lying = abs(line.end[0] - line.start[0]) > abs(line.end[1] - line.start[1])
        shift = (
            (0.0, -away * 0.9)
            if lying and line.name in ("base", "base bar")
            else (away * (0.7 if at[0] > middle[0] else -0.5), -away * 0.35)
        )
        if line.name in ("prop", "spreader", "strut"):
            shift = (away * 0.45, -away * 0.5)
        if line.name == "pole":
            shift = (0.0, -away * 0.8)
        found.append(Line(line.name, _moved(line.start, shift), _moved(line.end, shift)))
    return found


def _moved(point: tuple[float, float], by: tuple[float, float]) -> tuple[float, float]:
    return point[0] + by[0], point[1] + by[1]


def _ends(glass: Line, rows: int, across: CutPiece, px: ToPixels, scale: float, order: dict[str, int]) -> list[EndDrawn]:
    """Two of them under each row of panels, at its quarters."""
    found = []
    run, rise = glass.end[0] - glass.start[0], glass.end[1] - glass.start[1]
    whole = hypot(run, rise) or 1.0
    off = EXPLODE * whole * 0.22
    for row in range(rows):
        for share in (0.22, 0.78):
            at = (row + share) / rows
            x, y = px((glass.start[0] + run * at + rise / whole * off, glass.start[1] + rise * at - run / whole * off))
            found.append(EndDrawn(across.letter, x, y, max(round(0.06 * scale, 1), 7.0), order[across.letter]))
    return found


@dataclass(frozen=True)
class HoleDrawn:
    """A hole on a piece's bar, and where it is marked."""

    x: float
    text: str
    name: str


@dataclass(frozen=True)
class PieceDrawn:
    """One row of the cut list: ``d`` the piece as a bar to scale with its saw angles, ``mirror`` its mirror image where the two differ; words
    for the saw."""

    piece: CutPiece
    d: str
    mirror: str
    holes: list[HoleDrawn]
    length_text: str
    off_text: str
    angle_text: str
    wide: float
    hue: int

    @property
    def middle(self) -> float:
        return round(self.wide / 2, 1)


def pieces_drawn(pieces: Sequence[CutPiece], units: Units) -> list[PieceDrawn]:
    """The cut list as bars."""
    longest = max(piece.toe for piece in pieces)
    scale = (PIECE_WIDE - 24) / longest
    found = []
    for number, piece in enumerate(pieces):
        tall = min(max(piece.depth * scale, 10.0), 16.0)
        lean = [max(-tall * 2, min(tall * 2, tall * tan(radians(angle)))) for angle in (piece.foot, piece.angle)]
        start, end = 12.0, 12.0 + piece.length * scale
        d, mirror = (
            f"M{start - lean[0] / 2:.1f} {low:.1f}L{start + lean[0] / 2:.1f} {high:.1f}L{end + lean[1] / 2:.1f} {high:.1f}"
            f"L{end - lean[1] / 2:.1f} {low:.1f}Z"
            for high, low in ((2, 2 + tall), (2 + tall, 2))
        )
        marked, off = at_the_saw(piece.length, units)
        holes = [
            HoleDrawn(round(start + hole.at * scale, 1), format_length(at_the_saw(hole.at, units)[0], units), hole.name)
            for hole in piece.holes
        ]
        found.append(
            PieceDrawn(
                piece,
                d,
                mirror if piece.paired and any(abs(angle) >= 0.05 for angle in lean) else "",
                holes,
                format_length(marked, units),
                _off(off, units),
                _angles(piece),
                round(end + 12, 1),
                letter_hue(number),
            )
        )
    return found


def _off(off: float, units: Units) -> str:
    if abs(off) < 0.00025:
        return ""
    told = f"{abs(off) / INCH:.2f} in" if units == "us" else f"{abs(off) * 1000:.1f} mm"
    return f"{told} {'long' if off > 0 else 'short'}"


def _angles(piece: CutPiece) -> str:
    """Both saw angles in words, as they are set off a square cut."""
    if abs(piece.angle) < 0.05 and abs(piece.foot) < 0.05 and piece.bevel < 0.05:
        return "square"
    ends = [f"{end:.1f}°" if abs(end) >= 0.05 else "square" for end in (piece.foot, piece.angle)]
    words = f"{ends[0]} at both ends" if ends[0] == ends[1] else f"foot {ends[0]}, head {ends[1]}"
    return words + (f", foot bevelled {piece.bevel:.1f}° to the {piece.hand}" if piece.bevel else "")


@dataclass(frozen=True)
class CutDrawn:
    """One piece on its board."""

    key: str
    tick: str
    letter: str
    name: str
    x: float
    width: float
    middle: float
    text: str
    length_text: str
    hue: int
    done: bool


@dataclass(frozen=True)
class BoardDrawn:
    """A board to scale: its cuts in the order of sawing, and its rest."""

    number: int
    board: Board
    title: str
    width: float
    cuts: list[CutDrawn]
    rest_x: float
    rest_width: float
    rest_text: str
    kept: bool

    @property
    def letters(self) -> str:
        return " ".join(dict.fromkeys(cut.letter for cut in self.cuts))


def tick_names(pieces: Sequence[CutPiece]) -> dict[str, str]:
    """Under what the cuts of each letter are ticked off: it outlives a change of letters."""
    found: dict[str, str] = {}
    for piece in pieces:
        name = "".join(char if char.isalnum() else "-" for char in piece.name.lower())[:24]
        key = f"{name}-{piece.length * 1000:.0f}"
        same = sum(other == key or other.startswith(f"{key}-again") for other in found.values())
        found[piece.letter] = f"{key}-again{same}" if same else key
    return found


def boards_drawn(plan: CutPlan, least_rest: float, units: Units, done: Sequence[str]) -> list[BoardDrawn]:
    """All boards, longest scale first."""
    if not plan.boards:
        return []
    scale = BOARD_WIDE / max(board.length for board in plan.boards)
    by_letter = {piece.letter: piece for piece in plan.pieces}
    hues = {piece.letter: letter_hue(number) for number, piece in enumerate(plan.pieces)}
    names, ticked = tick_names(plan.pieces), set(done)
    found = []
    for number, board in enumerate(plan.boards, 1):
        cuts = []
        for cut in board.cuts:
            piece = by_letter[cut.letter]
            tick = f"{names[cut.letter]}-{cut.number}" + (f".{cut.part}" if cut.part else "")
            wide = round(cut.extent * scale, 1)
            cuts.append(
                CutDrawn(
                    cut.key, tick, cut.letter, piece.name, round(cut.start * scale, 1), wide,
                    round(cut.start * scale + wide / 2, 1), cut.key if wide >= TOO_SHORT else "",
                    format_length(at_the_saw(piece.parts[cut.part - 1] if cut.part else piece.length, units)[0], units), hues[cut.letter], tick in ticked,
                )
            )  # fmt: skip
        last = board.cuts[-1]
        x = (last.start + last.extent) * scale
        kept = board.rest >= least_rest - 1e-9
        rest = format_length(at_the_saw(board.rest, units)[0], units) if board.rest >= 0.005 else ""
        found.append(
            BoardDrawn(
                number, board, f"{board.section}, {format_length(board.length, units)}", round(board.length * scale, 1), cuts,
                round(x, 1), round(max(board.length * scale - x, 0), 1), rest, kept,
            )
        )  # fmt: skip
    return found


@dataclass(frozen=True)
class HeapDrawn:
    """What lies there of one section, end to end and to scale: each board's ``x``, width, and the width of what is used of it, px."""

    title: str
    text: str
    boards: list[tuple[float, float, float]]
    width: float


def heaps_drawn(heaps: Sequence[OnHand], units: Units) -> list[HeapDrawn]:
    """The boards on hand; all sections to one scale."""
    if not heaps:
        return []
    scale = BOARD_WIDE / max(heap.total for heap in heaps)
    found = []
    for heap in heaps:
        boards, x = [], 0.0
        for length, used in heap.boards:
            boards.append((round(x, 1), round(length * scale, 1), round(used * scale, 1)))
            x += length * scale
        words = f"{len(heap.boards)} of them, {rough_length(heap.total, units)} in all, {rough_length(heap.used, units)} used"
        found.append(HeapDrawn(heap.section, words, boards, round(x, 1)))
    return found


def headline(report: CuttingReport, units: Units, symbol: str) -> str:
    """What is sawn from what, what is left over, what it costs, and how long it takes."""
    plan = report.plan
    boards = len(plan.boards)
    words = f"{plan.cuts} cut{'s' if plan.cuts != 1 else ''} from {boards} board{'s' if boards != 1 else ''}"
    if plan.missing:
        left = sum(number for _, number in plan.missing)
        return f"{words}; {left} piece{'s' if left != 1 else ''} have no board yet."
    over = plan.kept + plan.waste
    bought = sum(buy.count for buy in plan.buy)
    if report.boards_cost > 0:
        cost = f"{report.boards_cost:,.2f}\u00a0{symbol} of wood and steel to buy".replace(",", " ")
    elif bought and plan.assumed:
        cost = f"{bought} to buy"
    else:
        cost = "nothing to buy" if not bought else f"{bought} to buy"
    return f"{words}, {_over(over, units)} left over; {cost}; {report.words}."


def _over(over: float, units: Units) -> str:
    return f"{over:.2f} m" if units == "metric" else rough_length(over, units)


@dataclass(frozen=True)
class TemplateDrawn:
    """The base plate's template in millimetres, y downward, with a margin for its words."""

    made: Template
    bolts: list[Circle]
    air: list[Circle]
    ring: float
    half: float
    edge: float
    size: float


def template_drawn(made: Template) -> TemplateDrawn:
    """The template as it is drawn: the north is up."""

    def down(circles: Sequence[Circle]) -> list[Circle]:
        return [Circle(round(one.x, 3), round(-one.y, 3), one.radius) for one in circles]

    half = made.side / 2
    edge = max(half, CHECK / 2 + 6) + 6
    return TemplateDrawn(made, down(made.bolts), down(made.air), made.circle / 2, half, edge, 2 * edge)
