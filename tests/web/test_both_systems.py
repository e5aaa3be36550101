"""Feet and pounds, metres and kilograms: every page in the build's units, every field in both, and nothing drifts when it is shown and saved."""

from __future__ import annotations

import json
import re
from html.parser import HTMLParser
from pathlib import Path

import pytest

from sundial.brief.read import brief_of
from web.builds.briefs import brief_data, build_from_brief
from web.builds.models import Build
from web.builds.registry import stations
from web.builds.results import Results

pytestmark = pytest.mark.django_db
EXAMPLES = Path(__file__).parents[2] / "docs" / "examples"
NAMES = ("prop-with-holes", "railing-upright", "ground-screws-and-snow", "hatch-on-a-jack", "pump-with-a-tank", "awning-on-a-van")
NUMBER = r"(?<![\w.])[-−]?\d[\d.,\u202f ]*\s?"
METRIC = re.compile(
    NUMBER + r"(kg|g|t|m/s|mm/s|km/h|N|kN|kNm|Nm|N/m|Pa|kPa|MPa|kN/m²|mm|cm|m|km|m²|m2|°C|l|ml|litres?)(?![\w²°/])"
)
AMERICAN = re.compile(NUMBER + r"(lb|lbs|lbf|kip|oz|psf|psi|mph|ft|in|sq ft|°F|gal|AWG)(?![\w°/])")


class Words(HTMLParser):
    """What a page says and what stands in its fields, scripts and drawings' numbers left out."""

    def __init__(self) -> None:
        super().__init__()
        self.parts: list[str] = []
        self.silent = 0

    def handle_starttag(self, tag, attrs):
        told = dict(attrs)
        self.silent += tag in ("script", "style")
        if told.get("type") != "hidden" and tag != "option":
            self.parts += [f" ¦ {told[name]} ¦ " for name in ("value", "placeholder", "aria-label", "title") if told.get(name)]
        self.parts.append(" ")

    def handle_endtag(self, tag):
        self.silent -= tag in ("script", "style")
        self.parts.append(" ")

    def handle_data(self, data):
        if not self.silent:
            self.parts.append(data)


def said(page: str, foreign: re.Pattern[str]) -> list[str]:
    """Every quantity in a foreign unit that is not in brackets beside its own."""
    words = Words()
    words.feed(page)
    text = re.sub(r"\([^()]*\)", "", re.sub(r"\s+", " ", "".join(words.parts)))
    return [text[max(0, found.start() - 50) : found.end() + 12] for found in foreign.finditer(text)]


def build_in(person, name: str, units: str) -> Build:
    build = build_from_brief(person, brief_of(json.loads((EXAMPLES / f"{name}.json").read_text("utf-8"))))
    build.units = units
    build.save()
    return Build.objects.whole().get(pk=build.pk)


def pages_of(site, build: Build) -> dict[str, str]:
    """Every station and what it asks for afterwards."""
    found, asked = {}, set()
    for station in stations():
        address = f"/builds/{build.pk}/{station.key}/"
        found[address] = site.get(address).content.decode()
        asked |= set(re.findall(r'hx-get="([^"?]+)', found[address]))
    for address in sorted(asked - set(found)):
        answer = site.get(address)
        if answer.status_code == 200 and "html" in answer.headers["Content-Type"]:
            found[address] = answer.content.decode()
    return found


@pytest.mark.parametrize("name", NAMES)
def test_a_build_in_feet_meets_no_metre_and_no_newton(site, person, name):
    build = build_in(person, name, "us")
    pages = pages_of(site, build)
    assert len(pages) > len(stations())
    assert {page: found for page, text in pages.items() if (found := said(text, METRIC))} == {}
    assert any(AMERICAN.search(text) for text in pages.values())


@pytest.mark.parametrize("name", NAMES[:3])
def test_a_build_in_metres_meets_no_foot_and_no_pound(site, person, name):
    pages = pages_of(site, build_in(person, name, "metric"))
    gauges = re.compile(r"\d+(?:/0)? AWG")  # the other series of cables stands beside its own

    def left(text: str) -> list[str]:
        return [line for line in said(text, AMERICAN) if not gauges.search(line)]

    assert {page: found for page, text in pages.items() if (found := left(text))} == {}


@pytest.mark.parametrize("name", NAMES)
def test_what_is_shown_and_saved_again_does_not_drift(site, person, fill, name):
    """Every form posted as it is shown, in feet, in metres, and in feet again: the brief stays to the last digit."""
    build, before = build_in(person, name, "metric"), {}
    for units in ("metric", "us", "metric", "us"):
        Build.objects.filter(pk=build.pk).update(units=units)
        for station in stations():
            answer = fill(Build.objects.whole().get(pk=build.pk), station.key)
            assert answer.status_code in (200, 204), (station.key, units)
        after = brief_data(Build.objects.whole().get(pk=build.pk))
        assert after == (before or after), units  # the first save alone adds what a file left out
        before = after
    first = brief_of(json.loads((EXAMPLES / f"{name}.json").read_text("utf-8"))).model_dump()
    apart = differing(first, brief_of(before).model_dump())
    assert [line for line in apart if not line.startswith("plan.year")] == []  # a file without a year is given the current one


