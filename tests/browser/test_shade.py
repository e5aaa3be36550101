"""The yard drawn, priced and undone in a real browser, by mouse, by keyboard and on a phone."""

from __future__ import annotations

import re
import struct
import zlib
from pathlib import Path

import pytest
from django.contrib.auth.models import User
from playwright.sync_api import Page, expect

from tests.browser.conftest import saved, station
from tests.browser.test_access import serious
from tests.web.conftest import build_for
from web.builds.models import Build

pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture
def bare(app: Page) -> Page:
    """Signed in to the demo with a build in an open yard, its shade station open."""
    app.get_by_role("button", name="Look round the demo").click()
    app.get_by_role("heading", name="Honey house", level=2).wait_for()
    open_yard = {
        "horizon": None,
        "yard": None,
        "wiring": {"kind": "series"},
        "mount": {"kind": "stepped", "min": 10.0, "max": 65.0},
    }
    build = build_for(User.objects.filter(account__demo_until__isnull=False).latest("pk"), name="Bare yard", **open_yard)
    app.goto(re.sub(r"/builds/.*", f"/builds/{build.pk}/shade/", app.url))
    expect(app.get_by_role("heading", level=1)).to_contain_text("Nothing stands in the way")
    app.wait_for_load_state("networkidle")
    return app


def held(page: Page) -> dict:
    """The yard as it is saved."""
    return Build.objects.whole().get(pk=int(re.search(r"/builds/(\d+)/", page.url)[1])).yard.__dict__


def metres(page: Page, x: float, y: float) -> tuple[float, float]:
    """Where a place of the plan, m, is on the screen."""
    page.locator("#plan").scroll_into_view_if_needed()
    at = page.evaluate(
        "([x, y]) => { const m = document.querySelector('#plan').getScreenCTM(); const p = new DOMPoint(x, -y).matrixTransform(m); return [p.x, p.y]; }",
        [x, y],
    )
    return at[0], at[1]


def drag(page: Page, start: tuple[float, float], end: tuple[float, float]) -> None:
    page.mouse.move(*metres(page, *start))
    page.mouse.down()
    page.mouse.move(*metres(page, *end), steps=6)
    page.mouse.up()


def loss(page: Page) -> float:
    words = page.get_by_role("heading", level=1).inner_text()
    found = re.search(r"Shade takes ([\d\u202f.]+) kWh", words)
    return float(found[1].replace("\u202f", "")) if found else 0.0


def settle(page: Page) -> None:
    expect(page.locator("#yard[aria-busy]")).to_have_count(0)
    saved(page)
    expect(page.locator("#prices[aria-busy]")).to_have_count(0)
    expect(page.locator(".htmx-request")).to_have_count(0)


def png(width: int, height: int) -> bytes:
    """A plain grey picture."""

    def chunk(kind: bytes, data: bytes) -> bytes:
        return struct.pack(">I", len(data)) + kind + data + struct.pack(">I", zlib.crc32(kind + data))

    rows = zlib.compress((b"\x00" + b"\x99" * width) * height)
    head = struct.pack(">IIBBBBB", width, height, 8, 0, 0, 0, 0)
    return b"\x89PNG\r\n\x1a\n" + chunk(b"IHDR", head) + chunk(b"IDAT", rows) + chunk(b"IEND", b"")


