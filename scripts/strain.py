#!/usr/bin/env python
"""Strain the application as a bad day would, and say what it gave: ``scripts/strain.py greedy kill broker memory races``.

    greedy   ten people who work, alone; beside eight loops of one person on four yards of two hundred trees; and beside twelve loops on
             the sun table of another's device
    kill     ten people who work, while a web process is killed hard now and then: how long until the next answer
    broker   the broker is stopped (SIGSTOP) while somebody works and asks for long work
    memory   five thousand requests over all stations: what the web processes hold
    races    a thousand ticks and readings posted by twenty at once, web processes killed meanwhile: none may be lost

Each has a server with two web processes and a database of its own; nothing of yours is touched. Exit 1 where something was lost or
failed; times are told and judged by whoever reads them, since machines differ (a plain loop is timed beside them).
"""

from __future__ import annotations

import argparse
import http.client
import json
import os
import random
import signal
import statistics
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any
from urllib.parse import urlencode

ROOT = Path(__file__).resolve().parent.parent
SECONDS = 30.0
Answer = tuple[int, float]


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("what", nargs="+", choices=sorted(STRAINS))
    options = parser.parse_args()
    if "SUNDIAL_SECRET_KEY" not in os.environ:  # the private database first
        command = f'. scripts/prepare.sh; start_database; start_broker; trap stop_services EXIT; "$PY" scripts/strain.py {" ".join(options.what)}'
        return subprocess.call(["bash", "-c", command], cwd=ROOT)
    sys.path.insert(0, str(ROOT))
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "web.settings")
    os.environ["SUNDIAL_CACHE_DB"], os.environ["PYTHONPATH"] = "15", str(ROOT)
    import django

    django.setup()
    from django.conf import settings
    from django.core.management import call_command
    from django.db import connection

    call_command("collectstatic", interactive=False, verbosity=0)
    settings.DATABASES["default"]["TEST"]["NAME"] = "test_sundial_strain"
    old = connection.settings_dict["NAME"]
    connection.creation.create_test_db(verbosity=0, autoclobber=True)
    good = True
    try:
        for what in options.what:
            good = STRAINS[what]() and good
    finally:
        connection.creation.destroy_test_db(old, verbosity=0)
    return 0 if good else 1


def loop_ms() -> float:
    """A million additions in a plain loop, ms: the speed of the machine just now."""
    start, total = time.perf_counter(), 0
    for number in range(1_000_000):
        total += number
    return (time.perf_counter() - start) * 1000


def say(what: str, taken: list[Answer]) -> bool:
    """Print what came of some requests; whether none failed."""
    times = sorted(seconds for _, seconds in taken)
    bad = sorted({status for status, _ in taken if status == 0 or status >= 500})
    late = times[min(len(times) - 1, int(len(times) * 0.95))] if times else 0.0
    print(
        f"{what}: {len(taken)} requests, {statistics.median(times) * 1000:.0f} ms median, {late * 1000:.0f} ms p95, "
        f"{times[-1] * 1000:.0f} ms at most{f', FAILED {bad}' if bad else ''} (loop {loop_ms():.0f} ms)",
        flush=True,
    )
    return not bad


@contextmanager
def serving() -> Iterator[tuple[int, subprocess.Popen[bytes]]]:
    from django.core.cache import cache

    from scripts.bench_load import served

    cache.clear()
    with served() as found:
        yield found


def everyone(port: int, count: int, name: str) -> list[Any]:
    from scripts.bench import form_data
    from scripts.bench_load import people

    found = people(port, form_data, count, name)
    for one in found:
        one.page("tilt")
        one.taken.clear()
    return found


def working(people: list[Any], seconds: float) -> list[Answer]:
    """What some people's requests took, each with a pause between."""
    for one in people:
        one.taken.clear()
        one.troubles.clear()
    until = time.monotonic() + seconds
    threads = [threading.Thread(target=one.live, args=(until,)) for one in people]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    slowest = sorted(((seconds, name) for one in people for name, seconds in one.taken), reverse=True)[:6]
    print(f"    slowest: {', '.join(f'{name} {seconds:.1f} s' for seconds, name in slowest)}", flush=True)
    for trouble in sorted({trouble for one in people for trouble in one.troubles})[:6]:
        print(f"    {trouble}", flush=True)
    return [(200, seconds) for one in people for _, seconds in one.taken] + [(0, 0.0) for one in people for _ in one.troubles]


@contextmanager
def beside(loops: list[Callable[[], int]]) -> Iterator[list[int]]:
    """Loops that ask again as soon as they are answered; their statuses."""
    over, statuses = threading.Event(), []

    def go(ask: Callable[[], int]) -> None:
        while not over.is_set():
            statuses.append(ask())
            if statuses[-1] == 429:
                time.sleep(0.2)

    threads = [threading.Thread(target=go, args=(one,)) for one in loops]
    for thread in threads:
        thread.start()
    time.sleep(3)
    try:
        yield statuses
    finally:
        over.set()
        for thread in threads:
            thread.join()


