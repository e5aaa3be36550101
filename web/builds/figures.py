"""The year ribbon and the rail: the frame of every station."""

from __future__ import annotations

from dataclasses import dataclass

from sundial.days import date_of_day, spoken_day
from sundial.report import PlanReport
from web.builds.drawing import Scale, Tick, bars, month_ticks
from web.builds.models import Build

DAY_X = Scale(0, 364, 26, 1254)


@dataclass(frozen=True)
class Notch:
    """One planned move on the ribbon."""

    x: float
    text: str
    upward: bool
    side: str
    label_x: float


@dataclass(frozen=True)
class Ribbon:
    """The 365 days of a build: strokes, notches of the moves, the chosen day."""

    strokes: str
    months: list[Tick]
    notches: list[Notch]
    day: int
    x: float
    spoken: str
    iso: str
    energy: float
    left: float
    right: float
    daily: list[float]


def ribbon(build: Build, plan: PlanReport) -> Ribbon:
    """Strokes are as high as that day's energy under the chosen plan."""
    height = Scale(0, max(plan.daily) or 1.0, 46, 12)
    strokes = bars([DAY_X(day) for day in range(365)], 46, [height(max(value, 0)) for value in plan.daily])
    notches = []
    stretches = plan.chosen.stretches if plan.chosen.moves else ()
    for index, stretch in enumerate(stretches):
        before = stretches[index - 1].tilt
        x = DAY_X(stretch.start)
        late = x > 1180
        notches.append(
            Notch(x, f"{stretch.tilt:.0f}°", stretch.tilt > before, "end" if late else "start", x - 6 if late else x + 6)
        )
    if len(notches) > 8:  # a dozen labels would collide: the notches alone say where
        notches = [Notch(n.x, "", n.upward, n.side, n.label_x) for n in notches]
    day = build.chosen_day
    return Ribbon(
        strokes, month_ticks(DAY_X, 3), notches, day, DAY_X(day), spoken_day(day), date_of_day(day).strftime("%m-%d"),
        plan.daily[day], DAY_X.start, DAY_X.end, [round(value, 2) for value in plan.daily],
    )  # fmt: skip


@dataclass(frozen=True)
class Station:
    """One stop of the rail: a gnomon whose shadow is as long as the station is complete."""

    key: str
    title: str
    progress: str
    shadow: float
    current: bool


TITLES = {"place": "The place", "frame": "The frame", "tilt": "The tilt plan", "worth": "Worth it?"}


def rail(build: Build, current: str) -> list[Station]:
    """The stations that exist, each with how far it is."""
    place, purse = build.place, build.purse
    complete = {
        "place": place.sky_kind != "made-up",
        "frame": True,
        "tilt": bool(build.plan.tilt_now is not None or build.plan.value_of_hour),
        "worth": purse.panel_cost is not None,
    }
    return [
        Station(key, title, "complete" if complete[key] else "enough to go on", 22.0 if complete[key] else 12.0, key == current)
        for key, title in TITLES.items()
    ]
