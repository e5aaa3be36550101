"""What the array should give at a moment, and whether a reading then would be a fair test."""

from __future__ import annotations

import json
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import cache
from importlib.resources import files
from typing import Any

import numpy as np
from numpy.typing import NDArray

from sundial.days import MONTH_OF_HOUR
from sundial.energy.production import Steps, convert
from sundial.energy.rear import RearLight
from sundial.energy.shade_factors import ShadeFactors, incidence_cosine
from sundial.energy.shaded import Shade, TraceCache
from sundial.energy.system import FAIMAN
from sundial.errors import BriefError
from sundial.expected.conditions import clear_light, hours_of_year, unix_of
from sundial.scene import Scene
from sundial.shade.sun_bins import BIN
from sundial.study import Study
from sundial.sun import sun_day

Floats = NDArray[np.float64]
NEAR_NOON = 2.0  # hours from solar noon within which a reading may be a fair test
SQUARE = 45.0  # degrees of incidence up to which it may be one at any hour
LIT = 0.999  # of the direct light: less is shade on the array
AT_ONCE = 40_000  # times that go through the chain together
FULL = 0.995  # of an inverter's limit: more is clipped


@cache
def skies() -> dict[str, Any]:
    """Shares of the cloudless power by the sky that is named. Source: data/skies.json."""
    found: dict[str, Any] = json.loads((files("sundial.expected") / "data" / "skies.json").read_text("utf-8"))
    return {name: share for name, share in found.items() if name != "source"}


@dataclass(frozen=True)
class Expected:
    """One moment. ``power`` W out of the inverter under the sky that is named, between ``low`` and ``high``; ``clear_power`` under a
    cloudless one; ``share_of_nameplate``; ``fair`` and ``why_not``: whether a reading now would be a fair test; ``incidence`` degrees;
    ``poa`` W/m2 on the glass; ``cell_temperature`` degC; ``voc`` and ``vmp`` V of one panel (None: its label is not told); ``shaded``
    share of the direct light that something takes; ``tilt`` and ``azimuth`` of the glass."""

    power: float
    low: float
    high: float
    clear_power: float
    share_of_nameplate: float
    fair: bool
    why_not: tuple[str, ...]
    incidence: float
    poa: float
    cell_temperature: float
    voc: float | None
    vmp: float | None
    shaded: float
    tilt: float
    azimuth: float
    elevation: float


def expected_at(
    study: Study,
    when: datetime,
    tilt: float | None = None,
    azimuth: float | None = None,
    sky: str = "clear",
    temp_air: float | None = None,
    haze: Sequence[float | None] = (),
) -> Expected:
    """What the array should give at a moment (a time without a zone is the site's clock time). ``tilt``, ``azimuth``: as it really
    stands; left out, as the plan has it then. ``temp_air`` degC where it is known; ``haze`` (12): what was
    learned of the clear air of each month, beside the climate's turbidity."""
    if sky not in skies():
        raise BriefError("--sky", f"must be one of {', '.join(skies())}")
    if tilt is not None and not -90 <= tilt <= 90:
        raise BriefError("--tilt", "must be from 0 to 90 degrees")
    unix = np.array([unix_of(study.scene.site, when)])
    tilts, azimuths = facing_at(study, unix)
    if tilt is not None:
        tilts = np.array([float(tilt)])
    if azimuth is not None:
        azimuths = np.array([azimuth % 360.0])
    light = clear_light(study.scene, unix, None if temp_air is None else np.array([temp_air]))
    shade = shade_of(study.scene, light, 0.0)
    factors = None if shade is None else shade.of_facing(tilts, azimuths)
    steps = chain(study.scene, light, tilts, azimuths, factors)
    share, clear = skies()[sky], float(steps.ac[0])
    if haze:
        learned = haze[int(MONTH_OF_HOUR[hours_of_year(unix, study.scene.weather.utc_offset)][0])]
        clear *= learned if learned is not None else 1.0
    u0, u1 = FAIMAN[study.scene.system.mounting]
    poa = float(steps.poa_global[0])
    cell = float(light.temp_air[0]) + poa / (u0 + u1 * float(light.wind_speed[0]))
    cosine = float(incidence_cosine(light, tilts, azimuths)[0]) if light.up[0] > 0 else -1.0
    incidence = float(np.degrees(np.arccos(np.clip(cosine, -1, 1))))
    shaded = 0.0 if factors is None else 1 - float(np.broadcast_to(factors.direct, (1,))[0])
    why_not = _why_not(study.scene, when, sky, float(light.elevation[0]), incidence, shaded, clear)
    voc, vmp = _volts(study.scene, cell) if poa > 20 else (None, None)
    limit = study.scene.system.inverter.power
    return Expected(
        power=clear * share["middle"],
        low=clear * share["low"],
        high=min(clear * share["high"], np.inf if limit is None else limit),
        clear_power=clear,
        share_of_nameplate=clear * share["middle"] / study.scene.array.power,
        fair=not why_not,
        why_not=why_not,
        incidence=incidence,
        poa=poa,
        cell_temperature=cell,
        voc=voc,
        vmp=vmp,
        shaded=shaded,
        tilt=float(tilts[0]),
        azimuth=float(azimuths[0]),
        elevation=float(light.elevation[0]),
    )


