"""The bench as a station: a day replayed by its knobs, the year by a worker, tables to take away, a controller that is watched, and whose it is."""

from __future__ import annotations

import json
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from django.utils import timezone

from sundial.answers.bench.report import YearReport
from sundial.brief.model import BenchBrief
from sundial.brief.read import brief_of
from tests.web.conftest import build_for
from web.bench.models import Bench
from web.builds.briefs import brief_data
from web.builds.models import Build
from web.builds.results import Results, named
from web.devices.models import Token, Turn
from web.log.models import Source

pytestmark = pytest.mark.django_db
ROLL = {"kind": "one-axis", "limit": 55, "speed": 6, "moving_watts": 25, "standby_watts": 1}


@pytest.fixture
def build(person: Any) -> Build:
    """A rack that a motor rolls, in an open yard."""
    return build_for(person, yard=None, mount=ROLL)


def reread(build: Build) -> Build:
    return Build.objects.whole().get(pk=build.pk)


def text_of(answer: Any) -> str:
    return str(answer.content.decode())


def test_a_knob_replays_the_day(site, build, fill):
    page = text_of(site.get(f"/builds/{build.pk}/bench/"))
    assert "It moves " in page and "dead band" in page and "Software is no end stop" in page
    answer = text_of(fill(build, "bench", control="manual", manual_angle="10"))
    assert "It moves 0 times" in answer and "It does nothing that day." in answer
    assert reread(build).bench.settings == {"control": "manual", "manual_angle": 10.0}
    wild = text_of(fill(build, "bench", control="sensor", threshold="0.001", noise="20", cycle="0", timeout="2", sky="broken"))
    assert "It will hunt" in wild and "A cycle of 0 s" in wild and "the time-out ends it after 2" in wild


@pytest.mark.parametrize(("told", "words"), [
    ({"threshold": "-1"}, "Give a number from 0"), ({"cycle": "often"}, "Give a number"), ({"shadow": "17 15"}, "the first one first"),
    ({"seed": "1.5"}, "whole number"), ({"control": "magic"}, "valid choice"),
])  # fmt: skip
def test_a_wrong_knob_is_told_and_nothing_changes(site, build, fill, told, words):
    assert words in text_of(fill(build, "bench", **told))
    assert reread(build).bench.settings == {}


def test_settings_go_out_and_come_in_with_the_brief(site, build, fill):
    fill(build, "bench", control="hybrid", window="12", shadow="15 17", counted="on", slip="0.4")
    brief = brief_of(brief_data(reread(build)))
    assert brief.bench.control == "hybrid" and brief.bench.shadow == [15, 17] and brief.bench.position == "switches"
    twin = Bench(build=build)
    twin.from_brief(brief, {})
    assert BenchBrief.model_validate(twin.settings) == brief.bench
    told = json.loads(site.get(f"/builds/{build.pk}/bench/settings.json").content)
    assert told["window"] == 12 and BenchBrief.model_validate(told) == brief.bench


def test_a_build_without_a_motor_is_told_where_to_find_one(site, person):
    still = build_for(person, yard=None, options=[])
    page = text_of(site.get(f"/builds/{still.pk}/bench/"))
    assert "no motor moves this build" in page and "Worth it?" in page


def test_the_year_its_suggestion_and_taking_it(site, build, work):
    assert "bench/year/" in text_of(site.get(f"/builds/{build.pk}/bench/year/")), "a worker makes it"
    assert work() >= 1
    page = text_of(site.get(f"/builds/{build.pk}/bench/year/"))
    assert "This setting moves" in page and "half a degree off north" in page and "January" in page
    found: YearReport = Results(reread(build)).peek("bench_year")
    assert len(found.trade.points) == 3
    assert site.post(f"/builds/{build.pk}/bench/take/", {"number": "2"}).status_code == 302
    held = BenchBrief.model_validate(reread(build).bench.settings)
    assert held == found.trade.points[2].settings
    for wrong in ("99", "x", ""):
        before = reread(build).bench.settings
        assert "older state" in text_of(site.post(f"/builds/{build.pk}/bench/take/", {"number": wrong}, follow=True))
        assert reread(build).bench.settings == before
    assert named("bench_year").dear is True, "it is a worker's"


def test_tables_to_take_away(site, build):
    header = site.get(f"/builds/{build.pk}/bench/table/?month=6&step=5&format=c")
    assert "sun_table_roll[SUN_TABLE_DAYS]" in text_of(header) and "sun_table.h" in header["Content-Disposition"]
    assert text_of(site.get(f"/builds/{build.pk}/bench/table/?month=6&step=2,5&format=csv")).startswith("date,time,roll_deg")
    assert json.loads(site.get(f"/builds/{build.pk}/bench/table/?month=2&format=json").content)["month"] == 2
    for wrong in ("month=13", "month=x", "step=0", "step=nan", "format=xml"):
        assert site.get(f"/builds/{build.pk}/bench/table/?{wrong}").status_code == 302


# -- the controller at the door -------------------------------------------------------------------------------------------


@pytest.fixture
def device(client, build):
    source = Source.objects.create(build=build, name="Board")
    _, secret = Token.made(build, source, "Board")

    def send(**body: Any) -> Any:
        return client.post(
            "/api/readings", json.dumps(body), content_type="application/json", headers={"Authorization": f"Bearer {secret}"}
        )

    send.secret = secret  # type: ignore[attr-defined]
    return send


