"""A trailer that stands on its wheels in the wind, in pounds and miles an hour."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import station
from tests.browser.journeys.conftest import typed


def test_a_trailer_in_the_wind(begin):
    """Ten panels, 80 mph in the worst storm, no months told: the gust it tips at, the ballast in pounds, what tomorrow's forecast means."""
    page = begin(
        "Well trailer", "32.9 N, 105.9 W", "the ground", "moved by hand",
        {"Nameplate": "400", "Rows up the slope": "2", "Columns along it": "5", "Panel length": "68 in", "Panel width": "41 in"}, {},
    )  # fmt: skip
    station(page, "The wind")
    page.get_by_role("button", name="Reckon with the wind").click()
    expect(page.locator("#state")).to_have_text("saved")
    typed(page, "Strongest gust in years", "80 mph")
    expect(page.get_by_role("heading", level=1)).to_contain_text(re.compile(r"(tips|slides).* at \d+ mph"))
    expect(page.locator("#headline")).to_contain_text(re.compile(r"[\d\u202f]+ lb on each side hold it at its steepest"))
    expect(page.locator("main")).to_contain_text("Months are not told: the strongest gust is taken for every one of them.")
    expect(page.locator("main")).to_contain_text("the strongest gust, of every month")
    page.locator("#forecast").get_by_label("or gust", exact=True).fill("45 mph")
    page.locator("#forecast").get_by_role("button", name="What do I do?").click()
    expect(page.locator("#forecast")).to_contain_text(re.compile(r"45 mph"))
