"""One table that compares every way of holding the same panels, priced the same way."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from sundial.balance.sums import Sums
from sundial.brief.model import OptionBrief
from sundial.days import DAYS, MONTH_OF_DAY, sum_by_month, winter_days
from sundial.money.finance import Outcome, left_over, outcome
from sundial.money.uncertainty import Spread, YearlySpread, gain_spread
from sundial.scene import Scene
from sundial.storms.ways import RuledOut
from sundial.study import Study
from sundial.worth.balances import Row, RowBalance, balances, values
from sundial.worth.more_panels import MOST_MORE
from sundial.worth.other_panels import MORE
from sundial.worth.ways import HAND_KINDS, NAMES, WayEnergy, Ways, WayYears, ways_of

Floats = NDArray[np.float64]
PANEL_KINDS = ("more-panels", "more-flat")


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
    rows apart: the kind of a standard row, ``added-2`` for the brief's option number 2.

    ``energy_by_month`` (12) kWh, and ``in_season`` those of the season that the plan is for (None: the whole year);
    ``sums``: what becomes of its kWh; ``saved_by_month``: its balance's money against the base's (12); ``empty_range``: P10 and P90 of
    its empty days in other years of the sky (None: the sky is not grown, or there is a grid); ``breaks_contract``: it ends an old
    contract, and is priced without it; ``added_panels``: how many a row of ``panels_only`` adds; ``height``, ``stands_to``, ``motors``, ``starts`` as in :class:`WayEnergy`.
    """

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
    sums: Sums
    saved_by_month: tuple[float, ...] = ()
    energy_by_month: tuple[float, ...] = ()
    in_season: float | None = None
    empty_range: tuple[float, float] | None = None
    breaks_contract: bool = False
    panels_only: bool = False
    added_panels: int = 0
    wind_lost: float = 0.0
    ruled_out: RuledOut | None = None
    height: float | None = None
    stands_to: float | None = None
    motors: int = 0
    starts: float = 0.0

    @property
    def kwh_per_hour(self) -> float | None:
        """Extra kWh for an hour of work (None: no work)."""
        return self.extra_kwh / (self.minutes / 60) if self.minutes else None

    @property
    def saved(self) -> float:
        """Money that it saves in the first year against the base, before upkeep and hours of work."""
        return sum(self.saved_by_month)

    @property
    def saving_range(self) -> tuple[float, float]:
        """P10 and P90 of the first year's saving after upkeep and hours of work."""
        less = self.money.saving_per_year - self.saved
        return self.spread.saved[0] + less, self.spread.saved[1] + less

    @property
    def advisable(self) -> bool:
        """Whether neither the wind nor a contract rules it out."""
        return self.ruled_out is None and not self.breaks_contract


@dataclass(frozen=True)
class Comparison:
    """The base and the rows, in the order they are shown; ``off`` holds the kinds that are switched off; ``room`` for how many
    more panels there is (None: not known); ``kind`` of the use; ``base_value``: money a year of the base against nothing made."""

    base: Way
    rows: tuple[Way, ...]
    off: tuple[str, ...] = field(default=())
    room: int | None = None
    kind: str = "grid"
    base_value: float = 0.0

    def row(self, kind: str) -> Way | None:
        return next((row for row in self.rows if row.kind == kind), None)


@dataclass(frozen=True, eq=False)
class _Line:
    """A row on its way to being priced."""

    way: WayEnergy
    row: Row
    option: OptionBrief | None
    key: str
    same: SamePanels | None = None
    added: int = 0


def compare(study: Study, years: WayYears | None = None) -> Comparison:
    """Price every way against the base. ``years``: what they make, where it is known already."""
    made = years or ways_of(study)
    lines = _lines(study, made)
    found = balances(study, [line.row for line in lines])
    off = tuple(option.row for option in study.brief.options if option.row and option.off)
    base = _priced(study, made.ways, lines[0], found[0], found[0])
    rows = tuple(_priced(study, made.ways, line, found[0], one) for line, one in zip(lines[1:], found[1:], strict=True))
    return Comparison(base, rows, off, study.brief.room, study.brief.use.kind, found[0].value)


def rows_of(study: Study, years: WayYears) -> dict[str, Row]:
    """The hours of every row by its key, the base's under "base"."""
    lines = _lines(study, years)
    return {"base": lines[0].row, **{line.key: line.row for line in lines[1:]}}


