"""The cut plan: which piece comes off which board, in the order of sawing, what is left, and what is to be bought."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import product
from math import ceil, floor, prod

from sundial.cutting.cut_list import CutPiece, section_key
from sundial.cutting.joints import Splices, ways_to_join
from sundial.cutting.patterns import UNIT, USUAL, Effort, Kind, Problem, Solution, solve_all
from sundial.cutting.stock import Stock
from sundial.errors import BriefError
from sundial.quantities import Units, format_length

HAIR = 0.0005  # m: nobody saws that off
MOST_TOGETHER = 60  # ways of joining the pieces of one section that are all tried


@dataclass(frozen=True)
class Joining:
    """Where pieces longer than any board may be joined; ``overlap`` m of a joint over a support."""

    splices: Splices = "none"
    overlap: float = 0.0


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
    might still place at most. ``joined``: some pieces are spliced; ``all_joints``: every way
    of joining them was tried."""

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
    joined: bool = False
    all_joints: bool = True

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
    joining: Joining = Joining(),  # noqa: B008 - frozen
    units: Units = "metric",
    effort: Effort = USUAL,
) -> CutPlan:
    """Pieces from boards of their sections: cheapest, then least length opened. Pieces longer than any board are joined, those of one letter alike,
    by the way that gives the cheapest plan. BriefError for one that no way of ``joining`` makes."""
    ways = fitted(pieces, stock, allowance, joining, units)
    sections = list(dict.fromkeys(section_key(piece.section) for piece in pieces))
    whole, all_joints = _best_joined(ways, stock, kerf, allowance, effort)
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
        any(piece.parts for piece in whole), all_joints,
    )  # fmt: skip


def _best_joined(
    ways: Sequence[Sequence[CutPiece]], stock: dict[str, list[Stock]], kerf: float, allowance: float, effort: Effort
) -> tuple[list[CutPiece], bool]:
    """Each piece in the way that gives its section the cheapest plan, and whether all ways of all sections were tried."""
    chosen, complete = [choices[0] for choices in ways], True
    for key in dict.fromkeys(section_key(choices[0].section) for choices in ways):
        places = [place for place, choices in enumerate(ways) if section_key(choices[0].section) == key]
        open_places = [place for place in places if len(ways[place]) > 1]
        if not open_places:
            continue

        def worth(tried: Sequence[CutPiece]) -> tuple[int, int, float, int]:
            mine = [*tried, *(chosen[place] for place in places if place not in open_places)]  # noqa: B023 - used at once
            problem, _ = _problem(mine, stock[key], allowance)  # noqa: B023
            return solve_all((problem,), ceil(kerf / UNIT - 1e-6), effort)[0].worth

        together = prod(len(ways[place]) for place in open_places)
        if together <= MOST_TOGETHER:
            best: Sequence[CutPiece] = min(product(*(ways[place] for place in open_places)), key=worth)
        else:  # one letter after the other, the others as they are
            complete, best = False, [chosen[place] for place in open_places]
            for number, place in enumerate(open_places):
                tried = [[*best[:number], way, *best[number + 1 :]] for way in ways[place]]
                best = min(tried, key=worth)
        for place, piece in zip(open_places, best, strict=True):
            chosen[place] = piece
    return chosen, complete


def fitted(
    pieces: Sequence[CutPiece], stock: dict[str, list[Stock]], allowance: float, joining: Joining, units: Units
) -> list[list[CutPiece]]:
    """Every piece in all ways in which it can be cut: whole, or joined where it is longer than any board. BriefError where there is none."""
    found = []
    for piece in pieces:
        boards = [board.length for board in stock[section_key(piece.section)]]
        if piece.extent(allowance) <= max(boards) + 1e-9:
            found.append([piece])
            continue
        ways = ways_to_join(piece, boards, allowance, joining.splices, joining.overlap) if joining.splices != "none" else []
        if not ways:
            raise BriefError("stock", _too_long(piece, max(boards), allowance, joining, units))
        found.append([replace(piece, parts=parts) for parts in ways])
    return found


def _too_long(piece: CutPiece, longest: float, allowance: float, joining: Joining, units: Units) -> str:
    told = (
        f"the longest board of {piece.section} is {format_length(longest, units)}; {piece.name} {piece.letter} takes "
        f"{format_length(piece.extent(allowance), units)}: name a board of that length or longer"
    )
    if joining.splices == "over supports":
        places = ", ".join(format_length(place, units) for place in piece.supports)
        return f"{told}, or let joints lie anywhere: " + (
            f"none of its supports (at {places}) splits it into parts that a board holds"
            if places
            else "no support of it is known"
        )
    equal = ways_to_join(piece, [longest], allowance, "any", 0.0)[-1]
    return f"{told}, or splice it, of {len(equal)} pieces of about {format_length(piece.length / len(equal), units)}, the joints over a support"


def _sizes_of(piece: CutPiece, allowance: float) -> list[int]:
    """What each part of a piece takes of a board, units."""
    return [ceil(extent / UNIT - 1e-6) for extent in piece.extents(allowance)]


def _problem(
    pieces: Sequence[CutPiece], stock: Sequence[Stock], allowance: float
) -> tuple[Problem, list[list[tuple[CutPiece, int]]]]:
    """One section for the solver, and of each of its sizes the pieces and which part of them it is (-1: the whole)."""
    by_size: dict[int, list[tuple[CutPiece, int]]] = {}
    for piece in pieces:
        for part, size in enumerate(_sizes_of(piece, allowance)):
            by_size.setdefault(size, []).append((piece, part if piece.parts else -1))
    sizes = sorted(by_size, reverse=True)
    demand = tuple(sum(piece.count for piece, _ in by_size[size]) for size in sizes)
    kinds = tuple(Kind(floor(board.length / UNIT + 1e-6), board.count, board.price) for board in stock)
    return Problem(tuple(sizes), demand, kinds), [by_size[size] for size in sizes]


def _boards(
    pieces: Sequence[CutPiece],
    groups: Sequence[Sequence[tuple[CutPiece, int]]],
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
                extent = piece.extents(allowance)[max(part - 1, 0)]
                cuts.append(Cut(piece.letter, which, part, at, extent))
                at += extent + kerf
        one = stock[kind]
        rest = max(one.length - at, 0.0)
        boards.append(Board(names[one.section], one.length, one.price, one.count is None, tuple(cuts), rest))
    return boards


def _each(group: Sequence[tuple[CutPiece, int]]) -> list[tuple[CutPiece, int, int]]:
    """Pieces of one size, one by one: which of its letter, and which part of it (0: the whole)."""
    return [(piece, number, part + 1) for piece, part in group for number in range(1, piece.count + 1)]


def _missing(
    pieces: Sequence[CutPiece], groups: Sequence[Sequence[tuple[CutPiece, int]]], found: Solution
) -> list[tuple[str, int]]:
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
