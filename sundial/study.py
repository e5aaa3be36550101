"""One brief, studied: its weather, light, surface and plans, each computed once and shared by every answer."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from sundial.brief.model import (
    Brief,
    FileSky,
    FixedMount,
    MonthlySky,
    Motor,
    OneAxisMount,
    SteppedMount,
    TwoAxisMount,
)
from sundial.brief.wishes import days_there, reachable_tilts
from sundial.brief.yard import yard_of
from sundial.days import DAYS, per_month
from sundial.energy.light import Light, light_direction, light_of_year, sun_direction
from sundial.energy.production import Production, TiltSurface, produce, tilt_surface
from sundial.energy.shaded import Seen, Shade
from sundial.energy.system import Inverter, System
from sundial.errors import BriefError
from sundial.frame.mounts import Direction, Drive, Facing, Fixed, Mount, OneAxis, Stepped, TwoAxis
from sundial.frame.panels import Array, Panel
from sundial.plan.rivals import Effort, Rival, rivals
from sundial.plan.tilt_plan import Plans, Wish, make_plans
from sundial.shade.leaves import usual_leaf_months
from sundial.shade.sight import SunBins, refuse_inside, sun_bins
from sundial.shade.skyline import Kind, Skyline
from sundial.shade.standing import Part, Split, Spot, Standing
from sundial.shade.strings import Wiring
from sundial.shade.yard import Yard
from sundial.sky.weather_year import WeatherYear
from sundial.sun import Site, SunYear, sun_year
from sundial.worth.finance import Terms, grid_price

Floats = NDArray[np.float64]
OneOfMounts = FixedMount | SteppedMount | OneAxisMount | TwoAxisMount
WISH = ("months", "demand", "cap", "floor", "weekdays", "year", "slack")  # what, beside the goal, a plan follows from
WHOLE_DEGREES: Floats = np.arange(0.0, 91.0)


def _no_file(name: str) -> bytes:
    raise BriefError("sky.file", f"{name!r} cannot be read here")


@dataclass(frozen=True, eq=False)
class Kept:
    """What was worked out for one place, sky and array, and holds whatever the wish, the prices or the options are:
    years of mounts, plans by the wish behind them, tilt surfaces by their azimuth, and surfaces with one thing thought away."""

    years: dict[tuple[str, int], Production] = field(default_factory=dict)
    plans: dict[tuple[object, ...], Plans] = field(default_factory=dict)
    surfaces: dict[float, TiltSurface] = field(default_factory=dict)
    without: dict[str, TiltSurface] = field(default_factory=dict)


@dataclass(frozen=True, eq=False)
class Traced:
    """What was traced for one shape of array at one spot in one yard under one path of the sun: still facings by tilt and
    azimuth, and tilts at which the array is known to be ``clear`` of everything."""

    sights: dict[tuple[float, float], Seen] = field(default_factory=dict)
    clear: set[float] = field(default_factory=set)


@dataclass(frozen=True, eq=False)
class Study:
    """Everything that follows from one brief. ``load`` gives the bytes of a file that the brief names.

    ``given_weather`` and ``given_surface`` save reading, growing or computing them again; ``kept`` may be
    shared by studies that differ in plan, prices or options only; ``traced`` by all with the same
    latitude, longitude, clock, yard, spot, wiring and shape of array; ``shades`` (at most one, with what was worked out of it) by
    those that also have the same light and skyline.
    """

    brief: Brief
    load: Callable[[str], bytes] = _no_file
    given_weather: WeatherYear | None = None
    given_surface: TiltSurface | None = None
    kept: Kept = field(default_factory=Kept)
    given_light: Light | None = None
    traced: Traced = field(default_factory=Traced)
    shades: list[Shade] = field(default_factory=list)

    @cached_property
    def site(self) -> Site:
        return Site(**self.brief.site.model_dump())

    @cached_property
    def weather(self) -> WeatherYear:
        return self.given_weather or self._weather()

    def _weather(self) -> WeatherYear:
        sky = self.brief.sky
        if isinstance(sky, FileSky):
            from sundial.sky import files

            readers = {"epw": files.read_epw, "tmy3": files.read_tmy3, "hourly": files.read_hourly}
            return readers[sky.kind](self.load(sky.file), self.site, sky.shift_minutes)
        if isinstance(sky, MonthlySky):
            from sundial.sky.grow import grow_year

            return grow_year(
                self.site,
                per_month(sky.ghi, "sky.ghi"),
                per_month(sky.temp_air, "sky.temp_air"),
                per_month(sky.wind_speed, "sky.wind_speed"),
                sky.seed,
                source="Grown from twelve monthly numbers",
                trust="Grown from monthly means: good for fixed and hand-moved tilts; trackers are its least sure figure.",
            )
        from sundial.sky.made_up import made_up_year

        return made_up_year(sky.name, self.site, sky.seed)

    @cached_property
    def sun(self) -> SunYear:
        return sun_year(self.site, self.weather.utc_offset)

    @cached_property
    def light(self) -> Light:
        """The light of the open sky."""
        if self.given_light is not None:
            return self.given_light
        albedo = per_month(self.brief.ground.albedo, "ground.albedo")
        return light_of_year(self.weather, self.sun, albedo, self.brief.system.transposition)

    @cached_property
    def skyline(self) -> Skyline | None:
        points = self.brief.horizon
        if not points:
            return None
        kinds: tuple[Kind, ...] = tuple(point[2] if len(point) == 3 else "solid" for point in points)
        months = self.brief.leaf_months
        leaf = usual_leaf_months(self.site.latitude) if months is None else frozenset(months)
        return Skyline(tuple((float(p[0]), float(p[1])) for p in points), kinds if set(kinds) != {"solid"} else (), leaf)

    @cached_property
    def yard(self) -> Yard:
        return self.shades[0].yard if self.shades else yard_of(self.brief.yard)

    @cached_property
    def stand(self) -> Standing:
        """The array at its spot."""
        spot, mount, wiring = self.brief.spot, self.brief.mount, self.brief.wiring
        split = spot.split and Split(spot.split.groups, spot.split.how, spot.split.distance)
        parts = tuple(Part(part.name, part.along, part.up, part.off) for part in spot.parts)
        hub = isinstance(mount, OneAxisMount | TwoAxisMount)
        place = Spot(spot.x, spot.y, split if split and split.groups > 1 else None, parts, hub)
        wired = Wiring(wiring.kind, tuple(tuple(string) for string in wiring.strings))
        return Standing(self.array, place, self.yard.ground, wired)

    @cached_property
    def middle(self) -> Floats:
        """The middle of the array as it mostly stands (3,), m: the spot from which its sky is looked at."""
        tilt = float(np.abs(self.own_facing[0].surface_tilt).mean())
        middle: Floats = self.stand.middles(tilt, self.azimuth).mean(axis=0)
        return middle

    @cached_property
    def sun_bins(self) -> SunBins:
        """The year's sun gathered into bins, as from sea level: they stay the same whatever the air does."""
        year = sun_year(replace(self.site, elevation=0.0), self.weather.utc_offset)
        turn = np.radians(year.azimuth)
        bins = sun_bins(year.sin_zenith * np.sin(turn), year.sin_zenith * np.cos(turn), year.cos_zenith)
        return SunBins(bins.directions, bins.of_hour[self.light.hours])

    @property
    def _ends_of_tilt(self) -> set[float]:
        """The flattest and steepest that the mount can lie, degrees."""
        mount = self.brief.mount
        if isinstance(mount, FixedMount):
            return {abs(mount.tilt)}
        if isinstance(mount, SteppedMount):
            return {max(float(self.reachable[0]), 0.0), float(self.reachable[-1])}
        return {0.0, mount.limit if isinstance(mount, OneAxisMount) and mount.limit < 90 else 60.0}

    @cached_property
    def shade(self) -> Shade | None:
        """What stands in the light's way, or None under an open sky."""
        if self.skyline is None and not self.yard.things and self.stand.groups == 1 and not self.stand.spot.parts:
            return None
        _ = self.stand.samples  # a wiring or a split that cannot be is refused here
        for tilt in self._ends_of_tilt - self.traced.clear:
            refuse_inside(self.stand, self.yard, tilt, self.azimuth)
            self.traced.clear.add(tilt)
        if not self.shades:
            made = Shade(self.light, self.stand, self.yard, self.skyline, given_bins=self.sun_bins, sights=self.traced.sights)
            self.shades.append(made)
        return self.shades[0]

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
        other = Study(brief, self.load, self.weather, given_light=self.light)
        other.__dict__["sun_bins"] = self.sun_bins
        if brief.yard == self.brief.yard:
            other.__dict__["yard"] = self.yard  # with its solids
        return other

    @cached_property
    def azimuth(self) -> float:
        """Facing of the array: the brief's, or toward the equator."""
        chosen = self.brief.array.azimuth
        return self.site.equator_ward if chosen is None else chosen % 360

    @cached_property
    def array(self) -> Array:
        brief, panel = self.brief.array, self.brief.panel
        return Array(
            Panel(
                panel.power, panel.length, panel.width, panel.mass, panel.gamma, panel.bifaciality, panel.blocks, panel.half_cut
            ),
            brief.rows,
            brief.columns,
            self.azimuth,
            brief.orientation == "portrait",
            brief.clearance,
        )

    @cached_property
    def system(self) -> System:
        system = self.brief.system
        losses = {name: per_month(value, f"system.losses.{name}") for name, value in system.losses.model_dump().items()}
        return System(self.array, losses, system.mounting, Inverter(system.inverter.efficiency, system.inverter.power))

    @cached_property
    def reachable(self) -> Floats:
        """Tilts that the frame reaches, rising; every whole degree where the mount is not stepped."""
        mount = self.brief.mount
        if not isinstance(mount, SteppedMount):
            return WHOLE_DEGREES
        return reachable_tilts(mount)

    def surface(self, azimuth: float | None = None) -> TiltSurface:
        """The tilt surface at an azimuth (the array's own unless told), computed once."""
        facing = self.azimuth if azimuth is None else azimuth % 360
        given = self.given_surface
        if given is not None and given.azimuth == facing:
            return given
        if facing not in self.kept.surfaces:
            low = -90.0 if self.reachable[0] < 0 else 0.0
            tilts = np.union1d(np.arange(low, 91.0), self.reachable)
            self.kept.surfaces[facing] = tilt_surface(self.light, self.system, facing, tilts, self.shade)
        return self.kept.surfaces[facing]

    def surface_without(self, name: str) -> TiltSurface:
        """The array's own surface with one thing thought away."""
        if name not in self.kept.without:
            tilts = self.surface().tilts
            self.kept.without[name] = tilt_surface(self.light, self.system, self.azimuth, tilts, self.shade, frozenset({name}))
        return self.kept.without[name]

    def wish(self, every_tilt: bool = False, goal: str | None = None, by: str = "energy") -> Wish:
        """The plan's wish as the brief states it."""
        plan = self.brief.plan
        return Wish(
            tilts=WHOLE_DEGREES if every_tilt else self.reachable,
            goal=goal or plan.goal,  # type: ignore[arg-type]
            months=tuple(plan.months or ()),
            demand=np.array(plan.demand) if plan.demand else None,
            cap=np.array(plan.cap) if plan.cap else None,
            floor=np.array(plan.floor) if plan.floor else None,
            may_move=days_there(plan.weekdays, plan.year),
            slack=plan.slack,
            by=by,  # type: ignore[arg-type]
        )

    def plans(self, every_tilt: bool = False, goal: str | None = None, by: str = "energy") -> Plans:
        """Plans for 1 to 12 settings a year, computed once per question."""
        key = (every_tilt, goal or self.brief.plan.goal, by, self._wish_text)
        if key not in self.kept.plans:
            self.kept.plans[key] = make_plans(self.surface(), self.wish(every_tilt, goal, by), self.site.latitude)
        return self.kept.plans[key]

    @cached_property
    def _wish_text(self) -> str:
        return self.brief.plan.model_dump_json(include=set(WISH))

    @cached_property
    def hand_axis(self) -> OneAxisMount | None:
        """The mount, where it is one axis whose tilt is set by hand: then the plan is for the axis."""
        mount = self.brief.mount
        return mount if isinstance(mount, OneAxisMount) and len(set(mount.axis_tilts or ())) > 1 else None

    @cached_property
    def plan_surface(self) -> TiltSurface:
        """What the tilt plan is read off: the plane's surface, or that of a hand-set axis while it rolls."""
        if self.hand_axis is None:
            return self.surface()
        tilts, years = self._axis_years(self.hand_axis)
        energy = np.stack([year.energy for year in years], axis=1)
        return TiltSurface(tilts, self.azimuth, energy, np.stack([year.irradiation for year in years], axis=1))

    @cached_property
    def plan_tilts(self) -> Floats:
        """Tilts that the plan may choose from."""
        return self.reachable if self.hand_axis is None else self.plan_surface.tilts

    @cached_property
    def own_plans(self) -> Plans:
        """The plans of this build's own mount, for 1 to 12 settings a year."""
        if self.hand_axis is None:
            return self.plans()
        key = ("hand axis", self.brief.plan.goal, self._wish_text)
        if key not in self.kept.plans:
            wish = replace(self.wish(), tilts=self.plan_tilts)
            self.kept.plans[key] = make_plans(self.plan_surface, wish, self.site.latitude)
        return self.kept.plans[key]

    def rivals(self) -> list[Rival]:
        return rivals(self.plan_surface, self.plan_tilts, self.site.latitude, self.brief.plan.tilt_now)

    @cached_property
    def terms(self) -> Terms:
        worth, use = self.brief.worth, self.brief.use
        price = grid_price(use.import_price, use.export_price, use.own_share)
        return Terms(worth.life, worth.interest, worth.price_growth, worth.ageing, price)

    @cached_property
    def effort(self) -> Effort:
        plan = self.brief.plan
        return Effort(plan.minutes_per_move, plan.people, plan.value_of_hour, self.terms.price)

    def production(self, mount: OneOfMounts | None = None, settings: int | None = None) -> Production:
        """The year of one way of holding the panels: the brief's own mount unless told."""
        chosen = mount or self.brief.mount
        if isinstance(chosen, SteppedMount) and mount is None:
            held = self._stepped(self.plans(), settings or self.brief.plan.moves)
            return produce(self.light, self.system, self._facing(held, None), None, self.shade)
        if settings is None:
            settings = self.brief.plan.moves if isinstance(chosen, SteppedMount) else 2
        key = (chosen.model_dump_json(), settings)
        if key not in self.kept.years:
            self.kept.years[key] = self._year_of(chosen, settings)
        return self.kept.years[key]

    def _stepped(self, plans: Plans, settings: int) -> Stepped:
        return Stepped(plans.with_settings(settings).tilt_by_day, self.azimuth)

    def _year_of(self, chosen: OneOfMounts, settings: int) -> Production:
        facing, drive = self._facing_of(chosen, settings)
        tracker = isinstance(chosen, OneAxisMount | TwoAxisMount)
        return produce(self.light, self.system, facing, drive, self._shade_on_pole if tracker else self.shade)

    @cached_property
    def _shade_on_pole(self) -> Shade | None:
        """The shade of a tracker at the same spot: it turns about its middle, whatever the build's own mount does."""
        if self.shade is None or self.stand.spot.hub:
            return self.shade
        standing = replace(self.stand, spot=replace(self.stand.spot, hub=True))
        return Shade(self.light, standing, self.yard, self.skyline, given_bins=self.sun_bins)

    def _facing_of(self, chosen: OneOfMounts, settings: int) -> tuple[Facing, Drive | None]:
        """How a mount faces hour by hour, and what drives it."""
        if isinstance(chosen, FixedMount):
            return self._facing(Fixed(chosen.tilt, self.azimuth), None), None
        if isinstance(chosen, SteppedMount):
            return self._facing(self._stepped(self._plans_for(chosen), settings), None), None
        drive = Drive(chosen.standby_watts, chosen.moving_watts, chosen.speed)
        if isinstance(chosen, TwoAxisMount):
            two = TwoAxis(chosen.min_tilt, chosen.max_tilt, self.azimuth, chosen.azimuth_limit)
            return self._facing(two, chosen), drive
        if chosen.axis_tilts:
            return self._hand_set_axis(chosen, settings), drive
        return self._facing(self.one_axis(chosen, chosen.axis_tilt), chosen), drive

    @cached_property
    def own_facing(self) -> tuple[Facing, Drive | None]:
        """How this build's own mount faces hour by hour under its plan, and what drives it."""
        mount, settings = self.brief.mount, self.brief.plan.moves
        if isinstance(mount, SteppedMount):
            return self._facing(self._stepped(self.plans(), settings), None), None
        return self._facing_of(mount, 2)

    def standing(self, tilt: float) -> Production:
        """The year of a plane that stays at ``tilt``."""
        return self.production(FixedMount(kind="fixed", tilt=tilt))

    def one_axis(self, mount: OneAxisMount, axis_tilt: float) -> OneAxis:
        azimuth = self.site.equator_ward if mount.axis_azimuth is None else mount.axis_azimuth % 360
        return OneAxis(axis_tilt, azimuth, mount.limit, mount.backtrack, mount.ground_cover)

    def _plans_for(self, mount: SteppedMount) -> Plans:
        tilts = reachable_tilts(mount)
        key = ("mount", tuple(tilts))
        if key not in self.kept.plans:
            surface = tilt_surface(self.light, self.system, self.azimuth, np.union1d(tilts, [0.0, 90.0]), self.shade)
            self.kept.plans[key] = make_plans(surface, Wish(tilts), self.site.latitude)
        return self.kept.plans[key]

    def _facing(self, mount: Mount, motor: Motor | None) -> Facing:
        lean = motor is not None and motor.aim == "light"
        return mount.facing(self._toward_light if lean else self._toward_sun)

    @cached_property
    def _toward_sun(self) -> Direction:
        return sun_direction(self.sun)

    @cached_property
    def _toward_light(self) -> Direction:
        return light_direction(self.light, self.sun, None if self.shade is None else self.shade.past_skyline)

    def _axis_years(self, mount: OneAxisMount) -> tuple[Floats, list[Production]]:
        """Years of a rolling mount at each of its axis tilts."""
        tilts = np.unique(np.array(mount.axis_tilts, dtype=float))
        single = [mount.model_copy(update={"axis_tilts": None, "axis_tilt": float(tilt)}) for tilt in tilts]
        return tilts, [self.production(one) for one in single]

    def _hand_set_axis(self, mount: OneAxisMount, settings: int) -> Facing:
        """One axis whose tilt is set by hand: the exact plan over the energies of each axis tilt."""
        tilts, years = self._axis_years(mount)
        if len(tilts) == 1:
            return self._facing(self.one_axis(mount, float(tilts[0])), mount)
        energy = np.stack([year.energy for year in years], axis=1)
        surface = TiltSurface(tilts, self.azimuth, energy, energy)
        plan = make_plans(surface, Wish(tilts), self.site.latitude, settings)
        held = np.searchsorted(tilts, np.array(plan.with_settings(settings).tilt_by_day))
        facings = {i: self._facing(self.one_axis(mount, float(tilts[i])), mount) for i in np.unique(held)}
        at = np.repeat(np.searchsorted(list(facings), held), 24)
        return Facing(
            np.choose(at, [facing.surface_tilt for facing in facings.values()]),
            np.choose(at, [facing.surface_azimuth for facing in facings.values()]),
            np.choose(at, [_served(facing) for facing in facings.values()]),
        )


def _served(facing: Facing) -> NDArray[np.bool_]:
    return np.ones(DAYS * 24, dtype=bool) if facing.in_service is None else facing.in_service
