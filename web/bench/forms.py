"""The knobs of the controller."""

from __future__ import annotations

from typing import Any, ClassVar

from django import forms
from django.db.models import Model
from pydantic import ValidationError

from sundial.brief.model import BenchBrief
from web.bench.models import Bench
from web.builds.editing import StationForm
from web.builds.fields import ChoiceField, LineField, NumberField, SpeedField, SwitchField, WholeField
from web.builds.models import Build

CONTROLS = [("sensor", "two light cells"), ("clock", "a clock"), ("hybrid", "both"), ("manual", "by hand")]
PLAIN = (
    "control", "cell_angle", "threshold", "threshold_kind", "averaging", "noise", "mismatch", "dirt", "sunny", "night", "hysteresis", "cycle",
    "pulse", "dull", "dull_after", "night_to", "timeout", "step", "clock_error", "drift", "window", "stow_gust", "stow_release", "backlash", "slip",
    "manual_angle", "north_error",
)  # fmt: skip
PLACES = ("night", "storm", "driving", "away")


class BenchForm(StationForm):
    """Settings of the controller; the day's sky and its seed beside them."""

    paths: ClassVar[dict[str, str]] = (
        {f"bench.{name}": name for name in PLAIN}
        | {"mount": "__all__"}
        | {f"bench.places.{name}": f"place_{name}" for name in PLACES}
    )

    control = ChoiceField(label="It is moved by", choices=CONTROLS, widget=forms.RadioSelect)
    threshold = NumberField(0, 2000, label="Nothing moves below", why="Difference of the two cells: the dead band.")
    threshold_kind = ChoiceField(label="a difference in", choices=[("share", "shares"), ("absolute", "W/m²")])
    cycle = NumberField(0, 1440, label="Looks every", unit="min")
    dull = ChoiceField(label="When it is dull", choices=[("stay", "stay"), ("flat", "lie flat"), ("clock", "follow the clock")])
    dull_after = NumberField(0, 1440, label="after", unit="min")
    sunny = NumberField(0, 2000, label="Sunny above", unit="W/m²")
    night = NumberField(0, 2000, label="night below", unit="W/m²")
    hysteresis = NumberField(1, 5, label="Back again at", unit="times", why="A level is left again only that much higher.")
    night_to = ChoiceField(label="At night it goes", choices=[("east", "to the east end"), ("flat", "flat"), ("stay", "nowhere")])
    timeout = NumberField(0.1, 1440, label="A move ends after", unit="min")
    cell_angle = NumberField(2, 60, label="Each cell leans", unit="°")
    averaging = NumberField(1, 60, label="Mean over", unit="min")
    noise = NumberField(0, 200, label="Noise", unit="W/m²")
    mismatch = NumberField(0.5, 2, label="One cell reads", unit="times")
    dirt = NumberField(0, 0.95, label="dirt on it takes", unit="of it")
    shadow = LineField(required=False, max_length=20, label="Shaded from, to (hours)")
    pulse = NumberField(0.01, 600, label="Shortest run of the motor", unit="s")
    step = NumberField(0.1, 90, label="Steps of", unit="°")
    clock_error = NumberField(-720, 720, label="Clock ahead by", unit="min")
    drift = NumberField(-600, 600, label="and more a day", unit="s")
    window = NumberField(0.1, 180, label="Never farther from the clock than", unit="°")
    manual_angle = NumberField(-180, 180, label="It stays at", unit="°")
    stow_gust = SpeedField(
        required=False, label="Flat from a gust of", why="Empty: never. The wind says from which gust on it must."
    )
    stow_release = NumberField(0, 1440, label="until calm for", unit="min")
    backlash = NumberField(0, 20, label="Play in the gear", unit="°")
    counted = SwitchField(label="Its place is not known, only counted from the end switches")
    slip = NumberField(0, 5, label="Each move is off by", unit="°")
    north_error = NumberField(-45, 45, label="It stands turned by", unit="°")
    place_night = NumberField(0, 90, required=False, label="At night", unit="°", why="Empty: as chosen above.")
    place_storm = NumberField(0, 90, required=False, label="In a storm", unit="°", why="Empty: as flat as it goes.")
    place_driving = NumberField(0, 90, required=False, label="On the road", unit="°", why="Empty: as flat as it goes.")
    place_away = NumberField(0, 90, required=False, label="Parked for a while", unit="°", why="Flat, half-way or steep.")
    sky = ChoiceField(label="Sky of the day", choices=Bench.SKIES)
    seed = WholeField(0, 2**31 - 1, label="its clouds, number")

    def current(self, build: Build) -> dict[str, Any]:
        held = BenchBrief.model_validate(build.bench.settings)
        found = {name: getattr(held, name) for name in PLAIN}
        found |= {f"place_{name}": getattr(held.places, name) for name in PLACES}
        shadow = " ".join(f"{hour:g}" for hour in held.shadow)
        return found | {
            "shadow": shadow,
            "counted": held.position == "switches",
            "sky": build.bench.sky,
            "seed": build.bench.seed,
        }

    def clean_shadow(self) -> list[float]:
        text = self.cleaned_data["shadow"].replace(",", ".").replace("-", " ").replace(";", " ")
        try:
            hours = [float(part) for part in text.split()]
        except ValueError:
            hours = [-1.0]
        if hours and (len(hours) != 2 or not 0 <= hours[0] < hours[1] <= 24):
            raise forms.ValidationError("Give two hours of the day, the first one first, such as 15 17.")
        return hours

    def clean(self) -> dict[str, Any]:
        data = super().clean() or {}
        if not self.errors:
            told = {name: data[name] for name in PLAIN} | {
                "shadow": data["shadow"],
                "position": "switches" if data["counted"] else "known",
                "places": {name: data[f"place_{name}"] for name in PLACES},
            }
            try:
                self.held = BenchBrief.model_validate(told)
            except ValidationError as error:
                first = error.errors()[0]
                name = str(first["loc"][0]) if first["loc"] else ""
                self.add_error(name if name in self.fields else None, "This cannot be: look at it once more.")
        return data

    def apply(self, build: Build) -> list[Model]:
        part = build.bench
        part.settings = self.held.model_dump(mode="json", exclude_defaults=True)
        part.sky, part.seed = self.cleaned_data["sky"], self.cleaned_data["seed"]
        return [part]
