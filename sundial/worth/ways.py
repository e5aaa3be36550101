"""What every way of holding the panels makes, hour by hour, before any of it is priced."""

from __future__ import annotations

from collections.abc import Set as AbstractSet
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from sundial.balance.empty_days import MOST
from sundial.brief.model import OptionBrief
from sundial.days import DAYS, HOURS
from sundial.energy.production import Production
from sundial.errors import BriefError
from sundial.limits import can_be_judged, held_tilt
from sundial.mounts.facing import by_day, starts_a_day
from sundial.mounts.hinge import HingeMount
from sundial.mounts.kind import MountBrief
from sundial.mounts.one_axis import OneAxisMount
from sundial.mounts.turned import TurnedMount
from sundial.mounts.two_axis import TwoAxisMount
from sundial.plan.tilt_plan import TiltPlan
from sundial.scene import Scene
from sundial.storms.position import flattest, lying_tilts
from sundial.storms.ways import ANY, RuledOut, WindOfYear
from sundial.study import Study
from sundial.wind.site import wind_of
from sundial.worth.more_panels import unlimited_hours, years_with_panels
from sundial.worth.other_panels import ELSEWHERE, MORE, other_panels

Floats = NDArray[np.float64]
HAND_KINDS = ("two-moves", "four-moves", "twelve-moves")
TRACKER_KINDS = ("one-axis", "one-axis-hand", "two-axis", "hinge")
ASKED_FOR = ("turned", "hinge")  # rows that are there only where an option of the brief asks for them
NAMES = {
    "flat": "Flat",
    "best-fixed": "Best fixed angle",
    "yours": "Your angle now",
    "winter-left": "Steeper for winter, and left",
    "two-moves": "Two settings a year",
    "four-moves": "Four settings a year",
    "twelve-moves": "Twelve settings a year",
    "turned": "Turned by hand through the day",
    "hinge": "A hinge with a motor",
    "one-axis": "One axis, level",
    "one-axis-hand": "One axis, tilt by hand",
    "two-axis": "Two axes",
    "more-panels": "The same energy as the best of these, by adding panels",
    "more-flat": "The same energy, all of it flat, by adding panels",
    "bigger-battery": "A bigger battery",
}
HAND_AXIS_TILTS = [float(tilt) for tilt in range(0, 65, 5)]


@dataclass(frozen=True)
class WayEnergy:
    """What a way makes, before it is priced: kWh and kWh/m2, moves, kWh its drive takes, its tilt where it has one. ``wind_lost``: kWh
    lost in the wind position, taken off already; ``ruled_out``: the month in which the wind does not allow it. ``height`` of its upper edge at its steepest, m;
    ``stands_to``: the gust up to which it may stand as it is held, the factor in hand, m/s as told (None: not told, or whatever blows); ``motors``
    that move it through the day, and their ``starts`` on a day, on average (what neighbours hear); ``added_panels`` and their nameplate, ``added_power`` W."""

    kind: str
    name: str
    energy: float
    irradiation: float
    moves: int = 0
    drive_consumption: float = 0.0
    tilt: float | None = None
    wind_lost: float = 0.0
    ruled_out: RuledOut | None = None
    height: float | None = None
    stands_to: float | None = None
    motors: int = 0
    starts: float = 0.0
    added_panels: int = 0
    added_power: float = 0.0


@dataclass(frozen=True)
class Ways:
    """What the base and every way make; follows from no price. ``added``: the brief's own options by their number;
    ``with_panels``: kWh a year of the base with 0, 1, 2 ... more panels on its inverter (empty: each gives the same)."""

    base: WayEnergy
    standard: tuple[WayEnergy, ...]
    added: tuple[tuple[int, WayEnergy], ...]
    with_panels: tuple[float, ...] = ()


@dataclass(frozen=True, eq=False)
class WayYears:
    """The ways with their hours: ``hourly`` (rows, 8760) Wh of the base, the standard ways and the added ones, in their order; ``panels``
    (2, 8760): the base, and the array lying flat, as no inverter would limit them."""

    ways: Ways
    hourly: Floats
    panels: Floats


