"""What ./bench measures of the log: ten years taken in, one of their days shown, fifty devices while two people work."""

from __future__ import annotations

import csv
import http.client
import io
import json
import os
import signal
import statistics
import subprocess
import sys
import tempfile
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import numpy as np

from scripts.bench_load import people, served

ROOT = Path(__file__).parents[1]
ROWS = 1_051_200  # ten years of five minutes
DEVICES, EVERY, SECONDS = 50, 10.0, 40.0
Row = tuple[str, str, str, str]
TAKE_IN = """
import re, sys, time, django
django.setup()
from web.jobs.models import Job
from web.devices.jobs import _intake
job = Job.objects.get(pk=int(sys.argv[1]))
start = time.perf_counter()
_intake(job, lambda *_: None)
took = time.perf_counter() - start
print(took, int(re.search(r"VmHWM:\\s+(\\d+)", open("/proc/self/status").read())[1]) / 1024)
"""


def ten_years() -> bytes:
    """A file of ten years by five minutes, as ISO times and watts."""
    import pandas as pd

    unix = datetime(2015, 1, 1, tzinfo=UTC).timestamp() + 300.0 * np.arange(ROWS)
    random = np.random.default_rng(1)
    watts = np.maximum(2400 * np.sin((unix % 86400) / 86400 * 2 * np.pi - 1.6) * random.uniform(0.2, 1, ROWS), 0)
    times = pd.to_datetime(unix, unit="s", utc=True).strftime("%Y-%m-%dT%H:%M:%SZ")
    return "\n".join(["time,power", *(f"{at},{power:.1f}" for at, power in zip(times, watts, strict=True))]).encode()


