"""Direct irradiance of an array's bypass sections behind obstacles, per direction of the sun; independent of weather.

A section is limited by its most shaded cell, a cell by the light that falls on all of it; the two halves of a half-cut
section add their currents. What is opaque covers places of a cell together; what lets light through (leaves, open fences)
dims the places of a cell that are left:

    (R, L, W) places in the dark  ->  (R, cells) light  ->  (R, B, halves) minimum over cells  ->  (R, B) mean of halves
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from sundial.shade.array_trace import LayerShadow, Stretches, SunTrace
from sundial.shade.cells import Bytes, CellGrid
from sundial.shade.rays import Floats

EVEN = 1e-6  # a section whose worst cell gets less than this under the mean of the glass is evenly lit
PIECE = 400_000  # bytes written out at a time: they stay close to the processor


@dataclass(frozen=True, eq=False)
class BlockIrradiance:
    """Direct irradiance in the R directions that any obstacle touches, in S groups of months with the same leaves.

    ``row`` (D,): row of each direction, -1 where nothing is in the way; ``state`` (12,): group of each month. As shares of the
    unobstructed direct light: ``mean`` over the glass (S, R); ``sections`` (S, R, B), their currents; ``patchy`` (S, R),
    whether it lies unevenly.
    """

    row: NDArray[np.int64]
    state: NDArray[np.int64]
    mean: Floats
    sections: NDArray[np.float32]
    patchy: NDArray[np.bool_]


def block_irradiance(
    sun: SunTrace, cells: CellGrid, without: frozenset[str] = frozenset(), whole: BlockIrradiance | None = None
) -> BlockIrradiance:
    """Direct irradiance of the sections from the shadows on their cells, ``without`` some obstacles (by name). ``whole``: the
    same with all of them, where it is known; only what they touch is then worked out again."""
    months, state = sun.states
    rows = _touched(sun.layers)
    row = np.full(sun.directions, -1)
    row[rows] = np.arange(len(rows))
    left = [layer for layer in sun.layers if layer.owner not in without]
    count = len(cells.order) * cells.sections
    if whole is None:
        mean, sections = np.ones((len(months), len(rows))), np.ones((len(months), len(rows), count), dtype=np.float32)
        changed = rows
    else:
        mean, sections = whole.mean.copy(), whole.sections.copy()
        changed = _touched([layer for layer in sun.layers if layer.owner in without])
        mean[:, row[changed]], sections[:, row[changed]] = 1.0, 1.0
        changed = changed[np.isin(changed, _touched(left), assume_unique=True)]
    for part in _pieces(changed, cells):
        for index, (light, worst) in enumerate(_lit(left, cells, part, months)):
            mean[index, row[part]], sections[index, row[part]] = light, worst
    return BlockIrradiance(row, state, mean, sections, mean - sections.min(axis=2, initial=1.0) > EVEN)


def coverage(layer: LayerShadow, cells: CellGrid) -> Floats:
    """Share of the glass that a layer's shadow covers in each of its ``rows`` (R,)."""
    rows = layer.rows
    found = np.zeros(len(rows))
    for part in _pieces(rows, cells):
        places = _written(layer.stretches, cells, part)
        found[np.searchsorted(rows, part)] = np.bitwise_count(places).mean(axis=(1, 2), dtype=float) / 8
    return found


def _touched(layers: list[LayerShadow] | tuple[LayerShadow, ...]) -> NDArray[np.int64]:
    return np.unique(np.concatenate([layer.rows for layer in layers])) if layers else np.zeros(0, dtype=np.int64)


def _pieces(rows: NDArray[np.int64], cells: CellGrid) -> Iterator[NDArray[np.int64]]:
    size = max(1, PIECE // (cells.groups * cells.lines.size * cells.row_bytes))
    for start in range(0, len(rows), size):
        yield rows[start : start + size]


def _written(stretches: tuple[Stretches, ...], cells: CellGrid, rows: NDArray[np.int64], into: Bytes | None = None) -> Bytes:
    """Places covered by any of some shadows in directions ``rows`` (n,), rising (n, G * L, W)."""
    lines = cells.groups * cells.lines.size
    found = np.zeros((len(rows), lines, cells.row_bytes), dtype=np.uint8) if into is None else into
    for each in stretches:
        mine, at = _shared(each.rows, rows)
        if mine.size:
            found[at] |= cells.written(each.first[mine], each.last[mine])
    return found


def _shared(theirs: NDArray[np.int64], rows: NDArray[np.int64]) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
    """Places in each of two rising arrays of what is in both."""
    start, end = np.searchsorted(theirs, [rows[0], rows[-1] + 1])
    at = np.searchsorted(rows, theirs[start:end])
    same = np.flatnonzero(rows[at] == theirs[start:end])
    return start + same, at[same]


def _lit(
    layers: list[LayerShadow], cells: CellGrid, rows: NDArray[np.int64], months: list[int]
) -> Iterator[tuple[Floats, Floats]]:
    """For each of some months the mean light (n,) and that of the sections (n, B) in directions ``rows``."""
    dark = np.zeros((len(rows), cells.groups * cells.lines.size, cells.row_bytes), dtype=np.uint8)
    for layer in layers:
        if layer.light.max() <= 0:
            _written(layer.stretches, cells, rows, dark)
    clear = np.invert(dark, out=dark)
    lit = cells.counted(clear)
    veils = []
    for layer in layers:
        if layer.light.max() > 0:
            at = _shared(layer.rows, rows)[1]
            if at.size:
                covered = cells.counted(_written(layer.stretches, cells, rows[at]) & clear[at])
                veils.append((layer.light, at, covered / np.maximum(lit[at], 1, dtype=np.float32)))
    for month in months:
        light: NDArray[Any] = lit
        for passes, at, share in veils:
            if passes[month] < 1:
                light = lit.astype(np.float32) if light is lit else light
                light[at] *= 1 - np.float32(1 - passes[month]) * share
        worst = cells.dimmest(light).mean(axis=2, dtype=float) / cells.places_of_cell
        yield light.reshape(len(rows), -1).sum(axis=1, dtype=float) / (light[0].size * cells.places_of_cell), worst
