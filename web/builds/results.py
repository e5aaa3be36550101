"""Results of the core for a build, each computed once and stored under a digest of what it was computed from."""

from __future__ import annotations

import hashlib
import io
import json
import logging
import zlib
from collections.abc import Callable, Iterable, Mapping, Sequence
from contextlib import suppress
from dataclasses import dataclass
from functools import cache, cached_property
from pathlib import Path
from typing import Any, TypeVar
from zipfile import BadZipFile

import numpy as np
from pydantic import TypeAdapter

import sundial
from sundial.answers.plan.report import PlanReport, plan_is_dear, plan_report, refuse_impossible
from sundial.brief.model import Brief
from sundial.brief.read import brief_of
from sundial.caching import Cache
from sundial.energy.production import TiltSurface
from sundial.energy.shaded import ShadeCache, ThingCache, TraceCache
from sundial.errors import BriefError
from sundial.plan.today import Weeks, weeks_of
from sundial.progress import Report, unwatched
from sundial.scene import Scene
from sundial.sky.weather_year import WeatherYear
from sundial.study import Study, StudyCache, studied
from sundial.wind.caps import plan_cap
from web.builds import registry
from web.builds.briefs import brief_data, without_obstacles
from web.builds.models import Build, StoredResult
from web.builds.registry import Codec, Result

Value = TypeVar("Value")
PHYSICS = (
    "site", "sky", "ground", "panel", "array", "mount", "frame", "stand", "system",
    "horizon", "leaf_months", "yard", "spot", "wiring",
)  # fmt: skip  # what energy follows from
HOURLY = ("ghi", "dni", "dhi", "temp_air", "wind_speed")


JUDGED_BY = ("use.demand", "use.shape", "use.profile", "use.generator", "battery")


class ProcessCache(Cache):
    """What is worth holding in a process between requests: heavy parts of the newest few studies, by digest."""

    sizes = {
        "weather": 8,
        "sky": 10,
        "study": 16,
        "surface": 20,
        "study_cache": 16,
        "traces": 16,
        "things": 2,
        "shade_cache": 16,
        "year": 16,
    }


_process = ProcessCache()
forget_all = _process.clear
logger = logging.getLogger(__name__)
UNREADABLE = (
    ValueError,
    TypeError,
    KeyError,
    AttributeError,
    EOFError,
    OSError,
    BadZipFile,
    zlib.error,
)  # of bytes that are not what is read


@cache
def core_fingerprint() -> str:
    """Digest of the core's own sources and tables and of the libraries under it: another core, other results."""
    folder = Path(sundial.__file__).parent
    files = sorted([*folder.rglob("*.py"), *folder.rglob("*.json")])
    lock = folder.parent / "requirements.lock"
    files += [lock] if lock.exists() else []
    return hashlib.sha256(b"".join(path.read_bytes() for path in files)).hexdigest()


def json_codec(kind: Any) -> Codec:
    """Stores frozen data as JSON, read back by its type."""
    adapter = TypeAdapter(kind)
    return Codec(adapter.dump_json, adapter.validate_json, json.dumps(adapter.json_schema(), sort_keys=True))


BYTES = Codec(bytes, bytes)


