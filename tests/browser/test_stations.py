"""What every station owes its reader, whichever are plugged in: for all eyes, by one thumb, by keyboard, on paper."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import saved
from tests.browser.test_access import serious
from web.builds import registry

pytestmark = pytest.mark.django_db(transaction=True)
STATIONS = registry.stations()
GROUPS = list(dict.fromkeys(station.group for station in STATIONS))


def current(page: Page):
    return page.get_by_role("navigation", name="Stations").locator("a[aria-current=page]")


def test_digits_open_every_station(honey: Page):
    for number, station in enumerate(STATIONS, 1):
        honey.keyboard.press(str(number % 10))
        expect(current(honey)).to_contain_text(station.title)
        honey.wait_for_load_state("networkidle")


def test_single_keys_can_be_switched_off_and_stay_so(honey: Page):
    honey.emulate_media(reduced_motion="reduce")  # a dialog that is still fading in does not hear the Escape key
    honey.keyboard.press("Shift+?")
    honey.get_by_label("Single keys work").uncheck()
    honey.keyboard.press("Escape")
    expect(honey.get_by_role("dialog")).to_be_hidden()
    honey.keyboard.press("1")
    honey.keyboard.press("Shift+?")
    honey.wait_for_timeout(300)
    expect(current(honey)).to_contain_text("The tilt plan")
    expect(honey.get_by_role("dialog")).to_be_hidden()
    honey.reload()
    honey.keyboard.press("1")
    honey.wait_for_timeout(300)
    expect(current(honey)).to_contain_text("The tilt plan")
    honey.get_by_role("button", name="Keys").click()
    honey.get_by_label("Single keys work").check()
    honey.keyboard.press("Escape")
    expect(honey.get_by_role("dialog")).to_be_hidden()
    honey.keyboard.press("1")
    expect(current(honey)).to_contain_text("The place")


def test_every_station_is_reached_with_one_thumb(honey: Page):
    """At 390 px the stations stand in the lower third of the screen; groups, where there is more than one, open upward."""
    honey.set_viewport_size({"width": 390, "height": 844})
    for station in STATIONS:
        if len(GROUPS) > 1:
            bar = honey.locator(".rail-group", has=honey.locator(f'a[href$="/{station.key}/"]')).locator(".rail-open")
            assert bar.bounding_box()["y"] > 760
            bar.click()
        link = honey.get_by_role("navigation", name="Stations").get_by_role("link", name=station.title)
        box = link.bounding_box()
        assert box["y"] > 844 * 0.5
        assert box["height"] >= 44
        link.click()
        expect(current(honey)).to_have_attribute("href", re.compile(f"/{station.key}/$"))
        honey.wait_for_load_state("networkidle")
        wide = honey.evaluate("() => document.documentElement.scrollWidth")
        assert wide <= 390, f"{station.key} is {wide} px wide"
        assert serious(honey) == [], station.key


def test_the_printed_sheet_leaves_rail_and_controls_away(honey: Page):
    for number, _ in enumerate(STATIONS, 1):
        honey.emulate_media(media="screen")
        honey.keyboard.press(str(number % 10))
        honey.wait_for_load_state("networkidle")
        honey.emulate_media(media="print")
        expect(honey.locator(".rail")).to_be_hidden()
        expect(honey.locator("#station-form")).to_be_hidden()
        expect(honey.locator("#headline h1")).to_be_visible()


def test_an_expired_session_keeps_what_was_typed(honey: Page):
    for station in STATIONS:
        root = honey.url.rsplit("/", 2)[0]
        honey.goto(f"{root}/{station.key}/")
        field = honey.locator("#station-form input[type=text]:visible:not([data-part])").first
        if not field.count():
            continue
        honey.context.clear_cookies(name="sessionid")
        typed = "77"
        field.fill(typed)
        field.press("Tab")
        expect(honey.locator("#notice")).to_contain_text("You were signed out")
        expect(field).to_have_value(typed)
        honey.evaluate("() => sessionStorage.clear()")
        honey.goto(root.partition("/builds")[0])
        honey.get_by_role("button", name="Look round the demo").click()
        honey.get_by_role("heading", name="Honey house", level=2).click()
        honey.wait_for_load_state()
    saved(honey)
