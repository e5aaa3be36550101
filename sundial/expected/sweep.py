"""A load is varied and volts and amps are read: the best point by a fit through the top, not by the largest reading."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from sundial.errors import BriefError

FEWEST = 5
TOP = 0.85  # of the largest product: rows under it do not shape the top
CLOSE = 5  # points that a cubic of the top needs; a parabola would come out 1 to 2 % low on a panel's lopsided curve


@dataclass(frozen=True)
class Sweep:
    """The best point: ``power`` W, ``volts``, ``amps``; ``largest`` W of the single readings; ``fitted`` rows; ``scatter`` W about the fit."""

    power: float
    volts: float
    amps: float
    largest: float
    fitted: int
    scatter: float


def best_point(rows: Sequence[tuple[float, float]]) -> Sweep:
    """From (volts, amps) rows in any order. The power near its top is fitted by a cubic of the volts, all rows weighted alike. BriefError, naming the row, for fewer than five, for a negative value, and where the top lies beyond the rows."""
    if len(rows) < FEWEST:
        raise BriefError("rows", f"{len(rows)} rows are too few: give at least {FEWEST}, some on both sides of the best")
    for number, (v, a) in enumerate(rows, 1):
        if not (np.isfinite(v) and np.isfinite(a)) or v < 0 or a < 0:
            raise BriefError(f"row {number}", f"{v:g} V, {a:g} A: both must be 0 or more")
    volts, power = np.array([v for v, _ in rows]), np.array([v * a for v, a in rows])
    largest = float(power.max())
    if largest <= 0:
        raise BriefError("rows", "no row gives any power")
    top = np.flatnonzero(power >= TOP * largest)
    if len(top) < CLOSE:
        top = np.argsort(-power)[:CLOSE]
    near, made = volts[top], power[top]
    if np.ptp(near) <= 0:
        raise BriefError("rows", "all the best rows have one voltage: vary the load more finely about the top")
    middle, spread = float(near.mean()), float(np.ptp(near)) / 2
    x = (near - middle) / spread
    order = 3
    curve = np.polynomial.Polynomial.fit(x, made, order, domain=(-1, 1))
    roots, bends = [complex(root) for root in curve.deriv().roots()], curve.deriv(2)
    inside = [r.real for r in roots if abs(r.imag) < 1e-9 and float(bends(r.real)) < 0 and -1.0 <= r.real <= 1.0]
    if not inside:
        raise BriefError("rows", "the power still rises at the end of the rows: vary the load further, to both sides of the best")
    best = max(inside, key=lambda at: float(curve(at)))
    at, watts = middle + best * spread, float(curve(best))
    scatter = float(np.sqrt(np.mean((curve(x) - made) ** 2)))
    return Sweep(watts, at, watts / at, largest, len(near), scatter)
