"""The frame under the hand: what it is built from, dragged, arrowed and typed."""

from __future__ import annotations

import re
from collections.abc import Callable

import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Page, expect

from tests.browser.conftest import saved, station

pytestmark = pytest.mark.django_db(transaction=True)
SVG_LINE = r"M[\d.-]+ [\d.-]+L[\d.-]+ [\d.-]+"


def build_from(page: Page, name: str) -> None:
    station(page, "The frame")
    page.get_by_role("radio", name=name, exact=True).check(force=True)


def middle(page: Page, selector: str) -> tuple[float, float]:
    box = page.locator(selector).bounding_box()
    assert box is not None
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def test_a_bar_with_holes_is_dragged_arrowed_and_typed(honey: Page):
    build_from(honey, "A prop with holes")
    expect(honey.get_by_role("heading", level=1)).to_contain_text("3 tilts from 31.3° to 45.8°")
    expect(honey.get_by_label("Tilts it can reach", exact=True)).to_be_hidden()
    expect(honey.get_by_label("Holes in the base bar", exact=True)).to_have_value("1.5 m, 1.2 m, 0.9 m")

    # Drag the panel: it goes from hole to hole, and the prop's foot with it. Nothing is asked of the server.
    asked: list[str] = []
    honey.on("request", lambda request: asked.append(request.url))
    prop = honey.locator('[data-part="prop"]')
    before, year = prop.get_attribute("d"), honey.locator('[data-rack="year"]').inner_text()
    assert before and re.fullmatch(SVG_LINE, before)
    honey.locator("#grip").scroll_into_view_if_needed()
    x, y = middle(honey, "#grip")
    honey.mouse.move(x, y)
    honey.mouse.down()
    honey.mouse.move(x + 60, y + 60, steps=6)
    expect(honey.locator('[data-rack="tilt-text"]')).to_have_text("31.3°")
    honey.mouse.up()
    assert prop.get_attribute("d") != before
    assert honey.locator('[data-rack="year"]').inner_text() != year
    expect(honey.locator('[data-bar="0"]')).to_have_class(re.compile("used"))
    assert asked == []

    # Drag a hole of the bar: its tilt follows at once; letting go writes it into its field, and saves.
    x, y = middle(honey, '[data-bar="2"]')
    honey.mouse.move(x, y)
    honey.mouse.down()
    honey.mouse.move(x - 12, y, steps=6)
    expect(honey.locator('[data-rack="tilt-text"]')).to_have_text(re.compile(r"4[678]\.?\d?°"))
    assert asked == []
    honey.mouse.up()
    saved(honey)
    holes = honey.get_by_label("Holes in the base bar", exact=True)
    expect(holes).to_have_value(re.compile(r"^1\.5 m; 1\.2 m; 0\.[678]\d? m$"))
    expect(honey.get_by_role("heading", level=1)).to_contain_text(re.compile(r"3 tilts from 31\.3° to 4[678]"))

    # By keyboard: a hole is a slider.
    honey.locator('[data-bar="0"]').focus()
    honey.keyboard.press("ArrowRight")
    honey.keyboard.press("ArrowRight")
    expect(holes).to_have_value(re.compile(r"^1\.52 m; "))
    saved(honey)

    # A measure in the drawing leads to its field; what cannot close is told there and stays typed.
    honey.locator('[data-written="prop"]').click()
    expect(honey.get_by_label("Prop", exact=True)).to_be_focused()
    honey.keyboard.type("4 m")
    honey.keyboard.press("Tab")
    expect(honey.locator("#err-prop_lengths")).to_contain_text("longer than rail and base together")
    expect(honey.get_by_label("Prop", exact=True)).to_have_value("4 m")


def test_the_holes_that_pay_are_taken_over(honey: Page):
    build_from(honey, "A prop with holes")
    honey.get_by_label("Holes in the base bar", exact=True).fill("1.8, 0.9")
    honey.keyboard.press("Tab")
    expect(honey.get_by_role("heading", level=1)).to_contain_text("2 tilts")
    honey.get_by_text("Drill where it pays").first.click()
    honey.get_by_label("A place every", exact=True).fill("10 cm")
    honey.get_by_role("button", name="Drill where it pays").click()
    expect(honey.locator("#drill")).to_contain_text(re.compile(r"The plan loses [\d.]+ kWh a year against any whole degree"))
    honey.get_by_role("button", name="Take these holes").click()
    saved(honey)
    expect(honey.get_by_label("Holes in the base bar", exact=True)).to_have_value(re.compile(r"^[\d.]+ m; [\d.]+ m$"))
    expect(honey.get_by_role("heading", level=1)).to_contain_text("2 tilts")


@pytest.mark.parametrize("name", ["A folding A-frame", "A joint on a pole", "A jack or actuator"])
def test_other_kinds_draw_and_follow(honey: Page, name: str):
    build_from(honey, name)
    expect(honey.get_by_text("As it stands at")).to_be_visible()
    saved(honey)
    lines = honey.locator("[data-part]")
    before = [lines.nth(number).get_attribute("d") for number in range(lines.count())]
    glass = honey.locator('[data-rack="panel"]').get_attribute("d")
    honey.locator("#grip").focus()
    honey.keyboard.press("End")
    assert honey.locator('[data-rack="panel"]').get_attribute("d") != glass
    after = [lines.nth(number).get_attribute("d") for number in range(lines.count())]
    assert before != after or name == "A joint on a pole"
    found = Axe().run(honey)
    assert [one["id"] for one in found.response["violations"] if one["impact"] in ("serious", "critical")] == []


