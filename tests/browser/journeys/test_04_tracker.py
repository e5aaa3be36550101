"""A tracker with an own controller."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.conftest import station
from tests.browser.journeys.conftest import typed


def test_a_tracker_that_sits_turned_on_its_axis_and_whether_the_whole_build_pays(begin):
    page = begin(
        "Clay pier", "40.2 N, 3.1 W", "a pole", "moved by a motor", {"Columns along it": "2", "Rows up the slope": "2"}, {"Facing": "180"},
    )  # fmt: skip
    station(page, "The frame")
    with page.expect_response(lambda answer: answer.request.method == "POST" and answer.ok):
        page.get_by_label("The mount is", exact=True).select_option("One axis, by motor")
    typed(page, "Panels turned on the axis", "12")
    station(page, "The tilt plan")
    expect(page.get_by_text(re.compile(r"The panels sit turned 12° about the axis: \d+ kWh a year"))).to_be_visible()
    expect(page.locator("#headline .sub")).to_contain_text("With it:")
    station(page, "Worth it?")
    typed(page, "The whole build costs", "1400")
    expect(page.get_by_role("heading", name="The whole build, against nothing built")).to_be_visible()
    expect(page.locator("aside.right")).to_contain_text(re.compile(r"pays back in [\d.]+ years"))
    expect(page.get_by_role("row", name="One axis, level").get_by_role("checkbox")).to_be_checked()
