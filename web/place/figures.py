"""Drawings of the place: the sun's year, and the sky's months."""

from __future__ import annotations

from dataclasses import dataclass

from sundial.days import MONTH_NAMES, MONTH_STARTS
from sundial.plan.report import PlanReport
from sundial.sky.weather_year import WeatherYear
from web.builds.drawing import Scale, Tick, month_ticks, path, ticks


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


def month_bars(weather: WeatherYear) -> dict[str, list[float]]:
    """Monthly irradiation on the flat, for the chart: kWh/m2 a month."""
    return {"values": [round(float(value), 1) for value in weather.ghi_by_month]}
