"""The cells on an array's glass, and shadows on them to a fraction of a cell.

Every cell is looked at along lines that run across its panel, 4 (half-cut cells) or 8 of them, and at 8 places on each. A
shadow covers one stretch of a line, which is kept as the first place it covers and the first beyond it; written out, the 8
places of a cell on a line are one byte::

    lines (L,)     panel lengthwise > half > cell > line of the cell
    places         panel across > cell > place, eight places in a byte: W bytes a line

Panels are butted with their gaps; cells reach to the edge of the glass. A section is two cells wide.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Bytes = NDArray[np.uint8]
Places = NDArray[np.unsignedinteger]
PLACES = 8  # looked at across a cell
WIDE = 2  # cells across a section


@dataclass(frozen=True, eq=False)
class CellGrid:
    """Cells of the traced panels of one group of the array; all ``groups`` are alike.

    ``across`` (A,) and ``lengthwise`` (N,): where the panels begin, m; ``width`` and ``length`` of a panel, m; ``sections`` of
    each with ``halves`` (1 or 2). ``order`` (G * N * A,): sorts panels, group by group and row by row of the grid, by their
    number.
    """

    across: Floats
    lengthwise: Floats
    width: float
    length: float
    sections: int
    halves: int
    groups: int
    order: NDArray[np.int64]

    @cached_property
    def cells(self) -> int:
        """Cells one after another along a section, or along each half of it: as many as make them square (half as long in
        half-cut panels), at most 24."""
        return int(np.clip(round(self.length / (self.width / self.sections / WIDE)), 2, 24))

    @property
    def depth(self) -> int:
        """Lines along a cell: as far apart as the places on them."""
        return PLACES // self.halves

    @cached_property
    def lines(self) -> NDArray[np.float32]:
        """Offsets of the lines (depth, L / depth), lengthwise, m: line by line of each cell."""
        cells = self.halves * self.cells
        one = (np.arange(cells * self.depth) + 0.5) / (cells * self.depth) * self.length
        return np.ascontiguousarray((self.lengthwise[:, None] + one).reshape(-1, self.depth).T, dtype=np.float32)

    @property
    def reach(self) -> tuple[tuple[float, float], tuple[float, float]]:
        """Where the glass begins and ends along the lines, and from line to line, m."""
        return (
            (float(self.across[0]), float(self.across[-1]) + self.width),
            (float(self.lengthwise[0]), float(self.lengthwise[-1]) + self.length),
        )

    @property
    def row_bytes(self) -> int:
        """Bytes of a line written out, W."""
        return len(self.across) * self.sections * WIDE

    @cached_property
    def _pitch(self) -> float | None:
        """From one panel across to the next, m; None where not all of them are traced."""
        steps = np.diff(self.across)
        if not steps.size:
            return self.width
        return float(steps[0]) if np.ptp(steps) < 1e-9 else None

    def places(self, reach: NDArray[np.float32]) -> Places:
        """Number of places across that lie before ``reach`` m."""
        each, panels = self.sections * WIDE * PLACES, len(self.across)
        if self._pitch is None:
            knots = np.stack([self.across, self.across + self.width], axis=1).ravel()
            count = (np.arange(panels)[:, None] * each + np.array([0, each])).ravel()
            before = np.interp(reach, knots, count)
        else:
            before = (reach - np.float32(self.across[0])) * np.float32(1 / self._pitch)
            np.clip(before, 0, panels, out=before)
            panel = np.minimum(np.floor(before), np.float32(panels - 1))
            before -= panel
            before *= np.float32(self._pitch / self.width * each)
            np.minimum(before, np.float32(each), out=before)
            before += panel * np.float32(each)
        return np.asarray(np.rint(before), dtype=np.uint16 if panels * each > 255 else np.uint8)

    def written(self, first: Places, last: Places) -> Bytes:
        """Stretches (...) written out, a bit a place (..., W)."""
        table = _places_before(self.row_bytes)
        return np.asarray(table[last] & ~table[first])

    def counted(self, places: Bytes) -> Bytes:
        """Places of each cell (n, G * N * halves * cells, W) in lines written out (n, G * L, W), at most 64."""
        each = np.bitwise_count(places).reshape(len(places), -1, self.depth, self.row_bytes)
        total = each[:, :, 0].copy()
        for line in range(1, self.depth):
            total += each[:, :, line]
        return total

    @property
    def places_of_cell(self) -> int:
        return PLACES * self.depth

    def dimmest(self, cells: NDArray[np.generic]) -> NDArray[np.generic]:
        """Minimum of values (n, G * N * halves * cells, W) over the cells of each half of a section (n, B, halves), panel by
        panel."""
        along = cells.reshape(len(cells), -1, self.cells, self.row_bytes)
        least = along.min(axis=2).reshape(len(cells), -1, self.halves, len(self.across), self.sections, WIDE)
        pair = np.minimum(least[..., 0], least[..., 1])  # (n, G * N, halves, A, sections)
        panels = np.moveaxis(pair, 2, 4).reshape(len(cells), len(self.order), self.sections, self.halves)
        return np.asarray(panels[:, self.order].reshape(len(cells), -1, self.halves))


@lru_cache(maxsize=8)
def _places_before(row_bytes: int) -> Bytes:
    """Row n: the first n places of a line are set (8 W + 1, W)."""
    before = np.arange(8 * row_bytes + 1)[:, None] - 8 * np.arange(row_bytes)
    return np.asarray((1 << np.clip(before, 0, 8)) - 1, dtype=np.uint8)
