"""The commands ``schedule`` and ``stay``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

from sundial.answers.command import Answer, Command, share_over, unshaded
from sundial.doors import day_of, number
from sundial.errors import BriefError

if TYPE_CHECKING:
    from sundial.plan.tilt_plan import Plans, TiltPlan
    from sundial.study import Study


def schedule_answer(study: Study, settings: int, goal: str | None = None, every_tilt: bool = False, by: str = "energy") -> Answer:
    """The exact plan with so many settings a year, against the best fixed tilt."""
    from sundial.days import month_day

    if not 1 <= settings <= 12:
        raise BriefError("--moves", "must be a whole number from 1 to 12")
    plans = study.plans(every_tilt, goal, by)
    plan, fixed = plans.with_settings(settings), plans.simplest
    return {
        **unshaded(study, lambda bare: bare.plans(every_tilt, goal, by).with_settings(settings).energy),
        "moves": [
            {
                "start": month_day(stretch.start),
                "tilt": stretch.tilt,
                "irradiation": stretch.irradiation,
                "energy": stretch.energy,
                "earliest": month_day(stretch.earliest),
                "latest": month_day(stretch.latest),
                "band": list(stretch.band),
            }
            for stretch in plan.stretches
        ],
        "irradiation": plan.irradiation,
        "energy": plan.energy,
        "goal_value": plan.goal_value,
        "best_fixed": {"tilt": _fixed_tilt(fixed), "irradiation": fixed.irradiation, "energy": fixed.energy},
        "gain": share_over(plan.energy, fixed.energy),
        "irradiation_gain": share_over(plan.irradiation, fixed.irradiation),
        "every_day": {"energy": plans.every_day.energy, "irradiation": plans.every_day.irradiation},
        **_advice(study, plans, settings, by),
    }


def _advice(study: Study, plans: Plans, settings: int, by: str) -> Answer:
    """Whether to move it, for what a hand moves."""
    from sundial.answers.plan.report import advice_of

    if study.brief.mount.hand != "tilt" or by != "energy":
        return {}
    advice = advice_of(study, plans, settings)
    return {"advice": advice.do, "why": advice.why}


def held_answer(study: Study) -> Answer:
    """What stays at one tilt: that tilt, against the best one and against two settings a year."""
    from sundial.answers.plan.report import held_against

    held, own = held_against(study), study.own_plans.simplest
    if held is None:
        raise BriefError("--moves", "say how many settings a year, 1 to 12: this mount is moved")
    return {
        **unshaded(study, lambda bare: bare.own_plans.simplest.energy),
        "moves": [],
        "tilt": held.tilt,
        "irradiation": own.irradiation,
        "energy": held.energy,
        "goal_value": own.goal_value,
        "best_fixed": {"tilt": held.best_tilt, "energy": held.best_energy},
        "difference": held.difference,
        "would_gain": {
            "settings": held.settings,
            "energy": held.would_gain,
            "low": held.would_range[0],
            "high": held.would_range[1],
        },
    }


def _fixed_tilt(plan: TiltPlan) -> float | None:
    return plan.stretches[0].tilt if plan.moves == 0 else None


def _arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument(
        "--moves", type=int, metavar="K", help="settings a year, 1 to 12; 1 is fixed; left out for what stays put"
    )
    parser.add_argument("--goal", choices=("year", "winter", "worst-month", "months", "demand", "empty-days"))
    parser.add_argument("--tilts", choices=("all",), help="any whole degree 0 to 90, not the frame's own")
    parser.add_argument("--by", choices=("energy", "irradiation"), default="energy")


def _answer(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    if options.moves is None:
        if options.tilts or options.goal or options.by != "energy":
            raise BriefError("--moves", "say how many settings a year, 1 to 12, with --goal, --by or --tilts")
        return held_answer(study())
    return schedule_answer(study(), options.moves, options.goal, options.tilts == "all", options.by)


def _stay_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--from", dest="first", required=True, metavar="DATE", help="first day, such as 2026-07-01")
    parser.add_argument("--days", type=int, required=True, metavar="N")
    parser.add_argument("--minutes", type=number(-1e9, 1e9), required=True, metavar="M", help="to raise and to lower, together")
    parser.add_argument("--worth", type=number(-1e9, 1e9), metavar="KWH", help="gain for which a visit is worth the work")
    parser.add_argument("--azimuth", type=number(-1e9, 1e9), metavar="A", help="the way it faces there, degrees from north")


def _stay_answer(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    from sundial.days import day_of_date
    from sundial.plan.stay import stay

    first = day_of_date(day_of(options.first, "--from"))
    if options.worth is not None and not 0 <= options.worth <= 1e6:
        raise BriefError("--worth", "must be from 0 to 1000000")
    if options.azimuth is not None and not 0 <= options.azimuth <= 360:
        raise BriefError("--azimuth", "must be from 0 to 360")
    about = study()
    found = stay(about.surface(options.azimuth), about.scene.reachable, first, options.days, options.minutes, options.worth)
    return {
        "flat": found.flat,
        "tilted": found.tilted,
        "best_tilt": found.best_tilt,
        "gain": found.gain,
        "gain_per_minute": found.gain_per_minute,
        "own_shadow": found.own_shadow,
        "gain_with_shadow": found.gain_with_shadow,
        "break_even_days": found.break_even_days,
    }


COMMANDS = (
    Command("schedule", "the exact tilt plan", _answer, _arguments),
    Command("stay", "a short stay: flat against tilted", _stay_answer, _stay_arguments),
)
