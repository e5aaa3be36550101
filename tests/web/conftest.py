"""People and builds for the application's tests."""

from __future__ import annotations

import os
from collections.abc import Callable
from typing import Any

import pytest
from django.contrib.auth.models import User
from django.core.management import call_command
from django.test import Client

from sundial.brief.read import brief_of
from tests.application import _every_view_is_loaded, _jobs_run_here, _whitenoise_serves  # noqa: F401 - for every test here
from web.accounts.demo import demo_brief, new_visitor
from web.builds.briefs import build_from_brief
from web.builds.models import Build
from web.jobs.models import Job
from web.jobs.tasks import run_job

PASSWORD = "a tall walnut 7"


@pytest.fixture(scope="session", autouse=True)
def static_files() -> None:
    if "PYTEST_XDIST_WORKER" not in os.environ:  # side by side the workers share what ./check has collected
        call_command("collectstatic", interactive=False, verbosity=0)


@pytest.fixture
def person(db) -> User:
    return User.objects.create_user("maren", password=PASSWORD)


@pytest.fixture
def stranger(db) -> User:
    return User.objects.create_user("tove", password=PASSWORD)


TILTS = [16.0, 23.0, 29.5, 36.0, 42.0, 47.5, 52.0, 57.0]


def build_for(owner: User, **changes: Any) -> Build:
    """The honey house, its tilts told and not worked out from its frame, and nothing told of the wind."""
    told = {**demo_brief("Honey house"), "mount": {"kind": "stepped", "tilts": TILTS}, "frame": None, "wind": None}
    return build_from_brief(owner, brief_of({**told, **changes}), where="Sorrel Hill")


@pytest.fixture
def build(person) -> Build:
    return build_for(person)


@pytest.fixture
def site(client: Client, person) -> Client:
    """A browser-like client, signed in."""
    client.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
    return client


@pytest.fixture
def work() -> Callable[[], int]:
    """Do all waiting jobs here and now, as a worker would; gives how many."""

    def done() -> int:
        count = 0
        while waiting := Job.objects.filter(state=Job.State.WAITING).first():
            run_job(waiting.pk)
            count += 1
        return count

    return done


@pytest.fixture
def demo(db) -> User:
    """A visitor with a copy of the demo builds."""
    return new_visitor()


Poster = Callable[..., Any]


@pytest.fixture
def fill(site: Client) -> Poster:
    """Post a station's form as the page would: what it shows, with some answers changed. After a save the new figures are
    asked for, as the page does, and follow in the same answer."""

    def post(build: Build, station: str, htmx: bool = True, files: dict[str, Any] | None = None, **answers: Any) -> Any:
        address = f"/builds/{build.pk}/{station}/"
        form = site.get(address).context["form"]
        data: dict[str, Any] = {}
        for name, field in form.fields.items():
            value = form[name].value()
            shown = field.prepare_value(value) if hasattr(field, "prepare_value") else value
            if shown is True:
                data[name] = "on"
            elif shown is not None and shown is not False:  # 0 is an answer
                data[name] = shown
        data["version"] = Build.objects.get(pk=build.pk).version
        data |= answers
        data |= files or {}
        data = {name: value for name, value in data.items() if value is not None}
        answer = site.post(address, data, headers={"HX-Request": "true"} if htmx else {})
        if "figures-stale" in answer.headers.get("HX-Trigger", ""):
            figures = site.get(address, {"part": "answer"}, headers={"HX-Request": "true"})
            assert figures.status_code == 200
            answer.content += figures.content
            answer.context = figures.context
        return answer

    return post