def test_a_board_fetches_its_table_and_its_turns_are_watched(client, site, build, device):
    table = client.get("/api/sun-table?month=6&step=5", headers={"Authorization": f"Bearer {device.secret}"})
    assert table.status_code == 200 and len(table.json()["days"]) == 30 and table.json()["days"][0]["roll"][72] is not None
    assert client.get("/api/sun-table?month=13", headers={"Authorization": f"Bearer {device.secret}"}).status_code == 422
    assert client.get("/api/sun-table?month=6").status_code == 401
    assert "is seen here live" in text_of(site.get(f"/builds/{build.pk}/log/live/"))
    at = datetime(2026, 6, 1, 10, tzinfo=UTC)
    turns = [
        {"time": (at + timedelta(minutes=10 * place)).isoformat(), "angles": [-40.0 + 5 * place], "why": "the table's next step"}
        for place in range(3)
    ]
    first, again = device(turns=turns), device(turns=turns)
    assert first.json()["turns_added"] == 3 and again.json()["turns_added"] == 0 and Turn.objects.count() == 3
    live = text_of(site.get(f"/builds/{build.pk}/log/live/"))
    assert "−30.0°" in live and "Board" in live and "the table&#x27;s next step" in live
    assert device(turns=[{"time": at.isoformat(), "angles": [900]}]).status_code == 422
    late = (timezone.now() + timedelta(days=2)).isoformat()
    assert device(turns=[{"time": late, "angles": [3]}]).json()["turns_added"] == 0


def test_the_played_controller_follows_the_table_through_a_day(build, monkeypatch, capsys):
    from django.core.management import call_command
    from django.test import Client

    from web.devices.management.commands import controller

    client, bodies = Client(), []

    def asked(url: str, secret: str, body: Any = None) -> Any:
        path, headers = url.removeprefix("http://here"), {"Authorization": f"Bearer {secret}"}
        if body is None:
            return client.get(path, headers=headers).json()
        bodies.append(body)
        answer = client.post(path, json.dumps(body), content_type="application/json", headers=headers)
        assert answer.status_code == 200, answer.content
        return answer.json()

    monkeypatch.setattr(controller, "asked", asked)
    call_command(
        "controller",
        str(build.pk),
        "--day",
        "2026-06-10",
        "--speed",
        "0",
        "--step",
        "5",
        "--url",
        "http://here",
        "--sky",
        "clear",
    )
    turns = [turn.angles[0] for turn in Turn.objects.filter(source__build=build).order_by("at")]
    assert len(turns) > 15 and min(turns) == -55 and max(turns) == 55 and turns[-1] == -55 and turns[:-1] == sorted(turns[:-1])
    made = sum(row["power"] for body in bodies for row in body["readings"]) * 600 / 3.6e6
    assert made == pytest.approx(float(capsys.readouterr().out.split(",")[-1].split()[0]), abs=0.2) and made > 15


def test_what_is_another_persons_stays_theirs(client, stranger, build, device):
    device(turns=[{"time": "2026-06-01T10:00:00Z", "angles": [3]}])
    client.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    for path in ("bench/", "bench/year/", "bench/table/", "bench/settings.json", "log/live/"):
        assert client.get(f"/builds/{build.pk}/{path}").status_code == 404
    assert client.post(f"/builds/{build.pk}/bench/take/", {"number": "1"}).status_code == 404
    mine = build_for(stranger, yard=None, mount=ROLL)
    assert "Board" not in text_of(client.get(f"/builds/{mine.pk}/log/live/"))


def test_two_settings_side_by_side(site, build, work):
    address = f"/builds/{build.pk}/bench/beside/"
    assert "Keep these to compare" in site.get(address).content.decode()
    site.post(address, {"do": "keep"})
    part = reread(build).bench
    part.settings = {"control": "clock", "step": 15.0}
    part.save()
    site.get(address)
    work()
    page = site.get(address).content.decode()
    assert "kWh a year</b> against the kept ones" in page and page.count('<tr><th scope="row">') == 2
    site.post(address, {"do": "swap"})
    part = reread(build).bench
    assert part.beside == {"control": "clock", "step": 15.0} and part.settings != part.beside
    site.post(address, {"do": "drop"})
    assert reread(build).bench.beside is None


def test_anothers_settings_are_not_set_beside(site, stranger):
    other = build_for(stranger)
    assert site.get(f"/builds/{other.pk}/bench/beside/").status_code == 404
    assert site.post(f"/builds/{other.pk}/bench/beside/", {"do": "keep"}).status_code == 404


def test_the_places_of_a_flap_are_chosen_here_and_told_in_the_wind(site, fill, person):
    flap = build_for(person, mount={"kind": "hinge", "min_tilt": 3, "max_tilt": 51}, yard=None, wind={"gust": 25})
    assert "Its places" in site.get(f"/builds/{flap.pk}/bench/").content.decode()
    fill(flap, "bench", place_night="40", place_storm="9", place_away="27")
    assert Results(reread(flap)).brief.bench.places.night == 40
    wind = site.get(f"/builds/{flap.pk}/wind/").content.decode()
    assert "Where it may be left" in wind and "parked for a while" in wind and "half-way" in wind
    assert Results(reread(flap))["wind"].position.tilt == 9
    fill(flap, "bench", place_storm="12")
    assert Results(reread(flap))["wind"].position.tilt == 12  # another place is another answer
    answer = fill(flap, "bench", place_storm="high").content.decode()
    at = answer.index('id="err-place_storm"')
    assert "number" in answer[at : at + 200]


def test_a_roll_axis_is_asked_of_no_places(site, build):
    page = site.get(f"/builds/{build.pk}/bench/").content.decode()
    assert "Its places" not in page and 'name="place_night"' in page
