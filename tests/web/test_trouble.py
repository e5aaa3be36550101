"""What a server has to bear: a full disk, locks that meet, a database that hangs; and what is told to who watches over it."""

from __future__ import annotations

import errno
import json
import logging

import pytest
from django.core.cache import cache
from django.db import InternalError, OperationalError
from django.test import Client

from web.builds import views
from web.builds.models import Build
from web.jobs.queue import WORKER_SEEN
from web.logs import JsonFormatter
from web.middleware import trouble_page

pytestmark = pytest.mark.django_db
DEADLOCK = OperationalError(1213, "Deadlock found when trying to get lock")


@pytest.mark.parametrize(
    ("error", "status", "words"),
    [
        (OperationalError(1114, "The table is full"), 507, "disk is full"),
        (InternalError(1021, "Disk full"), 507, "disk is full"),
        (OperationalError(1030, 'Got error 28 "No space left on device"'), 507, "disk is full"),
        (OSError(errno.ENOSPC, "No space left on device"), 507, "disk is full"),
        (DEADLOCK, 503, "Two changes met"),
        (OperationalError(1205, "Lock wait timeout exceeded"), 503, "Two changes met"),
        (OperationalError(2013, "Lost connection to server during query"), 503, "away for a moment"),
    ],
)
def test_each_trouble_is_told_in_words(site, build, monkeypatch, error, status, words):
    def broken(*_: object) -> None:
        raise error

    monkeypatch.setattr(Build.objects.__class__, "of", broken)
    answer = site.post(f"/builds/{build.pk}/rename/", {"name": "Barn"})
    assert answer.status_code == status
    assert words in answer.content.decode()


def test_a_fault_of_our_own_is_no_trouble_of_the_database():
    assert trouble_page(OperationalError(1054, "Unknown column")) is None
    assert trouble_page(OSError(errno.ENOENT, "No such file")) is None
    assert trouble_page(OperationalError(1030, "Got error 168")) is None


@pytest.mark.django_db(transaction=True)
def test_a_page_that_met_a_deadlock_is_asked_for_again(site, build, monkeypatch):
    """Two page loads that met: each is answered; a change is not sent twice by itself."""
    met = []

    def sometimes(request, pk):
        met.append(request.method)
        if len(met) < 3:
            raise DEADLOCK
        return found(request, pk)

    found = views.own_build
    monkeypatch.setattr(views, "own_build", sometimes)
    assert site.get(f"/builds/{build.pk}/brief.json").status_code == 200
    assert met == ["GET"] * 3
    met.clear()
    assert site.post(f"/builds/{build.pk}/rename/", {"name": "Barn"}).status_code == 503
    assert met == ["POST"]


def test_it_says_whether_it_lives_and_can_work(client):
    assert client.get("/healthz").content == b"ok\n"
    cache.set(WORKER_SEEN, "now", timeout=60)
    told = client.get("/readyz")
    assert told.status_code == 200
    assert told.json() == {"ready": True, "database": True, "migrations": True, "whole": True, "broker": True, "worker": True}
    cache.delete(WORKER_SEEN)
    assert client.get("/readyz").json()["worker"] is False


def test_it_is_not_ready_without_its_database(client, monkeypatch):
    def away(*_: object, **__: object) -> None:
        raise OperationalError(2003, "Can't connect")

    monkeypatch.setattr("web.health.connection.cursor", away)
    told = client.get("/readyz")
    assert told.status_code == 503
    assert told.json()["database"] is told.json()["ready"] is False
    assert client.get("/healthz").status_code == 200


class Kept(logging.Handler):
    """Keeps the lines as they would be written."""

    def __init__(self) -> None:
        super().__init__()
        self.setFormatter(JsonFormatter())
        self.lines: list[dict] = []

    def emit(self, record: logging.LogRecord) -> None:
        self.lines.append(json.loads(self.format(record)))


def test_every_request_is_logged_without_its_secrets(client, person):
    kept = Kept()
    logging.getLogger("web.access").addHandler(kept)
    client.force_login(person)
    client.get("/builds/?page=secret")
    client.get("/account/by-mail/MQ/abc-secret/")
    client.post("/account/sign-in/", {"username": "maren", "password": "secret"})
    logging.getLogger("web.access").removeHandler(kept)
    lines = kept.lines
    assert [(line["method"], line["status"]) for line in lines] == [("GET", 200), ("GET", 200), ("POST", 200)]
    assert lines[0]["path"] == "/builds/"
    assert lines[0]["user"] == person.pk
    assert lines[0]["milliseconds"] >= 0
    assert "secret" not in json.dumps(lines)


def test_an_id_of_the_proxy_is_kept_and_nobody_elses(settings):
    settings.TRUSTED_PROXIES = ["127.0.0.1"]
    asked = Client(headers={"X-Request-ID": "abc123"})
    assert asked.get("/healthz")["X-Request-ID"] == "abc123"
    assert asked.get("/healthz", REMOTE_ADDR="203.0.113.9")["X-Request-ID"] != "abc123"
    assert Client(headers={"X-Request-ID": "a\r\nb"}).get("/healthz")["X-Request-ID"].isalnum()
