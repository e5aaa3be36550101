"""The build book: every sheet under one cover, numbered through, in the build's units, and what is not told yet said so."""

from __future__ import annotations

import io
import json
import re
from pathlib import Path

import pytest
from pypdf import PdfReader

from sundial.brief.read import brief_of
from tests.web.conftest import build_for
from web.accounts.demo import demo_brief
from web.builds.book import book
from web.builds.briefs import build_from_brief
from web.builds.registry import chapters
from web.builds.results import Results

pytestmark = pytest.mark.django_db
EXAMPLES = Path(__file__).parents[2] / "docs" / "examples"


def read(build, paper: str = "a4") -> list[str]:
    pdf = book(Results(build), {"paper": paper}, lambda *_: None)
    return [page.extract_text() for page in PdfReader(io.BytesIO(pdf)).pages]


@pytest.fixture
def told(person):
    build = build_from_brief(person, brief_of(json.loads((EXAMPLES / "prop-with-holes.json").read_text("utf-8"))))
    build.units, build.where = "us", "Sorrel Hill"
    build.save()
    return build


def test_contents_name_the_page_on_which_each_chapter_begins(told):
    pages = read(told)
    begins = re.findall(r"^(.+?) (\d+)$", pages[0].split("Contents")[1], re.M)
    assert [title for title, _ in begins[: len(chapters())]] == [chapter.title for chapter in chapters()]
    for title, number in begins[: len(chapters())]:
        assert pages[int(number) - 1].rstrip().splitlines()[-1].endswith(f"{title} {number}"), title
    last = [page.rstrip().split()[-1] for page in pages]
    assert last == [str(number) for number in range(1, len(pages) + 1)]


def test_it_is_in_the_builds_units_and_says_what_it_is(told):
    pages = read(told, "letter")
    cover, yard = pages[0], next(page for page in pages if "the yard from above" in page)
    assert "Sorrel Hill" in cover and "Planning estimate" in cover and "local code and" in cover
    assert re.search(r"\d+ ft", yard) and not re.search(r"\d m\b", yard)
    assert all("Planning estimate" in page for page in (yard, next(page for page in pages if "the frame, " in page)))
    wind = " ".join(pages)
    assert "lbf" in wind and not re.search(r"\d (kN|kg|m/s)\b", wind)


def test_sheets_have_the_paper_that_is_asked_for(told):
    for paper, (wide, tall) in {"a4": (595.3, 841.9), "letter": (612.0, 792.0)}.items():
        pdf = PdfReader(io.BytesIO(book(Results(told), {"paper": paper}, lambda *_: None)))
        assert {(round(float(page.mediabox.width)), round(float(page.mediabox.height))) for page in pdf.pages} == {
            (round(wide), round(tall))
        }


LABEL = {
    "voc": 49.2, "isc": 11.1, "vmp": 41.3, "imp": 10.4, "beta": -0.0027, "min_temp": -14.0, "max_temp": 34.0,
    "input": {"max_voltage": 250.0, "window": [80.0, 240.0], "max_current": 15.0, "inputs": 2}, "cable": {"length": 18.0, "area": 6.0},
}  # fmt: skip


def test_the_wiring_is_a_chapter_with_its_limits(person):
    """Five panels of 49.2 V at 14 below: 49.2 x 5 x (1 + 0.0027 x 39) is 272 V, and the input bears 250."""
    build = build_for(
        person,
        electrics=LABEL,
        panel=demo_brief("Honey house")["panel"] | {"power": 430.0},
        array={"rows": 1, "columns": 5},
        wiring={"strings": [[1, 2, 3, 4, 5]]},
    )
    page = next(page for page in read(build) if "the wiring" in page and "Cables and their ends" in page)
    assert re.search(r"open, on the coldest morning\s+272 V\s+the input bears 250 V\s+OVER", page)
    assert re.search(r"current of one input\s+\d+\.\d A\s+it takes 15 A\s+within", page) and "Planning estimate" in page
    assert "kWh a year" not in page.split("Cables and their ends")[0].split("The cable")[-1] or "OVER" not in page
    build.electrics.told = False
    build.electrics.save()
    assert "The panel's label is not told yet" in " ".join(read(build)[0].split())


def test_distances_to_the_boundaries_are_drawn_and_told(told):
    told.yard.boundaries = {"front": 6.096, "left": 3.048}
    told.yard.save()
    yard = next(page for page in read(told) if "the yard from above" in page)
    assert re.search(r"boundary in front\s+20 ft", yard) and re.search(r"boundary left, looking at the glass\s+10 ft", yard)
    assert "still to be measured with a tape: behind" in yard


def test_what_is_not_told_yet_is_said_and_left_out(person):
    bare = build_for(person, yard=None, horizon=None)  # no frame, nothing of the wind
    pages = read(bare)
    assert "Not told yet" in pages[0] and "how hard it blows" in pages[0]
    assert not any("The wind, and what holds it" in page for page in pages[1:])
    assert any("Nothing stands near" in page for page in pages)


def test_it_is_made_by_a_worker_and_belongs_to_its_owner(site, client, stranger, told, work):
    address = f"/builds/{told.pk}/cutting/build-book-a4.pdf"
    assert "The build book" in site.get(f"/builds/{told.pk}/cutting/").content.decode()
    site.get(address)
    work()
    answer = site.get(address)
    assert answer.headers["Content-Type"] == "application/pdf" and b"".join(answer).startswith(b"%PDF")
    client.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    assert client.get(address).status_code == 404
