"""How do I cut and bolt it? Paste stock, see the plan, tick three pieces off-line on the phone, come back, print."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Error, Page, expect

from tests.browser.conftest import PATIENCE, saved, station
from tests.browser.test_access import serious
from web.cutting.models import Cutting


@pytest.fixture
def shed(honey: Page) -> Page:
    station(honey, "The cutting")
    expect(honey.get_by_role("heading", level=1)).to_contain_text("cuts from")
    return honey


def ticks(page: Page) -> list[str]:
    """What the database holds as ticked for the build that is open."""
    pk = int(re.findall(r"/builds/(\d+)/", page.url)[0])
    return list(Cutting.objects.get(build=pk).done)


def test_paste_stock_see_the_plan_and_follow_a_letter(shed: Page):
    page = shed
    headline = page.get_by_role("heading", level=1)
    before = headline.inner_text()
    stock = page.get_by_role("table", name="Stock")
    for cell in stock.get_by_role("textbox").all():
        cell.fill("")
    pasted = "45x95 C24\t4.8 m\t20\n45x120 C24\t3.6 m\t6"
    stock.get_by_role("textbox", name="section, row 1").evaluate(
        """(cell, text) => {
          const data = new DataTransfer();
          data.setData("text/plain", text);
          cell.dispatchEvent(new ClipboardEvent("paste", { clipboardData: data, bubbles: true, cancelable: true }));
        }""",
        pasted,
    )
    expect(stock.get_by_role("textbox", name="on hand, row 2")).to_have_value("6")
    saved(page)
    expect(headline).not_to_have_text(before)
    expect(headline).to_contain_text("nothing to buy")
    expect(page.locator(".board-title small").first).to_contain_text("on hand")

    # A letter lights up its piece, its boards, and says its cut.
    page.locator("button.piece[data-letter=B]").click()
    expect(page.locator("#cut-said")).to_contain_text(re.compile(r"B, prop: 3 of 1\.36 m, square; holes .* On \d board"))
    expect(page.locator(".board-cut.picked")).to_have_count(3)
    page.locator('g.letter[data-letter="C"]').click()
    expect(page.locator("#cut-said")).to_contain_text("C, base bar: 3 of 2.6 m")
    # A board lights up its pieces.
    board = page.locator(".board").first
    board.locator(".board-title").click()
    letters = (board.get_attribute("data-letters") or "").split()
    assert page.locator("button.piece.picked").evaluate_all("all => all.map((one) => one.dataset.letter)") == letters
    # By keyboard alone.
    page.locator("button.piece[data-letter=A]").press("Enter")
    expect(page.locator("button.piece[data-letter=A]")).to_have_attribute("aria-pressed", "true")

    # A thicker saw moves a cut on to another board or leaves less.
    page.get_by_role("textbox", name="The saw takes").fill("3 cm")
    page.get_by_role("textbox", name="The saw takes").press("Tab")
    expect(page.locator("#err-kerf")).to_contain_text("A saw takes 1 to 5 mm")
    page.get_by_role("textbox", name="The saw takes").fill("4 mm")
    page.get_by_role("textbox", name="The saw takes").press("Tab")
    saved(page)
    expect(page.locator(".boards-part h2 small")).to_contain_text("4 mm")


def test_ticks_without_a_connection_are_kept_and_sent_later(shed: Page):
    page = shed
    page.set_viewport_size({"width": 390, "height": 844})
    page.get_by_role("link", name="Take it to the shed").first.click()
    expect(page.get_by_role("heading", level=1)).to_have_text("27 to saw")
    assert page.evaluate("() => document.documentElement.scrollWidth <= innerWidth"), "nothing is cut on a phone"
    page.context.set_offline(True)
    for number in range(3):
        page.locator("[data-cut-tick]").nth(number).check()
    expect(page.get_by_role("heading", level=1)).to_have_text("24 to saw")
    expect(page.locator("#tick-state")).to_contain_text("3 ticks are kept in this phone")
    assert ticks(page) == []
    page.context.set_offline(False)
    expect(page.locator("#tick-state")).to_be_empty()
    assert len(ticks(page)) == 3
    page.reload()
    expect(page.get_by_role("heading", level=1)).to_have_text("24 to saw")
    page.get_by_role("link", name="Back to the cutting").click()
    expect(page.locator("#headline")).to_contain_text("3 of 27 pieces are sawn")
    expect(page.locator(".board-cut.done")).to_have_count(3)
    # Taken back at the bench, and printed.
    page.locator(".board-title").first.click()
    page.locator(".board.picked [data-tick]:checked").first.uncheck()
    expect(page.locator(".board-cut.done")).to_have_count(2)
    page.emulate_media(media="print")
    expect(page.locator(".boards-part")).to_be_visible()
    expect(page.locator(".asks")).to_be_hidden()


KEPT = """async () => {
    const kept = await caches.open(`shed:${location.href}`);
    const parts = performance.getEntriesByType("resource").map((entry) => entry.name).filter((name) => name.includes("/static/"));
    for (const address of [location.href, ...parts]) if (!(await kept.match(address, { ignoreVary: true }))) return false;
    return Boolean(navigator.serviceWorker.controller);
}"""


def test_the_shed_opens_again_without_a_connection(shed: Page):
    page = shed
    page.get_by_role("link", name="Take it to the shed").first.click()
    expect(page.get_by_role("heading", level=1)).to_have_text("27 to saw")
    for _ in range(PATIENCE // 100):
        if page.evaluate(KEPT):
            break
        page.wait_for_timeout(100)
    assert page.evaluate(KEPT), "page and parts are kept, and the worker stands between them and the server"
    page.context.set_offline(True)
    page.reload()
    expect(page.get_by_role("heading", level=1)).to_have_text("27 to saw")
    page.locator("[data-cut-tick]").first.check()
    expect(page.get_by_role("heading", level=1)).to_have_text("26 to saw")
    page.reload()
    expect(page.get_by_role("heading", level=1)).to_have_text("26 to saw")
    assert page.locator(".huge-tick").first.evaluate("tick => getComputedStyle(tick).display") == "grid", (
        "its styles are kept too"
    )
    page.context.set_offline(False)
    expect(page.locator("#tick-state")).to_be_empty()
    assert len(ticks(page)) == 1


def test_a_session_that_ended_leaves_no_page_of_the_shed(shed: Page):
    """Nobody signed out: the session ran out, and whoever opens the browser next has no connection."""
    page = shed
    page.get_by_role("link", name="Take it to the shed").first.click()
    expect(page.get_by_role("heading", level=1)).to_have_text("27 to saw")
    kept = page.url
    for _ in range(PATIENCE // 100):
        if page.evaluate(KEPT):
            break
        page.wait_for_timeout(100)
    page.context.set_offline(True)
    page.reload()
    expect(page.get_by_role("heading", level=1)).to_have_text("27 to saw")
    page.context.set_offline(False)
    page.context.clear_cookies(name="sessionid")
    page.goto(f"{page.url.split('/builds/')[0]}/account/sign-in/")
    page.wait_for_function("async () => !(await caches.keys()).some((name) => name.startsWith('shed:'))")
    page.context.set_offline(True)
    with pytest.raises(Error, match="ERR_INTERNET_DISCONNECTED|ERR_FAILED"):
        page.goto(kept)
    page.context.set_offline(False)


def test_another_label_moves_the_voltages(shed: Page):
    page = shed
    page.get_by_text("What is it plugged into?").click()
    voltage = page.locator(".volts .lab").first
    before = voltage.text_content() or ""
    cold = page.get_by_role("textbox", name="Coldest morning")
    cold.fill("-30")
    cold.press("Tab")
    saved(page)
    expect(voltage).not_to_have_text(before)
    low = page.get_by_role("textbox", name="It tracks from")
    low.fill("120")
    low.press("Tab")
    expect(page.locator("#headline")).to_contain_text("The wiring may not be as it is")
    expect(page.locator(".wire-part")).to_contain_text("1 plug changed: 8")


@pytest.mark.parametrize("width", [1280, 390])
def test_nothing_stands_in_the_way_of_reading(shed: Page, width: int):
    shed.set_viewport_size({"width": width, "height": 844})
    assert serious(shed) == []
    shed.get_by_role("link", name="Take it to the shed").first.click()
    assert serious(shed) == []


def test_stock_is_typed_by_keyboard_alone_and_no_count_is_taken_for_a_price(shed: Page):
    """Enter goes down and adds a row; what lies there and what one costs stay two numbers."""
    page = shed
    stock = page.get_by_role("table", name="Stock")
    last = len(stock.get_by_role("row").all()) - 1
    stock.get_by_role("textbox", name=f"section, row {last}").focus()
    for text in ("45x95 C24", "5.4 m", "3", "17.25"):
        page.keyboard.type(text)
        page.keyboard.press("Tab")
    stock.get_by_role("textbox", name=f"price of one, row {last}").press("Enter")
    expect(stock.get_by_role("textbox", name=f"section, row {last + 1}")).to_be_focused()
    saved(page)
    pk = int(re.findall(r"/builds/(\d+)/", page.url)[0])
    row = Cutting.objects.get(build=pk).stock[-1]
    assert (row["length"], row["count"], row["price"]) == (5.4, 3, 17.25)
    page.set_viewport_size({"width": 390, "height": 844})
    wide = page.evaluate("document.documentElement.scrollWidth")
    assert wide <= 390
