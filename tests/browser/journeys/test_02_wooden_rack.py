"""A wooden rack at one angle for good."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import station
from tests.browser.journeys.conftest import typed, year_of


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


def test_its_boards_bolts_and_loads_in_inches_and_pounds(begin):
    """Legs of 2x6: lengths in sixteenths, boards as they are sold, every bracket, bolt and screw, loads in pounds."""
    page = begin(
        "Orchard rack", "39.4 N, 94.6 W", "the ground", "stays put",
        {"Nameplate": "350", "Rows up the slope": "2", "Columns along it": "4", "Panel length": "5 ft 6 in", "Panel width": "39 in"},
        {"Tilt": "38", "Lower edge above that": "2 ft", "Facing": "180"},
    )  # fmt: skip
    station(page, "The frame")
    page.get_by_text("Front and rear legs", exact=True).click()
    typed(page, "Between front and rear support", "7 ft")
    station(page, "The cutting")
    page.get_by_label("Section", exact=True).fill("2x6 SPF No.2")
    page.get_by_label("Section", exact=True).press("Tab")
    pieces = page.locator("main")
    expect(pieces).to_contain_text(re.compile(r"× rear leg.*?ft.*?\d/(2|4|8|16) in.*?2x6 SPF No\.2"))
    expect(pieces).to_contain_text(re.compile(r"lengths of 8 ft, 10 ft, 12 ft, 14 ft, 16 ft, 20 ft are taken as sold"))
    shopping = page.get_by_role("table", name="What to buy")
    expect(shopping).to_contain_text(re.compile(r"32\s*bracket"))
    expect(shopping).to_contain_text(re.compile(r"bolt 5/16 in x 1 in \(M8 x 20\).*?32 needed"))
    expect(shopping).to_contain_text(re.compile(r"wood screw #14 x 2 1/2 in \(6 x 60\).*?64 needed"))
    station(page, "The wind")
    page.get_by_role("button", name="Reckon with the wind").click()
    expect(page.locator("#state")).to_have_text("saved")
    typed(page, "Strongest gust in years", "70 mph")
    expect(page.locator("#headline")).to_contain_text(re.compile(r"\d+ lbf? "))
    expect(page.get_by_role("table", name=re.compile("Forces in the parts"))).to_contain_text("lbf")
