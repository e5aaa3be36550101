"""From an old wiring to one within the limits with the fewest changed plugs.

Old strings fall into fragments wherever a joint is opened; new strings are fragments put end to end. A joint that is opened and a joint
that is made are one changed plug each. The number of fragments is least in the integer programme: z(i, s) fragments of s panels out of old
string i, y(j, s) of them into new string j; the sizes in each old string add up to its panels, those in each new one to the panels it is to
have, and as many fragments of each size are put in as come out. Exact, by scipy's ``milp``.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.optimize import Bounds, LinearConstraint, milp

from sundial.errors import BriefError

MOST_PANELS = 40


@dataclass(frozen=True)
class Restrung:
    """``strings`` of panel numbers in the order of the cable; joints that are ``opened`` and ``made``, each from a panel's minus to the
    next one's plus."""

    strings: tuple[tuple[int, ...], ...]
    opened: tuple[tuple[int, int], ...]
    made: tuple[tuple[int, int], ...]

    @property
    def changed(self) -> int:
        return len(self.opened) + len(self.made)


def restring(old: Sequence[Sequence[int]], panels: Sequence[int], sizes: Sequence[int]) -> Restrung:
    """The wiring of ``panels`` into strings of ``sizes`` that changes the fewest plugs of the ``old`` one; panels that are in no old string
    are new. BriefError where the sizes do not add up."""
    if len(panels) > MOST_PANELS:
        raise BriefError("wiring.strings", f"{len(panels)} panels: fewest changed plugs are worked out for up to {MOST_PANELS}")
    if sum(sizes) != len(panels) or not sizes or min(sizes) < 1:
        raise BriefError("wiring.strings", f"strings of {', '.join(map(str, sizes))} do not hold {len(panels)} panels")
    wanted = set(panels)
    paths = [part for string in old for part in _runs(string, wanted)]
    known = {panel for path in paths for panel in path}
    paths += [[panel] for panel in panels if panel not in known]
    cut, put = _fragments([len(path) for path in paths], list(sizes))
    return _wired(old, paths, cut, put)


def _runs(string: Sequence[int], wanted: set[int]) -> list[list[int]]:
    """An old string without panels that are gone: what still hangs together of it."""
    runs: list[list[int]] = [[]]
    for panel in string:
        if panel in wanted:
            runs[-1].append(panel)
        elif runs[-1]:
            runs.append([])
    return [run for run in runs if run]


def _fragments(lengths: Sequence[int], sizes: Sequence[int]) -> tuple[list[dict[int, int]], list[dict[int, int]]]:
    """How many fragments of each size come out of every old path, and go into every new string."""
    longest = min(max(lengths), max(sizes))
    count, each = len(lengths), range(1, longest + 1)
    columns = (count + len(sizes)) * longest
    row, target = [], []
    for place, length in enumerate((*lengths, *sizes)):
        line = np.zeros(columns)
        line[place * longest : (place + 1) * longest] = each
        row.append(line)
        target.append(length)
    for size in range(longest):
        line = np.zeros(columns)
        line[size : count * longest : longest] = 1
        line[count * longest + size :: longest] = -1
        row.append(line)
        target.append(0)
    costs = np.concatenate([np.ones(count * longest), np.zeros(len(sizes) * longest)])
    found = milp(
        costs, constraints=[LinearConstraint(np.array(row), target, target)], integrality=np.ones(columns), bounds=Bounds(0, np.inf),
        options={"time_limit": 5.0, "mip_rel_gap": 0.0},
    )  # fmt: skip
    if found.x is None or found.status != 0:
        raise BriefError("wiring.strings", "no wiring of these strings was found in time")
    numbers = np.round(found.x).astype(int).reshape(-1, longest)
    told = [{size: int(one) for size, one in zip(each, line, strict=True) if one} for line in numbers]
    return told[:count], told[count:]


def _wired(
    old: Sequence[Sequence[int]], paths: Sequence[Sequence[int]], cut: Sequence[dict[int, int]], put: Sequence[dict[int, int]]
) -> Restrung:
    ready: dict[int, list[list[int]]] = {}
    for path, sizes in zip(paths, cut, strict=True):
        at = 0
        for size in sorted(sizes, reverse=True):
            for _ in range(sizes[size]):
                ready.setdefault(size, []).append(list(path[at : at + size]))
                at += size
    strings = []
    for sizes in put:
        taken = [ready[size].pop(0) for size in sorted(sizes, reverse=True) for _ in range(sizes[size])]
        taken.sort(key=lambda fragment: fragment[0])
        strings.append(tuple(panel for fragment in taken for panel in fragment))
    before = {joint for string in old for joint in zip(string, string[1:], strict=False)}
    after = {joint for string in strings for joint in zip(string, string[1:], strict=False)}
    return Restrung(tuple(strings), tuple(sorted(before - after)), tuple(sorted(after - before)))