@dataclass(frozen=True, eq=False)
class _Made:
    way: WayEnergy
    hourly: Floats


def ways_of(study: Study) -> WayYears:
    """Compute what every way makes. The base: what stays put as it is, else their tilt now, else the best fixed tilt."""
    options = study.brief.options
    off: set[str] = {option.row for option in options if option.row and option.off}
    asked = {option.row for option in options if option.row and not option.off}
    off = {*off, *(kind for kind in ASKED_FOR if kind not in asked and kind != study.brief.mount.way)}
    base, standard = _base(study), _standard(study, off)
    shown = [(i, one) for i, one in enumerate(options) if one.row is None and not one.off]
    added = [(i, _added(study, one, i)) for i, one in shown if one.panels is None]
    if study.brief.wind is not None:
        wind = WindOfYear.of(study)
        base, standard = (
            _in_wind(study, wind, base),
            [_in_wind(study, wind, one, _chosen(study, one.way.kind)) for one in standard],
        )
        added = [(i, _in_wind(study, wind, one, options[i].mount, options[i].settings)) for i, one in added]
    base, standard = _high(study, base, None), [_high(study, one, _chosen(study, one.way.kind)) for one in standard]
    others = [(i, _others(study, one, i, base)) for i, one in shown if one.panels is not None]
    added = sorted([*((i, _high(study, one, options[i].mount)) for i, one in added), *others], key=lambda one: one[0])
    every = [base, *standard, *(one for _, one in added)]
    most = max(one.way.energy - base.way.energy for one in every if not one.way.added_panels)
    tilts = _base_tilts(study, base.way)
    with_panels = years_with_panels(study, tilts, most) if most > 0 else ()
    ways = Ways(base.way, tuple(one.way for one in standard), tuple((i, one.way) for i, one in added), with_panels)
    flat = unlimited_hours(study, (0.0,) * DAYS)
    return WayYears(
        ways, _single(np.stack([one.hourly for one in every])), _single(np.stack([unlimited_hours(study, tilts), flat]))
    )


def _single(values: Floats) -> Floats:
    """Rounded to single precision, as they are stored: so a figure never depends on where it came from."""
    rounded: Floats = values.astype(np.float32).astype(float)
    return rounded


def _in_wind(study: Study, wind: WindOfYear, made: _Made, mount: MountBrief | None = None, settings: int | None = None) -> _Made:
    """A way of the same frame with its hours in the wind position taken off, and the month in which the wind rules it out. What would
    stand on a frame of its own (a tracker beside a rack) is not judged by this one's."""
    own, way = study.brief.mount, made.way
    by_motor = way.kind in TRACKER_KINDS
    if by_motor and (mount or own).kind != own.kind:
        return made
    if by_motor:
        facing, drive = study.own_facing if mount is None else study.facing_of(mount, settings or 2)
        flat = lying_tilts(study)
        lying = np.broadcast_to(np.asarray(flat), HOURS).reshape(DAYS, 24).max(axis=1)
        if wind_of(study.scene).stow is False:
            lying = np.abs(facing.surface_tilt).reshape(DAYS, 24).max(axis=1)
    else:
        tilts = _tilts_of(study, way, mount, settings)
        facing, drive = by_day(np.array(tilts), study.scene.azimuth), None
        flat, lying = (flattest(study)[0], np.array(tilts)) if way.moves else (float(max(np.abs(tilts))), np.array(tilts))
    ruled_out = wind.ruled_out(lying)
    stands = float(wind.allowed_at(lying).min())
    way = replace(way, stands_to=stands if stands < ANY else None)
    if not wind.over(facing.surface_tilt).any():
        return replace(made, way=replace(way, ruled_out=ruled_out))
    laid = wind.laid_down(facing, flat, by_hand=not by_motor)
    chosen = mount or own
    lost = study.scene.produced(chosen, facing, drive).hourly - study.scene.produced(chosen, laid, drive).hourly
    kwh = float(lost.sum()) / 1000
    return _Made(replace(way, energy=way.energy - kwh, wind_lost=kwh, ruled_out=ruled_out), made.hourly - lost)


