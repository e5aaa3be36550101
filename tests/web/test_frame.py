"""The frame as it is built: its measures asked, kept, refused beside their field, and shown."""

from __future__ import annotations

import re
from datetime import datetime
from io import BytesIO
from xml.etree import ElementTree

import numpy as np
import pytest
from pypdf import PdfReader

from sundial.aim.pin import sun_vectors, tips
from sundial.frames.prop import Prop
from sundial.sun import Site
from tests.web.conftest import build_for
from tests.web.test_editing import refused
from web.builds.models import Build
from web.builds.results import Results
from web.frame.forms import AnglesStep

pytestmark = pytest.mark.django_db

PROP = {"built": "prop", "rail_points": "1.1", "prop_lengths": "80 cm", "base_holes": "1.5, 1.2, 0.9"}
KINDS = {
    "legs": ({"built": "legs", "spacing": "1.45", "rear_heights": "1.2, 1.5"}, "stepped"),
    "prop": (PROP, "stepped"),
    "a-frame": ({**PROP, "built": "a-frame", "front_leg": "2.2", "back_leg": "2", "base_holes": "1.1, 1.3"}, "stepped"),
    "pole": ({"built": "pole", "pole_height": "2.4", "pole_min": "15", "pole_max": "60"}, "stepped"),
    "pole-jack": ({"built": "pole-jack", "pole_height": "2.8", "pole_min": "10", "pole_max": "50"}, "stepped"),
    "jack": (
        {"built": "jack", "base_x": "0.9", "base_z": "-0.25", "jack_rail": "1.2", "retracted": "0.72", "extended": "1.3"},
        "stepped",
    ),
    "wall": ({"built": "wall", "lower_height": "0.3", "tilt": "30"}, "fixed"),
    "wedge": ({"built": "wedge", "rise": "0.5", "board": "2", "tilt": "14.5"}, "fixed"),
}


def reread(build: Build) -> Build:
    return Build.objects.whole().get(pk=build.pk)


@pytest.mark.parametrize("kind", KINDS)
def test_every_kind_is_kept_as_typed_and_shown(build, fill, kind):
    answers, mount = KINDS[kind]
    page = fill(build, "frame", kind=mount, **answers).content.decode()
    assert ">saved</span>" in page, page
    kept = reread(build)
    assert kept.frame.structure["kind"] == {"a-frame": "prop", "pole-jack": "pole"}.get(kind, kind)
    assert ("jack" in kept.frame.structure) == (kind == "pole-jack")
    assert "As it stands at" in page and "Pieces to cut" in page
    before = Results(kept).brief
    fill(kept, "frame")  # nothing changed
    assert Results(reread(build)).brief == before


def test_the_holes_of_a_bar_are_its_tilts(build, fill):
    page = fill(build, "frame", **PROP).content.decode()
    assert "3 tilts</em> from 31.3° to 45.8°" in page
    assert "No hole reaches under 31.3° or over 45.8°; the widest step is from 31.3° to 40.4°." in page
    study = Results(reread(build)).study
    assert isinstance(study.scene.structure, Prop) and study.scene.reachable.tolist() == [31.29, 40.42, 45.82]
    assert "tilts" not in reread(build).frame.mount
    # Told again without measures: the list of tilts counts.
    fill(reread(build), "frame", built="", tilts="20, 30")
    assert Results(reread(build)).study.scene.reachable.tolist() == [20, 30]
    assert reread(build).frame.structure is None


def test_measures_in_feet_and_as_a_range(build, fill):
    Build.objects.filter(pk=build.pk).update(units="us")
    build = reread(build)
    fill(
        build, "frame", **{**PROP, "rail_points": "3 ft 6 in", "prop_lengths": "2 ft 8 in", "base_holes": "2 ft to 5 ft by 6 in"}
    )
    held = reread(build).frame.structure
    assert held["rail_points"] == [pytest.approx(1.0668)]
    assert held["base_holes"] == pytest.approx([0.6096 + 0.1524 * step for step in range(7)])


