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
    page.get_by_role("radio", name=name, exact=True).check(force=True)


def grave(page: Page) -> list[str]:
    return [one["id"] for one in Axe().run(page).response["violations"] if one["impact"] in ("serious", "critical")]


def drag(page: Page, start: tuple[float, float], end: tuple[float, float]) -> None:
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(*end, steps=6)
    page.mouse.up()


def middle(page: Page, selector: str) -> tuple[float, float]:
    box = page.locator(selector).bounding_box()
    assert box is not None
    return box["x"] + box["width"] / 2, box["y"] + box["height"] / 2


def test_a_bar_with_holes_is_dragged_arrowed_and_typed(told: Page):
    build_from(told, "A prop with holes")
    expect(told.get_by_role("heading", level=1)).to_contain_text("3 tilts from 31.3° to 45.8°")
    expect(told.get_by_label("Tilts it can reach", exact=True)).to_be_hidden()
    expect(told.get_by_role("textbox", name="Holes in the base bar", exact=True)).to_have_value("1.5 m, 1.2 m, 0.9 m")

    # Drag the panel: it goes from hole to hole, and the prop's foot with it. The server is asked once, for all stops.
    asked: list[str] = []
    told.on("request", lambda request: asked.append(request.url))
    prop = told.locator('[data-part="prop"]')
    before, year = prop.get_attribute("d"), told.locator('[data-rack="year"]').inner_text()
    assert before and re.fullmatch(SVG_LINE, before)
    told.locator("#grip").scroll_into_view_if_needed()
    x, y = middle(told, "#grip")
    told.mouse.move(x, y)
    told.mouse.down()
    told.mouse.move(x + 60, y + 60, steps=6)
    expect(told.locator('[data-rack="tilt-text"]')).to_have_text("31.3°")
    told.mouse.up()
    assert prop.get_attribute("d") != before
    assert told.locator('[data-rack="year"]').inner_text() != year
    expect(told.locator('[data-bar="0"]')).to_have_class(re.compile("used"))
    assert {re.sub(r".*/frame/(\w+\.json)\?.*", r"\1", url) for url in asked} == {"poses.json"}

    # Drag a hole of the bar: its tilt follows at once; letting go writes it into its field, and saves.
    x, y = middle(told, '[data-bar="2"]')
    told.mouse.move(x, y)
    told.mouse.down()
    told.mouse.move(x - 12, y, steps=6)
    expect(told.locator('[data-rack="tilt-text"]')).to_have_text(re.compile(r"4[678]\.?\d?°"))
    assert {re.sub(r".*/frame/(\w+\.json)\?.*", r"\1", url) for url in asked} == {"poses.json"}
    told.mouse.up()
    saved(told)
    holes = told.get_by_role("textbox", name="Holes in the base bar", exact=True)
    expect(holes).to_have_value(re.compile(r"^1\.5 m; 1\.2 m; 0\.[678]\d? m$"))
    expect(told.get_by_role("heading", level=1)).to_contain_text(re.compile(r"3 tilts from 31\.3° to 4[678]"))

    # By keyboard: a hole is a slider.
    told.locator('[data-bar="0"]').focus()
    told.keyboard.press("ArrowRight")
    told.keyboard.press("ArrowRight")
    expect(holes).to_have_value(re.compile(r"^1\.52 m; "))
    saved(told)

    # A measure is typed where it stands in the drawing: of several holes the one that is used. What cannot close is told beside its
    # field and stays typed.
    told.locator('[data-written="base hole"]').click()
    told.get_by_label(re.compile("^Base hole, .*: type another")).last.fill("1.45 m")
    told.keyboard.press("Enter")
    expect(holes).to_have_value(re.compile(r"1\.45 m"))
    saved(told)
    told.locator('[data-written="prop"]').press("Enter")
    told.locator(".measure-typed").fill("9 m")
    # Figures of something else arrive meanwhile: the drawing is another one, and what was begun goes on in it.
    told.evaluate("() => { document.querySelector('svg.rack').dataset.earlier = '1'; }")
    told.evaluate("""() => {
      const field = document.querySelector('#station-form [name="rail_points"]');
      field.value = "1.12 m";
      field.dispatchEvent(new Event("change", { bubbles: true }));
    }""")
    expect(told.locator("svg.rack[data-earlier]")).to_have_count(0)
    expect(told.locator(".measure-typed")).to_be_focused()
    expect(told.locator(".measure-typed")).to_have_value("9 m")
    told.keyboard.press("Escape")
    expect(told.locator(".measure-typed")).to_have_count(0)
    expect(told.get_by_role("textbox", name="Prop", exact=True)).to_have_value("0.8 m")
    told.locator('[data-written="prop"]').press("Enter")
    told.locator(".measure-typed").fill("4 m")
    told.keyboard.press("Enter")
    expect(told.locator("#err-prop_lengths")).to_contain_text("longer than rail and base together")
    expect(told.get_by_role("textbox", name="Prop", exact=True)).to_have_value("4 m")