def _chosen(study: Study, kind: str) -> MountBrief | None:
    """The mount of a standard row that turns; None where it stands still or a hand sets its tilt."""
    option = next((one for one in study.brief.options if one.row == kind), None)
    return option.mount if option and option.mount else dict(_trackers(study)).get(kind)


def _high(study: Study, made: _Made, mount: MountBrief | None) -> _Made:
    """A way with the height of its upper edge at its steepest."""
    way = made.way
    steepest = None if mount is None else mount.steepest
    if steepest is None:
        steepest = float(np.abs(_tilts_of(study, way, mount, None)).max())
    geometry = study.scene.on_pole if mount is not None and mount.centre_pivot else study.scene.geometry
    height = float(geometry.corners(min(steepest, 90.0), study.scene.azimuth)[:, :, 2].max())
    return replace(made, way=replace(way, height=height))


def _tilts_of(study: Study, way: WayEnergy, mount: MountBrief | None, settings: int | None) -> tuple[float, ...]:
    """The tilt of every day (365) of a way that no motor moves."""
    if way.tilt is not None:
        return (way.tilt,) * DAYS
    if mount is not None and mount.hand == "tilt":
        facing, _ = study.facing_of(mount, settings or study.brief.plan.settings)
        return tuple(np.abs(facing.surface_tilt).reshape(DAYS, 24)[:, 12].tolist())
    if mount is not None and mount.hand == "facing" and mount.held_tilt is not None:
        return (mount.held_tilt,) * DAYS
    if way.kind in HAND_KINDS:
        settings = {"two-moves": 2, "four-moves": 4, "twelve-moves": 12}[way.kind]
        return study.plans(goal=hand_goal(study, settings)).with_settings(settings).tilt_by_day
    return study.plans(goal="year").simplest.tilt_by_day


def hand_goal(study: Study, settings: int) -> str:
    """What the plans of the rows moved by hand are for: the fewest empty days off the grid, where they can be searched; else the
    energy of the year."""
    return "empty-days" if settings <= MOST and can_be_judged(study.scene, study.needs) else "year"


def _base(study: Study) -> _Made:
    now = _stands(study.scene)
    if now is None:
        now = study.brief.plan.tilt_now
    if now is None and study.brief.mount.hand == "tilt":  # a frame of one position
        now = held_tilt(study.scene)
    return _still(study, "yours", now) if now is not None else _best_fixed(study)


def _stands(scene: Scene) -> float | None:
    """The tilt of what stays put, facing one way: what it makes is the base, whatever tilt is told beside."""
    return scene.brief.mount.fixed_tilt


def _still(study: Study, kind: str, tilt: float) -> _Made:
    made = study.held_year(tilt)
    return _Made(WayEnergy(kind, NAMES[kind], made.year, float(made.irradiation.sum()), tilt=tilt), made.hourly)


def _best_fixed(study: Study) -> _Made:
    plan = study.plans(goal="year").simplest
    tilt = plan.stretches[0].tilt if plan.moves == 0 else None
    way = WayEnergy("best-fixed", NAMES["best-fixed"], plan.energy, plan.irradiation, plan.moves, tilt=tilt)
    return _Made(way, study.held_year(plan.tilt_by_day).hourly)


def _winter_left(study: Study) -> _Made | None:
    """The tilt that gives most in the winter half, left there; None where the caps allow no single tilt."""
    plan = study.plans(goal="winter").plans[0]
    return None if plan is None else _still(study, "winter-left", plan.stretches[0].tilt)


def _base_tilts(study: Study, base: WayEnergy) -> tuple[float, ...]:
    """The base's tilt on every day (365)."""
    if base.tilt is not None:
        return (base.tilt,) * DAYS
    return study.plans(goal="year").simplest.tilt_by_day