class Results:
    """What the core says about one build as its parts stand, saved or not."""

    def __init__(self, build: Build, shaded: bool = True) -> None:
        self.build, self.shaded = build, shaded
        self._held: dict[tuple[str, str], Any] = {}
        self._texts: dict[str, str] = {}
        self._loaded: dict[tuple[str, str], bytes | None] = {}  # payloads that were asked for together; None: there is none

    @cached_property
    def brief(self) -> Brief:
        """The checked brief, with its obstacles or under an open sky; BriefError names what is wrong."""
        data = brief_data(self.build)
        return brief_of(data if self.shaded else without_obstacles(data))

    @property
    def obstructed(self) -> bool:
        """Whether anything may stand in the light's way."""
        brief = self.brief
        hung = brief.stand is not None and brief.stand.house is not None
        return bool(brief.horizon or (brief.yard and brief.yard.objects) or brief.spot.split or brief.spot.parts or hung)

    @property
    def open_sky(self) -> Results:
        """The same build with nothing in the light's way (this itself where nothing is)."""
        return self._bare_sky if self.shaded and self.obstructed else self

    @cached_property
    def _bare_sky(self) -> Results:
        return Results(self.build, shaded=False)

    @cached_property
    def _files(self) -> dict[str, str]:
        """Digests of the files that the brief names, by key."""
        found: dict[str, str] = {}
        for part in registry.parts():
            found |= part.of(self.build).file_digests()
        return found

    @cached_property
    def _data(self) -> dict[str, Any]:
        about = {"currency": self.build.currency, "units": self.build.units, "open_sky": not self.shaded}
        return {**self.brief.model_dump(mode="json"), "build": about}

    def digest(self, *inputs: str, params: Mapping[str, str] | None = None) -> str:
        """Digest of some keys of the brief (``plan.goal`` for a part of a section), of the files they name, of the
        parameters of the question, and of the core's version."""
        chosen = {key: self._text(key) for key in inputs}
        if "plan" in inputs:  # a plan obeys the caps of the wind, whatever they follow from
            chosen["wind cap"] = json.dumps(self._wind_cap)
            if self.brief.use.kind == "off-grid":  # and plans off the grid may be judged by what they meet
                chosen |= {key: self._text(key) for key in JUDGED_BY}
        files = {name: made for name, made in self._files.items() if name.partition(".")[0] in inputs}
        text = json.dumps([core_fingerprint(), files, chosen, dict(params or {})], sort_keys=True)
        return hashlib.sha256(text.encode()).hexdigest()

    def _text(self, key: str) -> str:
        """A key of the brief as text, written once."""
        if key == "fellows":  # the other builds of its group, which share its use
            return self._fellows_text
        if key not in self._texts and key in self._states:
            self._texts[key] = self._states[key]
        if key not in self._texts:
            self._texts[key] = json.dumps(_inside(self._data, key), sort_keys=True)
        return self._texts[key]

    @cached_property
    def _states(self) -> dict[str, str]:
        found: dict[str, str] = {}
        for part in registry.parts():
            found |= part.of(self.build).states()
        return found

    @cached_property
    def _fellows_text(self) -> str:
        from web.builds.group import fellows, own_data  # which imports this module's own neighbours

        return json.dumps([own_data(fellow) for fellow in fellows(self.build)], sort_keys=True)

    @cached_property
    def _wind_cap(self) -> list[float] | None:
        """The highest tilt of each month that the wind leaves to the plan."""
        wind = self.brief.wind
        if wind is None or not wind.in_plan:
            return None
        cap = plan_cap(self.scene)
        return None if cap is None else cap.tolist()

    @cached_property
    def bare(self) -> Study:
        """A study without what takes long: for its geometry and its weather."""
        return self._new_study(given_weather=self.weather, traces=self._traces)

    @property
    def scene(self) -> Scene:
        """What the brief describes."""
        return self.bare.scene

    @cached_property
    def _shape_digest(self) -> str:
        """Digest of what rays depend on: where the sun goes, what stands where, and the shape of the array."""
        panel = ("panel.length", "panel.width", "panel.blocks", "panel.half_cut")
        site = ("site.latitude", "site.longitude", "site.timezone")
        clock = json.dumps(self._files, sort_keys=True)  # a file brings its own
        return (
            self.digest(*site, "yard", "spot", "wiring", "array", "mount.kind", "stand", *panel)
            + self._frame_stands
            + clock
            + self._house
        )

    @property
    def _house(self) -> str:
        """Its own house stands behind the flattest of its tilts, whatever these are."""
        stand = self.brief.stand
        return self.digest("mount", "frame") if stand is not None and stand.house is not None else ""

    @property
    def _frame_stands(self) -> str:
        """What of the frame's measures rays depend on: how high it stands, and on ground that falls sideways, which way it looks. Its
        holes set tilts, and these are traced for themselves."""
        frame = self.brief.frame
        if frame is None:
            return ""
        if frame.cross_slope:
            return frame.model_dump_json()
        return json.dumps([frame.kind, frame.front_height, getattr(frame, "height", None)])

    @cached_property
    def weather(self) -> WeatherYear:
        digest = self.digest("site", "sky")
        return _process.get("weather", digest, lambda: self.get(WEATHER))

    @property
    def _sky(self) -> dict[str, Any]:
        """What follows from place and sky alone, shared by all studies under them."""

        def made() -> dict[str, Any]:
            one = self._new_study(given_weather=self.weather)
            return {
                "given_weather": one.scene.weather,
                "given_sun": one.scene.sun,
                "given_light": one.scene.light,
                "given_bins": one.scene.sun_bins,
            }

        return _process.get("sky", self.digest("site", "sky", "ground", "system.transposition"), made)

    @cached_property
    def study(self) -> Study:
        """The study of this brief, with its surface from the process, the database, or computed now."""
        return _process.get("study", self.digest(*self._data), self._study)

    def _new_study(self, **given: Any) -> Study:
        return studied(self.brief, _files_of(self.build), **given)

    def _study(self) -> Study:
        physics = self.digest(*PHYSICS)
        light = self.digest("site", "sky", "ground", "array", "horizon", "leaf_months", "system.transposition")
        given = {
            **self._sky,
            "cache": _process.get("study_cache", physics, StudyCache),
            "traces": self._traces,
            "shade_cache": _process.get("shade_cache", light + self._shape_digest, ShadeCache),
        }
        bare = self._new_study(**given)
        if bare.hand_axis is not None:  # its plan is read off the axis, not off the plane
            return bare
        surface = _process.get("surface", physics, lambda: self.get(SURFACE, make=bare.surface))
        return self._new_study(given_surface=surface, **given)

    def year(self, make: Callable[[Study], Value]) -> Value:
        """The year of the own mount that a change is set against, held in this process."""
        return _process.get("year", self.digest(*PHYSICS, "plan"), lambda: make(self.study))

    def check(self) -> None:
        """BriefError where the core cannot make a year or a plan of this; neither is computed."""
        _ = self.weather  # a file is read, and twelve numbers are made a year of
        refuse_impossible(self.bare)

    @property
    def _traces(self) -> TraceCache:
        def made() -> TraceCache:
            site = self.digest("site.latitude", "site.longitude", "site.timezone") + json.dumps(self._files, sort_keys=True)
            return TraceCache(_process.get("things", site, ThingCache))

        return _process.get("traces", self._shape_digest, made)

    @property
    def plan(self) -> PlanReport:
        """The tilt plan that every station's frame shows."""
        return self["plan"]

    def __getitem__(self, name: str) -> Any:
        return self.get(named(name))

    def get(
        self,
        result: Result,
        params: Mapping[str, str] | None = None,
        report: Report = unwatched,
        make: Callable[[], Any] | None = None,
    ) -> Any:
        """A result: held, stored, or computed and stored now."""
        digest = self.key(result, params)
        held = (result.name, digest)
        if not self._read(result, digest):
            made = make() if make else result.compute(self, params or {}, report)
            payload = result.codec.pack(made)
            # Another request may have stored the same result a moment earlier: then this one is let go.
            stored = StoredResult(build=self.build, kind=result.name, digest=digest, payload=payload)
            StoredResult.objects.bulk_create([stored], ignore_conflicts=True)
            self._held[held] = result.codec.unpack(payload)
        return self._held[held]

    def key(self, result: Result, params: Mapping[str, str] | None = None) -> str:
        """What a stored result is found by: what it follows from, the code that computed it, and the type that reads it."""
        return hashlib.sha256((self.digest(*result.inputs, params=params) + result.version).encode()).hexdigest()

    def _read(self, result: Result, digest: str) -> bool:
        """Hold a stored result; False where there is none. One that cannot be read is none, and goes."""
        if (result.name, digest) in self._held:
            return True
        payload = self._stored(result.name, digest)
        if payload is None:
            return False
        try:
            self._held[result.name, digest] = result.codec.unpack(payload)
        except UNREADABLE:
            logger.warning("stored result dropped, it cannot be read", extra={"kind": result.name, "build": self.build.pk})
            StoredResult.objects.filter(build=self.build, kind=result.name, digest=digest).delete()
            return False
        return True

    def has(self, name: str, params: Mapping[str, str] | None = None) -> bool:
        """Whether a result is stored already."""
        result = named(name)
        return self._read(result, self.key(result, params))

    def peek(self, name: str, params: Mapping[str, str] | None = None) -> Any:
        """A result that is stored already, or None: nothing is computed."""
        return self.get(named(name), params) if self.has(name, params) else None

    def preload(self, names: Iterable[str]) -> None:
        """Read the stored payloads of some results in one query, before they are asked for one by one."""
        wanted = [(name, self.key(named(name))) for name in names]
        wanted = [key for key in wanted if key not in self._held]
        rows = StoredResult.objects.filter(build=self.build, digest__in=[digest for _, digest in wanted])
        found = {(kind, digest): bytes(payload) for kind, digest, payload in rows.values_list("kind", "digest", "payload")}
        self._loaded |= {key: found.get(key) for key in wanted}

    def _stored(self, kind: str, digest: str) -> bytes | None:
        if (kind, digest) in self._loaded:  # once: another request may have stored it meanwhile
            return self._loaded.pop((kind, digest))
        found = StoredResult.objects.filter(build=self.build, kind=kind, digest=digest).values_list("payload", flat=True).first()
        return None if found is None else bytes(found)

    def forget_old(self) -> None:
        """Keep the newest few results of each kind."""
        stored: dict[str, list[int]] = {}
        for kind, pk in StoredResult.objects.filter(build=self.build).order_by("-pk").values_list("kind", "pk"):
            stored.setdefault(kind, []).append(pk)
        old = []
        for kind, pks in stored.items():
            result = registry.result_named(kind)
            kept = result.kept if result else 4
            if len(pks) > 2 * kept:
                old += pks[kept:]
        if old:
            StoredResult.objects.filter(pk__in=old).delete()


