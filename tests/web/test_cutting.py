"""The cutting station: stock pasted, sections, ticks, the sheet, the template at true scale, and what it refuses."""

from __future__ import annotations

import io
import re

import pytest
from pypdf import PdfReader

from sundial.brief.read import brief_of
from web.accounts.demo import demo_brief
from web.builds.briefs import brief_data, build_from_brief
from web.builds.models import Build
from web.builds.results import Results
from web.builds.typed_tables import cells_of
from web.cutting.models import Cutting
from web.cutting.tables import read_stock, write_stock

NAMES = ("Honey house", "Kiln pergola", "Lookout pole", "Goat trailer")


@pytest.fixture
def demo(person):
    made = {name: demo_brief(name) for name in NAMES}
    units = {"Lookout pole": "us"}
    found = {}
    for name, brief in made.items():
        found[name] = build_from_brief(person, brief_of({**brief, "group": ""}))
        if name in units:
            Build.objects.filter(pk=found[name].pk).update(units=units[name])
    return {name: Build.objects.whole().get(pk=build.pk) for name, build in found.items()}


def test_all_demo_builds_are_complete_here(site, demo):
    for name, build in demo.items():
        page = site.get(f"/builds/{build.pk}/cutting/").content.decode()
        assert re.search(r"\d+ cuts? from \d+ boards?", page), name
        assert "may not be" not in page and "have no board" not in page, name
        assert Results(build)["electrics"].why == "", name
    assert "Template, A4" in site.get(f"/builds/{demo['Lookout pole'].pk}/cutting/").content.decode()
    assert "short rail" in site.get(f"/builds/{demo['Kiln pergola'].pk}/cutting/").content.decode()


def test_stock_is_pasted_read_and_written_again(fill, demo):
    build = demo["Honey house"]
    lines = "section\tlength\tcount\n45x95 C24\t4.8 m\t9 on hand\n45x120 C24\t13 ft 9 in\t19,50\n45x95 C24\t2.4 m\t7.10"
    page = fill(build, "cutting", stock=lines)
    assert page.status_code == 200, page.content.decode()[:800]
    held = Cutting.objects.get(build=build).stock
    assert [(row["section"], round(row["length"], 3), row["count"], row["price"]) for row in held] == [
        ("45x95 C24", 4.8, 9, 0.0), ("45x120 C24", 4.191, None, 19.5), ("45x95 C24", 2.4, None, 7.1),
    ]  # fmt: skip
    for row in held:
        assert read_stock(cells_of(write_stock(row, "metric")), "metric")["count"] == row["count"]
        assert read_stock(cells_of(write_stock(row, "us")), "us")["length"] == pytest.approx(row["length"], abs=0.0008)


def test_an_untouched_line_keeps_its_length_in_feet_and_inches(fill, demo):
    before = Cutting.objects.get(build=demo["Lookout pole"]).stock
    assert ">saved<" in fill(demo["Lookout pole"], "cutting", longer="0", freight="3").content.decode()
    assert Cutting.objects.get(build=demo["Lookout pole"]).stock == before and before[0]["length"] == 6.0


REFUSED = [
    ({"stock": "45x95 C24; -3 m; 2 on hand"}, "err-stock", "Line 1"),
    ({"stock": "45x95 C24; 4.8 m; many"}, "err-stock", "is no price"),
    ({"stock": "45x95 C24; 4.8 m; -3 on hand"}, "err-stock", "cannot be"),
    ({"stock": "45x95 C24; 3.6 m; 9.90\n45x120 C24; 4.2 m; 15.00"}, "err-stock", "splice it"),
    ({"stock": "45x95 C24; 4.8 m; 14.00\n45x95  c24; 4.8 m; 15.00\n45x120 C24; 4.2 m; 9.00"}, "err-stock", "for sale at 14"),
    ({"pieces": "shelf; 45x95 C24; 1 m; 10000"}, "err-pieces", "cannot be"),
    ({"pieces": "shelf; 45x95 C24"}, "err-pieces", "give name, section, length"),
    ({"kerf": "3 cm"}, "err-kerf", "3 cm? A saw takes"),
    ({"voc": "31", "vmp": "37"}, "err-voc", "swapped"),
    ({"beta": "0.27"}, "err-beta", "Below zero"),
    ({"imp": "15"}, "err-isc", "swapped"),
    ({"cable_length": "5000"}, "err-cable_length", "up to 1000"),
    ({"cable_material": "copper-coated"}, "err-cable_material", "like aluminium"),
    ({"input_low": "480"}, "err-input_low", "from low to high"),
    ({"isc": ""}, "err-isc", "all five"),
]


