"""The place: where it is, in which units, under what sky."""

from __future__ import annotations

from typing import Any, ClassVar

from django import forms
from django.db.models import Model

from sundial.errors import BriefError
from sundial.positions import parse_angle, split_pair, wrap_longitude
from sundial.quantities import TEMPERATURE, WIND_SPEED, Units
from sundial.sky.files import LARGEST, sniff
from sundial.sky.made_up import CLIMATES
from sundial.zones import currency_at, units_at, zone_at
from web.builds.fields import AngleField, ChoiceField, LengthField, LineField, TwelveField
from web.builds.models import UNITS, Build
from web.builds.quota import refuse_over
from web.builds.registry import parts
from web.place.models import Place
from web.tilt.forms import GoalForm

SHIFTS = [(m, "as in the file" if m == 0 else f"{m:+d} minutes") for m in (-120, -90, -60, -30, 0, 30, 60, 90, 120)]
SKIES = [
    ("world", "The world sky (a first look)"),
    ("monthly", "Monthly numbers, twelve or twenty-four"),
    ("file", "A weather file (EPW, TMY3, CSV)"),
    ("made-up", "A made-up sky (rough)"),
]


def position_in(text: str) -> tuple[str, str] | None:
    """Latitude and longitude out of a text that is nothing but a position; None for a name."""
    pair = split_pair(text)
    if pair is None:
        return None
    try:
        latitude, longitude = parse_angle(pair[0], "latitude"), parse_angle(pair[1], "longitude")
    except ValueError:
        return None
    return pair if abs(latitude) <= 90 and abs(longitude) <= 180 else None


