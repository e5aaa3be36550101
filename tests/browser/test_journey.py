"""The whole way, as a person goes it."""

from __future__ import annotations

import re
from pathlib import Path

import pytest
from django.contrib.auth.models import User
from icalendar import Calendar
from playwright.sync_api import Page, Route, expect

from tests.browser.conftest import saved, station
from tests.core.conftest import GREENSBORO
from tests.web.conftest import PASSWORD, build_for
from tests.web.test_sky_epw import southern_epw

pytestmark = pytest.mark.django_db(transaction=True)


def test_from_the_demo_to_a_build_of_ones_own(honey: Page, tmp_path: Path):
    # Drag the panel: day and year follow.
    station(honey, "The frame")
    year = honey.locator('[data-rack="year"]')
    before = year.inner_text()
    honey.locator("#grip").scroll_into_view_if_needed()
    grip, hinge = honey.locator("#grip").bounding_box(), honey.locator('[data-rack="panel"]').bounding_box()
    honey.mouse.move(grip["x"] + grip["width"] / 2, grip["y"] + grip["height"] / 2)
    honey.mouse.down()
    honey.mouse.move(hinge["x"] + 260, hinge["y"] + hinge["height"] - 70, steps=8)
    expect(honey.locator('[data-rack="tilt-text"]')).to_have_text(re.compile(r"16°|23°"))
    assert year.inner_text() != before
    honey.mouse.up()

    # Change the hole table.
    honey.get_by_role("radio", name="I know its tilts", exact=True).check(force=True)
    honey.get_by_label("Tilts it can reach", exact=True).fill("hole  tilt\n1  18\n2  24\n3  33\n4  41\n5  50\n6  58")
    honey.get_by_label("Nameplate", exact=True).focus()
    expect(honey.get_by_role("heading", level=1)).to_contain_text("6 tilts from 18° to 58°")
    saved(honey)
    expect(honey.get_by_label("Nameplate", exact=True)).to_be_focused()

    # Choose two moves and read the sentence.
    station(honey, "The tilt plan")
    honey.locator(".counts").get_by_text("4", exact=True).click()
    expect(honey.get_by_role("heading", level=1)).to_contain_text("Move it 4 times a year")
    honey.locator(".counts").get_by_text("2", exact=True).click()
    expect(honey.get_by_role("heading", level=1)).to_have_text(
        re.compile(r"Move it twice a year: on \d+ \w+ to 18°, on \d+ \w+ to 41°\.")
    )
    expect(honey.locator("#headline .sub")).to_have_text(re.compile(r"\+\d+ kWh a year over the best single angle \(33°\)"))

    # Download the calendar.
    with honey.expect_download() as file:
        honey.get_by_role("link", name="Calendar file").click()
    target = tmp_path / "moves.ics"
    file.value.save_as(target)
    assert [str(e["summary"]) for e in Calendar.from_ical(target.read_bytes()).walk("VEVENT")] == [
        "Honey house: tilt to 18°, hole 1",
        "Honey house: tilt to 41°, hole 4",
    ]

    # Say how it stands today: the line of the day compares it with the plan, on every station.
    honey.get_by_label("Yours stands at", exact=True).fill("36")
    honey.get_by_label("Yours stands at", exact=True).press("Enter")
    expect(honey.locator(".today")).to_contain_text(
        re.compile(r"yours stands at 36°: moving it now gains [\d.]+ kWh by \d+ \w+, waiting a week costs [\d.]+\.")
    )
    honey.get_by_label("Yours stands at", exact=True).fill("upright")
    honey.get_by_label("Yours stands at", exact=True).press("Enter")
    expect(honey.locator("#err-stands")).to_have_text("Give a number from -90 to 90.")

    # Switch on the two-axis row and read the verdict.
    station(honey, "Worth it?")
    expect(honey.get_by_role("heading", level=1)).to_contain_text("Two moves a year pay")
    honey.get_by_role("row", name="Two axes").get_by_role("checkbox").check()
    expect(honey.locator("#headline .sub")).to_contain_text("it makes sense only where there is no room for them")
    expect(honey.locator("#v-two-axis-payback")).to_have_text(re.compile(r"[\d.]+ years|never pays back"))

    # A new build south of the equator, in feet and inches, from an uploaded EPW.
    honey.get_by_role("button", name="Ines").click()
    honey.get_by_role("link", name="My builds").click()
    honey.get_by_label("Its name", exact=True).fill("Woolshed")
    honey.get_by_role("button", name="Begin").click()
    honey.get_by_label("Latitude", exact=True).fill("36.1 S, 144.7 E")
    honey.get_by_label("Height above sea", exact=True).fill("900 ft")
    honey.get_by_label("The sky comes from", exact=True).select_option("A weather file (EPW, TMY3, CSV)")
    epw = tmp_path / "invented.epw"
    epw.write_text(southern_epw())
    honey.get_by_label("Weather file", exact=True).set_input_files(epw)
    honey.get_by_role("button", name="Next").click()
    honey.get_by_label("Panel length", exact=True).fill("5 ft 8 1/2 in")
    honey.get_by_label("Panel width", exact=True).fill("45 in")
    honey.get_by_role("button", name="Next").click()
    honey.get_by_text("the ground", exact=True).click()
    honey.get_by_text("moved by hand", exact=True).click()
    honey.get_by_label("Lower edge above that", exact=True).fill("2 ft 6 in")
    honey.get_by_label("Tilts it can reach", exact=True).fill("10 to 60 by 5")
    honey.get_by_role("button", name="Show me the plan").click()
    expect(honey.get_by_role("heading", level=1)).to_contain_text("Move it twice a year")
    first = honey.locator(".low-left tbody tr").first.inner_text()
    assert re.match(r"\d+ (Feb|Mar|Apr)", first), first  # south of the equator the steep tilt begins in autumn: March
    station(honey, "The frame")
    expect(honey.get_by_label("Panel length", exact=True)).to_have_value("1.74 m")  # as the country of the place measures
    expect(honey.get_by_text("faces 0° (north)")).to_be_visible()
    station(honey, "The place")
    expect(honey.get_by_text("EPW file: Invented Plain")).to_be_visible()
    expect(honey.get_by_text("Australia/Melbourne")).to_be_visible()
    assert GREENSBORO["latitude"] == 36.1


