"""Builds that share a yard: joined, kept alike, counted together, left; and never with anybody else's."""

from __future__ import annotations

import json
import uuid

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from tests.web.conftest import build_for
from web.builds.group import fellows
from web.builds.models import Build
from web.builds.results import Results

pytestmark = pytest.mark.django_db
PARTS = [("place", {"latitude": "43.2"}), ("worth", {"import_price": "0.31"})]


def join(site, build: Build, group: str = "Sorrel Hill", **more):
    return site.post(f"/builds/{build.pk}/together/", {"group": group, **more}, follow=True)


@pytest.fixture
def pair(site, build, person) -> tuple[Build, Build]:
    """Two builds in one yard, the second beside the first."""
    twin = build_for(person, name="Gate row")
    join(site, build)
    join(site, twin)
    return Build.objects.get(pk=build.pk), Build.objects.get(pk=twin.pk)


def test_a_second_build_is_set_beside_the_first(pair):
    first, second = pair
    assert first.group == second.group == "Sorrel Hill"
    assert fellows(first) == [second]
    assert abs(second.yard.x - first.yard.x) >= 4.6, "eight panels in two rows of four are 4.6 m wide"
    names = [thing.name for thing in Results(second).brief.yard.objects if thing.kind == "array"]
    assert names == ["Honey house, panels"]


def test_the_page_adds_them_up(site, pair, work):
    first, second = pair
    assert "Working it out" in (page := site.get(f"/builds/{first.pk}/together/").content.decode()) or "Waiting" in page
    assert work() == 1
    page = site.get(f"/builds/{second.pk}/together/")
    report = page.context["report"]
    assert [member.name for member in report.members] == ["Honey house", "Gate row"]
    assert report.energy == pytest.approx(sum(Results(build)["summary"].energy for build in pair), rel=1e-6)
    assert report.lost > 0
    assert f"{report.energy:,.0f}".replace(",", "\u202f") in page.content.decode()
    assert site.get(f"/builds/{first.pk}/together/").context["report"].energy == pytest.approx(report.energy), "from either side"


@pytest.mark.parametrize(("station", "answers"), PARTS)
def test_what_they_share_is_changed_in_both(fill, pair, station, answers):
    first, second = pair
    fill(second, station, **answers)
    first, second = (Build.objects.get(pk=build.pk) for build in pair)
    mine, theirs = Results(first).brief, Results(second).brief
    assert (mine.site, mine.sky, mine.use) == (theirs.site, theirs.sky, theirs.use)
    name, value = next(iter(answers.items()))
    assert float(value) in (mine.site.latitude, mine.use.import_price)
    assert first.version == pair[0].version + 1, "a tab that shows the first notices"


def test_what_belongs_to_one_stays_with_it(fill, pair):
    first, second = pair
    fill(second, "tilt", settings="4")
    assert Build.objects.get(pk=first.pk).version == first.version
    assert Build.objects.get(pk=first.pk).plan.settings == 2


def document(build: Build, **changes) -> str:
    from web.shade.document import document_of

    return json.dumps({**document_of(build), **changes})


def test_a_thing_drawn_for_one_stands_before_both_and_may_not_stand_in_either(fill, pair):
    first, second = pair
    shed = {"kind": "building", "name": "Shed", "footprint": [[-9, -2], [-7, -2], [-7, 0], [-9, 0]], "height": 2.4}
    fill(first, "shade", document=document(first, objects=[*first.yard.obstacles, shed]))
    assert "Shed" in [thing["name"] for thing in Build.objects.get(pk=second.pk).yard.obstacles]
    x, y = second.yard.x, second.yard.y
    inside = {**shed, "name": "Tower", "height": 9, "footprint": [[x - 2, y - 1], [x + 2, y - 1], [x + 2, y + 3], [x - 2, y + 3]]}
    again = Build.objects.get(pk=first.pk)
    answer = fill(again, "shade", document=document(again, objects=[*again.yard.obstacles, inside])).content.decode()
    assert "Gate row" in answer and "stands inside" in answer
    assert "Tower" not in [thing["name"] for thing in Build.objects.get(pk=first.pk).yard.obstacles]


def test_a_second_tab_on_the_other_build_is_noticed(site, fill, pair):
    first, second = pair
    fill(second, "place", latitude="43.0")
    answer = fill(first, "place", latitude="44.0", version=first.version)
    assert "another tab" in answer.content.decode().lower() or "changed" in answer.content.decode().lower()
    assert Build.objects.get(pk=first.pk).place.latitude == 43.0


def test_another_yard_gives_way_only_with_a_yes(site, pair, person):
    other = build_for(person, name="Planter", site={"latitude": 40.0, "longitude": -3.0, "timezone": "Europe/Madrid"})
    page = join(site, other).content.decode()
    assert "the place and its sky would give way" in page
    assert Build.objects.get(pk=other.pk).group == ""
    join(site, other, agreed="on")
    assert Build.objects.get(pk=other.pk).place.latitude == pair[0].place.latitude


def test_two_of_one_name_cannot_stand_together(site, pair, person):
    twin = build_for(person, name="Gate row")
    assert "give this one another name first" in join(site, twin).content.decode()
    site.post(f"/builds/{pair[0].pk}/rename/", {"name": "Gate row"})
    assert Build.objects.get(pk=pair[0].pk).name == "Honey house"


def test_who_leaves_casts_no_shade_any_more(site, pair):
    first, second = pair
    site.post(f"/builds/{second.pk}/together/leave/")
    assert not fellows(Build.objects.get(pk=first.pk))
    left = Build.objects.get(pk=second.pk)
    assert (left.group, left.yard.obstacles) == ("", first.yard.obstacles)


