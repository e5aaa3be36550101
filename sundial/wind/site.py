"""From a scene to its wind: what stands, what blows in each month, and at which tilts it may stand."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from sundial.brief.model import MadeUpSky, WindBrief
from sundial.days import MONTH_OF_HOUR
from sundial.errors import BriefError
from sundial.frames.kind import Structure
from sundial.scene import Scene
from sundial.sky.made_up import climate_named, turned
from sundial.stands.kind import Stand
from sundial.stands.registry import stand_of
from sundial.wind.pressure import (
    Coefficients,
    air_density,
    at_height,
    standard_coefficients,
    surroundings_named,
)
from sundial.wind.stance import Rig
from sundial.wind.standing import Air

Floats = NDArray[np.float64]
STRONG = 0.99  # of the hours of a month: the strong wind whose gust counts
ALL_YEAR = "your strongest gust, held for every month until you give gusts by month"


@dataclass(frozen=True, eq=False)
class Gusts:
    """Strong gust of each month (12,), m/s as told, where it is from, and the ``strongest`` of all."""

    months: Floats
    source: str
    strongest: float


def wind_of(scene: Scene) -> WindBrief:
    """The brief's wind; BriefError where it has none."""
    if scene.brief.wind is None:
        raise BriefError("wind", "is missing: say how hard it blows and what holds the frame")
    return scene.brief.wind


def assumed_structure(scene: Scene) -> Structure:
    """The told frame; where none is told, legs under both edges, or a pole for what a motor turns."""
    if scene.structure is not None:
        return scene.structure
    found = scene.brief.mount.assumed_structure(scene.brief.array.clearance, scene.array.slope_length)
    stand = scene.brief.stand
    return replace(found, slope=stand.slope) if stand is not None and stand.slope and found.on_trestles else found


def stand_in(scene: Scene) -> Stand:
    """What the build stands on."""
    wind, stand = scene.brief.wind, scene.brief.stand
    carried_by = "ground" if wind is None else wind.carried_by
    return stand_of(carried_by, assumed_structure(scene), None if stand is None else stand.on)


def is_anchored(scene: Scene) -> bool:
    """Whether its footing holds it: as told, else as what it stands on does."""
    told = wind_of(scene).anchored
    return stand_in(scene).anchors if told is None else told


def rig_of(scene: Scene) -> Rig:
    """What stands in the wind. BriefError where nothing of it weighs anything."""
    wind, array, structure = wind_of(scene), scene.array, assumed_structure(scene)
    moving = array.count * array.panel.mass + structure.mass
    whole = structure.mass if wind.frame_mass is None else max(wind.frame_mass, structure.mass)
    if moving + whole + wind.ballast <= 0:
        raise BriefError("wind.frame_mass", "nothing here weighs anything: give the mass of a panel, or of the frame")
    feet = None
    if wind.feet is not None:
        feet = (min(wind.feet), max(wind.feet))
        if feet[1] - feet[0] < 0.05:
            raise BriefError("wind.feet", "the two lines that it stands on are one and the same")
    return Rig(
        structure=structure, length=array.slope_length, breadth=array.breadth, area=array.area, moving=moving,
        fixed=whole - structure.mass, ballast=wind.ballast, friction=wind.friction, feet=feet, width=wind.width,
        anchored=is_anchored(scene), raised=scene.raised,
    )  # fmt: skip


def air_of(scene: Scene) -> Air:
    """How the wind meets it."""
    wind = wind_of(scene)
    measured = None if wind.gust_height == "panel" else float(wind.gust_height)
    exponent = surroundings_named(wind.surroundings).exponent
    return Air(air_density(scene.site.elevation), _coefficients(wind), wind.blocked, measured, exponent)


def _coefficients(wind: WindBrief) -> Coefficients:
    if wind.table is None:
        return standard_coefficients()
    rows = np.array(sorted(wind.table))
    if np.unique(rows[:, 0]).size < len(rows):
        raise BriefError("wind.table", "names a tilt twice")
    return Coefficients(rows[:, 0], rows[:, 1], rows[:, 2])


def gusts_of(scene: Scene) -> Gusts:
    """Strong gusts by month: as told; while they are not, the strongest that is told holds all year; else of an invented climate's table, else
    the hour that one in a hundred exceeds, times the gust factor of the surroundings. What is not told is from 10 m, and brought to the height
    at which gusts are told here."""
    wind, sky = wind_of(scene), scene.brief.sky
    if wind.gusts is not None:
        months, source = np.array(wind.gusts), "as you gave them"
    elif wind.gust is not None:
        months, source = np.full(12, wind.gust), ALL_YEAR
    elif isinstance(sky, MadeUpSky):
        months, source = turned(climate_named(sky.name).gust, scene.site.latitude), "made up, with the sky"
    else:
        factor = surroundings_named(wind.surroundings).gust_factor
        hours = scene.weather.wind_speed
        months = np.array([np.quantile(hours[month == MONTH_OF_HOUR], STRONG) for month in range(12)]) * factor
        source = f"the windiest hour in a hundred of the weather year, times {factor:g}"
    if wind.gusts is None and wind.gust is None and wind.gust_height != 10:
        months = months * _from_ten(scene)
    strongest = float(months.max()) if wind.gust is None else wind.gust
    return Gusts(np.maximum(months, 0.1), source, strongest)


def _from_ten(scene: Scene) -> float:
    """A gust at the told height over one at 10 m."""
    wind = wind_of(scene)
    exponent = surroundings_named(wind.surroundings).exponent
    height = scene.array.clearance + scene.array.slope_length / 4 if wind.gust_height == "panel" else float(wind.gust_height)
    return float(at_height(np.array([height]), 10.0, exponent)[0])


def settable(scene: Scene) -> Floats:
    """The tilts that a plan may choose from and the tilt from level in the side view that each one is, (T, 2), rising."""
    return scene.brief.mount.settable(scene.structure, wind_of(scene).stow)


def own_tilts(scene: Scene) -> Floats:
    """The tilts that the mount itself takes, flattest first, degrees from level: what the wind may meet."""
    return scene.brief.mount.own_tilts(settable(scene), wind_of(scene).stow)
