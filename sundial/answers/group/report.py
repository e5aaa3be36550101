"""What a screen or the command line shows of a group: each build in the light that the others leave it, and the sums."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from sundial.balance.flows import balance
from sundial.balance.sums import Sums, sums_of
from sundial.brief.model import OtherArrayBrief
from sundial.energy.production import Production, produce
from sundial.errors import BriefError
from sundial.group.standing import among, as_things, is_array_of
from sundial.group.wiring import SharedString, string_power, widest_angle
from sundial.money.tariff import tariff_of, value_by_month
from sundial.progress import Report, unwatched
from sundial.scene import Scene
from sundial.study import Study, studied

MOST = 12  # builds in one group


@dataclass(frozen=True)
class Member:
    """One build: its ``power`` (W), facing, the tilts of its plan, kWh a year among the others and without them, kWh by month
    (12), kWh a year that come back when one of the others alone is gone, by its name, and the plan of its glass at the
    flattest of the tilts: a ring of corners, m east and north, lower left first, for each of its groups."""

    name: str
    power: float
    azimuth: float
    tilts: tuple[float, ...]
    energy: float
    alone: float
    by_month: tuple[float, ...]
    taken_by: tuple[tuple[str, float], ...]
    plan: tuple[tuple[tuple[float, float], ...], ...]

    @property
    def lost(self) -> float:
        """kWh a year that the others take."""
        return self.alone - self.energy


@dataclass(frozen=True)
class Standing:
    """Something else in the yard: its ``kind`` as in a brief, and its outline in plan, m east and north."""

    name: str
    kind: str
    outline: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class GroupReport:
    """The builds of a yard, what they make together, and what else stands there. ``used``: what becomes of it through the use and the
    battery that they share (None: no use by the hour is told), and what it is ``worth`` a year."""

    members: tuple[Member, ...]
    strings: tuple[SharedString, ...]
    things: tuple[Standing, ...]
    used: Sums | None = None
    worth: float = 0.0

    @property
    def energy(self) -> float:
        return sum(member.energy for member in self.members)

    @property
    def alone(self) -> float:
        return sum(member.alone for member in self.members)

    @property
    def lost(self) -> float:
        return self.alone - self.energy

    @property
    def share_lost(self) -> float:
        return self.lost / self.alone if self.alone > 0 else 0.0

    @property
    def power(self) -> float:
        return sum(member.power for member in self.members)

    @property
    def by_month(self) -> tuple[float, ...]:
        return tuple(np.sum([member.by_month for member in self.members], axis=0).tolist())


def others_of(scenes: Sequence[Scene], at: int) -> list[OtherArrayBrief]:
    """What the yard of one build of a group holds besides: the arrays of the others."""
    return [thing for number, scene in enumerate(scenes) if number != at for thing in as_things(scene)]


def together(studies: Sequence[Study]) -> list[Study]:
    """The builds of a group, each among the others. BriefError where they cannot stand in one yard."""
    if not 1 <= len(studies) <= MOST:
        raise BriefError("group", f"holds {len(studies)} builds; 1 to {MOST} can be taken together")
    names = [study.brief.name for study in studies]
    for name in names:
        if not name or names.count(name) > 1:
            raise BriefError("name", "two builds of a group need two names" if name else "each build of a group needs a name")
    first = studies[0].brief.site
    for study in studies[1:]:
        site = study.brief.site
        if abs(site.latitude - first.latitude) > 0.01 or abs(site.longitude - first.longitude) > 0.01:
            raise BriefError("site", f"“{study.brief.name}” stands more than a kilometre from “{names[0]}”: that is no one yard")
    scenes = [study.scene for study in studies]
    return [
        studied(among(study.brief, others_of(scenes, at)), study.scene.load, study.scene.given_weather)
        for at, study in enumerate(studies)
    ]


def group_report(studies: Sequence[Study], report: Report = unwatched) -> GroupReport:
    """The report of builds that stand :func:`together`; ``report`` is told how many are done, of how many."""
    made: list[Production] = []
    members = []
    for number, study in enumerate(studies):
        report(number, len(studies))
        production = produce(study.scene.light, study.scene.system, *study.own_facing, study.scene.shade)
        made.append(production)
        members.append(_member(study, production, [other.brief.name for other in studies if other is not study]))
    report(len(studies), len(studies))
    used, worth = _used(studies[0], made)
    return GroupReport(tuple(members), _strings(studies, made), _things(studies[0].scene), used, worth)


def _used(first: Study, made: Sequence[Production]) -> tuple[Sums | None, float]:
    """All production through the use, battery and tariff of the first build: a yard has one."""
    needs = first.needs
    if needs.kind == "share":
        return None, 0.0
    flows = balance(np.sum([one.hourly for one in made], axis=0)[None], needs)
    worth = value_by_month(flows, needs, tariff_of(first.brief, first.scene.weather.utc_offset))
    return sums_of(flows, needs)[0], float(worth.sum())


def _things(scene: Scene) -> tuple[Standing, ...]:
    briefs = scene.brief.yard.objects if scene.brief.yard else []
    return tuple(
        Standing(thing.name, held.kind, tuple((float(x), float(y)) for x, y in thing.outline.exterior.coords[:-1]))
        for thing, held in zip(scene.yard.things, briefs, strict=False)  # its own house comes after
        if held.kind != "array"
    )


def _member(study: Study, production: Production, names: Sequence[str]) -> Member:
    facing = study.own_facing[0]
    yard = study.brief.yard
    things = [thing.name for thing in yard.objects if thing.kind == "array"] if yard else []
    shade, drive = study.scene.shade, study.own_facing[1]

    def without(gone: frozenset[str]) -> float:
        return produce(study.scene.light, study.scene.system, facing, drive, shade, gone).year

    taken = []
    for name in names:
        mine = frozenset(thing for thing in things if is_array_of(thing, name))
        if mine:
            taken.append((name, without(mine) - production.year))
    every = frozenset(thing for thing in things if any(is_array_of(thing, name) for name in names))
    tilts = tuple(dict.fromkeys(stretch.tilt for stretch in study.own_plans.with_settings(study.brief.plan.settings).stretches))
    if study.brief.mount.kind != "stepped" and study.hand_axis is None:
        tilts = (round(float(np.abs(facing.surface_tilt).mean()), 1),)
    rings = study.scene.geometry.corners(min(tilts, key=abs), study.scene.azimuth)[:, :, :2]
    return Member(
        study.brief.name,
        study.scene.array.power,
        study.scene.azimuth,
        tilts,
        production.year,
        without(every) if every else production.year,
        tuple(production.by_month.tolist()),
        tuple(taken),
        tuple(tuple((float(x), float(y)) for x, y in ring) for ring in rings),
    )


def _strings(studies: Sequence[Study], made: Sequence[Production]) -> tuple[SharedString, ...]:
    found = []
    for name in sorted({study.brief.wiring.string for study in studies} - {""}):
        at = [number for number, study in enumerate(studies) if study.brief.wiring.string == name]
        if len(at) < 2:
            continue
        counts = [studies[number].scene.array.wired for number in at]
        power = np.array([np.maximum(made[number].hourly, 0) / count for number, count in zip(at, counts, strict=True)])
        apart = float(sum(made[number].year for number in at))
        lost = float((power * np.array(counts)[:, None]).sum() - string_power(power, counts).sum()) / 1000
        light = np.zeros(power.shape[1], dtype=bool)
        light[studies[at[0]].scene.light.hours] = True
        angle = widest_angle([studies[number].own_facing[0] for number in at], light)
        panels = {studies[number].scene.array.panel for number in at}
        builds = tuple(studies[number].brief.name for number in at)
        found.append(SharedString(name, builds, lost, lost / apart if apart > 0 else 0.0, angle, len(panels) > 1))
    return tuple(found)
