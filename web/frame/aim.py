"""Aiming the frame: by the clock, by a compass, by an inclinometer, and the proof by a shadow pin."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from django import forms
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.template.loader import render_to_string
from django.utils import timezone
from django.views import View

from sundial.aim.pin import Reading, rings
from sundial.answers.aim.report import OffAim, aim_report, pin_report
from sundial.errors import BriefError
from sundial.progress import Report
from web.builds.fields import LengthField, NumberField
from web.builds.models import Build
from web.builds.results import Results
from web.builds.sheets import code_of, pdf_of
from web.builds.shell import SignedIn, own_build

FIRST_YEAR, LAST_YEAR = 2000, 2200
ROWS = 4  # readings asked for on the page
PIN = 0.2  # m: its rings fit on a sheet
PAPERS = {"a4": (210.0, 297.0), "letter": (215.9, 279.4)}  # mm
POOR = 0.04  # of the pin's length: readings that leave more do not show one plane


class MillimetreField(LengthField):
    """A small length: a plain number is in millimetres, with a unit it may be in any."""

    def clean(self, value: Any) -> float | None:
        text = str(value or "").strip().replace("−", "-")
        return super().clean(f"{text} mm" if re.fullmatch(r"-?\d+([.,]\d+)?", text) else text)

    def prepare_value(self, value: Any) -> Any:
        return f"{value * 1000:.4g}" if isinstance(value, (int, float)) else value


class PinForm(forms.Form):
    """A pin, and up to four readings of its shadow's tip."""

    pin = MillimetreField(0.02, 2, label="Pin, from the glass to its tip")
    check = MillimetreField(0.05, 0.2, label="The 100 mm line measures")
    tilt = NumberField(0, 90, label="It is set to", required=False)
    sensor = forms.RegexField(r"^\[[\d., ]{3,60}\]$", required=False, widget=forms.HiddenInput)  # what the phone said, raw

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for row in range(1, ROWS + 1):
            self.fields[f"time{row}"] = forms.DateTimeField(
                label=f"Date and time of reading {row}", required=False, widget=forms.DateTimeInput(attrs={"type": "datetime-local"}),
                error_messages={"invalid": "Give a date and a time."},
            )  # fmt: skip
            for name, words in (("x", "to the right"), ("y", "up the slope")):
                self.fields[f"{name}{row}"] = MillimetreField(-2, 2, label=f"Reading {row}, {words}", required=False)

    @property
    def rows(self) -> list[tuple[Any, Any, Any]]:
        return [(self[f"time{row}"], self[f"x{row}"], self[f"y{row}"]) for row in range(1, ROWS + 1)]

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        self.readings: list[Reading] = []
        self.given_in: list[int] = []  # the row of each reading
        for row in range(1, ROWS + 1):
            given = [data.get(f"{name}{row}") for name in ("time", "x", "y")]
            if all(value is None for value in given):
                continue
            for name, value in zip(("time", "x", "y"), given, strict=True):
                if value is None and f"{name}{row}" not in self.errors:
                    self.add_error(f"{name}{row}", "This reading needs it too.")
            if given[0] is not None and not FIRST_YEAR <= given[0].year <= LAST_YEAR:
                self.add_error(f"time{row}", f"Give a year from {FIRST_YEAR} to {LAST_YEAR}.")
            elif None not in given:
                self.given_in.append(row)
                self.readings.append(Reading(given[0].replace(tzinfo=None), given[1], given[2]))  # type: ignore[union-attr, arg-type]
        if not self.readings and not self.errors:
            self.add_error("time1", "Give at least one reading.")
        return data

    def refuse(self, error: BriefError) -> None:
        """A refusal of the core beside the reading it is about."""
        found = re.match(r"readings\[(\d+)\]", error.path)
        field = f"time{self.given_in[int(found[1])]}" if found else {"pin": "pin"}.get(error.path, "time1")
        self.add_error(field, error.message[0].upper() + error.message[1:] + ".")

    def kept(self) -> dict[str, Any]:
        """As the frame keeps it: metres and local times."""
        told = self.cleaned_data
        return {
            "pin": told["pin"], "check": told["check"], "tilt": told["tilt"],
            "sensor": told["sensor"], "readings": [[one.time.isoformat(), one.x, one.y] for one in self.readings],
        }  # fmt: skip