def row_by_row(data: bytes) -> float:
    """Seconds that a plain loop over a tenth of the rows takes, times ten: csv, fromisoformat, float, a dictionary by day."""
    start = time.perf_counter()
    days: dict[Any, dict[float, float]] = {}
    for number, row in enumerate(csv.DictReader(io.StringIO(data[: len(data) // 10].decode().rpartition("\n")[0]))):
        at = datetime.fromisoformat(row["time"])
        days.setdefault(at.date(), {})[at.timestamp()] = float(row["power"])
        if number > ROWS // 10:
            break
    return (time.perf_counter() - start) * 10


def _size() -> float:
    """MB that the tables of the log take on the disk."""
    from django.conf import settings

    files = (settings.VAR / "mariadb" / _name()).glob("log_*.ibd")
    return sum(file.stat().st_size for file in files) / 1e6


def log_rows(client: Any, form_data: Callable[[Any, str], dict[str, Any]]) -> list[Row]:
    """All rows of the log; the client is signed in to the demo's original."""
    from web.accounts.demo import ensure_demo
    from web.builds.models import Build
    from web.devices.jobs import PIECE, begin, more, take_in
    from web.devices.models import Upload

    build = Build.objects.whole().get(owner=ensure_demo(), name="Honey house")
    client.force_login(ensure_demo(), backend="django.contrib.auth.backends.ModelBackend")
    env = {**os.environ, "SUNDIAL_DB": _name(), "PYTHONPATH": str(ROOT)}
    with (
        tempfile.NamedTemporaryFile() as file
    ):  # made and read by the rival in a process of its own: this one's memory is measured
        made = subprocess.run(
            [sys.executable, __file__, file.name], cwd=ROOT, env=env, check=True, capture_output=True, text=True
        )  # noqa: S603
        rival, size, before = float(made.stdout), Path(file.name).stat().st_size, _size()
        upload = begin(build, "ten-years.csv", size, file.read(8 * PIECE))
        for at in range(8 * PIECE, size, 8 * PIECE):
            more(upload, at, file.read(8 * PIECE))
    from sundial.record.dialect import Columns

    job = take_in(upload, Columns(**upload.columns), "Ten years")
    told = subprocess.run(
        [sys.executable, "-c", TAKE_IN, str(job.pk)], cwd=ROOT, env=env, check=True, capture_output=True, text=True
    )  # noqa: S603
    took, memory = (float(part) for part in told.stdout.split()[-2:])
    upload.refresh_from_db()
    assert (upload.state, upload.added) == (Upload.State.IN, ROWS), (upload.state, upload.added, upload.notes)  # noqa: S101
    grown, shown = _size() - before, _days(client, build)
    late = f"{np.percentile(shown, 95) * 1000:.0f} ms at the 95th percentile"
    return [
        ("ten years by five minutes read row by row in plain Python", f"{rival:.1f} s", "the rival", ""),
        (
            f"{ROWS} rows taken in by a worker, read, merged and stored", f"{took:.1f} s",
            f"{rival / took:.1f} times as fast; {memory:.0f} MB, tables grown by {grown:.0f} MB", "60 s, 300 MB, 300 MB",
        ),
        ("the log with a day out of ten years", f"{statistics.median(shown) * 1000:.0f} ms median", late, "150 ms"),
        _devices(form_data),
    ]  # fmt: skip


def _name() -> str:
    from django.db import connection

    return str(connection.settings_dict["NAME"])


def _days(client: Any, build: Any) -> list[float]:
    """Seconds of the log's answer for forty days of the year."""
    from web.builds.models import Build

    address, taken = f"/builds/{build.pk}/log/", []
    client.get(address)
    for day in range(0, 360, 9):
        Build.objects.filter(pk=build.pk).update(chosen_day=day)
        start = time.perf_counter()
        answer = client.get(address, {"part": "answer"}, headers={"HX-Request": "true"})
        taken.append(time.perf_counter() - start)
        assert b"measured on what this sun could give" in answer.content  # noqa: S101
    return taken


@dataclass
class Device:
    """One device that posts a reading every ten seconds, and again where no answer came."""

    number: int
    port: int
    secret: str
    taken: list[float] = field(default_factory=list)
    sent: int = 0
    again: int = 0

    def post(self, at: datetime) -> None:
        body = json.dumps({"readings": [{"time": at.isoformat(), "power": 400 + self.sent}], "step": EVERY})
        headers = {"Content-Type": "application/json", "Authorization": f"Bearer {self.secret}"}
        while True:
            connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=20)
            start = time.perf_counter()
            try:
                connection.request("POST", "/api/readings", body, headers)
                answer = connection.getresponse()
                answer.read()
            except (OSError, http.client.HTTPException):
                self.again += 1
                time.sleep(0.2)
                continue
            finally:
                connection.close()
            self.taken.append(time.perf_counter() - start)
            if answer.status == 200:
                self.sent += 1
                return
            self.again += 1
            time.sleep(0.2)

    def live(self, until: float) -> None:
        start = datetime(2026, 6, 21, 10, tzinfo=UTC)
        time.sleep(EVERY * self.number / DEVICES)
        while time.monotonic() < until:
            began = time.monotonic()
            self.post(start + timedelta(seconds=EVERY * self.sent))
            time.sleep(max(0.0, EVERY - (time.monotonic() - began)))


def _devices(form_data: Callable[[Any, str], dict[str, Any]]) -> Row:
    """Fifty devices on five builds while two people work; half way a web worker is killed hard."""
    from sundial.brief.read import brief_of
    from web.accounts.demo import demo_brief, ensure_demo
    from web.builds.briefs import build_from_brief
    from web.devices.models import Token
    from web.log.models import SeriesDay, Source
    from web.log.store import source_named

    builds = [build_from_brief(ensure_demo(), brief_of({**demo_brief("Honey house"), "name": f"Rack {n}"})) for n in range(5)]
    with served() as (port, server):
        workers = people(port, form_data, 2, "worker")
        for one in workers:
            one.page("tilt")
        devices = []
        for number in range(DEVICES):
            build = builds[number % len(builds)]
            name = f"Device {number}"
            devices.append(Device(number, port, Token.made(build, source_named(build, name, 0.0), name)[1]))
        until = time.monotonic() + SECONDS
        threads = [threading.Thread(target=one.live, args=(until,)) for one in (*devices, *workers)]
        for thread in threads:
            thread.start()
        time.sleep(SECONDS / 2)
        children = subprocess.run(["pgrep", "-P", str(server.pid)], capture_output=True, text=True, check=False).stdout.split()  # noqa: S607
        os.kill(int(children[0]), signal.SIGKILL)
        for thread in threads:
            thread.join()
    held = sum(
        SeriesDay.objects.filter(source__in=Source.objects.filter(name__startswith="Device ")).values_list("count", flat=True)
    )
    sent = sum(device.sent for device in devices)
    every = [seconds for device in devices for seconds in device.taken]
    late = f"{np.percentile(every, 95) * 1000:.0f} ms at the 95th percentile, {sum(d.again for d in devices)} sent again"
    return (
        f"{DEVICES} devices each {EVERY:.0f} s while 2 people work, a web worker killed: {sent} readings sent, {held} kept",
        f"{np.median(every) * 1000:.0f} ms median", late, "100 ms, nothing lost",
    )  # fmt: skip


if __name__ == "__main__":
    DATA = ten_years()
    Path(sys.argv[1]).write_bytes(DATA)
    print(row_by_row(DATA))
