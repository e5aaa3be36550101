"""Take one picture of each main view from the demo data into docs/screenshots/. Needs a running ./start with the demo.

Run with: .venv/bin/python scripts/screenshots.py [http://127.0.0.1:8000]
"""

from __future__ import annotations

import sys
from pathlib import Path

from playwright.sync_api import Browser, Page, sync_playwright

FOLDER = Path(__file__).parents[1] / "docs" / "screenshots"
QUIET = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-first-run",
]
VIEWS = (
    ("tilt-plan", "Honey house", "tilt"),
    ("frame", "Honey house", "frame"),
    ("place", "Honey house", "place"),
    ("worth", "Lookout pole", "worth"),
    ("shade", "Honey house", "shade"),
    ("wind", "Goat trailer", "wind"),
    ("cutting", "Honey house", "cutting"),
    ("log", "Honey house", "log"),
    ("bench", "Lookout pole", "bench"),
)


def sign_in(browser: Browser, root: str, width: int = 1280, height: int = 800, scheme: str = "light") -> Page:
    page = browser.new_context(
        viewport={"width": width, "height": height}, color_scheme=scheme, reduced_motion="reduce"
    ).new_page()
    page.goto(root)
    page.get_by_role("button", name="Look round the demo").click()
    page.wait_for_load_state("networkidle")
    return page


def open_station(page: Page, root: str, build: str, station: str) -> None:
    page.goto(f"{root}/builds/")
    page.get_by_role("heading", name=build, level=2).click()
    page.wait_for_load_state()
    page.goto(f"{page.url.rstrip('/').rsplit('/', 1)[0]}/{station}/")
    page.wait_for_load_state("networkidle")


def take(page: Page, name: str, whole: bool = False) -> None:
    if whole:  # charts are drawn when they come into sight
        for chart in page.locator("[data-chart]").all():
            chart.scroll_into_view_if_needed()
            chart.locator("svg").wait_for()
        page.evaluate("() => scrollTo(0, 0)")
    page.wait_for_timeout(400)
    page.screenshot(path=FOLDER / f"{name}.png", full_page=whole)


def main() -> None:
    root = sys.argv[1] if len(sys.argv) > 1 else "http://127.0.0.1:8000"
    FOLDER.mkdir(parents=True, exist_ok=True)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=QUIET)
        door = browser.new_context(viewport={"width": 1280, "height": 800}).new_page()
        door.goto(root)
        door.wait_for_load_state("networkidle")
        take(door, "front")
        page = sign_in(browser, root)
        page.locator(".build-year").nth(3).wait_for(timeout=120_000)  # all four are worked out
        take(page, "builds")
        for name, build, station in VIEWS:
            open_station(page, root, build, station)
            if station == "log":
                page.locator(".verdict").wait_for(timeout=180_000)
            if station == "bench":
                page.locator("#bench-year .verdict").wait_for(timeout=180_000)
            take(page, name, whole=name in ("worth", "tilt-plan", "shade", "wind", "cutting", "log", "bench"))
        yard(page, root)
        together(page, root)
        new_build(page, root)
        low(page, root)
        dusk = sign_in(browser, root, scheme="dark")
        open_station(dusk, root, "Lookout pole", "frame")
        take(dusk, "dusk")
        phone = sign_in(browser, root, 390, 844)
        open_station(phone, root, "Honey house", "tilt")
        take(phone, "phone")
        open_station(phone, root, "Honey house", "cutting/shed")
        take(phone, "shed")
        browser.close()


def together(page: Page, root: str) -> None:
    """A copy of a build beside it, in one yard."""
    page.goto(f"{root}/builds/")
    page.get_by_role("button", name="More for Honey house", exact=True).click()
    page.get_by_role("button", name="Copy, to try something").locator("visible=true").click()
    page.get_by_role("button", name="More for Honey house (copy)").click()
    page.get_by_label("Name", exact=True).locator("visible=true").fill("Gate row")
    page.get_by_role("button", name="Rename").locator("visible=true").click()
    for build in ("Honey house", "Gate row"):
        open_station(page, root, build, "together")
        page.get_by_label("The yard’s name").fill("Sorrel Hill")
        page.get_by_role("button", name="Let it stand there").click()
    page.locator(".all-frames").wait_for(timeout=120_000)
    page.reload()  # without what was told
    page.locator(".all-frames").wait_for()
    take(page, "together", whole=True)
    page.get_by_role("button", name="Let Honey house stand by itself again").click()
    page.get_by_role("button", name="More for Gate row").click()
    page.get_by_role("button", name="Throw away").locator("visible=true").click()


def yard(page: Page, root: str) -> None:
    """The map of a yard with its best spots."""
    open_station(page, root, "Kiln pergola", "shade")
    page.get_by_text("map of the year", exact=True).click()
    page.get_by_role("button", name="Find the best spots").click()
    page.locator(".spots li").first.wait_for(timeout=60_000)
    page.locator("#map-progress").wait_for(state="hidden", timeout=60_000)
    page.evaluate("() => scrollTo(0, 0)")
    take(page, "shade-map")


def new_build(page: Page, root: str) -> None:
    """The last step of a new build, which is thrown away again."""
    page.goto(f"{root}/builds/")
    page.get_by_label("Its name").fill("Pond pole")
    page.get_by_role("button", name="Begin").click()
    page.wait_for_load_state("networkidle")
    page.get_by_label("Latitude", exact=True).fill("42°54' N 6°06' W")
    page.get_by_role("button", name="Next").click()
    page.get_by_role("button", name="Next").click()
    page.get_by_text("a pergola", exact=True).click()
    page.get_by_text("stays put", exact=True).click()
    take(page, "new-build", whole=True)
    page.goto(f"{root}/builds/")
    page.get_by_role("button", name="More for Pond pole").click()
    page.get_by_role("button", name="Throw away").click()


def low(page: Page, root: str) -> None:
    """The trial of the demo, and a dull day of which something is known."""
    open_station(page, root, "Honey house", "log/trials")
    page.locator(".trial-list a").first.click()
    page.wait_for_load_state("networkidle")
    take(page, "trial", whole=True)
    open_station(page, root, "Honey house", "log/why")
    for words in ("Clear", "Dust, pollen, droppings"):
        if page.locator(".more-questions").count():
            page.locator(".more-questions").evaluate("fold => { fold.open = true; }")
        if page.get_by_role("button", name=words, exact=True).count():
            page.get_by_role("button", name=words, exact=True).first.click()
            page.wait_for_timeout(1200)
    page.evaluate("() => { for (const fold of document.querySelectorAll('.more-questions')) fold.open = false; }")
    take(page, "why", whole=True)


if __name__ == "__main__":
    main()
