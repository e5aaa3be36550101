"""Shade that the survey missed: where the sun stands when every clear day gives less than it should."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.expected.clear import ClearDay
from sundial.record.series import Series
from sundial.scene import Scene
from sundial.sun import sun_at_times

Floats = NDArray[np.float64]
WIDE = 5.0  # degrees of bearing of one bin
TALL = 3.0  # degrees of elevation
DARK = 0.85  # of the day's own level: a bin whose middle reading is under it is shaded
SURE = 0.93  # and three quarters of its readings are under this
FEWEST = 4  # clear days that must have seen it
WORTH = 0.0005  # of what was made on the clear days: what takes less is not spoken of
LOWEST = 0.04  # of the day's highest expected power: readings under it tell nothing


@dataclass(frozen=True)
class Missed:
    """One thing that the survey lacks: bearings ``start`` to ``end`` (clockwise, degrees from true north), the elevation up to which it
    shades in each bin as (bearing, elevation), the share of the power that it takes, the clear days that saw it, and the kWh that it took on those."""

    start: float
    end: float
    tops: tuple[tuple[float, float], ...]
    taken: float
    days: int
    lost: float

    @property
    def top(self) -> float:
        """Elevation of its highest point, degrees."""
        return max(elevation for _, elevation in self.tops)


def missed_shade(
    scene: Scene, series: Series, expected: Floats, day: NDArray[np.int64], clear: Sequence[ClearDay], left_out: NDArray[np.bool_]
) -> tuple[Missed, ...]:
    """Bins of the sky in which measured over expected falls on the clear days, gathered to things. Each day counts against its own
    level, so that dirt and a dead section are no shade; intervals ``left_out`` (n,) (throttled ones) count for nothing."""
    if len(clear) < FEWEST:
        return ()
    numbers = np.array([(one.day.toordinal() - 719163) for one in clear])  # days since 1970
    use = np.isin(day, numbers) & ~left_out
    top = _by_day(expected, day, np.maximum.reduceat)
    use &= expected > LOWEST * top
    use &= expected > 0
    if not use.any():
        return ()
    ratio = np.zeros(len(expected))
    ratio[use] = series.power[use] / expected[use]
    levels = dict(zip(numbers.tolist(), (one.ratio for one in clear), strict=True))
    middle = {number: _middle(ratio[use & (day == number)], levels[number]) for number in numbers.tolist()}
    level = np.array([middle[number] for number in day[use].tolist()])
    share = np.clip(ratio[use] / level, 0, 2)
    sun = sun_at_times(scene.site, series.unix[use] + series.step / 2, np.zeros(int(use.sum()), dtype=np.int64))
    across, up = np.floor(sun.azimuth / WIDE).astype(int), np.floor(np.maximum(sun.elevation, 0.0) / TALL).astype(int)
    wanting = np.maximum(expected[use] * level - series.power[use], 0) * series.step / 3.6e6
    dark = _dark_bins(across, up, share, day[use], wanting)
    things = [_thing(group, dark) for group in _groups(sorted({a for a, _ in dark}))]
    made = float(series.power[use].sum()) * series.step / 3.6e6
    return tuple(thing for thing in things if thing.lost > WORTH * made)


def _middle(values: Floats, level: float) -> float:
    """The level of a day: its upper middle reading, which a shaded morning does not lower."""
    return float(np.percentile(values, 65)) if len(values) >= 4 else level


def _by_day(values: Floats, day: NDArray[np.int64], of: object) -> Floats:
    starts = np.flatnonzero(np.diff(day, prepend=day[0] - 1))
    found: Floats = np.repeat(of(values, starts), np.diff(np.append(starts, len(day))))  # type: ignore[operator]
    return found


@dataclass(frozen=True)
class _Bin:
    ratio: float
    days: int
    lost: float


def _dark_bins(
    across: NDArray[np.int_], up: NDArray[np.int_], share: Floats, day: NDArray[np.int64], wanting: Floats
) -> dict[tuple[int, int], _Bin]:
    found = {}
    keys = across * 1000 + up
    for key in np.unique(keys):
        at = keys == key
        days = len(np.unique(day[at]))
        if days < FEWEST:
            continue
        if float(np.median(share[at])) < DARK and float(np.percentile(share[at], 75)) < SURE:
            found[int(key // 1000), int(key % 1000)] = _Bin(float(np.median(share[at])), days, float(wanting[at].sum()))
    return found


def _groups(across: Sequence[int]) -> list[list[int]]:
    """Neighbouring bearings; a thing may stand over the north."""
    groups: list[list[int]] = []
    for one in across:
        if groups and one - groups[-1][-1] <= 1:
            groups[-1].append(one)
        else:
            groups.append([one])
    last = round(360 / WIDE) - 1
    if len(groups) > 1 and groups[0][0] == 0 and groups[-1][-1] == last:
        groups[0] = groups.pop() + groups[0]
    return groups


def _thing(group: list[int], dark: dict[tuple[int, int], _Bin]) -> Missed:
    tops, ratios, days, lost = [], [], 0, 0.0
    for across in group:
        held = {up: one for (a, up), one in dark.items() if a == across}
        tops.append((across * WIDE + WIDE / 2, (max(held) + 1) * TALL))
        ratios += [one.ratio for one in held.values()]
        days, lost = max(days, *(one.days for one in held.values())), lost + sum(one.lost for one in held.values())
    return Missed(group[0] * WIDE, (group[-1] + 1) * WIDE % 360, tuple(tops), 1 - float(np.median(ratios)), days, lost)


def taken_over(skyline: Sequence[Sequence[float]], missed: Missed) -> list[list[float]]:
    """A skyline, points of bearing and elevation (empty: flat), raised where something is missed: its bins stand as steps."""
    held = sorted([float(a) % 360, float(e)] for a, e in skyline)
    azimuths = np.array([a for a, _ in held]) if held else np.array([0.0])
    heights = np.array([e for _, e in held]) if held else np.array([0.0])

    def old(bearing: float) -> float:
        return float(np.interp(bearing % 360, azimuths, heights, period=360))

    raised: dict[float, float] = {}
    for middle, top in missed.tops:
        for side in (-WIDE / 2 + 0.01, WIDE / 2 - 0.01):
            at = round((middle + side) % 360, 2)
            raised[at] = round(max(top, old(at)), 2)
    edges = {round((missed.start - 0.01) % 360, 2): None, round((missed.end + 0.01) % 360, 2): None}
    inside = [a for a, _ in held if (a - missed.start) % 360 < (missed.end - missed.start) % 360]
    points = {a: e for a, e in held if a not in inside} | {at: round(old(at), 2) for at in edges} | raised
    for a in inside:  # what stood higher there stays
        top = max((t for m, t in missed.tops if abs((a - m + 180) % 360 - 180) <= WIDE / 2), default=0.0)
        points[a] = max(old(a), top)
    return [[a, e] for a, e in sorted(points.items())]
