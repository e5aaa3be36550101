"""The tilt plan: settings, dates, slack and bands for every number of settings a year."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal, NoReturn

import numpy as np
from numpy.typing import NDArray

from sundial.balance.empty_days import MOST as MOST_JUDGED
from sundial.balance.empty_days import Judge, fewest_empty_days, half_months
from sundial.balance.sums import empty_days
from sundial.days import DAYS, MONTH_NAMES, MONTH_OF_DAY, sum_by_month, winter_days
from sundial.energy.production import TiltSurface
from sundial.errors import BriefError
from sundial.plan.months import demand_sequences, worst_month_sequences
from sundial.plan.stretches import NEVER, TiltSequence, best_sequences, runs

Floats = NDArray[np.float64]
Goal = Literal["year", "winter", "months", "worst-month", "demand", "empty-days"]
MOST_SETTINGS = 12
MOST_BY_MONTH = 181  # tilts, for the goals that judge whole months
BAND = 0.01  # a band holds the tilts that lose less than this share of the stretch
TOLD = 0.005  # degrees: tilts are told to a hundredth, and a cap at a hole's tilt allows that hole
ASIDE = 1e-6  # weight of what lies outside the goal: it only settles ties


@dataclass(frozen=True, eq=False)
class PlanConstraints:
    """What the person wants and what the frame and the wind allow.

    ``tilts`` reachable, rising; ``months`` 1 to 12 for goal "months"; ``demand`` (12,) kWh for goal "demand";
    ``cap`` and ``floor`` (12,) degrees by month; ``may_move`` (365,) days on which somebody is there;
    ``slack`` share of the plan's goal energy that a late or early move may cost; ``by`` what is maximised; ``judge`` of goal
    "empty-days": the hours of every tilt and what they meet.
    """

    tilts: Floats
    goal: Goal = "year"
    months: tuple[int, ...] = ()
    demand: Floats | None = None
    cap: Floats | None = None
    floor: Floats | None = None
    may_move: NDArray[np.bool_] = field(default_factory=lambda: np.ones(DAYS, dtype=bool))
    slack: float = 0.001
    by: Literal["energy", "irradiation"] = "energy"
    judge: Judge | None = None

    def weights(self, latitude: float) -> Floats:
        """What a kWh counts on each day (365,)."""
        if self.goal == "winter":
            wanted = winter_days(latitude)
        elif self.goal == "months":
            if not self.months:
                raise BriefError("plan.months", "choose at least one month")
            wanted = np.isin(MONTH_OF_DAY + 1, self.months)
        else:
            wanted = np.ones(DAYS, dtype=bool)
        weighted: Floats = np.where(wanted, 1.0, ASIDE)
        return weighted

    def allowed(self) -> NDArray[np.bool_]:
        """Which reachable tilt may stand on which day (365, tilts); refuses a month that has none."""
        by_month = np.ones((12, len(self.tilts)), dtype=bool)
        if self.cap is not None:
            by_month &= self.tilts[None, :] <= self.cap[:, None] + TOLD
        if self.floor is not None:
            by_month &= self.tilts[None, :] >= self.floor[:, None] - TOLD
        for month in np.flatnonzero(~by_month.any(axis=1)):
            cap = 90.0 if self.cap is None else float(self.cap[month])
            low = 0.0 if self.floor is None else float(self.floor[month])
            raise BriefError(
                "plan.cap",
                f"{MONTH_NAMES[month]} is left with no tilt: nothing reachable lies from {low:g} to {cap:g} degrees "
                f"(the frame reaches {self.tilts[0]:g} to {self.tilts[-1]:g})",
            )
        return by_month[MONTH_OF_DAY]


@dataclass(frozen=True)
class Stretch:
    """One stretch of a plan: from day ``start`` for ``days`` days at ``tilt``.

    ``energy`` kWh and ``irradiation`` kWh/m2 of the stretch; the move at its start may fall on ``earliest`` to
    ``latest`` (days 0 to 364); ``band`` is the range of tilts, among those that frame, caps and floors allow on all its days,
    that lose under 1 % of the stretch (``wanted`` itself for a frame of one tilt); ``wanted`` what would come within 1 % of the best tilt of all.
    """

    start: int
    days: int
    tilt: float
    energy: float
    irradiation: float
    earliest: int
    latest: int
    band: tuple[float, float]
    wanted: tuple[float, float]

    @property
    def well_placed(self) -> bool:
        """Whether the tilt is one that is wanted (to half a degree): False where the frame or the limits keep it from that."""
        return self.wanted[0] - 0.5 <= self.tilt <= self.wanted[1] + 0.5

    @property
    def middle(self) -> int:
        return (self.start + self.days // 2) % DAYS


@dataclass(frozen=True)
class TiltPlan:
    """The best plan with at most ``settings`` settings a year; ``goal_value`` is what the goal counts of it (kWh, or
    kWh/m2 by irradiation; the worst month; or, as a negative number, the demand left unmet or the empty days)."""

    settings: int
    stretches: tuple[Stretch, ...]
    tilt_by_day: tuple[float, ...]
    energy: float
    irradiation: float
    goal_value: float

    @property
    def moves(self) -> int:
        """Moves a year: none for one setting."""
        return len(self.stretches) if len(self.stretches) > 1 else 0


def refuse_settings(settings: int, fewest: int | None) -> NoReturn:
    """BriefError where the caps and floors need more settings than are wanted."""
    need = f"; it takes at least {fewest}" if fewest else ""
    raise BriefError("plan.settings", f"the caps and floors cannot be met with {settings} setting(s) a year{need}")


@dataclass(frozen=True, eq=False)
class Plans:
    """Plans for 1..12 settings; None where the caps allow none with so few. ``every_day`` is the ceiling."""

    constraints: PlanConstraints
    plans: tuple[TiltPlan | None, ...]
    every_day: TiltPlan

    def with_settings(self, settings: int) -> TiltPlan:
        """The plan with so many settings; BriefError where the caps need more."""
        plan = self.plans[settings - 1]
        if plan is None:
            refuse_settings(settings, next((k for k, found in enumerate(self.plans, 1) if found), None))
        return plan

    @property
    def simplest(self) -> TiltPlan:
        """The plan with the fewest settings that the caps allow: the best fixed tilt, as a rule."""
        for plan in self.plans:
            if plan is not None:
                return plan
        raise BriefError("plan.cap", "the caps and floors cannot be met with twelve settings a year")


def make_plans(surface: TiltSurface, constraints: PlanConstraints, latitude: float, most: int = MOST_SETTINGS) -> Plans:
    """Exact plans for 1..``most`` settings. Every tilt of ``constraints.tilts`` must be in the surface."""
    year = _Year(surface, constraints, latitude)
    plans = tuple(
        None if found is None else year.plan(found.by_day, k) for k, found in enumerate(_sequences(year, constraints, most), 1)
    )
    return Plans(constraints, plans, year.held(year.score.argmax(axis=1), DAYS))


def refuse_many_tilts(constraints: PlanConstraints) -> None:
    """BriefError where there are more tilts than a goal that judges whole months is planned for."""
    if constraints.goal in ("worst-month", "demand") and len(constraints.tilts) > MOST_BY_MONTH:
        raise BriefError(
            "mount.tilts",
            f"are {len(constraints.tilts)}; a plan for the worst month or for a demand is found among {MOST_BY_MONTH} at most: "
            "take a larger step or another goal",
        )


def _sequences(year: _Year, constraints: PlanConstraints, most: int) -> list[TiltSequence | None]:
    refuse_many_tilts(constraints)
    score = year.score
    if constraints.goal == "empty-days":
        return _fewest_empty(constraints, most)
    if constraints.goal == "worst-month":
        return worst_month_sequences(score, most, constraints.may_move)
    if constraints.goal == "demand":
        demand = constraints.demand
        if demand is None:
            raise BriefError("plan.demand", "give the twelve monthly demands in kWh")
        return demand_sequences(score, demand, most, constraints.may_move)
    return best_sequences(score, most, constraints.may_move)


def _fewest_empty(constraints: PlanConstraints, most: int) -> list[TiltSequence | None]:
    """Plans by their empty days, for up to four settings; more settings are not searched, and keep the plan of four."""
    judge = constraints.judge
    if judge is None:
        raise BriefError("plan.goal", "the fewest empty days need an off-grid use without a generator")
    dates = half_months(constraints.may_move)
    found = fewest_empty_days(judge, constraints.allowed(), dates, min(most, MOST_JUDGED))
    sequences = [None if one is None else TiltSequence(-one.empty_days, one.by_day) for one in found]
    return sequences + [sequences[-1]] * (most - len(sequences))


@dataclass(frozen=True, eq=False)
class _Year:
    """A surface under its constraints. Holdings are given as the index of a reachable tilt on each day (365,)."""

    surface: TiltSurface
    constraints: PlanConstraints
    latitude: float

    @cached_property
    def weights(self) -> Floats:
        return self.constraints.weights(self.latitude)

    @cached_property
    def columns(self) -> NDArray[np.int64]:
        return np.array([self.surface.column(tilt) for tilt in self.constraints.tilts])

    @cached_property
    def values(self) -> Floats:
        """What counts, of every tilt of the surface: (365, tilts)."""
        counted = self.surface.energy if self.constraints.by == "energy" else self.surface.irradiation
        weighted: Floats = counted * self.weights[:, None]
        return weighted

    @cached_property
    def score(self) -> Floats:
        """What each reachable tilt earns on each day, ``NEVER`` where it is not allowed."""
        return np.where(self.constraints.allowed(), self.values[:, self.columns], NEVER)

    @cached_property
    def running(self) -> Floats:
        """Running sums of ``values`` over two years (731, tilts), so that any circular stretch is one difference."""
        twice = np.concatenate([self.values, self.values])
        return np.concatenate([np.zeros((1, twice.shape[1])), np.cumsum(twice, axis=0)])

    def held(self, by_day: NDArray[np.int64], settings: int, stretches: tuple[Stretch, ...] = ()) -> TiltPlan:
        """A holding's totals."""
        days, columns = np.arange(DAYS), self.columns[by_day]
        energy, irradiation = self.surface.energy[days, columns], self.surface.irradiation[days, columns]
        goal = _goal_value(self.constraints, self.weights, energy if self.constraints.by == "energy" else irradiation)
        if self.constraints.judge is not None:
            goal = -float(empty_days(self.constraints.judge.balance_of(by_day)).sum())
        tilts = tuple(self.surface.tilts[columns].tolist())
        return TiltPlan(settings, stretches, tilts, float(energy.sum()), float(irradiation.sum()), goal)

    def plan(self, by_day: NDArray[np.int64], settings: int) -> TiltPlan:
        """A holding as a plan, with the dates, slack and band of every stretch."""
        loss = self.constraints.slack * float(self.score[np.arange(DAYS), by_day].sum())
        found = runs(by_day)
        stretches = []
        for (_, before_length, before), (start, length, tilt) in zip(found[-1:] + found[:-1], found, strict=True):
            inside, column = np.arange(start, start + length) % DAYS, self.columns[tilt]
            total = self.running[start + length] - self.running[start]
            wanted = self._within(total, float(total.max()), np.ones(len(total), dtype=bool))
            one = len(self.constraints.tilts) == 1  # nothing can be set: the band says what else it might have been built to
            band = wanted if one else self._within(total, float(total[column]), self._in_reach(inside))
            early = late = 0
            if len(found) > 1:
                early = self._reach((start - 1 - np.arange(before_length - 1)) % DAYS, tilt, before, loss)
                late = self._reach(inside[:-1], before, tilt, loss)
            stretches.append(
                Stretch(
                    start,
                    length,
                    float(self.surface.tilts[column]),
                    float(self.surface.energy[inside, column].sum()),
                    float(self.surface.irradiation[inside, column].sum()),
                    (start - early) % DAYS,
                    (start + late) % DAYS,
                    band,
                    wanted,
                )
            )
        return self.held(by_day, settings, tuple(stretches))

    def _within(self, total: Floats, best: float, among: NDArray[np.bool_]) -> tuple[float, float]:
        """Lowest and highest of the tilts ``among`` those of the surface that lose less than a band's share of ``best``."""
        good = np.flatnonzero(among & (total >= best - BAND * abs(best)))
        return float(self.surface.tilts[good[0]]), float(self.surface.tilts[good[-1]])

    def _in_reach(self, days: NDArray[np.int64]) -> NDArray[np.bool_]:
        """Tilts of the surface from the least to the greatest that the frame reaches, under all caps and over all floors of
        these days."""
        tilts, limits, months = self.surface.tilts, self.constraints, np.unique(MONTH_OF_DAY[days])
        low, high = limits.tilts[0], limits.tilts[-1]
        if limits.cap is not None:
            high = min(high, limits.cap[months].min())
        if limits.floor is not None:
            low = max(low, limits.floor[months].max())
        return np.asarray((tilts >= low - TOLD) & (tilts <= high + TOLD))

    def _reach(self, days: NDArray[np.int64], wrong: int, right: int, loss: float) -> int:
        """How many of these days, from the first, may stand at the wrong tilt for no more than ``loss``."""
        over = np.flatnonzero(np.cumsum(self.score[days, right] - self.score[days, wrong]) > loss)
        return int(over[0]) if over.size else len(days)


def _goal_value(constraints: PlanConstraints, weights: Floats, earned: Floats) -> float:
    if constraints.goal == "worst-month":
        return float(sum_by_month(earned).min())
    if constraints.goal == "demand" and constraints.demand is not None:
        return -float(np.maximum(constraints.demand - sum_by_month(earned), 0).sum())
    return float(earned[weights == 1].sum())
