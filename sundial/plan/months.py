"""Exact plans for goals that judge whole months: the worst month, or a demand by month.

Each month becomes a table (from, moves, to): the most it can make starting from one tilt, ending at another, with at most so
many moves inside it. Twelve tables are chained around the year; the tilt at the end of the last month must be the one before
the first. A month holds at most ``WITHIN`` moves.

The circle is closed by branch and bound. Left open at one boundary between months, the year gives for every tilt that may
stand there an upper bound of what a closed year through it can make (a tilt may be one thing before the boundary and another
after it). The boundary with the sharpest bounds is chosen, its tilts are closed exactly one after another from the most
promising, and the search ends when no bound left is better than a closed year that was found. The days inside a
month are looked at only along the way that was chosen.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAYS, MONTH_STARTS, sum_by_month
from sundial.plan.stretches import NEVER, TiltSequence

WITHIN = 4
NEAR = 0.005
MONTHS = 12
TINY = 1e-9  # kWh: sums taken in another order may differ by as much
FEW = 60  # tilts
CACHED = 60_000  # numbers
CUTS = (0, 3, 9, 6)  # boundaries before these months are tried for closing the circle
Floats = NDArray[np.float64]
Join = Callable[..., Floats]
_Way = tuple[int, int, list[Floats]]  # boundary, tilt there, and values after each month from there
Known = dict[tuple[int, int, int, int], NDArray[np.int64]]  # tilts of a month's days between two ends


def worst_month_sequences(score: Floats, most: int, may_move: NDArray[np.bool_]) -> list[TiltSequence | None]:
    """For k = 1..``most``: a worst month within ``NEAR`` of the highest possible, and among those the most over the year.

    Without that margin the plan would chase a few dull days of one particular year and give up the summer for it.
    A plan's worst month is never under that of a plan with fewer settings.
    """
    tables = _month_tables(score, may_move)
    bottleneck = _Year(tables, np.minimum, np.inf)
    targets = bottleneck.best_by_moves(_moves(most))
    results: list[TiltSequence | None] = []
    best: TiltSequence | None = None
    reached = 2 * NEVER
    known: Known = {}
    for k in range(1, most + 1):
        target = targets[_moves(k)]
        if target > NEVER / 2:
            floor = max(target - abs(target) * NEAR, reached) - 1e-9
            high = [np.where(table >= floor, table, 2 * NEVER) for table in tables]
            best = _Year(high, np.add, 0.0).plan(score, _moves(k), may_move, known, _moves(k))
            if best is not None:
                reached = float(sum_by_month(score[np.arange(DAYS), best.by_day]).min())
        results.append(best)
    return results


def demand_sequences(score: Floats, demand: Floats, most: int, may_move: NDArray[np.bool_]) -> list[TiltSequence | None]:
    """For k = 1..``most``: the least unmet of ``demand`` (12,), and among equals the least waste.

    Moves within a month stand on their most productive days; the total of a sequence is minus the unmet energy
    (and a millionth of the waste).
    """
    tables = []
    for table, wanted in zip(_month_tables(score, may_move), demand, strict=True):
        value = -np.maximum(wanted - table, 0) - 1e-6 * np.maximum(table - wanted, 0)
        tables.append(np.where(table > NEVER / 2, value, 2 * NEVER))
    year, known = _Year(tables, np.add, 0.0), Known()
    return [year.plan(score, _moves(k), may_move, known, _moves(most)) for k in range(1, most + 1)]


def _moves(settings: int) -> int:
    """Moves in the circle that so many settings allow."""
    return settings if settings > 1 else 0


def _month_tables(score: Floats, may_move: NDArray[np.bool_]) -> list[Floats]:
    """Per month (from, moves, to): the most it can make."""
    tilts = score.shape[1]
    tables = []
    for month in range(MONTHS):
        value = np.full((tilts, WITHIN + 1, tilts), 2 * NEVER)
        value[np.arange(tilts), 0, np.arange(tilts)] = 0
        for day in range(MONTH_STARTS[month], MONTH_STARTS[month + 1]):
            if may_move[day]:
                np.maximum(value[:, 1:, :], value.max(axis=2)[:, :-1, None], out=value[:, 1:, :])
            value += score[day]
        tables.append(value)
    return tables


@dataclass(frozen=True, eq=False)
class _Year:
    """Twelve month tables (from, moves, to), chained by ``join`` from ``start``."""

    tables: Sequence[Floats]
    join: Join
    start: float

    @property
    def tilts(self) -> int:
        return len(self.tables[0])

    @cached_property
    def _searched(self) -> dict[int, tuple[Floats, list[_Way]]]:
        """Searches made, by the most moves."""
        return {}

    @cached_property
    def _by_inside(self) -> list[Floats]:
        """The tables as (moves, from, to), so that what is joined lies together."""
        return [np.ascontiguousarray(np.moveaxis(table, 1, 0)) for table in self.tables]

    def _through(self, value: Floats, month: int, backward: bool = False) -> Floats:
        """Values (moves + 1, tilts) carried through a month, forward or against the calendar."""
        table, count = self._by_inside[month], len(value)
        after = np.maximum(self.join(value, np.einsum("tt->t", table[0])[None, :]), 2 * NEVER)
        live = np.flatnonzero((value > NEVER / 2).any(axis=0))
        if not live.size:
            return after
        rows = value[:, None, live] if backward else value[:, live, None]
        group = max(1, CACHED // (self.tilts * len(live)))  # what is joined at once stays in the processor's cache
        shape = (self.tilts, len(live)) if backward else (len(live), self.tilts)
        buffer = np.empty((min(group, count), *shape))
        for inside in range(1, min(WITHIN, count - 1) + 1):
            ways = table[inside][:, live] if backward else table[inside][live]
            for start in range(0, count - inside, group):
                part = rows[start : min(start + group, count - inside)]
                offers = self.join(part, ways[None], out=buffer[: len(part)]).max(axis=2 if backward else 1)
                into = after[start + inside : start + inside + len(part)]
                np.maximum(into, offers, out=into)
        return after

    def _bounds(self, cut: int, moves: int) -> tuple[Floats, list[Floats]]:
        """Upper bounds (moves + 1, tilts) of closed years by the tilt at the boundary before month ``cut``; and of what can
        still be made after each number of months from there on, the end left open (13 of (moves + 1, tilts))."""
        free = np.full((moves + 1, self.tilts), self.start)
        onward, inward = [free], free
        for step in range(MONTHS):
            inward = self._through(inward, (cut + step) % MONTHS)
            onward.insert(0, self._through(onward[0], (cut - 1 - step) % MONTHS, backward=True))
        return np.minimum(onward[0], inward), onward

    def _close(self, cut: int, first: int, best: Floats, onward: list[Floats]) -> list[Floats]:
        """Values (moves + 1, tilts) after each month of the best years with tilt ``first`` at the boundary before month
        ``cut``, as far as they may come out above ``best`` (moves + 1,)."""
        value = np.full((len(best), self.tilts), 2 * NEVER)
        value[:, first] = self.start
        held = [value]
        for step in range(MONTHS):
            value = self._through(held[-1], (cut + step) % MONTHS)
            value[~self._promising(value, onward[step + 1], best)] = 2 * NEVER
            held.append(value)
        return held

    def _promising(self, value: Floats, onward: Floats, best: Floats) -> NDArray[np.bool_]:
        """States (moves + 1, tilts) from which some count of moves may still beat what is known."""
        found = np.zeros(value.shape, dtype=bool)
        for left in range(len(best)):
            rows = value[: len(best) - left]
            found[: len(rows)] |= self.join(rows, onward[left][None, :]) > best[left:, None] - TINY
        return found

    def best_by_moves(self, most: int) -> Floats:
        """The best closed value (moves + 1,) with at most 0..``most`` moves."""
        return self._search(most, range(most + 1))[0]

    def _search(self, moves: int, counts: Sequence[int]) -> tuple[Floats, list[_Way]]:
        """Best closed values (moves + 1,) for the ``counts`` of moves that are asked, and the way of each."""
        asked = np.zeros(moves + 1, dtype=bool)
        asked[list(counts)] = True
        best: Floats = np.where(asked, 2 * NEVER, np.inf)
        ways: list[_Way] = [(0, 0, [])] * (moves + 1)

        def close(cut: int, first: int) -> None:
            held = self._close(cut, first, best, bounds[cut][1])
            for count in np.flatnonzero(held[-1][:, first] > best):
                best[count], ways[count] = held[-1][count, first], (cut, first, held)

        def better(cut: int) -> NDArray[np.bool_]:
            return bounds[cut][0] > best[:, None]

        bounds: dict[int, tuple[Floats, list[Floats]]] = {}
        for cut in CUTS:
            bounds[cut] = self._bounds(cut, moves)
            for first in np.unique(bounds[cut][0][asked].argmax(axis=1)):  # a good year first: then most tilts fall away
                if better(cut)[:, first].any():
                    close(cut, int(first))
            if better(cut).any(axis=0).sum() <= FEW:
                break  # closing these takes less time than the bounds of one more boundary
        cut = min(bounds, key=lambda at: int(better(at).any(axis=0).sum()))
        gains = np.where(better(cut), bounds[cut][0] - np.where(asked, best, 0.0)[:, None], 0.0).max(axis=0)
        for first in np.argsort(-gains, kind="stable"):
            if better(cut)[:, first].any():
                close(cut, int(first))
        return best, ways

    def plan(self, score: Floats, moves: int, may_move: NDArray[np.bool_], known: Known, most: int) -> TiltSequence | None:
        """The best closed year with at most ``moves`` moves, its tilt on each day (365,); None where there is none.

        The search is made once for all counts up to ``most``, or for ``moves`` alone where they are the same.
        """
        if most not in self._searched:
            self._searched[most] = self._search(most, (moves,) if most == moves else range(most + 1))
        best, ways = self._searched[most]
        if best[moves] <= NEVER / 2:
            return None
        cut, last, held = ways[moves]
        count = moves
        by_day = np.empty(DAYS, dtype=np.int64)
        for step in range(MONTHS - 1, -1, -1):
            month = (cut + step) % MONTHS
            origin, inside = self._origin(held[step], month, count, last, float(held[step + 1][count, last]))
            way = (month, origin, inside, last)
            if way not in known:
                known[way] = _within(score, *way, may_move)
            by_day[MONTH_STARTS[month] : MONTH_STARTS[month + 1]] = known[way]
            count, last = count - inside, origin
        return TiltSequence(float(best[moves]), by_day)

    def _origin(self, before: Floats, month: int, count: int, to: int, value: float) -> tuple[int, int]:
        """The tilt and the fewest moves inside a month from which ``value`` at its end was reached."""
        for inside in range(min(WITHIN, count) + 1):
            offers = self.join(before[count - inside], self.tables[month][:, inside, to])
            if inside == 0:
                offers = np.where(np.arange(self.tilts) == to, offers, 2 * NEVER)
            if float(offers.max()) == value:
                return int(offers.argmax()), inside
        raise ArithmeticError("a chained value has no origin")


def _within(score: Floats, month: int, origin: int, moves: int, last: int, may_move: NDArray[np.bool_]) -> NDArray[np.int64]:
    """The tilt of each day of one month between two known ends."""
    tilts = score.shape[1]
    days = range(MONTH_STARTS[month], MONTH_STARTS[month + 1])
    value = np.full((WITHIN + 1, tilts), 2 * NEVER)
    value[0, origin] = 0
    history = []
    for day in days:
        better, source = np.zeros(value.shape, dtype=bool), value.argmax(axis=1)
        if may_move[day]:
            top = value.max(axis=1)
            better[1:] = top[:-1, None] > value[1:]
            np.maximum(value[1:], top[:-1, None], out=value[1:])
        history.append((better, source))
        value += score[day]
    held = np.empty(len(days), dtype=np.int64)
    tilt = last
    for place in range(len(days) - 1, -1, -1):
        held[place] = tilt
        better, source = history[place]
        if better[moves, tilt]:
            moves -= 1
            tilt = int(source[moves])
    return held
