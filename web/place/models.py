"""Where the build stands, under what sky."""

from __future__ import annotations

import hashlib
from collections.abc import Mapping
from typing import Any

from django.db import models
from django.db.models import Q

from sundial.brief.model import Brief, FileSky, MadeUpSky, MonthlySky, WorldSky
from sundial.errors import BriefError
from sundial.sky.weather_year import WeatherYear
from web.builds.part import Part, Progress


def twelve(value: float):
    return [value] * 12


def flat_albedo():
    return twelve(0.2)


def mild_ghi():
    return [1.8, 2.7, 3.9, 4.9, 5.7, 6.3, 6.4, 5.6, 4.4, 3.0, 2.0, 1.5]


def mild_temperature():
    return [4, 5, 8, 11, 15, 18, 21, 20, 17, 12, 8, 5]


def light_wind():
    return twelve(3.0)


class Place(Part):
    """A place and its sky. Twelve-number lists run January to December."""

    SKIES = [
        ("world", "The world sky"),
        ("made-up", "A made-up sky"),
        ("monthly", "Twelve monthly numbers"),
        ("epw", "EPW file"),
        ("tmy3", "TMY3 file"),
        ("hourly", "Hourly CSV file"),
    ]

    latitude = models.FloatField(default=45.0)
    longitude = models.FloatField(default=0.0)
    elevation = models.FloatField(default=100.0)
    timezone = models.CharField(max_length=64, default="UTC")
    sky_kind = models.CharField(max_length=8, choices=SKIES, default="world")
    sky_name = models.CharField(max_length=40, default="dry-upland")
    ghi = models.JSONField(default=mild_ghi)
    dhi = models.JSONField(null=True, blank=True)
    temp_air = models.JSONField(default=mild_temperature)
    wind_speed = models.JSONField(default=light_wind)
    seed = models.PositiveIntegerField(default=1)
    learned_days = models.PositiveIntegerField(null=True, blank=True)
    file_name = models.CharField(max_length=120, blank=True)
    file_data = models.BinaryField(null=True, blank=True)
    file_digest = models.CharField(max_length=64, blank=True)
    shift_minutes = models.SmallIntegerField(default=0)
    albedo = models.JSONField(default=flat_albedo)

    shared = (
        "latitude", "longitude", "elevation", "timezone", "sky_kind", "sky_name", "ghi", "dhi", "temp_air", "wind_speed",
        "seed", "learned_days", "file_name", "file_data", "file_digest", "shift_minutes", "albedo",
    )  # fmt: skip
    shared_words = "the place and its sky"

    class Meta:
        constraints = [
            models.CheckConstraint(condition=Q(latitude__gt=-90, latitude__lt=90), name="place_between_the_poles"),
            models.CheckConstraint(condition=Q(longitude__gte=-180, longitude__lte=180), name="place_on_the_round"),
        ]

    def complete(self) -> Progress:
        return "enough" if self.sky_kind in ("made-up", "world") else "complete"

    def to_brief(self) -> dict[str, Any]:
        site = {name: getattr(self, name) for name in ("latitude", "longitude", "elevation", "timezone")}
        return {"site": site, "sky": self._sky(), "ground": {"albedo": self.albedo}}

    def _sky(self) -> dict[str, Any]:
        if self.sky_kind == "monthly":
            names = ("ghi", "dhi", "temp_air", "wind_speed", "seed", "learned_days")
            return {"kind": "monthly", **{name: getattr(self, name) for name in names}}
        if self.sky_kind == "world":
            return {"kind": "world", "seed": self.seed}
        if self.sky_kind == "made-up":
            return {"kind": "made-up", "name": self.sky_name, "seed": self.seed}
        if not self.file_digest:
            raise BriefError("sky.file", "choose a weather file to upload")
        return {"kind": self.sky_kind, "file": self.file_name or "weather.csv", "shift_minutes": self.shift_minutes}

    def from_brief(self, brief: Brief, files: Mapping[str, bytes]) -> None:
        site, sky = brief.site, brief.sky
        self.latitude, self.longitude, self.elevation, self.timezone = (
            site.latitude, site.longitude, site.elevation, site.timezone
        )  # fmt: skip
        self.albedo, self.sky_kind = monthly(brief.ground.albedo), sky.kind
        if isinstance(sky, MonthlySky):
            self.ghi, self.temp_air, self.wind_speed = monthly(sky.ghi), monthly(sky.temp_air), monthly(sky.wind_speed)
            self.dhi, self.seed = None if sky.dhi is None else monthly(sky.dhi), sky.seed
            self.learned_days = sky.learned_days
        elif isinstance(sky, WorldSky):
            self.seed = sky.seed
        elif isinstance(sky, MadeUpSky):
            self.sky_name, self.seed = sky.name, sky.seed
        elif isinstance(sky, FileSky):
            if "sky.file" not in files:
                raise BriefError("sky.file", f"the brief names the weather file {sky.file!r}: choose it too")
            self.take_weather(sky.file, files["sky.file"])
            self.shift_minutes = sky.shift_minutes

    def take_numbers(self, year: WeatherYear) -> None:
        """Go on from the monthly numbers of a year: they can be corrected then."""
        self.sky_kind, self.dhi, self.learned_days = "monthly", None, None
        self.ghi = [round(value, 2) for value in year.ghi_per_day.tolist()]
        self.temp_air = [round(value, 1) for value in year.temp_air_by_month.tolist()]

    def take_weather(self, name: str, data: bytes) -> None:
        """Keep an uploaded weather file with its digest."""
        self.file_name, self.file_data = name.replace("\\", "/").rpartition("/")[2][:120], data
        self.file_digest = hashlib.sha256(data).hexdigest()

    def file_digests(self) -> dict[str, str]:
        return {"sky.file": self.file_digest}

    def file(self, name: str) -> bytes | None:
        return bytes(self.file_data or b"") if name == (self.file_name or "weather.csv") else None


def monthly(value: list[float] | float) -> list[float]:
    """Twelve numbers from twelve or one."""
    return list(value) if isinstance(value, list) else [value] * 12
