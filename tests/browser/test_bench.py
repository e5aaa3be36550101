"""The bench in a browser: a knob replays the day, the suggestion is taken, the table taken away, a controller watched; phone, keyboard, axe."""

from __future__ import annotations

import re
from datetime import timedelta
from typing import Any

import pytest
from django.utils import timezone
from playwright.sync_api import Page, expect

from tests.browser.conftest import saved, station
from tests.browser.test_access import serious
from web.builds.models import Build
from web.devices.models import Token
from web.log.models import Source

pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture
def bench(app: Page, settings: Any) -> Page:
    """The lookout pole's bench; five settings stand for forty."""
    settings.BENCH_SETTINGS = 5
    app.get_by_role("button", name="Look round the demo").click()
    app.get_by_role("heading", name="Lookout pole", level=2).click()
    app.wait_for_load_state()
    station(app, "The bench")
    expect(app.get_by_role("heading", level=1)).to_contain_text(re.compile(r"It moves \d+ times? on"))
    return app


def test_turn_a_knob_play_the_day_take_the_suggestion_and_the_table(bench: Page):
    page = bench
    heading = page.get_by_role("heading", level=1)
    before = heading.inner_text()
    page.get_by_label("Looks every").fill("30")
    page.get_by_label("Looks every").press("Tab")
    saved(page)
    expect(heading).not_to_have_text(before)
    clock = page.locator("[data-clock]")
    glass = page.locator(".dial-glass").first
    page.get_by_role("slider", name="Time of the day").focus()
    told, turned = clock.inner_text(), glass.get_attribute("transform")
    for _ in range(3):
        page.keyboard.press("PageUp")
    expect(clock).not_to_have_text(told)
    expect(glass).not_to_have_attribute("transform", str(turned))
    page.get_by_role("button", name="Play the day").click()
    expect(page.get_by_role("button", name="Stop")).to_be_visible()
    page.get_by_role("button", name="Stop").click()
    page.locator(".event-list .link").nth(1).click()
    expect(clock).to_have_text(page.locator(".event-list .link").nth(1).inner_text())
    page.get_by_label("Looks every").fill("0")
    page.get_by_label("Looks every").press("Tab")
    expect(page.locator(".bench-right")).to_contain_text("A cycle of 0 s")
    page.get_by_label("Looks every").fill("often")
    page.get_by_label("Looks every").press("Tab")
    expect(page.locator("#err-cycle")).to_contain_text("Give a number")
    page.get_by_label("Looks every").fill("1")
    page.get_by_label("Looks every").press("Tab")
    saved(page)
    page.reload()  # the year of these settings, not of the ones before
    take = page.get_by_role("button", name="Take the suggestion")
    expect(take).to_be_visible()
    with page.expect_download() as header:
        page.get_by_role("button", name="C header").click()
    assert "sun_table_roll" in header.value.path().read_text()
    take.click()
    expect(page.get_by_text("Taken over:")).to_be_visible()
    assert serious(page) == []


def test_a_controller_that_follows_is_watched_live(bench: Page, live_server: Any):
    page = bench
    expect(page.locator("#live")).to_contain_text("is seen here live")
    build = Build.objects.get(pk=int(re.findall(r"/builds/(\d+)/", page.url)[0]))
    _, secret = Token.made(build, Source.objects.create(build=build, name="Pole board"), "Pole board")
    at = timezone.now() - timedelta(hours=1)
    for angle in (-20.0, 35.0):
        body = {
            "turns": [{"time": (at + timedelta(minutes=angle)).isoformat(), "angles": [angle], "why": "the table's next step"}]
        }
        sent = page.request.post(f"{live_server.url}/api/readings", data=body, headers={"Authorization": f"Bearer {secret}"})
        assert sent.status == 200, sent.text()
    expect(page.locator("#live")).to_contain_text("35.0°")
    expect(page.locator("#live")).to_contain_text("the table's next step")


def test_the_bench_on_a_phone(bench: Page):
    page = bench
    page.set_viewport_size({"width": 390, "height": 844})
    page.reload()
    expect(page.locator("#bench-year .verdict")).to_be_visible()
    assert page.evaluate("document.documentElement.scrollWidth <= innerWidth")
    page.get_by_text("a clock", exact=True).click()
    expect(page.locator(".sub")).to_contain_text("Steps of 5°")
    assert serious(page) == []