@pytest.mark.parametrize(
    ("answers", "field", "words"),
    [
        ({**PROP, "prop_lengths": "4 m"}, "prop_lengths", "longer than rail and base together"),
        ({**PROP, "base_holes": "1.5, 1.2, 1.5"}, "base_holes", "there twice"),
        ({**PROP, "base_holes": "1.5, lots"}, "base_holes", "Number 2, “lots”"),
        ({**PROP, "base_holes": ""}, "base_holes", "Give a length"),
        ({**PROP, "base_holes": "0.1 to 9 by 0.01"}, "base_holes", "more than 40 holes"),
        ({**KINDS["pole"][0], "pole_height": "0.9"}, "pole_height", "in the ground"),
        ({**KINDS["pole"][0], "pole_max": "10"}, "pole_max", "not be under the flattest"),
        ({**KINDS["jack"][0], "extended": "0.6"}, "extended", "longer than retracted"),
        ({**KINDS["pole-jack"][0], "screw_extended": "0.6"}, "screw_extended", "longer than retracted"),
        ({**KINDS["pole-jack"][0], "screw_x": ""}, "screw_x", "Give a length"),
        ({**KINDS["pole-jack"][0], "pole_min": "70", "pole_max": "85"}, "screw_extended", "the joint turns from 70 to 85"),
        ({**KINDS["jack"][0], "retracted": "4", "extended": "5"}, "extended", "reaches no tilt"),
        ({**KINDS["wedge"][0], "kind": "fixed", "tilt": "40"}, "tilt", "stands at 14.5 degrees"),
        ({**KINDS["wedge"][0], "kind": "fixed", "rise": "3"}, "rise", "more than the board"),
        ({"kind": "turned", "facings": "east"}, "facings", "two to five facings"),
        ({"kind": "hinge", "min_tilt": "50", "max_tilt": "20"}, "max_tilt", "must not be under"),
    ],
)
def test_what_cannot_be_built_is_told_beside_its_field(build, fill, answers, field, words):
    before = reread(build).frame.structure
    assert words in refused(fill(build, "frame", **answers), field)
    assert reread(build).frame.structure == before


def test_a_hinge_and_a_frame_turned_by_hand(build, fill, site):
    page = fill(build, "frame", kind="hinge", min_tilt="5", max_tilt="55", standby_watts="1").content.decode()
    assert "nothing to do, the motor moves it" in page and "tilted by motor about its hinge" in page
    days, months = ["5", "6"], ["6", "7", "8"]
    answers = {"kind": "turned", "tilt": "35", "facings": "115; 180; 245", "turn_days": days, "turn_months": months}
    page = fill(reread(build), "frame", **answers, turn_minutes="3").content.decode()
    assert "turned by hand at" in page
    mount = reread(build).frame.mount
    assert mount["facings"] == [115, 180, 245] and mount["weekdays"] == [5, 6] and mount["months"] == [6, 7, 8]
    for station in ("place", "shade", "frame", "tilt", "worth"):
        assert site.get(f"/builds/{build.pk}/{station}/").status_code == 200
    fill(reread(build), "frame")
    assert reread(build).frame.mount == mount


def test_an_imported_frame_comes_out_as_it_went_in(person):
    frame = {
        "kind": "prop", "rail_points": [1.1], "lengths": [0.8], "base_holes": [1.5, 0.9], "front_height": 0.3, "overhang": 0.1,
        "slope": 3.0, "cross_slope": 2.0,
    }  # fmt: skip
    build = build_for(person, mount={"kind": "stepped"}, frame=frame)
    told = Results(reread(build)).brief.frame
    assert told is not None and {key: value for key, value in told.model_dump().items() if key in frame} == frame


def test_keys_of_an_imported_frame_that_no_field_asks_stay(person, fill):
    frame = {"kind": "prop", "rail_points": [1.1], "lengths": [0.8], "base_holes": [1.5, 0.9], "overhang": 0.15}
    build = build_for(person, mount={"kind": "stepped"}, frame=frame)
    fill(build, "frame", base_holes="1.4, 1.0")
    kept = reread(build).frame.structure
    assert kept["overhang"] == 0.15 and kept["base_holes"] == [1.4, 1.0]


