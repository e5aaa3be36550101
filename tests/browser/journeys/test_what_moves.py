"""Jobs of people whose panels move: a tracker with an own controller, a flap on a van."""

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


def test_a_flap_on_a_van(begin):
    """The roof's height apart from the frame's; the pull standing, and driving at 110 km/h; the own flap among the ways from the start."""
    page = begin(
        "Camper flap", "38.2 N, 1.9 W", "a trailer or van", "moved by a motor", {"Columns along it": "2", "Rows up the slope": "1"},
        {"How high that is over the ground": "2.7 m", "Fixings in all": "8", "It drives at": "30.5 m/s", "Flattest tilt": "0", "Steepest tilt": "50"},
    )  # fmt: skip
    station(page, "The frame")
    expect(page.get_by_label("How high that is over the ground", exact=True)).to_have_value("2.7 m")
    expect(page.get_by_label("Lower edge above that", exact=True)).to_have_value("0.1 m")
    typed(page, "Two lines of them, apart", "1.2 m")
    station(page, "The wind")
    page.get_by_role("button", name="Reckon with the wind").click()
    expect(page.get_by_role("row", name="standing")).to_contain_text("N")
    driving = page.get_by_role("row", name="driving")
    expect(driving).to_contain_text("40 m/s")
    expect(page.locator("main")).to_contain_text("before driving off")
    station(page, "Worth it?")
    expect(page.get_by_role("row", name="A hinge with a motor").get_by_role("checkbox")).to_be_checked()
