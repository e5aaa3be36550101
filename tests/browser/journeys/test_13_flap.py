"""A flap on a van."""

from __future__ import annotations

from playwright.sync_api import expect

from tests.browser.conftest import station
from tests.browser.journeys.conftest import typed


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
    station(page, "The bench")
    typed(page, "Parked for a while", "25")
    typed(page, "In a storm", "8")
    page.get_by_role("link", name="What the wind says of each").click()
    parked = page.get_by_role("row", name="parked for a while")
    expect(parked).to_contain_text("25°")
    expect(parked).to_contain_text("half-way")
    expect(page.get_by_role("row", name="in a storm")).to_contain_text("8°")
