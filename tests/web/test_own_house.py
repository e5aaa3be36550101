"""The house that a build hangs on: asked on The frame, priced and drawn in The shade, never asked to be taken away."""

import pytest

from tests.web.conftest import build_for
from tests.web.test_frame import reread
from web.builds.briefs import brief_data
from web.builds.results import Results

HOUSE = {
    "stand_on": "railing", "stand_lines_apart": "0.8 m", "stand_house_height": "11 m", "stand_house_width": "14 m", "stand_house_behind": "1.4 m",
    "stand_house_out": "8 ft", "stand_house_under": "9 m",
}  # fmt: skip


@pytest.fixture
def build(person):
    """Under an open sky."""
    return build_for(person, yard=None, horizon=None, spot={})


def test_it_is_priced_without_being_drawn_and_cannot_be_tried_away(site, fill, build, work):
    fill(build, "frame", **HOUSE)
    held = reread(build)
    assert Results(held).brief.stand.house.out == pytest.approx(8 * 0.3048)
    assert held.yard.obstacles == [] and held.yard.anything
    page = site.get(f"/builds/{build.pk}/shade/").content.decode()
    assert "Shade takes" in page and "data-own-house=" in page and "Its own house" in page
    site.get(f"/builds/{build.pk}/shade/prices/")
    work()
    prices = site.get(f"/builds/{build.pk}/shade/prices/").content.decode()
    assert "What stands out over it" in prices
    assert 'data-try="What stands out over it"' not in prices and "What if?" not in prices


def test_it_goes_with_the_stand_that_hung_on_it(fill, build):
    fill(build, "frame", **HOUSE)
    assert brief_data(reread(build))["stand"]["house"]["height"] == 11
    fill(build, "frame", stand_on="ground")
    assert brief_data(reread(build))["stand"]["house"] is None
    assert not reread(build).yard.anything


@pytest.mark.parametrize(
    ("change", "field", "words"),
    [
        ({"stand_house_width": ""}, "stand_house_width", "how wide"),
        ({"stand_house_height": ""}, "stand_house_height", "how high that wall"),
        ({"stand_house_under": ""}, "stand_house_under", "its underside"),
        ({"stand_house_out": ""}, "stand_house_out", "stands out"),
        ({"stand_house_height": "tall"}, "stand_house_height", "length"),
    ],
)
def test_half_a_house_is_asked_about_beside_the_field(fill, build, change, field, words):
    answer = fill(build, "frame", **{**HOUSE, **change}).content.decode()
    at = answer.index(f'id="err-{field}"')
    assert words in answer[at : at + 300]
    assert reread(build).stand.house is None
