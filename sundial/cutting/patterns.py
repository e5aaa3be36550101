"""One section cut from boards: a good plan at once, then the cheapest, and among these the one that opens least length.

The classic cutting-stock problem (Gilmore and Gomory 1961, doi 10.1287/opre.9.6.849) with boards of several lengths and prices,
some of them in limited number. All patterns are listed where they are few and the integer programme over them is solved to its
proof (scipy's ``milp``, HiGHS); where they are many, patterns are grown by their
dual prices, and what is then left open is told as a gap. Lengths are whole tenths of a millimetre, pieces rounded up.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from math import ceil

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import block_diag
from scipy.optimize import Bounds, LinearConstraint, linprog, milp

UNIT = 1e-4  # m
MOST_LOOKED_AT = 40_000  # fillings of a board, to list the patterns
LENGTH_PRICE = 1e-5  # money for a metre that is opened, where patterns are grown: never as much as a real price
CENT = 0.01  # prices are compared to it
SCALE = 1e3  # of the programme's costs, so that a millimetre is more than the solver's own tolerance
PROVED = 1e-5  # of scaled costs
UNPLACED = 1e6  # money for a metre that no board is left for
Pattern = tuple[int, ...]


@dataclass(frozen=True)
class Effort:
    """How much finding a plan may cost. It is counted and not timed, so that the same list has the same plan on every machine and at
    every hour: patterns that are ``listed`` (where there are more, they are grown), ``nodes`` of the solver's tree times cells of its
    table, and patterns that are ``grown`` times sizes."""

    listed: int
    nodes: int
    grown: int


AT_ONCE = Effort(300, 0, 100)  # about 0.1 s on a quiet core
USUAL = Effort(4000, 500_000, 4000)  # about 2 s
PATIENT = Effort(6000, 5_000_000, 40_000)  # about 20 s


@dataclass(frozen=True)
class Kind:
    """Boards of one ``length`` (units): ``count`` of them (None: any number), at ``price``."""

    length: int
    count: int | None
    price: float


@dataclass(frozen=True)
class Solution:
    """Boards that are opened, each the index of its kind and how many of every size are cut from it; ``missing`` of every size (no
    board is left for them). ``bound``: no plan is cheaper; ``length_bound`` units: none that costs the same opens less (None: not
    known). ``missing_bound``: no plan leaves fewer pieces without a board."""

    boards: tuple[tuple[int, Pattern], ...]
    missing: Pattern
    price: float
    opened: int
    bound: float
    length_bound: int | None
    short: int = 0
    missing_bound: int = 0

    @property
    def worth(self) -> tuple[int, int, float, int]:
        """Fewest pieces without a board, then fewest metres of them (``short`` units), then cheapest, then least opened."""
        return sum(self.missing), self.short, round(self.price, 6), self.opened


@dataclass(frozen=True)
class Problem:
    """``demand`` pieces of each of ``sizes`` (units, extents) from boards of ``kinds``; every size fits some kind."""

    sizes: tuple[int, ...]
    demand: tuple[int, ...]
    kinds: tuple[Kind, ...]


def solve(sizes: Sequence[int], demand: Sequence[int], kinds: Sequence[Kind], kerf: int, effort: Effort = USUAL) -> Solution:
    """The cheapest way to cut one section."""
    return solve_all((Problem(tuple(sizes), tuple(demand), tuple(kinds)),), kerf, effort)[0]


@lru_cache(maxsize=64)
def solve_all(problems: tuple[Problem, ...], kerf: int, effort: Effort = USUAL) -> tuple[Solution, ...]:
    """The cheapest way to cut each of some sections, in one programme where their patterns are few: calling the solver costs more than
    what it has to do for a short list."""
    listed = [_all_patterns(one.sizes, one.demand, one.kinds, kerf, effort.listed) for one in problems]
    firsts = [first_answer(one.sizes, one.demand, one.kinds, kerf) for one in problems]
    scarce = [number for number, first in enumerate(firsts) if any(first.missing)]
    short = [number for number, patterns in enumerate(listed) if patterns is not None and number not in scarce]
    found: dict[int, Solution] = {}
    if len(short) > 1:
        together = _listed([problems[number] for number in short], [listed[number] or [] for number in short], effort)
        found = dict(zip(short, together, strict=True)) if together else {}
    solved = []
    for number, one in enumerate(problems):
        first = firsts[number]
        if number in scarce:
            solved.append(_scarce(one, first, listed[number], kerf, effort))
            continue
        better = found.get(number) or _alone(one, listed[number], kerf, effort)
        if better is None:
            solved.append(first)
        elif better.worth <= first.worth:
            solved.append(better)
        else:
            solved.append(replace(first, bound=min(better.bound, first.price), length_bound=better.length_bound))
    return tuple(solved)


def _alone(one: Problem, patterns: list[tuple[int, Pattern]] | None, kerf: int, effort: Effort) -> Solution | None:
    if patterns is None:
        return _grown(one.sizes, one.demand, one.kinds, kerf, effort)
    found = _listed([one], [patterns], effort, proved=False)
    return found[0] if found else None


def first_answer(sizes: Sequence[int], demand: Sequence[int], kinds: Sequence[Kind], kerf: int) -> Solution:
    """The best of several first-fit plans: longest pieces first, boards on hand first, then one length for sale after the other;
    a bought board is at last changed for the cheapest that holds what is cut from it."""
    sold = [index for index, kind in enumerate(kinds) if kind.count is None]
    plans = [_first_fit(sizes, demand, kinds, kerf, choice) for choice in [*sold, None]]
    if any(plans[-1].missing):  # the boards run out: the shortest first leave the fewest pieces
        plans += [_first_fit(sizes, demand, kinds, kerf, choice, -1) for choice in [*sold, None]]
    return min(plans, key=lambda one: one.worth)


def _first_fit(
    sizes: Sequence[int], demand: Sequence[int], kinds: Sequence[Kind], kerf: int, choice: int | None, order: int = 1
) -> Solution:
    """``order`` 1: the longest first, -1: the shortest. ``choice``: the kind that is bought wherever it is long enough (None: the cheapest a metre)."""
    left = {index: kind.count for index, kind in enumerate(kinds) if kind.count is not None}
    on_hand = sorted(left, key=lambda index: (kinds[index].price, kinds[index].length))
    sold = sorted(
        (index for index, kind in enumerate(kinds) if kind.count is None),
        key=lambda index: (index != choice, kinds[index].price / kinds[index].length, -kinds[index].length),
    )
    open_boards: list[tuple[int, list[int], int]] = []  # kind, what is cut, units used with a kerf after each
    missing = [0] * len(sizes)
    for size in sorted(range(len(sizes)), key=lambda one: -order * sizes[one]):
        takes, at = sizes[size] + kerf, 0
        for _ in range(demand[size]):
            while at < len(open_boards) and open_boards[at][2] + takes > kinds[open_boards[at][0]].length + kerf:
                at += 1  # what had no room for one of this size has none for the next
            if at < len(open_boards):
                kind, cut, used = open_boards[at]
                cut[size] += 1
                open_boards[at] = (kind, cut, used + takes)
            else:
                fits = [kind for kind in on_hand if left[kind] and sizes[size] <= kinds[kind].length]
                fits += [kind for kind in sold if sizes[size] <= kinds[kind].length]
                if not fits:
                    missing[size] += 1
                    continue
                if fits[0] in left:
                    left[fits[0]] = (left[fits[0]] or 0) - 1
                cut = [0] * len(sizes)
                cut[size] = 1
                open_boards.append((fits[0], cut, takes))
    boards = []
    for kind, cut, used in open_boards:
        holds = [one for one in sold if kinds[one].length + kerf >= used] if kinds[kind].count is None else []
        cheapest = min(holds, key=lambda one: (kinds[one].price, kinds[one].length), default=kind)
        boards.append((cheapest, tuple(cut)))
    return _solution(boards, tuple(missing), kinds, 0.0, None, sizes)


def _solution(
    boards: Sequence[tuple[int, Pattern]],
    missing: Pattern,
    kinds: Sequence[Kind],
    bound: float,
    length_bound: int | None,
    sizes: Sequence[int],
) -> Solution:
    price = sum(kinds[kind].price for kind, _ in boards)
    short = sum(size * number for size, number in zip(sizes, missing, strict=True))
    opened = sum(kinds[kind].length for kind, _ in boards)
    return Solution(tuple(boards), missing, price, opened, min(bound, price), length_bound, short)


def _all_patterns(
    sizes: Sequence[int], demand: Sequence[int], kinds: Sequence[Kind], kerf: int, most_listed: int
) -> list[tuple[int, Pattern]] | None:
    """Every pattern to which no further piece can be added; None where there are too many."""
    found: list[tuple[int, Pattern]] = []
    order = sorted(range(len(sizes)), key=lambda one: -sizes[one])
    takes = [sizes[one] + kerf for one in order]
    most = [demand[one] for one in order]
    looked_at = 0
    for index, kind in enumerate(kinds):
        for cut in _fullest(takes, most, kind.length + kerf):
            looked_at += 1
            if len(found) >= most_listed or looked_at > MOST_LOOKED_AT:
                return None
            room = kind.length + kerf - sum(one * number for one, number in zip(takes, cut, strict=True))
            if not any(cut) or any(number < limit and one <= room for one, number, limit in zip(takes, cut, most, strict=True)):
                continue
            pattern = [0] * len(sizes)
            for place, number in zip(order, cut, strict=True):
                pattern[place] = number
            found.append((index, tuple(pattern)))
    return found


def _fullest(takes: Sequence[int], most: Sequence[int], room: int) -> Iterator[tuple[int, ...]]:
    """Every choice of numbers of all sizes but the last, with as many of the last as there is room for."""
    cut = [0] * len(takes)

    def grow(place: int, left: int) -> Iterator[tuple[int, ...]]:
        highest = min(most[place], left // takes[place])
        if place == len(takes) - 1:
            cut[place] = highest
            yield tuple(cut)
            return
        for number in range(highest, -1, -1):
            cut[place] = number
            yield from grow(place + 1, left - number * takes[place])

    return grow(0, room)


def _listed(
    problems: Sequence[Problem], listed: Sequence[list[tuple[int, Pattern]]], effort: Effort, proved: bool = True
) -> list[Solution] | None:
    """Exact over all patterns: the lowest price to the cent, and among these the least length, in one programme: a metre weighs so little
    that all of them together stay under half a cent. None where no answer was found within the work, or (``proved``) no proof."""
    most = sum(sum(one.demand) * max(kind.length for kind in one.kinds) for one in problems) * UNIT
    weight = 0.4 * CENT / most
    programmes = [_Programme(one.sizes, one.demand, one.kinds, patterns) for one, patterns in zip(problems, listed, strict=True)]
    costs = [
        programme.costs([(kind.price + weight * kind.length * UNIT) * SCALE for kind in programme.kinds])
        for programme in programmes
    ]
    found = _solve_together(programmes, np.concatenate(costs), effort)
    if found is None:
        return None
    chosen, bound = found
    whole = bound >= float(np.concatenate(costs) @ chosen) - PROVED
    if proved and not whole:
        return None
    at, solutions = 0, []
    for programme, each in zip(programmes, costs, strict=True):
        solution = programme.plan(chosen[at : at + len(each)], max(bound / SCALE - 0.4 * CENT, 0.0), None)
        solutions.append(replace(solution, bound=solution.price, length_bound=solution.opened) if whole else solution)
        at += len(each)
    return solutions


def _scarce(one: Problem, first: Solution, patterns: list[tuple[int, Pattern]] | None, kerf: int, effort: Effort) -> Solution:
    """Where the boards may run out: the fewest pieces without one, among these the fewest metres, the lowest price, the least length opened,
    one aim after the other with those before it held. Patterns that are many are grown by what a piece is worth."""
    whole = patterns is not None
    held, of_all = (patterns, 0.0) if patterns is not None else _grown_patterns(one, kerf, effort)
    programme = _Programme(one.sizes, one.demand, one.kinds, held)
    count, number = len(held), len(one.sizes)
    left = np.concatenate([np.zeros(count), np.ones(number)])
    metres = np.concatenate([np.zeros(count), np.array(one.sizes, dtype=float) * UNIT])
    most = sum(one.demand) * max(kind.length for kind in one.kinds) * UNIT
    price = np.concatenate(
        [
            [(one.kinds[kind].price + 0.4 * CENT / most * one.kinds[kind].length * UNIT) * SCALE for kind, _ in held],
            np.zeros(number),
        ]
    )
    rules: list[LinearConstraint] = []
    chosen, fewest, proved = None, 0, True
    for aim, slack in ((left, 0.5), (metres, UNIT / 2), (price, 0.0)):
        found = _solve_together([programme], aim, effort, more=rules)
        if found is None:
            proved = False
            break
        chosen, bound = found
        reached = float(aim @ chosen)
        proved = proved and bound >= reached - max(PROVED, slack)
        if aim is left:
            fewest = ceil(bound - 1e-6)
        rules.append(LinearConstraint(aim[None, :], -np.inf, reached + slack))
    if chosen is None:
        return first
    made = programme.plan(chosen, 0.0, None)
    if proved and whole:
        made = replace(made, bound=made.price, length_bound=made.opened)
    elif not whole:
        fewest = max(
            ceil(of_all - 1e-6), _left_by_length(one, kerf)
        )  # the programme counts with the patterns that were grown: others might place more
    return replace(min(made, first, key=lambda plan: plan.worth), missing_bound=min(fewest, sum(made.missing)))


def _left_by_length(one: Problem, kerf: int) -> int:
    """Pieces that have no board however they are cut, by the length of all boards alone: the shortest go first. Sizes that a board for sale
    holds always have one."""
    limited = [
        size
        for size in range(len(one.sizes))
        if all(kind.count is not None for kind in one.kinds if kind.length >= one.sizes[size])
    ]
    room = sum((kind.length + kerf) * (kind.count or 0) for kind in one.kinds)
    left = 0
    for size in sorted(limited, key=lambda each: one.sizes[each]):
        placed = min(one.demand[size], room // (one.sizes[size] + kerf))
        room -= placed * (one.sizes[size] + kerf)
        left += one.demand[size] - placed
    return left


def _grown_patterns(one: Problem, kerf: int, effort: Effort) -> tuple[list[tuple[int, Pattern]], float]:
    """Patterns that are worth opening where every piece without a board counts alike and a board costs nothing; and how many pieces any
    plan leaves at least (0 where the work ran out)."""
    sizes, demand, kinds = one.sizes, one.demand, one.kinds
    patterns = list(dict.fromkeys(first_answer(sizes, demand, kinds, kerf).boards))
    for size in range(len(sizes)):
        for index, kind in enumerate(kinds):
            number = min(demand[size], (kind.length + kerf) // (sizes[size] + kerf))
            if number:
                patterns.append((index, tuple(number if each == size else 0 for each in range(len(sizes)))))
    bound = 0.0
    for _ in range(max(effort.grown // (len(kinds) * len(sizes)), 1)):
        programme = _Programme(sizes, demand, kinds, patterns)
        relaxed = programme.relaxed(np.concatenate([np.zeros(len(patterns)), np.ones(len(sizes))]))
        if relaxed is None:
            break
        least, duals, limits = relaxed
        added = []
        for index, kind in enumerate(kinds):
            worth, pattern = _knapsack(sizes, demand, duals, kind.length + kerf, kerf)
            if worth > limits[index] + 1e-9 and (index, pattern) not in patterns:
                added.append((index, pattern))
        if not added:
            bound = least
            break
        patterns += added
    return patterns, bound


def _grown(sizes: Sequence[int], demand: Sequence[int], kinds: Sequence[Kind], kerf: int, effort: Effort) -> Solution | None:
    """Patterns grown by dual prices; then the integer programme over those that were found."""
    patterns = [(index, cut) for index, cut in first_answer(sizes, demand, kinds, kerf).boards]
    patterns = list(dict.fromkeys(patterns))
    for size in range(len(sizes)):  # every size alone, so that the first programme has a solution
        for index, kind in enumerate(kinds):
            number = min(demand[size], (kind.length + kerf) // (sizes[size] + kerf))
            if number:
                patterns.append((index, tuple(number if one == size else 0 for one in range(len(sizes)))))
    rate = LENGTH_PRICE if any(kind.price for kind in kinds) else 1.0
    each = [kind.price + rate * kind.length * UNIT for kind in kinds]
    bound = 0.0
    for _ in range(max(effort.grown // (len(kinds) * len(sizes)), 1)):
        programme = _Programme(sizes, demand, kinds, patterns)
        relaxed = programme.relaxed(programme.costs(each))
        if relaxed is None:
            return None
        bound, duals, limits = relaxed
        added = []
        for index, kind in enumerate(kinds):
            worth, pattern = _knapsack(sizes, demand, duals, kind.length + kerf, kerf)
            if worth > each[index] + limits[index] + 1e-9 and (index, pattern) not in patterns:
                added.append((index, pattern))
        if not added:
            break
        patterns += added
    else:
        bound = 0.0
    programme = _Programme(sizes, demand, kinds, patterns)
    solved = _solve_together([programme], programme.costs(each), effort, gap=1e-4)
    if solved is None:
        return None
    return programme.plan(solved[0], bound if rate == LENGTH_PRICE else 0.0, round(bound / UNIT) if rate == 1.0 else None)


def _knapsack(
    sizes: Sequence[int], demand: Sequence[int], values: NDArray[np.float64], room: int, kerf: int
) -> tuple[float, Pattern]:
    """The pattern of most value in ``room`` units, by dynamic programming over every length."""
    best = np.zeros(room + 1)
    steps: list[tuple[int, int, NDArray[np.bool_]]] = []
    for size, value in enumerate(values):
        takes, left, bundle = sizes[size] + kerf, min(demand[size], room // (sizes[size] + kerf)), 1
        while left > 0 and value > 1e-12:
            number = min(bundle, left)
            weight = number * takes
            if weight <= room:
                with_it = best[: room + 1 - weight] + number * value
                better = np.zeros(room + 1, dtype=bool)
                better[weight:] = with_it > best[weight:] + 1e-12
                best[weight:] = np.where(better[weight:], with_it, best[weight:])
                steps.append((size, number, better))
            left, bundle = left - number, bundle * 2
    at, cut = int(best.argmax()), [0] * len(sizes)
    worth = float(best[at])
    for size, number, better in reversed(steps):
        if better[at]:
            cut[size] += number
            at -= number * (sizes[size] + kerf)
    return worth, tuple(cut)


class _Programme:
    """The integer programme over given patterns: enough of every size, no more boards of a kind than there are; a size may stay
    unplaced only where every kind that holds it is limited."""

    def __init__(
        self, sizes: Sequence[int], demand: Sequence[int], kinds: Sequence[Kind], patterns: Sequence[tuple[int, Pattern]]
    ) -> None:
        self.sizes, self.demand, self.kinds, self.patterns = sizes, demand, kinds, patterns
        cuts = np.array([cut for _, cut in patterns], dtype=float).T
        of_kind = np.array([[index == number for index, _ in patterns] for number in range(len(kinds))], dtype=float)
        short = [all(kind.count is not None for kind in kinds if kind.length >= size) for size in sizes]
        slack = np.diag(np.array(short, dtype=float))
        self.enough = np.hstack([cuts, slack])
        self.limited = np.hstack([of_kind, np.zeros((len(kinds), len(sizes)))])
        self.most = np.array([np.inf if kind.count is None else kind.count for kind in kinds])
        self.slack_cost = np.array([UNPLACED * size * UNIT if one else 0.0 for size, one in zip(sizes, short, strict=True)])

    def costs(self, each: Sequence[float]) -> NDArray[np.float64]:
        return np.concatenate([np.array([each[index] for index, _ in self.patterns]), self.slack_cost])

    def relaxed(self, costs: NDArray[np.float64]) -> tuple[float, NDArray[np.float64], NDArray[np.float64]] | None:
        """Optimum of the linear programme, worth of one more of every size, and of one more board of every kind."""
        bounded = np.isfinite(self.most)
        table = np.vstack([-self.enough, self.limited[bounded]])
        right = np.concatenate([-np.array(self.demand, dtype=float), self.most[bounded]])
        found = linprog(costs, A_ub=table, b_ub=right, bounds=(0, None), method="highs")
        if found.status != 0:
            return None
        marginals = -np.asarray(found.ineqlin.marginals)
        limits = np.zeros(len(self.kinds))
        limits[bounded] = marginals[len(self.sizes) :]
        return float(found.fun), marginals[: len(self.sizes)], limits

    def plan(self, chosen: NDArray[np.float64], bound: float, length_bound: int | None) -> Solution:
        """Boards from numbers of patterns; pieces cut beyond the demand are left uncut, and boards left whole are not opened."""
        wanted = list(self.demand)
        boards = []
        numbers = chosen[: len(self.patterns)].astype(int)
        for (index, cut), number in zip(self.patterns, numbers, strict=True):
            for _ in range(number):
                taken = tuple(min(one, left) for one, left in zip(cut, wanted, strict=True))
                wanted = [left - one for one, left in zip(taken, wanted, strict=True)]
                if any(taken):
                    boards.append((index, taken))
        return _solution(boards, tuple(wanted), self.kinds, bound, length_bound, self.sizes)


def _solve_together(
    programmes: Sequence[_Programme],
    costs: NDArray[np.float64],
    effort: Effort,
    gap: float = 0.0,
    more: Sequence[LinearConstraint] = (),
) -> tuple[NDArray[np.float64], float] | None:
    """Numbers of every pattern of some programmes that have nothing to do with each other, and a lower bound of all costs; None where
    none was found within the work. ``more``: further rules."""
    enough = block_diag(*(one.enough for one in programmes))
    limited = block_diag(*(one.limited for one in programmes))
    demand = np.concatenate([np.array(one.demand, dtype=float) for one in programmes])
    most = np.concatenate([one.most for one in programmes])
    rules = LinearConstraint(
        np.vstack([enough, limited]),
        np.concatenate([demand, np.full(len(most), -np.inf)]),
        np.concatenate([np.full(len(demand), np.inf), most]),
    )
    nodes = max(effort.nodes // (len(costs) * len(demand)), 1)
    options = {"node_limit": nodes, "mip_rel_gap": gap}
    found = milp(costs, constraints=[rules, *more], integrality=np.ones(len(costs)), bounds=Bounds(0, np.inf), options=options)
    if found.x is None:
        return None
    bound = found.mip_dual_bound if found.mip_dual_bound is not None else 0.0
    return np.round(found.x), float(bound)
