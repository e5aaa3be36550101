"""What broke the product once: no input ends in a server error, and each is answered in words."""

from __future__ import annotations

import json
from typing import Any
from uuid import uuid4
from xml.etree import ElementTree

import pytest
from django.contrib.auth.models import User
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from icalendar import Calendar

from sundial.brief.read import brief_of
from sundial.errors import BriefError
from sundial.quantities import parse_tilts
from web.accounts.demo import demo_brief
from web.builds.models import Build
from web.shade.document import document_of

pytestmark = pytest.mark.django_db
HUGE = "9" * 5000
LONG = "1" + "0" * 400


@pytest.fixture
def careless(site: Client) -> Client:
    """Server errors are answered as a browser would see them."""
    site.raise_request_exception = False
    return site


def told(answer: Any) -> Any:
    assert answer.status_code < 500, answer.status_code
    return answer


def test_a_taken_name_is_told(client, person):
    client.raise_request_exception = False
    for name in ("maren", "MAREN", "Maren ", "ｍａｒｅｎ", "maren\x00", "x" * 4000):
        answer = told(
            client.post("/account/sign-up/", {"username": name, "password1": "four small hens", "password2": "four small hens"})
        )
        assert answer.status_code == 200 and answer.context["form"].errors["username"], name
    assert User.objects.count() == 1


@pytest.mark.parametrize("day", ["²", HUGE, "-1", "1e3", "", "٣", "12²", "\x00"])
def test_days_that_are_none(careless, build, day):
    told(careless.get(f"/builds/{build.pk}/shade/day/", {"day": day}))
    told(careless.get(f"/builds/{build.pk}/tilt/", {"day": day}))
    told(careless.post(f"/builds/{build.pk}/day/", {"day": day}))


@pytest.mark.parametrize(
    "tilts", [",", ";,", " , ", HUGE, "5:", "1:2:3:4", "0 to", "-", "9" * 400, "1 to 2 by 0", "0 to 90 by 1e-9"]
)
def test_tilts_that_are_none(careless, build, tilts):
    data = {"name": "Mine", "kind": "stepped", "tilts": tilts, "settings": 2, "version": build.version}
    assert told(careless.post(f"/builds/{build.pk}/worth/rows/", data)).status_code == 422
    with pytest.raises(BriefError):
        parse_tilts(tilts)


@pytest.mark.parametrize(
    "text", [f'{{"version": {HUGE}}}', f"[{HUGE}]", HUGE, '{"a": ' * 600 + "1" + "}" * 600, '"\\ud800"', "null"]
)
def test_briefs_that_are_none(careless, text):
    upload = SimpleUploadedFile("brief.json", text.encode())
    answer = told(careless.post("/builds/import/", {"brief": upload, "creation_key": str(uuid4())}, follow=True))
    assert "Nothing was imported." in answer.content.decode() and not Build.objects.exists()


DOCUMENTS: list[Any] = [
    {"split": {"groups": "a"}}, {"split": {"groups": None}}, {"split": {"groups": [2]}}, {"split": {"groups": {"a": 1}}}, None, [],
    {"objects": None}, {"objects": [None]}, {"objects": [{"name": "\ud800", "kind": "post", "at": [1, 2], "height": 2, "width": 0.1}]},
    {"skyline": [{"azimuth": int(LONG), "elevation": 3}]}, {"skyline": [{"azimuth": 3, "elevation": int(LONG)}]},
    {"skyline": [{"azimuth": True, "elevation": 3}]}, {"x": int(LONG)}, {"slope": int(LONG)}, {"clearance": int(LONG)},
    {"objects": [{"name": "P", "kind": "post", "at": [int(LONG), 2], "height": 2, "width": 0.1}]}, {"area": [[int(LONG), 1]]},
    {"picture": {"x": int(LONG), "y": 0, "width": 1, "height": 1, "scale": 1}}, {"leaf_months": ["a"]}, {"leaf_months": [int(LONG)]},
    {"parts": [{"name": "B", "along": [1, int(LONG)], "up": [0, 1], "off": [0, 1]}]}, {"wiring": {"kind": "series", "strings": [[int(LONG)]]}},
    {"azimuth": "\ud800"}, {"parts": [None]}, {"parts": ["a"]}, {"wiring": {"kind": ["series"]}}, {"objects": [{"name": "A", "kind": ["post"]}]},
]  # fmt: skip


@pytest.mark.parametrize("number", range(len(DOCUMENTS)))
def test_yards_that_are_none(careless, build, number):
    held = DOCUMENTS[number]
    text = json.dumps({**document_of(build), **held} if isinstance(held, dict) else held)
    _send(careless, build, text)


@pytest.mark.parametrize(
    "text", ["[" * 600 + "]" * 600, '{"objects": ' + "[" * 90_000, '{"x": ' + HUGE + "}", '{"x": 1e99999}', '{"x": NaN}', "\x00"]
)
def test_texts_that_are_no_yard(careless, build, text):
    _send(careless, build, text)


def _send(client: Client, build: Build, text: str) -> None:
    before = Build.objects.get(pk=build.pk).version
    for address in ("", "figures/"):
        data = {"document": text, "version": before}
        told(client.post(f"/builds/{build.pk}/shade/{address}", data, headers={"HX-Request": "true"}))
    told(client.get(f"/builds/{build.pk}/shade/"))


@pytest.mark.parametrize(
    "rows",
    ["azimuth,elevation\n" + LONG + ",3\n", "azimuth,elevation\n3," + LONG + "\n", "azimuth,elevation\n" + "a" * 140_000 + ",1\n",
     '"' + "b" * 140_000, "azimuth,elevation\n²,3\n", "azimuth,elevation\n1,2,\ud83d\n"],
)  # fmt: skip
def test_skylines_that_are_none(careless, build, rows):
    upload = SimpleUploadedFile("skyline.csv", rows.encode("utf-8", "surrogatepass"))
    assert told(careless.post(f"/builds/{build.pk}/shade/skyline.csv", {"file": upload})).status_code == 422


