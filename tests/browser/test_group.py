"""Two frames in one yard, as a person lets them stand there."""

from __future__ import annotations

import re

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

from tests.browser.conftest import saved, station

pytestmark = pytest.mark.django_db(transaction=True)


def grave(page: Page) -> list[str]:
    return [one["id"] for one in Axe().run(page).response["violations"] if one["impact"] in ("serious", "critical")]


def share_yard(page: Page, name: str) -> None:
    page.goto(page.url.partition("/builds/")[0] + "/builds/")
    page.get_by_role("button", name=f"More for {name}", exact=True).click()
    page.get_by_role("link", name=re.compile("Let it share a yard")).locator("visible=true").click()
    page.get_by_label("The yard’s name").fill("Sorrel Hill")
    page.get_by_role("button", name="Let it stand there").click()


def test_two_frames_share_a_yard(honey: Page):
    page = honey
    page.goto(page.url.partition("/builds/")[0] + "/builds/")
    page.get_by_role("button", name="More for Honey house", exact=True).click()
    page.get_by_role("button", name="Copy, to try something").locator("visible=true").click()
    page.get_by_role("button", name="More for Honey house (copy)").click()
    page.get_by_label("Name", exact=True).locator("visible=true").fill("Gate row")
    page.get_by_role("button", name="Rename").locator("visible=true").click()
    share_yard(page, "Honey house")
    assert grave(page) == []
    share_yard(page, "Gate row")
    expect(page.get_by_text("on the next free ground")).to_be_visible()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Two frames in Sorrel Hill")
    page.set_viewport_size({"width": 390, "height": 844})
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
    assert grave(page) == []
    page.set_viewport_size({"width": 1280, "height": 800})

    # Its neighbour stands in its plan, under its name, and is no thing of its own.
    page.get_by_role("link", name="Gate row", exact=True).first.click()
    station(page, "The shade")
    expect(page.locator("#plan .fellow")).to_have_attribute("aria-label", re.compile("Honey house, panels"))
    expect(page.locator("#things")).not_to_contain_text("Honey house, panels")
    # Other panels are drawn as any thing is.
    page.get_by_role("button", name="Panels", exact=True).press("Enter")
    expect(page.locator("#numbers")).to_contain_text("Up the slope")
    page.locator("#numbers").get_by_label("Tilt", exact=True).fill("35")
    page.keyboard.press("Tab")
    saved(page)
    expect(page.locator("#plan [data-thing='Other panels']")).to_be_visible()
