"""A real browser on the real application: Debian's Chromium, a live server, the test database."""

from __future__ import annotations

import os
from collections.abc import Iterator
from typing import Any

import pytest
from django.core.management import call_command
from playwright.sync_api import Page, expect

from tests.application import _every_view_is_loaded, _jobs_run_here, _whitenoise_serves  # noqa: F401 - for every test here
from web.frame.models import Frame
from web.wind.models import Wind

PATIENCE = 1000 * int(os.environ.get("SUNDIAL_PATIENCE", "90"))  # ms; a loaded machine takes ten times as long as a quiet one
expect.set_options(timeout=PATIENCE)
EXPECTED = ("Failed to load resource", "Response Status Error Code")  # answers that a test asks for: 401, 404, 503


@pytest.fixture(scope="session", autouse=True)
def static_files() -> None:
    if "PYTEST_XDIST_WORKER" not in os.environ:  # side by side the workers share what ./check has collected
        call_command("collectstatic", interactive=False, verbosity=0)


@pytest.fixture(scope="session")
def browser_type_launch_args() -> dict[str, Any]:
    quiet = [
        "--no-sandbox",
        "--disable-gpu",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--no-first-run",
    ]
    return {"executable_path": "/usr/bin/chromium", "args": quiet}


@pytest.fixture(scope="session")
def browser_context_args() -> dict[str, Any]:
    return {"viewport": {"width": 1280, "height": 800}, "locale": "en-GB", "accept_downloads": True}


@pytest.fixture
def app(live_server, settings, page: Page) -> Iterator[Page]:
    """A page on the front door; whatever the browser complains about fails the test."""
    settings.DEMO = True
    complaints: list[str] = []
    page.on("pageerror", lambda error: complaints.append(f"script error: {error}"))
    page.on(
        "console",
        lambda line: complaints.append(line.text) if line.type == "error" and not line.text.startswith(EXPECTED) else None,
    )
    page.on(
        "response",
        lambda answer: (
            complaints.append(f"{answer.status} {answer.url}") if answer.status >= 400 and "/static/" in answer.url else None
        ),
    )
    page.set_default_timeout(PATIENCE)
    page.goto(live_server.url)
    yield page
    assert complaints == []


@pytest.fixture
def honey(app: Page) -> Page:
    """Signed in to the demo, the honey house open at its tilt plan."""
    app.get_by_role("button", name="Look round the demo").click()
    app.get_by_role("heading", name="Honey house", level=2).click()
    expect(app.get_by_role("heading", level=1)).to_contain_text("Move it twice a year")
    app.wait_for_load_state()
    return app


@pytest.fixture
def told(honey: Page) -> Page:
    """The honey house with its tilts told, before anybody says what it is built from or what blows; its page is the frame's."""
    Wind.objects.filter(build__name="Honey house").update(told=False)
    mount = {"kind": "stepped", "tilts": [16.0, 23.0, 29.5, 36.0, 42.0, 47.5, 52.0, 57.0]}
    Frame.objects.filter(build__name="Honey house").update(
        structure=None, mount=mount, tilts_typed="16, 23, 29.5, 36, 42, 47.5, 52, 57"
    )
    station(honey, "The frame")
    return honey


def saved(page: Page) -> None:
    expect(page.locator("#state")).to_have_text("saved")


def station(page: Page, name: str) -> None:
    """Go to a station; on a phone its group is opened first."""
    stations = page.get_by_role("navigation", name="Stations")
    group = stations.locator(".rail-group", has=page.locator("a", has_text=name)).locator(".rail-open")
    if group.is_visible():
        group.click()
    stations.get_by_role("link", name=name).click()
    expect(page.get_by_role("navigation", name="Stations").locator("[aria-current=page]")).to_contain_text(name)
    page.wait_for_load_state()
