"""From shaded cells to power: bypass blocks, half-cut panels, and how panels are wired together.

Panels in series share one current. With the blocks' currents, as shares of the unshaded one, sorted from high to low
i1 >= i2 >= ... >= iM, the best power is max over k of (k x i_k) / M: either the k best lit blocks run at the current of
the dimmest of them and the others are bypassed, or all run at the dimmest one's. Heat, the diodes' own 0.5 V and
the bend of the current-voltage curve are left out: a planning estimate.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from sundial.errors import BriefError

Floats = NDArray[np.float64]
WiringKind = Literal["series", "parallel", "own"]
VOLTAGES_PART = 0.05  # strings whose best voltages differ by more than this share pull each other down


def best_share(currents: Floats) -> Floats:
    """Best power of blocks in series as a share of the unshaded: ``currents`` (..., M) from 0 to 1, result (...)."""
    count = currents.shape[-1]
    ordered = np.sort(currents, axis=-1)[..., ::-1]
    best: Floats = (ordered * np.arange(1, count + 1)).max(axis=-1) / count
    return best


def conducting(currents: Floats) -> NDArray[np.int64]:
    """How many blocks carry current at that best point (...): the string's voltage is about that share of its full one."""
    count = currents.shape[-1]
    ordered = np.sort(currents, axis=-1)[..., ::-1]
    at: NDArray[np.int64] = (ordered * np.arange(1, count + 1)).argmax(axis=-1) + 1
    return at


@dataclass(frozen=True)
class Wiring:
    """Which panels share an input. "series": one string; "parallel": ``strings`` of panel numbers (from 1, lower row
    first, from the left as seen from the front), each at its best; "own": every panel has its own converter.

    Within a string the order is the path of the cable; the power follows from who is in it, not from the order.
    """

    kind: WiringKind = "series"
    strings: tuple[tuple[int, ...], ...] = ()

    def groups(self, count: int) -> list[list[int]]:
        """Panel indices (from 0) that share a current, for an array of ``count`` panels."""
        if self.kind == "own":
            return [[panel] for panel in range(count)]
        if not self.strings:
            return [list(range(count))]
        wired = [panel for string in self.strings for panel in string]
        for index, string in enumerate(self.strings):
            if not string:
                raise BriefError(f"wiring.strings[{index}]", "is empty: leave the string out")
            for panel in string:
                if not 1 <= panel <= count:
                    raise BriefError(f"wiring.strings[{index}]", f"names panel {panel}; the array has {count}")
        missing = sorted(set(range(1, count + 1)) - set(wired))
        if len(set(wired)) < len(wired):
            twice = next(panel for panel in wired if wired.count(panel) > 1)
            raise BriefError("wiring.strings", f"panel {twice} is wired twice")
        if missing:
            raise BriefError("wiring.strings", f"panel {missing[0]} is in no string")
        if self.kind == "series" and len(self.strings) > 1:
            raise BriefError("wiring.strings", 'one input holds one string: choose "parallel" for more')
        return [[panel - 1 for panel in string] for string in self.strings]


@dataclass(frozen=True, eq=False)
class Wired:
    """Strings as indices into an array's blocks: ``strings`` is a list of (M,) block indices."""

    strings: Sequence[NDArray[np.int64]]

    def share(self, blocks: Floats) -> Floats:
        """Power of the whole array as a share of the unshaded: ``blocks`` (..., B) currents, result (...)."""
        total = sum(len(string) for string in self.strings)
        power: Floats = np.zeros(blocks.shape[:-1])
        for string in self.strings:
            power += best_share(blocks[..., string]) * (len(string) / total)
        return power

    def parted(self, blocks: Floats) -> NDArray[np.bool_]:
        """Where strings in parallel want voltages that part by more than a twentieth (...)."""
        shares = np.stack([conducting(blocks[..., string]) / len(string) for string in self.strings], axis=-1)
        apart: NDArray[np.bool_] = (shares.max(axis=-1) - shares.min(axis=-1)) > VOLTAGES_PART
        return apart
