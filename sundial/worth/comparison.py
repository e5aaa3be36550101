"""One table that compares every way of holding the same panels, priced the same way."""

from __future__ import annotations

from collections.abc import Set as AbstractSet
from dataclasses import dataclass, field, replace

import numpy as np

from sundial.brief.constraints import turned_days
from sundial.brief.model import FixedMount, OneAxisMount, OptionBrief, SteppedMount, TurnedMount, TwoAxisMount
from sundial.days import DAYS, HOURS
from sundial.errors import BriefError
from sundial.frame.mounts import by_day
from sundial.money.finance import Outcome, outcome
from sundial.money.uncertainty import Spread, gain_spread
from sundial.plan.tilt_plan import TiltPlan
from sundial.study import OneOfMounts, Study
from sundial.wind.position import flattest, lying_tilts
from sundial.wind.site import wind_of
from sundial.wind.ways import RuledOut, WindOfYear

HAND_KINDS = ("two-moves", "four-moves", "twelve-moves")
TRACKER_KINDS = ("one-axis", "one-axis-hand", "two-axis", "hinge")
NAMES = {
    "flat": "Flat",
    "best-fixed": "Best fixed angle",
    "yours": "Your angle now",
    "two-moves": "Two settings a year",
    "four-moves": "Four settings a year",
    "twelve-moves": "Twelve settings a year",
    "one-axis": "One axis, level",
    "one-axis-hand": "One axis, tilt by hand",
    "two-axis": "Two axes",
    "more-panels": "The same energy as the best of these, by adding panels",
}
HAND_AXIS_TILTS = [float(tilt) for tilt in range(0, 65, 5)]


@dataclass(frozen=True)
class SamePanels:
    """Extra panels on the base that give the same energy: exact and whole count, their cost (None: not priced), m2."""

    exact: float
    count: int
    cost: float | None
    area: float


@dataclass(frozen=True)
class Way:
    """One row: a way of holding the panels. kWh, kWh/m2, money of the brief, minutes and moves a year. ``key`` tells
    rows apart: the kind of a standard row, ``added-2`` for the brief's option number 2."""

    key: str
    kind: str
    name: str
    energy: float
    irradiation: float
    gain: float
    extra_kwh: float
    extra_cost: float | None
    upkeep: float
    minutes: float
    moves: int
    drive_consumption: float
    tilt: float | None
    money: Outcome
    spread: Spread
    same_as_panels: SamePanels | None
    panels_only: bool = False
    wind_lost: float = 0.0
    ruled_out: RuledOut | None = None

    @property
    def kwh_per_hour(self) -> float | None:
        """Extra kWh for an hour of work (None: no work)."""
        return self.extra_kwh / (self.minutes / 60) if self.minutes else None


@dataclass(frozen=True)
class Comparison:
    """The base and the rows, in the order they are shown; ``off`` holds the kinds that are switched off; ``room`` for how many
    more panels there is (None: not known)."""

    base: Way
    rows: tuple[Way, ...]
    off: tuple[str, ...] = field(default=())
    room: int | None = None

    def row(self, kind: str) -> Way | None:
        return next((row for row in self.rows if row.kind == kind), None)


@dataclass(frozen=True)
class WayEnergy:
    """What a way makes, before it is priced: kWh and kWh/m2, moves, kWh its drive takes, its tilt where it has one. ``wind_lost``: kWh
    lost in the wind position, taken off already; ``ruled_out``: the month in which the wind does not allow it."""

    kind: str
    name: str
    energy: float
    irradiation: float
    moves: int = 0
    drive_consumption: float = 0.0
    tilt: float | None = None
    wind_lost: float = 0.0
    ruled_out: RuledOut | None = None


@dataclass(frozen=True)
class Ways:
    """What the base and every way make; follows from no price. ``added``: the brief's own options by their number;
    ``with_panels``: kWh a year of the base with 0, 1, 2 ... more panels on its inverter (empty: each gives the same)."""

    base: WayEnergy
    standard: tuple[WayEnergy, ...]
    added: tuple[tuple[int, WayEnergy], ...]
    with_panels: tuple[float, ...] = ()


