"""Rows of other panels: some more of another kind or facing beside the array, on its inverter; or the array's own held elsewhere, as on the
roof that is there."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from sundial.brief.model import OptionBrief, OtherPanelsBrief
from sundial.days import DAYS
from sundial.errors import BriefError
from sundial.study import Study
from sundial.worth.more_panels import unlimited_hours

Floats = NDArray[np.float64]
MORE, ELSEWHERE = "more-own", "elsewhere"  # kinds of rows


def other_panels(
    study: Study, option: OptionBrief, index: int, base_tilts: tuple[float, ...]
) -> tuple[Floats, float, float | None]:
    """Wh of every hour (8760,), kWh/m2 a year on the plane, and the tilt where it is told, of a row of other panels: in this yard's light and
    shade, at ``base_tilts`` (365,) and the array's facing unless told; of ``count`` more, what they add. BriefError where they would stand in
    something."""
    told = option.panels
    assert told is not None  # noqa: S101 - asked only where they are told
    scene, tilts = study.scene, base_tilts if told.tilt is None else (told.tilt,) * DAYS
    brief = scene.brief
    panel = brief.panel.model_copy(update=_other(told))
    array = brief.array.model_copy(update={} if told.azimuth is None else {"azimuth": told.azimuth % 360})
    turned = scene.beside(brief.model_copy(update={"panel": panel, "array": array}))
    endless = replace(turned.system, inverter=replace(turned.system.inverter, power=None))
    try:
        made = turned.held(tilts, endless)
    except BriefError as error:
        raise BriefError(f"options[{index}].panels", f"held so, they cannot stand here: {error.message}") from None
    limit, irradiation = scene.system.inverter.power, float(made.irradiation.sum())
    if told.count is None:
        return _limited(made.hourly, limit), irradiation, told.tilt
    base = unlimited_hours(study, base_tilts)
    together = _limited(base + made.hourly * told.count / scene.array.wired, limit)
    return together - _limited(base, limit), irradiation, None


def _other(told: OtherPanelsBrief) -> dict[str, float]:
    """What differs of the panel."""
    return {name: value for name in ("power", "bifaciality") if (value := getattr(told, name)) is not None}


def _limited(hourly: Floats, limit: float | None) -> Floats:
    return hourly if limit is None else np.minimum(hourly, limit)
