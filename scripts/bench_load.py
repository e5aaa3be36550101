"""Twenty people at once: what ./bench does to a real server with two web workers and one worker for long work."""

from __future__ import annotations

import copy
import http.client
import json
import os
import random
import re
import signal
import socket
import subprocess
import sys
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any
from urllib.parse import urlencode

import numpy as np

ROOT = Path(__file__).parents[1]
PEOPLE, SECONDS = 20, 60.0
PAUSE = (1.0, 4.0)  # seconds between two actions of one person
Row = tuple[str, str, str, str]


@dataclass
class Person:
    """One person with a build of their own and a session, going round the stations."""

    number: int
    port: int
    cookie: str
    token: str
    build: int
    forms: dict[str, dict[str, Any]]
    taken: list[tuple[str, float]] = field(default_factory=list)
    troubles: list[str] = field(default_factory=list)
    version: str = "1"

    def request(self, method: str, path: str, body: dict[str, Any] | None = None, name: str = "") -> str:
        headers = {"Cookie": f"sessionid={self.cookie}; csrftoken={self.token}", "Host": f"127.0.0.1:{self.port}"}
        if body is not None or name.startswith("figures"):
            headers["HX-Request"] = "true"
        if body is not None:
            headers |= {"Content-Type": "application/x-www-form-urlencoded", "X-CSRFToken": self.token}
        data = urlencode(body, doseq=True) if body is not None else None
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=60)
        start = time.perf_counter()
        try:
            connection.request(method, path, data, headers)
            answer = connection.getresponse()
            text = answer.read().decode()
        except OSError as error:
            self.troubles.append(f"{name}: {error}")
            return ""
        finally:
            connection.close()
        self.taken.append((name, time.perf_counter() - start))
        if answer.status >= 400:
            self.troubles.append(f"{name}: {answer.status}")
        return text

    def page(self, station: str) -> None:
        text = self.request("GET", f"/builds/{self.build}/{station}/", name=f"page {station}")
        found = re.search(r'id="version" value="(\d+)"', text)
        if found:
            self.version = found[1]

    def edit(self, station: str, **answers: Any) -> None:
        self.forms[station] |= answers
        text = self.request(
            "POST", f"/builds/{self.build}/{station}/", {**self.forms[station], "version": self.version}, f"edit {station}"
        )
        found = re.search(r'id="version" value="(\d+)"', text)
        if found:
            self.version = found[1]
            self.request("GET", f"/builds/{self.build}/{station}/?part=answer", name=f"figures {station}")
        elif text:
            said = re.sub(r"<[^>]+>|\s+", " ", text)[:160]
            self.troubles.append(f"edit {station}: not saved: {said}")

    def act(self, rng: random.Random) -> None:
        document = json.loads(self.forms["shade"]["document"])

        def moved() -> None:
            changed = {**document, "x": round(rng.uniform(-1.5, 1.0), 1), "y": round(rng.uniform(-0.4, 1.0), 1)}
            self.edit("shade", document=json.dumps(changed))

        def tree() -> None:
            changed = copy.deepcopy(document)
            changed["objects"] = [thing for thing in changed["objects"] if not thing["name"].startswith("New tree")]
            at = [round(rng.uniform(-9, 9), 1), round(rng.uniform(-14, -6), 1)]
            changed["objects"].append(
                {"kind": "tree", "name": "New tree", "at": at, "crown_radius": 1.5, "height": 5, "crown_base": 1.5}
            )
            self.edit("shade", document=json.dumps(changed))

        stations = ("place", "shade", "frame", "tilt", "worth")
        actions: list[Callable[[], None]] = [
            *(lambda station=station: self.page(station) for station in stations),  # type: ignore[misc]
            lambda: self.request("GET", "/builds/", name="list") and None,
            moved,
            tree,
            lambda: self.edit("frame", columns=str(rng.choice((3, 4, 5, 6)))),
            lambda: self.edit("tilt", settings=str(rng.randint(1, 12))),
            lambda: self.edit("worth", import_price=f"0.{rng.randint(15, 45)}"),
        ]
        rng.choice(actions)()

    def live(self, until: float) -> None:
        rng = random.Random(self.number)  # noqa: S311
        time.sleep(rng.uniform(0, PAUSE[1]))
        while time.monotonic() < until:
            self.act(rng)
            time.sleep(rng.uniform(*PAUSE))


