"""A played day of an array with hidden faults: what its monitor shows, what a meter at its plugs would read, and what somebody would find there."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta

import numpy as np
from numpy.typing import NDArray

from sundial.diagnosis.faults import Fault, Group, drawn, staircase
from sundial.diagnosis.wired import Wired, wired
from sundial.energy.irradiance import IrradianceComponents
from sundial.energy.production import Steps
from sundial.energy.system import FAIMAN
from sundial.expected.conditions import clear_light
from sundial.expected.moment import chain, facing_at
from sundial.study import Study

Floats = NDArray[np.float64]
EVERY = 300
SCATTER = 0.006  # of one value of the monitor
VOLTS, AMPS = 0.012, 0.015  # of a hand meter and of the temperature that is guessed
RIGHT = {
    "glass": "clean", "edges": "free", "tilt": "as told", "facing": "as told", "load": "same", "battery": "not full", "shadow": "none",
    "since": "unknown", "cable": "cool", "voc": "right", "range": "higher", "clock": "right", "air": "open", "plug": "tight",
}  # fmt: skip
# What people find where nothing of the kind is wrong (thumb): some dust on any glass, a warm cable at noon, a panel close to its roof.
CHANCE = {
    "glass": ("dusty", 0.12),
    "cable": ("warm", 0.08),
    "air": ("none", 0.08),
    "battery": ("full", 0.05),
    "shadow": ("moving", 0.06),
}


@dataclass(frozen=True, eq=False)
class PlayedDay:
    """``unix`` (n,) starts of the five-minute intervals, ``measured`` and ``expected`` (n,) W; ``look``: when somebody stood before the meter, and
    what it showed: ``watts``, ``volts`` and ``amps`` over those to be expected then; ``sky`` over the day; ``answers``: what would be found,
    by question; ``causes`` that are hidden."""

    day: date
    unix: Floats
    measured: Floats
    expected: Floats
    look: int
    volts: float
    amps: float
    sky: str
    answers: Mapping[str, str]
    causes: tuple[str, ...]
    joined: Wired
    nameplate: float

    @property
    def looked_at(self) -> float:
        """Unix time of the look."""
        return float(self.unix[self.look])


@dataclass(frozen=True, eq=False)
class Yard:
    """The light of one day on one build: what does not depend on the faults."""

    study: Study
    day: date
    unix: Floats
    light: IrradianceComponents
    tilts: Floats
    azimuths: Floats
    steps: Steps

    @property
    def noon(self) -> int:
        return int(np.argmax(self.light.elevation))


def yard_of(study: Study, day: date) -> Yard:
    """The cloudless day at five-minute steps, shade left out: the played yard is open but for its faults."""
    start = datetime(day.year, day.month, day.day, tzinfo=UTC) - timedelta(hours=study.scene.weather.utc_offset)
    unix = np.asarray(start.timestamp() + EVERY * np.arange(86400 // EVERY), dtype=np.float64)
    tilts, azimuths = facing_at(study, unix)
    light = clear_light(study.scene, unix + EVERY / 2)
    return Yard(study, day, unix, light, tilts, azimuths, chain(study.scene, light, tilts, azimuths, None))


def play(yard: Yard, causes: Sequence[str], seed: int, sky: str = "clear", certain: bool = False) -> PlayedDay:
    """A day with the faults of these causes, seeded. ``sky`` is what the day has where cloud is not the cause; ``certain``: whoever looks
    overlooks nothing."""
    random = np.random.default_rng(seed)
    study = yard.study
    joined = wired(study.scene)
    faults = [drawn(cause, random, joined.blocks, joined.panels) for cause in causes]
    if "cloud" in causes:
        sky = str(random.choice(["broken", "overcast", "haze"], p=[0.4, 0.4, 0.2]))
    expected = yard.steps.ac
    volts, amps = np.ones(len(expected)), np.ones(len(expected))
    power = expected * _sky(random, sky, len(expected))
    amps = amps * np.where(expected > 0, power / np.maximum(expected, 1e-9), 1.0)
    for fault in faults:
        power, volts, amps = _with(yard, fault, power, volts, amps, random, joined)
    limit = study.scene.system.inverter.power
    power = np.maximum(power if limit is None else np.minimum(power, limit), 0.0)
    measured = power * (1 + SCATTER * random.standard_normal(len(power)))
    for fault in faults:
        if fault.cause == "clock":
            measured = np.roll(measured, round(fault.size * 3600 / EVERY))
    look = _look(yard, faults, random)
    return PlayedDay(
        yard.day, yard.unix, measured, expected, look, float(volts[look] * (1 + VOLTS * random.standard_normal())),
        float(amps[look] * (1 + AMPS * random.standard_normal())), sky, _answers(faults, sky, random, certain), tuple(causes), joined,
        study.scene.array.power,
    )  # fmt: skip


def _sky(random: np.random.Generator, sky: str, count: int) -> Floats:
    """Share of the cloudless power through a day (n,)."""
    if sky == "clear":
        return np.full(count, float(random.normal(1.0, 0.012)))
    if sky == "haze":
        return float(random.uniform(0.78, 0.9)) * (1 + 0.012 * _slow(random, count, 12))
    if sky == "overcast":
        return float(random.uniform(0.1, 0.35)) * np.exp(0.12 * _slow(random, count, 12))
    cloud = _slow(random, count, 3)
    share = np.where(cloud > np.quantile(cloud, random.uniform(0.3, 0.6)), 1.02, 0.3)
    return np.asarray(share * (1 + 0.06 * random.standard_normal(count)), dtype=np.float64)


def _slow(random: np.random.Generator, count: int, width: int) -> Floats:
    """Noise of one standard deviation that lasts ``width`` steps."""
    found: Floats = np.convolve(random.standard_normal(count + width), np.ones(width) / np.sqrt(width), "valid")[:count]
    return found


def _with(
    yard: Yard, fault: Fault, power: Floats, volts: Floats, amps: Floats, random: np.random.Generator, joined: Wired
) -> tuple[Floats, Floats, Floats]:
    """Power, and volts and amps over those to be expected, with one more fault."""
    size, cause = fault.size, fault.cause
    if cause in ("angle", "facing"):
        both = (size, -size) if cause == "angle" else (size,)  # the way that costs something on this day
        other = min((_turned(yard, cause, one) for one in both), key=lambda made: float(made.sum()))
        share = np.where(yard.steps.ac > 1, other / np.maximum(yard.steps.ac, 1.0), 1.0)
        return power * share, volts, amps * share
    if cause == "dirt":
        return power * (1 - size), volts, amps * (1 - size)
    if cause == "snow":
        share = np.full(len(power), size)
        return power * share, np.where(share < 0.02, 0.3, volts * 0.9), amps * share
    groups = _groups(yard, fault, joined.blocks, joined.panels)
    if groups:
        made, high, through = staircase(groups, joined.blocks)
        return _in_one(power, volts, amps, made, high, through, joined.strings)
    if cause == "reversed":
        left = max(0.0, 1 - 2 / joined.panels)
        return _in_one(power, volts, amps, left, left, 1.0 if left else 0.0, joined.strings)
    if cause == "string":
        return _in_one(power, volts, amps, 0.0, 0.0, 0.0, joined.strings)
    return _behind(yard, fault, power, volts, amps, random)


def _in_one(
    power: Floats, volts: Floats, amps: Floats, made: Floats | float, high: Floats | float, through: Floats | float, strings: int
) -> tuple[Floats, Floats, Floats]:
    """What is left of the array where one string of several has these shares of its own power, volts and amps. Beside others it is held near
    their voltage: the array's lies between, and a string of no volts takes part in nothing."""
    if strings == 1:
        return power * made, volts * high, amps * through
    left = (strings - 1 + np.asarray(made)) / strings
    between = np.where(np.asarray(high) > 0, (strings - 1 + np.asarray(high)) / strings, 1.0)
    return power * left, volts * between, amps * left / between