def ask(port: int, path: str, headers: dict[str, str], method: str = "GET", body: str | None = None) -> int:
    """The status of one request; 0 where no answer came."""
    connection = http.client.HTTPConnection("127.0.0.1", port, timeout=60)
    try:
        connection.request(method, path, body, headers)
        answer = connection.getresponse()
        answer.read()
        return answer.status
    except (OSError, http.client.HTTPException):
        return 0
    finally:
        connection.close()


def with_trees(build: Any, count: int = 200) -> None:
    dice = random.Random(build.pk)  # noqa: S311
    build.yard.obstacles = [
        {
            "kind": "tree", "name": f"Tree {n}", "at": [round(dice.uniform(-30, 30), 1), round(-8 - dice.uniform(0, 40), 1)],
            "crown_radius": 2.0, "height": 7.0, "crown_base": 2.0,
        }
        for n in range(count)
    ]  # fmt: skip
    build.yard.save()


def greedy() -> bool:
    from scripts.bench import form_data
    from web.builds.models import Build
    from web.devices.models import Token
    from web.log.store import source_named

    with serving() as (port, _):
        modest, one = everyone(port, 10, "modest"), everyone(port, 1, "greedy")[0]
        owner = Build.objects.get(pk=one.build).owner
        yards = [Build.objects.whole().get(pk=Build.objects.get(pk=one.build).copy(owner=owner).pk) for _ in range(4)]
        for build in yards:
            with_trees(build)
        token = Token.made(yards[0], source_named(yards[0], "Board", 0.0), "Board")[1]
        session = {"Cookie": f"sessionid={one.cookie}; csrftoken={one.token}", "Host": f"127.0.0.1:{port}", "HX-Request": "true"}
        device = {"Authorization": f"Bearer {token}", "Host": f"127.0.0.1:{port}"}
        good = say("ten people alone", working(modest, SECONDS))
        count = iter(range(10**9))

        documents = [json.loads(form_data(Build.objects.whole().get(pk=build.pk), "shade")["document"]) for build in yards]
        posting = {**session, "X-CSRFToken": one.token, "Content-Type": "application/x-www-form-urlencoded"}

        def drags() -> int:
            at = next(count)
            moved = {**documents[at % 4], "x": at % 70 / 10, "y": 1.0}
            body = urlencode({"document": json.dumps(moved)})
            return ask(port, f"/builds/{yards[at % 4].pk}/shade/figures/", posting, "POST", body)

        def table() -> int:
            return ask(port, f"/api/sun-table?month={next(count) % 12 + 1}&step={0.1 + next(count) % 40 / 10}", device)

        for name, loops in (
            ("eight loops of one person on 200 trees", [drags] * 8),
            ("twelve loops on one sun table", [table] * 12),
        ):
            with beside(loops) as statuses:
                good = say(f"ten people beside {name}", working(modest, SECONDS)) and good
            print(f"    the loops: { {status: statuses.count(status) for status in sorted(set(statuses))} }", flush=True)
        return good


def children(server: subprocess.Popen[bytes]) -> list[int]:
    """The web processes of a server."""
    return [int(pid) for pid in Path(f"/proc/{server.pid}/task/{server.pid}/children").read_text().split()]


def held(pid: int) -> float:
    """MB of memory that a process holds."""
    try:
        return int(Path(f"/proc/{pid}/statm").read_text().split()[1]) * 4096 / 1e6
    except OSError:
        return 0.0


def kill() -> bool:
    """A hard kill, three times; a request that was in its hands is lost, and the next must be answered soon."""
    with serving() as (port, server):
        people = everyone(port, 10, "working")
        gaps: list[float] = []

        def kills() -> None:
            for _ in range(3):
                time.sleep(8)
                os.kill(children(server)[0], signal.SIGKILL)
                start = time.monotonic()
                while len(children(server)) < 2 or ask(port, "/readyz", {"Host": f"127.0.0.1:{port}"}) != 200:
                    time.sleep(0.02)
                gaps.append(time.monotonic() - start)

        killer = threading.Thread(target=kills)
        killer.start()
        taken = working(people, SECONDS)
        killer.join()
        lost = sum(status == 0 for status, _ in taken)
        say("ten people, a process killed three times", [one for one in taken if one[0]])
        print(
            f"    {lost} requests were lost in hand; two processes and an answer again after {', '.join(f'{gap:.2f}' for gap in gaps)} s"
        )
        return max(gaps) < 5


