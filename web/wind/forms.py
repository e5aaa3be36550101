"""What is asked of the wind, of what holds the frame, and of its beams."""

from __future__ import annotations

import re
from typing import Any, ClassVar

from django import forms
from django.db.models import Model

from sundial.answers.beams.own import OwnBeam, own_beams
from sundial.answers.beams.report import beams_report
from sundial.answers.footing.report import footing_report
from sundial.answers.wind.report import refuse_wind
from sundial.beams.sections import USUAL_SECTION, parse_section
from sundial.days import MONTH_NAMES
from sundial.quantities import AREA_LOAD, FORCE, LINE_LOAD, MASS, WIND_SPEED, parse_length
from web.builds.editing import StationForm
from web.builds.fields import (
    ChoiceField,
    LengthField,
    LineField,
    NumberField,
    QuantityField,
    SpeedField,
    SwitchField,
    TwelveField,
    WholeField,
)
from web.builds.models import Build
from web.builds.results import Results
from web.wind.models import Footing, Wind

OF_WIND = (
    "gust", "surroundings", "gusts", "blocked", "carried_by", "frame_mass", "ballast", "friction", "factor",
    "front_foot", "back_foot", "width", "stow", "snow_load", "snow_slides",
)  # fmt: skip
OF_FOOTING = (
    "kind", "diameter", "height", "feet", "soil", "fresh_fill", "frost_depth", "depth", "rating", "reduction", "stored", "spacing", "thread",
)  # fmt: skip
MONTHS = tuple(range(1, 13))
ANCHORED = [("", "as its kind is"), ("no", "loose on the ground"), ("yes", "anchored")]