@pytest.mark.parametrize(("typed", "where", "words"), REFUSED)
def test_what_cannot_be_is_refused_beside_its_field(fill, demo, typed, where, words):
    build = demo["Honey house"]
    before = Cutting.objects.get(build=build).stock
    page = fill(build, "cutting", **typed).content.decode()
    said = re.search(rf'id="{where}"[^>]*>(.*?)</span>', page, re.DOTALL)
    assert said and words in said.group(1).replace("&#x27;", "'"), page[:1500]
    assert "Traceback" not in page and "nan" not in page.lower().replace("enan", "")
    assert Cutting.objects.get(build=build).stock == before


def test_a_tick_is_kept_changes_no_figure_and_never_collides(site, demo):
    build = demo["Honey house"]
    page = site.get(f"/builds/{build.pk}/cutting/").content.decode()
    key = re.findall(r'data-tick="(rail-[^"]+)"', page)[0]
    version, digest = build.version, Results(build).digest("cutting.sections")
    for _ in range(2):  # sent twice it counts once
        assert site.post(f"/builds/{build.pk}/cutting/tick/", {"key": key, "done": "1"}).json() == {"done": [key]}
    build = Build.objects.whole().get(pk=build.pk)
    assert build.version == version and Results(build).digest("cutting.sections") == digest
    page = site.get(f"/builds/{build.pk}/cutting/shed/").content.decode()
    assert re.search(rf'data-tick="{re.escape(key)}"[^>]* checked', page)
    assert "1 of 27 pieces are sawn" in site.get(f"/builds/{build.pk}/cutting/").content.decode()
    assert site.post(f"/builds/{build.pk}/cutting/tick/", {"key": key, "done": "0"}).json() == {"done": []}
    assert site.post(f"/builds/{build.pk}/cutting/tick/", {"key": "", "done": "1"}).status_code == 422


def test_another_persons_shed_is_not_found(client, demo, stranger):
    build = demo["Honey house"]
    client.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    for path in ("", "shed/", "proof/", "cuts.csv", "parts.csv", "sheet-a4.pdf", "template.dxf"):
        assert client.get(f"/builds/{build.pk}/cutting/{path}").status_code == 404
    assert client.post(f"/builds/{build.pk}/cutting/tick/", {"key": "rail", "done": "1"}).status_code == 404


def test_a_brief_carries_the_cutting_there_and_back(demo):
    data = brief_data(demo["Lookout pole"])
    brief = brief_of(data)
    assert brief.cutting.base is not None and brief.electrics is not None and len(brief.stock) == 4
    twin = Cutting(build=demo["Goat trailer"])
    twin.from_brief(brief, {})
    assert twin.to_brief()["cutting"] == data["cutting"] and twin.to_brief()["stock"] == data["stock"]


def lines_of(page) -> list[tuple[float, float, float, float]]:
    """Straight strokes of a PDF page, points."""
    content = page.get_contents().get_data().decode("latin-1")
    matrix, stack, found, at = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0), [], [], (0.0, 0.0)

    def put(x: float, y: float) -> tuple[float, float]:
        a, b, c, d, e, f = matrix
        return a * x + c * y + e, b * x + d * y + f

    for line in content.splitlines():
        words = line.split()
        if not words:
            continue
        if words[-1] == "q":
            stack.append(matrix)
        elif words[-1] == "Q":
            matrix = stack.pop()
        elif words[-1] == "cm":
            m = tuple(map(float, words[:6]))
            a, b, c, d, e, f = matrix
            matrix = (
                m[0] * a + m[1] * c, m[0] * b + m[1] * d, m[2] * a + m[3] * c, m[2] * b + m[3] * d,
                m[4] * a + m[5] * c + e, m[4] * b + m[5] * d + f,
            )  # fmt: skip
        elif words[-1] == "m":
            at = put(float(words[0]), float(words[1]))
        elif words[-1] == "l":
            to = put(float(words[0]), float(words[1]))
            found.append((*at, *to))
            at = to
    return found


@pytest.mark.parametrize("paper", ["a4", "letter"])
def test_a_hundred_millimetres_of_the_template_are_a_hundred(site, demo, work, paper):
    address = f"/builds/{demo['Lookout pole'].pk}/cutting/template-{paper}.pdf"
    site.get(address)
    work()
    answer = site.get(address)
    reader = PdfReader(io.BytesIO(answer.content))
    assert len(reader.pages) == 4  # a plate of 300 mm on paper of 210
    millimetres = [
        ((x1 - x0) ** 2 + (y1 - y0) ** 2) ** 0.5 / 72 * 25.4 for page in reader.pages for x0, y0, x1, y1 in lines_of(page)
    ]
    assert any(abs(length - 100) < 0.05 for length in millimetres)
    assert any(abs(length - 300) < 0.1 for length in millimetres)  # the north line, from edge to edge


