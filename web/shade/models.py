"""What stands around a build, where the array stands in it, and the skyline that was surveyed there."""

from django.db import models


def nothing():
    return []


def one_string():
    return {"kind": "series", "strings": []}


class Yard(models.Model):
    """The yard of a build. ``objects``, ``split``, ``parts`` and ``wiring`` are held as a brief holds them.

    ``skyline`` is a list of readings {azimuth, elevation, kind} sorted by azimuth; one taken with a compass keeps its
    ``bearing`` and the ``declination`` that was applied, and one sent from the field its ``key``. ``open_sky`` shows the
    other stations without the shade.
    """

    build = models.OneToOneField("builds.Build", on_delete=models.CASCADE, related_name="yard")
    objects_held = models.JSONField(default=nothing)
    slope = models.FloatField(default=0.0)
    slope_toward = models.FloatField(default=180.0)
    x = models.FloatField(default=0.0)
    y = models.FloatField(default=0.0)
    split = models.JSONField(null=True, blank=True)
    parts = models.JSONField(default=nothing)
    wiring = models.JSONField(default=one_string)
    skyline = models.JSONField(default=nothing)
    leaf_months = models.JSONField(null=True, blank=True)
    area = models.JSONField(null=True, blank=True)
    open_sky = models.BooleanField(default=False)
    picture_place = models.JSONField(null=True, blank=True)

    @property
    def anything(self) -> bool:
        """Whether anything at all may stand in the way."""
        return bool(self.objects_held or self.skyline or self.split or self.parts)


class Picture(models.Model):
    """A person's own picture of the yard, laid under the plan; its place is with the yard."""

    yard = models.OneToOneField(Yard, on_delete=models.CASCADE, related_name="picture")
    kind = models.CharField(max_length=20)
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    data = models.BinaryField()
