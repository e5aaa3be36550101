"""Jobs of people whose panels stay as they are: a wooden rack, an awning, frames along a fence, wedges on a pergola, a railing."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import station
from tests.browser.journeys.conftest import typed

MOVES = re.compile(r"Move it|should stand at|Yours stands at")


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


def test_a_wooden_rack_at_one_angle_for_good(begin):
    """Eight panels at 38 degrees in feet: the year, the best angle, and what two settings would add."""
    page = begin(
        "Orchard rack", "39.4 N, 94.6 W", "the ground", "stays put",
        {"Nameplate": "350", "Rows up the slope": "2", "Columns along it": "4", "Panel length": "5 ft 6 in", "Panel width": "39 in"},
        {"Tilt": "38", "Lower edge above that": "2 ft", "Facing": "180"},
    )  # fmt: skip
    head = page.get_by_role("heading", level=1)
    expect(head).to_contain_text(re.compile(r"Fixed at 38°: [\d\u202f]+ kWh a year\. \d+° would give [\d.]+ more"))
    expect(page.locator("#headline .sub")).to_contain_text(
        re.compile(r"Two settings a year .* would add \d+ kWh, eight years in ten")
    )
    year = year_of(page)
    station(page, "The frame")
    expect(page.locator("#headline .sub")).to_contain_text(f"{year} kWh a year")
    expect(page.get_by_label("Panel length", exact=True)).to_have_value("5 ft 6 in")
    expect(page.locator("#facings")).to_contain_text("Best here")
    page.goto(page.url.split("/builds/")[0] + "/builds/")
    expect(page.locator(".builds")).to_contain_text(f"Fixed at 38°. {year} kWh a year.")


def test_an_awning_asks_which_way_to_face(begin):
    """A shed whose roof faces east and west against an awning to the south: side by side, one button."""
    page = begin(
        "Shed awning", "47.2 N, 8.4 E", "a wall, an awning", "stays put",
        {"Columns along it": "2", "Rows up the slope": "1"}, {"Tilt": "25", "Facing": "170", "Lower edge above that": "2.2 m"},
    )  # fmt: skip
    station(page, "The frame")
    facings = page.locator("#facings")
    facings.locator("#facing1").fill("south")
    facings.locator("#tilt1").fill("30")
    facings.locator("#facing2").fill("east + west")
    facings.locator("#tilt2").fill("20")
    facings.get_by_role("button", name="Compare them").click()
    rows = facings.locator(".candidates + table tbody tr")
    expect(rows).to_have_count(2)
    expect(rows.first).to_contain_text("south")
    made = [float(re.sub(r"\D", "", row.locator("b").inner_text())) for row in rows.all()]
    assert made[0] > made[1] > 0.7 * made[0]
    expect(rows.nth(1)).to_contain_text("a frame each")
    rows.first.get_by_role("button", name="Take it over").click()
    expect(page.locator(".messages")).to_contain_text("It faces 180° now at 30°")
    station(page, "The angle")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Fixed at 30°")


def test_a_frame_along_a_fence_that_faces_west(begin):
    """Facing by tilt in kWh for the fence line; the angle tried on its own page."""
    page = begin(
        "Fence west", "52.1 N, 5.3 E", "the ground", "stays put", {"Columns along it": "3", "Rows up the slope": "1"},
        {"Tilt": "40", "Facing": "265"},
    )  # fmt: skip
    before = year_of(page)
    typed(page, "It stands at", "15")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Fixed at 15°")
    expect(page.get_by_role("heading", level=1)).not_to_contain_text(before)
    expect(page.locator("#facings")).to_contain_text("265° (west)")
    page.locator("#facings summary").click()
    expect(page.locator("#facings tbody tr")).to_have_count(8)


def test_wedges_on_a_pergola(begin):
    """Rafters at 4 degrees and wedges for them: one angle, no feet, no gravel, nothing that moves."""
    page = begin(
        "Courtyard pergola", "43.6 N, 3.9 E", "a pergola", "stays put", {"Columns along it": "3", "Rows up the slope": "2"},
        {"Tilt": "12", "Facing": "180", "How high that is over the ground": "2.4 m", "It falls forward": "4"},
    )  # fmt: skip
    expect(page.get_by_role("heading", level=1)).to_contain_text("Fixed at 12°")
    station(page, "The wind")
    page.get_by_role("button", name="Reckon with the wind").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("fixings takes")
    expect(page.locator("main")).not_to_contain_text("In the ground")
    station(page, "The cutting")
    expect(page.locator("main")).not_to_contain_text("gravel")
    expect(page.locator("main")).not_to_contain_text("foot plate")
    nothing_is_told_to_move(page)


def test_upright_on_a_railing(begin):
    """Two panels to the west at 90 degrees: one yearly figure on every page, and the pull on each clamp."""
    page = begin(
        "Porch rail", "48.2 N, 16.4 E", "a railing", "stays put", {"Columns along it": "2", "Rows up the slope": "1"},
        {"Facing": "270", "How high that is over the ground": "4 m", "Two lines of them, apart": "80 cm", "Fixings in all": "4"},
    )  # fmt: skip
    expect(page.get_by_role("heading", level=1)).to_contain_text("Fixed at 90°")
    year = year_of(page)
    station(page, "The wind")
    page.get_by_role("button", name="Reckon with the wind").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text(re.compile(r"one of its 4 fixings takes [\d.]+ k?N of pull"))
    typed(page, "Strongest gust in years", "30 m/s")
    expect(page.get_by_role("heading", level=1)).to_contain_text("At 30 m/s")
    station(page, "The frame")
    expect(page.locator("#headline .sub")).to_contain_text(f"{year} kWh a year")
    typed(page, "One is rated for", "1500")
    station(page, "The wind")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Its fixings give way at")
    nothing_is_told_to_move(page)
