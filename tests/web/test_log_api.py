"""The door for devices: batches that may be sent twice, tokens, limits, and what the committed description says of it."""

from __future__ import annotations

import json
import threading
import uuid
from datetime import UTC, datetime, timedelta
from io import StringIO
from pathlib import Path
from typing import Any

import pytest
import schemathesis
from django.core.management import CommandError, call_command
from django.utils import timezone
from hypothesis import HealthCheck, settings
from schemathesis import checks

from web.builds.models import Build
from web.devices import api as api_module
from web.devices.api import openapi
from web.devices.models import Token, digest_of
from web.log.models import Aside, Entry, SeriesDay, Source
from web.log.store import series_of, source_named

ROOT = Path(__file__).parents[2]
START = datetime(2026, 6, 21, 10, tzinfo=UTC)


def key_for(build: Build, name: str = "Pole") -> tuple[Token, str]:
    return Token.made(build, source_named(build, name, 1.0), name)


def post(client: Any, secret: str, body: Any, path: str = "/api/readings", kind: str = "application/json") -> Any:
    data = body if isinstance(body, str | bytes) else json.dumps(body)
    return client.post(path, data, content_type=kind, headers={"Authorization": f"Bearer {secret}"})


def rows(count: int, power: float = 100.0, step: int = 60) -> list[dict[str, Any]]:
    return [{"time": (START + timedelta(seconds=step * n)).isoformat(), "power": power + n} for n in range(count)]


@pytest.mark.django_db
def test_a_batch_is_kept_and_sent_again_adds_nothing(client, build):
    token, secret = key_for(build)
    assert post(client, secret, {"readings": rows(30), "step": 60}).json() == {
        "added": 30, "known": 0, "differing": 0, "aside": 0, "left_out": 0, "events_added": 0, "events_known": 0, "turns_added": 0, "notes": [],
    }  # fmt: skip
    again = post(client, secret, {"readings": rows(31)}).json()
    assert (again["added"], again["known"]) == (1, 30)
    other = post(client, secret, {"readings": rows(2, power=500.0)}).json()
    assert (other["added"], other["known"], other["differing"]) == (0, 2, 2)
    held = series_of(Source.objects.get())
    assert held.power.tolist() == [100.0 + n for n in range(31)] and held.step == 60
    token.refresh_from_db()
    assert token.used_at is not None and digest_of(secret) == token.digest and secret not in str(Token.objects.values())


@pytest.mark.django_db
def test_volts_and_amps_events_and_what_cannot_be(client, build):
    _, secret = key_for(build)
    number = str(uuid.uuid4())
    batch = {
        "readings": [
            {"time": START.isoformat(), "volts": 30.0, "amps": 4.0},
            {"time": "1970-01-01T00:00:00Z", "power": 5},
            {"time": (timezone.now() + timedelta(days=2)).isoformat(), "power": 5},
            {"time": (START + timedelta(minutes=5)).isoformat(), "power": 9000},
        ],
        "events": [{"id": number, "entry": {"kind": "move", "at": START.isoformat(), "tilt": 36}}],
    }
    found = post(client, secret, batch).json()
    assert (found["added"], found["aside"], found["left_out"], found["events_added"]) == (1, 1, 2, 1)
    assert len(found["notes"]) == 3 and "clock was not set" in found["notes"][0] and "future" in found["notes"][1]
    assert series_of(Source.objects.get()).power.tolist() == [120.0] and Aside.objects.get().power == 9000
    assert post(client, secret, batch).json()["events_known"] == 1
    assert Entry.objects.get().data["tilt"] == 36 and Build.objects.get(pk=build.pk).stands_at == 36


@pytest.mark.django_db
def test_csv_through_the_same_door(client, build):
    _, secret = key_for(build)
    text = "time,power\n2026-06-21T12:00:00Z,1840\n2026-06-21T14:01:00+02:00,1850\n"
    assert post(client, secret, text, "/api/readings.csv", "text/csv").json()["added"] == 2
    for wrong, words in (("time,power\nsoon,4\n", "row 2"), ("time,power\n", "no row"), (b"\xff\xfe\x00", "UTF-8"), ("", "no row"),
                         ("time,power\n2026-06-21T12:00:00,4\n", "row 2")):  # fmt: skip
        answer = post(client, secret, wrong, "/api/readings.csv", "text/csv")
        assert answer.status_code == 422 and words in answer.json()["detail"], wrong
    assert series_of(Source.objects.get()).unix.size == 2


