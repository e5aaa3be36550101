"""What the frame's screen shows of the year's production."""

from __future__ import annotations

from dataclasses import dataclass

from sundial.study import Study


@dataclass(frozen=True)
class Made:
    """The year of a build's own mount: kWh, kWh by month (12), and each line between label and meter."""

    year: float
    by_month: tuple[float, ...]
    label_energy: float
    ledger: dict[str, float]


def made_report(study: Study) -> Made:
    """What the mount makes as it will be used, and where the rest goes."""
    made = study.production()
    return Made(made.year, tuple(made.by_month.tolist()), made.label_energy, made.ledger)