def _standard(study: Study, without: AbstractSet[str]) -> list[_Made]:
    """The rows that are always there, but for those switched off or brought by the brief itself."""
    made: list[_Made] = []
    if "flat" not in without:
        made.append(_still(study, "flat", 0.0))
    if "best-fixed" not in without:
        made.append(_best_fixed(study))
    if study.brief.plan.tilt_now is not None and _stands(study.scene) is None and "yours" not in without:
        made.append(_base(study))
    by_hand = len(study.scene.reachable) > 1
    if "winter-left" not in without and by_hand:
        left = _winter_left(study)
        made += [left] if left else []
    for kind, settings in zip(HAND_KINDS, (2, 4, 12), strict=True):
        plan = study.plans(goal=hand_goal(study, settings)).plans[settings - 1]
        if kind not in without and plan is not None and by_hand:
            made.append(_hand(study, kind, plan))
    priced: dict[str | None, OptionBrief] = {option.row: option for option in study.brief.options if option.row}
    for kind, mount in _trackers(study):
        if kind not in without:
            option = priced.get(kind)
            chosen = option.mount if option and option.mount else mount
            made.append(_mounted(study, kind, NAMES[kind], chosen, option.settings if option else None))
    return made


def _trackers(study: Study) -> tuple[tuple[str, MountBrief], ...]:
    """The standard rows of what turns through the day, as they are unless an option says otherwise: in this build's own measures
    where it is one."""
    own = study.brief.mount
    plan = study.plans(goal="year").plans[0]
    tilt = plan.stretches[0].tilt if plan else float(study.scene.reachable[-1])
    usual: tuple[MountBrief, ...] = (
        TurnedMount(kind="turned", tilt=max(tilt, 0.0), facings=_three_facings(study.scene)),
        HingeMount(kind="hinge"),
        OneAxisMount(kind="one-axis"),
        OneAxisMount(kind="one-axis", axis_tilts=HAND_AXIS_TILTS),
        TwoAxisMount(kind="two-axis"),
    )
    return tuple((one.way, own if own.way == one.way else one) for one in usual)


def _three_facings(scene: Scene) -> list[float]:
    """Morning, noon and evening: 50 degrees to the east, straight, 50 to the west of the array's own facing (thumb)."""
    east = -50.0 if scene.site.latitude >= 0 else 50.0
    return [(scene.azimuth + turn) % 360 for turn in (east, 0.0, -east)]


def _hand(study: Study, kind: str, plan: TiltPlan) -> _Made:
    way = WayEnergy(kind, NAMES[kind], plan.energy, plan.irradiation, plan.moves)
    return _Made(way, study.held_year(plan.tilt_by_day).hourly)


def _mounted(study: Study, kind: str, name: str, mount: MountBrief, settings: int | None) -> _Made:
    own = mount is study.brief.mount and settings in (None, study.brief.plan.settings)  # by its own plan, as all answers have it
    production: Production = study.production() if own else study.production(mount, settings)
    moves = mount.moves(settings, study.brief.plan.settings, study.brief.plan.year)
    drive_consumption = production.ledger["own_use"]
    starts = starts_a_day(study.facing_of(mount, settings or 2)[0], mount.motors) if mount.motors else 0.0
    way = WayEnergy(
        kind,
        name,
        production.year,
        float(production.irradiation.sum()),
        moves,
        drive_consumption,
        mount.fixed_tilt,
        motors=mount.motors,
        starts=starts,
    )
    return _Made(way, production.hourly)


def _others(study: Study, option: OptionBrief, index: int, base: _Made) -> _Made:
    """A row of other panels; on a frame of their own, which this one's wind does not judge."""
    if option.panels is None or option.mount is not None:
        raise BriefError(
            f"options[{index}].panels", "goes without a mount: it is either other panels, or another way of holding these"
        )
    hourly, irradiation, tilt = other_panels(study, option, index, _base_tilts(study, base.way))
    count, watts = option.panels.count or 0, option.panels.power or study.scene.array.panel.power
    kind = MORE if count else ELSEWHERE
    hourly = base.hourly + hourly if count else hourly
    way = WayEnergy(
        kind,
        option.name or kind,
        float(hourly.sum()) / 1000,
        irradiation,
        tilt=tilt,
        added_panels=count,
        added_power=count * watts,
    )
    return _Made(way, hourly)


def _added(study: Study, option: OptionBrief, index: int) -> _Made:
    if option.mount is None:
        raise BriefError(f"options[{index}].mount", 'is missing (or name a standard row with "row")')
    mount = option.mount
    return _mounted(study, mount.way, option.name or mount.kind, mount, option.settings)