def preload_together(every: Sequence[Results], name: str) -> None:
    """Read the stored payloads of one result of many builds in one query, before they are asked for one by one."""
    result = named(name)
    wanted: dict[tuple[int, str], Results] = {}
    for results in every:
        with suppress(BriefError):  # a brief that is refused says so where its result is asked for
            wanted[results.build.pk, results.key(result)] = results
    stored = StoredResult.objects.filter(
        kind=name, build__in={build for build, _ in wanted}, digest__in={key for _, key in wanted}
    )
    payloads = {(build, digest): bytes(payload) for build, digest, payload in stored.values_list("build", "digest", "payload")}
    for (build, digest), results in wanted.items():
        results._loaded[name, digest] = payloads.get((build, digest))


def _files_of(build: Build) -> Callable[[str], bytes]:
    """Reads the files that a build's brief names. A study keeps this and not the results, which keep the study: what holds itself would
    stay until the garbage collector comes."""

    def load(name: str) -> bytes:
        held = (part.of(build).file(name) for part in registry.parts())
        return next((data for data in held if data is not None), b"")

    return load


def named(name: str) -> Result:
    """A result of the shell or of a station; KeyError where there is none."""
    found = SHELL.get(name) or registry.result_named(name)
    if found is None:
        raise KeyError(name)
    return found