@pytest.mark.django_db
@pytest.mark.parametrize(
    ("body", "words"),
    [
        ("{", "body"),
        ({"readings": [{"time": "2026-06-21T12:00:00Z"}]}, "readings.0"),
        ({"readings": [{"time": "2026-06-21T12:00:00", "power": 4}]}, "readings.0.time"),
        ('{"readings": [{"time": "2026-06-21T12:00:00Z", "power": NaN}]}', "power"),
        ({"readings": [{"time": "2026-06-21T12:00:00Z", "power": -4}]}, "power"),
        ({"reedings": []}, "reedings"),
        ({"readings": [{"time": "2026-06-21T12:00:00Z", "power": 4}] * 5001}, "readings"),
        ({"events": [{"id": "x", "entry": {"kind": "note", "at": "2026-06-21T12:00:00Z", "note": "x"}}]}, "id"),
    ],
)
def test_what_cannot_be_read_is_refused_whole_with_its_place(client, build, body, words):
    _, secret = key_for(build)
    answer = post(client, secret, body)
    assert answer.status_code in (400, 422) and words in answer.content.decode(), answer.content
    assert not SeriesDay.objects.exists() and not Entry.objects.exists()


@pytest.mark.django_db
def test_keys_are_shown_once_work_for_one_build_and_are_taken_away(site, client, build):
    page = site.post(f"/builds/{build.pk}/log/token/", {"name": "Pole"}).content.decode()
    secret = page.partition('id="secret">')[2].partition("<")[0]
    assert secret.startswith("sundial_") and len(secret) > 45
    assert secret not in site.get(f"/builds/{build.pk}/log/").content.decode()
    assert post(client, secret, {"readings": rows(1)}).status_code == 200
    token = Token.objects.get()
    site.post(f"/builds/{build.pk}/log/token/{token.pk}/revoke/")
    for wrong in (secret, "sundial_none", "", "x" * 200, secret[:-1]):
        assert post(client, wrong, {"readings": rows(2)}).status_code == 401
    assert client.post("/api/readings", "{}", content_type="application/json").status_code == 401
    _, other = key_for(build, "Other")
    Build.objects.filter(pk=build.pk).update(deleted_at=timezone.now())
    assert post(client, other, {"readings": rows(1)}).status_code == 401


@pytest.mark.django_db
def test_a_device_that_asks_too_often_is_slowed_down(client, build, monkeypatch):
    _, secret = key_for(build)
    monkeypatch.setattr(api_module, "A_MINUTE", 3)
    codes = [post(client, secret, {"readings": rows(1)}).status_code for _ in range(5)]
    assert codes[:3] == [200] * 3 and codes[-1] == 429


@pytest.mark.django_db
def test_a_month_of_packets_takes_no_plan_and_little_room(client, build):
    _, secret = key_for(build)
    for day in range(3):
        at = START + timedelta(days=day)
        batch = [{"time": (at + timedelta(seconds=10 * n)).isoformat(), "power": n % 700} for n in range(3000)]
        post(client, secret, {"readings": batch, "step": 10})
    assert sum(len(bytes(row.data)) for row in SeriesDay.objects.all()) < 60_000
    assert SeriesDay.objects.first().energy == pytest.approx(sum(n % 700 for n in range(3000)) * 10 / 3600, rel=0.01)


