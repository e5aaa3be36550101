"""A monitor that is played: it shows what a build's meter would have shown, and posts it through the door for devices.

Without ``--csv`` it posts packets, one for each interval, faster than the clock by ``--speed``; with it, it writes a file as a monitor writes
them. Weather, shade and dirt follow the build; faults are planted by name.
"""

from __future__ import annotations

import json
import time
import urllib.error
import urllib.request
from datetime import date, datetime, timedelta
from pathlib import Path
from typing import Any

import numpy as np
from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.utils import timezone

from sundial.errors import BriefError
from sundial.expected.simulate import DIALECTS, FAULTS, packets, simulate, written
from sundial.record.moves import tilt_at_times
from web.builds.models import Build
from web.builds.results import Results
from web.log.models import Token
from web.log.store import moves_of, source_named

NAME = "Simulated monitor"
AT_ONCE = 200  # packets of one request, where the speed leaves no time for single ones
TRIES = 8


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
        build = self._build(options["build"])
        first = options["day"] or timezone.localdate() - timedelta(days=options["days"])
        if options["days"] < 1 or options["days"] > 3660:
            raise CommandError("--days: from 1 to 3660")
        if not 1 <= options["step"] <= 7200 or 86400 % options["step"]:
            raise CommandError("--step: must divide the day, from 1 to 7200 seconds")
        try:
            study = Results(build).study
            start = datetime(first.year, first.month, first.day, tzinfo=study.site.zone).timestamp()
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
        secret = self._key(build, study.site.standard_offset)
        sent = self._post(played.series, secret, options)
        self.stdout.write(f"{sent} packets sent, {sum(played.series.power) * options['step'] / 3.6e6:.1f} kWh in all")

    @staticmethod
    def _build(told: str) -> Build:
        rows = Build.objects.whole().filter(deleted_at=None)
        found = rows.filter(pk=int(told)).first() if told.isdecimal() else rows.filter(name=told).order_by("demo", "-pk").first()
        if found is None:
            raise CommandError(f"there is no build {told!r}")
        return found

    @staticmethod
    def _key(build: Build, utc_offset: float) -> str:
        """A new key each time; the ones of earlier runs are taken away."""
        try:
            source = source_named(build, NAME, utc_offset)
        except BriefError as error:
            raise CommandError(str(error)) from None
        Token.objects.filter(build=build, name=NAME, revoked_at=None).update(revoked_at=timezone.now())
        return Token.made(build, source, NAME)[1]

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
        request = urllib.request.Request(  # noqa: S310
            f"{url.rstrip('/')}/api/readings", json.dumps({"readings": rows, "step": step}).encode(), method="POST",
            headers={"Content-Type": "application/json", "Authorization": f"Bearer {secret}"},
        )  # fmt: skip
        for attempt in range(TRIES):
            try:
                with urllib.request.urlopen(request, timeout=20) as answer:  # noqa: S310
                    answer.read()
                return len(rows)
            except urllib.error.HTTPError as error:
                if error.code in (429, 503):  # too often, or the database is away: the same batch again, which counts once
                    time.sleep(5)
                    continue
                raise CommandError(f"refused: {error.read()[:300].decode(errors='replace')}") from None
            except urllib.error.URLError as error:
                if attempt == TRIES - 1:
                    raise CommandError(f"{url} cannot be reached: {error.reason}") from None
                time.sleep(2**attempt)
        raise CommandError(f"{url} did not take a batch in {TRIES} tries")
