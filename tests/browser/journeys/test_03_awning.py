"""An awning on a wall."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import station
from tests.browser.journeys.conftest import typed


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


def test_rafters_longer_than_any_board_are_spliced_over_their_strut(begin):
    """In feet and pounds: a rafter of one board and a part of another, the joint over the strut, three boards for two rafters; snow."""
    page = begin(
        "Shed awning", "44.1 N, 71.5 W", "a wall, an awning", "stays put",
        {"Columns along it": "2", "Rows up the slope": "2", "Panel length": "69 in", "Panel width": "44 in"},
        {"Tilt": "25", "Facing": "170", "Lower edge above that": "7 ft 6 in"},
    )  # fmt: skip
    station(page, "The frame")
    page.get_by_text("A bracket on a wall", exact=True).click()
    expect(page.locator("#state")).to_have_text("saved")
    page.get_by_text("The ground, and what moves with the panels", exact=True).click()
    typed(page, "Glass below the hinge", "4 ft")
    station(page, "The cutting")
    page.get_by_label("Splice", exact=True).select_option(label="what is too long, over supports")
    table = page.locator("table.typed").first
    for column, text in enumerate(("2x4 SPF No.2", "10 ft", "", "7.50")):
        table.get_by_role("textbox").nth(column).fill(text)
    table.get_by_role("textbox").nth(3).press("Enter")
    expect(page.locator("#state")).to_have_text("saved")
    main = page.locator("main")
    expect(main).to_contain_text(re.compile(r"2 × rafter.*?11 ft 6.*?in.*?2x4 SPF", re.S))
    expect(main).to_contain_text(re.compile(r"rafter: spliced of 4 ft [^.]*and 7 ft [^.]*lapped by 8 1/2 in over a support"))
    boards = [re.sub(r"\s+", " ", board) for board in page.locator("li.board").all_inner_texts()]
    rafters = [board for board in boards if "A1." in board or "A2." in board]
    assert len(rafters) == 3 and any("A1.1" in board and "A2.1" in board for board in rafters), boards
    expect(page.locator("#proof, #headline").first).to_contain_text(
        re.compile("nothing cheaper|Nothing cheaper|Cheaper joints|Looking")
    )
    station(page, "The wind")
    page.get_by_role("button", name="Reckon with the wind").click()
    expect(page.locator("#state")).to_have_text("saved")
    typed(page, "Strongest gust in years", "75 mph")
    if not page.get_by_label("Snow on the ground", exact=True).is_visible():
        page.get_by_role("heading", name="Snow", exact=True).click()
    typed(page, "Snow on the ground", "70 psf")
    expect(page.locator("#headline")).to_contain_text(re.compile(r"\d lbf"))
