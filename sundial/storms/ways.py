"""What the wind does to a way of holding the panels: hours in the wind position, energy lost, and whether it is ruled out."""

from __future__ import annotations

from dataclasses import dataclass, replace
from functools import cached_property
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAYS, MONTH_NAMES, MONTH_OF_DAY
from sundial.mounts.facing import Facing
from sundial.wind.caps import Safe, gives_way, safe
from sundial.wind.pressure import surroundings_named
from sundial.wind.site import air_of, rig_of, wind_of
from sundial.wind.standing import DIRECTIONS

if TYPE_CHECKING:
    from sundial.study import Study

Floats = NDArray[np.float64]
EVERY_DEGREE = np.arange(0.0, 91.0)
ANY = 1e6  # m/s: stands whatever blows


@dataclass(frozen=True)
class RuledOut:
    """The month whose gust is more than a way may stand: its ``tilt`` then, the ``allowed`` gust and the month's, m/s as told."""

    month: str
    tilt: float
    allowed: float
    gust: float


@dataclass(frozen=True, eq=False)
class WindOfYear:
    """The gusts of a study's year against what its frame may stand at every whole degree."""

    study: Study
    safe: Safe

    @classmethod
    def of(cls, study: Study) -> WindOfYear:
        return cls(study, safe(study.scene))

    @cached_property
    def allowed(self) -> Floats:
        """The gust that may be stood at every whole degree, with the factor in hand, m/s as told (91,); ``ANY`` where none is known."""
        found: Floats = self._by_direction.min(axis=0)
        return found

    @cached_property
    def from_the_front(self) -> Floats:
        """The same for wind from the front alone (91,): it presses, and lifts nothing."""
        found: Floats = self._by_direction[DIRECTIONS.index("front")]
        return found

    @cached_property
    def _by_direction(self) -> Floats:
        """The same with the wind from each direction (3, 91)."""
        scene = self.study.scene
        least = gives_way(scene, rig_of(scene), air_of(scene), EVERY_DEGREE)
        found: Floats = np.minimum(least / np.sqrt(wind_of(scene).factor), ANY)
        return found

    @cached_property
    def hourly(self) -> Floats:
        """Gust of every hour, m/s as told (8760,): its mean wind times the gust factor of the surroundings."""
        wind = wind_of(self.study.scene)
        gusts: Floats = self.study.scene.weather.wind_speed * surroundings_named(wind.surroundings).gust_factor
        return gusts * float(self.safe.standing.speed_up.mean()) if wind.gust_height == "panel" else gusts

    def allowed_at(self, tilts: Floats | float) -> Floats:
        found: Floats = np.interp(np.abs(tilts), EVERY_DEGREE, self.allowed)
        return found

    def over(self, tilts: Floats) -> NDArray[np.bool_]:
        """Hours (8760,) in which a gust is more than its tilt may stand."""
        windy: NDArray[np.bool_] = self.hourly > self.allowed_at(tilts)
        return windy

    def laid_down(self, facing: Facing, flat: Floats | float, by_hand: bool) -> Facing:
        """The same facing, at ``flat`` degrees (a number, or (8760,)) in the hours that are too windy (``by_hand``: for the whole day)."""
        windy = self.over(facing.surface_tilt)
        if by_hand:
            windy = np.repeat(windy.reshape(DAYS, 24).any(axis=1), 24)
        return replace(facing, surface_tilt=np.where(windy, np.minimum(flat, np.abs(facing.surface_tilt)), facing.surface_tilt))

    def ruled_out(self, tilts: Floats) -> RuledOut | None:
        """The worst month in which a way that stands at ``tilts`` (365,) through every night of it may not."""
        worst: RuledOut | None = None
        for month in range(12):
            tilt = float(np.abs(tilts[month == MONTH_OF_DAY]).max())
            stands, gust = float(self.allowed_at(tilt)), float(self.safe.months[month])
            if stands < gust - 1e-9 and (worst is None or stands / gust < worst.allowed / worst.gust):
                worst = RuledOut(MONTH_NAMES[month], tilt, stands, gust)
        return worst