@pytest.mark.django_db(transaction=True)
def test_batches_that_arrive_at_once_lose_nothing(live_server, build):
    import urllib.request

    _, secret = key_for(build)

    def send(number: int) -> None:
        batch = [{"time": (START + timedelta(seconds=60 * (n * 8 + number))).isoformat(), "power": n} for n in range(40)]
        request = urllib.request.Request(  # noqa: S310
            f"{live_server.url}/api/readings", json.dumps({"readings": batch}).encode(),
            headers={"Authorization": f"Bearer {secret}", "Content-Type": "application/json"},
        )  # fmt: skip
        with urllib.request.urlopen(request, timeout=60) as answer:  # noqa: S310
            assert json.load(answer)["added"] == 40

    threads = [threading.Thread(target=send, args=(number,)) for number in range(8)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert series_of(Source.objects.get()).unix.size == 320


def test_the_committed_description_is_the_one_that_is_served():
    held = json.loads((ROOT / "docs" / "openapi.json").read_text("utf-8"))
    assert held == json.loads(json.dumps(openapi())), "write it anew: python manage.py openapi > docs/openapi.json"


door = schemathesis.openapi.from_dict(openapi())


@pytest.mark.django_db(transaction=True)
@door.parametrize()
@settings(max_examples=25, deadline=None, suppress_health_check=list(HealthCheck))
def test_whatever_is_sent_is_answered_as_described(case, live_server, person):
    """Random bodies, headers and paths: never a failure of the server, always an answer of the description."""
    from tests.web.conftest import build_for

    build = Build.objects.filter(owner=person).first() or build_for(person)
    token = Token.objects.filter(build=build).first()
    if token is None:
        token, secret = key_for(build)
        SECRETS[token.pk] = secret
    response = case.call(base_url=live_server.url, headers={"Authorization": f"Bearer {SECRETS[token.pk]}"})
    case.validate_response(
        response,
        checks=(
            checks.not_a_server_error,
            checks.status_code_conformance,
            checks.content_type_conformance,
            checks.response_schema_conformance,
        ),
    )


SECRETS: dict[int, str] = {}


@pytest.mark.django_db(transaction=True)
def test_the_simulated_monitor_posts_a_day_and_writes_files(live_server, build, tmp_path):
    out = StringIO()
    options = {"day": START.date(), "speed": 0, "url": live_server.url, "dropped": 0.1, "repeated": 0.2, "stdout": out}
    call_command("monitor", str(build.pk), **options)
    source = Source.objects.get()
    held = series_of(source)
    assert 230 < held.unix.size < 280 and held.step == 300 and "packets sent" in out.getvalue()
    assert source.name == "Simulated monitor" and Token.objects.get().revoked_at is None
    call_command("monitor", build.name, **options)
    assert series_of(source).unix.size == held.unix.size and Token.objects.filter(revoked_at=None).count() == 1
    file = tmp_path / "a.csv"
    call_command("monitor", str(build.pk), csv=file, dialect="comma", days=2, day=START.date(), fault=["dirt"], stdout=out)
    assert file.read_bytes().startswith(b"Anlage;Gestell") and file.read_bytes().count(b"\n") > 570
    for wrong in ({"build": "nobody"}, {"build": str(build.pk), "days": 0}, {"build": str(build.pk), "step": 7000}):
        with pytest.raises(CommandError):
            call_command("monitor", wrong.pop("build"), **{**options, **wrong})


@pytest.mark.parametrize("at", ["0001-01-01T00:00:00+14:00", "9999-12-31T23:59:59-12:00", "1949-12-31T12:00:00Z"])
def test_the_ends_of_the_calendar_are_refused_and_the_log_lives_on(client, site, build, at):
    _, secret = key_for(build)
    event = {"id": str(uuid.uuid4()), "entry": {"kind": "note", "note": "odd", "at": at}}
    assert post(client, secret, {"events": [event]}).status_code == 422
    due = {
        "id": str(uuid.uuid4()),
        "entry": {"kind": "inspection", "what": "bolts", "at": "2026-06-01T12:00:00Z", "due": at[:10]},
    }
    assert post(client, secret, {"events": [due]}).status_code == 422
    answer = post(client, secret, {"readings": [{"time": at, "power": 100}], "turns": [{"time": at, "angles": [3]}]})
    assert answer.status_code == 200 and answer.json()["left_out"] == 1 and answer.json()["turns_added"] == 0
    assert site.get(f"/builds/{build.pk}/log/").status_code == 200


def test_three_names_are_three_devices(build):
    assert len({source_named(build, name, 1.0).pk for name in ("Zoë", "Zoe", "ZOE")}) == 3
    assert source_named(build, "Zoe", 1.0).pk == Source.objects.get(build=build, name="Zoe").pk