def test_the_chosen_day_is_dragged_arrowed_and_typed_and_every_drawing_follows(honey: Page):
    line = honey.locator(".middle .day-line")
    before = line.get_attribute("d")
    honey.get_by_label("Type the chosen day", exact=True).fill("21 June")
    honey.keyboard.press("Enter")
    expect(honey.get_by_text("At the rack, 21 June")).to_be_visible()
    assert line.get_attribute("d") != before
    expect(honey.get_by_text("noon sun 70.5°")).to_be_visible()
    honey.get_by_role("slider", name="Chosen day").focus()
    honey.keyboard.press("ArrowRight")
    expect(honey.get_by_text("At the rack, 22 June")).to_be_visible()
    expect(honey.get_by_role("slider", name="Chosen day")).to_be_focused()
    bead = honey.get_by_role("slider", name="Chosen day").bounding_box()
    honey.mouse.click(bead["x"] + bead["width"] * 0.9, bead["y"] + 11)
    expect(honey.get_by_text(re.compile("At the rack, .* November"))).to_be_visible()
    honey.reload()
    expect(honey.get_by_text(re.compile("At the rack, .* November"))).to_be_visible()
    honey.get_by_label("Type the chosen day", exact=True).fill("soon")
    honey.keyboard.press("Enter")
    expect(honey.locator("#state")).to_contain_text("12 November")


def test_a_refusal_stands_beside_its_field_and_keeps_what_was_typed(honey: Page):
    station(honey, "The place")
    latitude = honey.get_by_label("Latitude", exact=True)
    latitude.fill("91")
    latitude.press("Tab")
    expect(honey.locator("#err-latitude")).to_contain_text("beyond the pole")
    expect(latitude).to_have_value("91")
    expect(latitude).to_have_attribute("aria-invalid", "true")
    expect(honey.locator("#state")).to_contain_text("not saved")
    latitude.fill("42.9")
    latitude.press("Tab")
    saved(honey)
    expect(honey.locator("#err-latitude")).to_be_empty()


