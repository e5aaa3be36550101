"""Strings within the limits of their input: the coldest morning, the hottest noon, currents, and every way to split the panels.

Cold: n Voc (1 + beta (Tmin - 25)), at sunrise, when the panel is as cold as the air. Hot: n Vmp with the panel as warm as 1000 W/m2 and
1 m/s of wind make it over the hottest air (Faiman 2008, doi 10.1002/pip.813), its voltage falling by beta Voc for each kelvin, as the
open-circuit voltage does. Currents: strings side by side times Isc, at that heat.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sundial.brief.model import ElectricsBrief
from sundial.energy.system import FAIMAN, Mounting

SUN, BREEZE = 1000.0, 1.0  # W/m2 and m/s of the hottest hour
MOST_WAYS = 2000  # that are listed


@dataclass(frozen=True)
class String:
    """One string of ``panels`` at the limits: V and A."""

    panels: int
    cold_voltage: float
    cold_working: float
    hot_voltage: float


@dataclass(frozen=True)
class Group:
    """Equal strings side by side on one input."""

    panels: int
    strings: int


@dataclass(frozen=True)
class Split:
    """One way to wire all panels: what hangs on each input that is used."""

    inputs: tuple[Group, ...]
    cold_voltage: float
    hot_voltage: float
    current: float

    @property
    def words(self) -> str:
        return " + ".join(f"{one.strings} × {one.panels}" if one.strings > 1 else f"{one.panels}" for one in self.inputs)


def hottest_cell(max_temp: float, mounting: Mounting) -> float:
    """Temperature of a cell in full sun over the hottest air, degC."""
    u0, u1 = FAIMAN[mounting]
    return max_temp + SUN / (u0 + u1 * BREEZE)


def string_of(label: ElectricsBrief, panels: int, mounting: Mounting) -> String:
    """Voltages of a string, V."""
    cold = label.voc * (1 + label.beta * (label.min_temp - 25))
    fall = label.beta * label.voc  # V/K
    working = label.vmp + fall * (label.min_temp - 25)
    hot = label.vmp + fall * (hottest_cell(label.max_temp, mounting) - 25)
    return String(panels, panels * cold, panels * working, panels * max(hot, 0.0))


def current_of(label: ElectricsBrief, strings: int, mounting: Mounting) -> float:
    """Short-circuit current of strings side by side at their hottest, A."""
    return strings * label.isc * (1 + label.alpha * (hottest_cell(label.max_temp, mounting) - 25))


def refused(label: ElectricsBrief, panels: int, strings: int, mounting: Mounting) -> str:
    """Why ``strings`` of ``panels`` each may not hang on the input; empty where they may, or where no input is told."""
    limits = label.input
    if limits is None:
        return ""
    one = string_of(label, panels, mounting)
    current = current_of(label, strings, mounting)
    low, high = limits.window
    if one.cold_voltage > limits.max_voltage:
        return (
            f"{panels} in a row reach {one.cold_voltage:.0f} V on the coldest morning; the input bears {limits.max_voltage:g} V"
        )
    if one.hot_voltage < low:
        return f"{panels} in a row fall to {one.hot_voltage:.0f} V at their hottest, under the {low:g} V from which it tracks"
    if one.hot_voltage > high:
        return f"{panels} in a row still work at {one.hot_voltage:.0f} V at their hottest, over the {high:g} V to which it tracks"
    if current > limits.max_current:
        many = f"{strings} strings side by side bring" if strings > 1 else "one string brings"
        return f"{many} {current:.1f} A; the input takes {limits.max_current:g} A"
    return ""


def allowed_splits(label: ElectricsBrief, count: int, mounting: Mounting) -> list[Split]:
    """Every way to hang ``count`` panels on the inputs so that no limit is broken, the fewest strings first; inputs are alike."""
    limits = label.input
    if limits is None:
        return []
    groups = [
        Group(panels, strings)
        for panels in range(1, count + 1)
        for strings in range(1, count // panels + 1)
        if not refused(label, panels, strings, mounting)
    ]
    found = [
        _split(label, chosen, mounting)
        for used in range(1, min(limits.inputs, count) + 1)
        for chosen in _sums(groups, count, used)
    ][:MOST_WAYS]
    found.sort(key=lambda one: (sum(group.strings for group in one.inputs), len(one.inputs), -one.cold_voltage))
    return found


def _sums(groups: Sequence[Group], count: int, used: int) -> list[tuple[Group, ...]]:
    """Sets of ``used`` groups, in which one may repeat, that hold ``count`` panels together."""
    found: list[tuple[Group, ...]] = []
    least = min((one.panels * one.strings for one in groups), default=1)

    def grow(start: int, left: int, taken: tuple[Group, ...]) -> None:
        if len(taken) == used:
            if left == 0:
                found.append(taken)
            return
        for place in range(start, len(groups)):
            rest = left - groups[place].panels * groups[place].strings
            if rest >= least * (used - len(taken) - 1) and len(found) < MOST_WAYS:
                grow(place, rest, (*taken, groups[place]))

    grow(0, count, ())
    return found


def _split(label: ElectricsBrief, chosen: tuple[Group, ...], mounting: Mounting) -> Split:
    strings = [string_of(label, group.panels, mounting) for group in chosen]
    return Split(
        tuple(sorted(chosen, key=lambda one: (-one.panels, -one.strings))),
        max(one.cold_voltage for one in strings),
        min(one.hot_voltage for one in strings),
        max(current_of(label, group.strings, mounting) for group in chosen),
    )


def lengths_in(label: ElectricsBrief, count: int, mounting: Mounting) -> tuple[int, int] | None:
    """The fewest and the most panels that one string may have; None where none may."""
    fit = [panels for panels in range(1, count + 1) if not refused(label, panels, 1, mounting)]
    return (fit[0], fit[-1]) if fit else None
