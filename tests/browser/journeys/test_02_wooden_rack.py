"""A wooden rack at one angle for good."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import station
from tests.browser.journeys.conftest import year_of


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