def test_the_sheet_holds_cuts_parts_order_wiring_and_the_code(site, demo, work):
    for paper in ("a4", "letter"):
        address = f"/builds/{demo['Honey house'].pk}/cutting/sheet-{paper}.pdf"
        site.get(address)
        work()
        answer = site.get(address)
        text = " ".join(page.extract_text() for page in PdfReader(io.BytesIO(answer.content)).pages)
        for words in (
            "Cut list",
            "From which board",
            "To bring home",
            "Order of work",
            "Wiring",
            "opens it live",
            "licensed electrician",
        ):
            assert words in text, words
        assert "3.544 m" in text


def test_lists_come_as_csv(site, demo):
    cuts = site.get(f"/builds/{demo['Honey house'].pk}/cutting/cuts.csv").content.decode()
    assert cuts.splitlines()[1].startswith("A,rail,45x120 C24,3.544") and "board,section" in cuts
    parts = site.get(f"/builds/{demo['Honey house'].pk}/cutting/parts.csv").content.decode()
    assert "bracket,32,1,32,44.8" in parts
    svg = site.get(f"/builds/{demo['Honey house'].pk}/cutting/drawing.svg").content.decode()
    assert svg.startswith("<svg") and ">A</text>" in svg


def test_lengths_go_to_sixteenths_for_the_saw(site, demo):
    page = site.get(f"/builds/{demo['Lookout pole'].pk}/cutting/").content.decode()
    assert re.search(r"11 ft 4 3/8 in", page) and re.search(r"in (short|long)", page)


def test_pieces_that_come_with_a_save_come_to_the_page_with_it(fill, site, demo):
    """Each field's refusal is cleared on the page: a field that the page does not have yet comes first, whole."""
    build = demo["Honey house"]
    shown = set(re.findall(r'id="err-((?:section|there)_\w+)"', site.get(f"/builds/{build.pk}/cutting/").content.decode()))
    same = saved_parts(fill(build, "cutting"))
    assert 'id="of-pieces"' not in same and set(re.findall(r'id="err-((?:section|there)_\w+)"', same)) == shown
    other = saved_parts(fill(build, "cutting", fixing="clamps" if build.cutting.fixing != "clamps" else "bolts", purlins="3"))
    list_of = re.search(r'<div id="of-pieces".*?</div>\s*(?=<|$)', other, re.S)
    fresh = set(re.findall(r'id="err-((?:section|there)_\w+)"', site.get(f"/builds/{build.pk}/cutting/").content.decode()))
    assert fresh != shown, "this save asks for other pieces"
    assert list_of is not None
    loose = set(re.findall(r'<span id="err-((?:section|there)_\w+)" class="refusal" hx-swap-oob', other))
    assert loose == shown, "of fields that are not there yet no refusal is cleared"


def saved_parts(answer) -> str:
    return answer.content.decode().partition('id="answer"')[0]


def test_a_frame_not_told_says_what_to_tell(site, build, fill):
    page = site.get(f"/builds/{build.pk}/cutting/").content.decode()
    assert "Nothing is told of what the frame is built from" in page
    page = fill(build, "cutting", purlins="0", pieces="").content.decode()
    assert ">saved<" in page
    assert "What is it sawn from?" in site.get(f"/builds/{build.pk}/cutting/").content.decode()


def test_a_wiring_out_of_limits_leads_the_answer_with_the_nearest_within(site, demo, fill):
    build = demo["Honey house"]
    fill(build, "cutting", input_low="120")
    page = site.get(f"/builds/{build.pk}/cutting/").content.decode()
    assert "The wiring may not be as it is" in page and "Within the limits" in page and "1 plug changed" in page


@pytest.mark.parametrize(
    ("line", "count", "price"),
    [
        ("45x95 C24; 4.8 m; ; 14.50", None, 14.5),
        ("45x95 C24; 4.8 m; 4; ", 4, 0.0),
        ("45x95 C24; 4.8 m; 4; 12", 4, 12.0),
        ("45x95 C24; 16 ft; ; 14", None, 14.0),
        ("45x95 C24; 4.8 m; 4 on hand; 9.50", 4, 9.5),
    ],
)
def test_count_and_price_are_two_columns(line, count, price):
    row = read_stock(cells_of(line), "metric")
    assert (row["count"], row["price"]) == (count, price)
    again = read_stock(cells_of(write_stock(row, "metric")), "metric")
    assert (again["count"], again["price"]) == (count, price)