def test_tilts_of_a_joint_and_the_rest_of_a_frame_are_asked_and_refused(build, fill):
    kind = {name: value for name, value in KINDS["pole"][0].items() if name != "pole_holes"}
    fill(build, "frame", **kind, pole_holes="15 to 55 by 10", overhang="0")
    assert reread(build).frame.structure["holes"] == [15, 25, 35, 45, 55]
    assert "95 degrees: a tilt lies from 0" in fill(reread(build), "frame", pole_holes="15, 95").content.decode()
    fill(reread(build), "frame", **PROP, bar_length="7 ft", overhang="15 cm")
    kept = reread(build).frame.structure
    assert kept["base_length"] == pytest.approx(2.1336) and kept["overhang"] == 0.15


def test_where_to_drill(build, site, fill, stranger):
    fill(build, "frame", **PROP, bar_length="2.1 m")
    address = f"/builds/{build.pk}/frame/drill"
    page = site.get(address, {"drill-pitch": "5 cm", "drill-loss": "2"}).content.decode()
    assert "2 holes: <b>" in page and "your holes as they are" in page and 'data-take-holes="' in page
    assert "Or swap the prop for one of" in page and 'data-take-prop="' in page
    assert "are too many" in site.get(address, {"drill-pitch": "6 mm", "drill-loss": "2"}).content.decode()
    assert "is not a length" in site.get(address, {"drill-pitch": "fine", "drill-loss": "2"}).content.decode()
    theirs = build_for(stranger)
    assert site.get(f"/builds/{theirs.pk}/frame/drill", {"drill-pitch": "5 cm", "drill-loss": "2"}).status_code == 404
    fill(reread(build), "frame", **KINDS["pole"][0])
    assert "has a bar to drill" in site.get(address, {"drill-pitch": "5 cm", "drill-loss": "2"}).content.decode()


SORREL = Site(latitude=42.9, longitude=-6.1, elevation=870.0, timezone="Europe/Madrid")
TIMES = [datetime(2026, 4, 12, 12, 0), datetime(2026, 4, 12, 16, 0)]


def pin_answers(tilt: float, azimuth: float, scale: float = 1.0, **changes: str) -> dict[str, str]:
    found = tips(sun_vectors(SORREL, TIMES), 200.0, tilt, azimuth) * scale
    answers = {"pin": "200", "check": f"{100 * scale:g}", "tilt": "52"}
    for row, (time, (x, y)) in enumerate(zip(TIMES, found, strict=True), 1):
        answers |= {f"time{row}": f"{time:%Y-%m-%dT%H:%M}", f"x{row}": f"{x:.1f}", f"y{row}": f"{y:.1f}"}
    return answers | changes


def test_the_aim_sheet_tells_bearing_noon_and_holes(build, site):
    page = site.get(f"/builds/{build.pk}/frame/aim/").content.decode()
    assert "Turn it until the compass reads <em>18" in page and re.search(
        r"Solar noon is at <b>1[34]:\d\d:\d\d", page
    )  # as clocks go there
    assert page.count('<tr class="now">') == 2  # the holes of the plan


def test_the_pin_says_where_it_points_and_what_that_costs(build, site):
    address = f"/builds/{build.pk}/frame/aim/"
    page = site.post(address, pin_answers(52.0, 174.0)).content.decode()
    assert re.search(r"You point <em>(6|5\.9|6\.1)° east of south</em>; that costs \d+ kWh a year", page)
    assert 'value="2026-04-12T12:00"' in site.get(address).content.decode()  # kept, raw
    page = site.post(address, pin_answers(52.0, 186.0)).content.decode()
    assert re.search(r"You point <em>(6|5\.9|6\.1)° west of south</em>", page)
    assert "as it should" in site.post(address, pin_answers(52.0, 180.2)).content.decode()
    assert re.search(r"(3|2\.9|3\.1)° steeper", site.post(address, pin_answers(55.0, 180.0)).content.decode())
    # Off a target printed at 94 %: its check line puts that right.
    assert re.search(
        r"You point <em>(6|5\.9|6\.1)° east",
        site.post(address, pin_answers(52.0, 174.0, scale=1 / 0.94, check="94")).content.decode(),
    )
    assert "do not agree" in site.post(address, pin_answers(52.0, 174.0, x1="150", y1="90")).content.decode()


