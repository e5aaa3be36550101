"""The scene that a brief describes: place, sky, irradiance, array, reach of the mount, obstacles; each built once."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from sundial.brief.house import own_house
from sundial.brief.model import Brief, FileSky, MonthlySky, WorldSky
from sundial.brief.yard import yard_of
from sundial.days import per_month
from sundial.energy.irradiance import IrradianceComponents, irradiance_components, light_direction, sun_direction
from sundial.energy.production import Production, produce
from sundial.energy.rear import Tables
from sundial.energy.shaded import Shade, ShadeCache, TraceCache
from sundial.energy.system import Inverter, System
from sundial.errors import BriefError
from sundial.frame.panels import Array, Panel
from sundial.frames.kind import Structure
from sundial.mounts.facing import Direction, Drive, Facing
from sundial.mounts.kind import Aim, MountBrief
from sundial.mounts.stepped import Stepped
from sundial.shade.array_trace import refuse_inside
from sundial.shade.budget import refuse_too_much
from sundial.shade.geometry import ArrayGeometry, FramePart, Split, Spot
from sundial.shade.leaves import usual_leaf_months
from sundial.shade.skyline import Kind, Skyline
from sundial.shade.strings import Wiring
from sundial.shade.sun_bins import SunBins, sun_bins
from sundial.shade.yard import Thing, Yard
from sundial.sky.weather_year import WeatherYear
from sundial.stands.registry import stands
from sundial.sun import Site, SunYear, sun_year

Floats = NDArray[np.float64]


def no_file(name: str) -> bytes:
    raise BriefError("sky.file", f"{name!r} cannot be read here")


@dataclass(frozen=True, eq=False)
class Scene:
    """What one brief describes. ``load`` gives the bytes of a file that the brief names.

    ``given_weather``, ``given_sun``, ``given_light``, ``given_bins`` and ``given_yard`` save reading, synthesising, splitting or
    building them again. ``traces`` may be shared by scenes with the same latitude, longitude, clock, yard, spot, wiring and shape of
    array; ``shade_cache`` by those that also have the same light and skyline.
    """

    brief: Brief
    load: Callable[[str], bytes] = no_file
    given_weather: WeatherYear | None = None
    given_sun: SunYear | None = None
    given_light: IrradianceComponents | None = None
    given_bins: SunBins | None = None
    given_yard: Yard | None = None
    traces: TraceCache = field(default_factory=TraceCache)
    shade_cache: ShadeCache = field(default_factory=ShadeCache)

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
            from sundial.sky.synthetic import synthesise_year

            return synthesise_year(
                self.site,
                per_month(sky.ghi, "sky.ghi"),
                per_month(sky.temp_air, "sky.temp_air"),
                per_month(sky.wind_speed, "sky.wind_speed"),
                sky.seed,
                dhi=None if sky.dhi is None else per_month(sky.dhi, "sky.dhi"),
                source=f"Grown from {'twelve' if sky.dhi is None else 'twenty-four'} monthly numbers"
                + (f" learned here, from {sky.learned_days} days" if sky.learned_days else ""),
                trust="Grown from monthly means: good for fixed and hand-moved tilts; trackers are its least sure figure."
                if sky.dhi is None
                else "Grown from monthly means of all light and of its diffuse part: trackers are surer than from twelve numbers.",
            )
        if isinstance(sky, WorldSky):
            from sundial.sky.world import world_year

            return world_year(self.site, sky.seed)
        from sundial.sky.made_up import made_up_year

        return made_up_year(sky.name, self.site, sky.seed)

    @cached_property
    def sun(self) -> SunYear:
        return self.given_sun or sun_year(self.site, self.weather.utc_offset)

    @cached_property
    def light(self) -> IrradianceComponents:
        """The light of the open sky."""
        if self.given_light is not None:
            return self.given_light
        albedo = per_month(self.brief.ground.albedo, "ground.albedo")
        return irradiance_components(self.weather, self.sun, albedo, self.brief.system.transposition)

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
    def _drawn_yard(self) -> Yard:
        """What the brief says stands in it."""
        return yard_of(self.brief.yard) if self.given_yard is None else self.given_yard

    @cached_property
    def yard(self) -> Yard:
        """Everything near the panels, the house they hang on with it, last."""
        drawn = self._drawn_yard
        return Yard((*drawn.things, *self.own_house), drawn.ground) if self.own_house else drawn

    @cached_property
    def own_house(self) -> tuple[Thing, ...]:
        """The house that it hangs on, as things that nobody drew."""
        stand = self.brief.stand
        if stand is None or stand.house is None:
            return ()
        taken = [thing.name for thing in self._drawn_yard.things]
        return own_house(stand.house, self.geometry, self.azimuth, sorted(self._ends_of_tilt), taken)

    @cached_property
    def geometry(self) -> ArrayGeometry:
        """The array at its spot."""
        spot, mount, wiring = self.brief.spot, self.brief.mount, self.brief.wiring
        split = spot.split and Split(spot.split.groups, spot.split.how, spot.split.distance)
        parts = tuple(FramePart(part.name, part.along, part.up, part.off) for part in spot.parts)
        centre_pivot = mount.centre_pivot or (self.structure is not None and self.structure.centre_pivot)
        place = Spot(spot.x, spot.y, split if split and split.groups > 1 else None, parts, centre_pivot)
        wired = Wiring(wiring.kind, tuple(tuple(string) for string in wiring.strings), tuple(wiring.unwired))
        return ArrayGeometry(self.array, place, self._drawn_yard.ground, wired)

    @cached_property
    def sun_bins(self) -> SunBins:
        """The year's sun gathered into bins, as from sea level: they stay the same whatever the air does."""
        if self.given_bins is not None:
            return self.given_bins
        year = sun_year(replace(self.site, elevation=0.0), self.weather.utc_offset)
        turn = np.radians(year.azimuth)
        bins = sun_bins(year.sin_zenith * np.sin(turn), year.sin_zenith * np.cos(turn), year.cos_zenith)
        return SunBins(bins.directions, bins.of_hour[self.light.hours])

    @property
    def _ends_of_tilt(self) -> set[float]:
        """The flattest and steepest that the mount can lie, degrees."""
        return self.brief.mount.ends_of_tilt(self.reachable)

    @cached_property
    def shade(self) -> Shade | None:
        """What stands in the light's way, or None under an open sky."""
        if not self.obstructed:
            return None
        self.refuse()
        return Shade(
            self.light,
            self.geometry,
            self.yard,
            self.skyline,
            given_bins=self.sun_bins,
            traces=self.traces,
            cache=self.shade_cache,
        )

    @property
    def obstructed(self) -> bool:
        """Whether anything may stand in the light's way."""
        if self.skyline is not None or self.yard.things:
            return True
        return self.geometry.groups > 1 or bool(self.geometry.spot.parts)

    def refuse(self) -> None:
        """BriefError where the parts of the scene do not fit together; nothing is traced and no year computed."""
        _ = self.site, self.system, per_month(self.brief.ground.albedo, "ground.albedo")
        self._refuse_another_tilt()
        if not self.obstructed:
            return
        refuse_too_much(self.yard, self.geometry)  # and a wiring or a split that cannot be
        for tilt in self._ends_of_tilt:
            self.traces.get("clear", tilt, lambda tilt=tilt: self._clear(tilt))  # type: ignore[misc]

    def _refuse_another_tilt(self) -> None:
        """BriefError where a fixed mount is told to stand as its frame does not."""
        structure, fixed = self.structure, self.brief.mount.fixed_tilt
        if structure is None or fixed is None or not structure.says_tilts:
            return
        nearest = min(structure.tilts, key=lambda tilt: abs(tilt - fixed))
        if abs(nearest - fixed) > 0.5:
            raise BriefError(
                "mount.tilt", f"as it is built the frame stands at {nearest:.1f} degrees: give that, or change its measures"
            )

    def _clear(self, tilt: float) -> bool:
        """True, or BriefError where the array stands inside something at this tilt."""
        refuse_inside(self.geometry, self.yard, tilt, self.azimuth)
        return True

    @cached_property
    def azimuth(self) -> float:
        """Facing of the array: the brief's, or toward the equator."""
        return (self.set_out + self._turn_of_ground) % 360

    @property
    def set_out(self) -> float:
        """The facing that the frame is set out to."""
        chosen = self.brief.array.azimuth
        return self.site.equator_ward if chosen is None else chosen % 360

    @property
    def _turn_of_ground(self) -> float:
        """Degrees by which ground that falls sideways turns the glass, at the middle of the tilts that the frame reaches."""
        structure, fixed = self.structure, self.brief.mount.fixed_tilt
        if structure is None or not structure.cross_slope:
            return 0.0
        if fixed is not None:
            return structure.plane(fixed).turn
        holes = structure.holes
        return structure.plane(holes[len(holes) // 2].tilt).turn if holes else structure.plane(30.0).turn

    @cached_property
    def structure(self) -> Structure | None:
        """What the frame is built from, where the brief says so."""
        if self.brief.frame is None:
            return None
        stand, frame = self.brief.stand, self.brief.frame
        if stand is not None and stand.slope and not frame.slope:
            frame = frame.model_copy(update={"slope": stand.slope})
        return frame.structure(self.brief.array.clearance, self._slope_length)

    @property
    def _slope_length(self) -> float:
        return self._array(0.0, 0.0).slope_length

    @cached_property
    def array(self) -> Array:
        return self._array(self.azimuth, self._clearance)

    @property
    def _clearance(self) -> float:
        """Height of the lower edge over the ground, m; of what turns about a joint: as it stands upright, but not in the ground."""
        structure = self.structure
        above = self.brief.array.clearance if structure is None else structure.lowest_edge(self._slope_length)
        return above + self.raised

    @property
    def raised(self) -> float:
        """Height of what it stands on over the ground, m."""
        return self.brief.stand.height if self.brief.stand is not None else 0.0

    def _array(self, azimuth: float, clearance: float) -> Array:
        brief, panel = self.brief.array, self.brief.panel
        return Array(
            Panel(
                panel.power, panel.length, panel.width, panel.mass, panel.gamma, panel.bifaciality, panel.blocks, panel.half_cut
            ),
            brief.rows,
            brief.columns,
            azimuth,
            brief.orientation == "portrait",
            clearance,
            len(set(self.brief.wiring.unwired)),
        )

    @cached_property
    def system(self) -> System:
        system = self.brief.system
        losses = {name: per_month(value, f"system.losses.{name}") for name, value in system.losses.model_dump().items()}
        inverter = Inverter(system.inverter.efficiency, system.inverter.power)
        return System(self.array, losses, system.mounting, inverter, tables=self.tables(self.geometry))

    def tables(self, geometry: ArrayGeometry) -> Tables:
        """The array's groups as they stand over the ground."""
        split, (breadth, length) = geometry.spot.split, geometry.size
        height = geometry.height - (self.raised if self._over_a_roof else 0.0)
        if split is None:
            return Tables(breadth, length, height, geometry.spot.centre_pivot)
        pitch = split.distance + (breadth if split.how == "beside" else 0.0)
        return Tables(breadth, length, height, geometry.spot.centre_pivot, split.groups, split.how, pitch)

    @property
    def _over_a_roof(self) -> bool:
        """Whether what the backs see is the surface that it stands on, and not the ground below."""
        return self.brief.stand is not None and stands()[self.brief.stand.on]().beneath

    @cached_property
    def on_pole(self) -> ArrayGeometry:
        """The array as a tracker at the same spot: it turns about its middle, whatever the build's own mount does."""
        return replace(self.geometry, spot=replace(self.geometry.spot, centre_pivot=True))

    @cached_property
    def shade_on_pole(self) -> Shade | None:
        """What stands in the light's way of that tracker."""
        if self.shade is None or self.geometry.spot.centre_pivot:
            return self.shade
        known = TraceCache(self.traces.known)
        return Shade(self.light, self.on_pole, self.yard, self.skyline, given_bins=self.sun_bins, traces=known)

    def produced(self, chosen: MountBrief, facing: Facing, drive: Drive | None) -> Production:
        """The year of panels that a kind of mount turns as told."""
        if not chosen.centre_pivot:
            return produce(self.light, self.system, facing, drive, self.shade)
        system = replace(self.system, tables=self.tables(self.on_pole))
        return produce(self.light, system, facing, drive, self.shade_on_pole)

    def held(self, tilt_by_day: tuple[float, ...], system: System | None = None) -> Production:
        """The year of the array held at a tilt of each day (365,), on its own system unless told."""
        facing = Stepped(tilt_by_day, self.azimuth).facing(self._toward_sun)
        return produce(self.light, system or self.system, facing, None, self.shade)

    def toward(self, aim: Aim) -> Direction:
        """Where to look at each aim."""
        return self._toward_light if aim == "light" else self._toward_sun

    @cached_property
    def _toward_sun(self) -> Direction:
        return sun_direction(self.sun)

    @cached_property
    def _toward_light(self) -> Direction:
        return light_direction(self.light, self.sun, None if self.shade is None else self.shade.skyline_transmittance)

    def beside(self, brief: Brief) -> Scene:
        """The scene of a brief that differs in its yard, spot or array only: it shares the weather and the light."""
        return Scene(
            brief, self.load, self.weather, self.sun, self.light, self.sun_bins,
            self._drawn_yard if brief.yard == self.brief.yard else None,  # with its solids
            TraceCache(self.traces.known),
        )  # fmt: skip

    @cached_property
    def reachable(self) -> Floats:
        """Tilts that the frame reaches, rising; every whole degree where the mount is not stepped."""
        return self.brief.mount.reachable(self.structure)