def shown(kept: Mapping[str, Any] | None) -> dict[str, Any]:
    """What the form shows of the readings kept."""
    held = {"pin": PIN, "check": 0.1, "tilt": None, "sensor": "", "readings": [], **(kept or {})}
    found = {name: held[name] for name in ("pin", "check", "tilt", "sensor")}
    for row, (time, x, y) in enumerate(held["readings"], 1):
        found |= {f"time{row}": datetime.fromisoformat(time), f"x{row}": x, f"y{row}": y}
    return found


@dataclass(frozen=True)
class Proof:
    """What the pin proves, in words: ``off`` degrees to the ``side`` of ``toward``, ``steeper`` degrees, ``costs`` kWh a year; ``poor``
    readings leave ``residual`` mm."""

    off: float
    side: str
    toward: str
    tilt: float
    steeper: float
    azimuth: float
    costs: float
    residual: float
    poor: bool


def proof(found: OffAim, wanted: float, pin: float) -> Proof:
    toward = {0: "north", 90: "east", 180: "south", 270: "west"}.get(round(wanted) % 360, f"its {wanted:.0f}°")
    clockwise = "west" if 90 < wanted < 270 else "east"
    other = "east" if clockwise == "west" else "west"
    return Proof(
        abs(found.azimuth_off), clockwise if found.azimuth_off > 0 else other, toward, found.found.tilt, found.tilt_off,
        found.found.azimuth, found.costs, found.found.residual * 1000, found.found.residual > POOR * pin,
    )  # fmt: skip


class Aim(SignedIn, View):
    """The sheet to take to the rack."""

    def get(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        return self._page(request, build, PinForm(initial=shown(build.frame.pin)), None)

    def post(self, request: HttpRequest, pk: int) -> HttpResponse:
        build = own_build(request, pk)
        form, told = PinForm(request.POST), None
        if form.is_valid():
            pin, tilt, check = (form.cleaned_data[name] for name in ("pin", "tilt", "check"))
            try:
                study = Results(build).study
                told = proof(pin_report(study, pin, form.readings, tilt, check), study.scene.azimuth, pin)
            except BriefError as error:
                form.refuse(error)
            else:
                build.frame.pin = form.kept()
                build.frame.save(update_fields=["pin"])
        return self._page(request, build, form, told)

    def _page(self, request: HttpRequest, build: Build, form: PinForm, told: Proof | None) -> HttpResponse:
        context: dict[str, Any] = {"build": build, "form": form, "proof": told}
        try:
            results = Results(build)
            told_aim = aim_report(results.study.scene, timezone.localdate())
            context |= {
                "aim": told_aim,
                "noon": told_aim.solar_noon.strftime("%H:%M:%S"),
                "tilts": sorted({stretch.tilt for stretch in results.plan.chosen.stretches}),
            }
        except BriefError as error:
            context["trouble"] = str(error)
        return render(request, "frame/aim.html", context, status=422 if form.is_bound and form.errors else 200)


@dataclass(frozen=True)
class TargetRing:
    """A ring of the target in mm, with the light that is lost there."""

    radius: float
    angle: float
    loss: float


def target(height: float, paper: str) -> dict[str, Any]:
    """The pin's target at true scale, mm."""
    wide, tall = PAPERS[paper]
    room = wide / 2 - 12
    found = [TargetRing(round(ring.radius * 1000, 2), ring.angle, ring.loss) for ring in rings(height)]
    return {
        "wide": wide, "tall": tall, "half": wide / 2 - 12, "x": wide / 2, "y": room + 36, "paper": paper, "pin": height * 1000, "room": room,
        "rings": [ring for ring in found if ring.radius <= room], "left_out": [ring for ring in found if ring.radius > room],
        "tens": [step * 10 for step in range(1, int(room / 10) + 1)],
    }  # fmt: skip


def pin_length(build: Build) -> float:
    """The pin that the person uses, m."""
    return float((build.frame.pin or {}).get("pin", PIN))


def target_svg(paper: str) -> Any:
    """Makes the target as an SVG file of one paper."""

    def made(build: Build, results: Results) -> str:
        return render_to_string("frame/target.svg", {**target(pin_length(build), paper), "build": build})

    return made


def target_params(paper: str) -> Any:
    """What the target as PDF is made of."""
    return lambda build: {"pin": f"{pin_length(build):.4f}", "paper": paper, "name": build.name}


def target_pdf(results: Results, params: Mapping[str, str], report: Report) -> bytes:
    """The target as PDF, at true scale."""
    told = target(float(params["pin"]), params["paper"])
    return pdf_of(
        render_to_string("frame/target.html", {**told, "build": results.build, "code": code_of(params.get("live", ""))})
    )
