"""Upright on a railing."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import station
from tests.browser.journeys.conftest import nothing_is_told_to_move, typed, year_of


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

    # The house behind it, and the balcony over it, without drawing either.
    station(page, "The frame")
    page.get_by_text("The house's own shade").click()
    page.get_by_label("Its wall over the ground", exact=True).fill("9 m")
    typed(page, "That wall is wide", "11 m")
    page.get_by_label("A roof or balcony over it stands out", exact=True).fill("1.5 m")
    typed(page, "Its underside over the ground", "6.6 m")
    station(page, "The shade")
    expect(page.get_by_role("heading", level=1)).to_contain_text(re.compile(r"Shade takes \d+ kWh a year"))
    expect(page.get_by_role("img", name="Its own house, behind the panels")).to_be_visible()
    shaded = page.locator("#headline .sub b").first.inner_text()
    station(page, "The angle")
    assert year_of(page) in shaded