def people(port: int, form_data: Callable[[Any, str], dict[str, Any]], count: int = PEOPLE, name: str = "person") -> list[Person]:
    """Accounts with a build each, signed in."""
    from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY
    from django.contrib.auth.models import User
    from django.contrib.sessions.backends.db import SessionStore
    from django.middleware.csrf import _get_new_csrf_string

    from sundial.brief.read import brief_of
    from web.accounts.demo import BUILDS, demo_brief
    from web.builds.briefs import build_from_brief
    from web.builds.models import Build

    found = []
    for number in range(count):
        user = User.objects.create_user(f"{name} {number}", password=None)
        brief = brief_of({**demo_brief(BUILDS[0].name), "wiring": {"kind": "series", "strings": []}})
        build = Build.objects.whole().get(pk=build_from_brief(user, brief).pk)
        session = SessionStore()
        session[SESSION_KEY], session[BACKEND_SESSION_KEY] = str(user.pk), "django.contrib.auth.backends.ModelBackend"
        session[HASH_SESSION_KEY] = user.get_session_auth_hash()
        session.save()
        forms = {station: form_data(build, station) for station in ("place", "shade", "frame", "tilt", "worth")}
        found.append(Person(number, port, str(session.session_key), _get_new_csrf_string(), build.pk, forms))
    return found


@contextmanager
def served() -> Iterator[tuple[int, subprocess.Popen[bytes]]]:
    """A server on the bench's database with two web workers, and one worker for long work: its port, and its process."""
    from django.db import connection

    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    env = {**os.environ, "SUNDIAL_DB": connection.settings_dict["NAME"], "SUNDIAL_BROKER_DB": "9"}
    bin_ = Path(sys.executable).parent
    server = subprocess.Popen(
        [bin_ / "gunicorn", "web.wsgi", "--bind", f"127.0.0.1:{port}", "--config", "scripts/gunicorn_settings.py"],
        cwd=ROOT, env=env, start_new_session=True,
    )  # fmt: skip
    worker = subprocess.Popen(
        ["nice", "-n", "10", bin_ / "celery", "-A", "web.celery", "worker", "--concurrency", "2", "--loglevel", "error",
         "--without-gossip", "--without-mingle"], cwd=ROOT, env=env, start_new_session=True,
    )  # fmt: skip
    try:
        for _ in range(300):
            try:
                socket.create_connection(("127.0.0.1", port), 0.2).close()
                break
            except OSError:
                time.sleep(0.1)
        yield port, server
    finally:
        for process in (server, worker):
            os.killpg(process.pid, signal.SIGTERM)
            process.wait(timeout=30)


def load_rows(form_data: Callable[[Any, str], dict[str, Any]]) -> list[Row]:
    """Drive a server on the bench's database for a minute."""
    with served() as (port, _):
        everyone = people(port, form_data)
        for one in everyone:  # each has looked at the build before the clock starts
            one.page("tilt")
            one.taken.clear()
        until = time.monotonic() + SECONDS
        threads = [threading.Thread(target=one.live, args=(until,)) for one in everyone]
        for thread in threads:
            thread.start()
        for thread in threads:
            thread.join()
    every = [seconds for one in everyone for _, seconds in one.taken]
    troubles = [trouble for one in everyone for trouble in one.troubles]
    for trouble in sorted(set(troubles))[:10]:
        print(f"    {trouble}", file=sys.stderr)
    edits = [seconds for one in everyone for name, seconds in one.taken if name.startswith("edit")]
    return [
        (
            f"{PEOPLE} people for {SECONDS:.0f} s, 2 web workers, {len(every)} requests, {len(troubles)} errors",
            f"{np.median(every) * 1000:.0f} ms median",
            f"{np.percentile(every, 95) * 1000:.0f} ms at the 95th percentile",
            "1500 ms, no error",
        ),
        (
            f"of these {len(edits)} edits",
            f"{np.median(edits) * 1000:.0f} ms median",
            f"{np.percentile(edits, 95) * 1000:.0f} ms at the 95th percentile",
            "",
        ),
    ]
