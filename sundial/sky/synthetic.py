"""A whole year of hours grown from twelve monthly means of horizontal irradiation.

Days: within each month the daily clearness indices are the quantiles of Bendt's distribution (so the month keeps a full
spread of clear and dull days around its mean), put in an order that remembers yesterday. Hours: the autoregressive model
of Aguiar and Collares-Pereira around each day's own mean profile, kept under a clear sky with some cloud enhancement.
Beam and diffuse: DIRINT, which knows that clear air at a low sun is still clear and that broken hours are not. Each
month is then scaled until it sums to what was asked for.

Sources: Liu and Jordan 1960, doi 10.1016/0038-092X(60)90062-1; Bendt, Collares-Pereira and Rabl 1981,
doi 10.1016/0038-092X(81)90013-X; Graham and Hollands 1990, doi 10.1016/0038-092X(90)90001-J; Aguiar and
Collares-Pereira 1992, doi 10.1016/0038-092X(92)90114-J; Perez et al. 1992, ASHRAE Transactions 98 (DIRINT); clear sky: Ineichen and
Perez 2002, doi 10.1016/S0038-092X(02)00045-2 with the turbidity maps that ship with pvlib.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.days import DAY_OF_HOUR, DAYS, HOURS, MONTH_LENGTHS, MONTH_NAMES, MONTH_OF_DAY, MONTH_STARTS, NOMINAL_YEAR
from sundial.errors import BriefError
from sundial.sky.weather_year import WeatherYear
from sundial.sun import Site, SunYear, sun_year

Floats = NDArray[np.float64]
LOWEST_CLEARNESS = 0.05  # Bendt et al. 1981
DAY_MEMORY = 0.3  # correlation of one day's clearness with the next: Graham and Hollands 1990 give 0.29
GROWN = "Hours grown from monthly means; beam and diffuse split by a model."
GROWN_WITH_DIFFUSE = "Hours grown from monthly means of all light and of its diffuse part."
MOST_BENT = 6.0  # logarithm of the highest power that an hour's diffuse share is raised to
LEAST_DIFFUSE = 0.04  # of GHI: even the clearest sky scatters
MOST_BEAM = 0.85  # of the sun outside the air
# Ours, fitted on the two TMY3 files that ship with pvlib: the model's hours at a low sun are too bright and too restless.
LOW_SUN, LESS_AT_LOW_SUN, CALMER_AT_LOW_SUN = 0.2, 0.2, 0.8  # sine of the sun's height at which they fade; shares at the horizon
ENHANCEMENT = 1.15  # an hour's mean above the clear sky, at most


@dataclass(frozen=True, eq=False)
class DaySpread:
    """How a month's days differ: quantiles of their clearness index (12, n) at ``levels`` (n,), rising from 0 to 1."""

    levels: Floats
    clearness: Floats


def synthesise_year(
    site: Site,
    ghi: Floats,
    temp_air: Floats,
    wind_speed: Floats,
    seed: int,
    source: str,
    trust: str,
    made_up: bool = False,
    dhi: Floats | None = None,
    spread: DaySpread | None = None,
    notes: tuple[str, ...] = (),
) -> WeatherYear:
    """Grow 8760 hours whose months have the mean daily irradiation ``ghi`` (12,), kWh/m2 a day.

    ``temp_air`` (12,) degC and ``wind_speed`` (12,) m/s are monthly means. ``dhi`` (12,), kWh/m2 a day, is the diffuse part of
    ``ghi`` where it is known; ``spread`` how the days differ, where that is known. The same seed gives the same year.
    BriefError where a month asks for more than a clear sky gives there, or for a diffuse part that no sky has.
    """
    offset = site.standard_offset
    sun = sun_year(site, offset)
    extra = sun.dni_extra * np.maximum(sun.cos_zenith, 0)
    clear = np.minimum(clear_sky(site, sun, offset), extra)
    wanted = ghi * 1000 * np.array(MONTH_LENGTHS)
    _refuse_impossible(ghi, clear)
    random = np.random.default_rng(seed)
    daily = _daily_clearness(wanted, extra, clear, random, spread)
    hourly = _hours(daily, extra, clear, sun, random)
    hourly = _to_monthly_sums(hourly, wanted, clear)
    dni, diffuse = _split(hourly, sun)
    if dhi is not None:
        dni, diffuse = _to_monthly_diffuse(hourly, diffuse, sun, dhi)
    temperature = _temperature(temp_air, daily, random)
    return WeatherYear(
        ghi=hourly,
        dni=dni,
        dhi=diffuse,
        temp_air=temperature,
        wind_speed=_wind(wind_speed, random),
        utc_offset=offset,
        source=source,
        trust=trust,
        notes=(*notes, GROWN if dhi is None else GROWN_WITH_DIFFUSE),
        synthetic=True,
        made_up=made_up,
    )