READINGS = (("2026-04-12T12:00", "-133", "-59"), ("2026-04-12T16:00", "107", "-77"))  # of a rack at 52 degrees that looks to 174
VERDICT = re.compile(r"You point (6|5\.9|6\.1)° east of south; that costs \d+ kWh a year\.")


@pytest.mark.parametrize("width", [1280, 390])
def test_from_a_bar_with_holes_to_a_pin_that_proves_it(told: Page, width: int):
    page = told
    page.set_viewport_size({"width": width, "height": 844})
    build_from(page, "A prop with holes")
    expect(page.get_by_role("heading", level=1)).to_contain_text("3 tilts from 31.3° to 45.8°")
    # The foot of the prop goes to the hole farthest back: the glass lies flatter.
    foot, rail = (page.locator('[data-part="prop"]').get_attribute("d") or "", page.locator('[data-bar="0"]'))
    rail.scroll_into_view_if_needed()
    drawing = page.locator("svg.rack").bounding_box()
    assert drawing is not None
    x1, y1, x2, y2 = map(float, re.findall(r"-?[\d.]+", foot))
    unit = drawing["width"] / 340
    near = drawing["x"] + (x1 * 0.6 + x2 * 0.4) * unit, drawing["y"] + (y1 * 0.6 + y2 * 0.4) * unit
    drag(page, near, middle(page, '[data-bar="0"]'))
    expect(page.locator('[data-rack="tilt-text"]')).to_have_text("31.3°")
    # Where to drill, taken over.
    page.get_by_text("Drill where it pays").first.click()
    page.get_by_label("A place every", exact=True).fill("10 cm")
    page.get_by_role("button", name="Drill where it pays").click()
    expect(page.locator("#drill")).to_contain_text(re.compile(r"The plan loses [\d.]+ kWh a year against any whole degree"))
    page.get_by_role("button", name="Take these holes").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("2 tilts")
    saved(page)
    expect(page.get_by_role("textbox", name="Holes in the base bar", exact=True)).to_have_value(
        re.compile(r"^[\d.]+ m; [\d.]+ m$")
    )
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    assert grave(page) == []
    # Aimed, the target printed, two readings typed.
    page.get_by_role("link", name="Aim it: a sheet for the phone").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Turn it until the compass reads")
    expect(page.locator("#countdown")).to_contain_text(re.compile(r"min|now"))
    assert page.evaluate("document.documentElement.scrollWidth") <= width
    assert grave(page) == []
    with page.expect_download() as sheet:
        page.get_by_role("link", name="letter").last.click()
    assert sheet.value.suggested_filename.endswith("shadow-pin.svg")
    page.get_by_label("It is set to", exact=True).fill("52")
    for row, (time, x, y) in enumerate(READINGS, 1):
        page.get_by_label(f"Date and time of reading {row}", exact=True).fill(time)
        page.get_by_label(f"Reading {row}, to the right", exact=True).fill(x)
        page.get_by_label(f"Reading {row}, up the slope", exact=True).fill(y)
    page.get_by_role("button", name="What does it say?").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text(VERDICT)
    page.get_by_label("Reading 2, to the right", exact=True).fill("far")
    page.get_by_role("button", name="What does it say?").click()
    expect(page.locator("#err-x2")).to_contain_text("is not a length")
    expect(page.get_by_label("Reading 2, to the right", exact=True)).to_have_value("far")


