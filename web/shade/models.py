"""What stands around a build, where the array stands in it, and the skyline that was surveyed there."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from django.db import models

from sundial.brief.model import Brief
from sundial.shade.strings import rewired
from sundial.shade.survey import true_azimuth
from web.builds.models import Build
from web.builds.part import Part, Progress, bytes_in


def nothing():
    return []


def no_sides():
    return {}


def one_string():
    return {"kind": "series", "strings": []}


class Yard(Part):
    """The yard of a build. ``obstacles``, ``split``, ``parts`` and ``wiring`` are held as a brief holds them.

    ``skyline`` is a list of readings {azimuth, elevation, kind} sorted by azimuth; one taken with a compass keeps its
    ``bearing`` and the ``declination`` that was applied, and one sent from the field its ``key``.
    """

    obstacles = models.JSONField(default=nothing)
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
    boundaries = models.JSONField(default=no_sides)
    picture_place = models.JSONField(null=True, blank=True)

    shared = ("obstacles", "slope", "slope_toward", "skyline", "leaf_months")
    shared_words = "what stands in the yard, and the skyline"

    def settled_wiring(self) -> dict[str, Any]:
        """The wiring as the array stands now: rows and columns may have come or gone since it was told."""
        array, held = self.build.frame, self.wiring
        was = held.get("of")
        if not _are_numbers(held.get("strings") or [], held.get("unwired") or []):
            return {key: value for key, value in held.items() if key != "of"}  # as it came: it is refused by its place
        strings, unwired = rewired(
            held.get("strings") or [], held.get("unwired") or [], (was[0], was[1]) if was else None, (array.rows, array.columns)
        )
        return {"kind": held.get("kind", "series"), "strings": strings, "unwired": unwired}

    def warning(self) -> str:
        loose = len(self.settled_wiring()["unwired"])
        if not loose:
            return ""
        return f"{loose} panel{' is' if loose == 1 else 's are'} on no string: {'it stands' if loose == 1 else 'they stand'} there and give{'s' if loose == 1 else ''} nothing until wired."

    @property
    def anything(self) -> bool:
        """Whether anything at all may stand in the way."""
        return bool(self.obstacles or self.skyline or self.split or self.parts or self.build.stand.house)

    def stand_at(self, x: float, y: float) -> bool:
        self.x, self.y = round(x, 2), round(y, 2)
        return True

    def complete(self) -> Progress:
        return "complete" if self.anything else "enough"

    def to_brief(self) -> dict[str, Any]:
        data: dict[str, Any] = {
            "spot": {"x": self.x, "y": self.y, "split": self.split, "parts": self.parts},
            "wiring": self.settled_wiring(),
            "boundaries": self.boundaries,
        }
        if self.skyline:
            # What is solid is said by leaving its kind out.
            data["horizon"] = [
                [r["azimuth"], r["elevation"], *([r["kind"]] if r.get("kind", "solid") != "solid" else [])] for r in self.skyline
            ]
            raw = ("bearing", "declination", "elevation", "kind")
            data["readings"] = [{name: r[name] for name in raw if name in r} for r in self.skyline if "bearing" in r]
            data["leaf_months"] = self.leaf_months
        if self.obstacles or self.slope:
            data["yard"] = {"objects": self.obstacles, "slope": self.slope, "slope_toward": self.slope_toward}
        return data

    def from_brief(self, brief: Brief, files: Mapping[str, bytes]) -> None:
        held = brief.model_dump(mode="json", exclude_none=True)
        yard, spot = held.get("yard") or {}, held["spot"]
        self.skyline = []
        for point in held.get("horizon") or []:
            azimuth, elevation, kind = [*point, "solid"][:3]
            reading = {"azimuth": azimuth, "elevation": elevation, "kind": kind}
            raw = next((r for r in held["readings"] if _same(r, azimuth, elevation)), None)
            self.skyline.append(reading | ({"bearing": raw["bearing"], "declination": raw["declination"]} if raw else {}))
        self.obstacles = yard.get("objects", [])
        self.slope, self.slope_toward = yard.get("slope", 0.0), yard.get("slope_toward", 180.0)
        self.x, self.y, self.split, self.parts = spot["x"], spot["y"], spot.get("split"), spot["parts"]
        self.wiring = {key: held["wiring"][key] for key in ("kind", "strings", "unwired")}
        self.wiring["of"] = [brief.array.rows, brief.array.columns]
        self.leaf_months = held.get("leaf_months")
        self.boundaries = held["boundaries"]

    @classmethod
    def bytes_of(cls, builds: models.QuerySet[Build]) -> int:
        return bytes_in(Picture.objects.filter(yard__build__in=builds))

    def keepsakes(self) -> dict[str, bytes]:
        picture = Picture.objects.filter(yard=self).first()
        if picture is None or not picture.data:
            return {}
        about = {"kind": picture.kind, "width": picture.width, "height": picture.height, "place": self.picture_place}
        return {"yard-picture.json": json.dumps(about).encode(), f"yard-picture.{picture.kind[6:]}": bytes(picture.data)}

    def take_keepsakes(self, files: Mapping[str, bytes]) -> None:
        from web.shade.pictures import place_of, take

        data = next((files[name] for name in ("yard-picture.png", "yard-picture.jpeg") if name in files), None)
        if data is not None:
            take(self.build, data)
            self.picture_place = place_of(files.get("yard-picture.json", b"{}"))
            self.save(update_fields=["picture_place"])

    def child_rows(self) -> list[models.Model]:
        return list(Picture.objects.filter(yard=self)) if self.pk else []

    def adopt(self, row: models.Model) -> None:
        row.yard = self  # type: ignore[attr-defined]
        row.raw = None  # type: ignore[attr-defined]


def _are_numbers(strings: Any, unwired: Any) -> bool:
    """Whether both hold panel numbers in lists, as a wiring does."""
    if not isinstance(strings, list) or not isinstance(unwired, list) or not all(isinstance(one, list) for one in strings):
        return False
    return all(type(panel) is int and 1 <= panel <= 10_000 for panel in (*unwired, *(panel for one in strings for panel in one)))


def _same(raw: dict[str, Any], azimuth: float, elevation: float) -> bool:
    turn = abs((true_azimuth(raw["bearing"], raw["declination"]) - azimuth + 180) % 360 - 180)
    return turn < 0.1 and raw["elevation"] == elevation


class Picture(models.Model):
    """A person's own picture of the yard, laid under the plan; its place is with the yard.

    ``raw`` is one as it came, until a worker has drawn it anew; ``words`` say why it could not be."""

    yard = models.OneToOneField(Yard, on_delete=models.CASCADE, related_name="picture")
    kind = models.CharField(max_length=20, default="image/png")
    width = models.PositiveIntegerField(default=0)
    height = models.PositiveIntegerField(default=0)
    data = models.BinaryField(default=b"")
    raw = models.BinaryField(null=True, default=None)
    words = models.CharField(max_length=200, blank=True)