def test_draw_price_prune_move_turn_and_undo_it_all(bare: Page):
    page = bare
    start = {key: value for key, value in held(page).items() if key in ("obstacles", "skyline", "x", "y")}

    # A house and two trees.
    page.get_by_role("button", name="House", exact=True).click()
    drag(page, (-9, -9), (-4, -5))
    settle(page)
    for x, y in ((3, -6), (6, -8)):
        page.get_by_role("button", name="Tree", exact=True).click()
        page.mouse.click(*metres(page, x, y))
        settle(page)
    assert [thing["name"] for thing in held(page)["obstacles"]] == ["House", "Tree", "Tree 2"]
    assert held(page)["obstacles"][0]["footprint"] == [[-9, -9], [-4, -9], [-4, -5], [-9, -5]]
    first = loss(page)
    assert first > 100

    # Exact numbers beside the plan, in words of one's own.
    page.get_by_role("button", name=re.compile("^Tree 7")).click()
    page.get_by_label("Height", exact=True).fill("29 ft 6 in")
    page.get_by_label("Height", exact=True).press("Tab")
    settle(page)
    assert held(page)["obstacles"][1]["height"] == pytest.approx(8.99, abs=0.01)
    assert loss(page) > first

    # A skyline, traced reading by reading; the compass is turned to true.
    for bearing, up in ((90, 4), (150, 12), (230, 9), (300, 3)):
        page.get_by_label("Bearing of a new reading, degrees").fill(str(bearing))
        page.get_by_label("Elevation of a new reading, degrees").fill(str(up))
        page.get_by_role("button", name="Add this reading").click()
        settle(page)
    readings = held(page)["skyline"]
    assert [reading["bearing"] for reading in readings] == [90, 150, 230, 300]
    assert readings[0]["azimuth"] == pytest.approx(90 + readings[0]["declination"], abs=0.02)
    traced = loss(page)

    # A reading is moved by its handle.
    dot = page.locator('#sky [data-reading="1"]')
    dot.focus()
    for _ in range(6):
        page.keyboard.press("ArrowUp")
    settle(page)
    assert held(page)["skyline"][1]["elevation"] == pytest.approx(15)
    assert loss(page) > traced

    # The price of a tree, and what pruning gives back.
    expect(page.get_by_role("row", name=re.compile(r"^Tree \d+")).first).to_be_visible()
    expect(page.get_by_role("heading", level=1)).to_contain_text("dearest:")
    expect(page.get_by_role("table", name=re.compile("^What comes back by month")).get_by_role("row")).to_have_count(5)
    page.get_by_role("button", name="House: what if?").click()
    expect(page.locator("#returned")).to_contain_text("kWh a year")
    expect(page.get_by_label("Take", exact=True)).to_have_value("House")
    expect(page.get_by_role("radio", name="thin it")).to_be_disabled()
    page.get_by_label("Take", exact=True).select_option("Tree")
    page.get_by_text("thin it", exact=True).click()
    page.get_by_label("by", exact=True).fill("60")
    page.get_by_role("button", name="What comes back?").click()
    expect(page.locator("#returned")).to_contain_text(re.compile(r"\+\d+ kWh a year, \+\d+ of them in the winter half-year"))
    expect(page.locator(".caution").filter(has_text="Trees:")).to_be_visible()
    before_pruning = loss(page)
    page.get_by_role("button", name=re.compile(r"^Tree 8\.99")).click()
    page.get_by_label("Height", exact=True).fill("5")
    page.get_by_label("Height", exact=True).press("Tab")
    settle(page)
    assert loss(page) < before_pruning
    angle = plan_sentence(page)

    # A better spot, found and taken.
    page.get_by_role("button", name="Find the best spots").click()
    expect(page.locator(".spots li")).to_have_count(3)
    expect(page.locator("#plan .spot")).to_have_count(3)
    before_moving = loss(page)
    page.get_by_role("button", name="Stand it here").first.click()
    settle(page)
    assert (held(page)["x"], held(page)["y"]) != (0, 0)
    assert loss(page) < before_moving

    # The array turned by its handle, figures on the way; the plan follows.
    page.get_by_role("button", name="The way the panels look: arrows move it").focus()
    for _ in range(3):
        page.keyboard.press("Shift+ArrowRight")
    expect(page.locator("#plan-said")).to_contain_text(re.compile(r"Here it would make [\d\u202f]+ kWh a year \(−"))
    settle(page)
    assert plan_sentence(page) != angle

    # All of it undone.
    for _ in range(60):
        if page.locator("#undo").is_disabled():
            break
        page.locator("#undo").click()
    settle(page)
    expect(page.get_by_role("heading", level=1)).to_contain_text("Nothing stands in the way")
    assert {key: held(page)[key] for key in start} == start
    page.locator("#redo").click()
    settle(page)
    assert [thing["name"] for thing in held(page)["obstacles"]] == ["House"]


