"""Models to brief and back: the one place where the two meet."""

from __future__ import annotations

import hashlib
from datetime import timedelta
from typing import Any
from uuid import UUID

from django.db import transaction
from django.utils import timezone

from sundial.brief.model import Brief, FileSky, MadeUpSky, MonthlySky, SteppedMount
from sundial.brief.read import FORMAT, VERSION, brief_of
from sundial.errors import BriefError
from sundial.shade.survey import true_azimuth
from web.builds.models import Build
from web.frame.models import Frame
from web.place.models import Place
from web.shade.models import Yard
from web.tilt.models import Plan
from web.worth.models import Option, Purse

PANEL = ("power", "length", "width", "mass", "gamma", "bifaciality", "blocks", "half_cut")
PURSE = ("import_price", "export_price", "own_share")
WORTH = ("life", "interest", "price_growth", "ageing", "panel_cost", "count_hours")
PLAN = (
    "goal",
    "months",
    "demand",
    "moves",
    "cap",
    "floor",
    "weekdays",
    "slack",
    "tilt_now",
    "minutes_per_move",
    "people",
    "value_of_hour",
)
OPTION = ("mount", "settings", "extra_cost", "upkeep", "minutes_per_move", "off")


def brief_data(build: Build) -> dict[str, Any]:
    """The build as a brief's JSON object."""
    place, frame, plan, purse = build.place, build.frame, build.plan, build.purse
    data: dict[str, Any] = {
        "format": FORMAT,
        "version": VERSION,
        "name": build.name,
        "site": {
            "latitude": place.latitude,
            "longitude": place.longitude,
            "elevation": place.elevation,
            "timezone": place.timezone,
        },
        "sky": _sky(place),
        "ground": {"albedo": place.albedo},
        "panel": {name: getattr(frame, name) for name in PANEL},
        "array": {
            "rows": frame.rows,
            "columns": frame.columns,
            "orientation": frame.orientation,
            "azimuth": frame.azimuth,
            "clearance": frame.clearance,
        },
        "mount": frame.mount,
        "system": {
            "losses": frame.losses,
            "mounting": frame.mounting,
            "transposition": frame.transposition,
            "inverter": {"power": frame.inverter_power, "efficiency": frame.inverter_efficiency},
        },
        "use": {"kind": "grid", **{name: getattr(purse, name) for name in PURSE}},
        "plan": {name: getattr(plan, name) for name in PLAN} | {"year": _coming_year()},
        "worth": {name: getattr(purse, name) for name in WORTH},
        "options": [_option(option) for option in build.options.all()],
    }
    return data | _around(build.yard)


def _around(yard: Yard) -> dict[str, Any]:
    """The keys of what stands around, and where the array stands in it."""
    data: dict[str, Any] = {
        "spot": {"x": yard.x, "y": yard.y, "split": yard.split, "parts": yard.parts},
        "wiring": yard.wiring,
    }
    if yard.skyline:
        # What is solid is said by leaving its kind out.
        data["horizon"] = [
            [r["azimuth"], r["elevation"], *([r["kind"]] if r.get("kind", "solid") != "solid" else [])] for r in yard.skyline
        ]
        raw = ("bearing", "declination", "elevation", "kind")
        data["readings"] = [{name: r[name] for name in raw if name in r} for r in yard.skyline if "bearing" in r]
        data["leaf_months"] = yard.leaf_months
    if yard.objects_held or yard.slope:
        data["yard"] = {"objects": yard.objects_held, "slope": yard.slope, "slope_toward": yard.slope_toward}
    return data


def open_sky(data: dict[str, Any]) -> dict[str, Any]:
    """The same brief with nothing in the light's way."""
    return {key: value for key, value in data.items() if key not in ("horizon", "readings", "leaf_months", "yard", "spot")}


def _coming_year() -> int:
    """The year in which most of the next twelve months' weekends lie."""
    return (timezone.localdate() + timedelta(days=183)).year


def _sky(place: Place) -> dict[str, Any]:
    if place.sky_kind == "monthly":
        return {
            "kind": "monthly",
            "ghi": place.ghi,
            "temp_air": place.temp_air,
            "wind_speed": place.wind_speed,
            "seed": place.seed,
        }
    if place.sky_kind == "made-up":
        return {"kind": "made-up", "name": place.sky_name, "seed": place.seed}
    if not place.file_digest:
        raise BriefError("sky.file", "choose a weather file to upload")
    return {"kind": place.sky_kind, "file": place.file_name or "weather.csv", "shift_minutes": place.shift_minutes}


def _option(option: Option) -> dict[str, Any]:
    return {"name": option.name or None, "row": option.row or None, **{name: getattr(option, name) for name in OPTION}}


def brief_of_build(build: Build, shaded: bool = True) -> Brief:
    """The checked brief of a build, with its shade or under an open sky; BriefError names what is wrong."""
    data = brief_data(build)
    return brief_of(data if shaded else open_sky(data))


def export_data(build: Build) -> dict[str, Any]:
    """The brief with the keys that say nothing left out, for a file that people read."""
    return _without_none(brief_data(build))


