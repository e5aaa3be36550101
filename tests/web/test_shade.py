"""The shade station's data: what is saved, refused, sent from the field, and kept from strangers."""

from __future__ import annotations

import io
import json
import random
import re
import struct
import uuid
import zlib
from typing import Any

import numpy as np
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image, ImageFile

from sundial.errors import BriefError
from sundial.siting.whatif import year_of
from tests.odd import spoiled
from tests.web.conftest import build_for
from web.builds.briefs import brief_data, build_from_brief, export_data
from web.builds.models import Build
from web.builds.pictures import settled
from web.builds.results import Results
from web.shade.document import document_of
from web.shade.models import Picture, Yard


def _png() -> bytes:
    out = io.BytesIO()
    Image.new("L", (640, 480), 150).save(out, "PNG")
    return out.getvalue()


PNG = _png()


def reread(build: Build) -> Build:
    return Build.objects.whole().get(pk=build.pk)


@pytest.fixture
def put(site, build):
    """Save a document with some of it changed; the answer's text."""

    def post(htmx: bool = True, version: int | None = None, **changes: Any):
        fresh = reread(build)
        data = {"document": json.dumps({**document_of(fresh), **changes}), "version": version or fresh.version}
        return site.post(f"/builds/{build.pk}/shade/", data, headers={"HX-Request": "true"} if htmx else {})

    return post


POST = {"kind": "post", "name": "Pole", "at": [4, -4], "height": 5, "width": 0.2}


def test_the_document_is_saved_and_an_unchanged_one_changes_nothing(build, put):
    before = brief_data(reread(build))
    assert put().status_code == 200
    assert brief_data(reread(build)) == before
    held = document_of(reread(build))["objects"]
    answer = put(objects=[*held, POST], x=1.5, azimuth=170.0)
    assert "saved" in answer.content.decode()
    fresh = reread(build)
    assert fresh.yard.obstacles[-1] == POST
    assert (fresh.yard.x, fresh.frame.azimuth) == (1.5, 170.0)