def facing_at(study: Study, unix: Floats) -> tuple[Floats, Floats]:
    """Tilts and azimuths (n,) of the array at Unix times, as its plan has it: by the day where a hand moves it, by the hour else."""
    places = hours_of_year(unix, study.scene.weather.utc_offset)
    facing, _ = study.own_facing
    at = places // 24 * 24 + 12 if study.brief.mount.still_by_day else places
    return facing.surface_tilt[at], facing.surface_azimuth[at]


def expected_series(study: Study, unix: Floats, tilt: Floats | float | None = None, temp_air: Floats | None = None) -> Floats:
    """Cloudless power at Unix times (n,), W, through the plan's own chain, shade counted; zero while the sun is down. ``tilt``, one or
    (n,): as it stood; where it is left out, or NaN, as the plan has it. Long series go through in parts, so memory stays bounded."""
    parts = []
    for start in range(0, len(unix), AT_ONCE):
        part = slice(start, start + AT_ONCE)
        light = clear_light(study.scene, unix[part], None if temp_air is None else temp_air[part])
        tilts, azimuths = _stood(study, unix[part], tilt if tilt is None else np.broadcast_to(tilt, (len(unix),))[part])
        parts.append(_power(study.scene, light, tilts, azimuths, shade_of(study.scene, light)))
    return np.concatenate(parts) if parts else np.zeros(0)


def expected_and_open(study: Study, unix: Floats, tilt: Floats | float | None = None) -> tuple[Floats, Floats]:
    """:func:`expected_series` (n,) W of up to ``AT_ONCE`` times, and the same with nothing in the way."""
    light = clear_light(study.scene, unix)
    tilts, azimuths = _stood(study, unix, tilt)
    bare = _power(study.scene, light, tilts, azimuths, None)
    shade = shade_of(study.scene, light)
    return (bare if shade is None else _power(study.scene, light, tilts, azimuths, shade)), bare


def _stood(study: Study, unix: Floats, tilt: Floats | float | None) -> tuple[Floats, Floats]:
    """:func:`facing_at`, and ``tilt`` where it is told."""
    tilts, azimuths = facing_at(study, unix)
    if tilt is None:
        return tilts, azimuths
    told = np.broadcast_to(np.asarray(tilt, dtype=float), (len(unix),))
    return np.where(np.isnan(told), tilts, told), azimuths


def _power(scene: Scene, light: Any, tilts: Floats, azimuths: Floats, shade: Shade | None) -> Floats:
    return chain(scene, light, tilts, azimuths, None if shade is None else shade.of_facing(tilts, azimuths)).ac


def shade_of(scene: Scene, light: Any, size: float = BIN) -> Shade | None:
    """What stands in the way of the light at these times, None where nothing does; ``size`` of the bins its directions are gathered in,
    degrees."""
    if not scene.obstructed:
        return None
    traces = TraceCache(domes=scene.traces.domes)
    return Shade(light, scene.geometry, scene.yard, scene.skyline, size=size, traces=traces)


def chain(scene: Scene, light: Any, tilts: Floats, azimuths: Floats, factors: ShadeFactors | None) -> Steps:
    """The energy chain at any times (n,)."""
    behind = RearLight(light, scene.system.standing, scene.system.array.azimuth) if scene.array.panel.bifaciality > 0 else None
    return convert(light, scene.system, tilts, azimuths, factors, None if behind is None else behind.of_facing(tilts, azimuths))


def _why_not(
    scene: Scene, when: datetime, sky: str, elevation: float, incidence: float, shaded: float, power: float
) -> tuple[str, ...]:
    """What keeps a reading from being a fair test, in words."""
    if elevation <= 0:
        return ("the sun is down",)
    found = []
    if sky != "clear":
        found.append("the sky is not clear")
    local = when if when.tzinfo else when.replace(tzinfo=scene.site.zone)
    noon = sun_day(scene.site, local.astimezone(scene.site.zone).date()).solar_noon
    away = abs((local - noon).total_seconds()) / 3600
    if away > NEAR_NOON and incidence > SQUARE:
        found.append(f"it is {away:.1f} hours from solar noon and the sun meets the glass at {incidence:.0f} degrees")
    if shaded > 1 - LIT:
        found.append(f"something shades {100 * shaded:.0f} % of the array")
    limit = scene.system.inverter.power
    if limit is not None and power >= FULL * limit:
        found.append("the inverter is at its limit: the meter would show that")
    return tuple(found)


def _volts(scene: Scene, cell: float) -> tuple[float | None, float | None]:
    """Open and working voltage of one panel at a cell temperature: the label's at 25 degC, changed by beta x Voc a degree."""
    label = scene.brief.electrics
    if label is None:
        return None, None
    drop = label.beta * label.voc * (cell - 25)
    return label.voc + drop, label.vmp + drop