def _behind(
    yard: Yard, fault: Fault, power: Floats, volts: Floats, amps: Floats, random: np.random.Generator
) -> tuple[Floats, Floats, Floats]:
    """The same for what is wrong behind the glass: plugs, cables, heat, limits."""
    size, cause = fault.size, fault.cause
    if cause == "plug":
        on = np.ones(len(power))
        lit = np.flatnonzero(yard.steps.ac > 0.1 * yard.steps.ac.max())
        for _ in range(int(size)):
            start = int(random.choice(lit))
            on[start : start + int(random.integers(3, 11))] = 0.0
        return power * on, volts, amps * on
    if cause == "window":
        hot = yard.steps.poa_global > 550
        share = np.where(hot, size * (1 + 0.08 * random.standard_normal(len(power))), 1.0)
        return power * share, np.where(hot, volts * 0.97, volts), amps * share
    if cause == "cable":
        share = 1 - size * np.minimum(power / yard.study.scene.array.power, 1.0)
        return power * share, volts * share, amps
    if cause == "heat":
        u0, u1 = FAIMAN[yard.study.scene.system.mounting]
        hotter = size / 1000 * yard.steps.poa_global * (u0 + u1 * 1.5) / (u0 + u1 * yard.light.wind_speed)
        label = yard.study.brief.electrics
        beta = label.beta if label is not None else -0.0027
        return power * (1 + yard.study.brief.panel.gamma * hotter), volts * (1 + beta * hotter), amps
    if cause == "limit":
        return _limited(yard, fault, power, volts, amps, random)
    if cause == "meter":
        top = size * yard.study.scene.array.power
        held = power > top
        return np.minimum(power, top), volts, np.where(held, amps * top / np.maximum(power, 1.0), amps)
    return power, volts, amps


