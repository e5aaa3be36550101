"""Wedges on a pergola."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.browser.conftest import station
from tests.browser.journeys.conftest import nothing_is_told_to_move


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
