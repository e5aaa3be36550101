"""The cut plan: which piece comes off which board, in the order of sawing, what is left, and what is to be bought."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import ceil, floor

from sundial.cutting.cut_list import CutPiece, section_key, spliced
from sundial.cutting.patterns import UNIT, USUAL, Effort, Kind, Problem, Solution, solve_all
from sundial.cutting.stock import Stock
from sundial.errors import BriefError
from sundial.quantities import Units, format_length

HAIR = 0.0005  # m: nobody saws that off


@dataclass(frozen=True)
class Cut:
    """One piece on its board: ``number`` tells those of one letter apart, ``part`` those that one spliced piece is made of; it begins
    ``start`` m from the board's first end and takes ``extent`` m of it."""

    letter: str
    number: int
    part: int
    start: float
    extent: float

    @property
    def key(self) -> str:
        """Its own name, for ticking it off."""
        return f"{self.letter}{self.number}" + (f".{self.part}" if self.part else "")


@dataclass(frozen=True)
class Board:
    """A board that is opened: ``cuts`` in the order of sawing, ``rest`` m at its end, ``bought`` or from what lies there."""

    section: str
    length: float
    price: float
    bought: bool
    cuts: tuple[Cut, ...]
    rest: float

    @property
    def strokes(self) -> int:
        """Of the saw: one after every piece, but for one that ends with its board."""
        last = self.cuts[-1]
        return len(self.cuts) - (self.length - last.start - last.extent < HAIR)


@dataclass(frozen=True)
class Buy:
    """Boards to buy."""

    section: str
    length: float
    count: int
    price: float


@dataclass(frozen=True)
class CutPlan:
    """``cost`` of what is bought or has a price; ``kept`` m of rests that are long enough to keep, ``waste`` m of all else that is no
    piece; ``gap``: share of the cost that a better plan might save at most, ``length_gap`` m that it might open less at this cost (None:
    not known). ``missing``: letters that no board is left for, and how many of each; ``missing_gap``: how many of these pieces a better plan
    might still place at most."""

    pieces: tuple[CutPiece, ...]
    boards: tuple[Board, ...]
    buy: tuple[Buy, ...]
    cost: float
    kept: float
    waste: float
    gap: float
    length_gap: float | None
    missing: tuple[tuple[str, int], ...]
    assumed: tuple[str, ...]
    missing_gap: int = 0

    @property
    def cuts(self) -> int:
        """Strokes of the saw on all boards."""
        return sum(board.strokes for board in self.boards)


def cut_plan(
    pieces: Sequence[CutPiece],
    stock: dict[str, list[Stock]],
    kerf: float,
    allowance: float,
    least_rest: float,
    splice: bool = False,
    units: Units = "metric",
    effort: Effort = USUAL,
) -> CutPlan:
    """Pieces from boards of their sections: cheapest, then least length opened. BriefError for a piece that is longer than any board
    where nothing is to be spliced."""
    whole = fitted(pieces, stock, allowance, splice, units)
    sections = list(dict.fromkeys(section_key(piece.section) for piece in whole))
    boards: list[Board] = []
    missing: list[tuple[str, int]] = []
    bound = price = 0.0
    length_gap: float | None = 0.0
    missing_gap = 0
    by_section = [[piece for piece in whole if section_key(piece.section) == key] for key in sections]
    sorted_out = [_problem(mine, stock[key], allowance) for mine, key in zip(by_section, sections, strict=True)]
    solved = solve_all(tuple(problem for problem, _ in sorted_out), ceil(kerf / UNIT - 1e-6), effort)
    for key, mine, (_, groups), found in zip(sections, by_section, sorted_out, solved, strict=True):
        boards += _boards(mine, groups, found, stock[key], kerf, allowance)
        missing += _missing(mine, groups, found)
        missing_gap += sum(found.missing) - found.missing_bound
        price, bound = price + found.price, bound + found.bound
        if found.length_bound is None or length_gap is None:
            length_gap = None
        else:
            length_gap += max(found.opened - found.length_bound, 0) * UNIT
    net = sum(cut.extent for board in boards for cut in board.cuts)
    kept = sum(board.rest for board in boards if board.rest >= least_rest - 1e-9)
    return CutPlan(
        tuple(whole), tuple(boards), tuple(_buys(boards)), price, kept, max(sum(board.length for board in boards) - net - kept, 0.0),
        max(price - bound, 0.0) / price if price > 0 else 0.0, length_gap, tuple(missing),
        tuple(dict.fromkeys(piece.section for piece in whole if stock[section_key(piece.section)][0].assumed)), missing_gap,
    )  # fmt: skip