@pytest.mark.parametrize(
    ("changes", "field", "words"),
    [
        ({"x2": ""}, "x2", "This reading needs it too."),
        ({"time2": "2026-04-12T12:01"}, "time1", "too close"),
        ({"time2": "2026-04-12T23:30"}, "time2", "under the horizon"),
        ({"time1": "", "x1": "", "y1": "", "time2": "2026-04-12T23:30"}, "time2", "under the horizon"),
        ({"time2": "0001-04-12T12:00"}, "time2", "a year from 2000"),
        ({"pin": "tall"}, "pin", "is not a length"),
        ({"check": "300"}, "check", "Give a length from"),
        ({"time1": "soon"}, "time1", "Give a date and a time."),
        ({f"{name}{row}": "" for name in ("time", "x", "y") for row in (1, 2)}, "time1", "at least one reading"),
    ],
)
def test_pin_readings_that_tell_nothing_are_told_beside_them(build, site, changes, field, words):
    answer = site.post(f"/builds/{build.pk}/frame/aim/", pin_answers(52.0, 174.0, **changes))
    assert answer.status_code == 422
    page = answer.content.decode()
    assert words in page.partition(f'id="err-{field}"')[2].partition("</span>")[0]
    assert 'value="52"' in page  # what was typed stays


def test_anothers_rack_cannot_be_aimed(stranger, site):
    theirs = build_for(stranger)
    assert site.get(f"/builds/{theirs.pk}/frame/aim/").status_code == 404
    assert site.post(f"/builds/{theirs.pk}/frame/aim/", pin_answers(52.0, 174.0)).status_code == 404


def test_the_target_is_at_true_scale(build, site, work):
    site.post(f"/builds/{build.pk}/frame/aim/", pin_answers(52.0, 180.0, pin="250"))
    drawn = site.get(f"/builds/{build.pk}/frame/pin-target-a4.svg").content.decode()
    assert 'width="210.0mm" height="297.0mm" viewBox="0 0 210.0 297.0"' in drawn and "M-50 0H50" in drawn
    radii = [float(radius) for radius in re.findall(r'r="([\d.]+)"', drawn)]
    assert radii == pytest.approx([250 * np.tan(np.radians(angle)) for angle in (2, 5, 10, 15, 20)], abs=0.01)
    site.get(f"/builds/{build.pk}/frame/pin-target-letter.pdf")
    work()
    sheet = site.get(f"/builds/{build.pk}/frame/pin-target-letter.pdf")
    assert sheet["Content-Type"] == "application/pdf"
    (sheet_page,) = PdfReader(BytesIO(sheet.content)).pages
    size = [float(sheet_page.mediabox.width), float(sheet_page.mediabox.height)]
    assert [part / 72 * 25.4 for part in size] == pytest.approx([215.9, 279.4], abs=0.1)


def test_the_side_view_as_files(build, site, fill):
    alone = site.get(f"/builds/{build.pk}/frame/side-view.svg").content.decode()
    assert "glass 3.464 m" in alone and "prop" not in alone  # nobody has told yet what carries it
    fill(build, "frame", **PROP)
    drawn = ElementTree.fromstring(site.get(f"/builds/{build.pk}/frame/side-view.svg").content)  # noqa: S314 (our own)
    words = [element.text for element in drawn.iter("{http://www.w3.org/2000/svg}text")]
    assert "prop 0.8 m" in words and "glass 3.464 m" in words
    # One to twenty: a metre is fifty millimetres on paper.
    wide = float(drawn.attrib["viewBox"].split()[2])
    assert float(drawn.attrib["width"].removesuffix("mm")) == pytest.approx(wide * 50, abs=0.1)
    answer = site.get(f"/builds/{build.pk}/frame/side-view.dxf")
    assert answer.content.startswith(b"  0\n") and b"AC1024" in answer.content


def test_a_hole_that_moves_traces_no_ray_again_and_a_frame_that_rises_does(build, fill, monkeypatch):
    from sundial.energy import shaded

    fill(build, "frame", **PROP)
    traced: list[int] = []
    trace = shaded.trace_array
    monkeypatch.setattr(shaded, "trace_array", lambda *given, **named: traced.append(1) or trace(*given, **named))
    fill(reread(build), "frame", base_holes="1.5, 1.2, 0.95")
    assert not traced
    fill(reread(build), "frame", clearance="0.9")
    assert traced