def plan_sentence(page: Page) -> str:
    """The sentence of the tilt plan, read on its own page."""
    there = page.context.new_page()
    there.goto(page.url.replace("/shade/", "/tilt/"))
    words = there.get_by_role("heading", level=1).inner_text()
    there.close()
    return words


def test_every_drawing_action_by_keyboard(bare: Page):
    page = bare
    for name in ("House", "Tree", "Wall", "Fence", "Post", "Rail"):
        page.get_by_role("button", name=name, exact=True).focus()
        page.keyboard.press("Enter")
        expect(page.locator(f'#plan [data-thing="{name}"]')).to_be_focused()
        for _ in range({"House": 14, "Tree": 10, "Wall": 6, "Fence": 4, "Post": 2, "Rail": 0}[name]):
            page.keyboard.press("Shift+ArrowDown")
    settle(page)
    things = {thing["name"]: thing for thing in held(page)["obstacles"]}
    assert set(things) == {"House", "Tree", "Wall", "Fence", "Post", "Rail"}
    tree = things["Tree"]

    page.locator('#plan [data-thing="Tree"]').focus()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("+")
    settle(page)
    moved = next(thing for thing in held(page)["obstacles"] if thing["name"] == "Tree")
    assert moved["at"][0] == pytest.approx(tree["at"][0] + 0.1)
    assert moved["crown_radius"] == pytest.approx(tree["crown_radius"] * 1.1)

    page.locator('#plan [data-thing="House"]').focus()
    page.keyboard.press("]")
    settle(page)
    turned = next(thing for thing in held(page)["obstacles"] if thing["name"] == "House")
    assert turned["footprint"] != things["House"]["footprint"]
    assert turned["roof_azimuth"] == pytest.approx(95)

    page.keyboard.press("d")
    settle(page)
    assert "House 2" in [thing["name"] for thing in held(page)["obstacles"]]
    page.keyboard.press("Delete")
    settle(page)
    assert "House 2" not in [thing["name"] for thing in held(page)["obstacles"]]
    page.keyboard.press("Control+z")
    settle(page)
    assert "House 2" in [thing["name"] for thing in held(page)["obstacles"]]

    # A corner, the array, its numbers.
    page.locator('#plan [data-thing="Wall"]').focus()
    page.get_by_role("button", name="End 1 of Wall: arrows move it").focus()
    page.keyboard.press("Shift+ArrowLeft")
    settle(page)
    wall = next(thing for thing in held(page)["obstacles"] if thing["name"] == "Wall")
    assert wall["line"][0][0] == pytest.approx(things["Wall"]["line"][0][0] - 1)
    page.locator('#plan [data-thing="array"]').focus()
    page.keyboard.press("Shift+ArrowUp")
    settle(page)
    assert held(page)["y"] == pytest.approx(1.0)
    page.locator('#plan [data-thing="array"]').focus()
    page.keyboard.press("Enter")
    expect(page.get_by_label("East", exact=True)).to_be_focused()