def test_who_is_thrown_away_casts_none_until_it_is_back(site, pair):
    first, second = pair
    site.post(f"/builds/{second.pk}/delete/")
    assert not fellows(Build.objects.get(pk=first.pk))
    site.post(f"/builds/{second.pk}/undelete/")
    assert fellows(Build.objects.get(pk=first.pk)) == [second]


def test_a_copy_stands_by_itself(site, pair):
    site.post(f"/builds/{pair[0].pk}/copy/", {"creation_key": uuid.uuid4()})
    copy = Build.objects.order_by("-pk").first()
    assert copy.group == "" and not fellows(copy)


def test_one_string_over_two_facings_is_warned_about(site, fill, pair, work):
    first, second = pair
    fill(second, "shade", document=document(second, azimuth=120))
    for build in pair:
        site.post(f"/builds/{build.pk}/together/string/", {"string": "A"})
    site.get(f"/builds/{first.pk}/together/")
    work()
    page = site.get(f"/builds/{first.pk}/together/")
    (string,) = page.context["report"].strings
    assert 25 < string.apart < 60 and string.lost > 20
    assert "lie on string A" in page.content.decode()
    site.post(f"/builds/{second.pk}/together/string/", {"string": ""})
    site.get(f"/builds/{first.pk}/together/")
    work()
    assert "lie on string" not in site.get(f"/builds/{first.pk}/together/").content.decode()


def test_a_group_goes_out_and_in_as_files(site, pair, person):
    files = [site.get(f"/builds/{build.pk}/brief.json").content for build in pair]
    before = [Results(build).brief for build in pair]
    assert "Gate row, panels" in files[0].decode(), "the command line sees the same yard"
    Build.objects.of(person).delete()
    for data in files:
        file = SimpleUploadedFile("b.json", data, "application/json")
        site.post("/builds/import/", {"brief": file, "creation_key": uuid.uuid4()})
    again = [Results(build).brief for build in Build.objects.of(person).order_by("pk")]
    assert again == before


def test_a_file_of_another_yard_stands_by_itself(site, pair, person):
    data = json.loads(site.get(f"/builds/{pair[0].pk}/brief.json").content)
    data |= {"name": "Elsewhere", "site": {**data["site"], "latitude": 41.0}}
    file = SimpleUploadedFile("b.json", json.dumps(data).encode(), "application/json")
    site.post("/builds/import/", {"brief": file, "creation_key": uuid.uuid4()})
    assert Build.objects.get(name="Elsewhere").group == ""


def test_the_group_of_another_person_is_nobodys_here(site, build, stranger):
    theirs = build_for(stranger, name="Theirs")
    Build.objects.filter(pk=theirs.pk).update(group="Sorrel Hill")
    join(site, build)
    assert not fellows(Build.objects.get(pk=build.pk))
    for address in ("together/", "together/leave/", "together/string/"):
        assert site.post(f"/builds/{theirs.pk}/{address}", {"group": "Mine", "string": "A"}).status_code == 404
    assert site.get(f"/builds/{theirs.pk}/together/").status_code == 404
    assert Build.objects.get(pk=theirs.pk).group == "Sorrel Hill"


def test_a_yard_needs_a_name(site, build):
    answer = site.post(f"/builds/{build.pk}/together/", {"group": " "})
    assert answer.status_code == 422 and "Give the yard a name" in answer.content.decode()


def test_a_yard_that_is_full_takes_no_more(site, build, person, monkeypatch):
    for module in ("web.builds.group", "web.builds.together"):
        monkeypatch.setattr(f"{module}.MOST", 2)
    second, third = (build_for(person, name=name) for name in ("Gate row", "Planter"))
    join(site, build)
    join(site, second)
    assert Build.objects.get(pk=second.pk).group == "Sorrel Hill", "as many as there may be"
    assert "2 builds stand there already" in join(site, third).content.decode()
    assert Build.objects.get(pk=third.pk).group == ""


def test_a_rack_and_a_railing_of_one_house_stand_in_one_yard(site, fill, person, work):
    """Each keeps its stand, its height and the house it hangs on; the other's panels stand in the yard as high as they are."""
    rack = build_for(person, yard=None, horizon=None, spot={"x": 0, "y": -7})
    rail = build_for(person, name="Upstairs", yard=None, horizon=None, mount={"kind": "fixed", "tilt": 88}, spot={"x": 0, "y": 6})
    house = {"stand_house_height": "7 m", "stand_house_width": "9 m", "stand_house_behind": "1.2 m"}
    fill(rail, "frame", stand_on="railing", stand_height="3 m", stand_lines_apart="0.7 m", **house)
    join(site, rack)
    join(site, rail)
    rack, rail = (Build.objects.whole().get(pk=build.pk) for build in (rack, rail))
    assert (rack.stand.on, rail.stand.on) == ("", "railing")
    mine, theirs = Results(rack), Results(rail)
    (upstairs,) = [thing for thing in mine.brief.yard.objects if thing.kind == "array"]
    assert upstairs.clearance == pytest.approx(3 + rail.frame.clearance)
    assert [thing.name for thing in theirs.scene.yard.things][-1] == "Its own house"
    site.get(f"/builds/{rack.pk}/together/")
    work()
    report = site.get(f"/builds/{rail.pk}/together/").context["report"]
    assert report.energy == pytest.approx(mine["summary"].energy + theirs["summary"].energy, rel=1e-6)
