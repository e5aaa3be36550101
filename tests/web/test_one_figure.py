"""One build, one yearly figure: whatever page or file says what it makes in a year, it is the same number; and nothing tells what stays put to move."""

from __future__ import annotations

import html
import re

import pytest

from tests.web.conftest import build_for
from web.builds.registry import stations
from web.builds.results import Results

pytestmark = pytest.mark.django_db
THIN = "\u202f"
NO_FRAME: dict = {"frame": None, "wind": None, "footing": None, "beams": [], "options": []}
BUILDS = {
    "fixed": {"mount": {"kind": "fixed", "tilt": 38.0}},
    "legs": {"mount": {"kind": "fixed", "tilt": 34.0}, "frame": {"kind": "legs", "rear_heights": [2.3], "support_spacing": 2.2}},
    "railing": {
        "mount": {"kind": "fixed", "tilt": 90.0},
        "array": {"rows": 1, "columns": 2, "azimuth": 270.0, "clearance": 0.1},
        "stand": {"on": "railing", "height": 4.0, "fixings": {"count": 4, "lines_apart": 0.8}},
        "wind": {"gust": 30.0},
    },
    "pergola": {
        "mount": {"kind": "fixed", "tilt": 11.66},
        "frame": {"kind": "wedge", "rise": 0.12, "slope_length": 0.9},
        "stand": {"on": "pergola", "height": 2.3, "slope": 4.0},
        "wind": {"gust": 28.0},
    },
    "one position": {"mount": {"kind": "stepped", "tilts": [41.0]}},
    "turned": {"mount": {"kind": "turned", "tilt": 35.0, "facings": [110.0, 180.0, 250.0]}},
    "two moves": {"mount": {"kind": "stepped", "tilts": [16.0, 23.0, 42.0, 52.0]}},
    "hinge": {"mount": {"kind": "hinge", "min_tilt": 0.0, "max_tilt": 50.0, "standby_watts": 1.5}},
    "rolled": {"mount": {"kind": "one-axis", "limit": 50.0, "moving_watts": 20.0}},
    "two axes": {"mount": {"kind": "two-axis", "standby_watts": 2.0}},
}
STAYS = ("fixed", "legs", "railing", "pergola", "one position")


@pytest.fixture(params=BUILDS)
def kind(request) -> str:
    return str(request.param)


@pytest.fixture
def own(person, kind):
    return build_for(person, **{**NO_FRAME, "yard": None, "horizon": None, **BUILDS[kind]})


def words(answer) -> str:
    """What a page says, tags left out."""
    text = re.sub(r"<(script|style|svg)\b.*?</\1>", " ", answer.content.decode(), flags=re.S)
    return re.sub(r"\s+", " ", html.unescape(re.sub(r"<[^>]+>", "", text)).replace(THIN, ""))


def figure(pattern: str, text: str) -> float:
    found = re.search(pattern, text)
    assert found, (pattern, text[:1500])
    return float(found[1])


def test_every_page_says_the_same_year(site, own, kind):
    wanted = round(Results(own).study.production().year)
    assert wanted > 100
    assert round(Results(own)["summary"].energy) == wanted and round(sum(Results(own)["summary"].daily)) == wanted
    assert figure(r"([\d.]+) kWh a year\.", words(site.get("/builds/"))) == wanted
    tilt = words(site.get(f"/builds/{own.pk}/tilt/"))
    if kind in STAYS or kind == "turned":
        assert figure(r"(?:Fixed|Turned by hand) at [\d.]+°: ([\d.]+) kWh a year", tilt) == wanted
    elif kind != "two moves":
        assert figure(r"With it: ([\d.]+) kWh a year", tilt) == wanted
    frame = words(site.get(f"/builds/{own.pk}/frame/"))
    assert figure(r"As planned it makes ([\d.]+) kWh a year", frame) == wanted
    assert figure(r"Out of the inverter ?([\d.]+)", frame) == wanted
    worth = Results(own)["worth"]
    row = next((one for one in (worth.comparison.base, *worth.comparison.rows) if round(one.energy) == wanted), None)
    assert row is not None, "its own way is among the rows"