def test_lengths_are_read_as_people_write_them(build, put):
    put(objects=[{**POST, "height": "16 ft 5 in", "width": "20 cm"}], clearance="2 ft")
    fresh = reread(build)
    assert fresh.yard.obstacles[0]["height"] == pytest.approx(5.004, abs=0.001)
    assert fresh.yard.obstacles[0]["width"] == pytest.approx(0.2)
    assert fresh.frame.clearance == pytest.approx(0.6096)
    put(objects=[{"kind": "fence", "name": "Fence", "line": [["-3", "-6"], ["4 m", "-6"]], "height": "1,5", "open": "30 %"}])
    assert reread(build).yard.obstacles[0]["line"] == [[-3, -6], [4, -6]]
    assert reread(build).yard.obstacles[0]["open"] == pytest.approx(0.3)


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"objects": [{**POST, "height": "tall"}]}, "“Pole”, height"),
        ({"objects": [{**POST, "height": -2}]}, "height of “Pole”"),
        ({"objects": [{**POST, "at": [0, 0.5]}]}, "The array stands inside “Pole”"),
        ({"objects": [{**POST, "at": [9000, 0]}]}, "500 m"),
        ({"objects": [{**POST, "name": " "}]}, "give it a name"),
        ({"objects": [{**POST, "colour": "red"}]}, "is not a key"),
        ({"objects": [{"kind": "castle", "name": "Keep"}]}, "“Keep”, kind"),
        (
            {"objects": [{"kind": "building", "name": "Barn", "height": 3, "footprint": [[5, 5], [9, 9], [9, 5], [5, 9]]}]},
            "“Barn” crosses itself",
        ),
        (
            {"objects": [{"kind": "tree", "name": "Elm", "at": [5, -5], "height": 4, "crown_base": 5, "crown_radius": 2}]},
            "begins (5 m) above its top (4 m)",
        ),
        ({"objects": [{**POST, "name": f"P{i}", "at": [i % 30, 20 + i // 30]} for i in range(1000)]}, "200 are the most"),
        ({"skyline": [{"azimuth": 400, "elevation": 3}]}, "Reading 1 of the skyline: azimuth 400"),
        ({"skyline": [{"azimuth": 40, "elevation": 95}]}, "elevation 95"),
        ({"skyline": [{"azimuth": "x", "elevation": 5}]}, "is not a number"),
        ({"split": {"groups": 3, "how": "behind", "distance": 4}}, "cannot be parted"),
        ({"wiring": {"kind": "parallel", "strings": [[1, 2], [2]]}}, "is wired twice"),
        ({"slope": "steep"}, "is not a number"),
        ({"slope": 60}, "from 0 to 45"),
    ],
)
def test_impossible_objects_are_refused_by_name_and_nothing_changes(build, put, changes, words):
    before = brief_data(reread(build))
    answer = put(**changes)
    assert words in answer.content.decode().replace("&#x27;", "'").replace("&quot;", '"')
    assert answer["HX-Reswap"] == "none"
    assert brief_data(reread(build)) == before


@pytest.mark.parametrize("document", ["", "hello", "[]", '{"objects": 5}', '{"else": 1}', "{" * 4000, '{"objects": [5]}', "null"])
def test_texts_that_are_no_document_are_refused(site, build, document):
    answer = site.post(
        f"/builds/{build.pk}/shade/", {"document": document, "version": build.version}, headers={"HX-Request": "true"}
    )
    assert answer.status_code == 200
    assert "not saved" in answer.content.decode()


@pytest.mark.parametrize("seed", range(4))
def test_fuzzed_documents_never_cause_a_server_error(site, build, seed):
    """Forty documents each with something odd in it: no error page, and what is saved can be shown."""
    rng, address = random.Random(seed), f"/builds/{build.pk}/shade/"
    outcomes = set()
    for _ in range(40):
        held = reread(build)
        document = json.dumps(spoiled(document_of(held), rng))
        if rng.random() < 0.5:
            answer = site.post(f"{address}figures/", {"document": document})
            assert answer.status_code in (200, 422)
            assert answer.json().get("error", "-")
            outcomes.add(answer.status_code)
            continue
        answer = site.post(address, {"document": document, "version": held.version}, headers={"HX-Request": "true"})
        assert answer.status_code == 200
        if b">saved<" in answer.content:
            assert site.get(f"{address}prices/").status_code == 200
            assert site.get(f"{address}day/").status_code == 200
        else:
            assert brief_data(reread(build)) == brief_data(held), "nothing is half saved"
            assert re.search(r'id="err-document"[^>]*role="alert"[^>]*>\s*\S', answer.content.decode())
    assert 422 in outcomes


@pytest.mark.parametrize(
    ("changes", "words"),
    [
        ({"slope": "nan"}, "Slope: 'nan' is not a number"),
        ({"azimuth": "inf"}, "Azimuth: 'inf' is not a number"),
        ({"slope_toward": "1e400"}, "is not a number"),
        ({"azimuth": [180]}, "Azimuth: did not arrive whole"),
        ({"wiring": []}, "Wiring: did not arrive whole"),
    ],
)
def test_non_finite_numbers_are_refused(build, put, changes, words):
    answer = put(**changes)
    assert words in answer.content.decode().replace("&#x27;", "'")


def test_names_twice_and_unsorted_readings_are_mended_and_told(build, put):
    page = put(
        objects=[POST, {**POST, "at": [6, -4]}],
        skyline=[{"azimuth": 200, "elevation": 5, "kind": "solid"}, {"azimuth": 90, "elevation": 7, "kind": "leafy"}],
    ).content.decode()
    assert "one is “Pole 2” now" in page
    fresh = reread(build)
    assert [thing["name"] for thing in fresh.yard.obstacles] == ["Pole", "Pole 2"]
    assert [reading["azimuth"] for reading in fresh.yard.skyline] == [90, 200]


def test_a_second_tab_is_told_by_name_what_the_other_did(build, put):
    old, before = reread(build).version, document_of(reread(build))["objects"]
    kept = [thing for thing in reread(build).yard.obstacles if thing["name"] != "Walnut"]
    put(objects=[*kept, POST])
    mine = [{**thing, "height": 4.0} if thing["name"] == "Hazel" else thing for thing in before]
    answer = put(version=old, objects=mine)
    words = answer.content.decode()
    assert "“Walnut” is not there any more." in words
    assert "“Pole” was added." in words
    assert "“Hazel” is different there." in words
    assert answer["HX-Retarget"] == "#notice"
    assert [thing["name"] for thing in reread(build).yard.obstacles][-1] == "Pole"


def test_briefs_round_trip_through_a_build(person, build, put):
    put(
        skyline=[
            {"azimuth": 91.2, "elevation": 4, "kind": "leafy", "bearing": 90, "declination": 1.2},
            {"azimuth": 250, "elevation": 8, "kind": "solid"},
        ],
        parts=[{"name": "Rail", "along": [-2, 2], "up": [-0.2, -0.1], "off": [0, 0.1]}],
        split={"groups": 2, "how": "behind", "distance": 2.5},
        wiring={"kind": "own", "strings": []},
        leaf_months=[4, 5, 6],
        slope=4,
    )
    from sundial.brief.read import brief_of

    out = export_data(reread(build))
    twin = build_from_brief(person, brief_of(out))
    assert export_data(reread(twin)) == out
    assert out["readings"] == [{"bearing": 90, "declination": 1.2, "elevation": 4, "kind": "leafy"}]


def test_shade_is_in_every_station_and_the_switch_takes_it_out(site, build):
    shaded, bare = Results(reread(build)), Results(reread(build)).open_sky
    assert shaded.plan.chosen.energy < 0.95 * bare.plan.chosen.energy
    for station in ("tilt", "worth", "frame", "place"):
        assert "Show the open sky" in site.get(f"/builds/{build.pk}/{station}/").content.decode()
    assert site.get(f"/builds/{build.pk}/tilt/").context["plan"].chosen.energy == pytest.approx(shaded.plan.chosen.energy)
    answer = site.post(f"/builds/{build.pk}/open-sky/", {"open": "1", "back": "tilt"})
    assert answer["Location"].endswith("/tilt/")
    page = site.get(f"/builds/{build.pk}/tilt/")
    assert "Shown under an open sky." in page.content.decode()
    assert page.context["plan"].chosen.energy == pytest.approx(bare.plan.chosen.energy)
    assert site.get(f"/builds/{build.pk}/worth/").context["worth"].comparison.base.energy > shaded["worth"].comparison.base.energy
    assert site.get(f"/builds/{build.pk}/shade/").context["report"].loss > 100, "the shade's own station always shows it"


def test_the_sentence_says_what_the_shade_changed(site, person):
    wall = {"kind": "wall", "name": "Stone wall", "line": [[-11, -5], [9, -5]], "height": 5.0, "thickness": 0.5}
    every_degree = {"kind": "stepped", "min": 10.0, "max": 65.0}
    build = build_for(person, mount=every_degree, horizon=None, yard={"objects": [wall]})
    words = site.get(f"/builds/{build.pk}/tilt/").content.decode()
    assert re.search(r"“Stone wall” moves your winter angle from 53° to 4[6-9]°\.", words)
    assert "Shade leaves" in words


def test_draft_figures_do_not_change_the_build(site, build):
    before = brief_data(reread(build))
    draft = json.dumps({**document_of(build), "x": -3.0, "y": 1.0})
    answer = site.post(f"/builds/{build.pk}/shade/figures/", {"document": draft}).json()
    study = Results(reread(build)).study
    assert answer["gain"] == pytest.approx(answer["energy"] - year_of(study, study.brief).year, abs=1.0)
    inside = json.dumps({**document_of(build), "y": 7.0})
    assert "stands inside “Honey house”" in site.post(f"/builds/{build.pk}/shade/figures/", {"document": inside}).json()["error"]
    assert brief_data(reread(build)) == before


def test_prices_and_what_returns(site, build, work):
    address = f"/builds/{build.pk}/shade/"
    assert "dearest:" not in site.get(address).content.decode(), "the prices are not worked out yet"
    assert "Waiting for its turn" in site.get(f"{address}prices/").content.decode()
    assert work() == 1
    page = site.get(f"{address}prices/")
    prices = [price for price, _ in page.context["prices"]]
    assert prices[0].name == "Walnut"
    assert sum(price.share for price in prices) == pytest.approx(page.context["report"].loss)
    assert "dearest: <em>Walnut</em>" in page.content.decode(), "the headline follows"
    assert "dearest: <em>Walnut</em>" in site.get(address).content.decode()
    rows = page.context["by_month"]
    assert [row.name for row in rows] == [price.name for price in prices]
    assert max(cell.tone for row in rows for cell in row.cells) == 5
    assert {cell.tone for row in rows for cell in row.cells if cell.kwh < 0.5} == {0}

    def returned(**asked):
        return site.post(f"/builds/{build.pk}/shade/what-if/", {"name": "Walnut", **asked}).content.decode()

    assert "kWh a year" in returned(way="gone")
    assert "kWh a year" in returned(way="lower", height="20 ft")
    assert "kWh a year" in returned(way="thinned", share="30 %")
    assert "10.5 m high" in returned(way="lower", height="12")
    assert "not a length" in returned(way="lower", height="low")
    assert "0 to 100" in returned(way="thinned", share="much")
    assert (
        "nothing in this yard"
        in site.post(f"/builds/{build.pk}/shade/what-if/", {"name": "Nobody", "way": "gone"}).content.decode()
    )


def test_day_map_and_spots(site, build, work):
    frames = site.get(f"/builds/{build.pk}/shade/day/?day=354").json()["frames"]
    assert len(frames) > 15
    assert {shadow["name"] for shadow in frames[8]["shadows"]} >= {"Walnut", "Stone wall"}
    first = site.get(f"/builds/{build.pk}/shade/map/?season=year").json()
    assert (first["done"], first["open"], first["strips"]) == (False, True, {})
    assert "pending" in site.get(f"/builds/{build.pk}/shade/spots/?season=season").context
    assert work()
    whole = [site.get(f"/builds/{build.pk}/shade/map/?season={season}").json() for season in ("year", "season")]
    assert all(found["done"] and len(found["strips"]) == found["of"] == 6 for found in whole)
    assert any(whole[0]["strips"]["0"]["tones"])
    assert whole[0]["strips"]["0"]["legend"] != whole[1]["strips"]["0"]["legend"]
    spots = site.get(f"/builds/{build.pk}/shade/spots/?season=season")
    assert len(spots.context["spots"]) == 3
    Yard.objects.filter(build=build).update(area=[[0, 0], [0.2, 0.2]])
    site.get(f"/builds/{build.pk}/shade/spots/?within=1")
    work()
    assert "three corners" in site.get(f"/builds/{build.pk}/shade/spots/?within=1").content.decode()


def test_a_reading_from_the_field_counts_once(site, build):
    key = str(uuid.uuid4())
    reading = {"key": key, "bearing": "200.5", "elevation": "14", "kind": "leafy", "magnetic": "1"}
    first = site.post(f"/builds/{build.pk}/shade/field/", reading).json()
    assert site.post(f"/builds/{build.pk}/shade/field/", reading).json()["count"] == first["count"]
    held = next(r for r in reread(build).yard.skyline if r.get("key") == key)
    assert held["azimuth"] == pytest.approx(200.5 + held["declination"], abs=0.01)
    assert reread(build).version == build.version + 1
    wrong = site.post(f"/builds/{build.pk}/shade/field/", {**reading, "key": str(uuid.uuid4()), "elevation": "95"})
    assert wrong.status_code == 422
    assert "From 0 to 90" in wrong.json()["errors"]["elevation"]


def test_a_reading_is_taken_back_in_the_field(site, build):
    field = f"/builds/{build.pk}/shade/field/"
    before = reread(build).yard.skyline
    gone = site.post(field, {"drop": str(before[3]["azimuth"]), "key": "drop-130"}).json()
    assert gone["count"] == len(before) - 1
    assert gone["skyline"] == [*before[:3], *before[4:]]
    version = reread(build).version
    assert version == build.version + 1
    assert site.post(field, {"drop": str(before[3]["azimuth"])}).json()["count"] == len(before) - 1, "twice is once"
    assert reread(build).version == version
    assert site.post(field, {"drop": "north"}).status_code == 422


def test_the_pitch_of_rows_by_hours_and_day(site, build):
    def pitch(**asked):
        return site.get(f"/builds/{build.pk}/shade/pitch/", asked)

    noon, day = pitch(first="12", last="12", on="shortest"), pitch(first="10", last="14", on="shortest")
    length = Results(build).study.scene.geometry.size[1]
    tilt = np.radians(max(Results(build).plan.chosen.tilt_by_day))
    by_hand = length * (np.cos(tilt) + np.sin(tilt) / np.tan(np.radians(90 - 42.9 - 23.44)))
    assert noon.context["pitch"] == pytest.approx(by_hand, abs=0.005)
    assert day.context["pitch"] > noon.context["pitch"] * 1.05
    Build.objects.filter(pk=build.pk).update(chosen_day=171)
    assert pitch(first="10", last="14", on="chosen").context["pitch"] < 0.6 * day.context["pitch"]
    for asked, words in (
        ({"first": "14", "last": "10"}, "from the earlier to the later"),
        ({"first": "4", "last": "20"}, "choose shorter ones"),
        ({"first": "soon", "last": "14"}, "Give hours from 0 to 24."),
        ({"first": "10", "last": ""}, "Give hours from 0 to 24."),
        ({"first": "10", "last": "nan"}, "Give hours from 0 to 24."),
    ):
        assert words in pitch(on="shortest", **asked).content.decode()


@pytest.mark.parametrize(
    ("given", "answer"),
    [
        ({"way": "stick", "stick": "1.20", "stick_shadow": "1.80", "shadow": "13.5"}, {"height": 9.0}),
        ({"way": "clinometer", "distance": "20", "angle": "45", "eye_height": "1.6"}, {"height": 21.6}),
        ({"way": "clinometer", "distance": "20", "angle": "45", "eye_height": "", "foot_angle": "-4.574"}, {"height": 21.6}),
        ({"way": "paces", "paces": "40", "pace": "75 cm"}, {"distance": 30.0}),
        (
            {"way": "stick", "stick": "1.2", "stick_shadow": "0", "shadow": "13.5"},
            {"error": "Stick shadow: the stick's shadow must"},
        ),
        ({"way": "clinometer", "distance": "far", "angle": "45", "eye_height": "1.6"}, {"error": "is not a length"}),
    ],
)
def test_measuring(site, build, given, answer):
    found = site.post(f"/builds/{build.pk}/shade/measure/", given).json()
    for key, value in answer.items():
        if key == "error":
            assert value in found["error"]
        else:
            assert found[key] == pytest.approx(value, abs=0.01)
            assert found["measured"]["way"] == given["way"]


def test_files_in_and_out(site, build):
    base = f"/builds/{build.pk}/shade/"
    skyline = site.get(base + "skyline.csv")
    assert "attachment" in skyline["Content-Disposition"]
    back = site.post(base + "skyline.csv", {"file": SimpleUploadedFile("s.csv", skyline.content)}).json()
    assert [(r["azimuth"], r["kind"]) for r in back["skyline"]] == [(r["azimuth"], r["kind"]) for r in build.yard.skyline]
    assert "row 1" in site.post(base + "skyline.csv", {"file": SimpleUploadedFile("s.csv", b"400,2")}).json()["error"]
    yard = site.get(base + "yard.geojson")
    again = site.post(base + "yard.geojson", {"file": SimpleUploadedFile("y.json", yard.content)}).json()
    assert again["objects"] == build.yard.obstacles
    assert "not GeoJSON" in site.post(base + "yard.geojson", {"file": SimpleUploadedFile("y.json", b"x")}).json()["error"]


def camera_picture() -> bytes:
    """A JPEG lying on its side, with a place written beside it."""
    made = Image.new("RGB", (300, 200), "white")
    made.paste("black", (0, 0, 150, 200))
    exif = Image.Exif()
    exif[0x0112] = 6  # lies on its side: turn it to the right
    exif[0x8825] = {1: "N", 2: (42.0, 54.0, 0.0)}  # where it was taken
    out = io.BytesIO()
    made.save(out, "JPEG", exif=exif, comment=b"kept by nobody")
    return out.getvalue()


def bomb() -> bytes:
    """A PNG of a few kB that says it is 60000 points wide and high."""
    out = io.BytesIO()
    Image.new("1", (8, 8)).save(out, "PNG")
    data = bytearray(out.getvalue())
    data[16:24] = struct.pack(">II", 60000, 60000)
    data[29:33] = struct.pack(">I", zlib.crc32(bytes(data[12:29])))
    return bytes(data)


def test_a_picture_is_drawn_anew_without_what_stood_beside_it(monkeypatch):
    monkeypatch.setattr(ImageFile, "LOAD_TRUNCATED_IMAGES", True)  # as once a PDF was made in the same process
    made = settled(camera_picture())
    assert (made.kind, made.width, made.height) == ("image/jpeg", 200, 300)
    with Image.open(io.BytesIO(made.data)) as shown:
        assert not shown.getexif()
        assert "comment" not in shown.info
        assert shown.getpixel((100, 20)) < (40, 40, 40)  # what was left is on top now
        assert shown.getpixel((100, 280)) > (200, 200, 200)
    wide = Image.new("RGB", (5000, 100))
    out = io.BytesIO()
    wide.save(out, "PNG")
    assert (settled(out.getvalue()).width, settled(out.getvalue()).height) == (2400, 48)
    for wrong in (bomb(), PNG[:-30], b"\x89PNG\r\n\x1a\n", b"\xff\xd8\xff\x00\x00", b"GIF89a"):
        with pytest.raises(BriefError):
            settled(wrong)


def test_a_picture_is_checked_kept_copied_and_dropped(site, build, work):
    base = f"/builds/{build.pk}/shade/picture/"
    for wrong in (b"<svg onload=alert(1)>", b"GIF89a", b""):
        assert site.post(base, {"file": SimpleUploadedFile("a.png", wrong + b" ")}).status_code == 422
    sent = site.post(base, {"file": SimpleUploadedFile("a.png", PNG)}).json()
    assert site.get(base).status_code == 404  # nothing is shown as it came
    assert site.get(sent["wait"]).json()["waiting"]
    assert work() == 1
    assert site.get(sent["wait"]).json() == {"width": 640, "height": 480}
    shown = site.get(base)
    assert (shown["Content-Type"], shown["X-Content-Type-Options"]) == ("image/png", "nosniff")
    twin = reread(build).copy()
    assert Picture.objects.filter(yard=twin.yard).exists()
    assert Picture.objects.filter(yard__build=build).exists()
    site.post(base, {"file": SimpleUploadedFile("a.png", bomb())})
    work()
    assert "60 million are the most" in site.get(sent["wait"]).json()["error"]
    assert site.get(base).status_code == 200  # the one before stays
    site.post(base, {"drop": "1"})
    assert site.get(base).status_code == 404
    large = SimpleUploadedFile("a.png", PNG + b"\x00" * 6_100_000)
    assert "6 MB are the most" in site.post(base, {"file": large}).json()["error"]


PAGES = (
    "", "day/", "map/", "pitch/", "spots/", "prices/", "field/", "skyline.csv", "yard.geojson", "picture/", "picture/state/",
)  # fmt: skip
POSTS = ("", "figures/", "what-if/", "measure/", "field/", "picture/", "skyline.csv", "yard.geojson")


def test_another_owners_yard_is_not_found(client, stranger, build):
    client.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    before = brief_data(reread(build))
    for page in PAGES:
        assert client.get(f"/builds/{build.pk}/shade/{page}").status_code == 404, page
    for page in POSTS:
        assert client.post(f"/builds/{build.pk}/shade/{page}", {"open": "1", "drop": "1"}).status_code == 404, page
    assert brief_data(reread(build)) == before
    client.logout()
    for page in PAGES:
        assert client.get(f"/builds/{build.pk}/shade/{page}").status_code == 302, page


def test_posts_need_a_token(person, build):
    from django.test import Client

    strict = Client(enforce_csrf_checks=True)
    strict.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
    for page in POSTS:
        assert strict.post(f"/builds/{build.pk}/shade/{page}").status_code == 403, page
