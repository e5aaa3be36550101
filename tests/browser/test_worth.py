"""Worth it, hour by hour: a house with a battery, a hut without a grid, a load on the sun, on a phone and by keyboard."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import saved, station

pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture
def worth(honey: Page) -> Page:
    station(honey, "Worth it?")
    expect(honey.get_by_role("heading", name="What becomes of a kWh here")).to_be_visible()
    return honey


def typed(page: Page, label: str, text: str) -> None:
    field = page.get_by_label(label, exact=True)
    field.fill(text)
    field.press("Tab")
    saved(page)


def parts(page: Page) -> dict[str, str]:
    """What becomes of a kWh: percent by name."""
    told = page.locator(".kwh-parts li").all_inner_texts()
    return {match[2]: match[1] for text in told if (match := re.search(r"([\d]+ %|under 1 %)\s+(.+?)\s+[\d ,.\u202f]+kWh", text))}


def test_a_house_on_the_grid_gets_a_battery_and_two_prices(worth: Page):
    page = worth
    assert set(parts(page)) >= {"used at once", "sold"}
    typed(page, "Battery, usable", "6")
    expect(page.locator(".kwh-parts")).to_contain_text("stored")
    expect(page.get_by_role("row", name=re.compile("A battery 3 kWh bigger"))).to_be_visible()
    expect(page.get_by_text("The battery through the year")).to_be_visible()
    # The week follows the chosen day, the carpet the chosen quantity, both the chosen way.
    week = page.locator(".week figcaption")
    before = week.inner_text()
    page.get_by_role("slider", name="Chosen day").press("ArrowRight")
    expect(week).not_to_have_text(before)
    page.get_by_label("carpet:").select_option(label="sold")
    expect(page.locator(".carpet figcaption")).to_contain_text("The year by the hour: sold")
    sold = page.locator(".kwh-parts li", has_text=" sold ")
    of_two_moves = sold.inner_text()
    way = page.locator("#use-way")
    way.focus()
    way.select_option(label="Flat")
    expect(sold).not_to_have_text(of_two_moves, use_inner_text=True)
    expect(way).to_be_focused()
    way.select_option("two-moves")
    expect(sold).to_have_text(of_two_moves, use_inner_text=True)
    # Prices by the hour, wrong and right.
    page.get_by_text("By the hour, the month, the contract").click()
    bands = page.get_by_label("Buying by the hour", exact=True)
    bands.fill("7-23; 0.31")
    bands.press("Tab")
    expect(page.locator("#err-bands")).to_contain_text("No band holds at 00:00")
    assert bands.input_value() == "7-23; 0.31", "what was typed stays"
    bands.fill("7-23; 0.31\nrest; 0.12")
    bands.press("Tab")
    expect(page.locator("#err-bands")).to_have_text("")
    saved(page)
    with page.expect_download() as taken:
        page.get_by_role("link", name="The hours as CSV").click()
    assert taken.value.suggested_filename.endswith("hours.csv")


def test_a_hut_without_a_grid_counts_its_empty_days(worth: Page):
    page = worth
    page.get_by_text("a place without a grid", exact=True).click()
    saved(page)
    typed(page, "Battery, usable", "5")
    page.locator("#id_demand").evaluate(
        "field => { field.value = '8'; field.dispatchEvent(new Event('change', { bubbles: true })); }"
    )
    saved(page)
    expect(page.get_by_role("heading", level=1)).to_contain_text(re.compile(r"empty days? a year instead of|Buy nothing"))
    expect(page.locator(".battery-year")).to_contain_text("Something is missing:")
    expect(page.get_by_role("columnheader", name="empty days")).to_be_visible()
    station(page, "The tilt plan")
    page.get_by_text("fewest empty days", exact=True).click()
    expect(page.locator("#headline")).to_contain_text(re.compile(r"\d+ empty days a year; \d+ if it is never moved"))


def test_a_load_that_runs_on_the_sun(worth: Page):
    page = worth
    page.get_by_text("a load that runs on the sun", exact=True).click()
    saved(page)
    typed(page, "It takes at most", "900")
    typed(page, "Its tank holds", "4")
    expect(page.locator(".kwh-parts")).to_contain_text("into the tank")
    expect(page.get_by_role("columnheader", name="demand met")).to_be_visible()
    expect(page.locator("#use")).to_contain_text("A heater on them would warm")


def test_on_a_phone_and_by_keyboard(worth: Page):
    page = worth
    page.set_viewport_size({"width": 390, "height": 844})
    assert page.evaluate("document.documentElement.scrollWidth") <= 390, "nothing has to be pushed sideways"
    expect(page.locator(".kwh-bar")).to_be_visible()
    expect(page.locator("#v-two-moves-use")).to_have_attribute("data-label", "used here")
    chosen = page.locator("input[name=use_kind]:checked")
    chosen.focus()
    page.keyboard.press("ArrowDown")
    expect(page.locator("input[name=use_kind]:checked")).to_have_value("off-grid")
    saved(page)
    expect(page.locator("#v-two-moves-use")).to_have_attribute("data-label", "empty days")
    assert page.evaluate("document.documentElement.scrollWidth") <= 390