def ways_of(study: Study) -> Ways:
    """Compute what every way makes. The base: their tilt now, else their fixed mount, else the best fixed tilt."""
    options = study.brief.options
    off = {option.row for option in options if option.row and option.off}
    added = tuple((i, _added(study, one, i)) for i, one in enumerate(options) if one.row is None and not one.off)
    base, standard = _base(study), tuple(_standard(study, off))
    if study.brief.wind is not None:
        wind = WindOfYear.of(study)
        base, standard = _in_wind(study, wind, base), tuple(_in_wind(study, wind, one) for one in standard)
        added = tuple((i, _in_wind(study, wind, one, options[i].mount, options[i].settings)) for i, one in added)
    most = max((one.energy - base.energy for one in (*standard, *(one for _, one in added))), default=0.0)
    with_panels = study.years_with_panels(_base_tilts(study, base), most) if most > 0 else ()
    return Ways(base, standard, added, with_panels)


def _in_wind(
    study: Study, wind: WindOfYear, way: WayEnergy, mount: OneOfMounts | None = None, settings: int | None = None
) -> WayEnergy:
    """A way of the same frame with its hours in the wind position taken off, and the month in which the wind rules it out. What would
    stand on a frame of its own (a tracker beside a rack) is not judged by this one's."""
    own = study.brief.mount
    by_motor = way.kind in TRACKER_KINDS
    if by_motor and (mount or own).kind != own.kind:
        return way
    if by_motor:
        facing, drive = study.own_facing if mount is None else study.facing_of(mount, settings or 2)
        flat = lying_tilts(study)
        lying = np.broadcast_to(np.asarray(flat), HOURS).reshape(DAYS, 24).max(axis=1)
        if wind_of(study).stow is False:
            lying = np.abs(facing.surface_tilt).reshape(DAYS, 24).max(axis=1)
    else:
        tilts = _tilts_of(study, way, mount, settings)
        facing, drive = by_day(np.array(tilts), study.azimuth), None
        flat, lying = (flattest(study)[0], np.array(tilts)) if way.moves else (float(max(np.abs(tilts))), np.array(tilts))
    ruled_out = wind.ruled_out(lying)
    if not wind.over(facing.surface_tilt).any():
        return replace(way, ruled_out=ruled_out)
    laid = wind.laid_down(facing, flat, by_hand=not by_motor)
    chosen = mount or own
    lost = study.produced(chosen, facing, drive).year - study.produced(chosen, laid, drive).year
    return replace(way, energy=way.energy - lost, wind_lost=lost, ruled_out=ruled_out)


def _tilts_of(study: Study, way: WayEnergy, mount: OneOfMounts | None, settings: int | None) -> tuple[float, ...]:
    """The tilt of every day (365) of a way that no motor moves."""
    if way.tilt is not None:
        return (way.tilt,) * DAYS
    if isinstance(mount, SteppedMount):
        facing, _ = study.facing_of(mount, settings or study.brief.plan.settings)
        return tuple(np.abs(facing.surface_tilt).reshape(DAYS, 24)[:, 12].tolist())
    if isinstance(mount, TurnedMount):
        return (mount.tilt,) * DAYS
    plans = study.plans(goal="year")
    if way.kind in HAND_KINDS:
        return plans.with_settings({"two-moves": 2, "four-moves": 4, "twelve-moves": 12}[way.kind]).tilt_by_day
    return plans.simplest.tilt_by_day


def compare(study: Study, ways: Ways | None = None) -> Comparison:
    """Price every way against the base. ``ways``: what they make, where it is known already."""
    made = ways or ways_of(study)
    priced: dict[str, OptionBrief] = {option.row: option for option in study.brief.options if option.row}
    off = tuple(row for row, option in priced.items() if option.off)
    base = made.base
    rows = [_priced(study, made, one, priced.get(one.kind)) for one in made.standard]
    for index, one in made.added:
        rows.append(replace(_priced(study, made, one, study.brief.options[index]), key=f"added-{index}"))
    if "more-panels" not in off:
        more = _more_panels(study, made, rows)
        if more:
            rows.append(more)
    return Comparison(_priced(study, made, base, None, is_base=True), tuple(rows), off, study.brief.room)


