"""Will the wind take it? Raise the gust until it tips, weigh it down, switch the caps on, see plan and calendar change."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import saved, station
from web.wind.models import Wind


@pytest.fixture
def windy(honey: Page) -> Page:
    """The honey house with too little on its feet, no cap in its plan."""
    Wind.objects.filter(build__name="Honey house").update(ballast=500.0, in_plan=[])
    station(honey, "The wind")
    expect(honey.get_by_role("heading", level=1)).to_contain_text("The footing is the weakest")
    return honey


def slide(page: Page, gust: float) -> None:
    page.locator("#blow-gust").evaluate(
        "(slider, gust) => { slider.value = gust; slider.dispatchEvent(new Event('input', { bubbles: true })); }", gust
    )


def force_length(page: Page) -> float:
    x1, y1, x2, y2 = map(float, re.findall(r"-?[\d.]+", page.locator('[data-blow="force"]').get_attribute("d") or "0 0 0 0"))
    return float(((x1 - x2) ** 2 + (y1 - y2) ** 2) ** 0.5)


def test_raise_the_gust_weigh_it_down_and_cap_the_plan(windy: Page):
    page = windy
    said = page.locator("#blow-said")
    slide(page, 15)
    expect(said).to_contain_text("It stands")
    short = force_length(page)
    slide(page, 30)
    assert force_length(page) + 9 == pytest.approx(4 * (short + 9), rel=0.05), "twice the wind, four times the force"
    slide(page, 35)
    expect(said).to_contain_text("It tips over at")
    expect(page.locator('[data-blow="lift"]')).to_have_attribute("d", re.compile("^M"))
    # Turned round, it presses.
    page.get_by_text("from the front", exact=True).click()
    expect(said).to_contain_text("presses with")
    page.get_by_text("from behind", exact=True).click()

    # Laid flatter with the hand it stands more.
    grip = page.get_by_role("slider", name="Tilt of the panel")
    limit = int(re.findall(r"at (\d+) m/s", said.inner_text())[0])
    for _ in range(7):
        grip.press("ArrowLeft")
    slide(page, 10)
    expect(said).to_contain_text(re.compile(r"At 16°"))
    assert int(re.findall(r"gives way at (\d+) m/s", said.inner_text())[0]) > limit

    # Ballast moves the headline.
    headline = page.get_by_role("heading", level=1)
    before = headline.inner_text()
    page.get_by_role("textbox", name="Ballast, each side").fill("900")
    page.get_by_role("textbox", name="Ballast, each side").press("Tab")
    saved(page)
    expect(headline).not_to_have_text(before)
    expect(page.locator("#blow svg .ballast")).to_have_count(2)
    page.get_by_role("textbox", name="Ballast, each side").fill("500")
    page.get_by_role("textbox", name="Ballast, each side").press("Tab")
    expect(headline).to_have_text(before)

    # The caps go into the plan: ribbon, plan and calendar follow.
    expect(page.locator("#months-said")).to_contain_text("None is in the plan yet")
    page.get_by_role("button", name="Switch on what the gusts ask").click()
    expect(page.locator("#months-said")).to_contain_text("In the plan: January")
    saved(page)
    expect(page.locator("#ribbon .windy").first).to_be_visible()
    caps = [float(text.rstrip("°")) for text in page.locator(".month-cap").all_inner_texts()]
    assert min(caps) < 52
    station(page, "The tilt plan")
    rows = page.locator(".low-left tbody").first.inner_text()
    assert "52°" not in rows
    with page.expect_download() as download:
        page.get_by_role("link", name="Calendar file").click()
    assert "52" not in re.findall(r"SUMMARY:.*", download.value.path().read_text())[0]


def test_what_is_wrong_is_told_beside_it_and_kept(windy: Page):
    gust = windy.get_by_role("textbox", name="Strongest gust in years")
    gust.fill("75")
    gust.press("Tab")
    expect(windy.locator("#err-gust")).to_contain_text("write 75 km/h if you meant that")
    expect(gust).to_have_value("75")
    gust.fill("100 km/h")
    gust.press("Tab")
    expect(windy.locator("#err-gust")).to_be_empty()
    saved(windy)


def test_a_forecast_on_the_phone(windy: Page):
    windy.set_viewport_size({"width": 390, "height": 844})
    windy.reload()
    box = windy.get_by_role("textbox", name="or gust")
    box.scroll_into_view_if_needed()
    box.fill("90 km/h")
    windy.get_by_role("button", name="What do I do?").click()
    expect(windy.locator("#forecast [role=status]")).to_contain_text(re.compile("Lower it to|Lay it down to|Take the panels off"))
    expect(windy.locator("#forecast [role=status]")).to_contain_text("12 min")
    assert windy.evaluate("() => document.documentElement.scrollWidth <= innerWidth"), "nothing is cut on a phone"


def test_by_keyboard_alone(windy: Page):
    page = windy
    slider = page.locator("#blow-gust")
    slider.focus()
    before = slider.input_value()
    page.keyboard.press("ArrowRight")
    assert float(slider.input_value()) == float(before) + 0.5
    page.get_by_role("radio", name="from behind").focus()
    page.keyboard.press("ArrowLeft")
    expect(page.locator("#blow-said")).to_contain_text("wind from the front")
    page.get_by_role("checkbox", name=re.compile("J$")).first.focus()
    page.keyboard.press("Space")
    saved(page)
    expect(page.locator("#months-said")).to_contain_text("In the plan: January")


def test_what_is_pressed_while_an_answer_is_on_its_way_waits_for_it(windy: Page):
    """A beam taken over right after a number was typed: both are kept, and nobody is told of another tab."""
    page = windy

    held = []
    page.route(re.compile(r"/wind/$"), lambda route: route.continue_() if held else held.append(route))
    gust = page.get_by_label("Strongest gust in years", exact=True)
    gust.fill("29.5")
    gust.press("Tab")
    expect(page.locator("#state")).to_have_text("saving…")
    page.get_by_role("button", name=re.compile("^rail, ")).first.click(no_wait_after=True)
    with page.expect_navigation():
        held[0].continue_()
    expect(page.locator("#notice")).to_have_text("")
    expect(gust).to_have_value("29.5 m/s")
    expect(page.get_by_role("button", name="Remove rail").first).to_be_visible()
    assert Wind.objects.filter(build__name="Honey house", gust=29.5).count() == 1
