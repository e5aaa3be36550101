"""A frame along a fence."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.browser.journeys.conftest import typed, year_of


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