def _base(study: Study) -> WayEnergy:
    mount, now = study.brief.mount, study.brief.plan.tilt_now
    if now is None and isinstance(mount, FixedMount):
        now = mount.tilt
    if now is not None:
        made = study.fixed_tilt_year(now)
        return WayEnergy("yours", NAMES["yours"], made.year, float(made.irradiation.sum()), tilt=now)
    return _best_fixed(study)


def _best_fixed(study: Study) -> WayEnergy:
    plan = study.plans(goal="year").simplest
    tilt = plan.stretches[0].tilt if plan.moves == 0 else None
    return WayEnergy("best-fixed", NAMES["best-fixed"], plan.energy, plan.irradiation, plan.moves, tilt=tilt)


def _base_tilts(study: Study, base: WayEnergy) -> tuple[float, ...]:
    """The base's tilt on every day (365)."""
    if base.tilt is not None:
        return (base.tilt,) * DAYS
    return study.plans(goal="year").simplest.tilt_by_day


def _standard(study: Study, without: AbstractSet[str]) -> list[WayEnergy]:
    """The rows that are always there, but for those switched off or brought by the brief itself."""
    made: list[WayEnergy] = []
    if "flat" not in without:
        flat = study.fixed_tilt_year(0.0)
        made.append(WayEnergy("flat", NAMES["flat"], flat.year, float(flat.irradiation.sum()), tilt=0.0))
    if "best-fixed" not in without:
        made.append(_best_fixed(study))
    if study.brief.plan.tilt_now is not None and "yours" not in without:
        made.append(_base(study))
    plans = study.plans(goal="year")
    for kind, settings in zip(HAND_KINDS, (2, 4, 12), strict=True):
        plan = plans.plans[settings - 1]
        if kind not in without and plan is not None and len(study.reachable) > 1:
            made.append(_hand(kind, plan))
    trackers: tuple[tuple[str, OneAxisMount | TwoAxisMount], ...] = (
        ("one-axis", OneAxisMount(kind="one-axis")),
        ("one-axis-hand", OneAxisMount(kind="one-axis", axis_tilts=HAND_AXIS_TILTS)),
        ("two-axis", TwoAxisMount(kind="two-axis")),
    )
    priced = {option.row: option for option in study.brief.options if option.row}
    for kind, mount in trackers:
        if kind not in without:
            option = priced.get(kind)  # type: ignore[call-overload]
            chosen = option.mount if option and option.mount else mount
            made.append(_mounted(study, kind, NAMES[kind], chosen, option.settings if option else None))
    return made


def _hand(kind: str, plan: TiltPlan) -> WayEnergy:
    return WayEnergy(kind, NAMES[kind], plan.energy, plan.irradiation, plan.moves)


def _mounted(study: Study, kind: str, name: str, mount: OneOfMounts, settings: int | None) -> WayEnergy:
    production = study.production(mount, settings)
    moves = 0
    if isinstance(mount, SteppedMount):
        moves = (settings or study.brief.plan.settings) if (settings or study.brief.plan.settings) > 1 else 0
    elif isinstance(mount, OneAxisMount) and mount.axis_tilts and len(set(mount.axis_tilts)) > 1:
        moves = settings or 2
    elif isinstance(mount, TurnedMount):
        moves = len(mount.facings) * int(turned_days(mount.weekdays, mount.months, study.brief.plan.year).sum())
    tilt = mount.tilt if isinstance(mount, FixedMount) else None
    drive_consumption = production.ledger["own_use"]
    return WayEnergy(kind, name, production.year, float(production.irradiation.sum()), moves, drive_consumption, tilt)


def _added(study: Study, option: OptionBrief, index: int) -> WayEnergy:
    if option.mount is None:
        raise BriefError(f"options[{index}].mount", 'is missing (or name a standard row with "row")')
    mount = option.mount
    kind = "one-axis-hand" if isinstance(mount, OneAxisMount) and mount.axis_tilts else mount.kind
    return _mounted(study, kind, option.name or mount.kind, mount, option.settings)