def test_nothing_that_stays_put_is_told_to_move(site, own, kind):
    if kind not in STAYS:
        pytest.skip("it moves")
    held = Results(own).plan.held
    assert held is not None
    own_tilt = f"{held.tilt:.1f}".removesuffix(".0")
    for station in stations():
        page = words(site.get(f"/builds/{own.pk}/{station.key}/"))
        assert "should stand at" not in page and "Move it" not in page and "Yours stands at" not in page, station.key
        assert f"it stays at {own_tilt}°" in page, station.key
    assert "it stays at" in words(site.get(f"/builds/{own.pk}/tilt/")) and "The angle" in words(
        site.get(f"/builds/{own.pk}/wind/")
    )
    calendar = site.get(f"/builds/{own.pk}/tilt/moves.ics").content.decode()
    assert "BEGIN:VEVENT" not in calendar
    rows = site.get(f"/builds/{own.pk}/tilt/plan.csv").content.decode().splitlines()
    assert len(rows) == 2 and rows[1].split(",")[1] == f"{held.tilt:g}" or float(rows[1].split(",")[1]) == held.tilt


def test_a_stand_that_is_somebody_elses_is_told_of_no_feet_and_no_ground(site, own, kind):
    if kind not in ("railing", "pergola"):
        pytest.skip("it stands on the ground")
    wind = words(site.get(f"/builds/{own.pk}/wind/"))
    assert "In the ground" not in wind.replace("In the ground, and snow", "") and "What one fixing takes" in wind
    cutting = words(site.get(f"/builds/{own.pk}/cutting/"))
    assert "foot plate" not in cutting and "gravel" not in cutting


def test_a_fixed_frame_is_let_move_and_fixed_again(site, person):
    own = build_for(person, **{**NO_FRAME, "mount": {"kind": "fixed", "tilt": 38.0}})
    moved = site.post(f"/builds/{own.pk}/tilt/held", {"do": "move"}, follow=True)
    mount = Results(type(own).objects.get(pk=own.pk)).brief.mount
    assert mount.kind == "stepped" and len(mount.tilts) == 2 and "Fix it at 38° again" in words(moved)
    site.post(f"/builds/{own.pk}/tilt/held", {"do": "fix", "tilt": "38"})
    mount = Results(type(own).objects.get(pk=own.pk)).brief.mount
    assert (mount.kind, mount.tilt) == ("fixed", 38.0)


def test_the_angle_is_changed_on_its_own_page(fill, person):
    own = build_for(person, **{**NO_FRAME, "mount": {"kind": "fixed", "tilt": 38.0}})
    assert fill(own, "tilt", angle="31.5").status_code == 200
    assert Results(type(own).objects.get(pk=own.pk)).brief.mount.tilt == 31.5
    assert "from 0 to 90" in " ".join(fill(own, "tilt", angle="95").context["form"].errors["angle"])


def test_which_way_to_face_and_taking_it_over(site, person):
    own = build_for(person, **{**NO_FRAME, "yard": None, "horizon": None, "mount": {"kind": "fixed", "tilt": 38.0}})
    answer = site.get(
        f"/builds/{own.pk}/frame/facings",
        {"facing1": "south-west", "tilt1": "30", "facing2": "east + west", "tilt2": "20", "facing3": "uphill", "tilt3": "10"},
    )
    page = words(answer)
    assert "Best here: 180° (south)" in page and "“uphill” is no facing" in page
    study = Results(own).study
    both = (study.surface(90.0).daily(20.0).sum() + study.surface(270.0).daily(20.0).sum()) / 2
    assert figure(r"east \+ west ?20° ?([\d.]+)", page) == pytest.approx(both, abs=1)
    site.post(f"/builds/{own.pk}/frame/face", {"azimuth": "225", "tilt": "30"})
    brief = Results(type(own).objects.get(pk=own.pk)).brief
    assert brief.array.azimuth == 225.0 and brief.mount.tilt == 30.0
    site.post(f"/builds/{own.pk}/frame/face", {"azimuth": "nan", "tilt": "30"})
    assert Results(type(own).objects.get(pk=own.pk)).brief.array.azimuth == 225.0


def test_anothers_build_is_not_turned_nor_fixed(site, stranger):
    other = build_for(stranger, **{**NO_FRAME, "mount": {"kind": "fixed", "tilt": 38.0}})
    assert site.get(f"/builds/{other.pk}/frame/facings").status_code == 404
    assert site.post(f"/builds/{other.pk}/frame/face", {"azimuth": "90"}).status_code == 404
    assert site.post(f"/builds/{other.pk}/tilt/held", {"do": "move"}).status_code == 404


def test_what_a_motor_moves_is_not_fixed_by_a_stray_request(site, person):
    own = build_for(person, **{**NO_FRAME, "mount": {"kind": "two-axis"}})
    site.post(f"/builds/{own.pk}/tilt/held", {"do": "fix", "tilt": "30"})
    assert Results(type(own).objects.get(pk=own.pk)).brief.mount.kind == "two-axis"
