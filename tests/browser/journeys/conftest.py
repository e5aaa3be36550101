"""A new account, and the guided start in a person's own words."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import station

Begun = Callable[..., Page]
MOVES = re.compile(r"Move it|should stand at|Yours stands at")


@pytest.fixture
def newcomer(app: Page) -> Page:
    """Signed up just now: no build yet."""
    app.get_by_role("link", name="Make an account").click()
    app.locator("#id_username").fill("oda")
    app.locator("#id_password1").fill("a crooked walnut 9")
    app.locator("#id_password2").fill("a crooked walnut 9")
    app.get_by_role("button", name="Make my account").click()
    return app


@pytest.fixture
def begin(newcomer: Page) -> Begun:
    """Walks the three steps: ``panels`` and ``stand`` are what is typed, by label; ``on`` and ``moves`` what is pressed."""

    def walked(
        name: str, where: str, on: str, moves: str, panels: dict[str, str], stand: dict[str, str], sky: str = "dry upland"
    ) -> Page:
        newcomer.goto(newcomer.url.split("/account")[0].split("/builds")[0] + "/builds/")
        newcomer.get_by_label("Its name", exact=True).fill(name)
        newcomer.get_by_role("button", name="Begin").click()
        newcomer.get_by_label("Latitude", exact=True).fill(where)
        newcomer.get_by_role("button", name="Next").click()
        for label, typed in panels.items():
            newcomer.get_by_label(label, exact=True).fill(typed)
        newcomer.get_by_role("button", name="Next").click()
        newcomer.get_by_text(on, exact=True).click()
        newcomer.get_by_text(moves, exact=True).click()
        for label, typed in stand.items():
            newcomer.get_by_label(label, exact=True).fill(typed)
        newcomer.get_by_role("button", name="Show me the plan").click()
        expect(newcomer.get_by_role("navigation", name="Stations")).to_be_visible()
        newcomer.wait_for_load_state()
        return newcomer

    return walked


def typed(page: Page, label: str, text: str) -> None:
    """Type into a field and leave it; back when the server has it."""
    field = page.get_by_label(label, exact=True).or_(page.get_by_role("textbox", name=label, exact=True)).first
    field.fill(text)
    with page.expect_response(lambda answer: answer.request.method == "POST" and answer.ok):
        field.press("Tab")
    expect(page.locator("#state")).to_have_text("saved")


def year_of(page: Page) -> str:
    """kWh a year of the headline of The angle, as written."""
    found = re.search(r"([\d\u202f]+) kWh a year", page.get_by_role("heading", level=1).inner_text())
    assert found, page.get_by_role("heading", level=1).inner_text()
    return found[1]


def nothing_is_told_to_move(page: Page) -> None:
    for name in (
        "The place",
        "The shade",
        "The frame",
        "The angle",
        "Worth it?",
        "The wind",
        "The cutting",
        "The log",
        "The bench",
    ):
        station(page, name)
        expect(page.locator(".today")).to_contain_text("it stays at")
        expect(page.locator("main")).not_to_contain_text(MOVES)
