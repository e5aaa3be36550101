"""The rack from the side, to scale, with the noon sun of the chosen day."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from math import atan2, cos, degrees, hypot, radians, sin
from typing import Any

import numpy as np
from django.urls import reverse
from django.utils.http import urlencode

from sundial.aim.compass import noon_view
from sundial.days import date_of_day
from sundial.errors import BriefError
from sundial.quantities import FOOT
from web.builds.drawing import arc, nice_step
from web.builds.models import Build
from web.builds.results import Results
from web.frame.built_view import BuiltView, Drawing, built_view
from web.frame.stand_view import StandView, drawn_height, stand_view

WIDTH, GROUND = 340.0, 232.0
Segment = tuple[float, float, float, float]
SCALE_BAR = 72.0  # px that the bar under the rack is wide, about


@dataclass(frozen=True)
class Slope:
    """The panel as a line that turns about a point of itself: ``share`` of its ``length`` (px) lies below that point."""

    x: float
    y: float
    length: float
    share: float

    def point(self, along: float, tilt: float) -> tuple[float, float]:
        """Where the share ``along`` of the slope, counted from the lower edge, stands at ``tilt`` degrees."""
        reach = (along - self.share) * self.length
        return round(self.x + reach * cos(radians(tilt)), 1), round(self.y - reach * sin(radians(tilt)), 1)


@dataclass(frozen=True)
class SideView:
    """Where everything stands in the drawing, px, and what the browser needs to let the panel be dragged."""

    hinge_x: float
    hinge_y: float
    low_x: float
    low_y: float
    tilt: float
    arc: str
    label_x: float
    label_y: float
    leg_x: float
    leg_top: float
    handle_x: float
    handle_y: float
    rays: list[Segment]
    hole_marks: list[Segment]
    ground: float
    scale_px: float
    scale_text: str
    pole: bool
    incidence: float
    noon: float
    noon_clock: str
    day_energy: float
    year_energy: float
    moved_by: str
    moved_energy: float
    facing: float
    lowest: float
    highest: float
    data: dict[str, Any]
    built: BuiltView | None = None
    over_by_hand: float = 0.0
    foot: float = GROUND
    stand: StandView | None = None


def side_view(build: Build, results: Results, tilt: float) -> SideView:
    """The rack at ``tilt`` on the chosen day; an axis set by hand while its motor rolls it."""
    study = results.study
    surface, array = study.plan_surface, study.scene.array
    view = noon_view(study.scene.site, date_of_day(build.chosen_day), surface.tilts, study.scene.azimuth)
    pole = study.brief.mount.motors > 0 and study.brief.mount.centre_pivot
    built = None
    if study.scene.structure is not None:
        address = f"{reverse('frame:poses', args=[build.pk])}?{urlencode({'tilt': str(tilt), 'v': str(build.version)})}"
        built = built_view(drawing_of(build, results, tilt), address)
        slope, scale = _built_slope(built), built.scale
    else:
        own = array.clearance - study.scene.raised + drawn_height(study.scene)
        slope, scale = _slope(array.slope_length, own, pole)
    profile = _profile(view.elevation, view.azimuth, study.scene.azimuth)
    day, year = surface.energy[build.chosen_day], surface.energy.sum(axis=0)
    column = int(np.abs(surface.tilts - tilt).argmin())
    unit = FOOT if build.units == "us" else 1.0
    step = nice_step(SCALE_BAR / (scale * unit), 1)
    stops, mount = stops_of(results), study.brief.mount
    moved_by = "turning it" if mount.hand == "facing" else "the plan"
    if mount.motors and study.hand_axis is None:
        moved_by = "the motor"
    by_hand = results.plan.chosen.energy
    moved_energy = by_hand if moved_by == "the plan" else results["made"].year
    foot = round(GROUND - drawn_height(study.scene) * scale, 1)
    low, leg, handle = slope.point(0, tilt), slope.point(0.75, tilt), slope.point(1, tilt)
    if built is not None:
        low, handle = built.pose.glass
    label = _label(slope, tilt) if built is None else (handle[0] - 15, handle[1] - 6)
    return SideView(
        hinge_x=slope.x,
        hinge_y=slope.y,
        low_x=low[0],
        low_y=low[1],
        tilt=tilt,
        arc=arc(slope.x, slope.y, 46, tilt),
        label_x=label[0],
        label_y=label[1],
        leg_x=leg[0],
        leg_top=leg[1],
        handle_x=handle[0],
        handle_y=handle[1],
        rays=_rays(slope, tilt, profile) if view.elevation > 0 else [],
        hole_marks=[(*slope.point(1.07, stop), *slope.point(1.12, stop)) for stop in stops] if len(stops) < 60 else [],
        ground=GROUND,
        foot=foot,
        stand=stand_view(study.scene, (low, handle), foot, GROUND, scale, build.shown_in),
        scale_px=round(step * unit * scale, 1),
        scale_text=f"{step:g} {'ft' if build.units == 'us' else 'm'}",
        pole=pole,
        incidence=float(view.incidence[column]),
        noon=view.elevation,
        noon_clock=view.clock,
        day_energy=float(day[column]),
        year_energy=float(year[column]),
        moved_by=moved_by,
        moved_energy=moved_energy,
        over_by_hand=moved_energy - by_hand,
        facing=study.scene.azimuth,
        lowest=stops[0],
        highest=stops[-1],
        data={
            "hinge": [slope.x, slope.y],
            "length": slope.length,
            "share": slope.share,
            "ground": foot,
            "sun": round(profile, 2) if view.elevation > 0 else None,
            "tilts": [float(t) for t in surface.tilts],
            "stops": stops,
            "day": _rounded(day, 2),
            "year": _rounded(year, 1),
            "incidence": _rounded(view.incidence, 1),
            "built": built.data if built else None,
        },
        built=built,
    )


def stops_of(results: Results) -> list[float]:
    """Tilts at which a hand can leave the panel, degrees."""
    study = results.study
    mount, structure = study.brief.mount, study.scene.structure
    if mount.fixed_tilt is not None and structure is not None and structure.says_tilts:
        return list(structure.tilts)  # it stands in one of its holes
    return [float(t) for t in (study.plan_tilts if study.hand_axis is not None else study.scene.reachable)]


def drawing_of(build: Build, results: Results, tilt: float) -> Drawing:
    """The picture of a build whose frame is told, from the side. BriefError where none is."""
    scene = results.study.scene
    if scene.structure is None:
        raise BriefError("frame", "is not told: there is nothing to draw")
    return Drawing(scene.structure, tilt, scene.array.slope_length, build.shown_in, WIDTH, GROUND, drawn_height(scene))


def _built_slope(built: BuiltView) -> Slope:
    """The glass as a line that turns about the frame's own pivot, for what is drawn along it."""
    (low_x, low_y), (high_x, high_y) = built.pose.glass
    length = hypot(high_x - low_x, high_y - low_y)
    below = ((built.hinge[0] - low_x) * (high_x - low_x) + (built.hinge[1] - low_y) * (high_y - low_y)) / length**2
    return Slope(*built.hinge, length, below)