def test_a_frame_is_built_on_a_phone(honey: Page):
    build_from(honey, "A prop with holes")
    honey.set_viewport_size({"width": 390, "height": 844})
    expect(honey.get_by_role("heading", level=1)).to_contain_text("3 tilts")
    assert honey.evaluate("document.documentElement.scrollWidth") <= 390
    honey.locator('[data-bar="1"]').scroll_into_view_if_needed()
    x, y = middle(honey, '[data-bar="1"]')
    honey.mouse.move(x, y)
    honey.mouse.down()
    honey.mouse.up()  # a tap stands the prop there
    expect(honey.locator('[data-rack="tilt-text"]')).to_have_text("40.4°")


@pytest.mark.parametrize("width", [1280, 390])
def test_the_rack_is_aimed_and_proved_with_a_pin(honey: Page, width: int):
    station(honey, "The frame")
    honey.set_viewport_size({"width": width, "height": 844})
    honey.get_by_role("link", name="Aim it: a sheet for the phone").click()
    expect(honey.get_by_role("heading", level=1)).to_contain_text("Turn it until the compass reads")
    expect(honey.locator("#countdown")).to_contain_text(re.compile(r"min|now"))
    assert honey.evaluate("document.documentElement.scrollWidth") <= width
    found = Axe().run(honey)
    assert [one["id"] for one in found.response["violations"] if one["impact"] in ("serious", "critical")] == []
    # Two readings by keyboard alone, of a rack at 52 degrees that looks to 174.
    honey.get_by_label("It is set to", exact=True).fill("52")
    for row, (time, x, y) in enumerate((("2026-04-12T12:00", "-133", "-59"), ("2026-04-12T16:00", "107", "-77")), 1):
        honey.get_by_label(f"Date and time of reading {row}", exact=True).fill(time)
        honey.get_by_label(f"Reading {row}, to the right", exact=True).fill(x)
        honey.get_by_label(f"Reading {row}, up the slope", exact=True).fill(y)
    honey.keyboard.press("Enter")
    expect(honey.get_by_role("heading", level=1)).to_contain_text(
        re.compile(r"You point (6|5\.9|6\.1)° east of south; that costs \d+ kWh a year\.")
    )
    with honey.expect_download() as sheet:
        honey.get_by_role("link", name="letter").last.click()
    assert sheet.value.suggested_filename.endswith("shadow-pin.svg")
    honey.get_by_label("Reading 2, to the right", exact=True).fill("far")
    honey.get_by_role("button", name="What does it say?").click()
    expect(honey.locator("#err-x2")).to_contain_text("is not a length")
    expect(honey.get_by_label("Reading 2, to the right", exact=True)).to_have_value("far")


@pytest.fixture
def lie(honey: Page) -> Callable[[float, float, float], None]:
    """Says how the phone lies, as its sensors would: alpha, beta and gamma, degrees."""
    session = honey.context.new_cdp_session(honey)

    def told(alpha: float, beta: float, gamma: float) -> None:
        session.send("DeviceOrientation.setDeviceOrientationOverride", {"alpha": alpha, "beta": beta, "gamma": gamma})

    return told


def test_the_phone_reads_the_tilt_free_of_its_own_error(honey: Page, lie):
    station(honey, "The frame")
    honey.set_viewport_size({"width": 390, "height": 844})
    honey.get_by_role("link", name="Aim it: a sheet for the phone").click()
    lie(0, 36.4, 0)
    honey.get_by_role("button", name="Let this phone read the tilt").click()
    lie(0, 36.6, 0)
    take = honey.get_by_role("button", name="Take this reading")
    expect(honey.locator('[data-level="shown"]')).to_have_text("36.6° steady")
    take.click()
    expect(honey.locator('[data-level="said"]')).to_contain_text("First reading 36.6°. Turn the phone half round")
    lie(180, -35.4, 0)  # turned half round, it lies head down: its error now shows with the other sign
    expect(take).to_be_disabled()
    expect(honey.locator('[data-level="shown"]')).to_have_text("35.4° steady")
    take.click()
    expect(honey.locator('[data-level="said"]')).to_contain_text("the glass stands at 36.0°; the phone itself is off by 0.6°")
    expect(honey.get_by_label("It is set to", exact=True)).to_have_value("36.0")
    honey.get_by_label("Date and time of reading 1", exact=True).fill("2026-04-12T12:00")
    honey.get_by_label("Reading 1, to the right", exact=True).fill("-120")
    honey.get_by_label("Reading 1, up the slope", exact=True).fill("10")
    honey.get_by_role("button", name="What does it say?").click()
    expect(honey.get_by_role("heading", level=1)).to_contain_text("You point")
    expect(honey.locator('[name="sensor"]')).to_have_value("[36.6,35.4]")  # kept raw


def test_the_skyline_is_sighted_with_the_phone(honey: Page, lie):
    station(honey, "The shade")
    honey.set_viewport_size({"width": 390, "height": 844})
    honey.get_by_role("link", name="Read it in the yard, on a phone").click()
    before = honey.locator("#field-list li").count()
    lie(213, 14, 3)
    honey.get_by_role("button", name="Let this phone read it").click()
    lie(212, 14.2, 3)
    expect(honey.locator('[data-sight="shown"]')).to_have_text("148° and 14.2° up, steady")
    honey.get_by_role("button", name="Take and keep this reading").click()
    expect(honey.locator("#field-state")).to_have_text("Everything is sent.")
    expect(honey.locator("#field-list li")).to_have_count(before + 1)
    expect(honey.locator("#field-list")).to_contain_text("14.2° up, solid")