def _lines(study: Study, years: WayYears) -> list[_Line]:
    """The base, then every row: standard, added, and the rivals that hold no panel otherwise."""
    options, ways = study.brief.options, years.ways
    named: dict[str | None, OptionBrief] = {option.row: option for option in options if option.row}
    off = {option.row for option in options if option.row and option.off}
    lines = [_Line(ways.base, Row(years.hourly[0]), None, ways.base.kind)]
    for number, one in enumerate(ways.standard, 1):
        lines.append(_Line(one, Row(years.hourly[number]), named.get(one.kind), one.kind))
    for number, (index, one) in enumerate(ways.added, len(lines)):
        row = Row(years.hourly[number], one.added_power)
        lines.append(_Line(one, row, options[index], f"added-{index}", added=one.added_panels))
    best = max((line.way.energy - ways.base.energy for line in lines[1:] if not line.added), default=0.0)
    enough = Enough(best, _most_money(study, ways, lines) if study.brief.room is None else None)
    lines += [
        line for kind in PANEL_KINDS if kind not in off and (line := _panels_line(study, years, kind, enough, lines[0].row))
    ]
    battery = study.brief.battery
    if battery is not None and "bigger-battery" not in off:
        more = battery.usable / 2 if battery.more is None else battery.more
        way = replace(ways.base, kind="bigger-battery", name=f"A battery {more:g} kWh bigger")
        lines.append(_Line(way, Row(years.hourly[0], more_battery=more), named.get("bigger-battery"), "bigger-battery"))
    return lines


@dataclass(frozen=True)
class Enough:
    """How many panels a row adds: as many as give ``kwh``, and on while one more still pays for itself: as far as there is room, or, where that is
    not known, until they leave ``money`` (None: room is known)."""

    kwh: float
    money: float | None


def _most_money(study: Study, ways: Ways, lines: list[_Line]) -> float:
    """The most that any way of the table leaves over the life; nought where none is priced."""
    worth = values(study, [line.row for line in lines])
    left = [0.0]
    for line, value in zip(lines[1:], worth[1:], strict=True):
        cost, yearly = _costs(study.scene, ways.base, line)
        left.append(left_over(value - worth[0], cost, yearly, study.terms) or 0.0)
    return max(left)


def _panels_line(study: Study, years: WayYears, kind: str, wanted: Enough, base_row: Row) -> _Line | None:
    """As many panels as are :class:`Enough`, as the inverter still feels, and as there is room for: at the base's tilt, or all of it flat. None
    where nothing is gained, or nothing fits."""
    base, flat = years.ways.base, kind == "more-flat"
    if wanted.kwh <= 0 or base.energy <= 0 or (flat and base.tilt == 0):
        return None
    hourly = years.hourly[0] if not flat else _limited(study.scene, years.panels[1])
    most = MOST_MORE if study.brief.room is None else min(MOST_MORE, study.brief.room)
    unlimited, each = years.panels[int(flat)], study.scene.array.panel.power
    gains: list[float] = []
    for number in range(1, most + 1):
        gains.append(float(more_hours(study.scene, hourly, unlimited, number).sum()) / 1000 - base.energy)
        if number > 1 and gains[-1] - gains[-2] < 0.2 * base.energy / study.scene.array.wired:
            break  # the inverter is full
    enough = next((number for number, gain in enumerate(gains, 1) if gain >= wanted.kwh), len(gains))
    if not gains or gains[enough - 1] <= 0:
        return None
    rows = [Row(more_hours(study.scene, hourly, unlimited, number), number * each) for number in range(enough, len(gains) + 1)]
    count = enough + _still_paying(study, base_row, rows, wanted.money)
    same = _same(study.scene, years, gains[count - 1]) if flat else _panels(study.scene, float(count), count)
    plural = "panel" if count == 1 else "panels"
    name = f"Flat, with {count} more {plural}" if flat else f"No moving parts: {count} more {plural} at the base tilt"
    way = replace(
        base,
        kind=kind,
        name=name,
        energy=base.energy + gains[count - 1],
        moves=0,
        drive_consumption=0.0,
        tilt=0.0 if flat else base.tilt,
        ruled_out=None if flat else base.ruled_out,
        height=None if flat else base.height,
        stands_to=None if flat else base.stands_to,
        wind_lost=0.0,
    )
    return _Line(way, rows[count - enough], None, kind, same, count)


