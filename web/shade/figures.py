"""Drawings of the shade: the sky of the spot, the map's layer, the months' hours of sun, and the day's shadows as data."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise
from typing import Any

import numpy as np

from sundial.answers.siting.report import ShadeReport
from sundial.days import MONTH_NAMES
from sundial.energy.shaded import SKYLINE
from sundial.scene import Scene
from sundial.shade.yard import Building, Canopy
from sundial.siting.costs import ShadeCost
from sundial.siting.day import Moment
from sundial.siting.ground import YardMap
from sundial.siting.skyview import SkyView, SunPath
from sundial.study import Study
from web.builds.drawing import Scale, Tick, path, ticks

STEPS = (0.4, 0.6, 0.75, 0.85, 0.92, 0.97)  # of the open sky: where one tone of the map ends and the next begins


@dataclass(frozen=True)
class Dot:
    """A mark with a word, px."""

    x: float
    y: float
    text: str


@dataclass(frozen=True)
class PathDrawn:
    """One sun path: its line (in pieces, where it crosses the drawing's edge), its hours, and where its name goes."""

    lines: list[str]
    hours: list[Dot]
    label: Dot
    chosen: bool


@dataclass(frozen=True)
class Stander:
    """A thing against the sky: its outline, its name and where that goes, and the hours it takes in words."""

    name: str
    shape: str
    label: Dot
    leafy: bool
    said: str


@dataclass(frozen=True)
class Handle:
    """A reading of the skyline that can be dragged."""

    index: int
    x: float
    y: float
    elevation: float
    said: str


@dataclass(frozen=True)
class SkyPicture:
    """The sky view, px. ``middle`` is the azimuth in the middle; a degree is ``per_degree`` px both ways across."""

    paths: list[PathDrawn]
    standers: list[Stander]
    skyline: str
    skyline_said: str
    handles: list[Handle]
    azimuths: list[Tick]
    elevations: list[Tick]
    left: float
    right: float
    top: float
    base: float
    middle: float
    per_azimuth: float
    per_elevation: float


POINTS = {0: "N", 45: "NE", 90: "E", 135: "SE", 180: "S", 225: "SW", 270: "W", 315: "NW"}
LEFT, RIGHT, TOP, BASE = 34.0, 646.0, 14.0, 268.0
ASIDE = 64  # px from the top of a path to its name


def sky_picture(study: Study, view: SkyView, readings: list[dict[str, Any]]) -> SkyPicture:
    """Azimuth across with the equator in the middle, elevation up, to one scale each."""
    middle = study.scene.site.equator_ward
    highest = max(max(line.elevations, default=0) for line in view.paths)
    top = float(min(90, 10 * np.ceil((max(highest, 40) + 6) / 10)))
    x, y = Scale(-180, 180, LEFT, RIGHT), Scale(0, top, BASE, TOP)

    def across(azimuth: float) -> float:
        return x((azimuth - middle + 180) % 360 - 180)

    standers = []
    for outline in view.outlines:
        turned = (outline.azimuths - middle + 180) % 360 - 180
        cuts = np.flatnonzero(np.abs(np.diff(turned)) > 180) + 1
        across_all, highs, lows = x.many(turned), y.many(np.minimum(outline.high, top)), y.many(np.minimum(outline.low, top))
        pieces = []
        for piece in np.split(np.arange(len(turned)), cuts):
            ring = slice(piece[0], piece[-1] + 1)
            up = list(zip(across_all[ring], highs[ring], strict=True))
            down = list(zip(across_all[ring], lows[ring], strict=True))[::-1]
            pieces.append(path([*up, *down]) + "Z")
        at = int(outline.high.argmax())
        label = Dot(min(max(x(turned[at]), LEFT + 30), RIGHT - 30), max(y(min(outline.high[at], top)) - 5, TOP + 8), outline.name)
        standers.append(
            Stander(outline.name, " ".join(pieces), label, bool(outline.light.max() > 0.2), _said(outline.name, view))
        )
    line, handles = "", []
    if readings:
        around = np.arange(-180, 181, 1.0)
        heights = study.scene.skyline.elevation_at(around + middle) if study.scene.skyline else np.zeros_like(around)
        line = (
            path([(x(-180), y(0)), *((x(a), y(min(h, top))) for a, h in zip(around, heights, strict=True)), (x(180), y(0))]) + "Z"
        )
        handles = [
            Handle(
                i,
                across(r["azimuth"]),
                y(min(r["elevation"], top)),
                r["elevation"],
                f"{r['azimuth']:.0f}°, {r['elevation']:.1f}° up, {r.get('kind', 'solid')}",
            )
            for i, r in enumerate(readings)
        ]
    *seasons, today = view.paths
    drawn = [_drawn(line, across, y, line.day != today.day) for line in seasons] + [_drawn(today, across, y, False, chosen=True)]
    return SkyPicture(
        paths=drawn,
        standers=_one_label_each(standers, handles, drawn),
        skyline=line,
        skyline_said=_said(SKYLINE, view),
        handles=handles,
        azimuths=[Tick(x((a - middle + 180) % 360 - 180), name) for a, name in POINTS.items() if (a - middle) % 360 != 180],
        elevations=ticks(y, 20, "{:g}°"),
        left=LEFT,
        right=RIGHT,
        top=TOP,
        base=BASE,
        middle=middle,
        per_azimuth=(RIGHT - LEFT) / 360,
        per_elevation=(BASE - TOP) / top,
    )


def _one_label_each(standers: list[Stander], handles: list[Handle], paths: list[PathDrawn]) -> list[Stander]:
    """A tree is drawn as crown and trunk but named once; labels that would meet are lifted over each other."""
    placed = [Dot(handle.x, handle.y + 5, "") for handle in handles]
    placed += [Dot(hour.x, hour.y - 7, hour.text) for line in paths if line.chosen for hour in line.hours]
    placed += [Dot(p.label.x + ASIDE + 3.3 * len(p.label.text), p.label.y, p.label.text) for p in paths if p.label.text]
    named: set[str] = set()
    made = []
    for stander in sorted(standers, key=lambda s: s.label.y):
        label = stander.label
        if stander.name in named:
            label = Dot(label.x, label.y, "")
        else:
            named.add(stander.name)
            width = 4 + 3.6 * len(stander.name)
            y = label.y
            while any(abs(label.x - other.x) < width + 4 + 3.6 * len(other.text) and abs(y - other.y) < 14 for other in placed):
                y -= 14
            label = Dot(label.x, max(y, TOP - 4), label.text)
            placed.append(label)
        made.append(Stander(stander.name, stander.shape, label, stander.leafy, stander.said))
    return made


def _drawn(line: SunPath, across: Any, y: Scale, named: bool, chosen: bool = False) -> PathDrawn:
    points = [(across(a), y(max(e, 0))) for a, e in zip(line.azimuths, line.elevations, strict=True)]
    pieces: list[list[tuple[float, float]]] = [[]]
    for point in points:
        if pieces[-1] and abs(point[0] - pieces[-1][-1][0]) > 200:
            pieces.append([])
        pieces[-1].append(point)
    hours = [Dot(across(a), y(e), clock) for clock, a, e in line.hours if e > 1]
    top = min(points, key=lambda point: point[1]) if points else (LEFT, BASE)
    name = line.name.split(" and ")[0] if named else ""
    return PathDrawn([path(piece) for piece in pieces if len(piece) > 1], hours, Dot(top[0], top[1] - 6, name), chosen)


def _said(name: str, view: SkyView) -> str:
    months = view.lost.get(name, ())
    if not months:
        return f"{name} hides the sun at no hour of the 21st of any month."
    told = "; ".join(f"{lost.month[:3]} {lost.times}" for lost in months)
    return f"{name} hides the sun on the 21st of: {told}."


def map_layer(found: YardMap, season: bool) -> dict[str, Any]:
    """Runs of cells of one tone as SVG paths in plan metres (y down), lightest first; one path a tone."""
    values = (found.season / found.open_season) if season else (found.year / found.open_year)
    tones = np.where(np.isnan(values), -1, np.searchsorted(STEPS, values))
    half = found.grid / 2
    drawn: list[list[str]] = [[] for _ in range(len(STEPS) + 1)]
    for row, y in enumerate(found.y):
        line = tones[row]
        edges = np.flatnonzero(np.diff(line)) + 1
        for start, end in zip([0, *edges], [*edges, len(line)], strict=True):
            if line[start] >= 0:
                width = (end - start) * found.grid
                drawn[line[start]].append(
                    f"M{found.x[start] - half:.2f} {-y - half:.2f}h{width:.2f}v{found.grid:.2f}h{-width:.2f}z"
                )
    return {
        "tones": ["".join(part) for part in drawn],
        "legend": map_legend(found.open_season if season else found.open_year),
        "unit": f"kWh/m² {found.season_name}" if season else "kWh/m² a year",
    }


def map_legend(open_sky: float) -> list[str]:
    """What each tone of the map stands for."""
    steps = pairwise([0.0, *STEPS, 1.0])
    return [f"{low * open_sky:.0f} to {high * open_sky:.0f}" if low else f"under {high * open_sky:.0f}" for low, high in steps]


def frames(moments: list[Moment]) -> list[dict[str, Any]]:
    """A day's moments for the browser: clock, the sun, and shadows as SVG paths in plan metres (y down)."""
    return [
        {
            "clock": moment.clock,
            "azimuth": round(moment.azimuth, 1),
            "elevation": round(moment.elevation, 1),
            "shadows": [
                {"name": shadow.name, "d": _rings(shadow.rings), "light": round(shadow.light, 2)} for shadow in moment.shadows
            ],
            "array": _rings(moment.array),
        }
        for moment in moments
    ]


def _rings(rings: list[Any]) -> str:
    return "".join("M" + "L".join(f"{x:.2f} {-y:.2f}" for x, y in ring) + "Z" for ring in rings)


@dataclass(frozen=True)
class HoursRow:
    """A month's mean hours of sun a day, with the shade and under an open sky, and kWh lost; bars in per cent."""

    month: str
    hours: float
    open_hours: float
    lost: float
    bar: float
    open_bar: float


def hours_rows(report: ShadeReport) -> list[HoursRow]:
    most = max(report.open_hours)
    rows = zip(MONTH_NAMES, report.sun_hours, report.open_hours, report.loss_by_month, strict=True)
    return [HoursRow(month, h, o, lost, 100 * h / most, 100 * o / most) for month, h, o, lost in rows]


@dataclass(frozen=True)
class MonthCell:
    """What comes back in a month, kWh, and how dark it is drawn, 0 to 5."""

    kwh: float
    tone: int


@dataclass(frozen=True)
class MonthRow:
    """One obstacle through the year; its ``share`` of the whole loss, kWh."""

    name: str
    cells: list[MonthCell]
    share: float


def month_rows(prices: tuple[ShadeCost, ...]) -> list[MonthRow]:
    """The obstacles by month, the dearest month of all the darkest."""
    most = max((value for price in prices for value in price.by_month), default=0.0)

    def tone(value: float) -> int:
        return int(np.ceil(5 * value / most)) if value >= 0.5 and most > 0 else 0

    return [MonthRow(p.name, [MonthCell(value, tone(value)) for value in p.by_month], p.share) for p in prices]


def own_house_shapes(scene: Scene) -> list[dict[str, Any]]:
    """The house that a build hangs on, for the plan: a quiet shape that is told on The frame, not drawn here."""
    return [
        {"kind": "building", "name": thing.name, "footprint": thing.footprint, "wall": isinstance(thing, Building)}
        for thing in scene.own_house
        if isinstance(thing, Building | Canopy)
    ]
