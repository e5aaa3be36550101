"""Clients that send their request by drops hold up nobody, and are dropped."""

from __future__ import annotations

import os
import signal
import socket
import subprocess
import sys
import time
import urllib.request
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import contextmanager
from pathlib import Path

import pytest

from web.server import LOOK_EVERY, SILENT, WHOLE

ROOT = Path(__file__).parents[2]


@pytest.fixture
def port() -> Iterator[int]:
    with serving() as found:
        yield found


@contextmanager
def serving(**env: str) -> Iterator[int]:
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        found = free.getsockname()[1]
    command = [
        sys.executable, "-m", "gunicorn", "tests.ops.slow_app", "--bind", f"127.0.0.1:{found}",
        "--config", "scripts/gunicorn_settings.py", "--no-control-socket",
    ]  # fmt: skip
    server = subprocess.Popen(command, cwd=ROOT, env={**os.environ, "PYTHONPATH": str(ROOT), **env})
    try:
        for _ in range(600):
            with socket.socket() as tried:
                if tried.connect_ex(("127.0.0.1", found)) == 0:
                    break
            time.sleep(0.1)
        yield found
    finally:
        server.terminate()
        server.wait(20)


def ask(port: int, query: str = "") -> tuple[bytes, float]:
    start = time.monotonic()
    with urllib.request.urlopen(f"http://127.0.0.1:{port}/{query}", timeout=30) as answer:
        return answer.read(), time.monotonic() - start


def test_unfinished_requests_hold_up_nobody(port):
    ask(port)  # awake
    slow = []
    for number in range(20):
        client = socket.create_connection(("127.0.0.1", port))
        # Half of them stop within the head, half within the body.
        client.sendall(
            b"GET / HTTP/1.1\r\nHost: x\r\nX-A" if number % 2 else b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 90\r\n\r\nab"
        )
        slow.append(client)
    time.sleep(1)
    answers = [ask(port) for _ in range(10)]
    assert all(body == b"0" for body, _ in answers)
    assert max(seconds for _, seconds in answers) < SILENT / 2
    for client in slow:
        client.settimeout(SILENT * 2)
        left = client.recv(100)
        assert left == b"" or b" 408 " in left  # dropped, or told so
        client.close()


def test_forty_clients_that_drip_hold_up_nobody_and_are_dropped(port):
    """Each promises 5 kB, or a head, and sends a byte now and then: silent for no moment, and never done."""
    ask(port)
    drips = []
    for number in range(40):
        client = socket.create_connection(("127.0.0.1", port))
        client.sendall(
            b"GET / HTTP/1.1\r\nHost: x\r\nX-A: "
            if number % 4 == 0
            else b"POST / HTTP/1.1\r\nHost: x\r\nContent-Length: 5000\r\n\r\n"
        )
        drips.append(client)
    start, slowest, gone = time.monotonic(), 0.0, set()
    while len(gone) < len(drips) and time.monotonic() - start < 3 * WHOLE:
        for number, client in enumerate(drips):
            if number not in gone:
                try:
                    client.sendall(b"x")
                    client.settimeout(0.001)
                    if client.recv(100) == b"":
                        gone.add(number)
                except TimeoutError:
                    pass
                except OSError:
                    gone.add(number)
        slowest = max(slowest, ask(port)[1], ask(port, "healthz")[1])
        time.sleep(0.5)
    assert len(gone) == len(drips), "each is dropped, whatever it sends"
    assert slowest < 2


def test_a_process_that_has_grown_too_large_is_replaced_and_no_request_is_lost():
    with serving(SUNDIAL_WEB_MB="1") as port:
        seen: list[bytes] = []
        for _ in range(8 * LOOK_EVERY):
            seen.append(ask(port, "?who=1")[0])
            if len(set(seen)) > 2:
                break
        assert len(set(seen)) > 2, "another process has taken its place"
        assert all(seen)


def test_a_killed_process_is_back_within_seconds(port):
    before = {ask(port, "?who=1")[0] for _ in range(30)}
    os.kill(int(next(iter(before))), signal.SIGKILL)
    start = time.monotonic()
    while ask(port, "?who=1")[0] in before:
        assert time.monotonic() - start < 5


def test_requests_go_to_the_process_that_is_free(port, tmp_path):
    ask(port)
    done = tmp_path / "done"
    with ThreadPoolExecutor(1) as beside:
        held = beside.submit(ask, port, f"?who=1&until={done}")
        time.sleep(0.5)
        answers = [ask(port, "?who=1")[0] for _ in range(30)]
        done.touch()
        busy = held.result()[0]
    assert sum(answer != busy for answer in answers) >= 22  # by chance it would be half of them


def test_nobody_waits_for_ever_behind_requests_that_hold_every_process_up(port, tmp_path):
    ask(port)
    done = tmp_path / "done"
    with ThreadPoolExecutor(6) as beside:
        held = [beside.submit(ask, port, f"?until={done}") for _ in range(6)]
        time.sleep(0.5)
        assert ask(port)[0] == b"0"
        assert not any(one.done() for one in held)
        done.touch()
        assert [one.result()[0] for one in held] == [b"0"] * 6
