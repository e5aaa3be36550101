"""Drawings of the place: the sun's year, and the sky's months."""

from __future__ import annotations

from dataclasses import dataclass

from sundial.report import PlanReport
from sundial.sky.weather_year import WeatherYear
from web.builds.drawing import Scale, Tick, month_ticks, path, ticks


@dataclass(frozen=True)
class SunPicture:
    """Noon elevation and day length over the year, with the chosen day."""

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


def sun_picture(plan: PlanReport, day: int) -> SunPicture:
    x = Scale(0, 364, 40, 560)
    y, hours = Scale(0, 90, 200, 20), Scale(0, 24, 200, 20)
    days = range(0, 365, 2)
    return SunPicture(
        path((x(d), y(max(plan.noon[d], 0))) for d in days),
        path((x(d), hours(plan.day_length[d])) for d in days),
        ticks(y, 30, "{:g}°"),
        ticks(hours, 8, "{:g} h"),
        month_ticks(x),
        x(day),
        y(max(plan.noon[day], 0)),
        hours(plan.day_length[day]),
        x.start,
        x.end,
    )


def month_bars(weather: WeatherYear) -> dict[str, list[float]]:
    """Monthly irradiation on the flat, for the chart: kWh/m2 a month."""
    return {"values": [round(float(value), 1) for value in weather.ghi_by_month]}