def _turned(yard: Yard, cause: str, size: float) -> Floats:
    """Cloudless power with the glass leaning or facing otherwise by ``size`` degrees."""
    tilts = np.clip(yard.tilts + size, 0, 90) if cause == "angle" else yard.tilts
    azimuths = (yard.azimuths + (size if cause == "facing" else 0.0)) % 360
    return chain(yard.study.scene, yard.light, tilts, azimuths, None).ac


def _groups(yard: Yard, fault: Fault, blocks: int, panels: int) -> list[Group]:
    """Blocks that get less light than the rest, and how much."""
    size, cause = fault.size, fault.cause
    light, steps = yard.light, yard.steps
    even = np.ones(len(steps.ac))
    each = blocks // panels
    if cause == "covered":
        return [Group(1, size * even)]
    if cause == "overlap":
        return [Group(each, (1 - size) * even)]
    if cause == "cracked":
        return [Group(each, (1 - size) * even)]
    if cause == "section":
        return [Group(1, 0 * even)]
    if cause == "panel":
        return [Group(each, 0 * even)]
    diffuse = np.clip(light.dhi / np.maximum(light.ghi, 1.0), 0.0, 1.0)
    south = 180.0 if yard.study.scene.site.latitude >= 0 else 0.0
    away = (light.azimuth - south + 180) % 360 - 180
    if cause == "shade":
        behind = (np.abs(away - fault.place * 55) < 22) & (light.elevation < 48)
        return [Group(max(1, round(size * blocks)), np.where(behind, diffuse, 1.0))]
    if cause == "rail":
        behind = np.abs(away - fault.place) < 9
        return [Group(int(size), np.where(behind, diffuse, 1.0))]
    return []


def _limited(
    yard: Yard, fault: Fault, power: Floats, volts: Floats, amps: Floats, random: np.random.Generator
) -> tuple[Floats, Floats, Floats]:
    """A battery that is full from some hour on, after which only what is used is taken; or a cap on what may be fed in, all day."""
    place = np.arange(len(power))
    top = np.full(len(power), fault.size * yard.study.scene.array.power)
    if fault.place > 0:
        full = yard.noon + int(random.integers(-24, 6))
        used = np.repeat(fault.size * random.uniform(0.5, 1.5, 48), len(power) // 48 + 1)[: len(power)]
        top = np.where(place < full, np.inf, used * yard.study.scene.array.power)
    held = power > top
    share = np.where(held, top / np.maximum(power, 1.0), 1.0)
    return power * share, np.where(held, volts * (1 + 0.16 * (1 - share)), volts), amps * share


def _look(yard: Yard, faults: Sequence[Fault], random: np.random.Generator) -> int:
    """The interval in which somebody looks: near noon, or early or late where the hour is what is wrong."""
    good = np.flatnonzero(yard.steps.ac > 0)
    early = [fault for fault in faults if fault.cause == "hour"]
    if early:
        low = np.flatnonzero((yard.steps.ac > 0.05 * yard.study.scene.array.power) & (yard.steps.ac < 0.42 * yard.steps.ac.max()))
        low = low[low > yard.noon] if early[0].size > 0 else low[low < yard.noon]
        return int(random.choice(low)) if len(low) else int(good[0])
    return int(np.clip(yard.noon + random.integers(-24, 25), good[0], good[-1]))


def _answers(faults: Sequence[Fault], sky: str, random: np.random.Generator, certain: bool) -> dict[str, str]:
    """What a person would find, question by question; now and then something is overlooked or seen that is of no matter."""
    found = dict(RIGHT)
    for question, (value, chance) in CHANCE.items():
        if random.uniform() < chance and not certain:
            found[question] = value
    for fault in faults:
        found |= {question: value for question, value in fault.answers.items() if random.uniform() < fault.sure or certain}
    if random.uniform() < 0.25 and not certain:
        found["since"] = "unknown"
    found["sky"] = sky if random.uniform() < 0.93 or certain else str(random.choice(["clear", "haze", "broken", "overcast"]))
    return found