AT_A_TIME = 4  # rows that are balanced together


def _still_paying(study: Study, base: Row, rows: list[Row], money: float | None) -> int:
    """Of rows with one panel more each, the place of the last that leaves more money than the one before it, or of the first that leaves
    ``money``; the first of all where panels have no price."""
    price = study.brief.worth.panel_cost
    if price is None or len(rows) < 2:
        return 0
    added = rows[1].added - rows[0].added
    (nothing,) = values(study, [base])
    left: list[float] = []
    for place in range(len(rows)):
        if place + 1 >= len(left):
            some = rows[len(left) : len(left) + AT_A_TIME]
            worth = values(study, some)
            left += [
                left_over(value - nothing, row.added / added * price, 0.0, study.terms) or 0.0
                for row, value in zip(some, worth, strict=True)
            ]
        enough = money is not None and left[place] >= money
        if enough or place + 1 == len(rows) or left[place + 1] <= left[place] + 1e-9 * abs(left[place]):
            break
    return place


def _same(scene: Scene, years: WayYears, extra: float) -> SamePanels | None:
    """Panels at the base's tilt that give ``extra`` kWh; None where no number of them would on this inverter."""
    hourly, gain = years.hourly[0], 0.0
    for count in range(1, 2 * MOST_MORE + 1):
        before, gain = gain, float(more_hours(scene, hourly, years.panels[0], count).sum() - hourly.sum()) / 1000
        if gain >= extra:
            return _panels(scene, count - (gain - extra) / (gain - before), count)
        if gain - before < 1e-6 * extra:
            return None
    return None


def _limited(scene: Scene, unlimited: Floats) -> Floats:
    limit = scene.system.inverter.power
    return unlimited if limit is None else np.minimum(unlimited, limit)


def more_hours(scene: Scene, hourly: Floats, unlimited: Floats, count: int) -> Floats:
    """Hours (8760,) of an array with ``count`` more panels on the same inverter; ``unlimited``: its hours as no inverter limits them."""
    grown = 1 + count / scene.array.wired
    if scene.system.inverter.power is None:
        return hourly * grown
    now = _limited(scene, unlimited)
    scale = float(hourly.sum()) / max(float(now.sum()), 1e-9)
    made: Floats = hourly + (_limited(scene, unlimited * grown) - now) * scale
    return made


def _priced(study: Study, ways: Ways, line: _Line, base_year: RowBalance, year: RowBalance) -> Way:
    base, made, option = ways.base, line.way, line.option
    panels_only = made.kind in (*PANEL_KINDS, MORE)
    extra = made.energy - base.energy
    minutes = _minutes(study.scene, line)
    cost, yearly = _costs(study.scene, base, line)
    saved = tuple(np.subtract(year.value_by_month, base_year.value_by_month).tolist())
    money = outcome(extra, cost, yearly, study.terms, sum(saved))
    daily, season = line.row.hourly.reshape(DAYS, 24).sum(axis=1) / 1000, _season(study.scene)
    return Way(
        key=line.key,
        kind=made.kind,
        name=(option.name if option and option.name else made.name),
        energy=made.energy,
        irradiation=made.irradiation,
        gain=extra / base.energy if base.energy > 0 else 0.0,
        extra_kwh=extra,
        extra_cost=cost,
        upkeep=option.upkeep if option else 0.0,
        minutes=minutes,
        moves=made.moves,
        drive_consumption=made.drive_consumption,
        tilt=made.tilt,
        money=money,
        spread=gain_spread(
            study.scene.weather, base.energy, extra, made.kind, money, cost, sum(saved), study.terms, _yearly(year, base_year)
        ),
        same_as_panels=line.same if panels_only else panels_for(study.scene, base.energy, extra, ways.with_panels),
        sums=year.sums,
        saved_by_month=saved,
        energy_by_month=tuple(sum_by_month(daily).tolist()),
        in_season=None if season.all() else float(daily[season].sum()),
        empty_range=_empty_range(year) if study.brief.use.kind == "off-grid" else None,
        breaks_contract=year.breaks_contract,
        panels_only=panels_only,
        added_panels=line.added,
        wind_lost=made.wind_lost,
        ruled_out=made.ruled_out,
        height=made.height,
        stands_to=made.stands_to,
        motors=made.motors,
        starts=made.starts,
    )