def _rounded(values: Sequence[float] | np.ndarray, digits: int) -> list[float]:
    return [round(float(value), digits) for value in values]


def _slope(length: float, clearance: float, pole: bool) -> tuple[Slope, float]:
    """The slope in the drawing and its scale, px per metre: a rack turns about its lower edge, a pole about its middle."""
    scale = min(200 / length, 168 / (length + clearance))
    drawn = round(length * scale, 1)
    if pole:
        return Slope(WIDTH / 2, round(GROUND - (clearance + length / 2) * scale, 1), drawn, 0.5), scale
    return Slope(round((WIDTH - drawn) / 2 + 14, 1), round(GROUND - clearance * scale, 1), drawn, 0.0), scale


def _label(slope: Slope, tilt: float) -> tuple[float, float]:
    """Where the tilt is written: inside its angle, or under the level line of a pole, whose panel is short."""
    if slope.share:
        return slope.x + 22, slope.y + 20
    half = radians(tilt / 2)
    return round(slope.x + 58 * cos(half), 1), round(slope.y - 58 * sin(half) + 4, 1)


def _profile(elevation: float, azimuth: float, facing: float) -> float:
    """Angle of the sun in the plane of the drawing, degrees from level on the panel's front side; over 90 is behind."""
    height, turn = radians(elevation), radians(azimuth - facing)
    return degrees(atan2(sin(height), cos(height) * cos(turn)))


def _rays(slope: Slope, tilt: float, profile: float) -> list[Segment]:
    away = radians(profile)
    rays = []
    for share in (0.2, 0.5, 0.8):
        end_x, end_y = slope.point(share, tilt)
        far = min(170.0, (end_y - 12) / max(sin(away), 0.12), (end_x - 4) / max(cos(away), 0.12))
        rays.append((round(end_x - far * cos(away), 1), round(end_y - far * sin(away), 1), end_x, end_y))
    return rays
