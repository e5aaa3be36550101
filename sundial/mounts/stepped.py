"""A mount whose tilt a hand sets a few times a year."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from sundial.brief_section import Tilt
from sundial.errors import BriefError
from sundial.frames.kind import Structure
from sundial.mounts.facing import Direction, Facing, by_day
from sundial.mounts.kind import Hand, MountBrief, Situation

Floats = NDArray[np.float64]
MOST_TILTS = 361


class SteppedMount(MountBrief):
    kind: Literal["stepped"]
    tilts: Annotated[list[Tilt] | None, Field(description="every tilt the frame reaches; or give min, max and step")] = None
    min: Tilt | None = None
    max: Tilt | None = None
    step: Annotated[float, Field(gt=0, le=90)] = 1.0
    both_sides: Annotated[bool, Field(description="negative tilts, leaning to the other side, are allowed")] = False

    hand: ClassVar[Hand] = "tilt"
    still_by_day: ClassVar[bool] = True

    def facing(self, situation: Situation, settings: int) -> Facing:
        return situation.at(Stepped(situation.planned(self, settings), situation.azimuth))

    def ends_of_tilt(self, reachable: Floats) -> set[float]:
        return {max(float(reachable[0]), 0.0), float(reachable[-1])}

    def flattest(self, reachable: Floats) -> tuple[float, str]:
        return float(np.abs(reachable).min()), "hand"

    def moves(self, settings: int | None, planned: int, year: int) -> int:
        chosen = settings or planned
        return chosen if chosen > 1 else 0

    def reachable(self, structure: Structure | None) -> Floats:
        """As it lists them, else as the ``structure`` of its frame says; BriefError for none, one too many, or tilts on the wrong side."""
        if self.tilts is None and self.min is None and self.max is None and structure is not None and structure.says_tilts:
            return np.array(structure.tilts)
        if self.tilts is not None:
            given = np.round(np.array(self.tilts, dtype=float), 6)
        elif self.min is not None and self.max is not None:
            given = self._spread(self.min, self.max)
        else:
            raise BriefError("mount.tilts", "give the list of tilts, or min and max, or a frame whose measures say them")
        if not given.size:
            raise BriefError("mount.tilts", "the list is empty: give every tilt that the frame reaches")
        if given.size > MOST_TILTS:
            raise BriefError("mount.tilts", f"holds {given.size} tilts; {MOST_TILTS} are the most")
        wrong = np.flatnonzero(given < 0)
        if wrong.size and not self.both_sides:
            path = f"mount.tilts[{int(wrong[0])}]" if self.tilts is not None else "mount.min"
            raise BriefError(path, "must be from 0 to 90 degrees (set both_sides where the frame leans to the other side)")
        tilts: Floats = np.unique(given)
        if self.tilts is not None and tilts.size < given.size:
            repeated = next(float(t) for t in given if (given == t).sum() > 1)
            raise BriefError("mount.tilts", f"{repeated:g} is there twice: name each tilt once")
        return tilts

    def _spread(self, low: float, high: float) -> Floats:
        if high < low:
            raise BriefError("mount.max", f"must not be under mount.min ({low:g})")
        if (high - low) / self.step > MOST_TILTS - 1:
            raise BriefError("mount.step", f"gives more than {MOST_TILTS} tilts; take a larger step")
        return np.round(np.arange(low, high + 1e-9, self.step), 6)

    def settable(self, structure: Structure | None, stow: bool) -> Floats:
        """Of a frame that says its tilts, true tilts beside those of the side view."""
        if structure is None or not structure.says_tilts or self.tilts is not None or self.min is not None:
            return super().settable(structure, stow)
        sides: dict[float, float] = {}
        for hole in structure.holes:
            true = round(hole.plane.tilt, 2)
            sides[true] = max(hole.tilt, sides.get(true, 0.0))
        return np.array([[tilt, sides.get(tilt, tilt)] for tilt in structure.tilts])

    def own_tilts(self, settable: Floats, stow: bool) -> Floats:
        return np.unique(settable[:, 1])


@dataclass(frozen=True)
class Stepped:
    """Moved by hand: ``tilts`` (365,) is the tilt of each day."""

    tilts: tuple[float, ...]
    azimuth: float

    def facing(self, target: Direction) -> Facing:
        return by_day(np.array(self.tilts), self.azimuth)
