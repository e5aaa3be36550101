"""One scene, studied: its tilt surface, the year of any way of holding the panels, and the plans; each computed once and shared by every
answer."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray

from sundial.balance.flows import Needs
from sundial.balance.needs import needs_of
from sundial.brief.model import Brief
from sundial.caching import Cache
from sundial.energy.production import Production, TiltSurface, tilt_surface
from sundial.limits import constraints_of, held_tilt, key_of, own_tilts
from sundial.money.finance import Terms
from sundial.money.tariff import price_of_one_more
from sundial.mounts.facing import Drive, Facing
from sundial.mounts.fixed import FixedMount
from sundial.mounts.kind import MountBrief, Situation
from sundial.mounts.one_axis import OneAxisMount
from sundial.mounts.stepped import Stepped
from sundial.plan.tilt_plan import PlanConstraints, Plans, make_plans
from sundial.scene import Scene, no_file
from sundial.sky.weather_year import WeatherYear
from sundial.wind.caps import cap_of

Floats = NDArray[np.float64]


class StudyCache(Cache):
    """What holds for one place, sky and array whatever the constraints, prices or options are: ``years`` by mount and
    settings, ``plans`` by the constraints behind them, tilt ``surfaces`` by azimuth, and surfaces ``without`` one obstacle."""

    sizes = {"years": 128, "plans": 128, "surfaces": 32, "without": 32}


def studied(
    brief: Brief, load: Callable[[str], bytes] = no_file, given_weather: WeatherYear | None = None, **given: Any
) -> Study:
    """The study of a brief. ``given``: what :class:`Scene` and :class:`Study` take beside it."""
    own = {name: given.pop(name) for name in ("given_surface", "shared_hours", "cache") if name in given}
    return Study(Scene(brief, load, given_weather, **given), **own)


@dataclass(frozen=True, eq=False)
class Study:
    """Everything that follows from one scene. ``given_surface`` saves computing it again; ``shared_hours``: Wh of every hour (8760,) that other
    builds give to the same use and battery; ``cache`` may be shared by studies that differ in plan, prices or options only."""

    scene: Scene
    given_surface: TiltSurface | None = None
    shared_hours: Floats | None = None
    cache: StudyCache = field(default_factory=StudyCache)

    @property
    def brief(self) -> Brief:
        return self.scene.brief

    def beside(self, brief: Brief) -> Study:
        """A study of a brief that differs in its yard, spot or array only: it shares the weather and the light."""
        return Study(self.scene.beside(brief))

    @cached_property
    def open_sky(self) -> Study:
        """The same build with nothing in the light's way (this study itself where nothing is)."""
        if self.scene.shade is None:
            return self
        spot = self.brief.spot.model_copy(update={"split": None, "parts": []})
        return self.beside(self.brief.model_copy(update={"horizon": None, "readings": [], "yard": None, "spot": spot}))

    def surface(self, azimuth: float | None = None) -> TiltSurface:
        """The tilt surface at an azimuth (the array's own unless told), computed once."""
        scene, given = self.scene, self.given_surface
        facing = scene.azimuth if azimuth is None else azimuth % 360
        if given is not None and given.azimuth == facing:
            return given

        def made() -> TiltSurface:
            own = scene.reachable if held_tilt(scene) is None else own_tilts(scene)
            tilts = np.union1d(np.arange(-90.0 if own[0] < 0 else 0.0, 91.0), own)
            return tilt_surface(scene.light, scene.system, facing, tilts, scene.shade)

        return self.cache.get("surfaces", facing, made)

    @cached_property
    def plan_surface(self) -> TiltSurface:
        """What the tilt plan is read off: the plane's surface, or that of a hand-set axis while it rolls."""
        axis = self.hand_axis
        return self.surface() if axis is None else self._axis_surface(axis)

    def _axis_surface(self, axis: OneAxisMount) -> TiltSurface:
        years = [self.production(axis.at_axis_tilt(float(tilt))) for tilt in axis.set_tilts]
        energy = np.stack([year.energy for year in years], axis=1)
        return TiltSurface(axis.set_tilts, self.scene.azimuth, energy, np.stack([year.irradiation for year in years], axis=1))

    @property
    def hand_axis(self) -> OneAxisMount | None:
        """The mount, where it is one axis whose tilt is set by hand: then the plan is for the axis."""
        return self.brief.mount.hand_axis

    @property
    def plan_tilts(self) -> Floats:
        """Tilts that the plan may choose from."""
        return own_tilts(self.scene)

    @cached_property
    def cap(self) -> Floats | None:
        """The highest tilt of each month (12,), by hand and by the wind; None where nothing caps it."""
        return cap_of(self.scene)

    def constraints(
        self, every_tilt: bool = False, goal: str | None = None, by: str = "energy", own: bool = False
    ) -> PlanConstraints:
        """The plan's constraints as the brief states them; ``own``: for the mount itself."""
        return constraints_of(self.scene, lambda: self.needs, lambda: self.cap, self.held_year, every_tilt, goal, by, own)

    def plans(self, every_tilt: bool = False, goal: str | None = None, by: str = "energy") -> Plans:
        """Plans for 1 to 12 settings a year, computed once per question."""
        return self.cache.get(
            "plans",
            (every_tilt, goal or self.brief.plan.goal, by, key_of(self.scene, lambda: self.cap)),
            lambda: make_plans(self.surface(), self.constraints(every_tilt, goal, by), self.scene.site.latitude),
        )

    @cached_property
    def own_plans(self) -> Plans:
        """The plans of this build's own mount, for 1 to 12 settings a year: the one tilt of what stays at one."""
        held = held_tilt(self.scene)
        if self.hand_axis is None and held is None:
            return self.plans()
        limits = self.constraints(own=True)
        return self.cache.get(
            "plans",
            ("hand axis" if held is None else held, self.brief.plan.goal, key_of(self.scene, lambda: self.cap)),
            lambda: make_plans(self.plan_surface, limits, self.scene.site.latitude),
        )

    @cached_property
    def needs(self) -> Needs:
        """What production meets, hour by hour."""
        return replace(needs_of(self.brief, self.scene.weather, self.scene.load), beside=self.shared_hours)

    @cached_property
    def terms(self) -> Terms:
        """How money is counted over the years, and what one more kWh is worth."""
        worth, daily = self.brief.worth, lambda: self.surface().best_fixed_daily
        price = price_of_one_more(self.brief, self.scene.weather, lambda: self.needs, daily)
        return Terms(worth.life, worth.interest, worth.price_growth, worth.ageing, price)

    def production(self, mount: MountBrief | None = None, settings: int | None = None) -> Production:
        """The year of one way of holding the panels: the brief's own mount unless told."""
        chosen, planned = mount or self.brief.mount, self.brief.plan.settings
        if mount is None and (chosen.hand == "tilt" or self.hand_axis is not None):
            return self.scene.produced(chosen, *self.facing_with(settings or planned))
        counted = settings or (planned if chosen.hand == "tilt" else 2)
        caps = "" if not chosen.keeps_caps or self.cap is None else str(self.cap.tolist())
        key = (chosen.model_dump_json(), counted, caps)
        return self.cache.get("years", key, lambda: self.scene.produced(chosen, *self.facing_of(chosen, counted)))

    def held_year(self, tilt: float | tuple[float, ...]) -> Production:
        """The year of the array held at one tilt, or at a tilt of each day (365,)."""
        by_day = (tilt,) if isinstance(tilt, float | int) else tilt
        if len(set(by_day)) == 1:
            return self.production(FixedMount(kind="fixed", tilt=by_day[0]))
        return self.cache.get("years", by_day, lambda: self.scene.held(by_day))

    def facing_of(self, chosen: MountBrief, settings: int) -> tuple[Facing, Drive | None]:
        """How a mount faces hour by hour, and what drives it."""
        return chosen.facing(self._situation, settings), chosen.drive

    @cached_property
    def own_facing(self) -> tuple[Facing, Drive | None]:
        """How this build's own mount faces hour by hour under its plan, and what drives it."""
        return self.facing_with(self.brief.plan.settings)

    def facing_with(self, settings: int) -> tuple[Facing, Drive | None]:
        """The same with so many settings a year: goal, caps and days on which somebody is there counted."""
        mount = self.brief.mount
        if mount.hand != "tilt" and mount.hand_axis is None:
            return self.facing_of(mount, 2)
        held = self.own_plans.with_settings(settings).tilt_by_day
        if mount.hand_axis is not None:
            return mount.hand_axis.through_the_year(self._situation, held), mount.drive
        return self._situation.at(Stepped(held, self.scene.azimuth)), None

    @property
    def _situation(self) -> Situation:
        """Made anew each time: kept, it would keep this study, which then went only with the garbage collector."""
        scene = self.scene
        return Situation(
            scene.azimuth,
            scene.site.equator_ward,
            self.brief.plan.year,
            scene.toward,
            lambda: self.cap,
            self._planned,
            self.brief.array.turned,
        )

    def _planned(self, mount: MountBrief, settings: int) -> tuple[float, ...]:
        """The tilt of each day (365,) at which a hand sets a mount, or its axis, for the most energy of a year."""
        axis, latitude = mount.hand_axis, self.scene.site.latitude
        if axis is not None:
            plans = make_plans(self._axis_surface(axis), PlanConstraints(axis.set_tilts), latitude, settings)
        else:
            tilts = mount.reachable(None)

            def made() -> Plans:
                scene, every = self.scene, np.union1d(tilts, [0.0, 90.0])
                surface = tilt_surface(scene.light, scene.system, scene.azimuth, every, scene.shade)
                return make_plans(surface, PlanConstraints(tilts), latitude)

            plans = self.cache.get("plans", ("mount", tuple(tilts)), made)
        return plans.with_settings(settings).tilt_by_day
