"""What the shade's screen shows: energy lost by month, hours of sun left."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from sundial.energy.production import produce
from sundial.energy.shaded import Shade
from sundial.shade.strings import VOLTAGES_PART
from sundial.siting.season import season_of_need
from sundial.siting.sun_hours import sun_hours
from sundial.study import Study

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class ShadeReport:
    """The shade of a build's own mount under its plan.

    ``energy`` and ``open_energy`` kWh a year with and without what stands in the way, and by month (12); ``in_season``
    and ``open_in_season`` for the ``season`` of need; ``sun_hours`` and ``open_hours``: mean hours a day, by month (12), in
    which the sun is up and reaches the middle of the array, or would; ``electrical_mismatch`` kWh of the loss come from light that lies
    unevenly over panels wired together; ``notes`` in words.
    """

    energy: float
    open_energy: float
    by_month: tuple[float, ...]
    open_by_month: tuple[float, ...]
    in_season: float
    open_in_season: float
    season: str
    sun_hours: tuple[float, ...]
    open_hours: tuple[float, ...]
    electrical_mismatch: float
    notes: tuple[str, ...]

    @property
    def loss(self) -> float:
        """kWh a year lost to shade."""
        return self.open_energy - self.energy

    @property
    def loss_share(self) -> float:
        return self.loss / self.open_energy if self.open_energy > 0 else 0.0

    @property
    def loss_by_month(self) -> tuple[float, ...]:
        return tuple(a - b for a, b in zip(self.open_by_month, self.by_month, strict=True))


def shade_report(study: Study) -> ShadeReport:
    """What shade takes from a build, its mount moved as its plan says."""
    facing, drive = study.own_facing
    season, shade = season_of_need(study.scene), study.scene.shade
    bare = produce(study.scene.light, study.scene.system, facing, drive)
    made = bare if shade is None else produce(study.scene.light, study.scene.system, facing, drive, shade)
    hours, open_hours = sun_hours(study)
    return ShadeReport(
        energy=made.year,
        open_energy=bare.year,
        by_month=tuple(made.by_month.tolist()),
        open_by_month=tuple(bare.by_month.tolist()),
        in_season=float(made.energy[season.days].sum()),
        open_in_season=float(bare.energy[season.days].sum()),
        season=season.name,
        sun_hours=tuple(hours.tolist()),
        open_hours=tuple(open_hours.tolist()),
        electrical_mismatch=made.ledger.get("uneven_shade", 0.0),
        notes=_notes(study, shade),
    )


def _notes(study: Study, shade: Shade | None) -> tuple[str, ...]:
    if shade is None:
        return ("Nothing stands in the way here: no obstacle, no skyline.",)
    notes = []
    if shade.skyline is not None:
        from sundial.shade.skyline_file import gaps_told

        notes += gaps_told(shade.skyline.points)
        if shade.yard.things:
            notes.append("The skyline and the yard both count: what is drawn in the yard should not be in the skyline too.")
    parted = parted_hours(study, shade)
    if parted > 0:
        notes.append(
            f"In about {parted:.0f} hours a year the strings in parallel want voltages more than {100 * VOLTAGES_PART:.0f} % apart: "
            "on one input they pull each other down and make less than shown; give each its own input."
        )
    return tuple(notes)


def parted_hours(study: Study, shade: Shade) -> float:
    """Hours a year in which strings in parallel want voltages that part (0 with one string, or converters)."""
    if study.brief.wiring.kind != "parallel" or len(shade.geometry.sections.wired.strings) < 2 or not shade.things:
        return 0.0
    facing = study.own_facing[0]
    tilts = facing.surface_tilt[study.scene.light.hours]
    return float(shade.hours_parted(tilts, facing.surface_azimuth[study.scene.light.hours]))