class WindForm(StationForm):
    """Gusts, what holds it, the footing, snow; and one switch for each month's cap."""

    paths: ClassVar[dict[str, str]] = {
        "wind.gusts": "gusts",
        "wind.gust": "gust",
        "wind.frame_mass": "frame_mass",
        "wind.feet": "front_foot",
        "wind.friction": "friction",
        "wind.width": "width",
        "wind.table": "table",
        "plan.cap": "__all__",
        **{f"footing.{name}": f"footing_{name}" for name in OF_FOOTING},
        "snow": "snow_load",
    }

    gust = SpeedField(
        required=False, label="Strongest gust in years", why="A gust of three seconds breaks things, not the mean wind.",
        source="Empty: the strongest month's. Ask your weather service for the gust once in 50 years.",
    )  # fmt: skip
    surroundings = ChoiceField(
        label="Around it", choices=Wind.SURROUNDINGS, why="How much slower it blows near the ground, and how gusty it is."
    )
    gust_height = ChoiceField(
        label="Gusts are told", choices=[("10", "at 10 m, as forecasts do"), ("panel", "at the panels, measured")],
        why="From 10 m down to the panels the wind slackens; under 2 m nothing more is counted off.",
    )  # fmt: skip
    gusts = TwelveField(
        0.1, 120, required=False, label="Strong gusts by month", kind=WIND_SPEED,
        why="Twelve, January to December. Empty: the strongest holds all year; with none told, from the sky of the place.",
    )  # fmt: skip
    blocked = SwitchField(label="Stacked or skirted underneath")
    anchored = ChoiceField(
        label="It stands", choices=ANCHORED, required=False, why="Poles and wall frames are taken as anchored."
    )
    carried_by = ChoiceField(label="on", choices=Wind.CARRIED, why="All but the ground is somebody else's structure.")
    frame_mass = QuantityField(MASS, 0, 100000, required=False, label="Frame weighs", why="All of it, without panels and ballast.",
        source="Empty: the rails alone.",
    )  # fmt: skip
    ballast = QuantityField(MASS, 0, 100000, label="Ballast, each side", why="On the front feet, and as much on the back feet.")
    friction = NumberField(
        0, 1.5, label="Friction", why="Timber on soil 0.4, concrete on soil 0.5, steel on gravel 0.4, rubber on slab 0.6.",
        source="Thumb values.",
    )  # fmt: skip
    factor = NumberField(1, 5, label="Times in hand", why="How many times the load of a month's gust it must stand.")
    front_foot = LengthField(
        -20, 20, required=False, label="Front feet or wheels", why="Behind the front support; before it: −0.3 m."
    )
    back_foot = LengthField(-20, 20, required=False, label="back feet or wheels", why="Empty: as the frame's kind says.")
    width = LengthField(0.05, 100, required=False, label="Outermost feet apart", why="Along the row. Empty: at its fifth points.")
    stow = SwitchField(label="Its motor lays it flat")
    snow_load = QuantityField(
        AREA_LOAD, 0, 20, required=False, label="Snow on the ground", why="Settled snow: 2 kN/m² for a metre."
    )
    snow_slides = SwitchField(label="It can slide off the glass")
    table = forms.CharField(
        required=False, label="Own coefficients", max_length=4000, widget=forms.Textarea(attrs={"rows": 4, "autocomplete": "off"})
    )  # fmt: skip
    in_plan = forms.TypedMultipleChoiceField(
        label="Months whose cap the plan obeys", choices=[(i, MONTH_NAMES[i - 1][:3]) for i in MONTHS], coerce=int, required=False
    )

    footing_kind = ChoiceField(label="It stands on", choices=Footing.KINDS, required=False)
    footing_soil = ChoiceField(label="In", choices=Footing.SOILS, why="Presumed values of a building code, not a test.")
    footing_fresh_fill = SwitchField(label="Freshly filled ground")
    footing_feet = WholeField(1, 200, required=False, label="Feet in all", why="Empty: two a frame, one for a pole.")
    footing_diameter = LengthField(0.02, 5, label="Across", small=True, why="Of a post or pier in the ground, or of a pad.")
    footing_depth = LengthField(0.05, 10, required=False, label="Deep", why="As it is dug. Empty: tell me what it needs.")
    footing_height = LengthField(
        0.05, 20, required=False, label="Pushed at", why="Height of the level load. Empty: from the frame."
    )
    footing_frost_depth = LengthField(0, 5, label="Frost goes down", why="Of your place; the building office knows.")
    footing_rating = QuantityField(
        FORCE, 0.1, 1e6, required=False, label="Screw is rated for", why="By its maker, against pulling out."
    )
    footing_reduction = NumberField(0, 1, label="times, for this soil")
    footing_stored = QuantityField(MASS, 0, 100000, label="It also carries", why="Wood stacked on it, all together.")
    footing_spacing = LengthField(0.1, 50, required=False, label="From foot to foot", why="For uneven settling.")
    footing_thread = LengthField(
        0.0001,
        0.1,
        small=True,
        required=False,
        label="A turn of its jack lifts",
        why="Of a screw jack under each foot. Empty: there is none.",
    )

    def current(self, build: Build) -> dict[str, Any]:
        wind, footing = build.wind, build.footing
        values = {name: getattr(wind, name) for name in OF_WIND}
        values |= {f"footing_{name}": getattr(footing, name) for name in OF_FOOTING}
        return values | {
            "in_plan": wind.in_plan,
            "table": "\n".join(" ".join(f"{value:g}" for value in row) for row in wind.table or ()),
            "gust_height": "panel" if wind.gust_height is None else "10",
            "anchored": {None: "", True: "yes", False: "no"}[wind.anchored],
        }

    def clean_table(self) -> list[list[float]] | None:
        rows = []
        for place, line in enumerate(filter(str.strip, self.cleaned_data["table"].splitlines()), 1):
            words = line.replace(";", " ").replace(", ", " ").replace("\t", " ").replace(",", ".").split()
            try:
                row = [float(word) for word in words]
            except ValueError:
                raise forms.ValidationError(f"Line {place}, {line[:30]!r}: give tilt, pressing and lifting.") from None
            if len(row) != 3 or not 0 <= row[0] <= 90 or not all(0 <= value <= 5 for value in row[1:]):
                raise forms.ValidationError(f"Line {place}, {line[:30]!r}: a tilt from 0 to 90, then two numbers from 0 to 5.")
            rows.append(row)
        if len(rows) == 1:
            raise forms.ValidationError("Two tilts or more: between them it runs straight.")
        return rows or None

    def clean(self) -> dict[str, Any]:
        data = super().clean()
        if ("front_foot" in data and "back_foot" in data) and (data["front_foot"] is None) != (data["back_foot"] is None):
            missing = "front_foot" if data["front_foot"] is None else "back_foot"
            self.add_error(missing, "Give both lines it stands on, or neither.")
        if data.get("footing_kind") == "screw" and data.get("footing_rating") is None and "footing_rating" not in self.errors:
            self.add_error("footing_rating", "Give what its maker rates it for: a screw is never assumed to hold.")
        return data

    def apply(self, build: Build) -> list[Model]:
        wind, footing, data = build.wind, build.footing, self.cleaned_data
        self.put(wind, OF_WIND)
        wind.told = True
        wind.gust_height = None if data["gust_height"] == "panel" else 10.0
        wind.anchored = {"": None, "yes": True, "no": False}[data["anchored"]]
        wind.table = data["table"]
        wind.in_plan = sorted(data["in_plan"])
        for name in OF_FOOTING:
            setattr(footing, name, data[f"footing_{name}"])
        return [wind, footing]

    def check(self, results: Results) -> None:
        results.check()
        scene = results.scene
        refuse_wind(scene)
        if scene.brief.footing is not None:
            footing_report(scene)


