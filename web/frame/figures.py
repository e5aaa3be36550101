"""The rack from the side, to scale, with the noon sun of the chosen day."""

from __future__ import annotations

from dataclasses import dataclass
from math import atan2, cos, degrees, radians, sin
from typing import Any

import numpy as np

from sundial.aim import noon_view
from sundial.days import date_of_day
from sundial.quantities import FOOT
from web.builds.answers import Answers
from web.builds.drawing import arc, nice_step
from web.builds.models import Build

WIDTH, HEIGHT, GROUND = 340.0, 270.0, 232.0


@dataclass(frozen=True)
class SideView:
    """Where everything stands in the drawing, px, and what the browser needs to let the panel be dragged."""

    hinge_x: float
    hinge_y: float
    length: float
    tilt: float
    arc: str
    label_x: float
    label_y: float
    leg_x: float
    leg_top: float
    handle_x: float
    handle_y: float
    sun: float
    rays: list[tuple[float, float, float, float]]
    ground: float
    scale_px: float
    scale_text: str
    pole: bool
    incidence: float
    noon: float
    noon_clock: str
    day_energy: float
    year_energy: float
    holes: list[float]
    data: dict[str, Any]


def side_view(build: Build, answers: Answers, tilt: float) -> SideView:
    """The rack at ``tilt`` on the chosen day."""
    study = answers.study
    surface, array = study.surface(), study.array
    view = noon_view(study.site, date_of_day(build.chosen_day), surface.tilts, study.azimuth)
    slope, clearance = array.slope_length, array.clearance
    scale = min(205 / slope, 175 / (slope + clearance) if slope + clearance else 175)
    length = slope * scale
    hinge_x, hinge_y = (WIDTH - length) / 2 + 12, GROUND - clearance * scale
    profile = _profile(view.elevation, view.azimuth, study.azimuth)
    day = surface.energy[build.chosen_day]
    year = surface.energy.sum(axis=0)
    shown = radians(tilt)
    column = int(np.abs(surface.tilts - tilt).argmin())
    step = nice_step(slope / (FOOT if build.units == "us" else 1), 2)
    holes = [float(t) for t in study.reachable] if len(study.reachable) < 91 else []
    return SideView(
        hinge_x=round(hinge_x, 1),
        hinge_y=round(hinge_y, 1),
        length=round(length, 1),
        tilt=tilt,
        arc=arc(hinge_x, hinge_y, 46, tilt),
        label_x=round(hinge_x + 62 * cos(shown / 2), 1),
        label_y=round(hinge_y - 62 * sin(shown / 2) + 4, 1),
        leg_x=round(hinge_x + 0.75 * length * cos(shown), 1),
        leg_top=round(hinge_y - 0.75 * length * sin(shown), 1),
        handle_x=round(hinge_x + length * cos(shown), 1),
        handle_y=round(hinge_y - length * sin(shown), 1),
        sun=profile,
        rays=_rays(hinge_x, hinge_y, length, shown, profile) if view.elevation > 0 else [],
        ground=GROUND,
        scale_px=round(step * (FOOT if build.units == "us" else 1) * scale, 1),
        scale_text=f"{step:g} {'ft' if build.units == 'us' else 'm'}",
        pole=build.frame.mount.get("kind") in ("one-axis", "two-axis"),
        incidence=float(view.incidence[column]),
        noon=view.elevation,
        noon_clock=view.clock,
        day_energy=float(day[column]),
        year_energy=float(year[column]),
        holes=holes,
        data={
            "hinge": [round(hinge_x, 1), round(hinge_y, 1)],
            "length": round(length, 1),
            "ground": GROUND,
            "sun": round(profile, 2),
            "tilts": [float(t) for t in surface.tilts],
            "reachable": holes or [float(t) for t in range(91)],
            "day": [round(float(v), 2) for v in day],
            "year": [round(float(v), 1) for v in year],
            "incidence": [round(float(v), 1) for v in view.incidence],
        },
    )


def _profile(elevation: float, azimuth: float, facing: float) -> float:
    """Angle of the sun in the plane of the drawing, degrees from level on the panel's front side; over 90 is behind."""
    height, turn = radians(elevation), radians(azimuth - facing)
    return degrees(atan2(sin(height), cos(height) * cos(turn)))


def _rays(x: float, y: float, length: float, tilt: float, profile: float) -> list[tuple[float, float, float, float]]:
    away = radians(profile)
    rays = []
    for share in (0.2, 0.5, 0.8):
        end_x, end_y = x + share * length * cos(tilt), y - share * length * sin(tilt)
        far = min(110.0, (end_y - 12) / max(sin(away), 0.12))
        rays.append((round(end_x - far * cos(away), 1), round(end_y - far * sin(away), 1), round(end_x, 1), round(end_y, 1)))
    return rays