def _inside(data: Mapping[str, Any], key: str) -> Any:
    section, _, inner = key.partition(".")
    value = data.get(section)
    if inner and isinstance(value, list):  # of every entry
        return [entry.get(inner) for entry in value]
    return value.get(inner) if inner and isinstance(value, dict) else value


def _pack(arrays: dict[str, np.ndarray], about: dict[str, Any]) -> bytes:
    out = io.BytesIO()
    # Single precision (7 digits) is stored, and used from the start, so that a figure never depends on where it came from.
    single = {name: values.astype(np.float32) if values.size > 1000 else values for name, values in arrays.items()}
    np.savez(out, about=np.frombuffer(json.dumps(about).encode(), dtype=np.uint8), **single)  # type: ignore[arg-type]
    return out.getvalue()


def _unpack(data: bytes) -> tuple[dict[str, np.ndarray], dict[str, Any]]:
    with np.load(io.BytesIO(data), allow_pickle=False) as held:
        about = json.loads(held["about"].tobytes())
        arrays = {name: held[name].astype(float) for name in held.files if name != "about"}
    return arrays, about


def _pack_weather(year: WeatherYear) -> bytes:
    about = {
        name: getattr(year, name) for name in ("utc_offset", "source", "trust", "notes", "synthetic", "made_up", "reanalysis")
    }
    return _pack({name: getattr(year, name) for name in HOURLY}, about)


