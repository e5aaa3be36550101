"""What a reading says: of the nameplate, of what this sun gives, whether it was a fair test, and whether the meter showed demand."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

import numpy as np

from sundial.errors import BriefError
from sundial.expected.moment import Expected, expected_at, expected_series
from sundial.record.entries import Reading
from sundial.scene import Scene
from sundial.study import Study

ROSE = 1.05  # more with a load switched on: before, the meter showed demand
TOO_MUCH = 1.5  # of the nameplate: no panel gives it
AHEAD = timedelta(minutes=10)  # clocks differ
HOT = 25.0  # W at least before a load test says anything


@dataclass(frozen=True)
class Said:
    """``watts`` that the sun gave (after a load was switched on, where that was tried), of ``nameplate`` and of ``expected`` (None: no watts
    were read); ``fair`` and ``why_not``; ``throttled``: signs that the meter showed demand and not sun, in words; ``now``: what was expected."""

    watts: float | None
    of_nameplate: float | None
    of_expected: float | None
    within: bool | None
    fair: bool
    why_not: tuple[str, ...]
    throttled: tuple[str, ...]
    now: Expected


def judged_reading(study: Study, reading: Reading, stood: float | None = None, haze: Sequence[float | None] = ()) -> Said:
    """A reading against what was to be expected then; ``stood``: the tilt of the log, where the reading does not name its own; ``haze``
    as in :func:`expected_at`."""
    tilt = reading.tilt if reading.tilt is not None else stood
    now = expected_at(study, reading.at, tilt, reading.azimuth, reading.sky, haze=haze)
    signs, why = _throttled(study.scene, reading), list(now.why_not)
    if reading.in_the_way:
        why.append("somebody stood in the light")
    if signs:
        why.append("the meter may have shown demand and not sun")
    watts = reading.watts
    if watts is not None and reading.with_load is not None:
        watts = max(watts, reading.with_load)
    if watts is None:
        return Said(None, None, None, None, not why, tuple(why), signs, now)
    of_expected = watts / now.power if now.power > 0 else None
    within = now.low <= watts <= max(now.high, now.low) if now.power > 0 else None
    return Said(watts, watts / study.scene.array.power, of_expected, within, not why, tuple(why), signs, now)


def _throttled(scene: Scene, reading: Reading) -> tuple[str, ...]:
    found = []
    watts = reading.watts
    if reading.battery == "full":
        found.append("the battery is full")
    elif reading.battery == "nearly full":
        found.append("the battery is nearly full")
    if watts is not None and reading.with_load is not None and reading.with_load > max(watts, HOT) * ROSE:
        found.append(f"with a load switched on it rose from {watts:.0f} to {reading.with_load:.0f} W")
    tariff = getattr(scene.brief.use, "tariff", None)
    limit = getattr(tariff, "export_limit", None)
    if watts is not None and limit and abs(watts - limit) <= 0.03 * limit:
        found.append(f"it sits at the {limit:.0f} W that may be fed in")
    label = scene.brief.electrics
    if label is not None and label.input is not None and reading.volts and reading.amps:
        most = label.input.max_current * reading.volts
        if reading.amps >= 0.98 * label.input.max_current:
            found.append(f"the input is at its {label.input.max_current:g} A ({most:.0f} W at these volts)")
    return tuple(found)


def refuse_reading(scene: Scene, reading: Reading, now: datetime, sure: bool = False) -> None:
    """BriefError, naming the value, for what cannot be: a time to come, more than the panels can give, volts and amps the wrong way round.
    ``sure``: the person has said that an odd value is what the meter shows."""
    if reading.at > now + AHEAD:
        raise BriefError("at", "lies in the future: is the date right?")
    if reading.power is None and reading.volts is None and reading.amps is None and reading.quantity is None:
        raise BriefError("power", "give what the display shows: watts, or volts and amps, or another quantity")
    if (reading.volts is None) != (reading.amps is None):
        raise BriefError("amps" if reading.amps is None else "volts", "is missing: volts and amps belong together")
    if reading.quantity is not None and not reading.unit:
        raise BriefError("unit", "is missing: litres, Ah, minutes ...")
    if sure:
        return
    watts, rated = reading.watts, scene.array.power
    label = scene.brief.electrics
    if label is not None and reading.volts is not None and reading.amps is not None and reading.volts > 0:
        wiring = scene.brief.wiring
        side_by_side = scene.array.wired if wiring.kind == "parallel" else max(1, len(wiring.strings))
        if reading.amps > 1.4 * label.isc * side_by_side and reading.volts <= 1.4 * label.isc * side_by_side:
            raise BriefError(
                "amps", f"{reading.amps:g} A from panels of {label.isc:g} A: are volts and amps the wrong way round?"
            )
    if watts is not None and watts > TOO_MUCH * rated:
        raise BriefError(
            "power", f"{watts:.0f} W from {rated:.0f} W of panels: is it the right unit? Press again if the display shows it"
        )


@dataclass(frozen=True)
class OtherMeter:
    """Any quantity by the sun that it had: ``per_kwh`` of what a cloudless sky would have given meanwhile, the middle of earlier ones of the same
    unit, and the share of it."""

    quantity: float
    unit: str
    per_kwh: float
    usual: float | None
    share: float | None


def other_meter(
    study: Study, reading: Reading, before: tuple[Reading, ...] = (), stood: float | None = None
) -> OtherMeter | None:
    """Litres, amp-hours, minutes to boil: judged as a share of its own expected day. Minutes are turned round, since fewer are better. None
    where it names no quantity, or no time since."""
    value = _per_kwh(study, reading, stood)
    if value is None or reading.quantity is None:
        return None
    known = sorted(one for one in (_per_kwh(study, other, stood) for other in before if other.unit == reading.unit) if one)
    usual = known[len(known) // 2] if known else None
    return OtherMeter(reading.quantity, reading.unit, value, usual, None if usual is None else value / usual)


def _per_kwh(study: Study, reading: Reading, stood: float | None) -> float | None:
    if reading.quantity is None or reading.since is None or reading.since >= reading.at:
        return None
    start, end = reading.since.timestamp(), reading.at.timestamp()
    count = max(1, round((end - start) / 300))
    unix = np.asarray(start + (end - start) / count * (np.arange(count) + 0.5), dtype=np.float64)
    tilt = reading.tilt if reading.tilt is not None else stood
    kwh = float(expected_series(study, unix, tilt).mean()) * (end - start) / 3.6e6
    if kwh <= 0:
        return None
    if reading.unit.lower() in ("min", "minutes"):
        return 1 / (reading.quantity * kwh / ((end - start) / 3600)) if reading.quantity else None
    return reading.quantity / kwh
