"""A hut far from its array, in feet, gauges and pounds."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import station
from tests.browser.journeys.conftest import typed


def test_a_hut_far_from_its_array(begin):
    """Nine panels on ten posts in five rows; 260 ft of cable each way: volts lost, kWh a year and which gauge; nothing in metres."""
    page = begin(
        "Hut under the mesa", "35.7 N, 106.3 W", "the ground", "stays put", {"Columns along it": "3", "Rows up the slope": "3"},
        {"Tilt": "34", "Lower edge above that": "20 in"},
    )  # fmt: skip
    station(page, "The frame")
    page.get_by_text("Front and rear legs", exact=True).click()
    typed(page, "Between front and rear support", "14 ft 6 in")
    typed(page, "Further rows of legs between", "3 ft 7 in, 7 ft 3 in, 10 ft 11 in")
    station(page, "The wind")
    page.get_by_role("button", name="Reckon with the wind").click()
    expect(page.get_by_role("heading", name="What the parts take")).to_be_visible()
    expect(page.locator("#state")).to_have_text("saved")
    typed(page, "Strongest gust in years", "80 mph")
    page.get_by_label("It stands", exact=True).select_option(label="anchored")
    page.get_by_text("In the ground, and snow").click()
    page.get_by_label("It stands on", exact=True).select_option(label="posts in the ground")
    typed(page, "Snow on the ground", "30 psf")
    rows = page.get_by_role("table", name="Feet by row").get_by_role("row")
    expect(rows).to_have_count(6)
    expect(rows.nth(5)).to_contain_text(re.compile(r"back foot.*\d+ lbf"))

    station(page, "The cutting")
    page.get_by_role("heading", name="What is it plugged into?").click()
    for label, text in {"Voc": "37.2", "Vmp": "31.1", "Isc": "14.2", "Imp": "13.85", "Voltage by heat": "-0.27"}.items():
        page.get_by_label(label, exact=True).fill(text)
    page.get_by_label("Cable, one way", exact=True).fill("260 ft")
    typed(page, "thick", "6 AWG")
    expect(page.get_by_label("thick", exact=True)).to_have_value("6 AWG")
    expect(page.get_by_label("Cable, one way", exact=True)).to_have_value("260 ft")
    sizes = page.get_by_role("table", name="Thicknesses of the cable").first
    expect(sizes.get_by_role("row", name="6 AWG")).to_contain_text("%")
    expect(sizes.get_by_role("row", name="2/0 AWG")).to_be_visible()