def clear_sky(site: Site, sun: SunYear, offset: float) -> Floats:
    """Clear-sky GHI at mid-hour (8760,), W/m2."""
    import pandas as pd
    from pvlib.atmosphere import alt2pres, get_absolute_airmass, get_relative_airmass
    from pvlib.clearsky import ineichen, lookup_linke_turbidity

    start = pd.Timestamp(NOMINAL_YEAR, 1, 1, tz="UTC") - pd.Timedelta(hours=offset) + pd.Timedelta(minutes=30)
    turbidity = lookup_linke_turbidity(pd.date_range(start, periods=HOURS, freq="h"), site.latitude, site.longitude)
    zenith = 90 - sun.elevation
    airmass = get_absolute_airmass(get_relative_airmass(np.minimum(zenith, 89.5)), alt2pres(site.elevation))
    with np.errstate(divide="ignore", invalid="ignore"):
        found = ineichen(zenith, airmass, turbidity.to_numpy(), site.elevation, sun.dni_extra)
    clear: Floats = np.where(sun.up, np.nan_to_num(np.asarray(found["ghi"], dtype=float)), 0.0)
    return clear


def clear_by_month(site: Site) -> Floats:
    """Mean daily irradiation of cloudless months, kWh/m2 a day (12,)."""
    sun = sun_year(site, site.standard_offset)
    clear = clear_sky(site, sun, site.standard_offset)
    monthly: Floats = np.add.reduceat(clear, MONTH_STARTS[:-1] * 24) / np.array(MONTH_LENGTHS) / 1000
    return monthly


def _refuse_impossible(ghi: Floats, clear: Floats) -> None:
    most = np.add.reduceat(clear, MONTH_STARTS[:-1] * 24) / np.array(MONTH_LENGTHS) / 1000
    for month in range(12):
        if not ghi[month] >= 0:
            raise BriefError(f"sky.ghi[{month}]", f"{MONTH_NAMES[month]} cannot be negative")
        if ghi[month] > most[month] * 1.05 + 0.02:
            raise BriefError(
                f"sky.ghi[{month}]",
                f"{MONTH_NAMES[month]} has {ghi[month]:g} kWh/m2 a day, but even a cloudless sky there gives only "
                f"{most[month]:.1f}; is it a monthly total, or from the other hemisphere?",
            )


def _daily_clearness(
    wanted: Floats, extra: Floats, clear: Floats, random: np.random.Generator, known: DaySpread | None
) -> Floats:
    """Clearness index of each day (365,)."""
    above = extra.reshape(DAYS, 24).sum(axis=1)
    best = np.divide(clear.reshape(DAYS, 24).sum(axis=1), above, out=np.zeros(DAYS), where=above > 1)
    result = np.zeros(DAYS)
    memory = 0.0
    for month in range(12):
        days = np.flatnonzero(month == MONTH_OF_DAY)
        if above[days].sum() < 10:
            continue
        noise = np.empty(len(days))
        for place in range(len(days)):
            memory = DAY_MEMORY * memory + np.sqrt(1 - DAY_MEMORY**2) * random.standard_normal()
            noise[place] = memory
        ranks = noise.argsort().argsort()
        top = float(best[days].mean()) * 1.03
        mean = min(float(wanted[month] / above[days].sum()), top * 0.995)
        shares = (np.arange(len(days)) + 0.5) / len(days)
        low = min(LOWEST_CLEARNESS, mean / 2)
        if known is None:
            spread = _bendt_quantiles(shares, mean, low, top)
        else:
            spread = _bent_to_mean(np.interp(shares, known.levels, known.clearness[month]), mean, low, top)
        result[days] = spread[ranks]
    return result


def _bendt_quantiles(shares: Floats, mean: float, low: float, high: float) -> Floats:
    """Quantiles of Bendt's distribution of daily clearness between ``low`` and ``high`` with the given mean."""

    def quantiles(gamma: float) -> Floats:
        if abs(gamma) < 1e-6:
            return low + shares * (high - low)
        width = gamma * (high - low)
        if width > 0:
            upper: Floats = high + np.log(shares + (1 - shares) * np.exp(-width)) / gamma
            return upper
        lower: Floats = low + np.log1p(shares * np.expm1(width)) / gamma
        return lower

    from scipy.optimize import brentq

    def miss(gamma: float) -> float:
        return float(quantiles(gamma).mean()) - mean

    if miss(-300.0) > 0 or miss(300.0) < 0:
        return np.full(len(shares), mean)
    return quantiles(brentq(miss, -300.0, 300.0))