def fitted(
    pieces: Sequence[CutPiece], stock: dict[str, list[Stock]], allowance: float, splice: bool, units: Units
) -> list[CutPiece]:
    """Pieces as they can be cut: longer than any board, and they are spliced or refused."""
    found = []
    for piece in pieces:
        longest = max(board.length for board in stock[section_key(piece.section)])
        if piece.extent(allowance) <= longest + 1e-9:
            found.append(piece)
        elif splice:
            found.append(spliced(piece, longest, allowance))
        else:
            made = spliced(piece, longest, allowance)
            raise BriefError(
                "stock",
                f"the longest board of {piece.section} is {format_length(longest, units)}; {piece.name} {piece.letter} takes "
                f"{format_length(piece.extent(allowance), units)}: name a board of that length or longer, or splice it of "
                f"{made.parts} pieces of {format_length(piece.length / made.parts, units)}, the joints over a support",
            )
    return found


def _size(piece: CutPiece, allowance: float) -> int:
    return ceil(piece.extent(allowance) / UNIT - 1e-6)


def _problem(pieces: Sequence[CutPiece], stock: Sequence[Stock], allowance: float) -> tuple[Problem, list[list[CutPiece]]]:
    """One section for the solver, and the pieces of each of its sizes."""
    by_size: dict[int, list[CutPiece]] = {}
    for piece in pieces:
        by_size.setdefault(_size(piece, allowance), []).append(piece)
    sizes = sorted(by_size, reverse=True)
    demand = tuple(sum(piece.count * piece.parts for piece in by_size[size]) for size in sizes)
    kinds = tuple(Kind(floor(board.length / UNIT + 1e-6), board.count, board.price) for board in stock)
    return Problem(tuple(sizes), demand, kinds), [by_size[size] for size in sizes]


def _boards(
    pieces: Sequence[CutPiece],
    groups: Sequence[Sequence[CutPiece]],
    found: Solution,
    stock: Sequence[Stock],
    kerf: float,
    allowance: float,
) -> list[Board]:
    """The solution with its pieces named: the longest are sawn first, so that a slip can still be mended from the rest."""
    waiting = [[*_each(group)] for group in groups]
    names = {section_key(piece.section): piece.section for piece in pieces}
    boards = []
    for kind, pattern in sorted(found.boards, key=lambda one: (stock[one[0]].count is None, -stock[one[0]].length, one[1])):
        at, cuts = 0.0, []
        for size, number in enumerate(pattern):
            for _ in range(number):
                piece, which, part = waiting[size].pop(0)
                cuts.append(Cut(piece.letter, which, part, at, piece.extent(allowance)))
                at += piece.extent(allowance) + kerf
        one = stock[kind]
        rest = max(one.length - at, 0.0)
        boards.append(Board(names[one.section], one.length, one.price, one.count is None, tuple(cuts), rest))
    return boards


def _each(group: Sequence[CutPiece]) -> list[tuple[CutPiece, int, int]]:
    return [
        (piece, number, part if piece.parts > 1 else 0)
        for piece in group
        for number in range(1, piece.count + 1)
        for part in range(1, piece.parts + 1)
    ]


def _missing(pieces: Sequence[CutPiece], groups: Sequence[Sequence[CutPiece]], found: Solution) -> list[tuple[str, int]]:
    """Those that no board is left for: the last of each size, which ``_boards`` has not taken."""
    short = []
    for group, number in zip(groups, found.missing, strict=True):
        left = _each(group)[len(_each(group)) - number :]
        letters = dict.fromkeys(piece.letter for piece, _, _ in left)
        short += [(letter, sum(piece.letter == letter for piece, _, _ in left)) for letter in letters]
    return short


def _buys(boards: Sequence[Board]) -> list[Buy]:
    found: dict[tuple[str, float], Buy] = {}
    for board in boards:
        if board.bought:
            key = (board.section, board.length)
            held = found.get(key, Buy(board.section, board.length, 0, board.price))
            found[key] = replace(held, count=held.count + 1)
    return list(found.values())