def differing(one: object, other: object, path: str = "") -> list[str]:
    """Paths of numbers that are told in both and differ."""
    if isinstance(one, dict) and isinstance(other, dict):
        return [line for key in one for line in differing(one[key], other.get(key), f"{path}.{key}".strip("."))]
    if isinstance(one, (list, tuple)) and isinstance(other, (list, tuple)) and len(one) == len(other):
        return [line for a, b in zip(one, other, strict=True) for line in differing(a, b, path)]
    numbers = isinstance(one, (int, float)) and isinstance(other, (int, float))
    return [f"{path}: {one!r}, {other!r}"] if numbers and one != other else []


TYPED = [
    ("wind", "frame_mass", "53 lb", "wind.frame_mass", 24.04040),
    ("wind", "ballast", "3/4 t", "wind.ballast", 750.0),
    ("wind", "gust", "80 mph", "wind.gust", 35.7632),
    ("wind", "snow_load", "25 psf", "snow.load", 1.1970065),
    ("wind", "footing_stored", "1200 lb", "footing.stored", 544.310844),
    ("frame", "mass", "48 lb 8 oz", "panel.mass", 21.9992),
    ("cutting", "min_temp", "-4 °F", "electrics.min_temp", -20.0),
    ("cutting", "cable_length", "280 ft", "electrics.cable.length", 85.344),
    ("cutting", "cable_area", "6 AWG", "electrics.cable.area", 13.301768),
    ("cutting", "cable_temperature", "122 F", "electrics.cable.temperature", 50.0),
]


@pytest.mark.parametrize("units", ["us", "metric"])
@pytest.mark.parametrize(("station", "field", "typed", "path", "value"), TYPED)
def test_both_systems_are_taken_in_every_field(person, fill, units, station, field, typed, path, value):
    build = build_in(person, "prop-with-holes", units)
    answer = fill(build, station, **{field: typed})
    told: object = brief_data(Build.objects.whole().get(pk=build.pk))
    for key in path.split("."):
        told = told[key]  # type: ignore[index]
    assert told == pytest.approx(value, rel=1e-5), answer.content.decode()[:500]


def test_limits_are_told_in_the_units_of_the_person(person, fill):
    build = build_in(person, "prop-with-holes", "us")
    page = fill(build, "frame", mass="900 lb").content.decode()
    assert "Give 0 lb to 440.925 lb." in page
    assert "is no mass such as 24 kg or 53 lb" in fill(build, "frame", mass="heavy").content.decode()
    page = fill(build, "wind", gusts="30, 32 mph").content.decode()
    assert "twelve (January to December), not 2" in page


def test_monthly_boxes_are_in_the_builds_units(site, person, fill):
    build = build_in(person, "prop-with-holes", "us")
    fill(build, "wind", gust="90 mph", gusts="50, 50, 48, 46, 44, 42, 40, 42, 44, 46, 48, 50")
    kept = Results(Build.objects.whole().get(pk=build.pk)).brief.wind.gusts
    assert kept[0] == pytest.approx(22.352) and kept[6] == pytest.approx(17.8816)
    page = site.get(f"/builds/{build.pk}/wind/").content.decode()
    assert "50, 50, 48, 46, 44, 42, 40, 42, 44, 46, 48, 50" in page and "Strong gusts by month, mph" in page


def test_a_metric_and_an_american_builder_get_the_same_figures(person, fill):
    """The same frame typed twice: every figure of the wind to 1e-9."""
    typed = {
        "us": {"frame_mass": "132 lb", "ballast": "88 lb", "gust": "70 mph", "back_foot": "4 ft 7 in", "front_foot": "0"},
        "metric": {
            "frame_mass": "59.87419284 kg",
            "ballast": "39.91612856 kg",
            "gust": "31.2928 m/s",
            "back_foot": "1.397",
            "front_foot": "0",
        },
    }
    reports = []
    for units, answers in typed.items():
        build = build_in(person, "legs-cut-to-one-tilt", units)
        fill(build, "wind", **answers)
        held = Build.objects.whole().get(pk=build.pk)
        assert held.wind.ballast == pytest.approx(39.91612856, rel=1e-9)
        reports.append(Results(held)["wind"])
    one, other = reports
    assert one.curve[40].uplift == pytest.approx(other.curve[40].uplift, rel=1e-9)
    assert [p.gives_way for p in one.own] == pytest.approx([p.gives_way for p in other.own], rel=1e-9)


def test_files_are_in_the_builds_units(site, person):
    build = build_in(person, "prop-with-holes", "us")
    wind = site.get(f"/builds/{build.pk}/wind/wind.csv").content.decode().splitlines()
    assert wind[0].startswith("tilt_degrees,tips_at_mph") and "uplift_lbf" in wind[0]
    cuts = site.get(f"/builds/{build.pk}/cutting/cuts.csv").content.decode().splitlines()
    assert "length_in" in cuts[0] and "length_m" not in "".join(cuts)
