"""Windows that work against one another: an edit against a delete, two page loads, an account deleted while it edits."""

from __future__ import annotations

import uuid
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from threading import Barrier

import pytest
from django.contrib.auth.models import User
from django.db import connection
from django.test import Client

from tests.web.conftest import PASSWORD, build_for
from web.builds.editing import write
from web.builds.models import Build, StoredResult
from web.cutting.models import Cutting
from web.jobs.models import Job
from web.jobs.queue import submit
from web.log.models import LogBook
from web.place.models import Place
from web.tilt.models import Plan

pytestmark = pytest.mark.django_db(transaction=True)
BACKEND = "django.contrib.auth.backends.ModelBackend"


def together(person: User, works: list[Callable[[Client], list[int]]]) -> list[int]:
    """The statuses of several windows of one person that start at the same moment."""
    start = Barrier(len(works))

    def window(work: Callable[[Client], list[int]]) -> list[int]:
        client = Client(raise_request_exception=False)
        try:
            client.force_login(person, backend=BACKEND)
            start.wait(30)
            return work(client)
        finally:
            connection.close()

    with ThreadPoolExecutor(len(works)) as pool:
        return [status for statuses in pool.map(window, works) for status in statuses]


@pytest.fixture
def maren() -> User:
    return User.objects.create_user("maren", password=PASSWORD)


def saves(build: Build, times: int) -> Callable[[Client], list[int]]:
    def work(client: Client) -> list[int]:
        found = []
        for number in range(times):
            version = Build.objects.filter(pk=build.pk).values_list("version", flat=True).first() or 1
            data = {
                "version": version,
                "settings": str(1 + number % 5),
                "goal": "year",
                "minutes_per_move": "12",
                "people": "1",
                "value_of_hour": "6",
            }
            found.append(client.post(f"/builds/{build.pk}/tilt/", data, headers={"HX-Request": "true"}).status_code)
        return found

    return work


def test_an_edit_against_a_delete(maren):
    build = build_for(maren)

    def throws(client: Client) -> list[int]:
        found = []
        for _ in range(12):
            found.append(client.post(f"/builds/{build.pk}/delete/").status_code)
            found.append(client.post(f"/builds/{build.pk}/undelete/").status_code)
        return found

    statuses = together(maren, [saves(build, 12), throws, saves(build, 12), throws])
    assert {200, 302} <= set(statuses) <= {200, 302, 404, 410, 503}
    assert Build.objects.filter(pk=build.pk).exists()


def test_an_edit_of_a_build_that_is_gone_is_told(maren, client):
    client.force_login(maren, backend=BACKEND)
    build = build_for(maren)
    Build.objects.filter(pk=build.pk).delete()
    assert client.post(f"/builds/{build.pk}/tilt/", {"version": 1}).status_code == 404


@pytest.mark.parametrize("attempt", range(3))
def test_page_loads_that_make_the_same_rows(maren, attempt):
    """Missing parts, and results that nobody has computed yet: each window makes them, and every one is answered."""
    build = build_for(maren)
    Plan.objects.filter(build=build).delete()
    Place.objects.filter(build=build).delete()
    StoredResult.objects.all().delete()

    def loads(client: Client) -> list[int]:
        return [client.get(f"/builds/{build.pk}/{station}/").status_code for station in ("tilt", "place", "tilt", "frame")]

    assert set(together(maren, [loads] * 4)) == {200}
    assert Plan.objects.filter(build=build).count() == 1


def test_an_account_deleted_while_it_edits(maren):
    build = build_for(maren)

    def leaves(client: Client) -> list[int]:
        return [client.post("/account/delete/", {"word": "delete"}).status_code]

    statuses = together(maren, [saves(build, 10), saves(build, 10), leaves])
    assert 500 not in statuses
    assert not User.objects.filter(pk=maren.pk).exists() or 503 in statuses
    assert not Build.objects.filter(owner=None).exists()


def test_a_button_pressed_twice_makes_one(maren):
    build = build_for(maren)
    key = str(uuid.uuid4())

    def presses(client: Client) -> list[int]:
        return [client.post(f"/builds/{build.pk}/copy/", {"creation_key": key}).status_code]

    def begins(client: Client) -> list[int]:
        return [client.post("/builds/new/", {"name": "Shed", "creation_key": "7b0d8f3e-0000-4000-8000-00000000abcd"}).status_code]

    assert set(together(maren, [presses, presses, begins, begins])) == {302}
    assert Build.objects.of(maren).count() == 3


def test_a_form_writes_what_it_changed_and_no_tick_or_step_is_lost(maren):
    """Ticks, and a device that adds to the log, while the same parts are saved from a form: none is undone by what the form read before."""
    build = build_for(maren)
    _ = build.cutting, build.logbook

    def ticks(client: Client) -> list[int]:
        return [
            client.post(f"/builds/{build.pk}/cutting/tick/", {"key": f"A{number}", "done": "1"}).status_code
            for number in range(50)
        ]

    def kerfs(client: Client) -> list[int]:
        found = []
        for number in range(12):
            draft = Build.objects.whole().get(pk=build.pk)
            draft.cutting.kerf = 0.002 + number / 1e4
            draft.logbook.meter_error = 0.02 + number / 1e3
            LogBook.objects.get(build=build).touch()  # a device, after the form has read
            found.append(200 if write(draft, draft.version, [draft.cutting, draft.logbook]) else 409)
        return found

    statuses = together(maren, [ticks, kerfs])
    assert set(statuses) <= {200, 409} and statuses.count(200) >= 55
    kept = Cutting.objects.get(build=build)
    assert set(kept.done) == {f"A{number}" for number in range(50)}
    assert LogBook.objects.get(build=build).revision == 12 and kept.kerf == pytest.approx(0.0031)


def test_a_chore_asked_for_by_two_windows_at_once_is_there_once(maren):
    start = Barrier(2)

    def ask(_: int) -> int:
        try:
            start.wait(30)
            return submit("list", "list", "a digest", maren, params={"builds": []}).pk
        finally:
            connection.close()

    with ThreadPoolExecutor(2) as pool:
        assert len(set(pool.map(ask, range(2)))) == 1
    assert Job.objects.filter(name="list").count() == 1
