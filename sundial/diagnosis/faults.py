"""Faults of a played array: what each does to light, current, voltage and to the person who looks, from physics and not from the rule base."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
CAUSES = (
    "angle", "facing", "hour", "cloud", "dirt", "shade", "covered", "overlap", "rail", "cracked", "section", "panel", "plug", "reversed",
    "window", "cable", "heat", "limit", "meter", "snow", "clock", "string",
)  # fmt: skip
BYPASS = 0.002  # of a string's voltage that a conducting bypass diode takes (0.5 V of 250 V)


@dataclass(frozen=True, eq=False)
class Group:
    """``blocks`` bypass blocks of one string whose light is ``light`` (n,) of that of the others."""

    blocks: int
    light: Floats


@dataclass(frozen=True, eq=False)
class Fault:
    """One hidden fault. ``size``: its strength in its own unit; ``power``: what it does to the string's power (see :mod:`plant`);
    ``answers``: what a person who looks would find, and ``sure``: how likely each is noticed."""

    cause: str
    size: float
    place: float = 0.0
    answers: dict[str, str] = field(default_factory=dict)
    sure: float = 0.93


def staircase(groups: list[Group], total: int) -> tuple[Floats, Floats, Floats]:
    """Power, voltage and current of a string of ``total`` blocks over those of the same string evenly lit, each (n,). The current is that of
    the dimmest group that still conducts; darker blocks are passed by. The best of these points is taken, as a tracker of the maximum does.

    Bypass diodes under partial shade: Silvestre et al. 2009, doi 10.1016/j.apenergy.2009.01.020, with the current of each block
    proportional to its light and its voltage unchanged."""
    size = len(groups[0].light)
    rest = total - sum(group.blocks for group in groups)
    levels = [group.light for group in groups] + ([np.ones(size)] if rest > 0 else [])
    counts = [group.blocks for group in groups] + ([rest] if rest > 0 else [])
    power, volts, amps = np.zeros(size), np.zeros(size), np.zeros(size)
    for level in levels:
        conducting = sum(count * (other >= level - 1e-9) for count, other in zip(counts, levels, strict=True)) / total
        share = conducting - BYPASS * (1 - conducting)
        better = level * share > power
        power, volts, amps = np.where(better, level * share, power), np.where(better, share, volts), np.where(better, level, amps)
    return np.maximum(power, 0.0), volts, amps


def drawn(cause: str, random: np.random.Generator, blocks: int, panels: int) -> Fault:
    """A fault of a cause at a random strength, and what it looks like to somebody who goes there."""
    one = float(random.uniform())
    side = float(random.choice([-1.0, 1.0]))
    made: dict[str, Callable[[], Fault]] = {
        "angle": lambda: Fault(cause, side * (12 + 18 * one), answers={"tilt": "off", "since": "work" if one < 0.5 else "always"}),
        "facing": lambda: Fault(cause, side * (20 + 30 * one), answers={"facing": "off", "since": "always"}),
        "hour": lambda: Fault(cause, side, answers={"since": "always"}),
        "cloud": lambda: Fault(cause, one, answers={"since": "sudden"}),
        "dirt": lambda: Fault(cause, 0.05 + 0.15 * one, answers={"glass": "dusty", "since": "gradual"}, sure=0.86),
        "shade": lambda: Fault(cause, 0.4 + 0.6 * one, side, answers={"shadow": "moving", "since": "gradual" if one < 0.6 else "always"}, sure=0.88),
        "covered": lambda: Fault(cause, 0.05, answers={"glass": "covered", "since": "sudden"}),
        "overlap": lambda: Fault(cause, 0.25 + 0.35 * one, answers={"edges": "overlap", "since": "work"}),
        "rail": lambda: Fault(cause, 1 + round(one), 25 * side * float(random.uniform()), answers={"edges": "rail", "shadow": "fixed", "since": "work"}, sure=0.88),
        "cracked": lambda: Fault(cause, 0.2 + 0.4 * one, answers={"glass": "cracked", "since": "sudden"}, sure=0.88),
        "section": lambda: Fault(cause, 1, answers={"voc": "a section less", "since": "sudden"}),
        "panel": lambda: Fault(cause, 1, answers={"voc": "a panel less" if panels > 1 else "none", "since": "sudden"}),
        "plug": lambda: Fault(cause, 2 + round(3 * one), answers={"plug": "loose", "since": "sudden", "cable": "warm" if one < 0.4 else "cool"}, sure=0.9),
        "reversed": lambda: Fault(cause, 1, answers={"plug": "turned", "voc": "two panels less" if panels > 2 else "none", "since": "work"}),
        "window": lambda: Fault(cause, 0.35 + 0.35 * one, answers={"voc": "right", "since": "always"}),
        "cable": lambda: Fault(cause, 0.07 + 0.09 * one, answers={"cable": "thin", "since": "always"}, sure=0.9),
        "heat": lambda: Fault(cause, 16 + 12 * one, answers={"air": "none", "since": "always"}),
        "limit": lambda: Fault(cause, 0.15 + 0.4 * one, side, answers={"battery": "full", "load": "rises", "since": "sudden"}),
        "meter": lambda: Fault(cause, 0.4 + 0.3 * one, answers={"range": "at its limit", "since": "always"}),
        "snow": lambda: Fault(cause, 0.08 * one, answers={"glass": "snow", "since": "sudden"}, sure=0.98),
        "clock": lambda: Fault(cause, side * (1.0 if one < 0.7 else 2.0), answers={"clock": "off", "since": "always"}),
        "string": lambda: Fault(cause, 1, answers={"voc": "none", "since": "sudden"}),
    }  # fmt: skip
    return made[cause]()
