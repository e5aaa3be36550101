"""A day of a series as one small block: what is stored, merged and read again."""

from __future__ import annotations

import zlib
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
DAY = 86400
SAME = 0.05  # W: the same value, written twice


@dataclass(frozen=True, eq=False)
class DayBlock:
    """Seconds of a UTC day (n,), rising, and the power at each (n,), W; ``day`` counts from 1970."""

    day: int
    seconds: NDArray[np.uint32]
    power: NDArray[np.float32]

    @property
    def unix(self) -> Floats:
        return np.asarray(self.day * float(DAY) + self.seconds, dtype=np.float64)

    def packed(self) -> bytes:
        """Deflated, times as steps: a day by five minutes takes half a kilobyte to one."""
        steps = np.diff(self.seconds, prepend=np.uint32(0)).astype("<u4")
        return zlib.compress(steps.tobytes() + self.power.astype("<f4").tobytes(), 6)


def unpacked(day: int, data: bytes) -> DayBlock:
    """The block of :meth:`DayBlock.packed`."""
    raw = zlib.decompress(data)
    count = len(raw) // 8
    steps = np.frombuffer(raw, dtype="<u4", count=count)
    return DayBlock(day, np.cumsum(steps, dtype=np.uint32), np.frombuffer(raw, dtype="<f4", offset=4 * count))


@dataclass(frozen=True)
class Merged:
    """A block after more came: rows that were new, and rows of a known time with another value, which stay as they were."""

    block: DayBlock
    added: int
    differing: int


def by_day(unix: Floats, power: Floats) -> Iterator[DayBlock]:
    """Rows (n,) in any order as blocks by UTC day; of a time that comes twice the first counts."""
    order = np.argsort(unix, kind="stable")
    whole = np.floor(unix[order]).astype(np.int64)
    values = power[order].astype(np.float32)
    first = np.concatenate([[True], np.diff(whole) > 0]) if whole.size else np.zeros(0, dtype=bool)
    whole, values = whole[first], values[first]
    days = whole // DAY
    edges = np.flatnonzero(np.diff(days, prepend=days[:1] - 1, append=days[-1:] + 1)) if days.size else np.zeros(0, dtype=int)
    for start, end in zip(edges[:-1], edges[1:], strict=True):
        yield DayBlock(int(days[start]), (whole[start:end] % DAY).astype(np.uint32), values[start:end])


def merged(held: DayBlock | None, more: DayBlock) -> Merged:
    """``more`` taken into a block of the same day: what is known stays."""
    if held is None:
        return Merged(more, len(more.seconds), 0)
    new = ~np.isin(more.seconds, held.seconds)
    at = np.searchsorted(held.seconds, more.seconds[~new])
    differing = int((np.abs(held.power[at] - more.power[~new]) > SAME).sum())
    if not new.any():
        return Merged(held, 0, differing)
    seconds = np.concatenate([held.seconds, more.seconds[new]])
    order = np.argsort(seconds, kind="stable")
    power = np.concatenate([held.power, more.power[new]])[order]
    return Merged(DayBlock(held.day, seconds[order], power), int(new.sum()), differing)