class PlaceForm(GoalForm):
    """Everything about the place and its sky."""

    paths: ClassVar[dict[str, str]] = {
        **GoalForm.goal_paths,
        "site.latitude": "latitude",
        "site.longitude": "longitude",
        "site.elevation": "elevation",
        "sky.kind": "sky_kind",
        "sky.ghi": "ghi",
        "sky.dhi": "dhi",
        "sky.temp_air": "temp_air",
        "sky.wind_speed": "wind_speed",
        "sky.file": "weather_file",
        "sky.name": "sky_name",
        "ground.albedo": "albedo",
    }

    where = LineField(label="Name of the place", max_length=80, required=False)
    latitude = AngleField(
        "latitude",
        label="Latitude",
        why="Sets the sun's path. Paste a pair such as 42.9, -6.1 and both fields are filled.",
        source="From any map; a tenth of a degree is plenty.",
    )
    longitude = AngleField(
        "longitude",
        label="Longitude",
        required=False,
        why="Sets solar noon on your clock. East is positive, west negative.",
        source="From any map.",
    )
    elevation = LengthField(
        -450,
        6000,
        label="Height above sea",
        why="Thin air passes more light and cools less.",
        source="From any map; 100 m either way hardly matters.",
    )
    units = ChoiceField(label="Units", choices=UNITS, why="How lengths are shown. Both are understood everywhere.")
    sky_kind = ChoiceField(
        label="The sky comes from", choices=SKIES, why="What the sun gives there, hour by hour, through a year."
    )
    sky_name = ChoiceField(
        label="Which made-up sky",
        choices=[(name, climate.title) for name, climate in CLIMATES.items()],
        required=False,
        why="Invented climates, scaled to your latitude: good for a first look, not for money.",
        source="Made up for this product; no measurement.",
    )
    ghi = TwelveField(
        0,
        12,
        label="Sun on the flat, January to December",
        unit="kWh/m² a day",
        required=False,
        why="Mean daily irradiation of each month on level ground (“peak sun hours”).",
        source="From a solar atlas or weather service. A year is grown from it; months are kept to 0.1 %.",
    )
    dhi = TwelveField(
        0,
        9,
        label="Its diffuse part, if you have it",
        unit="kWh/m² a day",
        required=False,
        why="Light from the whole sky, not from the sun itself. It makes trackers a surer figure.",
        source="Climate tables often give it beside the global one. Empty: split by a model.",
    )
    temp_air = TwelveField(
        -60,
        45,
        label="Air temperature",
        kind=TEMPERATURE,
        required=False,
        why="Warm panels make less.",
        source="Monthly means; one number will do.",
    )
    wind_speed = TwelveField(
        0,
        30,
        label="Wind",
        kind=WIND_SPEED,
        required=False,
        why="Wind cools the panels.",
        source="Monthly means at 10 m; one number will do.",
    )
    weather_file = forms.FileField(label="Weather file", required=False)
    shift_minutes = forms.TypedChoiceField(label="Shift its clock by", choices=SHIFTS, coerce=int, required=False, empty_value=0)  # type: ignore[arg-type]
    albedo = TwelveField(
        0,
        1,
        label="Brightness of the ground",
        required=False,
        why="Share of light the ground sends back: grass 0.2, pale gravel 0.35, fresh snow 0.8.",
        source="One number, or twelve (January to December).",
    )

    def chosen_units(self) -> Units:
        chosen = self.data.get("units") if self.is_bound else None
        return ("us" if chosen == "us" else "metric") if chosen in dict(UNITS) else self.build.shown_in

    def current(self, build: Build) -> dict[str, Any]:
        place = build.place
        held = {name: getattr(place, name) for name in self.base_fields if hasattr(place, name)}
        kind = place.sky_kind if place.sky_kind in ("world", "made-up", "monthly") else "file"
        goal = {name: getattr(build.plan, name) for name in ("goal", "months", "demand")}
        return {**held, **goal, "where": build.where, "units": build.units, "sky_kind": kind}

    def clean(self) -> dict[str, Any]:
        data = super().clean()
        latitude, longitude = data.get("latitude"), data.get("longitude")
        if latitude is not None and not -90 < latitude < 90:
            at_pole = abs(latitude) == 90
            self.add_error(
                "latitude",
                "At a pole every direction is the same and no facing can be named: give up to 89.99."
                if at_pole
                else f"{latitude:g} is beyond the pole: latitude runs from -90 to 90.",
            )
        if longitude is None and "longitude" not in self.errors:
            self.add_error("longitude", "Give the longitude, such as -6.1 or 6.1 W.")
        elif longitude is not None and abs(longitude) > 180:
            if abs(longitude) > 1080:
                self.add_error("longitude", f"{longitude:g} is no longitude: it runs from -180 to 180.")
            else:
                data["longitude"] = wrap_longitude(longitude)
                self.told.append(f"Longitude {longitude:g}° was wrapped to {data['longitude']:g}°.")
        self._clean_sky(data)
        return data

    def _clean_sky(self, data: dict[str, Any]) -> None:
        kind, upload = data.get("sky_kind"), data.get("weather_file")
        if kind == "monthly" and not data.get("ghi") and "ghi" not in self.errors:
            self.add_error("ghi", "Give twelve numbers, January to December.")
        if kind == "file" and not upload and not self.build.place.file_digest:
            self.add_error("weather_file", "Choose an EPW, TMY3 or CSV file.")
        if upload:
            if upload.size > LARGEST:
                self.add_error(
                    "weather_file",
                    f"That file has {upload.size / 1e6:.0f} MB; a year of weather has under {LARGEST / 1e6:.0f} MB.",
                )
                return
            self.upload = upload.read()
            try:
                refuse_over(self.build.owner, len(self.upload), instead=Place.bytes_of(Build.objects.filter(pk=self.build.pk)))
                self.upload_kind = sniff(self.upload)
            except BriefError as error:
                self.add_error("weather_file", error.message[0].upper() + error.message[1:])

    def _clean_fields(self) -> None:
        # A pair pasted into the first field fills both; so does one that was typed where the name belongs.
        pair, named = split_pair(self.data.get("latitude", "")), position_in(self.data.get("where", ""))
        if pair or named:
            self.data = self.data.copy()  # type: ignore[attr-defined]
        if pair:
            self.data["latitude"], self.data["longitude"] = pair  # type: ignore[index]
        elif named:
            self.data["latitude"], self.data["longitude"], self.data["where"] = *named, ""  # type: ignore[index]
            self.told.append("The name of the place was a position: it is taken as that.")
        super()._clean_fields()  # type: ignore[misc]

    def apply(self, build: Build) -> list[Model]:
        place, data = build.place, self.cleaned_data
        self.put(build, ("where", "units"))
        if data.get("ghi") not in (None, "", place.ghi):
            place.learned_days = None  # what somebody types was not learned
        for name in ("latitude", "longitude", "elevation", "sky_name", "ghi", "temp_air", "wind_speed", "albedo"):
            if data.get(name) not in (None, ""):
                setattr(place, name, data[name])
        if "dhi" in data:
            place.dhi = data["dhi"] or None
        place.timezone = zone_at(place.latitude, place.longitude)
        place.shift_minutes = data.get("shift_minutes", place.shift_minutes)
        if data.get("weather_file"):
            place.take_weather(data["weather_file"].name, self.upload)
        place.sky_kind = data["sky_kind"] if data["sky_kind"] != "file" else self._file_kind(place)
        if "goal" not in data:
            return [place]
        self.apply_goal(build.plan)
        return [place, build.plan]

    def _file_kind(self, place: Any) -> str:
        return getattr(self, "upload_kind", None) or sniff(bytes(place.file_data or b""))


class PlaceStep(PlaceForm):
    """The first step of a new build: the person, or else the place's country, says in which units it is shown, and the country in which money,
    until told otherwise."""

    only = ("where", "latitude", "longitude", "elevation", "sky_kind", "sky_name", "ghi", "weather_file")

    def apply(self, build: Build) -> list[Model]:
        changed = super().apply(build)
        if build.version == 1:
            chosen = build.owner.account.units or units_at(build.place.timezone)
            build.units, build.currency = chosen, currency_at(build.place.timezone)
            changed += [part for model in parts() if (part := model.of(build)).begin_in(chosen)]
        return changed
