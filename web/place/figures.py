"""Drawings of the place: the sun's year, and the sky's months."""

from __future__ import annotations

from dataclasses import dataclass

from sundial.answers.plan.report import PlanReport
from sundial.days import MONTH_NAMES, MONTH_STARTS
from sundial.sky.weather_year import WeatherYear
from web.builds.drawing import Scale, Tick, month_ticks, nice_step, path, ticks


@dataclass(frozen=True)
class Words:
    """A label, px."""

    x: float
    y: float
    text: str


@dataclass(frozen=True)
class SunPicture:
    """Noon elevation and day length over the year, with the chosen day; ``lowest`` and ``highest`` noon, degrees."""

    noon: str
    length: str
    heights: list[Tick]
    hours: list[Tick]
    months: list[Tick]
    x: float
    noon_y: float
    length_y: float
    left: float
    right: float
    noon_label: Words
    length_label: Words
    lowest: float
    highest: float


def sun_picture(plan: PlanReport, day: int) -> SunPicture:
    x = Scale(0, 364, 36, 404)
    y, hours = Scale(0, 90, 200, 20), Scale(0, 24, 200, 20)
    days = range(0, 365, 2)
    noon, length = plan.noon, plan.day_length
    peak = max(days, key=lambda d: noon[d])
    label_x = min(max(x(peak), 80), 360)
    near = round((label_x - x.start) / (x.end - x.start) * 364)
    return SunPicture(
        noon=path((x(d), y(max(noon[d], 0))) for d in days),
        length=path((x(d), hours(length[d])) for d in days),
        heights=ticks(y, 30, "{:g}°"),
        hours=ticks(hours, 8, "{:g} h"),
        months=month_ticks(x),
        x=x(day),
        noon_y=y(max(noon[day], 0)),
        length_y=hours(length[day]),
        left=x.start,
        right=x.end,
        noon_label=Words(label_x, y(max(noon[peak], 0)) - 9, "noon height"),
        length_label=Words(label_x, hours(length[near]) + 18, "day length"),
        lowest=min(noon),
        highest=max(noon),
    )


@dataclass(frozen=True)
class SunRow:
    """The sun of one month's 21st, and that month's kWh/m2 on the flat."""

    month: str
    noon: float
    length: float
    ghi: float


def sun_rows(plan: PlanReport, weather: WeatherYear) -> list[SunRow]:
    """The table behind the drawing."""
    rows = []
    for month, ghi in enumerate(weather.ghi_by_month):
        day = int(MONTH_STARTS[month]) + 20
        rows.append(SunRow(MONTH_NAMES[month], plan.noon[day], plan.day_length[day], float(ghi)))
    return rows


@dataclass(frozen=True)
class Bar:
    """One month's bar: its box, and what it says."""

    x: float
    y: float
    width: float
    height: float
    said: str


@dataclass(frozen=True)
class MonthBars:
    """Irradiation on level ground by month, drawn."""

    bars: list[Bar]
    marks: list[Tick]
    months: list[Tick]
    left: float
    right: float


def month_bars(weather: WeatherYear) -> MonthBars:
    """Monthly irradiation on the flat, kWh/m2 a month."""
    values = weather.ghi_by_month.tolist()
    step = nice_step(max(values), 4)
    top = step * max(1, -(-max(values) // step))
    x, y = Scale(0, 12, 34, 434), Scale(0, top, 150, 10)
    drawn = [
        Bar(
            x(month + 0.17),
            y(value),
            round(x(0.66) - x(0), 2),
            round(y(0) - y(value), 2),
            f"{MONTH_NAMES[month]}: {value:.0f} kWh/m²",
        )
        for month, value in enumerate(values)
    ]
    letters = [Tick(x(month + 0.5), MONTH_NAMES[month][0]) for month in range(12)]
    return MonthBars(drawn, ticks(y, step), letters, x.start, x.end)