def test_a_bifaciality_factor_where_per_cent_are_asked_is_asked_about(build, fill):
    page = fill(build, "frame", bifaciality="0.7").content.decode()
    assert "for a factor of 0.7 write 70" in page
    assert "saved" in fill(build, "frame", bifaciality="70").content.decode()
    build.refresh_from_db()
    assert build.frame.bifaciality == 0.7


def test_a_frame_that_is_turned_begins_on_every_day_of_the_year(build, site):
    """The page offers all days and months ticked: whoever chooses it and does nothing else has told all that is needed."""
    page = site.get(f"/builds/{build.pk}/frame/").content.decode()
    for name, count in (("turn_days", 7), ("turn_months", 12)):
        boxes = re.findall(rf'<input[^>]*name="{name}"[^>]*>', page)
        assert len(boxes) == count and all(" checked" in box for box in boxes)


def test_the_guided_start_begins_a_frame_that_is_turned(build):
    """It asks for no days: all count, and nothing is refused that is not on the page."""
    told = {"stand_on": "pole", "moves": "hand", "by_hand": "turned", "tilt": "35", "facings": "120, 180, 240", "azimuth": ""}
    step = AnglesStep(build, {"version": "1", **told})
    assert step.is_valid(), step.errors
    step.apply(build)
    mount = Results(build).brief.mount
    assert mount.kind == "turned" and mount.days(2026).all() and mount.minutes == 2.0
    assert Results(build).study.production().year > 0


def poses_of(browser, build: Build, tilt: float, more: str = "") -> list[dict]:
    answer = browser.get(f"/builds/{build.pk}/frame/poses.json?tilt={tilt}{more}")
    assert answer.status_code == 200, answer.content
    return answer.json()["poses"]


def scale_of(pose: dict, metres: float) -> float:
    return float(np.hypot(*np.subtract(*pose["glass"]))) / metres


@pytest.mark.parametrize("kind", KINDS)
def test_every_stop_is_drawn_as_the_core_has_it(build, fill, site, kind):
    answers, mount = KINDS[kind]
    fill(build, "frame", kind=mount, **answers)
    scene = Results(reread(build)).study.scene
    structure, length = scene.structure, scene.array.slope_length
    poses = poses_of(site, build, 30.0)
    assert len(poses) >= max(len(structure.holes), 1) if structure.settings else len(poses) >= 1
    for pose in poses:
        hole = min(structure.holes, key=lambda one: abs(one.plane.tilt - pose["tilt"])) if structure.settings else None
        tilt, held = (hole.tilt, hole.set_by) if hole else (pose["tilt"], {})
        ours = {line.name: line for line in structure.side_lines(tilt, length, held) if line.start != line.end}
        scale = scale_of(pose, length)
        (x, y), (right, top) = pose["glass"]
        assert np.degrees(np.arctan2(y - top, right - x)) == pytest.approx(tilt, abs=0.15)
        assert set(pose["parts"]) | {"glass"} == set(ours)
        for name, path in pose["parts"].items():
            drawn = np.array(re.findall(r"-?[\d.]+", path), dtype=float)
            from_glass = [(px - x, y - py) for px, py in drawn.reshape(2, 2)]
            wanted = np.subtract((ours[name].start, ours[name].end), ours["glass"].start) * scale
            assert np.ravel(from_glass) == pytest.approx(wanted.ravel(), abs=0.35), name


