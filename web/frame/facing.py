"""Which way to face: the year over facing and tilt, a few candidates side by side, and taking one over."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views import View

from sundial.errors import BriefError
from sundial.siting.facings import Facings, of_sides
from web.builds.asking import Pending, ask
from web.builds.drawing import Scale, Tick, path
from web.builds.editing import write
from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import SignedIn, own_build
from web.numbers import number_in
from web.requests import HtmxHttpRequest

TONES = 10
MOST_CANDIDATES = 3
NAMED = {
    "n": 0.0, "north": 0.0, "ne": 45.0, "north-east": 45.0, "northeast": 45.0, "e": 90.0, "east": 90.0, "se": 135.0, "south-east": 135.0,
    "southeast": 135.0, "s": 180.0, "south": 180.0, "sw": 225.0, "south-west": 225.0, "southwest": 225.0, "w": 270.0, "west": 270.0,
    "nw": 315.0, "north-west": 315.0, "northwest": 315.0,
}  # fmt: skip
TABLE_TILTS = (0.0, 15.0, 30.0, 45.0, 60.0, 75.0, 90.0)


@dataclass(frozen=True)
class Cell:
    """One facing and tilt in the picture, px, as dark as it makes much."""

    x: float
    y: float
    width: float
    height: float
    tone: int


@dataclass(frozen=True)
class FacingsPicture:
    """The year over facing (across) and tilt (up): ``own`` and ``best`` points, px; ``rim``: what is within 1 % of the best; ``blocked``:
    facings in which the array would stand in something."""

    cells: list[Cell]
    azimuths: list[Tick]
    tilts: list[Tick]
    own: tuple[float, float] | None
    best: tuple[float, float]
    rim: str
    blocked: list[Cell]


def facings_picture(found: Facings, azimuth: float, tilt: float | None) -> FacingsPicture:
    """Drawn with the equator-ward half in the middle: from the pole's side round."""
    middle = found.best[0] if found.best[2] > 0 else 180.0
    centre = 180.0 if 90 <= middle <= 270 else 0.0
    left = (centre - 180) % 360

    def turned(angle: float) -> float:
        return (angle - left) % 360

    step, up = 360 / len(found.azimuths), 90 / (len(found.tilts) - 1)
    x, y = Scale(-step / 2, 360 - step / 2, 44, 548), Scale(-up / 2, 90 + up / 2, 236, 14)
    least = min(made for row in found.energy for made in row if made is not None)
    most, span = found.best[2], max(found.best[2] - least, 1e-9)
    cells, blocked = [], []
    within: set[tuple[int, int]] = set()
    for angle, row in zip(found.azimuths, found.energy, strict=True):
        across = x(turned(angle) - step / 2), x(turned(angle) + step / 2)
        known = [made for made in row if made is not None]
        if len(known) < len(row):
            blocked.append(Cell(across[0], y.end, across[1] - across[0], y.start - y.end, 0))
            continue
        for at, made in zip(found.tilts, known, strict=True):
            low, high = y(at - up / 2), y(at + up / 2)
            cells.append(
                Cell(
                    across[0],
                    high,
                    round(across[1] - across[0], 2),
                    round(low - high, 2),
                    int((made - least) / span * (TONES - 1)),
                )
            )
            if made >= 0.99 * most:
                within.add((round(angle), round(at)))
    names = {0: "N", 45: "NE", 90: "E", 135: "SE", 180: "S", 225: "SW", 270: "W", 315: "NW"}
    return FacingsPicture(
        cells,
        [Tick(x(turned(angle)), name) for angle, name in names.items()],
        [Tick(y(at), f"{at:g}°") for at in (0.0, 30.0, 60.0, 90.0)],
        None if tilt is None else (x(turned(azimuth)), y(tilt)),
        (x(turned(found.best[0])), y(found.best[1])),
        _rim(within, turned, x, y, step, up),
        blocked,
    )


def _rim(within: set[tuple[int, int]], turned: Callable[[float], float], x: Scale, y: Scale, step: float, up: float) -> str:
    """The outline of the points ``within``, azimuth and tilt, as cells."""
    edges = []
    for angle, at in within:
        left, right = x(turned(angle) - step / 2), x(turned(angle) + step / 2)
        low, high = y(at - up / 2), y(at + up / 2)
        sides = {
            ((angle - step) % 360, at): [(left, low), (left, high)],
            ((angle + step) % 360, at): [(right, low), (right, high)],
            (angle, at - up): [(left, low), (right, low)],
            (angle, at + up): [(left, high), (right, high)],
        }
        edges += [path(side) for (beside, level), side in sides.items() if (round(beside), round(level)) not in within]
    return " ".join(edges)


