"""A monitor that is played: what a build's meter would have shown under its weather, its shade, and faults from a list."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field
from datetime import UTC, date, datetime, timedelta

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAYS, day_of_date
from sundial.errors import BriefError
from sundial.expected.conditions import clear_light
from sundial.expected.moment import expected_series
from sundial.record.series import Series
from sundial.scene import Scene
from sundial.study import Study
from sundial.sun import sun_at_times

Floats = NDArray[np.float64]
CLEAR = 0.9  # of the cloudless light over a day: such a day is played without a cloud
DULL = 0.42  # under it the day is evenly overcast
DIRT, GROWS, RAINS = 0.06, 45, 50  # share taken after so many days without rain; days from rain to rain
TREE = (100.0, 125.0, 24.0, 0.25)  # bearings, elevation of its top, share of the power that passes
CAP = 0.55  # of the nameplate that a throttled system takes
METER = 0.006  # scatter of one reading
HAZE = 0.01  # scatter of the clear days among themselves
FAULTS = {
    "dirt": "dirt grows to 6 % between rains seven weeks apart",
    "section": "a bypass section is dead from the middle of the time on",
    "tree": "a tree in the south-east that the survey lacks",
    "clock": "the clock runs an hour ahead",
    "throttle": "more than 55 % of the nameplate is not taken",
}


@dataclass(frozen=True, eq=False)
class Played:
    """A played series; the days that were clear and those on which it rained so hard that it washed the glass."""

    series: Series
    clear: frozenset[date]
    washes: tuple[date, ...] = field(default=())


def simulate(
    study: Study,
    first: date,
    days: int,
    step: int = 300,
    faults: Sequence[str] = (),
    seed: int = 1,
    tilt: Floats | float | None = None,
) -> Played:
    """``days`` from a date on at ``step`` seconds. The weather year says how bright each day is; clear days follow the cloudless sky,
    dull ones are even, others broken, all seeded. BriefError for a fault that is not known."""
    for fault in faults:
        if fault not in FAULTS:
            raise BriefError("--fault", f"{fault!r} is not known; there are: {', '.join(FAULTS)}")
    random = np.random.default_rng(seed)
    start = datetime(first.year, first.month, first.day, tzinfo=study.scene.site.zone).timestamp()
    unix = start + step * np.arange(days * 86400 // step, dtype=float)
    power = expected_series(study, unix + step / 2, tilt)
    per = 86400 // step
    share = np.ones(len(unix))
    bright, clear = _brightness(study.scene), set()
    for number in range(days):
        at, day = slice(number * per, (number + 1) * per), first + timedelta(days=number)
        level = float(bright[day_of_date(day)])
        if level >= CLEAR:
            clear.add(day)
            share[at] = random.normal(1.0, HAZE)
        elif level >= DULL:
            share[at] = _broken(random, per, level, step)
        else:
            share[at] = max(level, 0.06) * (1 + 0.02 * _smooth(random, per, 1800 / step))
    power = power * share * (1 + METER * random.standard_normal(len(unix)))
    washes = tuple(first + timedelta(days=number) for number in range(0, days, RAINS)) if "dirt" in faults else ()
    power = np.maximum(_with_faults(study.scene, unix + step / 2, power, faults), 0.0)
    shift = 3600.0 if "clock" in faults else 0.0
    return Played(Series(unix + shift, power, float(step)), frozenset(clear), washes)


def _brightness(scene: Scene) -> Floats:
    """Light of each day of the weather year over that of a cloudless one (365,), drawn out so that its brightest tenth reaches one."""
    weather = scene.weather
    start = datetime(2026, 1, 1, tzinfo=UTC).timestamp() - weather.utc_offset * 3600  # hours of local standard time
    cloudless = clear_light(scene, np.asarray(start + 3600.0 * np.arange(DAYS * 24) + 1800)).ghi.reshape(DAYS, 24).sum(axis=1)
    found = weather.ghi.reshape(DAYS, 24).sum(axis=1) / np.maximum(cloudless, 1.0)
    level: Floats = np.clip(found / max(float(np.percentile(found, 90)), 0.3), 0.03, 1.0)
    return level


def _smooth(random: np.random.Generator, count: int, span: float) -> Floats:
    """Noise of about one standard deviation that lasts ``span`` steps."""
    width = max(1, round(span))
    raw = np.convolve(random.standard_normal(count + width), np.ones(width) / np.sqrt(width), "valid")[:count]
    found: Floats = raw
    return found


def _broken(random: np.random.Generator, count: int, level: float, step: int) -> Floats:
    """A day of clouds with gaps, ``level`` on the mean: deep shadows and edges that are brighter than the open sky."""
    cloud = _smooth(random, count, 900 / step)
    limit = np.quantile(cloud, 1 - np.clip((level - 0.25) / 0.8, 0.05, 0.95))
    found = np.where(cloud > limit, 1.03, 0.28) * (1 + 0.05 * random.standard_normal(count))
    scaled: Floats = np.clip(found * level / max(float(found.mean()), 0.05), 0.03, 1.15)
    return scaled


def _with_faults(scene: Scene, unix: Floats, power: Floats, faults: Sequence[str]) -> Floats:
    per = len(unix) and round(86400 / max(float(np.median(np.diff(unix))), 1.0))
    day = np.arange(len(unix)) // max(per, 1)
    if "dirt" in faults:
        power = power * (1 - DIRT * np.minimum(day % RAINS / GROWS, 1.0))
    if "section" in faults:
        of = scene.array.wired * scene.brief.panel.blocks
        power = np.where(day >= day[-1] // 2, power * (1 - 1 / of), power)
    if "tree" in faults:
        sun = sun_at_times(scene.site, unix, np.zeros(len(unix), dtype=np.int64))
        low, high, top, passes = TREE
        if scene.site.latitude < 0:
            low, high = 180 - high, 180 - low
        behind = (sun.azimuth >= low) & (sun.azimuth <= high) & (sun.elevation < top)
        power = np.where(behind, power * passes, power)
    if "throttle" in faults:
        power = np.minimum(power, CAP * scene.array.power)
    return power


@dataclass(frozen=True)
class Packet:
    """One reading as a monitor sends it: Unix time, W, and its own number."""

    unix: float
    power: float
    number: int


def packets(series: Series, dropped: float = 0.0, repeated: float = 0.0, seed: int = 1) -> Iterator[Packet]:
    """A series as packets, some of which are lost and some sent twice, seeded."""
    random = np.random.default_rng(seed)
    for number, (unix, power) in enumerate(zip(series.unix.tolist(), series.power.tolist(), strict=True)):
        if random.uniform() < dropped:
            continue
        packet = Packet(unix, round(power, 1), number)
        yield packet
        if random.uniform() < repeated:
            yield packet


DIALECTS = ("plain", "comma", "counter", "american")


def written(series: Series, dialect: str, zone: str, seed: int = 1) -> bytes:
    """The series as a file, as monitors write it: ``plain`` (ISO, W), ``comma`` (semicolons, decimal comma, kW, local time after a
    preamble), ``counter`` (kWh counting on, with a reset), ``american`` (month first, Wh by interval, nights below zero)."""
    import pandas as pd

    times = pd.to_datetime(series.unix, unit="s", utc=True)
    if dialect == "plain":
        rows = [f"{at},{watts:.1f}" for at, watts in zip(times.strftime("%Y-%m-%dT%H:%M:%SZ"), series.power, strict=True)]
        return "\n".join(["time,power", *rows, ""]).encode()
    local = times.tz_convert(zone)
    if dialect == "comma":
        cells = [f"{watts / 1000:.4f}".replace(".", ",") for watts in series.power]
        rows = [
            f"{day};{hour};{kw}" for day, hour, kw in zip(local.strftime("%d.%m.%Y"), local.strftime("%H:%M"), cells, strict=True)
        ]
        return "\n".join(["Anlage;Gestell", "", "Datum;Uhrzeit;Leistung [kW]", *rows, ""]).encode("cp1252")
    if dialect == "counter":
        total = 4321.0 + np.concatenate([[0.0], np.cumsum(series.energy)[:-1]]) / 1000
        total[len(total) // 2 :] -= total[len(total) // 2] - 0.001
        rows = [f"{at},{kwh:.5f}" for at, kwh in zip(times.strftime("%Y-%m-%d %H:%M:%S+00:00"), total, strict=True)]
        return "\n".join(["timestamp,total yield (kWh)", *rows, ""]).encode("utf-8-sig")
    if dialect == "american":
        values = np.where(series.power > 0, series.energy, -0.15)
        stamps = local.strftime("%m/%d/%Y %I:%M:%S %p")
        rows = [f'"{at}","{wh:.2f}"' for at, wh in zip(stamps, values, strict=True)]
        return "\r\n".join(['"Date and time","Energy (Wh)"', *rows, ""]).encode("utf-16")
    raise BriefError("--dialect", f"must be one of {', '.join(DIALECTS)}")
