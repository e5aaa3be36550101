"""A monitor that is played: it shows what a build's meter would have shown, and posts it through the door for devices.

Without ``--csv`` it posts packets, one for each interval, faster than the clock by ``--speed``; with it, it writes a file as a monitor writes
them. Weather, shade and dirt follow the build; faults are planted by name.
"""

from __future__ import annotations

import time
from datetime import date, datetime, timedelta
from pathlib import Path
from typing import Any

import numpy as np
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.utils import timezone

from sundial.errors import BriefError
from sundial.expected.simulate import DIALECTS, FAULTS, packets, simulate, written
from sundial.record.moves import tilt_at_times
from web.builds.results import Results
from web.devices.posting import asked, build_named, new_key
from web.log.store import moves_of

NAME = "Simulated monitor"
AT_ONCE = 200  # packets of one request, where the speed leaves no time for single ones


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("build", help="number or name of a build")
        parser.add_argument("--day", type=date.fromisoformat, metavar="DATE", help="a day to play; left out: yesterday")
        parser.add_argument("--days", type=int, default=1, metavar="N", help="so many days from that day on; 365 is a year")
        parser.add_argument("--step", type=int, default=300, metavar="S", help="seconds of an interval")
        parser.add_argument("--speed", type=float, default=60.0, metavar="X", help="times the clock; 0: as fast as it goes")
        parser.add_argument("--fault", action="append", default=[], choices=list(FAULTS), help="plant a fault; may be repeated")
        parser.add_argument("--dropped", type=float, default=0.0, metavar="SHARE", help="of the packets that are lost")
        parser.add_argument("--repeated", type=float, default=0.0, metavar="SHARE", help="of the packets that are sent twice")
        parser.add_argument("--seed", type=int, default=1)
        parser.add_argument("--url", default="http://127.0.0.1:8000", help="where the application answers")
        parser.add_argument("--csv", type=Path, metavar="FILE", help="write a file and post nothing")
        parser.add_argument("--dialect", choices=DIALECTS, default="plain", help="how the file is written")

    def handle(self, *args: Any, **options: Any) -> None:
        build = build_named(options["build"])
        first = options["day"] or timezone.localdate() - timedelta(days=options["days"])
        if options["days"] < 1 or options["days"] > 3660:
            raise CommandError("--days: from 1 to 3660")
        if not 1 <= options["step"] <= 7200 or 86400 % options["step"]:
            raise CommandError("--step: must divide the day, from 1 to 7200 seconds")
        try:
            study = Results(build).study
            start = datetime(first.year, first.month, first.day, tzinfo=study.scene.site.zone).timestamp()
            unix = np.asarray(start + options["step"] * np.arange(options["days"] * 86400 // options["step"]), dtype=np.float64)
            moves = moves_of(build)
            tilt = tilt_at_times(moves, unix) if moves else None
            played = simulate(study, first, options["days"], options["step"], options["fault"], options["seed"], tilt)
        except BriefError as error:
            raise CommandError(str(error)) from None
        if options["csv"]:
            options["csv"].write_bytes(written(played.series, options["dialect"], study.brief.site.timezone))
            self.stdout.write(f"{len(played.series.unix)} rows in {options['csv']}")
            return
        secret = new_key(build, NAME, study.scene.site.standard_offset)
        sent = self._post(played.series, secret, options)
        self.stdout.write(f"{sent} packets sent, {sum(played.series.power) * options['step'] / 3.6e6:.1f} kWh in all")

    def _post(self, series: Any, secret: str, options: dict[str, Any]) -> int:
        speed, step = options["speed"], options["step"]
        wait = step / speed if speed > 0 else 0.0
        size = 1 if wait >= 0.05 else AT_ONCE
        batch: list[Any] = []
        sent = 0
        for packet in packets(series, options["dropped"], options["repeated"], options["seed"]):
            batch.append({"time": f"{np.datetime64(int(packet.unix), 's')}Z", "power": packet.power})
            if len(batch) >= size:
                sent += self._send(batch, secret, options["url"], step)
                batch = []
                time.sleep(wait * size)
        return sent + (self._send(batch, secret, options["url"], step) if batch else 0)

    def _send(self, rows: list[Any], secret: str, url: str, step: int) -> int:
        asked(f"{url.rstrip('/')}/api/readings", secret, {"readings": rows, "step": step})
        return len(rows)
