"""Files out: calendar, tables, drawings, field card."""

from __future__ import annotations

import csv
import io
import re
import uuid
import xml.etree.ElementTree as ET
from datetime import date, timedelta
from pathlib import Path

import pytest
from icalendar import Calendar
from pypdf import PdfReader

from sundial.days import date_of_day
from web.builds.models import Build
from web.builds.results import Results
from web.builds.tables import csv_text, safe_cell

pytestmark = pytest.mark.django_db


def events(client, build) -> list:
    answer = client.get(f"/builds/{build.pk}/tilt/moves.ics")
    assert answer["Content-Type"].startswith("text/calendar")
    return Calendar.from_ical(answer.content).walk("VEVENT")


def test_the_calendar_has_each_move_on_its_date_with_tilt_window_and_alarm(site, build):
    found = events(site, build)
    plan = Results(Build.objects.get(pk=build.pk)).plan.chosen
    assert len(found) == 2 == plan.moves
    for event, stretch in zip(found, plan.stretches, strict=True):
        start = event.decoded("dtstart")
        assert isinstance(start, date)
        assert (start.month, start.day) == (date_of_day(stretch.start).month, date_of_day(stretch.start).day)
        assert start >= date.today()
        assert event.decoded("dtend") - start == timedelta(days=1)
        assert f"{stretch.tilt:g}°, hole" in str(event["summary"])
        assert "Any day from" in str(event["description"])
        assert event["rrule"]["freq"] == ["YEARLY"]
        alarm = event.walk("VALARM")[0]
        assert alarm.decoded("trigger") == timedelta(hours=-16)


def test_importing_again_updates_the_same_events(site, build, fill):
    before = events(site, build)
    fill(build, "frame", tilts="20, 50")
    after = events(site, build)
    assert [e["uid"] for e in before] == [e["uid"] for e in after]
    assert after[0]["sequence"] > before[0]["sequence"]
    assert str(before[0]["summary"]) != str(after[0]["summary"])


def test_two_builds_never_share_an_event(site, build):
    site.post(f"/builds/{build.pk}/copy/", {"creation_key": uuid.uuid4()})
    twin = Build.objects.exclude(pk=build.pk).get()
    assert not {str(e["uid"]) for e in events(site, build)} & {str(e["uid"]) for e in events(site, twin)}


def test_a_plan_without_moves_is_an_empty_calendar(site, build, fill):
    fill(build, "tilt", settings="1")
    assert events(site, build) == []


def test_tables_hold_what_the_pages_say(site, build):
    plan = Results(build).plan.chosen
    rows = list(csv.DictReader(io.StringIO(site.get(f"/builds/{build.pk}/tilt/plan.csv").content.decode())))
    assert [float(row["tilt_degrees"]) for row in rows] == [s.tilt for s in plan.stretches]
    assert sum(float(row["energy_kwh"]) for row in rows) == pytest.approx(plan.energy, abs=0.2)
    ways = list(csv.DictReader(io.StringIO(site.get(f"/builds/{build.pk}/worth/comparison.csv").content.decode())))
    assert ways[0]["kind"] == "yours"
    hours = site.get(f"/builds/{build.pk}/tilt/hours.csv").content.decode().splitlines()
    assert len(hours) == 8761


@pytest.mark.parametrize("cell", ["=1+1", "+A1", "-2+3", "@SUM(A1)", "\t=1", "\r=1"])
def test_spreadsheet_formulas_are_escaped(cell):
    assert safe_cell(cell) == f"'{cell}"
    assert csv_text(["a"], [[cell]]).splitlines()[1].lstrip('"').startswith("'")


def test_numbers_stay_numbers():
    assert csv_text(["a", "b"], [[-5.5, None]]) == "a,b\r\n-5.5,\r\n"


@pytest.mark.parametrize("address", ["tilt/drawing.svg", "worth/drawing.svg"])
def test_drawings_stand_by_themselves(site, build, address):
    build.name = "Bees & <honey>"
    build.save()
    answer = site.get(f"/builds/{build.pk}/{address}")
    assert answer["Content-Type"] == "image/svg+xml"
    root = ET.fromstring(answer.content)  # noqa: S314  (our own file)
    assert root.find("{http://www.w3.org/2000/svg}title").text.startswith("Bees & <honey>:")
    assert len(root.findall(".//{http://www.w3.org/2000/svg}path")) > 3


def test_the_field_card_is_one_page_of_pdf(site, build, work):
    address = f"/builds/{build.pk}/tilt/field-card.pdf"
    waiting = site.get(address).content.decode()
    assert "It is being made" in waiting
    assert 'http-equiv="refresh"' in waiting
    assert work() == 1
    answer = site.get(f"/builds/{build.pk}/tilt/field-card.pdf")
    assert answer.content.startswith(b"%PDF-")
    pages = PdfReader(io.BytesIO(answer.content)).pages
    assert len(pages) == 1
    assert "Honey house" in pages[0].extract_text()
    assert 'filename="honey-house-field-card.pdf"' in answer["Content-Disposition"]


def test_a_file_link_never_saves_a_page_under_the_name_of_a_file(site, build, work):
    """The first time a sheet is asked for a page waits for it, then offers it; its address alone is the file."""
    for template in Path("web").rglob("*.html"):
        assert not re.search(r"<a [^>]*\sdownload[\s>=]", template.read_text()), (
            f"{template}: what may not be there yet is no download"
        )
    address = f"/builds/{build.pk}/tilt/field-card.pdf"
    waits = site.get(address)
    assert "It is being made" in waits.content.decode() and f"{address}?waited=1" in waits.content.decode()
    assert "Content-Disposition" not in waits.headers
    work()
    offered = site.get(address, {"waited": "1"}).content.decode()
    assert "It is ready." in offered and f'<a class="button" href="{address}">' in offered
    file = site.get(address)
    assert file["Content-Disposition"].startswith("attachment") and file.content[:5] == b"%PDF-"