def _bent_to_mean(quantiles: Floats, mean: float, low: float, high: float) -> Floats:
    """Known quantiles of daily clearness bent until they have the given mean: clear days stay clear, the dull ones give way.

    Each is taken between ``low`` and ``high`` and raised to one power: 0 and 1 stay where they are.
    """
    from scipy.optimize import brentq

    height = np.clip((quantiles - low) / (high - low), 1e-3, 1 - 1e-3)

    def bent(power: float) -> Floats:
        values: Floats = low + (high - low) * height ** np.exp(power)
        return values

    def miss(power: float) -> float:
        return float(bent(power).mean()) - mean

    if miss(-6.0) < 0 or miss(6.0) > 0:
        return np.full(len(quantiles), mean)
    return bent(brentq(miss, -6.0, 6.0))


def _hours(daily: Floats, extra: Floats, clear: Floats, sun: SunYear, random: np.random.Generator) -> Floats:
    """Hourly GHI (8760,) around each day's mean: Aguiar and Collares-Pereira 1992, equations 5 to 9."""
    index = daily[DAY_OF_HOUR]
    height = np.maximum(sun.cos_zenith, 0.02)
    level = -0.19 + 1.12 * index + 0.24 * np.exp(-8 * index)
    bow = 0.32 - 1.6 * (index - 0.5) ** 2
    mean = level + bow * np.exp(-1.06 / height)
    spread = 0.14 * np.exp(-20 * (index - 0.35) ** 2) * np.exp((3 * (index - 0.45) ** 2 + 16 * index**5) * (1 - height))
    memory = 0.38 + 0.06 * np.cos(7.4 * index - 2.5)
    fresh = np.sqrt(1 - memory**2) * random.standard_normal(HOURS)
    state, last = [], 0.0
    for leaning, new in zip(memory.tolist(), fresh.tolist(), strict=True):  # each hour leans on the one before
        last = leaning * last + new
        state.append(last)
    low = np.exp(-height / LOW_SUN)
    mean, spread = mean * (1 - LESS_AT_LOW_SUN * low), np.minimum(spread, 0.2) * (1 - CALMER_AT_LOW_SUN * low)
    clearness = np.clip(mean + spread * np.array(state), 0.02 * mean, None)
    ghi = np.where(sun.up, clearness * extra, 0)
    asked = (daily * extra.reshape(DAYS, 24).sum(axis=1))[:, None]
    by_day, roof = ghi.reshape(DAYS, 24), ENHANCEMENT * clear.reshape(DAYS, 24)
    for _ in range(4):
        total = by_day.sum(axis=1, keepdims=True)
        by_day = np.minimum(by_day * np.divide(asked, total, out=np.zeros_like(total), where=total > 0), roof)
    return by_day.reshape(HOURS)


def _to_monthly_sums(ghi: Floats, wanted: Floats, clear: Floats) -> Floats:
    """Scale each month to its sum without lifting an hour above the enhanced clear sky."""
    roof = ENHANCEMENT * clear
    for _ in range(400):  # near the clear sky most hours stand at the roof, and the rest take many rounds
        sums = np.add.reduceat(ghi, MONTH_STARTS[:-1] * 24)
        factor = np.divide(wanted, sums, out=np.ones(12), where=sums > 0)
        if np.abs(factor - 1).max() < 1e-6:
            break
        ghi = np.minimum(ghi * np.repeat(factor, np.array(MONTH_LENGTHS) * 24), roof)
    return ghi


def _split(ghi: Floats, sun: SunYear) -> tuple[Floats, Floats]:
    """DNI and DHI (8760,) that close to GHI in every hour."""
    dni = dirint_dni(ghi, np.minimum(90 - sun.elevation, 89.9))
    dni = np.where(sun.cos_zenith > 0.03, np.maximum(dni, 0), 0)
    most = np.minimum(MOST_BEAM * sun.dni_extra, (1 - LEAST_DIFFUSE) * ghi / np.maximum(sun.cos_zenith, 0.03))
    dni = np.minimum(dni, most)
    return dni, ghi - dni * np.maximum(sun.cos_zenith, 0)