def _without_none(value: Any) -> Any:
    if isinstance(value, dict):
        return {key: _without_none(inner) for key, inner in value.items() if inner is not None}
    return [_without_none(inner) for inner in value] if isinstance(value, list) else value


@transaction.atomic
def build_from_brief(owner: Any, brief: Brief, key: UUID | None = None, where: str = "", weather: bytes | None = None) -> Build:
    """A new build with all its parts from a brief. A sky in a file needs that file's bytes as ``weather``."""
    extra = {"creation_key": key} if key else {}
    build = Build.objects.create(owner=owner, name=brief.name[:80] or "My build", where=where, **extra)
    site, sky = brief.site, brief.sky
    place = Place(build=build, **site.model_dump(), albedo=_twelve(brief.ground.albedo), sky_kind=sky.kind)
    if isinstance(sky, MonthlySky):
        place.ghi, place.temp_air, place.wind_speed = _twelve(sky.ghi), _twelve(sky.temp_air), _twelve(sky.wind_speed)
        place.seed = sky.seed
    elif isinstance(sky, MadeUpSky):
        place.sky_name, place.seed = sky.name, sky.seed
    elif isinstance(sky, FileSky):
        if weather is None:
            raise BriefError("sky.file", f"the brief names the weather file {sky.file!r}: choose it too")
        take_weather(place, sky.file, weather)
        place.shift_minutes = sky.shift_minutes
    place.save()
    Yard.objects.create(build=build, **yard_fields(brief))
    array, system = brief.array, brief.system
    Frame.objects.create(
        build=build,
        **brief.panel.model_dump(),
        **array.model_dump(),
        mount=brief.mount.model_dump(exclude_none=True),
        tilts_typed=tilts_text(brief),
        losses=system.losses.model_dump(),
        mounting=system.mounting,
        transposition=system.transposition,
        inverter_power=system.inverter.power,
        inverter_efficiency=system.inverter.efficiency,
    )
    plan = brief.plan.model_dump()
    Plan.objects.create(build=build, **{name: plan[name] for name in PLAN})
    use, worth = brief.use.model_dump(), brief.worth.model_dump()
    Purse.objects.create(build=build, **{n: use[n] for n in PURSE}, **{n: worth[n] for n in WORTH})
    for position, option in enumerate(brief.options):
        held = option.model_dump(exclude_none=True)
        Option.objects.create(build=build, position=position, **held)
    return build


def yard_fields(brief: Brief) -> dict[str, Any]:
    """What a yard keeps of a brief."""
    held = brief.model_dump(mode="json", exclude_none=True)
    yard, spot = held.get("yard") or {}, held["spot"]
    skyline = []
    for point in held.get("horizon") or []:
        azimuth, elevation, kind = [*point, "solid"][:3]
        reading = {"azimuth": azimuth, "elevation": elevation, "kind": kind}
        raw = next((r for r in held["readings"] if _same(r, azimuth, elevation)), None)
        skyline.append(reading | ({"bearing": raw["bearing"], "declination": raw["declination"]} if raw else {}))
    return {
        "objects_held": yard.get("objects", []),
        "slope": yard.get("slope", 0.0),
        "slope_toward": yard.get("slope_toward", 180.0),
        "x": spot["x"],
        "y": spot["y"],
        "split": spot.get("split"),
        "parts": spot["parts"],
        "wiring": held["wiring"],
        "skyline": skyline,
        "leaf_months": held.get("leaf_months"),
    }


def _same(raw: dict[str, Any], azimuth: float, elevation: float) -> bool:
    turn = abs((true_azimuth(raw["bearing"], raw["declination"]) - azimuth + 180) % 360 - 180)
    return turn < 0.1 and raw["elevation"] == elevation


def _twelve(value: list[float] | float) -> list[float]:
    return list(value) if isinstance(value, list) else [value] * 12


def tilts_text(brief: Brief) -> str:
    """The reachable tilts as a person would type them."""
    mount = brief.mount
    if not isinstance(mount, SteppedMount):
        return ""
    if mount.tilts is not None:
        return ", ".join(f"{tilt:g}" for tilt in mount.tilts)
    return f"{mount.min or 0:g} to {mount.max or 0:g} by {mount.step:g}"


def take_weather(place: Place, name: str, data: bytes) -> None:
    """Keep an uploaded weather file with its digest."""
    place.file_name, place.file_data = name.replace("\\", "/").rpartition("/")[2][:120], data
    place.file_digest = hashlib.sha256(data).hexdigest()


def default_brief(name: str) -> Brief:
    """A sensible start for a new build."""
    return brief_of(
        {
            "format": FORMAT,
            "version": VERSION,
            "name": name,
            "site": {"latitude": 45.0, "longitude": 0.0, "elevation": 100.0, "timezone": "Europe/Paris"},
            "sky": {"kind": "made-up", "name": "green-maritime"},
            "panel": {"power": 430.0, "length": 1.722, "width": 1.134, "mass": 21.5, "gamma": -0.0034},
            "array": {"rows": 2, "columns": 3, "clearance": 0.6},
            "mount": {"kind": "stepped", "tilts": [15.0, 20.0, 25.0, 30.0, 35.0, 40.0, 45.0, 50.0, 55.0, 60.0]},
        }
    )