def _unpack_weather(data: bytes) -> WeatherYear:
    arrays, about = _unpack(data)
    return WeatherYear(**arrays, **{**about, "notes": tuple(about["notes"])})  # type: ignore[arg-type]


def _pack_surface(surface: TiltSurface) -> bytes:
    arrays = {"tilts": surface.tilts, "energy": surface.energy, "irradiation": surface.irradiation}
    return _pack(arrays, {"azimuth": surface.azimuth})


def _unpack_surface(data: bytes) -> TiltSurface:
    arrays, about = _unpack(data)
    return TiltSurface(**arrays, **about)  # type: ignore[arg-type]


# What the frame of every station rests on belongs to no station.
WEATHER = Result(
    "weather", ("site", "sky"), lambda results, *_: results._new_study().scene.weather, Codec(_pack_weather, _unpack_weather)
)
SURFACE = Result("surface", PHYSICS, lambda results, *_: results.study.surface(), Codec(_pack_surface, _unpack_surface))
PLAN = Result(
    "plan",
    (*PHYSICS, "plan"),
    lambda results, *_: plan_report(results.study),
    json_codec(PlanReport),
    dear=lambda results: plan_is_dear(results.study),
)
SHELL = {result.name: result for result in (WEATHER, SURFACE, PLAN)}


@dataclass(frozen=True)
class Move:
    """One move of a plan: the day it falls on, its window, and the tilt."""

    start: int
    earliest: int
    latest: int
    tilt: float


@dataclass(frozen=True)
class Summary:
    """What the list shows of a build: kWh a year, the tilt if it is never moved, its moves by hand, kWh of each day (365), what a tilt gives by
    the week where a hand moves it, and ``how`` it is held: "fixed", "turned" through the day by hand, by "motor", or by "hand"."""

    energy: float
    tilt: float
    moves: tuple[Move, ...]
    daily: tuple[float, ...]
    weeks: Weeks | None = None
    how: str = "hand"


def _summary(results: Results, *_: Any) -> Summary:
    plan, chosen = results.plan, results.plan.chosen
    by_hand = chosen.moves and not plan.moved_by_motor
    moves = tuple(Move(s.start, s.earliest, s.latest, s.tilt) for s in chosen.stretches) if by_hand else ()
    weeks = weeks_of(results.study.plan_surface) if moves else None
    held = "" if plan.held is None else "turned" if plan.held.turned else "fixed"
    how = "motor" if plan.moved_by_motor else held or "hand"
    return Summary(plan.made, chosen.stretches[0].tilt, moves, plan.made_daily, weeks, how)


SUMMARY = Result("summary", (*PHYSICS, "plan"), _summary, json_codec(Summary))
SHELL[SUMMARY.name] = SUMMARY