def _minutes(scene: Scene, line: _Line) -> float:
    """Of work a year."""
    plan, option, kind = scene.brief.plan, line.option, line.way.kind
    each = plan.minutes_per_move * plan.people
    if option is not None and option.minutes_per_move is not None:
        each = option.minutes_per_move
    elif option is not None and option.mount is not None and option.mount.minutes_a_move is not None:
        each = option.mount.minutes_a_move
    elif kind == "turned":
        each = 2.0 if scene.brief.mount.minutes_a_move is None else scene.brief.mount.minutes_a_move
    return line.way.moves * each


def _costs(scene: Scene, base: WayEnergy, line: _Line) -> tuple[float | None, float]:
    """What a row costs extra (None: not priced), and a year: upkeep, and hours of work where they count."""
    worth, option = scene.brief.worth, line.option
    labour = _minutes(scene, line) / 60 * scene.brief.plan.value_of_hour if worth.count_hours else 0.0
    cost = 0.0 if line.way == base else _extra_cost(scene, line.way, option)
    own_kind = option is not None and option.extra_cost is None and option.panels is not None and option.panels.power is None
    if line.way.kind in PANEL_KINDS or (line.way.kind == MORE and own_kind):
        cost = None if worth.panel_cost is None else line.added * worth.panel_cost
    return cost, (option.upkeep if option else 0.0) + labour


def _season(scene: Scene) -> NDArray[np.bool_]:
    """The days (365,) that the plan is for."""
    plan = scene.brief.plan
    if plan.goal == "winter":
        return winter_days(scene.brief.site.latitude)
    return np.isin(MONTH_OF_DAY + 1, plan.months) if plan.goal == "months" and plan.months else np.ones(DAYS, dtype=bool)


def _yearly(year: RowBalance, base: RowBalance) -> YearlySpread | None:
    """How extra kWh and saved money differ over other years of the sky (None: there are none)."""
    if year.skies is None or base.skies is None:
        return None
    return YearlySpread(
        float(np.std(np.subtract(year.skies.energy, base.skies.energy), ddof=1)),
        float(np.std(np.subtract(year.skies.value, base.skies.value), ddof=1)),
    )


def _empty_range(year: RowBalance) -> tuple[float, float] | None:
    if year.skies is None:
        return None
    low, high = np.percentile(year.skies.empty_days, (10, 90))
    return float(low), float(high)


def _extra_cost(scene: Scene, made: WayEnergy, option: OptionBrief | None) -> float | None:
    """The option's price; moving a frame that already has its holes, or standing still, costs nothing extra."""
    if option is not None and option.extra_cost is not None:
        return option.extra_cost
    if option is not None and option.row is None:
        return None
    if made.kind in ("flat", "best-fixed", "yours", "winter-left"):
        return 0.0
    if made.kind in HAND_KINDS and scene.brief.mount.hand == "tilt":
        return 0.0
    if made.kind == scene.brief.mount.kind:
        return 0.0
    return None


def panels_for(scene: Scene, base_energy: float, extra_kwh: float, with_panels: tuple[float, ...] = ()) -> SamePanels | None:
    """Panels added to the base that give ``extra_kwh``: None where there is nothing to give, and where no number of them
    would on this inverter. ``with_panels`` as in :class:`Ways`."""
    each = base_energy / scene.array.wired
    if extra_kwh <= 0 or each <= 0:
        return None
    exact = extra_kwh / each
    if with_panels:
        gains = [base_energy * (year / with_panels[0] - 1) for year in with_panels]
        count = next((count for count, gain in enumerate(gains) if gain >= extra_kwh), None)
        if count is None:
            return None
        exact = count - (gains[count] - extra_kwh) / (gains[count] - gains[count - 1])
    return _panels(scene, exact, max(1, -int(-exact // 1)))


def _panels(scene: Scene, exact: float, count: int) -> SamePanels:
    price = scene.brief.worth.panel_cost
    return SamePanels(exact, count, None if price is None else count * price, count * scene.array.panel.area)


__all__ = ["HAND_KINDS", "NAMES", "PANEL_KINDS", "Comparison", "SamePanels", "Way", "compare", "panels_for", "rows_of"]
