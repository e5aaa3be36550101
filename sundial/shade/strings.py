"""From shaded cells to power: bypass blocks, half-cut panels, and how panels are wired together.

Panels in series share one current. With the blocks' currents, as shares of the unshaded one, sorted from high to low
i1 >= i2 >= ... >= iM, the best power is max over k of (k x i_k) / M: either the k best lit blocks run at the current of
the dimmest of them and the others are bypassed, or all run at the dimmest one's. Where the k currents lie close together
that asks too much: cells give up some voltage before they hold back the current. Their common current is then nearer
their mean,

    max(i_k, mean - KNEE variance / mean)    of i1 ... ik

which makes no difference to a block that is half in the dark, and much to one that sees a twentieth less of the sky. KNEE
is fitted to strings of single-diode sections under 400 random lots of light (docs/method.md). Heat and the diodes' own
0.5 V are left out: a planning estimate.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from numpy.typing import NDArray

from sundial.errors import BriefError

Floats = NDArray[Any]  # of any precision, which is kept
WiringKind = Literal["series", "parallel", "own"]
KNEE = 16.0
VOLTAGES_PART = 0.05  # strings whose best voltages differ by more than this share pull each other down


def best_share(currents: Floats) -> Floats:
    """Best power of blocks in series as a share of the unshaded: ``currents`` (..., M) from 0 to 1, result (...)."""
    return _powers(_falling(currents)).max(axis=-1)  # type: ignore[no-any-return]


def _falling(currents: Floats) -> Floats:
    """Sorted from high to low along the last axis."""
    return np.sort(currents, axis=-1)[..., ::-1]


def _powers(falling: Floats) -> Floats:
    """Power with 1 to M blocks carrying one current, the others bypassed (..., M), as shares of the unshaded."""
    count = np.arange(1, falling.shape[-1] + 1).astype(falling.dtype)
    mean = np.cumsum(falling, axis=-1) / count
    spread = np.cumsum(falling * falling, axis=-1) / count
    spread -= mean * mean
    spread *= KNEE
    np.divide(spread, mean, out=spread, where=mean > 1e-9)
    mean -= spread
    powers: Floats = np.maximum(falling, mean, out=mean)
    powers *= count / count[-1]
    return powers


@dataclass(frozen=True)
class Wiring:
    """Which panels share an input. "series": one string; "parallel": ``strings`` of panel numbers (from 1, lower row
    first, from the left as seen from the front), each at its best; "own": every panel has its own converter. ``unwired``: panel
    numbers that are on none of them.

    Within a string the order is the path of the cable; the power follows from who is in it, not from the order.
    """

    kind: WiringKind = "series"
    strings: tuple[tuple[int, ...], ...] = ()
    unwired: tuple[int, ...] = ()

    def groups(self, count: int) -> list[list[int]]:
        """Panel indices (from 0) that share a current, for an array of ``count`` panels. BriefError for numbers that contradict each other,
        or where no panel is left."""
        loose = set(self.unwired)
        for panel in self.unwired:
            if not 1 <= panel <= count:
                raise BriefError("wiring.unwired", f"names panel {panel}; the array has {count}")
        if len(loose) >= count:
            raise BriefError("wiring.unwired", "names every panel: at least one must be on a string")
        if self.kind == "own":
            return [[panel] for panel in range(count) if panel + 1 not in loose]
        if not self.strings:
            return [[panel for panel in range(count) if panel + 1 not in loose]]
        wired = [panel for string in self.strings for panel in string]
        for index, string in enumerate(self.strings):
            if not string:
                raise BriefError(f"wiring.strings[{index}]", "is empty: leave the string out")
            for panel in string:
                if not 1 <= panel <= count:
                    raise BriefError(f"wiring.strings[{index}]", f"names panel {panel}; the array has {count}")
        missing = sorted(set(range(1, count + 1)) - set(wired) - loose)
        if loose & set(wired):
            raise BriefError("wiring.unwired", f"names panel {min(loose & set(wired))}, which is on a string")
        if len(set(wired)) < len(wired):
            twice = next(panel for panel in wired if wired.count(panel) > 1)
            raise BriefError("wiring.strings", f"panel {twice} is wired twice")
        if missing:
            raise BriefError("wiring.strings", f"panel {missing[0]} is in no string")
        if self.kind == "series" and len(self.strings) > 1:
            raise BriefError("wiring.strings", 'one input holds one string: choose "parallel" for more')
        return [[panel - 1 for panel in string] for string in self.strings]


Shape = tuple[int, int]


def rewired(
    strings: Sequence[Sequence[int]], unwired: Sequence[int], was: Shape | None, now: Shape
) -> tuple[list[list[int]], list[int]]:
    """Strings and unwired panels of an array that had ``was`` rows and columns and has ``now``: panels keep their place from the lower left
    corner and their string, those that are gone leave it, those that came are on none. ``was`` None: as few rows were added or taken away
    as the numbers tell, else as few columns. Without told strings all panels are on one, and stay so."""
    count = now[0] * now[1]
    told = [panel for string in strings for panel in string]
    if not told:
        return [], sorted({panel for panel in unwired if panel <= count})
    if was is None:
        known = max(max(told), len(set(told) | set(unwired)))
        was = now if known % now[1] == 0 or known % now[0] else (now[0], known // now[0])

    def place(panel: int) -> int | None:
        row, column = divmod(panel - 1, was[1])
        return row * now[1] + column + 1 if row < now[0] and column < now[1] else None

    kept = [[at for panel in string if (at := place(panel)) is not None] for string in strings]
    kept = [string for string in kept if string]
    on = {panel for string in kept for panel in string}
    return (kept, sorted(set(range(1, count + 1)) - on)) if kept else ([], [])


@dataclass(frozen=True, eq=False)
class Wired:
    """Strings as indices into an array's blocks: ``strings`` is a list of (M,) block indices, B in all.

    Light that falls on a whole array adds to or scales the currents of all blocks alike, so their order stays: they are
    ``ranked`` once and asked about many hours.
    """

    strings: Sequence[NDArray[np.int64]]

    def ranked(self, blocks: Floats) -> Floats:
        """Currents of the blocks (..., B), string after string, in each from high to low (..., B)."""
        return np.concatenate([_falling(blocks[..., string]) for string in self.strings], axis=-1)

    def share(self, ranked: Floats) -> Floats:
        """Power of the whole array as a share of the unshaded, every string at its best: (..., B), result (...)."""
        power: Floats = np.zeros(ranked.shape[:-1])
        for string, powers in self._by_string(ranked):
            power += powers.max(axis=-1) * (len(string) / ranked.shape[-1])
        return power

    def parted(self, ranked: Floats) -> NDArray[np.bool_]:
        """Where strings in parallel want voltages that part by more than a twentieth (...): a string's voltage is about the
        share of its blocks that carry current at its best."""
        shares = [(powers.argmax(axis=-1) + 1) / len(string) for string, powers in self._by_string(ranked)]
        apart: NDArray[np.bool_] = np.ptp(np.stack(shares), axis=0) > VOLTAGES_PART
        return apart

    def _by_string(self, ranked: Floats) -> Iterator[tuple[NDArray[np.int64], Floats]]:
        start = 0
        for string in self.strings:
            yield string, _powers(ranked[..., start : start + len(string)])
            start += len(string)