def test_figures_that_arrive_late_overwrite_nothing_that_was_typed_meanwhile(honey: Page):
    waiting: list[Route] = []
    honey.route("**/?part=answer", lambda route: waiting.append(route))
    stands, day = honey.get_by_label("Yours stands at", exact=True), honey.get_by_label("Type the chosen day", exact=True)
    stands.fill("36")
    with honey.expect_request("**/?part=answer"):
        stands.press("Enter")
    stands.fill("upright")
    day.fill("1 May")
    waiting.pop().continue_()
    expect(honey.locator(".today")).to_contain_text("yours stands at 36°")
    expect(stands).to_have_value("upright")
    expect(day).to_have_value("1 May")
    expect(day).to_be_focused()
    honey.unroute("**/?part=answer")
    day.press("Enter")
    expect(honey.get_by_text("At the rack, 1 May")).to_be_visible()


def test_two_tabs_notice_each_other(honey: Page):
    other = honey.context.new_page()
    other.goto(honey.url)
    honey.locator(".counts").get_by_text("3", exact=True).click()
    expect(honey.get_by_role("heading", level=1)).to_contain_text("3 times")
    other.locator(".counts").get_by_text("6", exact=True).click()
    expect(other.get_by_text("Somebody changed this build meanwhile")).to_be_visible()
    other.get_by_role("link", name="Show the newer state").click()
    expect(other.get_by_role("heading", level=1)).to_contain_text("3 times")


def test_an_expired_session_loses_nothing_that_was_typed(app: Page, live_server):
    person = User.objects.create_user("maren", password=PASSWORD)
    address = f"{live_server.url}/builds/{build_for(person).pk}/frame/"

    def sign_in() -> None:
        app.get_by_label("Username", exact=True).fill("Maren")
        app.get_by_label("Password", exact=True).fill(PASSWORD)
        app.get_by_role("button", name="Sign in").click()

    app.goto(address)
    sign_in()
    expect(app.get_by_label("Nameplate", exact=True)).to_be_visible()  # the cookie is there now
    app.context.clear_cookies(name="sessionid")
    app.get_by_label("Nameplate", exact=True).fill("455")
    app.get_by_label("Nameplate", exact=True).press("Tab")
    expect(app.get_by_text("You were signed out")).to_be_visible()
    app.get_by_role("link", name="sign in and go on").click()
    expect(app.get_by_text("kept in this tab")).to_be_visible()
    sign_in()
    expect(app.get_by_text("What you had typed before is back")).to_be_visible()
    expect(app.get_by_label("Nameplate", exact=True)).to_have_value("455")
    app.get_by_role("button", name="Save it").click()
    expect(app.get_by_role("heading", level=1)).to_contain_text("3.64 kW")
    saved(app)
    # What is saved is typed no more, however it was written.
    version = app.locator("#version").input_value()
    app.get_by_label("Panel length", exact=True).fill("74 in")
    app.get_by_label("Panel length", exact=True).press("Tab")
    expect(app.locator("#version")).not_to_have_value(version)
    saved(app)
    app.reload()
    expect(app.get_by_label("Panel length", exact=True)).to_have_value("1.88 m")
    expect(app.get_by_text("What you had typed before is back")).to_have_count(0)


def test_twelve_numbers_are_typed_dragged_and_pasted(honey: Page):
    station(honey, "The place")
    june = honey.locator('[data-part="ghi"]').nth(5)
    june.fill("7.4")
    with honey.expect_response(re.compile("part=answer")):  # the new figures may move what stands under them
        june.press("Tab")
    saved(honey)
    expect(honey.get_by_role("heading", level=1)).to_contain_text("kWh/m²")
    expect(honey.locator(".htmx-request, .pending")).to_have_count(0)
    january = honey.locator('[data-part="ghi"]').nth(0)
    before = january.input_value()
    bar = honey.locator(".twelve:has([data-part=ghi]) .twelve-bar").nth(0)
    box = bar.bounding_box()
    bar.hover(position={"x": 5, "y": box["height"] - 13})
    honey.mouse.down()
    bar.hover(position={"x": 5, "y": box["height"] - 10}, force=True)
    with honey.expect_response(re.compile("part=answer")):
        honey.mouse.up()
    expect(january).not_to_have_value(before)
    saved(honey)
    december = honey.locator('[data-part="ghi"]').nth(11)
    december.fill("9")
    december.press("Tab")
    expect(honey.locator("#err-ghi")).to_contain_text("December has 9")


