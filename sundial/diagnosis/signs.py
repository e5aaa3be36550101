"""What a day's curve and a meter say by themselves: a few signs, each one of a few words."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.diagnosis.wired import Wired
from sundial.expected.flat import throttled
from sundial.record.series import Series

Floats = NDArray[np.float64]
SIGNS: dict[str, tuple[str, ...]] = {
    "curve": ("smooth", "ragged", "dull", "dark"),
    "level": ("nothing", "far below", "half", "low", "a string", "a panel", "a section", "a little low", "right", "above"),
    "shape": ("even", "morning", "evening", "notch", "midday", "flat top", "gaps", "shifted", "none"),
    "volts": ("none", "far below", "two panels less", "a panel less", "a section less", "a little low", "right", "high"),
    "amps": ("none", "low", "a string less", "a little low", "right", "high"),
    "look": ("fair", "early or late"),
}
LIT = 0.15  # of the day's best expected power: under it shares are not looked at
SMOOTH = 0.02  # change of the share from one interval to the next but one, of a curve without cloud
STRONG = 0.5  # of the day's best: under clouds the level is read off this light alone
FAIR = 0.45  # of the day's best: a look at less light than this is early or late
FEWEST = 8  # lit intervals
OF_STRING = 0.08  # of what one string gives: how near to it what is missing must lie


@dataclass(frozen=True, eq=False)
class Curve:
    """A day as it was measured: ``unix`` (n,) starts of even intervals, ``measured`` and ``expected`` (n,) W (the cloudless sky, with the shade
    that is known)."""

    unix: Floats
    measured: Floats
    expected: Floats

    @property
    def step(self) -> float:
        return float(np.median(np.diff(self.unix)))

    @property
    def lit(self) -> NDArray[np.bool_]:
        return self.expected > LIT * max(float(self.expected.max()), 1.0)


def signs_of_curve(curve: Curve, joined: Wired) -> dict[str, str]:
    """``curve``, ``level`` and ``shape``; empty where the day has too little light or too few values."""
    lit = curve.lit
    if int(lit.sum()) < FEWEST:
        return {}
    share = curve.measured[lit] / curve.expected[lit]
    if float(np.quantile(share, 0.95)) < 0.1:
        return {"curve": "dark", "level": "nothing", "shape": "none"}
    gaps = _gaps(share)
    lag = _lag(curve)
    ragged = _raggedness(share[share > 0.05])
    kind = (
        "ragged"
        if ragged > 2.5 * SMOOTH
        else "dull"
        if float(np.median(share)) < 0.45 and ragged > 0.25 * SMOOTH and not gaps
        else "smooth"
    )
    if lag and kind == "smooth":
        return {"curve": kind, "level": level_of(_best(curve, lag), joined), "shape": "shifted"}
    strong = curve.expected[lit] > STRONG * float(curve.expected.max())
    level = float(np.median(_middle(share))) if kind != "ragged" else float(np.quantile(share[strong], 0.9))
    return {"curve": kind, "level": level_of(level, joined), "shape": _shape(curve, share, kind, gaps)}


def _raggedness(share: Floats) -> float:
    """How far the share jumps between neighbours: the four fifths point of the second differences."""
    return float(np.quantile(np.abs(np.diff(share, 2)), 0.8)) if len(share) > FEWEST else 0.0


def _middle(share: Floats) -> Floats:
    third = len(share) // 3
    return share[third : len(share) - third]


def level_of(level: float, joined: Wired) -> str:
    """A level in words; what a dead section, panel or string takes has its own where it can be told from the scatter."""
    missing, blocks, panels = 1 - level, joined.all_blocks, joined.all_panels
    if level < 0.12:
        return "nothing"
    if level > 1.04:
        return "above"
    if missing < 0.022:
        return "right"
    if joined.strings > 1 and abs(missing - 1 / joined.strings) < OF_STRING / joined.strings:
        return "a string"
    if abs(missing - 1 / panels) < 0.014:
        return "a panel"
    if blocks > panels and abs(missing - 1 / blocks) < 0.014:
        return "a section"
    if level > 0.93:
        return "a little low"
    return "low" if level > 0.72 else "half" if level > 0.4 else "far below"


def _gaps(share: Floats) -> bool:
    """Spells of nothing in a day that else has light."""
    dark = share < 0.06
    edges = np.flatnonzero(np.diff(np.concatenate([[False], dark, [False]]).astype(int)))
    spells = [(a, b) for a, b in zip(edges[::2], edges[1::2], strict=True) if b - a >= 2]
    return bool(spells) and float(np.median(share)) > 0.2


def _lag(curve: Curve) -> int:
    """Intervals by which the measured runs after the expected, where shifting it so fits far better; 0 else."""
    best, at, zero = np.inf, 0, np.inf
    reach = round(9000 / curve.step)
    for lag in range(-reach, reach + 1):
        other = np.roll(curve.expected, lag)
        scale = float((other * curve.measured).sum() / max(float((other**2).sum()), 1e-9))
        left = float(((curve.measured - scale * other) ** 2).sum())
        if lag == 0:
            zero = left
        if left < best:
            best, at = left, lag
    total = float((curve.measured**2).sum())
    return at if abs(at) * curve.step >= 1800 and best < 0.25 * zero and best < 0.01 * total else 0


def _best(curve: Curve, lag: int) -> float:
    other = np.roll(curve.expected, lag)
    return float((other * curve.measured).sum() / max(float((other**2).sum()), 1e-9))


def _shape(curve: Curve, share: Floats, kind: str, gaps: bool) -> str:
    if gaps:
        return "gaps"
    series = Series(curve.unix, curve.measured, curve.step)
    flat = throttled(series, curve.expected, np.zeros(len(curve.unix), dtype=np.int64), fewest=1).mask[curve.lit]
    if flat.mean() > 0.15:
        return "flat top"
    if kind != "smooth":
        return "even"
    third = len(share) // 3
    first, middle, last = (
        float(np.median(part)) for part in (share[:third], share[third : len(share) - third], share[len(share) - third :])
    )
    whole = max(first, middle, last)
    dip = _dip(share)
    if dip is not None:
        start, end = dip
        inside = start > 0.12 * len(share) and end < 0.88 * len(share)
        if inside and end - start < 0.3 * len(share):
            return "notch"
        return "morning" if start + end < len(share) else "evening"
    if whole - first > 0.05 * whole and whole - first > 2 * (whole - last):
        return "morning"
    if whole - last > 0.05 * whole and whole - last > 2 * (whole - first):
        return "evening"
    if min(first, last) - middle > 0.012:
        return "midday"
    return "even"


def _dip(share: Floats) -> tuple[int, int] | None:
    """Start and end of the one stretch of 20 minutes or more that lies clearly under the rest."""
    usual = float(np.quantile(share, 0.7))
    low = share < usual - 0.035
    edges = np.flatnonzero(np.diff(np.concatenate([[False], low, [False]]).astype(int)))
    spells = [(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True) if b - a >= 4]
    if not spells:
        return None
    start, end = max(spells, key=lambda spell: spell[1] - spell[0])
    sharp = max(
        abs(float(share[max(start - 2, 0)] - share[start + 1])), abs(float(share[min(end + 1, len(share) - 1)] - share[end - 2]))
    )
    return (start, end) if sharp > 0.025 else None


def sign_of_volts(share: float, blocks: int, panels: int) -> str:
    """Volts over those to be expected at this heat, in words."""
    if share < 0.1:
        return "none"
    missing = 1 - share
    if missing < -0.035:
        return "high"
    if panels > 2 and abs(missing - 2 / panels) < 0.03:
        return "two panels less"
    if abs(missing - 1 / panels) < 0.025:
        return "a panel less"
    if missing < 0.022:
        return "right"
    if blocks > panels and abs(missing - 1 / blocks) < 0.02:
        return "a section less"
    return "a little low" if missing < 0.15 else "far below"


def sign_of_amps(share: float, strings: int = 1) -> str:
    """Amps of the whole array over those to be expected under a cloudless sky, in words."""
    if share < 0.04:
        return "none"
    if strings > 1 and abs(1 - share - 1 / strings) < OF_STRING / strings:
        return "a string less"
    return "low" if share < 0.8 else "a little low" if share < 0.955 else "right" if share < 1.06 else "high"


def sign_of_look(expected_then: float, best: float) -> str:
    """Whether the light of the moment is enough to say anything."""
    return "fair" if expected_then >= FAIR * best else "early or late"
