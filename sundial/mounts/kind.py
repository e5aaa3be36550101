"""What every kind of mount answers: how it faces hour by hour, which tilts it takes, what moves it, and how it meets the wind.

A kind is the section of a brief that tells it. What is abstract here must be answered by each (:mod:`sundial.mounts.registry` refuses one that
leaves something out); the rest holds for a mount that stands still unless it says otherwise.
"""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from sundial.brief_section import BriefSection
from sundial.frames.kind import Structure
from sundial.frames.legs import Legs
from sundial.mounts.facing import Direction, Drive, Facing, Turning

if TYPE_CHECKING:
    from sundial.mounts.one_axis import OneAxisMount

Floats = NDArray[np.float64]
WHOLE_DEGREES: Floats = np.arange(0.0, 91.0)
Aim = Literal["sun", "light"]
Hand = Literal["nothing", "tilt", "facing"]


@dataclass(frozen=True, eq=False)
class Situation:
    """What a mount's facing follows from beside its own words: ``azimuth`` of the array and ``equator_ward``, degrees; the ``year`` whose
    weekdays count; where to look at each aim (``toward``); the highest tilt of each month (12,) that a motor keeps (``cap``, None: any); and
    the tilt of each day (365,) that a hand sets with so many settings a year (``planned``); degrees by which the panels sit ``turned`` about a tracker's axis."""

    azimuth: float
    equator_ward: float
    year: int
    toward: Callable[[Aim], Direction]
    cap: Callable[[], Floats | None]
    planned: Callable[[MountBrief, int], tuple[float, ...]]
    turned: float = 0.0

    def at(self, turning: Turning, aim: Aim = "sun") -> Facing:
        """How something faces that turns toward an aim."""
        return turning.facing(self.toward(aim))


class MountBrief(BriefSection):
    motors: ClassVar[int] = 0  # axes that a motor turns through the day
    centre_pivot: ClassVar[bool] = False  # it turns about the middle of the array, whatever its frame
    any_azimuth: ClassVar[bool] = False  # it finds the sun whichever way it is set out
    meets_wind: ClassVar[bool] = False  # it can be turned to face the wind
    keeps_caps: ClassVar[bool] = False  # its motor stays under the wind's caps by itself
    hand: ClassVar[Hand] = "nothing"  # what a hand sets
    still_by_day: ClassVar[bool] = False  # it stands as it is from dawn to dusk

    if TYPE_CHECKING:
        kind: str

    @abstractmethod
    def facing(self, situation: Situation, settings: int) -> Facing:
        """Tilt and azimuth hour by hour, with so many ``settings`` a year where a hand sets its tilt."""

    @abstractmethod
    def ends_of_tilt(self, reachable: Floats) -> set[float]:
        """The flattest and steepest that it can lie, degrees."""

    @abstractmethod
    def flattest(self, reachable: Floats) -> tuple[float, str]:
        """The flattest it goes, degrees, and by what: "nothing", "hand" or "motor"."""

    @abstractmethod
    def own_tilts(self, settable: Floats, stow: bool) -> Floats:
        """The tilts that it takes, flattest first, degrees from level: what the wind may meet. ``settable`` as below; ``stow``: laid flat
        before a gust."""

    @property
    def drive(self) -> Drive | None:
        """What its motor takes; None for one that no motor moves."""
        return None

    @property
    def hand_axis(self) -> OneAxisMount | None:
        """The mount itself, where a hand sets the tilt of the axis about which a motor rolls it."""
        return None

    @property
    def fixed_tilt(self) -> float | None:
        """The one tilt at which it stands all year, facing one way; None where something of it moves."""
        return None

    @property
    def held_tilt(self) -> float | None:
        """The one tilt at which it stands all year, whichever way it is turned; None where its tilt changes."""
        return self.fixed_tilt

    @property
    def steepest(self) -> float | None:
        """Degrees; None where a plan says it."""
        return None

    @property
    def minutes_a_move(self) -> float | None:
        """Minutes for one move; None where the plan says it."""
        return None

    @property
    def way(self) -> str:
        """The row of the comparison that it belongs to."""
        return self.kind

    def moves(self, settings: int | None, planned: int, year: int) -> int:
        """Moves by hand a year, with ``settings`` (None: the ``planned`` ones)."""
        return 0

    def reachable(self, structure: Structure | None) -> Floats:
        """Tilts that a hand can set, rising; every whole degree where none does."""
        return WHOLE_DEGREES

    def settable(self, structure: Structure | None, stow: bool) -> Floats:
        """The tilts that a plan may choose from, and the tilt from level in the side view that each one is, (T, 2), rising."""
        reach = self.reachable(structure)
        return np.stack([reach, np.abs(reach)], axis=1)

    def assumed_structure(self, clearance: float, slope_length: float) -> Structure:
        """What carries it while nobody has told: legs under both edges."""
        return Legs(front_height=clearance, spacing=slope_length)

    def noon_tilts(self, noon: Floats) -> Floats:
        """The tilts (n,) at which a motor lays it for the sun's zenith angles at ``noon``, degrees; as good as level where it turns."""
        return np.zeros(len(noon)) if self.held_tilt is None else np.full(len(noon), self.held_tilt)

    def as_neighbour(self, equator_ward: float) -> dict[str, Any]:
        """How it turns as a thing of its neighbours' yard."""
        return {}


class Motor(MountBrief):
    standby_watts: Annotated[float, Field(ge=0, le=1000)] = 0.0
    moving_watts: Annotated[float, Field(ge=0, le=5000)] = 0.0
    speed: Annotated[float, Field(gt=0, le=3600, description="degrees a minute")] = 10.0
    aim: Annotated[Aim, Field(description="light: lie flatter when the sky is dull and that catches more")] = "sun"

    @property
    def drive(self) -> Drive | None:
        return Drive(self.standby_watts, self.moving_watts, self.speed)
