"""Weights that move: which way a loosened frame drops, what hands must hold, what a jack must push. Planning estimates."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil, cos, radians, sin

from sundial.frames.kind import Structure
from sundial.frames.load_path import GRAVITY

ONE_PERSON = 245.0  # N: 25 kg, the reference mass for one person lifting (ISO 11228-1:2021, table 1)


@dataclass(frozen=True)
class Loosened:
    """A frame loosened at ``tilt`` degrees: ``moment`` Nm about its pivot, above zero where it drops flatter; ``at_edge`` N square to
    the glass at the edge that is farthest from the pivot; ``people`` to hold it."""

    tilt: float
    moment: float
    at_edge: float
    people: int

    @property
    def drops(self) -> str:
        """Which way it goes by itself."""
        if abs(self.moment) < 0.5:
            return "stays"
        return "flatter" if self.moment > 0 else "steeper"


def loosened(structure: Structure, tilt: float, length: float, mass: float) -> Loosened | None:
    """``mass`` kg of glass and rails, its middle ``length`` / 2 m up the slope, let go at ``tilt`` degrees; None where nothing turns."""
    pivot = structure.pivot(length)
    if pivot is None:
        return None
    moment = _moment(pivot, tilt, length, mass)
    edge = abs(moment) / max(pivot[0], length - pivot[0])
    return Loosened(tilt, moment, edge, max(1, ceil(edge / ONE_PERSON - 1e-9)))


def _moment(pivot: tuple[float, float], tilt: float, length: float, mass: float) -> float:
    """Of the weight about the pivot, Nm, above zero where it hangs behind it."""
    along, behind = pivot
    back = (length / 2 - along) * cos(radians(tilt)) - behind * sin(radians(tilt))
    return mass * GRAVITY * back


@dataclass(frozen=True)
class Thrust:
    """``force`` N along each actuator at ``tilt`` degrees, above zero where it is pressed, and its ``lever`` m about the hinge."""

    tilt: float
    force: float
    lever: float


def thrusts(structure: Structure, tilts: list[float], length: float, mass: float) -> list[Thrust]:
    """What the weight asks of the frame's jack at each tilt, degrees; empty where it has none."""
    jack, hinge = structure.jack, structure.pivot(length)
    if jack is None or hinge is None:
        return []
    return [Thrust(tilt, _moment(hinge, tilt, length, mass) / jack.lever(tilt) / jack.jacks, jack.lever(tilt)) for tilt in tilts]
