"""The commands ``bench`` and ``sun-table``."""

from __future__ import annotations

import argparse
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from sundial.answers.command import Answer, Command
from sundial.doors import day_of, number
from sundial.errors import BriefError

if TYPE_CHECKING:
    from sundial.bench.results import Bench, Result
    from sundial.study import Study


def bench_answer(bench: Bench, result: Result, remarks: tuple[tuple[str, str], ...], year: bool) -> Answer:
    """What a setting gave, as data."""
    from sundial.bench.results import afterwards, events, months
    from sundial.bench.trade import wrong_sensor

    found: Answer = {
        name: getattr(result, name)
        for name in (
            "energy",
            "fixed",
            "ideal",
            "flat",
            "moves",
            "motor_minutes",
            "motor_wh",
            "longest_loss",
            "reversals",
            "hits",
            "timeouts",
        )
    }
    found |= {
        "loss": result.loss, "gain": result.gain, "losses": result.losses, "wrong_sensor": wrong_sensor(bench, result), "kept_away_by_stops": bench.kept_away,
        "events": [] if year else [vars(event) for event in events(bench, result)],
        "remarks": [{"field": name, "words": words} for name, words in (*remarks, *afterwards(bench, result))],
    }  # fmt: skip
    if year:
        found["months"] = [vars(month) for month in months(bench, result)]
    return found


def _bench(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    from sundial.bench.axes import mount_of
    from sundial.bench.minutes import minutes_of
    from sundial.bench.results import bench_of, result_of
    from sundial.bench.settings import read_settings, remarks
    from sundial.days import day_of_date

    try:
        text = Path(options.settings).read_bytes()
    except OSError as error:
        raise BriefError(options.settings, f"cannot be read: {error.strerror}") from None
    settings = read_settings(text)
    if options.year == (options.day is not None):
        raise BriefError("--day", "give a day, or --year")
    if options.seed < 0:
        raise BriefError("--seed", "must be 0 or more")
    days = None
    if options.day is not None:
        days = [day_of_date(day_of(options.day, "--day"))]
    build = study()
    minutes = minutes_of(build.scene, days, options.sky, options.seed)
    mount = mount_of(build, minutes, north_error=settings.north_error)
    bench = bench_of(build, minutes, mount, options.seed)
    return bench_answer(bench, result_of(bench, settings), remarks(settings, mount), options.year)


def _bench_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("settings", metavar="SETTINGS.json", help="what the controller is set to")
    parser.add_argument("--day", metavar="DATE")
    parser.add_argument("--year", action="store_true")
    parser.add_argument("--sky", default="weather", metavar="S", help="clear, broken or overcast; left out: the weather year's")
    parser.add_argument("--seed", type=int, default=1, metavar="N")


def _table(options: argparse.Namespace, study: Callable[[], Study]) -> Any:
    from sundial.bench.table import as_data, sun_table, written

    table = sun_table(study(), options.month, options.step, options.every)
    return as_data(table) if options.format == "json" else written(table, options.format)


def _table_arguments(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--month", type=int, metavar="M", help="1 to 12; left out: the year")
    parser.add_argument("--step", type=number(-1e9, 1e9), default=0.1, metavar="D", help="degrees of a step")
    parser.add_argument("--every", type=int, default=10, metavar="MINUTES", help="of a row")
    parser.add_argument("--format", default="csv", metavar="F", help="csv, json or c")


COMMANDS = (
    Command("bench", "a simulated controller on this build's mount, for a day or a year by the minute", _bench, _bench_arguments),
    Command("sun-table", "angles of the mount by the clock, for a controller", _table, _table_arguments),
)
