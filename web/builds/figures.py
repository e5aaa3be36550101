"""The year ribbon and the rail: the frame of every station."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from sundial.answers.plan.report import PlanReport
from sundial.days import MONTH_STARTS, spoken_day
from sundial.wind.caps import FREE
from web.builds import registry
from web.builds.drawing import Scale, Tick, bars, month_ticks
from web.builds.models import Build

DAY_X = Scale(0, 364, 26, 1254)  # strokes, in a drawing stretched to the page's width
PER_CENT = Scale(0, 364, 26 / 12.8, 1254 / 12.8)  # everything that must not be stretched


@dataclass(frozen=True)
class Notch:
    """One planned move on the ribbon, in per cent of its width."""

    x: float
    text: str
    upward: bool
    side: str


@dataclass(frozen=True)
class Stretch:
    """Months in which the wind caps the tilt, in per cent of the ribbon's width."""

    x: float
    width: float
    text: str


def windy_months(plan: PlanReport) -> list[Stretch]:
    """Months whose cap the plan obeys, neighbours with the same cap as one."""
    found: list[Stretch] = []
    cap = plan.wind_cap or (FREE,) * 12
    first = 0
    for month in range(1, 13):
        if month < 12 and cap[month] == cap[first]:
            continue
        if cap[first] < FREE:
            start, past = PER_CENT(int(MONTH_STARTS[first])), PER_CENT(int(MONTH_STARTS[month]))
            found.append(Stretch(start, round(past - start, 2), f"{round(cap[first], 1):g}° at most"))
        first = month
    return found


@dataclass(frozen=True)
class Ribbon:
    """The 365 days of a build: strokes, notches of the moves, the chosen day."""

    strokes: str
    months: list[Tick]
    notches: list[Notch]
    day: int
    x: float
    spoken: str
    daily: list[float]
    windy: list[Stretch]


def day_strokes(daily: Sequence[float], x: Scale, base: float, top: float) -> str:
    """365 strokes as high as each day's energy."""
    height = Scale(0, max(daily) or 1.0, base, top)
    return bars([x(day) for day in range(365)], base, [height(max(value, 0)) for value in daily])


def ribbon(build: Build, plan: PlanReport) -> Ribbon:
    """Strokes are as high as that day's energy of the build as it is; a notch for each move that a hand makes."""
    stretches = plan.chosen.stretches if plan.chosen.moves and not plan.moved_by_motor else ()
    labelled = len(stretches) <= 6  # a dozen labels would collide: the notches alone say where
    notches = [
        Notch(
            PER_CENT(stretch.start),
            f"{round(stretch.tilt, 1):g}°" if labelled else "",
            stretch.tilt > stretches[index - 1].tilt,
            "end" if stretch.start > 340 else "start",
        )
        for index, stretch in enumerate(stretches)
    ]
    day = build.chosen_day
    daily = [round(value, 2) for value in plan.made_daily]
    return Ribbon(
        day_strokes(plan.made_daily, DAY_X, 46, 12), month_ticks(PER_CENT, 3), notches, day, PER_CENT(day), spoken_day(day), daily,
        windy_months(plan),
    )  # fmt: skip


@dataclass(frozen=True)
class Stop:
    """One stop of the rail: a gnomon whose shadow is as long as the station is complete; ``number`` opens it."""

    key: str
    title: str
    number: int
    progress: str
    shadow: float
    current: bool


@dataclass(frozen=True)
class StopGroup:
    """The stops of one group, and whether the current one is among them."""

    key: str
    stops: list[Stop]
    current: bool


SHADOWS: dict[str, tuple[str, float]] = {
    "empty": ("not begun", 4.0),
    "enough": ("enough to go on", 12.0),
    "complete": ("complete", 22.0),
}


def rail(build: Build, current: str) -> list[StopGroup]:
    """The stations in their groups, each with how far it is."""
    groups: dict[str, list[Stop]] = {}
    for number, station in enumerate(registry.stations(), 1):
        words, shadow = SHADOWS[station.progress_of(build)]
        stop = Stop(station.key, station.title_for(build), number, words, shadow, station.key == current)
        groups.setdefault(station.group, []).append(stop)
    return [StopGroup(key, stops, any(stop.current for stop in stops)) for key, stops in groups.items()]
