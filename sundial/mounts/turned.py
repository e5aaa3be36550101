"""A frame at one tilt whose facing a hand changes a few times a day."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from sundial.brief_section import Azimuth, Month, Upright
from sundial.days import MONTH_OF_DAY, days_there
from sundial.errors import BriefError
from sundial.mounts.facing import Direction, Facing
from sundial.mounts.kind import Hand, MountBrief, Situation

Floats = NDArray[np.float64]


class TurnedMount(MountBrief):
    """A frame whose facing a hand changes a few times a day, on days on which somebody does it."""

    kind: Literal["turned"]
    tilt: Upright
    facings: Annotated[
        list[Azimuth],
        Field(min_length=2, max_length=5, description="from the morning's to the evening's, degrees from true north"),
    ]
    weekdays: Annotated[
        list[Annotated[int, Field(ge=0, le=6)]] | None, Field(description="days of the week on which it is done, 0 Monday")
    ] = None
    months: Annotated[list[Month] | None, Field(description="months in which it is done")] = None
    minutes: Annotated[float, Field(ge=0, le=240, description="for one turn")] = 2.0

    hand: ClassVar[Hand] = "facing"
    centre_pivot: ClassVar[bool] = True
    meets_wind: ClassVar[bool] = True

    @property
    def held_tilt(self) -> float | None:
        return self.tilt

    @property
    def steepest(self) -> float | None:
        return self.tilt

    @property
    def minutes_a_move(self) -> float | None:
        return self.minutes

    def days(self, year: int) -> NDArray[np.bool_]:
        """Days of a year (365,) on which a hand turns it."""
        for name, chosen in (("weekdays", self.weekdays), ("months", self.months)):
            if chosen is not None and not chosen:
                raise BriefError(f"mount.{name}", "choose at least one")
        done = days_there(self.weekdays, year)
        return done if self.months is None else done & np.isin(MONTH_OF_DAY + 1, self.months)

    def moves(self, settings: int | None, planned: int, year: int) -> int:
        return len(self.facings) * int(self.days(year).sum())

    def facing(self, situation: Situation, settings: int) -> Facing:
        done = self.days(situation.year)
        return situation.at(Turned(self.tilt, tuple(self.facings), situation.azimuth, tuple(done.tolist())))

    def ends_of_tilt(self, reachable: Floats) -> set[float]:
        return {self.tilt}

    def flattest(self, reachable: Floats) -> tuple[float, str]:
        return abs(self.tilt), "nothing"

    def own_tilts(self, settable: Floats, stow: bool) -> Floats:
        return np.array([self.tilt])


@dataclass(frozen=True)
class Turned:
    """Held at ``tilt``; on the days ``done`` (365,) a hand turns it to the one of ``facings`` that is nearest to the target; on others, and
    at night, it looks to ``azimuth``."""

    tilt: float
    facings: tuple[float, ...]
    azimuth: float
    done: tuple[bool, ...]

    def facing(self, target: Direction) -> Facing:
        off = (target.azimuth[:, None] - np.array(self.facings) + 180) % 360 - 180
        nearest = np.array(self.facings)[np.abs(off).argmin(axis=1)]
        turned = np.repeat(np.array(self.done), 24) & (target.zenith < 90)
        return Facing(np.full(len(nearest), self.tilt), np.where(turned, nearest, self.azimuth) % 360)
