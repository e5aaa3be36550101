"""What the tilt plan's screen shows, read off a study once: plain frozen data that can be stored and opened again."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np

from sundial.answers.frame.report import frame_report
from sundial.balance.skies import resampled_days
from sundial.brief.model import WorldSky
from sundial.days import DAYS, MONTH_OF_DAY, spoken_day
from sundial.errors import BriefError
from sundial.limits import held_tilt
from sundial.money.uncertainty import kwh_range
from sundial.mounts.kind import WHOLE_DEGREES
from sundial.mounts.one_axis import OneAxisMount
from sundial.mounts.two_axis import TwoAxisMount
from sundial.plan.advice import Advice, advise
from sundial.plan.rivals import Effort, paying_settings, rivals
from sundial.plan.stretches import NEVER, best_sequences
from sundial.plan.tilt_plan import BAND, Plans, TiltPlan, make_plans, refuse_many_tilts, refuse_settings
from sundial.study import Study
from sundial.sun import noon_and_length
from sundial.wind.caps import plan_cap


@dataclass(frozen=True)
class CurvePoint:
    """One number of settings: kWh over the best fixed tilt, as a share, minutes a year, kWh per minute (None: no work)."""

    settings: int
    gain: float
    share: float
    minutes: float
    kwh_per_minute: float | None


@dataclass(frozen=True)
class TrackerYear:
    """What a tracker would make with the same panels, kWh a year, with nothing taken by its motor."""

    name: str
    energy: float


@dataclass(frozen=True)
class RivalLoss:
    """A rival plan and what it loses against the chosen one, kWh a year."""

    name: str
    tilts: tuple[float, ...]
    energy: float
    loss: float

    @property
    def difference(self) -> float:
        """kWh a year more (or fewer) than the chosen plan."""
        return -self.loss


@dataclass(frozen=True)
class Held:
    """What stays at one tilt, against what it could be: ``best_tilt`` degrees gives most in a year, ``best_energy`` kWh, ``difference`` more
    than its own; ``goal_tilt`` is best by the plan's goal, by ``goal_difference`` as the goal counts; ``would_gain`` kWh a year that ``settings`` settings
    would add if it could move, at ``would_tilts``, with P10 and P90. ``matters``: whether the best is over a hundredth better as the goal counts.
    ``turned``: a hand turns it through the day, and the kWh here are those of facing one way."""

    tilt: float
    energy: float
    best_tilt: float
    best_energy: float
    difference: float
    goal_tilt: float
    goal_difference: float
    settings: int
    would_gain: float
    would_range: tuple[float, float]
    matters: bool
    turned: bool = False
    would_tilts: tuple[float, ...] = ()


@dataclass(frozen=True)
class PlanReport:
    """The tilt plan of a build. ``gain_range`` is P10 and P90 of the gain. ``chosen`` is the plan with the wanted settings; ``fixed`` the simplest allowed one.

    Lists by day have 365 entries: ``noon`` degrees, ``day_length`` hours, ``ideal`` the best reachable tilt,
    ``daily`` kWh of the chosen plan; ``by_month`` 12 kWh of it. ``wind_cap``: the highest tilt that the wind leaves to each month,
    of those that the plan obeys (90: none); None without any. ``held``: of a mount that stays at one tilt, what it could be; then ``curve`` is what
    moving it would give over that tilt, if it could. ``made``: kWh a year of the mount as it is, motor and turning by hand counted;
    ``made_daily`` (365,) by day; ``advice`` for what a hand moves.
    """

    plans: tuple[TiltPlan | None, ...]
    chosen: TiltPlan
    fixed: TiltPlan
    every_day: TiltPlan
    gain: float
    gain_range: tuple[float, float]
    goal_gain: float
    minutes: float
    curve: tuple[CurvePoint, ...]
    ceiling: float
    rivals: tuple[RivalLoss, ...]
    reachable: tuple[float, ...]
    noon: tuple[float, ...]
    day_length: tuple[float, ...]
    daily: tuple[float, ...]
    by_month: tuple[float, ...]
    cap_price: float
    slack_kwh: float
    notes: tuple[str, ...]
    moved_by_motor: bool
    made: float
    made_daily: tuple[float, ...]
    wind_cap: tuple[float, ...] | None = None
    held: Held | None = None
    advice: Advice | None = None

    @property
    def ceiling_kwh(self) -> float:
        """kWh a year that a new tilt every day would add to the simplest plan."""
        return self.every_day.energy - self.fixed.energy

    @property
    def fixed_difference(self) -> float:
        """kWh a year of the simplest plan against the chosen one."""
        return -self.gain

    def paying(self, effort: Effort) -> int:
        """The number of settings after which one more move stops paying."""
        return paying_settings(self.plans, effort)

    def against(self, trackers: tuple[TrackerYear, ...]) -> tuple[RivalLoss, ...]:
        """Trackers as rivals of the chosen plan."""
        return tuple(RivalLoss(t.name, (), t.energy, self.chosen.energy - t.energy) for t in trackers)


def plan_report(study: Study) -> PlanReport:
    """Everything the tilt plan station shows."""
    plans, held, mount = study.own_plans, held_against(study), study.brief.mount
    chosen, fixed = plans.with_settings(study.brief.plan.settings), plans.simplest
    surface, plan_brief = study.plan_surface, study.brief.plan
    each = plan_brief.minutes_per_move * plan_brief.people  # what a kWh is worth is asked by whoever shows it
    columns = np.searchsorted(surface.tilts, np.array(chosen.tilt_by_day) - 1e-9)
    daily = surface.energy[np.arange(len(columns)), columns]
    offered = plans if held is None else _if_it_moved(study, "year")
    by_plan = not mount.motors and mount.hand != "facing"  # then the plan is what the build makes
    made = daily if by_plan else study.production().energy
    curve = []
    for settings, plan in enumerate(offered.plans, 1):
        if plan is None:
            continue
        gain, minutes = plan.energy - fixed.energy, plan.moves * each
        share = gain / fixed.energy if fixed.energy else 0.0
        curve.append(CurvePoint(settings, gain, share, minutes, gain / minutes if minutes else None))
    noon, length = noon_and_length(study.scene.site)
    wind_cap = plan_cap(study.scene)
    gain = chosen.energy - fixed.energy
    return PlanReport(
        plans=plans.plans,
        chosen=chosen,
        fixed=fixed,
        every_day=offered.every_day,
        gain=gain,
        gain_range=kwh_range(study.scene.weather, fixed.energy, gain, "hand", _sun_spread(study, chosen, fixed)),
        goal_gain=chosen.goal_value - fixed.goal_value,
        minutes=chosen.moves * each,
        curve=tuple(curve),
        ceiling=offered.every_day.energy / fixed.energy - 1 if fixed.energy else 0.0,
        rivals=tuple(
            RivalLoss(r.name, r.tilts, r.energy, chosen.energy - r.energy)
            for r in rivals(
                study.plan_surface,
                study.plan_tilts if held is None else WHOLE_DEGREES,
                study.scene.site.latitude,
                study.brief.plan.tilt_now if held is None else None,
                held is None,
            )
        ),
        reachable=tuple(float(t) for t in study.plan_tilts),
        noon=noon,
        day_length=length,
        daily=tuple(daily.tolist()),
        by_month=tuple(np.bincount(MONTH_OF_DAY, weights=daily).tolist()),
        cap_price=_cap_price(study, chosen),
        slack_kwh=study.brief.plan.slack * (chosen.goal_value if chosen.goal_value > 0 else chosen.energy),
        notes=_notes(study, chosen),
        moved_by_motor=_moved_by_motor(study),
        made=float(made.sum()),
        made_daily=tuple(made.tolist()),
        wind_cap=None if wind_cap is None or held is not None else tuple(wind_cap.tolist()),
        held=held,
        advice=advice_of(study, plans, study.brief.plan.settings) if held is None and not _moved_by_motor(study) else None,
    )


def advice_of(study: Study, plans: Plans, settings: int) -> Advice:
    """Whether so many settings a year are worth it for what a hand moves."""
    of_the_year = plans.constraints.goal == "year"

    def range_of(plan: TiltPlan, base: TiltPlan) -> tuple[float, float]:
        gain = plan.goal_value - base.goal_value
        spread = _sun_spread(study, plan, base) if of_the_year else None
        return kwh_range(study.scene.weather, abs(base.goal_value), gain, "hand", spread)

    return advise(plans, settings, range_of)


MOVED_TWICE = 2  # settings that are offered to what stays put


def held_against(study: Study) -> Held | None:
    """What stays at one tilt against the best tilt and against two settings a year; None for what a hand or a motor tilts."""
    tilt = held_tilt(study.scene)
    if tilt is None:
        return None
    own, goal = study.own_plans.simplest, study.brief.plan.goal
    counted = "year" if goal == "empty-days" else goal  # which cannot be searched over every tilt
    free = _if_it_moved(study, "year")
    best, moved = free.simplest, free.with_settings(MOVED_TWICE)
    wanted = _if_it_moved(study, counted).simplest
    own_value = own.goal_value if counted == goal else own.energy
    gain = moved.energy - own.energy
    return Held(
        tilt=tilt,
        energy=own.energy,
        best_tilt=best.stretches[0].tilt,
        best_energy=best.energy,
        difference=best.energy - own.energy,
        goal_tilt=wanted.stretches[0].tilt,
        goal_difference=wanted.goal_value - own_value,
        settings=MOVED_TWICE,
        would_gain=gain,
        would_range=kwh_range(study.scene.weather, own.energy, gain, "hand", _sun_spread(study, moved, own)),
        matters=wanted.goal_value - own_value > BAND * abs(wanted.goal_value),
        turned=study.brief.mount.hand == "facing",
        would_tilts=tuple(sorted({stretch.tilt for stretch in moved.stretches})),
    )


def _if_it_moved(study: Study, goal: str) -> Plans:
    """The plans of the same panels on a frame that reaches every whole degree, and what they are held at: no cap and no floor."""
    limits = replace(study.constraints(goal=goal), tilts=WHOLE_DEGREES, cap=None, floor=None)
    key = ("if it moved", goal, study.brief.plan.model_dump_json(include={"months", "demand", "weekdays", "year", "slack"}))
    return study.cache.get("plans", key, lambda: make_plans(study.surface(), limits, study.scene.site.latitude))


def _cap_price(study: Study, chosen: TiltPlan) -> float:
    """kWh a year that caps and floors cost the chosen plan (0 without any)."""
    plan = study.brief.plan
    limits = study.constraints(own=True)
    if limits.cap is None and limits.floor is None:
        return 0.0
    free = replace(limits, cap=None, floor=None)
    key = ("no caps, no floors", study.hand_axis is None, plan.settings, plan.model_dump_json())

    def made() -> Plans:
        return make_plans(study.plan_surface, free, study.scene.site.latitude, plan.settings)

    without = study.cache.get("plans", key, made)
    other = without.with_settings(plan.settings)
    if plan.goal == "empty-days":  # which counts days
        return max(0.0, other.energy - chosen.energy)
    return max(0.0, other.goal_value - chosen.goal_value)


def _sun_spread(study: Study, chosen: TiltPlan, fixed: TiltPlan) -> float | None:
    """Standard deviation of the gain over other years of a grown sky, as the comparison of ways has it."""
    if not study.scene.weather.synthetic:
        return None
    surface, days = study.plan_surface, np.arange(DAYS)
    tilts = (np.searchsorted(surface.tilts, np.array(plan.tilt_by_day) - 1e-9) for plan in (chosen, fixed))
    mine, still = (surface.energy[days, columns] for columns in tilts)
    return float(np.std((mine - still)[resampled_days(getattr(study.brief.sky, "seed", 1))].sum(axis=1), ddof=1))


def _moved_by_motor(study: Study) -> bool:
    """Whether nothing of the mount is left for a hand to set."""
    return study.brief.mount.motors > 0 and study.hand_axis is None


def _notes(study: Study, chosen: TiltPlan) -> tuple[str, ...]:
    notes = []
    if _moved_by_motor(study):
        wind = ", the wind left out" if study.brief.wind is not None and study.brief.wind.in_plan else ""
        notes.append(
            f"The motor moves this mount by itself: this plan is what the same panels would do on a frame moved by hand{wind}."
        )
    if study.brief.array.turned and isinstance(study.brief.mount, OneAxisMount):
        notes.append(_turned_words(study))
    if study.hand_axis is not None:
        notes.append("The motor rolls the panels east to west; these are the tilts of its axis, set by hand.")
    for stretch in chosen.stretches:
        low, high = stretch.wanted
        if chosen.moves and not stretch.well_placed:
            notes.append(
                f"From {spoken_day(stretch.start)} the sun would like {low:.0f} to {high:.0f}°; {stretch.tilt:g}° is the nearest "
                "that frame, caps and floors allow."
            )
    if min(chosen.tilt_by_day) < 5 and min(chosen.tilt_by_day) >= 0:
        notes.append("Under 5° rain does not run off by itself: dirt settles along the lower edge.")
    turn = abs((study.scene.azimuth - study.scene.site.equator_ward + 180) % 360 - 180)
    if turn > 5:
        notes.append(f"The array is turned {turn:.0f}° from the equator-ward direction; the plan is made for that.")
    if study.scene.weather.made_up or isinstance(study.brief.sky, WorldSky):
        notes.append(study.scene.weather.trust)
    return tuple(notes)


def _turned_words(study: Study) -> str:
    """What it gives that the panels sit turned about the axis."""
    brief = study.brief
    straight = study.beside(brief.model_copy(update={"array": brief.array.model_copy(update={"turned": 0.0})}))
    more = study.production().year - straight.production().year
    said = f"{abs(more):.0f} kWh a year {'more' if more >= 0 else 'less'} than straight, worth {abs(more) * study.terms.price:.0f} at your price of a kWh"
    return f"The panels sit turned {brief.array.turned:g}° about the axis: {said}."


@dataclass(frozen=True)
class StretchCurve:
    """Energy of one stretch against tilt: whole degrees and kWh, the share lost against the best, and the 1 % band."""

    tilts: tuple[float, ...]
    energy: tuple[float, ...]
    band: tuple[float, float]
    tilt: float


def stretch_curve(study: Study, plan: TiltPlan, index: int) -> StretchCurve:
    """Energy against tilt for one stretch of a plan."""
    stretch = plan.stretches[index % len(plan.stretches)]
    days = np.arange(stretch.start, stretch.start + stretch.days) % 365
    surface = study.plan_surface
    total = surface.energy[days].sum(axis=0)
    return StretchCurve(tuple(surface.tilts.tolist()), tuple(total.tolist()), stretch.band, stretch.tilt)


def tracker_years(study: Study) -> tuple[TrackerYear, ...]:
    """A level axis rolling east to west, and two axes: what stands above every plan moved by hand."""
    mounts: dict[str, OneAxisMount | TwoAxisMount] = {
        "One axis by motor": OneAxisMount(kind="one-axis"),
        "Two axes by motor": TwoAxisMount(kind="two-axis"),
    }
    return tuple(TrackerYear(name, study.production(mount).year) for name, mount in mounts.items())


DEAR_TILTS = 45  # reachable tilts beyond which a goal that judges whole months takes more than half a second

DEAR_JUDGED = 9  # reachable tilts beyond which a search for the fewest empty days takes as long


def plan_is_dear(study: Study) -> bool:
    """Whether the plan of a study takes longer than a request should."""
    goal = study.brief.plan.goal
    if goal == "empty-days":
        return len(study.scene.reachable) > DEAR_JUDGED
    return goal in ("worst-month", "demand") and study.hand_axis is None and len(study.scene.reachable) > DEAR_TILTS


def refuse_impossible(study: Study) -> None:
    """BriefError where the scene does not fit together, or where caps and floors leave a month without a tilt or cannot be
    met with the settings wanted; neither the year nor a plan is computed."""
    study.scene.refuse()
    if study.scene.structure is not None:
        frame_report(study.scene)  # refuses what would stand in the ground
    constraints, plan = study.constraints(own=True), study.brief.plan
    allowed = constraints.allowed()
    constraints.weights(study.scene.site.latitude)  # refuses a goal of chosen months without any
    refuse_many_tilts(constraints)
    if plan.goal == "demand" and not plan.demand:
        raise BriefError("plan.demand", "give the twelve monthly demands in kWh")
    if allowed.all(axis=0).any():  # one tilt that may stand all year: any number of settings will do
        return
    found = best_sequences(np.where(allowed, 0.0, NEVER), 12, constraints.may_move)
    if found[plan.settings - 1] is None:
        refuse_settings(plan.settings, next((k for k, one in enumerate(found, 1) if one), None))
