"""Answers of the core for a build, each computed once and kept under a digest of what it was computed from."""

from __future__ import annotations

import hashlib
import io
import json
from collections import OrderedDict
from collections.abc import Callable
from functools import cache, cached_property
from pathlib import Path
from threading import Lock
from typing import Any, TypeVar

import numpy as np
from pydantic import TypeAdapter

import sundial
from sundial.brief.model import Brief
from sundial.energy.production import Production, TiltSurface
from sundial.report import Made, PlanReport, TrackerYear, WorthReport, made_report, plan_report, tracker_years, worth_report
from sundial.setting import Traced
from sundial.siting.moved import PlanShade, plan_shade
from sundial.siting.prices import Price, ShadeReport, shade_prices, shade_report
from sundial.siting.whatif import year_of
from sundial.sky.weather_year import WeatherYear
from sundial.study import Kept, Study
from web.builds.briefs import brief_of_build
from web.builds.models import Answer, Build

Held = TypeVar("Held")
ANSWERS_KEPT = 4  # of each kind and build, when there are more than twice as many
PLAN_REPORT, WORTH_REPORT = TypeAdapter(PlanReport), TypeAdapter(WorthReport)
MADE, TRACKERS, SHADE = TypeAdapter(Made), TypeAdapter(tuple[TrackerYear, ...]), TypeAdapter(ShadeReport)
PRICES, PLAN_SHADE = TypeAdapter(tuple[Price, ...]), TypeAdapter(PlanShade | None)
AROUND = ("horizon", "leaf_months", "yard", "spot", "wiring")  # what stands in the way
PHYSICS = ("site", "sky", "ground", "panel", "array", "mount", "system", *AROUND)  # what energy follows from
HOURLY = ("ghi", "dni", "dhi", "temp_air", "wind_speed")


@cache
def core_fingerprint() -> str:
    """Digest of the core's own sources: another core, other answers."""
    folder = Path(sundial.__file__).parent
    return hashlib.sha256(b"".join(path.read_bytes() for path in sorted(folder.rglob("*.py")))).hexdigest()


class _Shelf:
    """The newest few studies' heavy parts in this process, so that a change of one number does not read them again."""

    def __init__(self, most: int) -> None:
        self._most, self._lock, self._kept = most, Lock(), OrderedDict[str, Any]()

    def get(self, key: str, make: Callable[[], Held]) -> Held:
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]
        made = make()
        with self._lock:
            self._kept[key] = made
            while len(self._kept) > self._most:
                self._kept.popitem(last=False)
        return made


_weather_shelf, _study_shelf = _Shelf(8), _Shelf(24)


