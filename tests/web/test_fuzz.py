"""Thousands of strange requests: no server error, and no figure that is no number. How long they take: scripts/fuzz.py."""

from __future__ import annotations

import time

import pytest

from tests.fuzz import Fuzzer

pytestmark = pytest.mark.django_db
SECONDS = 15.0  # of each run; two run side by side
FEWEST, MOST = 120, 1200  # requests that a run sends, on however slow or quick a machine


@pytest.mark.parametrize("seed", [1, 2])
def test_strange_requests_never_cause_a_server_error(db, seed, monkeypatch):
    monkeypatch.setattr("web.jobs.queue.send", lambda pk: None)  # long work waits for a worker, as it does in earnest
    fuzzer = Fuzzer(seed)
    fuzzer.settle()
    start, sent = time.monotonic(), []
    while len(sent) < FEWEST or (len(sent) < MOST and time.monotonic() - start < SECONDS):
        sent.append(fuzzer.one())
        assert sent[-1].status < 500 and not sent[-1].trouble, f"request {len(sent)} of seed {seed}: {sent[-1]}"
    statuses = {one.status for one in sent}
    assert {200, 302, 404} <= statuses, "they reach the product"