class BeamForm(StationForm):
    """One more beam."""

    paths: ClassVar[dict[str, str]] = {"beams": "section"}

    name = LineField(label="Its name", max_length=60, initial="purlin")
    section = LineField(label="Section", max_length=60)
    span = LengthField(0.05, 20, label="Spans")
    spacing = LengthField(0.05, 20, label="one every")
    members = WholeField(1, 10, label="Side by side")
    load = QuantityField(
        LINE_LOAD,
        0,
        100000,
        required=False,
        label="It carries beside the frame",
    )
    stored = forms.BooleanField(required=False, label="It carries what is stored")
    carries = ChoiceField(
        label="It carries", choices=[("glass", "the glass above it"), ("floor", "a floor: no glass")], required=False
    )
    beyond_first = LengthField(0, 10, label="Beyond its first support", required=False)
    beyond_last = LengthField(0, 10, label="beyond its last", required=False)

    def current(self, build: Build) -> dict[str, Any]:
        return {"name": "purlin", "section": USUAL_SECTION[build.shown_in], "span": 1.8, "spacing": 0.9, "members": 1}

    def clean_load(self) -> float:
        return self.cleaned_data["load"] or 0.0

    def clean_section(self) -> str:
        try:
            parse_section(self.cleaned_data["section"])
        except ValueError as error:
            said = str(error)
            raise forms.ValidationError(said[0].upper() + said[1:]) from None
        return str(self.cleaned_data["section"])

    def apply(self, build: Build) -> list[Model]:
        names = ("name", "section", "span", "spacing", "members", "load", "stored")
        data = self.cleaned_data
        beam = {name: data[name] for name in names} | {"carries": data["carries"] or "glass"}
        beam["beyond"] = [data["beyond_first"] or 0.0, data["beyond_last"] or 0.0]
        build.footing.beams = [*build.footing.beams, beam]
        return [build.footing]

    def check(self, results: Results) -> None:
        beams_report(results.scene)


class OwnBeamForm(StationForm):
    """One of the frame's pieces, taken as a beam."""

    paths: ClassVar[dict[str, str]] = {"beams": "piece"}

    piece = forms.IntegerField(min_value=0, max_value=99)

    def current(self, build: Build) -> dict[str, Any]:
        return {}

    def clean_piece(self) -> OwnBeam:
        own = own_beams(Results(self.build).scene)
        if self.cleaned_data["piece"] >= len(own):
            raise forms.ValidationError("The frame was changed: it has no such piece any more.")
        return own[self.cleaned_data["piece"]]

    def apply(self, build: Build) -> list[Model]:
        taken: OwnBeam = self.cleaned_data["piece"]
        beam = {"name": taken.name, "section": taken.section, "span": round(taken.span, 4), "spacing": round(taken.spacing, 4)}
        beam |= {
            "members": 1,
            "load": 0.0,
            "stored": False,
            "carries": "glass",
            "beyond": [round(over, 4) for over in taken.beyond],
        }
        build.footing.beams = [*build.footing.beams, beam]
        return [build.footing]

    def check(self, results: Results) -> None:
        beams_report(results.scene)


class LevelsForm(StationForm):
    """One reading of the levels at the feet."""

    paths: ClassVar[dict[str, str]] = {"footing.levels": "levels"}

    date = forms.DateField(label="On", error_messages={"invalid": "Give a day such as 2026-11-26."})
    levels = LineField(label="Levels in a row", max_length=200)

    def __init__(self, build: Build, *args: Any, **kwargs: Any) -> None:
        super().__init__(build, *args, **kwargs)
        unit = "in" if self.chosen_units() == "us" else "mm"
        self.fields["levels"].label = f"Levels in a row, {unit}"
        self.fields["levels"].why = (  # type: ignore[attr-defined]
            "Each foot against one mark, higher above zero. Four feet: front left, front right, back left, back right."
        )

    def current(self, build: Build) -> dict[str, Any]:
        return {}

    def clean_levels(self) -> list[float]:
        found = []
        us = self.chosen_units() == "us"
        text = self.cleaned_data["levels"]
        words = (
            [word.strip().lstrip("+") for word in re.split("[,;]", text)]
            if re.search("[,;]", text)
            else text.replace("+", "").split()
        )
        for place, word in enumerate(filter(None, words), 1):
            try:
                metres = parse_length(
                    word if us or re.search(r"[^\d.\s−-]", word) else f"{word} mm", "us" if us else "metric", small=True
                )
            except ValueError:
                raise forms.ValidationError(
                    f"Foot {place}, {word[:20]!r}, is not a number of {'inches' if us else 'millimetres'}."
                ) from None
            if not abs(metres) <= 1:
                raise forms.ValidationError(
                    f"Foot {place}, {word[:20]}: levels lie within {'40 in' if us else 'a metre'} of the mark."
                )
            found.append(metres)
        if not 2 <= len(found) <= 24:
            raise forms.ValidationError("Give one number for each foot, two or more.")
        return found

    def apply(self, build: Build) -> list[Model]:
        reading = {"date": self.cleaned_data["date"].isoformat(), "levels": self.cleaned_data["levels"]}
        build.footing.levels = sorted([*build.footing.levels, reading], key=lambda one: one["date"])
        if not build.footing.kind:
            build.footing.kind = "ballast"
        build.wind.told = True
        return [build.footing, build.wind]

    def check(self, results: Results) -> None:
        footing_report(results.scene)