def test_goal_caps_and_work_are_changed_beside_the_plan(honey: Page):
    headline = honey.get_by_role("heading", level=1)
    before = headline.inner_text()
    honey.get_by_text("winter", exact=True).click()
    expect(headline).not_to_have_text(before)
    expect(honey.locator("#headline .sub")).to_contain_text("In the season that counts")
    honey.get_by_text("all year", exact=True).click()
    expect(headline).to_have_text(before)
    honey.get_by_label("An hour of it is worth", exact=True).fill("500")
    honey.get_by_label("An hour of it is worth", exact=True).press("Tab")
    expect(honey.locator(".gain-words")).to_contain_text("moving does not pay")
    honey.get_by_text("Limits: wind, snow, weekends").click()
    for month in range(12):
        honey.locator('[data-part="cap"]').nth(month).fill("30" if month in (0, 11) else "60")
    honey.locator('[data-part="cap"]').nth(5).press("Tab")
    expect(honey.locator("#headline .sub")).to_contain_text("Your limits cost")


def test_a_build_is_copied_thrown_away_and_taken_back(honey: Page):
    honey.keyboard.press("b")
    honey.get_by_role("button", name="More for Honey house").click()
    honey.get_by_role("button", name="Copy, to try something").click()
    expect(honey.get_by_role("heading", name="Honey house (copy)")).to_be_visible()
    honey.get_by_role("button", name="More for Honey house (copy)").click()
    honey.get_by_role("button", name="Throw away").click()
    expect(honey.get_by_role("heading", name="Honey house (copy)")).to_be_hidden()
    honey.get_by_role("button", name="Take it back").click()
    expect(honey.get_by_role("heading", name="Honey house (copy)")).to_be_visible()


def test_a_double_clicked_begin_makes_one_build(honey: Page):
    honey.keyboard.press("b")
    honey.get_by_label("Its name", exact=True).fill("Twice")
    honey.get_by_role("button", name="Begin").dblclick()
    expect(honey.get_by_role("heading", level=1)).to_contain_text("Where will it stand")
    honey.goto(honey.url.partition("/builds")[0] + "/builds/")
    expect(honey.get_by_role("heading", name="Twice")).to_have_count(1)


def test_the_back_button_goes_back_to_what_was_saved(honey: Page):
    honey.locator(".counts").get_by_text("6", exact=True).click()
    expect(honey.get_by_role("heading", level=1)).to_contain_text("6 times")
    station(honey, "Worth it?")
    honey.go_back()
    expect(honey.get_by_role("heading", level=1)).to_contain_text("6 times")
    expect(honey.locator(".counts input[value='6']")).to_be_checked()


def test_a_fixed_frame_takes_the_tilt_it_is_dragged_to(honey: Page):
    station(honey, "The frame")
    honey.get_by_label("The mount is", exact=True).select_option("Fixed")
    expect(honey.get_by_role("heading", level=1)).to_contain_text("fixed at")
    honey.get_by_label("Tilt", exact=True).fill("33")
    honey.keyboard.press("Tab")
    expect(honey.locator("#err-tilt")).to_contain_text(re.compile("as it is built the frame stands at 3[56]", re.I))
    honey.get_by_label("Tilt", exact=True).fill("36")
    honey.keyboard.press("Tab")
    expect(honey.get_by_role("heading", level=1)).to_contain_text("fixed at 36°")
    honey.locator("#grip").focus()
    honey.keyboard.press("End")
    expect(honey.get_by_role("heading", level=1)).to_contain_text("fixed at 57°")  # its last hole
    honey.get_by_role("radio", name="I know its tilts", exact=True).check(force=True)
    expect(honey.locator("#grip")).to_have_attribute("aria-valuemax", "90.0")
    honey.locator("#grip").focus()
    honey.keyboard.press("End")
    expect(honey.get_by_role("heading", level=1)).to_contain_text("fixed at 90°")
