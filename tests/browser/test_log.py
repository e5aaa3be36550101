"""The log in a browser: a move off-line on the phone, a reading, a monitor's file, the tree that it finds, and the plan that counts it."""

from __future__ import annotations

import re
from datetime import date
from functools import cache
from pathlib import Path

import pytest
from playwright.sync_api import Page, expect

from sundial.brief.read import brief_of
from sundial.expected.simulate import simulate, written
from sundial.study import studied
from tests.browser.conftest import PATIENCE, station
from tests.browser.test_access import serious
from web.accounts.demo import demo_brief
from web.log.models import Entry, SeriesDay, Source

KEPT = """async () => {
    const kept = await caches.open(`shed:${location.href}`);
    const parts = performance.getEntriesByType("resource").map((entry) => entry.name).filter((name) => name.includes("/static/"));
    for (const address of [location.href, ...parts]) if (!(await kept.match(address, { ignoreVary: true }))) return false;
    return Boolean(navigator.serviceWorker.controller);
}"""


def entries(page: Page) -> list[Entry]:
    return list(Entry.objects.filter(build=int(re.findall(r"/builds/(\d+)/", page.url)[0])).order_by("pk"))


@pytest.fixture
def log(honey: Page) -> Page:
    station(honey, "The log")
    expect(honey.get_by_role("heading", level=1)).to_contain_text("Nothing is logged yet")
    return honey


@cache
def shed_file() -> bytes:
    """Half a year of the honey house with a tree that its survey lacks, as a monitor writes it."""
    study = studied(brief_of({**demo_brief("Honey house"), "mount": {"kind": "fixed", "tilt": 36}, "frame": None, "wind": None}))
    return written(simulate(study, date(2026, 1, 1), 180, 900, ("tree",), tilt=36.0).series, "comma", "Europe/Madrid")


def test_a_move_on_the_phone_without_a_connection_is_kept_and_sent_once(log: Page):
    page = log
    page.set_viewport_size({"width": 390, "height": 844})
    page.get_by_role("link", name="The page for the phone").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Honey house")
    assert page.evaluate("() => document.documentElement.scrollWidth <= innerWidth")
    for _ in range(PATIENCE // 100):
        if page.evaluate(KEPT):
            break
        page.wait_for_timeout(100)
    page.context.set_offline(True)
    page.reload()
    page.get_by_text("I moved it").click()  # three taps: this, the hole, the button
    page.locator(".hole").nth(4).click()
    page.get_by_role("button", name="Log it").first.click()
    expect(page.locator("#log-waiting")).to_contain_text("moved 42°: waiting, will be sent")
    page.reload()
    expect(page.locator("#log-waiting li")).to_have_count(1)
    assert entries(page) == []
    page.context.set_offline(False)
    expect(page.locator("#log-waiting li")).to_have_count(0)
    page.reload()
    expect(page.get_by_text("moved to hole 5 (42°)").first).to_be_visible()
    (entry,) = entries(page)
    assert entry.kind == "move" and abs(entry.data["tilt"] - 42) < 0.1


def test_a_reading_is_refused_beside_its_field_and_then_told(log: Page):
    page = log
    page.get_by_text("It reads…").click()
    power = page.locator("#reading-power")
    power.fill("31000")
    page.locator(".tap[open]").get_by_role("button", name="Log it").click()
    expect(page.locator("#err-reading-power")).to_contain_text("31000 W from 3440 W of panels")
    assert entries(page) == []
    power.fill("310")
    page.get_by_label("overcast", exact=True).check()
    page.locator(".tap[open]").get_by_role("button", name="Log it").click()
    expect(page.locator("#log-state")).to_have_text("Logged.")
    expect(page.locator(".time-line")).to_contain_text("read 310")
    assert entries(page)[0].data["sky"] == "overcast"


def test_by_keys_alone(log: Page):
    page = log
    page.locator("body").press("l")
    expect(page.locator(".tap.lead")).to_have_attribute("open", "")
    page.locator("#move-tilt").focus()
    page.keyboard.type("47.5")
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Moved to hole 6")
    expect(page.locator("#today")).to_contain_text("47.5°")
    page.get_by_role("button", name="Delete: ").first.focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Nothing is logged yet")


def test_from_a_file_to_the_missed_tree_to_another_plan(log: Page, tmp_path: Path):
    page = log
    file = tmp_path / "shed.csv"
    file.write_bytes(shed_file())
    page.get_by_text("I moved it").click()
    page.locator("#move-tilt").fill("36")
    page.get_by_text("When, how long, a photo").click()
    page.locator("#move-at").fill("2026-01-01T00:10")
    page.locator(".tap[open]").get_by_role("button", name="Log it").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("Moved to hole 4")
    page.get_by_label("CSV of any monitor").set_input_files(file)
    page.get_by_role("button", name="Look at it").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Is it read right?")
    expect(page.get_by_label("Values stand in")).to_have_value("Leistung [kW]")
    expect(page.get_by_label("Times stand in")).to_have_value("Datum")
    assert serious(page) == []
    page.get_by_label("Which monitor is it from?").fill("Shed meter")
    page.get_by_role("button", name="Take it in").click()
    expect(page.locator(".files-part")).to_contain_text("17")
    expect(page.locator(".files-part")).to_contain_text("new rows")
    source = Source.objects.get(name="Shed meter")
    assert SeriesDay.objects.filter(source=source).count() in (180, 181)
    judged = page.locator("#judged")
    expect(judged).to_contain_text("On clear days it gives")
    expect(judged).to_contain_text("Something shades that the survey lacks")
    expect(judged).to_contain_text("from 100° to 125°")
    expect(page.locator(".year-made")).to_be_visible()
    assert serious(page) == []
    station(page, "The tilt plan")
    before = page.locator("#headline .sub").inner_text()
    page.go_back()
    page.get_by_role("button", name="Take it into the skyline").first.click()
    expect(page.get_by_text("Taken into the skyline")).to_be_visible()
    station(page, "The tilt plan")
    expect(page.locator("#headline .sub")).not_to_have_text(before)
    expect(page.locator("#headline")).to_contain_text("Shade leaves")


@pytest.mark.parametrize("width", [1280, 390])
def test_nothing_stands_in_the_way(log: Page, width: int):
    log.set_viewport_size({"width": width, "height": 844})
    for tap in log.locator(".tap > summary").all():
        tap.click()
        assert serious(log) == []
    assert log.evaluate("() => document.documentElement.scrollWidth <= innerWidth")
    log.goto(f"{log.url}field/")
    assert serious(log) == []


def test_a_day_typed_on_the_ribbon_is_the_day_of_the_curve(log: Page):
    """Typed with Enter, by leaving the field, with a year: the curve follows each time."""
    page = log
    title, typed = page.locator("#answer h2").first, page.locator("#day-text")
    for text, key, shown in (
        ("3 March", "Enter", "3 March"),
        ("10 June", "Tab", "10 June"),
        ("5 October 2026", "Enter", "5 October"),
    ):
        typed.fill(text)
        typed.press(key)
        expect(title).to_contain_text(f"{shown}: ", timeout=PATIENCE)
        expect(typed).to_have_value(shown)
