"""An awning on a wall."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import station


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