def test_the_same_by_keyboard_alone(told: Page):
    page = told

    def tab_to(selector: str, most: int = 160) -> None:
        for _ in range(most):
            page.keyboard.press("Tab")
            if page.evaluate("selector => document.activeElement.matches(selector)", selector):
                return
        pytest.fail(f"{selector} is not reached with the tabulator key")

    tab_to('[name="built"]')
    page.keyboard.press("ArrowDown")  # to the legs, and on to the prop
    page.keyboard.press("ArrowDown")
    expect(page.get_by_role("heading", level=1)).to_contain_text("3 tilts from 31.3° to 45.8°")
    tab_to('[data-bar="2"]')
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowRight")
    expect(page.get_by_role("textbox", name="Holes in the base bar", exact=True)).to_have_value("1.5 m; 1.2 m; 0.92 m")
    expect(page.get_by_role("heading", level=1)).to_contain_text("to 45.6°")
    expect(page.locator('[data-bar="2"]')).to_be_focused()  # new figures took no focus
    tab_to("summary:has(+ #drill)")
    page.keyboard.press("Enter")
    tab_to("#drill .button")
    page.keyboard.press("Enter")
    page.locator("[data-take-holes]").first.wait_for()
    tab_to("[data-take-holes]")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_contain_text("2 tilts")
    saved(page)
    page.locator("#main").evaluate(
        "main => { main.tabIndex = -1; main.focus(); }"
    )  # the figures came anew: from the top of the page
    tab_to('a[href$="/frame/aim/"]')
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Turn it until the compass reads")
    tab_to('[name="tilt"]')
    page.keyboard.press("Control+A")
    page.keyboard.type("52")
    for row, (time, x, y) in enumerate(READINGS, 1):
        page.get_by_label(f"Date and time of reading {row}", exact=True).fill(time)  # a date's own keys follow the language
        for name, value in ((f"x{row}", x), (f"y{row}", y)):
            tab_to(f'[name="{name}"]')
            page.keyboard.type(value)
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_contain_text(VERDICT)


@pytest.mark.parametrize("name", ["A folding A-frame", "A joint on a pole", "A pole and a jack", "A jack or actuator"])
def test_other_kinds_draw_and_follow(told: Page, name: str):
    build_from(told, name)
    expect(told.get_by_text("As it stands at")).to_be_visible()
    saved(told)
    lines = told.locator("[data-part]")
    told.locator("#grip").focus()
    told.keyboard.press("End")
    before = [lines.nth(number).get_attribute("d") for number in range(lines.count())]
    glass = told.locator('[data-rack="panel"]').get_attribute("d")
    told.keyboard.press("Home")
    expect(told.locator('[data-rack="panel"]')).not_to_have_attribute("d", glass or "")
    after = [lines.nth(number).get_attribute("d") for number in range(lines.count())]
    assert before != after or name == "A joint on a pole"
    assert grave(told) == []


def test_a_frame_is_built_on_a_phone(told: Page):
    build_from(told, "A prop with holes")
    told.set_viewport_size({"width": 390, "height": 844})
    expect(told.get_by_role("heading", level=1)).to_contain_text("3 tilts")
    assert told.evaluate("document.documentElement.scrollWidth") <= 390
    told.locator('[data-bar="1"]').scroll_into_view_if_needed()
    x, y = middle(told, '[data-bar="1"]')
    told.mouse.move(x, y)
    told.mouse.down()
    told.mouse.up()  # a tap stands the prop there
    expect(told.locator('[data-rack="tilt-text"]')).to_have_text("40.4°")


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
