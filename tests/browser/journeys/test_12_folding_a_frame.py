"""A folding A-frame for the field, in feet and pounds."""

from __future__ import annotations

import re
from datetime import datetime, timedelta

from playwright.sync_api import expect

from sundial.expected.moment import Expected, expected_at
from tests.browser.conftest import station
from tests.browser.journeys.conftest import typed
from web.builds.models import Build
from web.builds.results import Results


def test_a_folding_a_frame_for_the_field(begin):
    """Its own words, one rod with five holes a side, left and right pieces, the pounds a side that hold it, both panels side by side."""
    page = begin(
        "Field A-frame", "34.9 N, 97.3 W", "the ground", "moved by hand",
        {"Nameplate": "200", "Panel length": "58 1/2 in", "Panel width": "26 1/2 in", "Rows up the slope": "1", "Columns along it": "2"}, {},
    )  # fmt: skip
    station(page, "The frame")
    page.get_by_text("A folding A-frame", exact=True).click()
    head = page.get_by_role("heading", level=1)
    expect(head).to_contain_text("5 tilts")
    for label in ("Front leg", "Back leg", "Holes in the front leg", "Holes in the back leg", "Rod, hole to hole"):
        expect(page.get_by_role("textbox", name=label, exact=True)).to_be_visible()
    expect(page.locator("#station-form")).not_to_contain_text(re.compile(r"base bar|Holes in the rail"), use_inner_text=True)
    expect(page.get_by_label("One bar on each side, with these holes", exact=True)).to_be_checked()
    for label, text in {"Front leg": "80 in", "Rod, hole to hole": "40 in, 49 in, 57 in, 63 in, 68 in"}.items():
        typed(page, label, text)
    expect(head).to_contain_text(re.compile(r"5 tilts from 1\d(\.\d)?° to 4[89](\.\d)?°"))
    expect(page.get_by_role("table", name="Hole table")).to_contain_text("rod")
    expect(page.locator("main")).to_contain_text("a hole of the back leg or the end of the rod")

    station(page, "The wind")
    page.get_by_role("button", name="Reckon with the wind").click()
    expect(page.locator("#state")).to_have_text("saved")
    typed(page, "Strongest gust in years", "60 mph")
    expect(head).to_contain_text(re.compile(r"Loose on the ground it tips at \d+ mph when steep"))
    expect(page.locator("#headline")).to_contain_text(re.compile(r"\d+ lb on each side hold it at its steepest"))
    expect(page.locator("#headline")).to_contain_text("every month: not even flat")

    station(page, "The cutting")
    cuts = page.locator("#cut-list, main")
    expect(cuts.first).to_contain_text(re.compile(r"2 × front leg.*?1 left, 1 right"))
    expect(cuts.first).to_contain_text(re.compile(r"2 × rod.*?2x4 SPF No\.2.*?1 left, 1 right"))
    expect(page.locator(".cut-list, #cut-frame").first).not_to_contain_text("C24")
    expect(page.get_by_role("table", name="What to buy")).to_contain_text("bolt 1/2 in x")
    expect(page.get_by_role("table", name="What to buy")).to_contain_text(
        re.compile(r"\d+ ftearthing wire|\d+ ft\s+earthing wire")
    )

    page.get_by_role("heading", name="What is it plugged into?").click()
    for label, text in {"Voc": "24.3", "Vmp": "20.4", "Isc": "10.4", "Imp": "9.8"}.items():
        page.get_by_label(label, exact=True).fill(text)
    typed(page, "Voltage by heat", "-0.28")
    station(page, "The shade")
    page.get_by_role("heading", name="How the panels are wired").click()
    with page.expect_response(lambda answer: answer.request.method == "POST" and answer.ok):
        page.get_by_label("They feed", exact=True).select_option(label="strings side by side")
    expect(page.locator("#state")).to_have_text("saved")

    station(page, "The log")
    noon = datetime.now().replace(hour=12, minute=15, second=0, microsecond=0) - timedelta(days=2)
    due = expected_of_own_build(noon)
    assert due.vmp is not None
    page.get_by_text("It reads…").click()
    page.get_by_text("Volts and amps, load test, another meter").click()
    reading = page.locator(".tap[open]")
    reading.get_by_label("or volts", exact=True).fill(f"{due.vmp:.1f}")
    reading.get_by_label("and amps", exact=True).fill(f"{due.clear_power / due.vmp / 2:.1f}")
    reading.get_by_label("When", exact=True).fill(noon.strftime("%Y-%m-%dT%H:%M"))
    reading.get_by_role("button", name="Log it").click()
    expect(head).to_contain_text("50 % of what this sun gives")
    page.goto(page.url.split("?")[0].rstrip("/") + f"/why/?day={noon:%Y-%m-%d}")
    expect(head).to_contain_text(re.compile(r"One of two strings gives nothing: 9\d\s%\ssure"))
    expect(page.locator("main")).to_contain_text("where you read them at the leads of one alone, nothing is missing")
    suspects = page.locator(".suspects > li")
    expect(suspects.first).to_contain_text("One of two strings gives nothing")
    expect(suspects.filter(has_text="Wrong tilt")).to_contain_text("under 1 %")


def expected_of_own_build(at: datetime) -> Expected:
    """What the core expects of the one build that a newcomer has."""
    (build,) = Build.objects.filter(owner__username="oda")
    study = Results(build).study
    return expected_at(study, at.replace(tzinfo=study.scene.site.zone))