@pytest.mark.parametrize(("kind", "units"), [("prop", "metric"), ("a-frame", "metric"), ("prop", "us")])
def test_a_hole_is_offered_where_a_drill_can_put_it_with_the_tilt_it_sets(build, fill, site, kind, units):
    """The tilt of a hole by the cosine rule, written out once more."""
    fill(build, "frame", kind="stepped", **KINDS[kind][0])
    Build.objects.filter(pk=build.pk).update(units=units)
    p, bar = 1.1, 0.8
    places = poses_of(site, build, 30.0, "&hole=1")
    step = 0.0254 / 4 if units == "us" else 0.01
    others = {"prop": (1.5, 0.9), "a-frame": (1.1,)}[kind]
    assert len(places) > 25
    for one in places:
        q = one["at"]
        assert q / step == pytest.approx(round(q / step), abs=1e-3) and all(abs(q - other) > 1e-9 for other in others)
        between = np.arccos((p * p + q * q - bar * bar) / (2 * p * q))
        front, back = 2.2, 2.0
        wanted = np.degrees(between if kind == "prop" else np.arctan2(back * np.sin(between), front - back * np.cos(between)))
        assert one["tilt"] == pytest.approx(wanted, abs=0.006) and one["used"] == 1
    reached = [one["at"] for one in places]
    assert max(reached) <= (
        2.0 if kind == "a-frame" else 2.0 + 1e-9
    )  # an A-frame's leg ends; a bar whose end is not told goes on a little


def test_poses_are_ones_own_and_of_a_frame_that_is_told(build, fill, site, stranger):
    assert site.get(f"/builds/{build.pk}/frame/poses.json?tilt=30").status_code == 404  # no frame is told yet
    fill(build, "frame", **PROP)
    assert poses_of(site, build, 30.0, "&hole=77") == []
    for tilt in ("nan", "inf", "-1", "91", "steep", ""):
        assert site.get(f"/builds/{build.pk}/frame/poses.json?tilt={tilt}").status_code == 404, tilt
    theirs = build_for(stranger)
    assert site.get(f"/builds/{theirs.pk}/frame/poses.json?tilt=30").status_code == 404


START = {"stand_on": "railing", "moves": "fixed", "stand_height": "3 m", "stand_lines_apart": "0.8 m", "azimuth": "270"}


@pytest.mark.parametrize(
    ("answers", "mount", "stand", "clearance"),
    [
        ({}, {"kind": "fixed", "tilt": 90.0}, {"on": "railing", "height": 3.0}, 0.1),
        ({"stand_on": "pergola", "stand_lines_apart": "", "tilt": "12"}, {"kind": "fixed", "tilt": 12.0}, {"on": "pergola"}, 0.1),
        ({"stand_on": "ground", "moves": "hand", "by_hand": "stepped", "tilts": "20, 50", "clearance": "2 ft"}, {"kind": "stepped", "tilts": [20.0, 50.0]}, {"on": "ground"}, 0.6096),
        ({"stand_on": "vehicle", "moves": "motor", "motor": "hinge", "min_tilt": "0", "max_tilt": "50", "stand_road_speed": "30 m/s"}, {"kind": "hinge", "max_tilt": 50.0}, {"on": "vehicle", "road_speed": 30.0}, 0.1),
        ({"stand_on": "roof", "stand_slope": "28", "tilt": "28"}, {"kind": "fixed", "tilt": 28.0}, {"on": "roof", "slope": 28.0}, 0.1),
    ],
)  # fmt: skip
def test_the_start_asks_what_it_stands_on_and_whether_it_moves(build, answers, mount, stand, clearance):
    step = AnglesStep(build, {"version": "1", **START, **answers})
    assert step.is_valid(), step.errors
    for row in step.apply(build):
        row.save()
    brief = Results(build).brief
    assert {name: getattr(brief.mount, name) for name in mount} == mount
    assert brief.stand is not None and {name: getattr(brief.stand, name) for name in stand} == stand
    assert brief.array.clearance == pytest.approx(clearance)
    assert brief.system.mounting == ("raised" if stand["on"] == "roof" else "open-rack")


@pytest.mark.parametrize(
    ("answers", "field", "words"),
    [
        ({"stand_on": ""}, "stand_on", "Say what it stands on"),
        ({"moves": ""}, "moves", "Say whether it moves"),
        ({"stand_lines_apart": ""}, "stand_lines_apart", "how far apart"),
        ({"tilt": "steep"}, "tilt", "number"),
        ({"stand_height": "high"}, "stand_height", "length"),
    ],
)
def test_what_the_start_cannot_take_is_told_beside_it(build, answers, field, words):
    step = AnglesStep(build, {"version": "1", **START, **answers})
    assert not step.is_valid() and words in " ".join(step.errors[field])
