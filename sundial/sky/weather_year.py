"""One year of weather at one place, hour by hour."""

from __future__ import annotations

from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAYS, HOURS, MONTH_LENGTHS, sum_by_month
from sundial.errors import BriefError

Hours = NDArray[np.float64]


@dataclass(frozen=True, eq=False)
class WeatherYear:
    """8760 hourly means, each stamped with the start of its hour in local standard time.

    ``ghi``, ``dni``, ``dhi`` in W/m2, ``temp_air`` in degC, ``wind_speed`` in m/s at 10 m; all of
    shape (8760,). ``utc_offset`` is that standard time's offset in hours, east positive. ``source``
    says where the year is from, ``notes`` what was filled in or mended, ``trust`` how far to trust it.
    ``synthetic`` is True when the hours were grown from monthly means, ``made_up`` when even those are invented,
    ``reanalysis`` when they are a weather model's of the whole world.
    """

    ghi: Hours
    dni: Hours
    dhi: Hours
    temp_air: Hours
    wind_speed: Hours
    utc_offset: float
    source: str
    trust: str
    notes: tuple[str, ...] = field(default=())
    synthetic: bool = False
    made_up: bool = False
    reanalysis: bool = False

    def __post_init__(self) -> None:
        for name in ("ghi", "dni", "dhi", "temp_air", "wind_speed"):
            values = getattr(self, name)
            if values.shape != (HOURS,):
                raise BriefError("sky", f"{name} must hold {HOURS} hours, not {values.shape}")
            if not np.isfinite(values).all():
                raise BriefError("sky", f"{name} holds hours without a number")
            if name not in ("temp_air",) and (values < 0).any():
                raise BriefError("sky", f"{name} holds negative values")
            values.setflags(write=False)

    @property
    def ghi_by_month(self) -> NDArray[np.float64]:
        """kWh/m2 of each month on the flat, (12,)."""
        return sum_by_month(self.ghi.reshape(DAYS, 24).sum(axis=1)) / 1000

    @property
    def ghi_per_day(self) -> NDArray[np.float64]:
        """Mean daily irradiation on the flat of each month, kWh/m2 a day (12,)."""
        monthly: NDArray[np.float64] = self.ghi_by_month / np.array(MONTH_LENGTHS)
        return monthly

    @property
    def temp_air_by_month(self) -> NDArray[np.float64]:
        """Mean air temperature of each month, degC (12,)."""
        monthly: NDArray[np.float64] = sum_by_month(self.temp_air.reshape(DAYS, 24).mean(axis=1)) / np.array(MONTH_LENGTHS)
        return monthly


def flipped(year: WeatherYear) -> WeatherYear:
    """The same sky half a year later: what the mirrored place in the other hemisphere would have."""

    def shift(values: Hours) -> Hours:
        return np.roll(values.reshape(DAYS, 24), 182, axis=0).reshape(HOURS)

    return replace(
        year,
        ghi=shift(year.ghi),
        dni=shift(year.dni),
        dhi=shift(year.dhi),
        temp_air=shift(year.temp_air),
        wind_speed=shift(year.wind_speed),
    )
