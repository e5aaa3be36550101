"""Which way to face: the year's energy over facing and tilt, past everything that stands there."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from sundial.energy.production import tilt_surface
from sundial.errors import BriefError
from sundial.scene import Scene

AZIMUTHS = tuple(float(azimuth) for azimuth in range(0, 360, 15))
TILTS = tuple(float(tilt) for tilt in range(0, 91, 5))
MOST = 72 * 91  # points that one question may ask for


@dataclass(frozen=True)
class Facings:
    """kWh a year of the array held still at every facing: ``azimuths`` (A,) degrees from true north, ``tilts`` (T,) degrees, ``energy`` a row
    an azimuth (None in a row: turned so the array would stand in something)."""

    azimuths: tuple[float, ...]
    tilts: tuple[float, ...]
    energy: tuple[tuple[float | None, ...], ...]

    @property
    def known(self) -> bool:
        """Whether it can stand at any of them."""
        return any(made is not None for row in self.energy for made in row)

    @property
    def best(self) -> tuple[float, float, float]:
        """Azimuth, tilt and kWh of the most."""
        known = [
            (made, azimuth, tilt)
            for azimuth, row in zip(self.azimuths, self.energy, strict=True)
            for tilt, made in zip(self.tilts, row, strict=True)
            if made is not None
        ]
        made, azimuth, tilt = max(known)
        return azimuth, tilt, made


def facings(scene: Scene, azimuths: Sequence[float] = AZIMUTHS, tilts: Sequence[float] = TILTS) -> Facings:
    """The array of a scene held at each of ``tilts`` (T,) rising, at each of ``azimuths`` (A,), with its shade and its limits: each point is
    what :func:`sundial.study.Study.held_year` gives for the same brief turned so. BriefError for a list that cannot be."""
    _refuse(azimuths, tilts)
    return Facings(tuple(azimuths), tuple(tilts), tuple(_at(scene, azimuth, np.array(tilts)) for azimuth in azimuths))


def of_sides(scene: Scene, azimuths: Sequence[float], tilt: float) -> float:
    """kWh a year of the array's panels shared evenly by sides that face ``azimuths`` (one or more, named twice where it takes two shares), all at
    ``tilt``. BriefError where one of them would stand in something."""
    once = tuple(dict.fromkeys(azimuths))
    made = dict(zip(once, (row[0] for row in facings(scene, once, (tilt,)).energy), strict=True))
    known = [one for one in (made[azimuth] for azimuth in azimuths) if one is not None]
    if len(known) < len(azimuths):
        raise BriefError("--azimuths", "turned so the array would stand in something: see The shade")
    return sum(known) / len(known)


def _at(scene: Scene, azimuth: float, tilts: np.ndarray) -> tuple[float | None, ...]:
    array = scene.brief.array.model_copy(update={"azimuth": azimuth % 360})
    turned = scene.beside(scene.brief.model_copy(update={"array": array}))
    try:
        made = tilt_surface(turned.light, turned.system, turned.azimuth, tilts, turned.shade)
    except BriefError:
        return (None,) * len(tilts)
    return tuple(made.energy.sum(axis=0).tolist())


def _refuse(azimuths: Sequence[float], tilts: Sequence[float]) -> None:
    for option, values, most in (("--azimuths", azimuths, 360.0), ("--tilts", tilts, 90.0)):
        if not values:
            raise BriefError(option, "give at least one angle")
        for value in values:
            if not 0 <= value <= most:
                raise BriefError(option, f"must be from 0 to {most:g} degrees, and {value:g} is not")
    if list(tilts) != sorted(set(tilts)):
        raise BriefError("--tilts", "must rise, each named once")
    if len(set(azimuths)) < len(azimuths):
        raise BriefError("--azimuths", "name each once")
    if len(azimuths) * len(tilts) > MOST:
        raise BriefError("--azimuths", f"{len(azimuths)} by {len(tilts)} are more than {MOST} points: ask for fewer")
