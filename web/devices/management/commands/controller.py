"""A controller that is played: it fetches the sun table of a build as a board would, follows it through a day, and posts where it turned to.

Seen live on the page of the bench. The power that it reads is what the build would give at these angles.
"""

from __future__ import annotations

import time
from datetime import UTC, date, datetime, timedelta
from typing import Any

import numpy as np
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.utils import timezone

from sundial.bench.axes import mount_of
from sundial.bench.minutes import DAY, SKIES, minutes_of
from sundial.bench.results import bench_of
from sundial.days import day_of_date
from sundial.errors import BriefError
from web.builds.results import Results
from web.devices.posting import asked, build_named, new_key

NAME = "Simulated controller"


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("build", help="number or name of a build that a motor moves")
        parser.add_argument("--day", type=date.fromisoformat, metavar="DATE", help="a day to follow; left out: yesterday")
        parser.add_argument("--speed", type=float, default=60.0, metavar="X", help="times the clock; 0: as fast as it goes")
        parser.add_argument("--step", type=float, default=2.0, metavar="D", help="degrees of the table's steps")
        parser.add_argument("--sky", choices=SKIES, default="weather", help="of the day")
        parser.add_argument("--seed", type=int, default=1)
        parser.add_argument("--url", default="http://127.0.0.1:8000", help="where the application answers")

    def handle(self, *args: Any, **options: Any) -> None:
        build = build_named(options["build"])
        day = options["day"] or timezone.localdate() - timedelta(days=1)
        try:
            study = Results(build).study.open_sky
            minutes = minutes_of(study.scene, [day_of_date(day)], options["sky"], options["seed"])
            mount = mount_of(study, minutes)
        except BriefError as error:
            raise CommandError(str(error)) from None
        secret = new_key(build, NAME, study.scene.weather.utc_offset)
        url = options["url"].rstrip("/")
        table = asked(f"{url}/api/sun-table?month={day.month}&step={options['step']}", secret)
        row_of_day = table["days"][day.day - 1 if day.day <= len(table["days"]) else -1]
        every = int(table["every_minutes"])
        start = datetime(day.year, day.month, day.day, tzinfo=UTC) - timedelta(hours=study.scene.weather.utc_offset)
        rest = [axis.low for axis in mount.axes]
        power = self._power(study, minutes, mount, row_of_day, rest, every)
        at, sent = rest, 0
        for row in range(DAY // every):
            told = [row_of_day[axis.name][row] for axis in mount.axes]
            wanted = [low if value is None else value / 10 for value, low in zip(told, rest, strict=True)]
            when = (start + timedelta(minutes=row * every)).isoformat()
            body: dict[str, Any] = {"readings": [{"time": when, "power": round(float(power[row]), 1)}], "step": 60 * every}
            if wanted != at:
                why = "to the east for the night" if told[0] is None else "the table's next step"
                body["turns"] = [{"time": when, "angles": wanted, "why": why}]
                at = wanted
            sent += len(body.get("turns", ()))
            if told[0] is not None or "turns" in body:
                asked(f"{url}/api/readings", secret, body)
                if options["speed"] > 0:
                    time.sleep(60 * every / options["speed"])
        self.stdout.write(f"{sent} turns on {day}, {float(power.sum()) * every / 60_000:.1f} kWh")

    @staticmethod
    def _power(study: Any, minutes: Any, mount: Any, rows: Any, rest: list[float], every: int) -> Any:
        """Mean watts of each row at the table's angles (rows,)."""
        bench = bench_of(study, minutes, mount)
        angles = []
        for axis, low in zip(mount.axes, rest, strict=True):
            held = [low if value is None else value / 10 for value in rows[axis.name]]
            angles.append(np.repeat(np.asarray(held, dtype=np.float64), every)[None, :])
        watts = np.zeros(DAY)
        watts[minutes.lit[0]] = bench.power(tuple(angles))
        return watts.reshape(-1, every).mean(axis=1)