def test_refusals_stand_by_the_thing_and_lose_nothing(bare: Page):
    page = bare
    page.get_by_role("button", name="House", exact=True).click()
    drag(page, (-4, -3), (4, 4))
    expect(page.locator("#err-document")).to_contain_text("The array stands inside “House”")
    expect(page.locator("#plan-said")).to_contain_text("The array stands inside “House”")
    expect(page.locator("#state")).to_have_text("not saved: see the mark")
    expect(page.locator("#state")).to_have_class("state not")
    page.locator("#undo").click()
    settle(page)
    expect(page.locator("#plan-said")).not_to_contain_text("inside")
    expect(page.locator("#state")).to_have_class("state")
    page.get_by_role("button", name="Post", exact=True).click()
    page.mouse.click(*metres(page, 5, -5))
    settle(page)
    page.get_by_label("Height of its top", exact=True).fill("minus three")
    page.get_by_label("Height of its top", exact=True).press("Tab")
    expect(page.locator("#err-document")).to_contain_text("“Post”, height: 'minus three' is not a length")
    expect(page.get_by_label("Height of its top", exact=True)).to_have_value("minus three")
    page.get_by_label("Height of its top", exact=True).fill("6,5")
    page.get_by_label("Height of its top", exact=True).press("Tab")
    settle(page)
    assert held(page)["obstacles"][0]["height"] == 6.5
    # A footprint that crosses itself.
    page.get_by_role("button", name="House", exact=True).click()
    drag(page, (-9, -9), (-5, -6))
    settle(page)
    page.get_by_label("Corners: east, north", exact=True).fill("-9, -9\n-5, -6\n-5, -9\n-9, -6")
    page.get_by_label("Name", exact=True).focus()
    expect(page.locator("#err-document")).to_contain_text("crosses itself")


def test_a_refused_drawing_is_back_after_a_reload_and_a_saved_one_is_not_told_of(bare: Page):
    page = bare
    page.get_by_role("button", name="Post", exact=True).click()
    page.mouse.click(*metres(page, 5, -5))
    settle(page)
    page.reload()
    expect(page.locator('#plan [data-thing="Post"]')).to_be_attached()
    expect(page.get_by_text("What you had typed before is back")).to_have_count(0)
    page.get_by_role("button", name="House", exact=True).click()
    drag(page, (-4, -3), (4, 4))
    expect(page.locator("#err-document")).to_contain_text("The array stands inside “House”")
    page.reload()
    expect(page.get_by_text("What you had typed before is back")).to_be_visible()
    expect(page.locator('#plan [data-thing="House"]')).to_be_attached()
    page.get_by_role("button", name="Drop it").click()
    expect(page.locator('#plan [data-thing="Post"]')).to_be_attached()
    expect(page.locator('#plan [data-thing="House"]')).to_have_count(0)


def test_two_tabs_do_not_overwrite_each_other(bare: Page):
    page = bare
    page.get_by_role("button", name="Post", exact=True).click()
    page.mouse.click(*metres(page, 5, -5))
    settle(page)
    other = page.context.new_page()
    other.goto(page.url)
    other.wait_for_load_state("networkidle")
    other.locator('#plan [data-thing="Post"]').focus()
    other.keyboard.press("Delete")
    settle(other)
    page.locator('#plan [data-thing="Post"]').focus()
    page.keyboard.press("Shift+ArrowRight")
    expect(page.locator("#notice")).to_contain_text("“Post” is not there any more.")
    assert held(page)["obstacles"] == []
    page.get_by_role("button", name="Put mine in its place").click()
    settle(page)
    assert held(page)["obstacles"][0]["at"] == [6, -5]
    other.close()