def weather_files() -> dict[str, bytes]:
    hours = "\n".join(f"2200-01-01T{hour:02}:00,0,5" for hour in range(24))
    return {
        "cell.csv": b"time,ghi\n" + b"9" * 140_000 + b",1\n",
        "year.csv": ("time,ghi,temp_air\n" + hours).encode(),
        "month.csv": b"1,a,b,0,40,-80,10\nDate (MM/DD/YYYY),Time (HH:MM),GHI (W/m^2)\n" + b"1" * 20 + b"/01/2000,01:00,0\n",
        "number.csv": f"time,ghi\n2023-01-01T00:00,{LONG}\n".encode(),
        "power.csv": "time,ghi\n2023-01-01T00:00,²\n".encode(),
        "dates.csv": b"time,ghi\n99999-01-01T00:00,1\n0000-00-00T00:00,1\n",
        "offset.csv": b"time,ghi\n2023-01-01T00:00:00+99:00,1\n",
        "nothing.epw": b"LOCATION" + b"," * 140_000,
    }


@pytest.mark.parametrize("name", list(weather_files()))
def test_weather_files_that_are_none(careless, build, fill, name):
    answer = told(fill(build, "place", sky_kind="file", files={"weather_file": SimpleUploadedFile(name, weather_files()[name])}))
    assert answer.context["form"].errors["weather_file"]
    assert build.place.__class__.objects.get(build=build).sky_kind != "file"


@pytest.mark.parametrize("value", ["nan", "inf", "-inf", "1e999", HUGE, "²", "", "\x00", "-" * 100_000, "n n n " * 20_000])
def test_measures_that_are_none(careless, build, value):
    for way, names in (
        ("stick", ("stick", "stick_shadow", "shadow")),
        ("paces", ("paces", "pace")),
        ("", ("distance", "angle", "eye_height")),
    ):
        for spoiled in names:
            data = {"way": way, **dict.fromkeys(names, "2")} | {spoiled: value}
            answer = told(careless.post(f"/builds/{build.pk}/shade/measure/", data))
            assert answer.status_code == 422, (way, spoiled, answer.content)


def test_a_brief_that_the_core_refuses_is_told_at_every_address(careless, person, build):
    """A yard saved before a rule was made: pages and downloads tell the refusal instead of failing."""
    yard = build.yard
    yard.obstacles = [{"kind": "building", "name": "Shed", "footprint": [[-5, -3], [5, -3], [5, 4], [-5, 4]], "height": 3.0}]
    yard.save()
    for address in (
        "shade/", "tilt/", "worth/", "frame/", "place/", "brief.json", "tilt/moves.ics", "tilt/plan.csv", "worth/comparison.csv",
        "worth/drawing.svg", "tilt/field-card.pdf", "shade/day/", "shade/prices/", "shade/map/", "shade/field/", "shade/yard.geojson",
    ):  # fmt: skip
        answer = told(careless.get(f"/builds/{build.pk}/{address}"))
        if address in ("tilt/moves.ics", "tilt/plan.csv", "worth/comparison.csv", "worth/drawing.svg"):
            assert answer.status_code == 422, address
            assert "stands inside “Shed”" in answer.content.decode(), address


def test_an_account_deleted_in_another_tab(careless, person, build):
    """The page that was open saves nothing and asks to sign in."""
    data = {"document": json.dumps(document_of(build)), "version": build.version}
    User.objects.get(pk=person.pk).delete()
    answer = told(careless.post(f"/builds/{build.pk}/shade/", data, headers={"HX-Request": "true"}))
    assert answer.status_code in (302, 401, 404) or "sign" in answer.content.decode().lower()


def test_numbers_of_many_digits_in_a_brief():
    data = {**demo_brief("Honey house")}
    for key in ("room", "version"):
        with pytest.raises(BriefError):
            brief_of({**data, key: int(LONG)})


ODD_NAME = "Bee\n\x0bbarn\r\nEND:VEVENT\u2028 & <co>"


def test_a_name_is_one_line_wherever_it_comes_from(careless, person, build):
    """A line end in a name would end a line of the calendar, or make a drawing that nothing reads."""
    told(careless.post(f"/builds/{build.pk}/rename/", {"name": ODD_NAME}))
    assert Build.objects.get().name == "Bee barn END:VEVENT & <co>"
    brief = {**demo_brief("Honey house"), "name": ODD_NAME}
    upload = SimpleUploadedFile("brief.json", json.dumps(brief).encode())
    told(careless.post("/builds/import/", {"brief": upload, "creation_key": str(uuid4())}))
    assert set(Build.objects.values_list("name", flat=True)) == {"Bee barn END:VEVENT & <co>"}
    row = {"name": "Sail\x0b\x00\n2", "kind": "stepped", "tilts": "20, 50", "settings": 2, "version": build.version}
    told(careless.post(f"/builds/{build.pk}/worth/rows/", row))
    for address in ("tilt/moves.ics", "tilt/drawing.svg", "worth/drawing.svg", "worth/comparison.csv"):
        answer = told(careless.get(f"/builds/{build.pk}/{address}"))
        assert answer.status_code == 200, address
        if address.endswith("svg"):
            ElementTree.fromstring(answer.content)  # noqa: S314  (our own)
    assert len(Calendar.from_ical(careless.get(f"/builds/{build.pk}/tilt/moves.ics").content).walk("VEVENT")) == 2
