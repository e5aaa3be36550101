"""The sky as the array itself has seen it: clearness by month, and the light on the flat under which the plan would make what was made."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import UTC, datetime

import numpy as np
from numpy.typing import NDArray

from sundial.brief.model import MonthlySky
from sundial.days import MONTH_LENGTHS, sum_by_month
from sundial.errors import BriefError
from sundial.expected.moment import expected_series
from sundial.scene import Scene
from sundial.sky.synthetic import clear_by_month
from sundial.study import Study, studied

Floats = NDArray[np.float64]
ROUNDS = 4
FEWEST = 20  # days of a month, of any year, before it is believed


@dataclass(frozen=True)
class LearnedSky:
    """Mean daily light on the flat by month (12), kWh/m2; whether each was learned or is that of before; the days that each rests on; and how
    far the plan's months lie from what was measured under it, as a share (the worst)."""

    ghi: tuple[float, ...]
    learned: tuple[bool, ...]
    days: tuple[int, ...]
    off: float

    @property
    def words(self) -> str:
        """What it rests on."""
        return f"learned here, from {sum(self.days)} days"


def learned_sky(study: Study, clearness: Sequence[float | None], days: Sequence[int]) -> LearnedSky:
    """Light by month under which the build's own year would have the ``clearness`` (12) that was measured, found by rounds of model and
    correction, never over a cloudless month; months that rest on fewer than twenty ``days`` keep their light. BriefError where no month does."""
    good = np.array([share is not None and count >= FEWEST for share, count in zip(clearness, days, strict=True)])
    if not good.any():
        raise BriefError("series", f"no month has {FEWEST} days with a known level yet: the sky cannot be learned")
    share = np.array([0.0 if value is None else value for value in clearness])
    target = share * _cloudless(study)
    before = sum_by_month(study.scene.weather.ghi.reshape(365, 24).sum(axis=1)) / 1000 / np.array(MONTH_LENGTHS)
    ghi, off, model, most = np.maximum(before, 0.05), np.inf, study, clear_by_month(study.scene.site)
    for _ in range(ROUNDS):
        made = sum_by_month(np.asarray(model.production().hourly).reshape(365, 24).sum(axis=1)) / 1000
        ratio = np.where(good & (made > 0), target / np.maximum(made, 1e-9), 1.0)
        off = float(np.abs(ratio[good] - 1).max())
        if off < 0.01:
            break
        ghi = np.clip(ghi * np.clip(ratio, 0.5, 2.0), 0.05, most)
        model = _under(study.scene, ghi)
    return LearnedSky(tuple(round(float(value), 3) for value in ghi), tuple(bool(one) for one in good), tuple(days), off)


def monthly_sky(scene: Scene, ghi: Sequence[float], days: int | None = None) -> MonthlySky:
    """The brief's sky for a light by month that rests on so many ``days``, with the air and wind of the sky that the study has."""
    weather = scene.weather
    mean = sum_by_month(weather.temp_air.reshape(365, 24).mean(axis=1)) / np.array(MONTH_LENGTHS)
    wind = float(weather.wind_speed.mean())
    seed = getattr(scene.brief.sky, "seed", 1)
    return MonthlySky(
        kind="monthly", ghi=[round(float(value), 3) for value in ghi], temp_air=[round(float(t), 1) for t in mean],
        wind_speed=round(wind, 1), seed=seed, learned_days=days,
    )  # fmt: skip


def _under(scene: Scene, ghi: Floats) -> Study:
    brief = scene.brief.model_copy(update={"sky": monthly_sky(scene, ghi.tolist())})
    return studied(brief, scene.load)


def _cloudless(study: Study) -> Floats:
    """kWh by month (12) that the build's own mount would make without a cloud."""
    start = datetime(2026, 1, 1, tzinfo=UTC).timestamp() - study.scene.weather.utc_offset * 3600
    power = expected_series(study, np.asarray(start + 3600.0 * np.arange(8760) + 1800, dtype=np.float64))
    return sum_by_month(power.reshape(365, 24).sum(axis=1)) / 1000
