"""Trials, why is it low and the trainer in a browser: at a desk, on a phone, by keyboard, and for everybody."""

from __future__ import annotations

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import station
from tests.browser.test_access import serious

pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture
def log(honey: Page) -> Page:
    station(honey, "The log")
    return honey


def no_sideways(page: Page) -> bool:
    return bool(page.evaluate("document.documentElement.scrollWidth <= innerWidth"))


def test_a_trial_from_its_design_to_not_shown(log: Page):
    page = log
    page.get_by_role("link", name="Trials: one against another").click()
    page.get_by_role("link", name="Clean against dirty").click()
    expect(page.get_by_label("First arm")).to_have_value("dirty")
    page.get_by_label("A gain worth knowing").fill("-3")
    page.get_by_role("button", name="Make the run sheet").click()
    expect(page.locator("#err-gain")).to_contain_text("Give a number")
    expect(page.get_by_label("A gain worth knowing")).to_have_value("-3")
    page.get_by_label("A gain worth knowing").fill("3")
    page.get_by_label("They stand where nothing shades them").check()
    page.get_by_role("button", name="Make the run sheet").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Clean against dirty: no repeat is logged yet.")
    expect(page.locator(".run-steps li")).not_to_have_count(0)
    page.set_viewport_size({"width": 390, "height": 844})
    assert no_sideways(page)
    page.get_by_role("button", name="Start now").click()
    expect(page.get_by_role("button", name=re.compile("Stop now"))).to_be_visible()
    page.reload()
    page.get_by_role("button", name=re.compile("Stop now")).click()
    expect(page.get_by_label("Over")).not_to_have_value("")
    page.get_by_label("Position 1 gave").fill("1000")
    page.get_by_label("Position 2 gave").fill("1012")
    page.reload()
    expect(page.get_by_label("Position 2 gave")).to_have_value("1012")  # what was typed waits in the phone
    page.get_by_role("button", name="Keep this repeat").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("nothing was tried yet")
    for first, second, order in (("1000", "1041", "set"), ("1000", "985", "swapped"), ("1000", "1030", "set")):
        page.get_by_label("Position 1 gave").fill(first)
        page.get_by_label("Position 2 gave").fill(second)
        page.get_by_label("The arms stood", exact=True).select_option(order)
        page.get_by_role("button", name="Keep this repeat").click()
        expect(page.get_by_label("Position 1 gave")).to_have_value("")
    expect(page.get_by_role("heading", level=1)).to_contain_text("Clean gives 2.5 % more than dirty")
    expect(page.locator(".mark-set")).to_have_count(2)
    expect(page.locator(".mark-swapped")).to_have_count(1)
    assert no_sideways(page) and serious(page) == []


def test_every_answer_moves_the_suspects(log: Page):
    page = log
    page.get_by_role("link", name="Why is it low?").click()
    expect(page.get_by_role("heading", level=1)).to_have_text("Nothing is known of this day yet.")
    bar = page.locator("#bar-dirt")
    before = bar.get_attribute("width") or ""
    page.get_by_text("Or answer another").click()
    page.get_by_role("button", name="Dust, pollen, droppings").first.click()
    expect(page.locator(".said")).to_contain_text("The glass is dusty")
    expect(bar).not_to_have_attribute("width", before)  # it moves there from where it was
    assert float(bar.get_attribute("width") or 0) > 2 * float(before)
    assert page.evaluate("document.activeElement.closest('.why-ask') !== null"), "the next question has the focus"
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    expect(page.locator(".said li")).to_have_count(2)
    page.get_by_role("button", name="Take back: the glass is dusty").click()
    expect(page.locator(".said li")).to_have_count(1)
    page.reload()
    expect(page.locator(".said li")).to_have_count(1)
    page.set_viewport_size({"width": 390, "height": 844})
    assert no_sideways(page) and serious(page) == []


def test_an_invented_day_is_read_and_named(log: Page):
    page = log
    page.get_by_role("link", name="Trainer: find the fault").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("what is wrong here?")
    page.get_by_role("button", name="2. What the curve says").click()
    expect(page.locator(".sub")).to_contain_text("Level 2")
    page.get_by_role("button", name=re.compile("^Hold a meter to the string")).click()
    expect(page.locator(".said")).to_contain_text("The volts")
    expect(page.locator("#practice")).to_contain_text("4 min so far")
    page.get_by_label("It is").select_option("limit")
    page.get_by_role("button", name="That is it").click()
    expect(page.get_by_role("heading", name="What gave it away")).to_be_visible()
    expect(page.locator(".record")).to_contain_text("of 1")
    assert serious(page) == []
    page.get_by_role("button", name="Another day like this").click()
    expect(page.get_by_role("heading", level=1)).to_contain_text("what is wrong here?")
    page.set_viewport_size({"width": 390, "height": 844})
    assert no_sideways(page) and serious(page) == []