def _priced(study: Study, ways: Ways, made: WayEnergy, option: OptionBrief | None, is_base: bool = False) -> Way:
    plan, worth, base = study.brief.plan, study.brief.worth, ways.base
    each = plan.minutes_per_move * plan.people
    if option is not None and option.minutes_per_move is not None:
        each = option.minutes_per_move
    elif option is not None and isinstance(option.mount, TurnedMount):
        each = option.mount.minutes
    minutes = made.moves * each
    upkeep = option.upkeep if option else 0.0
    labour = minutes / 60 * plan.value_of_hour if worth.count_hours else 0.0
    extra = made.energy - base.energy
    cost = 0.0 if is_base or made == base else _extra_cost(study, made, option)
    money = outcome(extra, cost, upkeep + labour, study.terms)
    return Way(
        key=made.kind,
        kind=made.kind,
        name=(option.name if option and option.name else made.name),
        energy=made.energy,
        irradiation=made.irradiation,
        gain=extra / base.energy if base.energy > 0 else 0.0,
        extra_kwh=extra,
        extra_cost=cost,
        upkeep=upkeep,
        minutes=minutes,
        moves=made.moves,
        drive_consumption=made.drive_consumption,
        tilt=made.tilt,
        money=money,
        spread=gain_spread(study.weather, base.energy, extra, made.kind, money, cost),
        same_as_panels=panels_for(study, base.energy, extra, ways.with_panels),
        wind_lost=made.wind_lost,
        ruled_out=made.ruled_out,
    )


def _extra_cost(study: Study, made: WayEnergy, option: OptionBrief | None) -> float | None:
    """The option's price; moving a frame that already has its holes, or standing still, costs nothing extra."""
    if option is not None and option.extra_cost is not None:
        return option.extra_cost
    if option is not None and option.row is None:
        return None
    if made.kind in ("flat", "best-fixed", "yours"):
        return 0.0
    if made.kind in HAND_KINDS and isinstance(study.brief.mount, SteppedMount):
        return 0.0
    return None


def panels_for(study: Study, base_energy: float, extra_kwh: float, with_panels: tuple[float, ...] = ()) -> SamePanels | None:
    """Panels added to the base that give ``extra_kwh``: None where there is nothing to give, and where no number of them
    would on this inverter. ``with_panels`` as in :class:`Ways`."""
    each = base_energy / study.array.count
    if extra_kwh <= 0 or each <= 0:
        return None
    exact = extra_kwh / each
    if with_panels:
        gains = [base_energy * (year / with_panels[0] - 1) for year in with_panels]
        count = next((count for count, gain in enumerate(gains) if gain >= extra_kwh), None)
        if count is None:
            return None
        exact = count - (gains[count] - extra_kwh) / (gains[count] - gains[count - 1])
    return _panels(study, exact, max(1, -int(-exact // 1)))


def _panels(study: Study, exact: float, count: int) -> SamePanels:
    price = study.brief.worth.panel_cost
    return SamePanels(exact, count, None if price is None else count * price, count * study.array.panel.area)


def _more_panels(study: Study, ways: Ways, rows: list[Way]) -> Way | None:
    """As many panels as give what the best row gives, as the inverter still feels, and as there is room for."""
    best = max(rows, key=lambda row: row.extra_kwh, default=None)
    if best is None or best.extra_kwh <= 0 or ways.base.energy <= 0:
        return None
    same = best.same_as_panels or _panels(study, len(ways.with_panels) - 1, len(ways.with_panels) - 1)
    room, base = study.brief.room, ways.base
    if room is not None and room < same.count:
        same = _panels(study, room, room)
    if same.count < 1:
        return None
    energy = base.energy * same.count / study.array.count
    if ways.with_panels:
        energy = base.energy * (ways.with_panels[same.count] / ways.with_panels[0] - 1)
    money = outcome(energy, same.cost, 0.0, study.terms)
    plural = "panel" if same.count == 1 else "panels"
    return Way(
        key="more-panels",
        kind="more-panels",
        name=f"No moving parts: {same.count} more {plural} at the base tilt",
        energy=base.energy + energy,
        irradiation=base.irradiation,
        gain=energy / base.energy,
        extra_kwh=energy,
        extra_cost=same.cost,
        upkeep=0.0,
        minutes=0.0,
        moves=0,
        drive_consumption=0.0,
        tilt=base.tilt,
        money=money,
        spread=gain_spread(study.weather, base.energy, energy, "more-panels", money, same.cost),
        same_as_panels=same,
        panels_only=True,
        ruled_out=base.ruled_out,
    )
