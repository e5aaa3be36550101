"""Timings of the saw plan: a first answer, its proof, and a long list, against the textbook model given to the same solver."""

from __future__ import annotations

import time

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp

from sundial.cutting.patterns import Kind, first_answer, solve

KINDS = [Kind(36000, 2, 0.0), Kind(36000, None, 9.9), Kind(48000, None, 14.5), Kind(60000, None, 17.2)]
KERF = 30
Row = tuple[str, str, str, str]


def textbook(sizes: list[int], demand: list[int], seconds: float) -> float | None:
    """The price by a board variable for each board and one for each size on it (Kantorovich 1960); None where it finds no proof in time."""
    pieces = sum(demand)
    boards = [(index, kind) for index, kind in enumerate(KINDS) for _ in range(kind.count if kind.count is not None else pieces)]
    wide = len(boards) * (1 + len(sizes))
    costs = np.zeros(wide)
    costs[: len(boards)] = [kind.price for _, kind in boards]
    rows, low, high = [], [], []
    for number, (_, kind) in enumerate(boards):
        row = np.zeros(wide)
        row[number] = -(kind.length + KERF)
        row[len(boards) + number * len(sizes) : len(boards) + (number + 1) * len(sizes)] = [size + KERF for size in sizes]
        rows.append(row)
        low.append(-np.inf)
        high.append(0.0)
    for size, number in enumerate(demand):
        row = np.zeros(wide)
        row[len(boards) + size :: len(sizes)] = 1
        rows.append(row)
        low.append(number)
        high.append(np.inf)
    found = milp(
        costs, constraints=[LinearConstraint(np.array(rows), low, high)], integrality=np.ones(wide),
        bounds=Bounds(0, np.concatenate([np.ones(len(boards)), np.full(wide - len(boards), np.inf)])),
        options={"time_limit": seconds, "mip_rel_gap": 0.0},
    )  # fmt: skip
    return float(found.fun) if found.status == 0 and found.fun is not None else None


def cutting_rows() -> list[Row]:
    """60 pieces in five sections, and 500 pieces of twelve lengths."""
    draw = np.random.default_rng(11)
    sections = [([int(draw.integers(3000, 24001)) for _ in range(4)], [3, 3, 3, 3]) for _ in range(5)]
    start = time.perf_counter()
    for sizes, demand in sections:
        first_answer(sizes, demand, KINDS, KERF)
    first = time.perf_counter() - start
    start = time.perf_counter()
    ours = [solve(sizes, demand, KINDS, KERF) for sizes, demand in sections]
    proved = time.perf_counter() - start
    start = time.perf_counter()
    theirs = [textbook(sizes, demand, 4.0) for sizes, demand in sections]
    slow = time.perf_counter() - start
    solved = sum(price is not None for price in theirs)
    same = all(price is None or abs(price - one.price) < 1e-4 for price, one in zip(theirs, ours, strict=True))
    whole = all(one.price - one.bound < 1e-4 and one.length_bound == one.opened for one in ours)
    sizes = [int(draw.integers(3000, 24001)) for _ in range(12)]
    demand = [42] * 8 + [41] * 4
    start = time.perf_counter()
    long = solve(sizes, demand, KINDS, KERF)
    took = time.perf_counter() - start
    plain = first_answer(sizes, demand, KINDS, KERF)
    return [
        (
            "60 pieces in 5 sections by the textbook model, same solver, 4 s a section",
            f"{slow:.2f} s",
            f"{solved} of 5 proved, {'prices agree' if same else 'PRICES DIFFER'}",
            "",
        ),
        ("a first saw plan of the same", f"{first * 1000:.1f} ms", f"{slow / first:.0f} times faster, not proved", "100 ms"),
        (
            "the same, cheapest and shortest proved",
            f"{proved:.2f} s",
            f"{slow / proved:.0f} times faster, {'all proved' if whole else 'NOT ALL PROVED'}",
            "under 2 s",
        ),
        (
            "500 pieces of 12 lengths",
            f"{took:.2f} s",
            f"within {(long.price - long.bound) / long.price * 100:.2f} %, first fit {(plain.price / long.price - 1) * 100:.1f} % dearer",
            "within 1 %, under 1 s",
        ),
    ]
