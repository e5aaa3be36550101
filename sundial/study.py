"""One brief, studied: its weather, light, surface and plans, each computed once and shared by every answer."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from sundial.balance.empty_days import MOST_TILTS, Judge
from sundial.balance.flows import Needs
from sundial.balance.needs import needs_of
from sundial.brief.model import Brief, GridUse
from sundial.caching import Cache
from sundial.days import DAYS, days_there
from sundial.energy.irradiance import light_direction, sun_direction
from sundial.energy.production import Production, TiltSurface, produce, tilt_surface
from sundial.energy.shaded import Shade, TraceCache
from sundial.errors import BriefError
from sundial.money.finance import Terms, grid_price
from sundial.money.tariff import price_of_more, tariff_of
from sundial.mounts.facing import Direction, Drive, Facing
from sundial.mounts.fixed import FixedMount
from sundial.mounts.kind import WHOLE_DEGREES, Aim, MountBrief, Situation
from sundial.mounts.one_axis import OneAxisMount
from sundial.mounts.stepped import Stepped
from sundial.plan.rivals import Effort, Rival, rivals
from sundial.plan.tilt_plan import PlanConstraints, Plans, make_plans
from sundial.scene import Scene
from sundial.shade.geometry import ArrayGeometry
from sundial.wind.caps import cap_of

Floats = NDArray[np.float64]
MOST_MORE = 40  # panels added in search of a gain
FULL = 0.2  # of what a panel gives on average: one more that gives less finds the inverter full
CONSTRAINTS = ("months", "demand", "cap", "floor", "weekdays", "year", "slack")  # what, beside the goal, a plan follows from


class StudyCache(Cache):
    """What holds for one place, sky and array whatever the constraints, prices or options are: ``years`` by mount and
    settings, ``plans`` by the constraints behind them, tilt ``surfaces`` by azimuth, and surfaces ``without`` one obstacle."""

    sizes = {"years": 128, "plans": 128, "surfaces": 32, "without": 32}


@dataclass(frozen=True, eq=False)
class Study(Scene):
    """Everything that follows from one brief. ``given_surface`` saves computing it again; ``shared_hours``: Wh of every hour (8760,) that other
    builds give to the same use and battery; ``cache`` may be shared by studies
    that differ in plan, prices or options only."""

    given_surface: TiltSurface | None = None
    shared_hours: Floats | None = None
    cache: StudyCache = field(default_factory=StudyCache)

    @cached_property
    def middle(self) -> Floats:
        """The middle of the array at its mean tilt (3,), m: the point of view of its sky picture."""
        tilt = float(np.abs(self.own_facing[0].surface_tilt).mean())
        middle: Floats = self.geometry.middles(tilt, self.azimuth).mean(axis=0)
        return middle

    @cached_property
    def open_sky(self) -> Study:
        """The same build with nothing in the light's way (this study itself where nothing is)."""
        if self.shade is None:
            return self
        spot = self.brief.spot.model_copy(update={"split": None, "parts": []})
        brief = self.brief.model_copy(update={"horizon": None, "readings": [], "yard": None, "spot": spot})
        return self.beside(brief)

    def beside(self, brief: Brief) -> Study:
        """A study of a brief that differs in its yard, spot or array only: it shares the weather and the light."""
        same_yard = self.yard if brief.yard == self.brief.yard else None  # with its solids
        given = {"given_sun": self.sun, "given_light": self.light, "given_bins": self.sun_bins, "given_yard": same_yard}
        return Study(brief, self.load, self.weather, **given, traces=TraceCache(self.traces.known))  # type: ignore[arg-type]

    def surface(self, azimuth: float | None = None) -> TiltSurface:
        """The tilt surface at an azimuth (the array's own unless told), computed once."""
        facing = self.azimuth if azimuth is None else azimuth % 360
        given = self.given_surface
        if given is not None and given.azimuth == facing:
            return given
        return self.cache.get("surfaces", facing, lambda: self._surface(facing))

    def _surface(self, azimuth: float) -> TiltSurface:
        low = -90.0 if self.reachable[0] < 0 else 0.0
        tilts = np.union1d(np.arange(low, 91.0), self.reachable)
        return tilt_surface(self.light, self.system, azimuth, tilts, self.shade)

    def surface_without(self, name: str) -> TiltSurface:
        """The array's own tilt surface recomputed with one obstacle removed."""

        def made() -> TiltSurface:
            gone = frozenset({name})
            return tilt_surface(self.light, self.system, self.azimuth, self.surface().tilts, self.shade, gone)

        return self.cache.get("without", name, made)

    def constraints(self, every_tilt: bool = False, goal: str | None = None, by: str = "energy") -> PlanConstraints:
        """The plan's constraints as the brief states them."""
        plan = self.brief.plan
        return PlanConstraints(
            tilts=WHOLE_DEGREES if every_tilt else self.reachable,
            goal=goal or plan.goal,  # type: ignore[arg-type]
            months=tuple(plan.months or ()),
            demand=np.array(plan.demand) if plan.demand else None,
            cap=self._cap_of_plan,
            floor=np.array(plan.floor) if plan.floor else None,
            may_move=days_there(plan.weekdays, plan.year),
            slack=plan.slack,
            by=by,  # type: ignore[arg-type]
            judge=self._judge(every_tilt) if (goal or plan.goal) == "empty-days" else None,
        )

    @property
    def can_be_judged(self) -> bool:
        """Whether plans for the fewest empty days can be searched: off the grid, no generator, a hand that moves a few tilts."""
        off_grid = self.needs.kind == "off-grid" and self.needs.generator is None
        return off_grid and self.hand_axis is None and 1 < len(self.reachable) <= MOST_TILTS

    def _judge(self, every_tilt: bool) -> Judge:
        """What plans for the fewest empty days are judged by; BriefError where nothing can be empty, or there are too many tilts."""
        if self.needs.kind != "off-grid" or self.needs.generator is not None:
            raise BriefError("plan.goal", "the fewest empty days need an off-grid use without a generator (use.kind off-grid)")
        if every_tilt or len(self.reachable) > MOST_TILTS or self.hand_axis is not None:
            raise BriefError(
                "plan.goal", f"the fewest empty days are found among at most {MOST_TILTS} tilts of a frame that is moved by hand"
            )
        return Judge(lambda: np.stack([self.fixed_tilt_year(float(tilt)).hourly for tilt in self.reachable]), self.needs)

    def plans(self, every_tilt: bool = False, goal: str | None = None, by: str = "energy") -> Plans:
        """Plans for 1 to 12 settings a year, computed once per question."""
        key = (every_tilt, goal or self.brief.plan.goal, by, self._constraints_key)

        def made() -> Plans:
            return make_plans(self.surface(), self.constraints(every_tilt, goal, by), self.site.latitude)

        return self.cache.get("plans", key, made)

    @cached_property
    def cap(self) -> Floats | None:
        """The highest tilt of each month (12,), by hand and by the wind; None where nothing caps it."""
        return cap_of(self)

    @property
    def _cap_of_plan(self) -> Floats | None:
        """The cap that the plan obeys. A hinge's motor obeys the wind's caps by itself; the plan beside it, as if a hand moved the same
        panels, follows from the typed ones alone."""
        typed = self.brief.plan.cap
        if self.brief.mount.keeps_caps:
            return None if typed is None else np.array(typed)
        return self.cap

    @cached_property
    def _constraints_key(self) -> str:
        judged = self.brief.plan.goal == "empty-days"
        use = self.brief.use.model_dump_json() + str(self.brief.battery) if judged else ""
        return (
            use
            + self.brief.plan.model_dump_json(include=set(CONSTRAINTS))
            + str(None if self._cap_of_plan is None else self._cap_of_plan.tolist())
        )

    @property
    def _cap_key(self) -> str:
        return "" if self.cap is None else str(self.cap.tolist())

    @cached_property
    def hand_axis(self) -> OneAxisMount | None:
        """The mount, where it is one axis whose tilt is set by hand: then the plan is for the axis."""
        return self.brief.mount.hand_axis

    @cached_property
    def plan_surface(self) -> TiltSurface:
        """What the tilt plan is read off: the plane's surface, or that of a hand-set axis while it rolls."""
        if self.hand_axis is None:
            return self.surface()
        years = self._axis_years(self.hand_axis)
        energy = np.stack([year.energy for year in years], axis=1)
        return TiltSurface(self.hand_axis.set_tilts, self.azimuth, energy, np.stack([year.irradiation for year in years], axis=1))

    @cached_property
    def plan_tilts(self) -> Floats:
        """Tilts that the plan may choose from."""
        return self.reachable if self.hand_axis is None else self.hand_axis.set_tilts

    @cached_property
    def own_plans(self) -> Plans:
        """The plans of this build's own mount, for 1 to 12 settings a year."""
        if self.hand_axis is None:
            return self.plans()
        key = ("hand axis", self.brief.plan.goal, self._constraints_key)

        def made() -> Plans:
            return make_plans(self.plan_surface, replace(self.constraints(), tilts=self.plan_tilts), self.site.latitude)

        return self.cache.get("plans", key, made)

    def rivals(self) -> list[Rival]:
        return rivals(self.plan_surface, self.plan_tilts, self.site.latitude, self.brief.plan.tilt_now)

    @cached_property
    def needs(self) -> Needs:
        """What production meets, hour by hour."""
        return replace(needs_of(self.brief, self.weather, self.load), beside=self.shared_hours)

    @cached_property
    def terms(self) -> Terms:
        worth = self.brief.worth
        return Terms(worth.life, worth.interest, worth.price_growth, worth.ageing, self._price)

    @property
    def _price(self) -> float:
        """What one more kWh is worth on the average: by the share used on the spot, or by the balance of the best fixed tilt with a
        fiftieth more."""
        use = self.brief.use
        if isinstance(use, GridUse) and not use.by_hour:
            return grid_price(use.import_price, use.export_price, use.own_share)
        surface = self.surface()
        daily = surface.energy[:, int(surface.energy.sum(axis=0).argmax())]
        sun = self.weather.ghi.reshape(DAYS, 24)
        share = np.divide(sun, sun.sum(axis=1, keepdims=True), out=np.zeros_like(sun), where=sun.sum(axis=1, keepdims=True) > 0)
        made = (share * daily[:, None] * 1000).reshape(1, -1)
        return price_of_more(made, self.needs, tariff_of(self.brief, self.weather.utc_offset))

    @cached_property
    def effort(self) -> Effort:
        plan = self.brief.plan
        return Effort(plan.minutes_per_move, plan.people, plan.value_of_hour, self.terms.price)

    def production(self, mount: MountBrief | None = None, settings: int | None = None) -> Production:
        """The year of one way of holding the panels: the brief's own mount unless told."""
        chosen = mount or self.brief.mount
        if mount is None and (chosen.hand == "tilt" or self.hand_axis is not None):
            facing, drive = self._own_facing(settings or self.brief.plan.settings)
            return produce(self.light, self.system, facing, drive, self.shade)
        if settings is None:
            settings = self.brief.plan.settings if chosen.hand == "tilt" else 2
        key = (chosen.model_dump_json(), settings, self._cap_key if chosen.keeps_caps else "")
        counted = settings
        return self.cache.get("years", key, lambda: self._year_of(chosen, counted))

    def _year_of(self, chosen: MountBrief, settings: int) -> Production:
        return self.produced(chosen, *self.facing_of(chosen, settings))

    def produced(self, chosen: MountBrief, facing: Facing, drive: Drive | None) -> Production:
        """The year of panels that a kind of mount turns as told."""
        if not chosen.centre_pivot:
            return produce(self.light, self.system, facing, drive, self.shade)
        system = replace(self.system, tables=self.tables(self.on_pole))
        return produce(self.light, system, facing, drive, self._shade_on_pole)

    @cached_property
    def on_pole(self) -> ArrayGeometry:
        """The array as a tracker at the same spot: it turns about its middle, whatever the build's own mount does."""
        return replace(self.geometry, spot=replace(self.geometry.spot, centre_pivot=True))

    @cached_property
    def _shade_on_pole(self) -> Shade | None:
        if self.shade is None or self.geometry.spot.centre_pivot:
            return self.shade
        known = TraceCache(self.traces.known)
        return Shade(self.light, self.on_pole, self.yard, self.skyline, given_bins=self.sun_bins, traces=known)

    def facing_of(self, chosen: MountBrief, settings: int) -> tuple[Facing, Drive | None]:
        """How a mount faces hour by hour, and what drives it."""
        return chosen.facing(self._situation, settings), chosen.drive

    @property
    def _situation(self) -> Situation:
        """Made anew each time: kept, it would keep this study, which then went only with the garbage collector."""
        return Situation(
            self.azimuth, self.site.equator_ward, self.brief.plan.year, self._toward, lambda: self.cap, self._planned
        )

    def _toward(self, aim: Aim) -> Direction:
        return self._toward_light if aim == "light" else self._toward_sun

    def _planned(self, mount: MountBrief, settings: int) -> tuple[float, ...]:
        """The tilt of each day (365,) at which a hand sets a mount, or its axis, for the most energy of a year."""
        if mount.hand_axis is None:
            return self._plans_for(mount).with_settings(settings).tilt_by_day
        axis = mount.hand_axis
        energy = np.stack([year.energy for year in self._axis_years(axis)], axis=1)
        surface = TiltSurface(axis.set_tilts, self.azimuth, energy, energy)
        plan = make_plans(surface, PlanConstraints(axis.set_tilts), self.site.latitude, settings)
        return plan.with_settings(settings).tilt_by_day

    @cached_property
    def own_facing(self) -> tuple[Facing, Drive | None]:
        """How this build's own mount faces hour by hour under its plan, and what drives it."""
        return self._own_facing(self.brief.plan.settings)

    def _own_facing(self, settings: int) -> tuple[Facing, Drive | None]:
        """The same with so many settings a year: goal, caps and days on which somebody is there counted."""
        mount = self.brief.mount
        if mount.hand != "tilt" and mount.hand_axis is None:
            return self.facing_of(mount, 2)
        held = self.own_plans.with_settings(settings).tilt_by_day
        if mount.hand_axis is not None:
            return mount.hand_axis.through_the_year(self._situation, held), mount.drive
        return self._situation.at(Stepped(held, self.azimuth)), None

    def fixed_tilt_year(self, tilt: float) -> Production:
        """The year of a plane that stays at ``tilt``."""
        return self.production(FixedMount(kind="fixed", tilt=tilt))

    def held_year(self, tilt_by_day: tuple[float, ...]) -> Production:
        """The year of the array held at a tilt of each day (365,)."""
        if len(set(tilt_by_day)) == 1:
            return self.fixed_tilt_year(tilt_by_day[0])
        facing = self._situation.at(Stepped(tilt_by_day, self.azimuth))
        return self.cache.get("years", tilt_by_day, lambda: produce(self.light, self.system, facing, None, self.shade))

    def unlimited_hours(self, tilt_by_day: tuple[float, ...]) -> Floats:
        """Wh of every hour (8760,) of the array held at a tilt of each day (365,), as no inverter would limit it."""
        if self.system.inverter.power is None:
            return self.held_year(tilt_by_day).hourly
        endless = replace(self.system, inverter=replace(self.system.inverter, power=None))
        facing = self._situation.at(Stepped(tilt_by_day, self.azimuth))
        return self.cache.get(
            "years", ("endless", tilt_by_day), lambda: produce(self.light, endless, facing, None, self.shade)
        ).hourly

    def years_with_panels(self, tilt_by_day: tuple[float, ...], enough: float) -> tuple[float, ...]:
        """kWh a year of the array held at ``tilt_by_day`` (365,) with 0, 1, 2 ... more panels like its own on the same
        inverter, in the same light and shade, until ``enough`` kWh are gained or the inverter is full. Empty where no
        inverter limits them: all give the same."""
        limit = self.system.inverter.power
        if limit is None:
            return ()
        hourly, count = self.unlimited_hours(tilt_by_day), self.array.wired
        years = [float(np.minimum(hourly, limit).sum()) / 1000]
        for more in range(1, MOST_MORE + 1):
            if years[-1] - years[0] >= enough or (more > 1 and years[-1] - years[-2] < FULL * years[0] / count):
                break
            years.append(float(np.minimum(hourly * ((count + more) / count), limit).sum()) / 1000)
        return tuple(years)

    def _plans_for(self, mount: MountBrief) -> Plans:
        tilts = mount.reachable(None)
        key = ("mount", tuple(tilts))

        def made() -> Plans:
            surface = tilt_surface(self.light, self.system, self.azimuth, np.union1d(tilts, [0.0, 90.0]), self.shade)
            return make_plans(surface, PlanConstraints(tilts), self.site.latitude)

        return self.cache.get("plans", key, made)

    @cached_property
    def _toward_sun(self) -> Direction:
        return sun_direction(self.sun)

    @cached_property
    def _toward_light(self) -> Direction:
        return light_direction(self.light, self.sun, None if self.shade is None else self.shade.skyline_transmittance)

    def _axis_years(self, mount: OneAxisMount) -> list[Production]:
        """Years of a rolling mount at each of its axis tilts."""
        return [self.production(mount.at_axis_tilt(float(tilt))) for tilt in mount.set_tilts]