def broker() -> bool:
    pid = int((ROOT / "var" / "redis" / "redis.pid").read_text())
    with serving() as (port, _):
        one = everyone(port, 1, "patient")[0]
        session = {"Cookie": f"sessionid={one.cookie}; csrftoken={one.token}", "Host": f"127.0.0.1:{port}"}
        taken: list[Answer] = []
        os.kill(pid, signal.SIGSTOP)
        try:
            for path in ("tilt", "shade", "shade/prices", "frame", "worth", "log", "bench", "tilt/field-card.pdf"):
                start = time.monotonic()
                taken.append(
                    (ask(port, f"/builds/{one.build}/{path}{'' if '.' in path else '/'}", session), time.monotonic() - start)
                )
                print(f"    {path}: {taken[-1][0]} in {taken[-1][1]:.2f} s", flush=True)
            start = time.monotonic()
            connection = http.client.HTTPConnection("127.0.0.1", port, timeout=60)
            connection.request("GET", "/readyz", headers={"Host": f"127.0.0.1:{port}"})
            told = json.loads(connection.getresponse().read())
            print(f"    /readyz: {told} in {time.monotonic() - start:.2f} s", flush=True)
        finally:
            os.kill(pid, signal.SIGCONT)
        return say("a broker that hangs", taken) and told["broker"] is False and max(seconds for _, seconds in taken) < 10


def memory(requests: int = 5000) -> bool:
    """Over all stations, of forty builds: more than a process remembers."""
    with serving() as (port, server):
        people = everyone(port, 40, "many")
        stations = ("place", "shade", "frame", "tilt", "worth", "wind", "cutting", "log", "bench")
        print(f"    at first: {', '.join(f'{held(pid):.0f}' for pid in children(server))} MB", flush=True)
        numbers, taken, most = iter(range(requests)), [], [0.0]
        lock = threading.Lock()

        def go() -> None:
            while True:
                with lock:
                    number = next(numbers, None)
                if number is None:
                    return
                one = people[number // len(stations) % len(people)]
                start = time.monotonic()
                path = f"/builds/{one.build}/{stations[number % len(stations)]}/"
                status = ask(port, path, {"Cookie": f"sessionid={one.cookie}", "Host": f"127.0.0.1:{port}"})
                taken.append((status, time.monotonic() - start))
                if number % 50 == 0:
                    most[0] = max([most[0], *map(held, children(server))])
                if number and number % 500 == 0:
                    print(f"    after {number}: {', '.join(f'{held(pid):.0f}' for pid in children(server))} MB", flush=True)

        threads = [threading.Thread(target=go) for _ in range(6)]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
        good = say("over all stations", taken)
        print(f"    at most {most[0]:.0f} MB in one process")
        return good and most[0] < 500


def races(count: int = 1000) -> bool:
    """Each is sent until it is answered; what was answered must be there, once."""
    from web.builds.models import Build
    from web.cutting.models import Cutting
    from web.devices.models import Token
    from web.log.models import SeriesDay
    from web.log.store import source_named

    with serving() as (port, server):
        one = everyone(port, 1, "racing")[0]
        build = Build.objects.get(pk=one.build)
        board = source_named(build, "Board", 0.0)
        secrets = [Token.made(build, board, f"Board {n}")[1] for n in range(20)]  # each may post so often a minute and no more
        session = {
            "Cookie": f"sessionid={one.cookie}; csrftoken={one.token}", "X-CSRFToken": one.token, "Host": f"127.0.0.1:{port}",
            "HX-Request": "true", "Content-Type": "application/x-www-form-urlencoded",
        }  # fmt: skip
        devices = [
            {"Authorization": f"Bearer {secret}", "Host": f"127.0.0.1:{port}", "Content-Type": "application/json"}
            for secret in secrets
        ]
        first, again, numbers, over = datetime(2026, 6, 21, tzinfo=UTC), [0], iter(range(2 * count)), threading.Event()
        lock = threading.Lock()

        def go() -> None:
            while True:
                with lock:
                    number = next(numbers, None)
                if number is None:
                    return
                if number % 2:
                    row = {"time": (first + timedelta(seconds=10 * number)).isoformat(), "power": 100 + number}
                    sent = ("/api/readings", devices[number // 2 % 20], json.dumps({"readings": [row], "step": 10}))
                else:
                    sent = (f"/builds/{one.build}/cutting/tick/", session, urlencode({"key": f"tick-{number}", "done": "1"}))
                while ask(port, sent[0], sent[1], "POST", sent[2]) not in (200, 204):
                    again[0] += 1
                    time.sleep(0.2)

        def kills() -> None:
            while not over.wait(4):
                os.kill(random.choice(children(server)), signal.SIGKILL)  # noqa: S311

        threads = [threading.Thread(target=go) for _ in range(20)]
        killer = threading.Thread(target=kills)
        for thread in (*threads, killer):
            thread.start()
        for thread in threads:
            thread.join()
        over.set()
        killer.join()
        ticks = sum(key.startswith("tick-") for key in Cutting.objects.get(build=build).done)
        rows = sum(day.count for day in SeriesDay.objects.filter(source__build=build, source__name="Board"))
        print(f"races: {ticks} of {count} ticks and {rows} of {count} readings kept, {again[0]} sent again", flush=True)
        return ticks == count and rows == count


STRAINS: dict[str, Callable[[], bool]] = {"greedy": greedy, "kill": kill, "broker": broker, "memory": memory, "races": races}

if __name__ == "__main__":
    sys.exit(main())