def test_map_shadows_seasons_and_picture(bare: Page, tmp_path: Path):
    page = bare
    page.get_by_role("button", name="Tree", exact=True).click()
    page.mouse.click(*metres(page, 2, -6))
    settle(page)
    page.get_by_text("map of the year", exact=True).click()
    expect(page.locator("#map-progress")).to_be_hidden()
    assert page.locator("#plan .layer-map path").count() >= 6
    expect(page.locator("#map-legend")).to_be_visible()
    shadow = page.locator("#plan .layer-shadows path").last
    before = shadow.get_attribute("d")
    page.get_by_label("Hour of the day").press("ArrowRight")
    expect(page.locator("#hour-said")).to_contain_text("10:30")
    assert page.locator("#plan .layer-shadows path").last.get_attribute("d") != before
    expect(page.locator("svg.mini .shadows path").first).to_be_attached()
    page.get_by_role("button", name="Play the day").click()
    expect(page.locator("#hour-said")).not_to_contain_text("10:30")
    page.get_by_role("button", name="Stop").click()
    # A picture of one's own, scaled by two points.
    (tmp_path / "yard.png").write_bytes(png(400, 300))
    page.locator("#files summary").click()
    page.get_by_label("Your own picture (PNG, JPEG)").set_input_files(tmp_path / "yard.png")
    expect(page.locator("#plan .layer-picture image")).to_be_attached()
    settle(page)
    wide = held(page)["picture_place"]["scale"]
    page.get_by_label("Distance between them").fill("5")
    page.get_by_role("button", name="Click two points").click()
    page.mouse.click(*metres(page, -5, -3))
    page.mouse.click(*metres(page, 5, -3))
    settle(page)
    assert held(page)["picture_place"]["scale"] == pytest.approx(wide / 2, rel=0.05)


def test_the_open_sky_can_be_shown(honey: Page):
    station(honey, "The tilt plan")
    shaded = honey.locator("#headline .sub").inner_text()
    assert "Shade leaves" in shaded
    honey.get_by_role("button", name="Show the open sky").click()
    expect(honey.locator(".sky-switch")).to_contain_text("Shown under an open sky")
    expect(honey.locator("#headline .sub")).not_to_contain_text("Shade leaves")
    station(honey, "Worth it?")
    expect(honey.locator(".sky-switch")).to_contain_text("Shown under an open sky")
    honey.get_by_role("button", name="Count the shade again").click()
    expect(honey.locator(".sky-switch")).to_contain_text("The shade is counted")


def test_rows_clear_each_other_in_chosen_hours(honey: Page):
    station(honey, "The shade")
    honey.get_by_text("Slope, groups, parts of the frame").click()
    said = honey.locator("#pitch-said")
    expect(said).to_contain_text(re.compile(r"at \d+\.\d\d m from front edge"))
    usual = said.inner_text()
    honey.get_by_label("Clear from", exact=True).fill("8.5")
    honey.get_by_label("Clear from", exact=True).press("Tab")
    expect(said).not_to_have_text(usual)
    longer = said.inner_text()
    honey.get_by_label("on", exact=True).select_option("chosen")
    expect(said).not_to_have_text(longer)
    honey.get_by_label("until", exact=True).fill("late")
    honey.get_by_label("until", exact=True).press("Tab")
    expect(said).to_contain_text("Give hours from 0 to 24.")
    expect(honey.locator("#state")).to_have_text("saved")


def test_a_waiting_save_is_not_put_aside_for_the_pitch(bare: Page):
    """While one change is on its way to a slow server, a second waits; asking for the pitch meanwhile must not drop it."""
    page, slow = bare, []
    page.get_by_text("Slope, groups, parts of the frame").click()
    hold = re.compile(r"/shade/$")
    page.route(hold, lambda route: slow.append(route) if route.request.method == "POST" and not slow else route.continue_())
    for name in ("Tree", "Post"):
        page.get_by_role("button", name=name, exact=True).focus()
        page.keyboard.press("Enter")
        expect(page.locator(f'#plan [data-thing="{name}"]')).to_be_focused()
        page.wait_for_timeout(400)  # the first is sent, the second has come to wait
    page.get_by_label("Clear from", exact=True).fill("9")
    page.get_by_label("Clear from", exact=True).press("Tab")
    expect(page.locator("#pitch-said")).to_contain_text(re.compile(r"at \d+\.\d\d m"))
    page.wait_for_timeout(300)
    slow[0].continue_()
    settle(page)
    assert {thing["name"] for thing in held(page)["obstacles"]} == {"Tree", "Post"}