class Answers:
    """What the core says about one build as it stands in the database."""

    def __init__(self, build: Build, shaded: bool = True) -> None:
        self.build, self.shaded = build, shaded

    @cached_property
    def brief(self) -> Brief:
        return brief_of_build(self.build, self.shaded)

    @cached_property
    def open_sky(self) -> Answers:
        """The same build with nothing in the light's way."""
        return Answers(self.build, shaded=False) if self.shaded and self.build.yard.anything else self

    @cached_property
    def _data(self) -> dict[str, Any]:
        return self.brief.model_dump(mode="json")

    def digest(self, *keys: str) -> str:
        """Digest of some keys of the brief (all without any), of the weather file, and of the core's version."""
        part = {key: self._data[key] for key in keys} if keys else {k: v for k, v in self._data.items() if k != "name"}
        text = json.dumps([core_fingerprint(), self.build.place.file_digest, part], sort_keys=True)
        return hashlib.sha256(text.encode()).hexdigest()

    @cached_property
    def weather_digest(self) -> str:
        return self.digest("site", "sky")

    @cached_property
    def surface_digest(self) -> str:
        return self.digest(*PHYSICS)

    @cached_property
    def shape_digest(self) -> str:
        """Digest of what rays depend on: where the sun goes, what stands where, and the shape of the array."""
        data, panel = self._data, ("length", "width", "blocks", "half_cut")
        clock = [data["site"][name] for name in ("latitude", "longitude", "timezone")]
        shape = [clock, data["yard"], data["spot"], data["wiring"], data["array"], [data["panel"][name] for name in panel]]
        text = json.dumps([core_fingerprint(), self.build.place.file_digest, data["mount"]["kind"], shape], sort_keys=True)
        return hashlib.sha256(text.encode()).hexdigest()

    @cached_property
    def shade_digest(self) -> str:
        """Digest of what the shade of a year depends on: that, the light and the skyline."""
        return self.digest("site", "sky", "ground", "array", *AROUND) + self.shape_digest + self.brief.system.transposition

    @cached_property
    def weather(self) -> WeatherYear:
        return _weather_shelf.get(
            self.weather_digest,
            lambda: self._stored(
                "weather", self.weather_digest, lambda _: self._new_study().weather, _pack_weather, _unpack_weather
            ),
        )

    def _new_study(self, **given: Any) -> Study:
        return Study(self.brief, lambda name: bytes(self.build.place.file_data or b""), **given)

    @cached_property
    def study(self) -> Study:
        """The study of this brief, with its surface from the shelf, the database, or computed now."""
        return _study_shelf.get(self.digest(), self._study_with_surface)

    def _study_with_surface(self) -> Study:
        kept = _study_shelf.get("kept " + self.surface_digest, Kept)
        traced = _study_shelf.get("traced " + self.shape_digest, Traced)
        shades: list[Any] = _study_shelf.get("shades " + self.shade_digest, list)
        given = {"given_weather": self.weather, "kept": kept, "traced": traced, "shades": shades}
        bare = self._new_study(**given)
        if bare.hand_axis is not None:  # its plan is read off the axis, not off the plane
            return bare
        surface = _study_shelf.get(
            "surface " + self.surface_digest,
            lambda: self._stored("surface", self.surface_digest, lambda _: bare.surface(), _pack_surface, _unpack_surface),
        )
        return self._new_study(given_surface=surface, **given)

    @cached_property
    def plan(self) -> PlanReport:
        digest = self.digest(*PHYSICS, "plan", "use")
        return self._stored("plan", digest, lambda _: plan_report(self.study), PLAN_REPORT.dump_json, PLAN_REPORT.validate_json)

    @cached_property
    def plan_shade(self) -> PlanShade | None:
        """What shade does to the plan: asked by the tilt plan only, since it takes the open sky's plan too."""
        digest = self.digest(*PHYSICS, "plan")
        return self._stored(
            "moved", digest, lambda _: plan_shade(self.study, self.open_sky.study), PLAN_SHADE.dump_json, PLAN_SHADE.validate_json
        )

    @cached_property
    def worth(self) -> WorthReport:
        currency = self.build.purse.currency
        digest = hashlib.sha256(f"{self.digest()} {currency}".encode()).hexdigest()
        return self._stored(
            "worth", digest, lambda _: worth_report(self.study, currency), WORTH_REPORT.dump_json, WORTH_REPORT.validate_json
        )

    @cached_property
    def trackers(self) -> tuple[TrackerYear, ...]:
        return self._stored(
            "trackers", self.surface_digest, lambda _: tracker_years(self.study), TRACKERS.dump_json, TRACKERS.validate_json
        )

    @cached_property
    def produced(self) -> Made:
        """The year of the build's own mount, with every loss by name."""
        digest = self.digest(*PHYSICS, "plan")
        return self._stored("made", digest, lambda _: made_report(self.study), MADE.dump_json, MADE.validate_json)

    @property
    def held(self) -> Production:
        """The year of the own mount that a change is set against, kept in this process."""
        return _study_shelf.get("held " + self.digest(*PHYSICS, "plan"), lambda: year_of(self.study, self.study.brief))

    @cached_property
    def shade(self) -> ShadeReport:
        """What shade takes, thing by thing."""
        digest = self.digest(*PHYSICS, "plan")
        return self._stored("shade", digest, lambda _: shade_report(self.study), SHADE.dump_json, SHADE.validate_json)

    @cached_property
    def prices(self) -> tuple[Price, ...]:
        """What every obstacle costs."""
        digest = self.digest(*PHYSICS, "plan")
        return self._stored("prices", digest, lambda _: shade_prices(self.study), PRICES.dump_json, PRICES.validate_json)

    @property
    def dearest(self) -> Price | None:
        """The obstacle that costs most; None as long as the prices are not worked out, since they take their time."""
        held = self._kept("prices", self.digest(*PHYSICS, "plan"))
        prices = PRICES.validate_json(bytes(held.payload)) if held else ()
        return prices[0] if prices else None

    def _stored(
        self, kind: str, digest: str, make: Callable[[str], Held], pack: Callable[[Held], bytes], unpack: Callable[[bytes], Held]
    ) -> Held:
        kept = self._kept(kind, digest)
        if kept:
            return unpack(bytes(kept.payload))
        payload = pack(make(kind))
        # Another request may have kept the same answer a moment earlier: then this one is let go.
        Answer.objects.bulk_create([Answer(build=self.build, kind=kind, digest=digest, payload=payload)], ignore_conflicts=True)
        return unpack(payload)

    def _kept(self, kind: str, digest: str) -> Answer | None:
        return Answer.objects.filter(build=self.build, kind=kind, digest=digest).first()

    def forget_old(self) -> None:
        """Keep the newest few answers of each kind."""
        held: dict[str, list[int]] = {}
        for kind, pk in Answer.objects.filter(build=self.build).order_by("-pk").values_list("kind", "pk"):
            held.setdefault(kind, []).append(pk)
        old = [pk for pks in held.values() if len(pks) > 2 * ANSWERS_KEPT for pk in pks[ANSWERS_KEPT:]]
        if old:
            Answer.objects.filter(pk__in=old).delete()


def _pack(arrays: dict[str, np.ndarray], about: dict[str, Any]) -> bytes:
    out = io.BytesIO()
    # Single precision (7 digits) is kept, and used from the start, so that a figure never depends on where it came from.
    single = {name: values.astype(np.float32) if values.size > 1000 else values for name, values in arrays.items()}
    np.savez(out, about=np.frombuffer(json.dumps(about).encode(), dtype=np.uint8), **single)
    return out.getvalue()


def _unpack(data: bytes) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
    with np.load(io.BytesIO(data), allow_pickle=False) as held:
        about = json.loads(held["about"].tobytes())
        arrays = {name: held[name].astype(float) for name in held.files if name != "about"}
    return arrays, about


def _pack_weather(year: WeatherYear) -> bytes:
    about = {name: getattr(year, name) for name in ("utc_offset", "source", "trust", "notes", "grown", "made_up")}
    return _pack({name: getattr(year, name) for name in HOURLY}, about)


def _unpack_weather(data: bytes) -> WeatherYear:
    arrays, about = _unpack(data)
    return WeatherYear(**arrays, **{**about, "notes": tuple(about["notes"])})


def _pack_surface(surface: TiltSurface) -> bytes:
    arrays = {"tilts": surface.tilts, "energy": surface.energy, "irradiation": surface.irradiation}
    return _pack(arrays, {"azimuth": surface.azimuth})


def _unpack_surface(data: bytes) -> TiltSurface:
    arrays, about = _unpack(data)
    return TiltSurface(**arrays, **about)