@dataclass(frozen=True)
class Candidate:
    """One way to face, with the others that share its panels (a roof of two sides): kWh a year in all, and over what stands now; ``single``: it
    can be taken over by this build."""

    words: str
    tilt: float
    azimuths: tuple[float, ...]
    energy: float
    over: float

    @property
    def single(self) -> bool:
        return len(self.azimuths) == 1


def facings_in(text: str) -> tuple[float, ...]:
    """Facings that a person typed: degrees or points of the compass, several joined by + or "and". BriefError names what is none."""
    found = []
    for word in re.split(r"\+|,|\band\b|&", text.strip().lower()[:60]):
        word = word.strip().rstrip("°").strip()
        angle = NAMED.get(word.replace(" ", "-"), number_in(word, 0, 360))
        if angle is None:
            raise BriefError(
                "facing", f"“{word}” is no facing: give degrees from true north (0 to 360) or a word such as south-west"
            )
        found.append(angle % 360)
    if len(found) > 4:
        raise BriefError("facing", "four sides of a roof are the most")
    return tuple(found)


class WhichWay(SignedIn, View):
    """The table and the picture of facings, and the candidates that were typed."""

    def get(self, request: HtmxHttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        results = Results(build)
        try:
            found = ask(results, "facings", again="again" in request.GET)
            if isinstance(found, Pending):
                told = {"pending": found, "target": "#facings", "what": "Which way to face"}
                return render(request, "builds/_pending.html", told)
            if not found.known:
                raise BriefError("facing", "turned to any of these facings the array would stand in something: see The shade")
            context = {"build": build, "small": "picture" in request.GET, **self.shown(results, found)}
            context["candidates"], context["refused"] = _candidates(request, results)
        except BriefError as error:
            return render(request, "frame/_facings.html", {"build": build, "trouble": error.message})
        return render(request, "frame/_facings.html", context)

    @staticmethod
    def shown(results: Results, found: Facings) -> dict[str, object]:
        plan, scene = results.plan, results.scene
        tilt = None if plan.held is None else plan.held.tilt
        rows = [
            (azimuth, [row[found.tilts.index(at)] for at in TABLE_TILTS])
            for azimuth, row in zip(found.azimuths, found.energy, strict=True)
            if azimuth % 45 == 0
        ]
        return {
            "picture": facings_picture(found, scene.azimuth, tilt),
            "rows": rows,
            "table_tilts": TABLE_TILTS,
            "best": found.best,
            "own_azimuth": scene.azimuth,
            "own_tilt": tilt,
            "made": plan.made,
            "held_energy": None if plan.held is None else plan.held.energy,
            "numbers": range(1, MOST_CANDIDATES + 1),
        }


def _candidates(request: HttpRequest, results: Results) -> tuple[list[Candidate], dict[str, tuple[str, str, str]]]:
    """What each typed candidate makes; and by number what was typed and why it was refused ("" where it was not)."""
    made, refused = [], {}
    for number in range(1, MOST_CANDIDATES + 1):
        facing, tilt = request.GET.get(f"facing{number}", "").strip(), request.GET.get(f"tilt{number}", "").strip()
        words = ""
        if facing or tilt:
            try:
                at = number_in(tilt.rstrip("° "), 0, 90)
                if at is None:
                    raise BriefError("tilt", f"“{tilt[:20]}” is no tilt: give 0 to 90 degrees from level")
                azimuths = facings_in(facing)
                total = of_sides(results.study.scene, azimuths, at)
                made.append(Candidate(facing[:60], at, azimuths, total, total - results.plan.made))
            except BriefError as error:
                words = error.message
        refused[str(number)] = (facing[:60], tilt[:20], words)
    return sorted(made, key=lambda one: -one.energy), refused


class TakeOver(SignedIn, View):
    """Turns the build to a facing, and a fixed one to a tilt."""

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        azimuth, tilt = number_in(request.POST.get("azimuth", ""), 0, 360), number_in(request.POST.get("tilt", ""), 0, 90)
        back = redirect("frame:station", pk)
        if azimuth is None:
            messages.error(request, "That is no facing: nothing was changed.")
            return back
        before = _standing(build)
        build.frame.azimuth = azimuth
        if tilt is not None and "tilt" in build.frame.mount:
            build.frame.mount = {**build.frame.mount, "tilt": tilt}
        try:
            Results(build).check()
        except BriefError as error:
            messages.error(request, f"It was left as it is: {error.message}")
            return back
        if write(build, build.version, [build.frame]):
            messages.success(
                request, f"It faces {azimuth:g}° now{_at(build)}. Before, it faced {before}: type that again to go back."
            )
        else:
            messages.error(request, "It was changed in another tab just now: look again.")
        return back


def _standing(build: Build) -> str:
    azimuth = build.frame.azimuth
    return ("the equator" if azimuth is None else f"{azimuth:g}°") + _at(build)


def _at(build: Build) -> str:
    tilt = build.frame.mount.get("tilt")
    return "" if tilt is None else f" at {tilt:g}°"