def test_wiring_by_pressing_panels(honey: Page):
    station(honey, "The shade")
    honey.locator("#wiring summary").click()
    honey.get_by_role("button", name="Panel 1, string 1").click()
    settle(honey)
    assert held(honey)["wiring"]["strings"] == [[2, 3, 4], [5, 6, 7, 8, 1]]
    before = loss(honey)
    honey.get_by_label("They feed").select_option("own")
    settle(honey)
    assert loss(honey) < before
    honey.reload()
    expect(honey.locator("#plan [data-thing]").first).to_be_attached()
    expect(honey.get_by_text("What you had typed before is back")).to_have_count(0)


def test_panels_that_came_are_wired_by_a_press(honey: Page):
    station(honey, "The frame")
    columns = honey.get_by_role("spinbutton", name="Side by side").or_(honey.locator("[name=columns]"))
    columns.evaluate("field => { const fold = field.closest('details'); if (fold) fold.open = true; }")
    columns.fill("5")
    columns.press("Tab")
    expect(honey.locator("#headline")).to_contain_text("2 panels are on no string")
    honey.get_by_role("link", name="See to it").click()
    honey.locator("#wiring summary").click()
    expect(honey.get_by_role("button", name="Panel 5, on no string")).to_be_visible()
    honey.get_by_role("button", name="put them at the end of string 2").click()
    settle(honey)
    assert held(honey)["wiring"]["strings"] == [[1, 2, 3, 4], [6, 7, 8, 9, 5, 10]] and not held(honey)["wiring"]["unwired"]
    expect(honey.locator("#headline")).not_to_contain_text("on no string")


def test_readings_in_the_yard_wait_for_a_connection(bare: Page):
    page = bare
    page.set_viewport_size({"width": 390, "height": 780})
    page.goto(page.url + "field/")
    page.context.set_offline(True)
    page.get_by_label("Bearing", exact=True).fill("120")
    page.get_by_label("How high up", exact=True).fill("11")
    page.get_by_text("leafy", exact=True).click()
    page.get_by_role("button", name="Keep this reading").click()
    expect(page.locator("#field-state")).to_contain_text("1 reading is kept in this phone")
    expect(page.get_by_label("Bearing", exact=True)).to_be_focused()
    page.get_by_label("Bearing", exact=True).fill("500")
    page.get_by_label("How high up", exact=True).fill("5")
    page.get_by_role("button", name="Keep this reading").click()
    expect(page.locator("#e-bearing")).to_contain_text("from 0 to 360")
    page.context.set_offline(False)
    page.evaluate("dispatchEvent(new Event('online'))")
    expect(page.locator("#field-state")).to_have_text("Everything is sent.")
    (reading,) = held(page)["skyline"]
    assert (reading["bearing"], reading["elevation"], reading["kind"]) == (120, 11, "leafy")
    assert page.evaluate("document.documentElement.scrollWidth") <= 390

    # Taken back without a connection, and gone for good with it.
    page.context.set_offline(True)
    page.get_by_role("button", name=re.compile("^Drop the reading at 1")).click()
    expect(page.locator("#field-list li")).to_have_count(0)
    expect(page.locator("#field-state")).to_contain_text("1 change is kept in this phone")
    page.context.set_offline(False)
    page.evaluate("dispatchEvent(new Event('online'))")
    expect(page.locator("#field-state")).to_have_text("Everything is sent.")
    assert held(page)["skyline"] == []


@pytest.mark.parametrize("scheme", ["light", "dark"])
def test_axe_finds_nothing_serious(honey: Page, scheme: str):
    honey.emulate_media(color_scheme=scheme)
    station(honey, "The shade")
    honey.locator('#plan [data-thing="Walnut"]').focus()
    for fold in honey.locator(".asks details.more summary").all():
        fold.click()
    honey.wait_for_load_state("networkidle")
    assert serious(honey) == []
    honey.goto(honey.url + "field/")
    assert serious(honey) == []