def _to_monthly_diffuse(ghi: Floats, dhi: Floats, sun: SunYear, wanted: Floats) -> tuple[Floats, Floats]:
    """DNI and DHI (8760,) whose monthly means of DHI are ``wanted`` (12,), kWh/m2 a day: each hour's diffuse share is raised
    to one power a month, so that clear hours stay the clearest. BriefError names a month that no power brings there."""
    from scipy.optimize import brentq

    share = np.divide(dhi, ghi, out=np.ones(HOURS), where=ghi > 0)
    height = np.maximum(sun.cos_zenith, 0.03)
    least = np.maximum(LEAST_DIFFUSE * ghi, ghi - MOST_BEAM * sun.dni_extra * height)
    diffuse = dhi.copy()
    for month in range(12):
        hours = slice(MONTH_STARTS[month] * 24, MONTH_STARTS[month + 1] * 24)
        asked, total = wanted[month] * 1000 * MONTH_LENGTHS[month], float(ghi[hours].sum())
        if total <= 0:
            continue

        def bent(power: float, hours: slice = hours) -> Floats:
            values: Floats = np.maximum(ghi[hours] * share[hours] ** np.exp(power), least[hours])
            return values

        few, many = (float(bent(power).sum()) for power in (MOST_BENT, -MOST_BENT))
        if not few * 0.99 <= asked <= min(many * 1.01, total * 1.001):
            per_day = 1000 * MONTH_LENGTHS[month]
            raise BriefError(
                f"sky.dhi[{month}]",
                f"{MONTH_NAMES[month]} has {wanted[month]:g} of diffuse in {total / per_day:.2f} kWh/m2 a day: "
                f"a sky can have from {few / per_day:.2f} to {total / per_day:.2f}",
            )

        def miss(power: float, asked: float = asked) -> float:
            return float(bent(power).sum()) - asked

        if asked <= few or asked >= many:
            diffuse[hours] = bent(MOST_BENT if asked <= few else -MOST_BENT)
        else:
            diffuse[hours] = bent(brentq(miss, -MOST_BENT, MOST_BENT))
    beam = np.where(sun.cos_zenith > 0.03, np.maximum(ghi - diffuse, 0) / height, 0)
    return beam, ghi - beam * np.maximum(sun.cos_zenith, 0)


def dirint_dni(ghi: Floats, zenith: Floats) -> Floats:
    """DNI (8760,) by DIRINT without dew point: pvlib's function on plain arrays, which is several times faster.

    Perez et al. 1992, ASHRAE Transactions 98, 354-369, with pvlib's DISC and its table of coefficients.
    """
    from pvlib.irradiance import _get_dirint_coeffs, clearness_index_zenith_independent, disc

    parts = disc(ghi, zenith, DAY_OF_HOUR + 1)
    clearness = np.asarray(clearness_index_zenith_independent(parts["kt"], parts["airmass"], max_clearness_index=1))
    step = np.abs(np.diff(clearness))
    unsteady = np.concatenate([step[:1], (step[1:] + step[:-1]) / 2, step[-1:]])  # mean change to both neighbours
    found = _get_dirint_coeffs()[
        np.digitize(clearness, [0.24, 0.4, 0.56, 0.7, 0.8]),
        np.digitize(zenith, [25, 40, 55, 70, 80]),
        np.digitize(unsteady, [0.015, 0.035, 0.07, 0.15, 0.3]),
        4,  # the column for an unknown dew point
    ]
    beam: Floats = np.asarray(parts["dni"], dtype=float) * found
    return beam


def _temperature(monthly: Floats, daily: Floats, random: np.random.Generator) -> Floats:
    """Hourly air temperature: a smooth year through the months, a slow drift, and a day that is wider under clear skies."""
    middle = (MONTH_STARTS[:-1] + MONTH_STARTS[1:]) / 2
    days = np.arange(DAYS) + 0.5
    season = np.interp(
        days,
        np.concatenate([[middle[-1] - DAYS], middle, [middle[0] + DAYS]]),
        np.concatenate([[monthly[-1]], monthly, [monthly[0]]]),
    )
    drift = np.empty(DAYS)
    last = 0.0
    for day in range(DAYS):
        last = 0.7 * last + np.sqrt(1 - 0.7**2) * random.standard_normal()
        drift[day] = last * 2.0
    means = season + drift
    months = np.add.reduceat(means, MONTH_STARTS[:-1]) / np.array(MONTH_LENGTHS)
    means += (monthly - months)[MONTH_OF_DAY]
    swing = 3 + 7 * daily  # half the daily range, K
    wave = np.cos(2 * np.pi * (np.arange(24) + 0.5 - 15) / 24)  # warmest at three in the afternoon
    hourly: Floats = (means[:, None] + swing[:, None] * wave[None, :]).reshape(HOURS)
    return hourly


def _wind(monthly: Floats, random: np.random.Generator) -> Floats:
    """Hourly wind: calmer nights, Weibull days of shape 2, monthly means kept."""
    daily = random.weibull(2.0, DAYS) / 0.8862
    wave = 1 + 0.3 * np.cos(2 * np.pi * (np.arange(24) + 0.5 - 15) / 24)
    hourly = (daily[:, None] * wave[None, :]).reshape(HOURS)
    month = np.repeat(MONTH_OF_DAY, 24)
    for index in range(12):
        inside = month == index
        hourly[inside] *= monthly[index] / hourly[inside].mean()
    return hourly
