"""Everybody can use it: axe finds nothing serious, the keyboard reaches everything, a phone is enough."""

from __future__ import annotations

import re

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

from tests.browser.conftest import saved, station

pytestmark = pytest.mark.django_db(transaction=True)


def serious(page: Page, rules: tuple[str, ...] = ()) -> list[str]:
    found = Axe().run(page, options={"runOnly": list(rules)} if rules else None).response["violations"]
    return [
        f"{v['id']}: {v['nodes'][0]['html'][:160]} ({v['nodes'][0].get('failureSummary', '')[:200]})"
        for v in found
        if v["impact"] in ("serious", "critical")
    ]


def readable(page: Page) -> list[str]:
    """What axe finds in the light, and of its contrast in the dark."""
    found = serious(page)
    page.emulate_media(color_scheme="dark")
    found += [f"dark: {one}" for one in serious(page, ("color-contrast",))]
    page.emulate_media(color_scheme="light")
    return found


def test_axe_finds_nothing_serious_on_any_screen(honey: Page):
    honey.emulate_media(color_scheme="light", reduced_motion="reduce")
    for name in (
        "The tilt plan",
        "The place",
        "The shade",
        "The frame",
        "Worth it?",
        "The wind",
        "The cutting",
        "The log",
        "The bench",
    ):
        station(honey, name)
        for fold in honey.locator("details").all():
            fold.evaluate("fold => { if (!fold.classList.contains('why')) fold.open = true; }")
        assert readable(honey) == [], name
    honey.keyboard.press("Shift+?")
    expect(honey.get_by_role("dialog")).to_be_visible()
    assert readable(honey) == []
    root = honey.url.partition("/builds")[0]
    for path in ("/builds/", "/account/"):
        honey.goto(root + path)
        assert readable(honey) == [], path
    honey.goto(root + "/builds/")
    honey.get_by_label("Its name", exact=True).fill("Axe")
    honey.get_by_role("button", name="Begin").click()
    for _ in range(3):
        assert readable(honey) == []
        honey.locator(".step-form .button").click()
        honey.wait_for_load_state()
    honey.context.clear_cookies()
    for path in ("/", "/account/sign-in/", "/account/sign-up/", "/nowhere/"):
        honey.goto(root + path)
        assert readable(honey) == [], path


def test_the_journey_by_keyboard_alone(app: Page):
    def tab_to(name: str, most: int = 90) -> None:
        for _ in range(most):
            app.keyboard.press("Tab")
            focused = app.evaluate(
                "() => { const e = document.activeElement; return (e.getAttribute('aria-label') || e.labels?.[0]?.innerText || e.innerText || '').trim(); }"
            )
            if focused.startswith(name):
                return
        pytest.fail(f"{name!r} is not reached with the tabulator key")

    tab_to("Look round the demo")
    app.keyboard.press("Enter")
    expect(app.get_by_role("heading", name="Honey house", level=2)).to_be_visible()
    tab_to("Honey house")
    app.keyboard.press("Enter")
    headline = app.get_by_role("heading", level=1)
    expect(headline).to_contain_text("Move it twice a year")
    app.wait_for_load_state()
    app.keyboard.press("3")
    expect(headline).to_contain_text("8 panels")
    app.wait_for_load_state()
    tab_to("Tilt of the panel")
    before = app.locator('[data-rack="day"]').inner_text()
    app.keyboard.press("ArrowDown")
    app.keyboard.press("ArrowDown")
    assert app.locator('[data-rack="day"]').inner_text() != before
    app.keyboard.press("4")
    expect(headline).to_contain_text("Move it twice a year")
    app.wait_for_load_state()
    tab_to("2")
    app.keyboard.press("ArrowRight")
    expect(headline).to_contain_text("Move it 3 times a year")
    saved(app)
    app.keyboard.press("ArrowLeft")
    expect(headline).to_contain_text("Move it twice a year")
    tab_to("Calendar file")
    with app.expect_download():
        app.keyboard.press("Enter")
    app.keyboard.press("t")
    expect(app.get_by_text("kWh a minute")).to_be_visible()
    app.keyboard.press("5")
    expect(headline).to_contain_text("Two moves a year pay")
    app.wait_for_load_state()
    tab_to("Show “Two axes”")
    app.keyboard.press("Space")
    expect(app.locator("#headline .sub")).to_contain_text("Two axes")
    app.keyboard.press("d")
    expect(app.get_by_label("Type the chosen day", exact=True)).to_be_focused()
    app.keyboard.type("1 May")
    app.keyboard.press("Enter")
    expect(app.get_by_role("slider", name="Chosen day")).to_have_attribute("aria-valuetext", "1 May")


@pytest.mark.parametrize("name", ["The place", "The frame", "The tilt plan", "Worth it?", "The wind"])
def test_on_a_phone_nothing_is_wider_than_the_screen(honey: Page, name: str):
    honey.set_viewport_size({"width": 390, "height": 844})
    station(honey, name)
    assert honey.evaluate("document.documentElement.scrollWidth") <= 390
    honey.locator(".rail-group", has=honey.locator("[aria-current=page]")).locator(".rail-open").click()
    for link in honey.get_by_role("navigation", name="Stations").get_by_role("link").all():
        box = link.bounding_box()
        assert box["height"] >= 44
        assert box["y"] + box["height"] <= 844


def test_help_opens_two_lines_beside_a_quantity(honey: Page):
    station(honey, "The place")
    honey.get_by_label("About Latitude", exact=True).click()
    expect(honey.get_by_text("Sets the sun's path")).to_be_visible()
    honey.keyboard.press("Escape")
    expect(honey.get_by_text("Sets the sun's path")).to_be_hidden()


def test_the_printed_sheet_leaves_the_controls_away(honey: Page):
    honey.emulate_media(media="print")
    expect(honey.get_by_role("heading", level=1)).to_be_visible()
    expect(honey.locator(".rail")).to_be_hidden()
    expect(honey.locator("#station-form")).to_be_hidden()
    assert re.search("twice", honey.get_by_role("heading", level=1).inner_text())
