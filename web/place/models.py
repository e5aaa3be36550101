"""Where the build stands, under what sky."""

from django.db import models


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


class Place(models.Model):
    """A place and its sky. Twelve-number lists run January to December."""

    SKIES = [
        ("made-up", "A made-up sky"),
        ("monthly", "Twelve monthly numbers"),
        ("epw", "EPW file"),
        ("tmy3", "TMY3 file"),
        ("hourly", "Hourly CSV file"),
    ]
    UNITS = [("metric", "metric"), ("us", "feet and inches")]

    build = models.OneToOneField("builds.Build", on_delete=models.CASCADE, related_name="place")
    latitude = models.FloatField(default=45.0)
    longitude = models.FloatField(default=0.0)
    elevation = models.FloatField(default=100.0)
    timezone = models.CharField(max_length=64, default="UTC")
    units = models.CharField(max_length=8, choices=UNITS, default="metric")
    sky_kind = models.CharField(max_length=8, choices=SKIES, default="made-up")
    sky_name = models.CharField(max_length=40, default="dry-upland")
    ghi = models.JSONField(default=mild_ghi)
    temp_air = models.JSONField(default=mild_temperature)
    wind_speed = models.JSONField(default=light_wind)
    seed = models.PositiveIntegerField(default=1)
    file_name = models.CharField(max_length=120, blank=True)
    file_data = models.BinaryField(null=True, blank=True)
    file_digest = models.CharField(max_length=64, blank=True)
    shift_minutes = models.SmallIntegerField(default=0)
    albedo = models.JSONField(default=flat_albedo)
