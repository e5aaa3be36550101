"""The commands ``expected``, ``clear-days`` and ``change``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from dataclasses import replace
from datetime import datetime
from pathlib import Path
from typing import TYPE_CHECKING, Any

from sundial.answers.command import Answer, Command
from sundial.doors import day_of, measure, moment_of, number
from sundial.errors import BriefError
from sundial.quantities import TEMPERATURE

if TYPE_CHECKING:
    from sundial.expected.clear import Judged
    from sundial.study import Study


def expected_answer(
    study: Study, when: datetime, tilt: float | None, azimuth: float | None, sky: str, temp: float | None
) -> Answer:
    """What the array should give at a moment."""
    from sundial.expected.moment import expected_at

    found = expected_at(study, when, tilt, azimuth, sky, temp)
    return {**vars(found), "why_not": list(found.why_not)}


def judged(study: Study, options: argparse.Namespace) -> Judged:
    """The series of an option, beside what it should have given."""
    from sundial.expected.clear import SHIFTS, judge
    from sundial.record.dialect import Columns
    from sundial.record.series import read_series

    try:
        data = Path(options.series).read_bytes()
    except OSError as error:
        raise BriefError(options.series, f"cannot be read: {error.strerror}") from None
    columns = Columns(options.time, options.power, options.energy, options.total, options.unit, options.zone)
    found = judge(study, read_series(data, study.scene.site, columns, study.scene.array.power), options.tilt)
    if found.clock is None or abs(found.clock) <= SHIFTS[-1]:
        return found
    minutes, series = found.clock, found.series
    way = f"{abs(minutes) / 60:g} hours {'ahead of' if minutes > 0 else 'behind'} the sun"
    why = "are am and pm exchanged?" if abs(minutes) >= 600 else "is it another zone's?"
    note = f"The file's clock runs {way} ({why}); the rest is judged as if it were right."
    put_right = replace(series, unix=series.unix - minutes * 60, notes=(*series.notes, note))
    return replace(judge(study, put_right, options.tilt), clock=minutes)


def _moment(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--at", required=True, metavar="T", help="a time; without an offset: the site's own clock")
    parser.add_argument(
        "--tilt", type=number(-90, 90, "degrees"), metavar="T", help="as it really stands; left out: as its plan has it then"
    )
    parser.add_argument("--azimuth", type=number(-360, 360, "degrees"), metavar="A")
    parser.add_argument("--sky", default="clear", metavar="S", help="clear, haze, broken or overcast")
    parser.add_argument(
        "--temp", type=measure(TEMPERATURE, -90, 70), metavar="C", help="degC of the air, or 95F, where it is known"
    )


def _series(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("series", metavar="SERIES.csv")
    parser.add_argument("--time", default="time", metavar="COLUMN")
    for kind in ("power", "energy", "total"):
        parser.add_argument(f"--{kind}", default="", metavar="COLUMN")
    parser.add_argument("--unit", default="", metavar="U", help="W or kW of a power, Wh or kWh of an energy or a counter")
    parser.add_argument("--zone", default="", metavar="Z", help="time zone of times without an offset; left out: the site's")
    parser.add_argument(
        "--tilt", type=number(-90, 90, "degrees"), metavar="T", help="where it stood all the time; left out: as its plan has it"
    )


def _change(parser: argparse.ArgumentParser) -> None:
    _series(parser)
    parser.add_argument("--on", required=True, metavar="DATE")


def _expected(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    return expected_answer(study(), moment_of(options.at, "--at"), options.tilt, options.azimuth, options.sky, options.temp)


def _clear_days(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    found = judged(study(), options)
    return {
        "days": [
            {"day": one.day.isoformat(), "measured": one.measured, "expected": one.expected, "ratio": one.ratio}
            for one in found.clear
        ],
        "count": len(found.clear),
        "of": len(set(found.day.tolist())),
        "clock_minutes": found.clock,
        "notes": list(found.series.notes),
    }


def _changed(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    from sundial.expected.clear import change_of

    on = day_of(options.on, "--on")
    found = judged(study(), options)
    change = change_of(found.clear, on)
    return {**vars(change), "days": change.before + change.after, "notes": list(found.series.notes)}


COMMANDS = (
    Command("expected", "what the array should give at a moment, and whether a reading then is a fair test", _expected, _moment),
    Command("clear-days", "the clear days of a monitor's series, each beside what it should have given", _clear_days, _series),
    Command("change", "what a change on a date did: after over before, on clear days", _changed, _change),
)
