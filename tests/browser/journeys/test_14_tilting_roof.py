"""A tilting roof over a store of wood, in feet and pounds."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.conftest import station
from tests.browser.journeys.conftest import typed


def opened(page: Page, fold: str, label: str) -> None:
    """Open a fold of questions unless it is."""
    if not page.get_by_label(label, exact=True).is_visible():
        page.get_by_text(fold, exact=True).click()


def test_a_tilting_roof_over_a_store_of_wood(begin):
    """What is stored stands on the feet and on the floor's beams; the weakest comes first; boards on hand; settling and its remedy."""
    page = begin(
        "Wood store", "44.3 N, 72.6 W", "the ground", "moved by hand",
        {"Nameplate": "410", "Panel length": "68 in", "Panel width": "45 in", "Rows up the slope": "2", "Columns along it": "3"},
        {"Lower edge above that": "7 ft"},
    )  # fmt: skip
    head = page.get_by_role("heading", level=1)
    station(page, "The frame")
    page.get_by_text("A jack or actuator", exact=True).click()
    expect(head).to_contain_text("40 tilts")

    station(page, "The wind")
    page.get_by_role("button", name="Reckon with the wind").click()
    expect(page.locator("#err-front_foot")).to_contain_text("by its own weight, in still air: stand it wider, or anchor it")
    page.get_by_label("It stands", exact=True).select_option(label="anchored")
    expect(page.locator("#state")).to_have_text("saved")
    typed(page, "Strongest gust in years", "75 mph")
    opened(page, "In the ground, and snow", "It stands on")
    page.get_by_label("It stands on", exact=True).select_option(label="ground screws")
    page.get_by_label("In", exact=True).select_option(label="fresh fill")
    typed_in = page.get_by_label("Screw is rated for", exact=True)
    typed_in.fill("4000 lbf")
    typed_in.press("Tab")
    expect(page.locator("#err-footing_soil")).to_contain_text("Fresh fill bears nothing")
    page.get_by_label("In", exact=True).select_option(label="silty or clayey sand")
    expect(page.locator("#state")).to_have_text("saved")
    typed(page, "It also carries", "3300 lb")
    typed(page, "Snow on the ground", "50 psf")
    expect(head).to_contain_text(
        re.compile(r"The footing is the weakest, at .*foot: its rating, reduced for the soil, is 0\.\d times the pull")
    )

    # A piece of the frame by a tap, and a beam of the floor that carries what is stored, with a free end.
    page.get_by_role("button", name=re.compile("^purlin, ")).click()
    beams = page.locator("#beams, main").first
    expect(beams).to_contain_text(re.compile(r"purlin, 2x4 SPF No\.2, 6 ft 9 15/16 in \(.* beyond\)"))
    opened(page, "Add a beam", "Its name")
    for label, text in {
        "Its name": "floor beam",
        "Section": "2x8",
        "Spans": "8 ft",
        "one every": "24 in",
        "Beyond its first support": "1 ft 6 in",
    }.items():
        page.get_by_label(label, exact=True).fill(text)
    page.get_by_label("It carries", exact=True).select_option(label="a floor: no glass")
    page.get_by_label("It carries what is stored", exact=True).check()
    page.get_by_role("button", name="Add it").click()
    expect(page.locator("main")).to_contain_text("read it off the stamp, as in 2x8 SPF No.2")
    page.get_by_label("Section", exact=True).fill("2x8 SPF No.2")
    page.get_by_role("button", name="Add it").click()
    expect(beams).to_contain_text(re.compile(r"floor beam, 2x8 SPF No\.2, 8 ft \(1 ft 6 in beyond\)"))
    expect(beams).to_contain_text(
        re.compile(r"floor beam: it bears 0\.\d+ of what comes under its own weight, and what it carries")
    )

    # What settled, in words, with what mends it.
    opened(page, "Write levels down", "On")
    for day, levels in (("2026-05-02", "0, 0, 0, 0"), ("2026-11-20", "-1/2, 0, 0, 0")):
        page.get_by_label("On", exact=True).fill(day)
        page.get_by_role("textbox", name=re.compile("^Levels in a row")).fill(levels)
        page.get_by_role("button", name="Write it down").click()
        expect(page.locator("main")).to_contain_text(re.compile("sank|Nothing|first"))
        opened(page, "Write levels down", "On")
    expect(page.locator("main")).to_contain_text(re.compile(r"sank 1/2 in .*since .*: shim 1/2 in"))

    station(page, "The cutting")
    table = page.get_by_role("table", name=re.compile("Stock", re.I)).first
    boxes = table.get_by_role("textbox")
    for box, text in zip(range(4), ("2x4 SPF No.2", "12 ft", "5", ""), strict=True):
        boxes.nth(box).fill(text)
    boxes.nth(3).press("Enter")
    expect(page.locator("main")).to_contain_text(re.compile(r"5 boards? of 12 ft|12 ft.*on hand"))
