"""The frame."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.views import View

from sundial.answers.frame.report import FrameReport, Standing, drilling_report, other_prop
from sundial.errors import BriefError
from web.builds.models import Build
from web.builds.results import Results
from web.builds.shell import SignedIn, StationView, own_build
from web.frame.built import DrillForm
from web.frame.figures import drawing_of, side_view, stops_of
from web.frame.forms import FrameForm
from web.frame.mounts.registry import mounts
from web.numbers import whole


class FrameStation(StationView):
    """Panels, what holds them, and the rack from the side."""

    key = "frame"
    form_class = FrameForm

    def figures(self, build: Build, results: Results) -> dict[str, Any]:
        study, array = results.study, results.study.scene.array
        reached = [float(tilt) for tilt in study.plan_tilts]
        mount = study.brief.mount
        return {
            "side": side_view(build, results, standing_at(build, results)),
            "array": array,
            "headline": mounts()[mount.kind].headline,
            "kilowatts": f"{array.count * array.panel.power / 1000:.2f}",
            "breadth": array.breadth,
            "slope": array.slope_length,
            "reached": reached,
            "any_degree": study.hand_axis is None,
            "holes": _holes(results, reached) if mount.hand == "tilt" or study.hand_axis is not None else [],
            **self._built(build, results),
            "made": results["made"],
            "ledger": [LedgerLine(LINES[name], -value) for name, value in results["made"].ledger.items() if abs(value) >= 0.05],
        }

    @staticmethod
    def _built(build: Build, results: Results) -> dict[str, Any]:
        """What the frame's own measures say, where they are told."""
        study = results.study
        if study.scene.structure is None:
            return {"standing": None}
        report = results["frame"]
        tilt = standing_at(build, results)
        now = min(report.standings, key=lambda one: abs(one.true_tilt - tilt))
        pushed = min(report.thrusts, key=lambda one: abs(one.tilt - now.tilt), default=None)
        return {
            "standing": report,
            "now": now,
            "drill_form": None if study.scene.structure.bar is None else DrillForm(build),
            "gaps": _gaps(report),
            "setting_names": study.scene.structure.setting_names,
            "set_by_words": " · ".join(study.scene.structure.setting_names[name] for name in _varied(report.standings)),
            "worst_error": max(one.error for one in report.standings),
            "pushed": pushed,
            "worst_push": max(report.thrusts, key=lambda one: abs(one.force), default=None),
            "turned_by_ground": bool(study.scene.structure.cross_slope),
        }


@dataclass(frozen=True)
class Gaps:
    """What no hole reaches: under the ``flattest``, over the ``steepest``; the ``widest`` step between two."""

    flattest: float
    steepest: float
    widest: tuple[float, float] | None


def _gaps(report: FrameReport) -> Gaps | None:
    if not report.unreached:
        return None
    inner = [gap for gap in report.unreached if gap[0] > 0 and gap[1] < 90]
    tilts = [one.true_tilt for one in report.standings]
    return Gaps(min(tilts), max(tilts), max(inner, key=lambda gap: gap[1] - gap[0], default=None))


def standing_at(build: Build, results: Results) -> float:
    """The tilt of the chosen day: where it is fixed, or where the plan says."""
    held = results.study.brief.mount.held_tilt
    if held is not None:
        return held
    return results.plan.chosen.tilt_by_day[build.chosen_day]


def _tilt_in(text: str) -> float | None:
    """Degrees that a text says, None for anything that is no tilt."""
    try:
        tilt = float(text[:20])
    except ValueError:
        return None
    return tilt if 0 <= tilt <= 90 else None


class Poses(SignedIn, View):
    """The frame at all its stops, as it is drawn, so that a hand can drag it; or with one hole of its bar wherever a drill can put it."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        results = Results(build)
        tilt, number = _tilt_in(request.GET.get("tilt", "")), whole(request.GET.get("hole"))
        if tilt is None:
            raise Http404
        try:
            drawing = drawing_of(build, results, tilt)
            if number is None:
                told = [pose.told for pose in drawing.poses(stops_of(results))]
            else:
                told = [{"at": at, **pose.told} for at, pose in drawing.places(number)]
        except BriefError:
            raise Http404 from None
        answer = JsonResponse({"poses": told})
        answer["Cache-Control"] = "private, max-age=600"  # its address has the version of the build
        return answer


class Drill(SignedIn, View):
    """Where to drill the bar for the plan, beside what the holes lose as they are."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        form = DrillForm(build, request.GET)
        found, other, results = None, None, Results(build)
        if form.is_valid():
            try:
                found = drilling_report(results.study, form.cleaned_data["pitch"], form.cleaned_data["loss"])
                other = other_prop(results.study, form.cleaned_data["pitch"])
            except BriefError as error:
                form.refuse(error)
        asked = {"build": build, "form": form, "found": found, "other": other}
        if found is not None:
            asked["text"] = _as_lengths(sorted(one.base_hole for one in found.holes))
        if other is not None:
            asked["other_holes"], asked["other_prop"] = _as_lengths(sorted(other.base_holes)), _as_lengths([other.length])
        return render(request, "frame/_drill.html", asked)


def _as_lengths(metres: list[float]) -> str:
    return "; ".join(f"{one:g} m" for one in metres)


LINES = {
    "glass": "Slanting light on the glass",
    "rear_gain": "Light on the back",
    "heat": "Warm or cold cells",
    "shade": "Light kept off by shade",
    "uneven_shade": "Shade lying unevenly",
    "soiling": "Dirt (soiling)",
    "wiring": "Wiring",
    "mismatch": "Mismatch",
    "light_induced": "Light-induced loss",
    "availability": "Down time",
    "ageing": "Ageing so far",
    "inverter": "Inverter",
    "clipping": "Over the inverter's limit",
    "own_use": "Motor and controller",
}


@dataclass(frozen=True)
class LedgerLine:
    """One line between label and meter, kWh a year, gains positive."""

    name: str
    value: float


@dataclass(frozen=True)
class Hole:
    """One position of the frame: its tilt, the ``step`` from the one before, what it makes if left there, whether the plan uses it, and
    what sets it where the frame's measures are told: ``set_by`` m in words' order, ``error`` degrees for 5 mm off."""

    number: int
    tilt: float
    step: float | None
    energy: float
    planned: bool
    set_by: tuple[float, ...] = ()
    error: float | None = None


def _holes(results: Results, reached: list[float]) -> list[Hole]:
    used = {stretch.tilt for stretch in results.plan.chosen.stretches}
    surface, told = results.study.plan_surface, _told(results)
    varied = _varied(told)
    steps = [None, *(after - before for before, after in zip(reached, reached[1:], strict=False))]
    found = []
    for number, (tilt, step) in enumerate(zip(reached, steps, strict=True), 1):
        standing = next((one for one in told if abs(one.true_tilt - tilt) < 0.006), None)
        set_by, error = (
            (tuple(standing.set_by[name] for name in varied), standing.error) if standing and standing.set_by else ((), None)
        )
        found.append(Hole(number, tilt, step, float(surface.daily(tilt).sum()), tilt in used, set_by, error))
    return found


def _varied(told: list[Standing]) -> list[str]:
    """What is chosen for a hole: the measures that differ from one to another."""
    names = list(told[0].set_by) if told else []
    return [name for name in names if len({one.set_by[name] for one in told}) > 1 and name != "pin"]


def _told(results: Results) -> list[Standing]:
    """The frame's own holes, where its measures say them."""
    structure = results.study.scene.structure
    return results["frame"].standings if structure is not None and structure.settings else []
