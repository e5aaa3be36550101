"""Beside the plan: a stay of a few days."""

from __future__ import annotations

import re
from datetime import date

import pytest

from tests.web.conftest import build_for
from web.builds.briefs import brief_data
from web.builds.models import Build

pytestmark = pytest.mark.django_db
STAY = {"stay-first": "2026-12-01", "stay-days": "4", "stay-minutes": "10", "stay-azimuth": "", "stay-worth": ""}


def test_a_stay_of_a_few_days(build, site):
    address = f"/builds/{build.pk}/tilt/stay"
    page = site.get(address, STAY).content.decode()
    assert re.search(r"Raise it to <b>57°</b>: \d+ kWh instead of \d+ lying flat", page)
    assert "from a stay of <b>1 day</b>" in page
    west = site.get(address, STAY | {"stay-azimuth": "270"}).content.decode()
    gains = [float(re.search(r"<b>\+([\d.]+) kWh</b>", one)[1]) for one in (page, west)]  # type: ignore[index]
    assert gains[1] < gains[0] / 2
    summer = site.get(address, STAY | {"stay-first": "2026-06-20", "stay-worth": "500"}).content.decode()
    assert "No stay of up to a year" in summer or re.search(r"from a stay of <b>\d{2,} days</b>", summer)


@pytest.mark.parametrize(
    ("changes", "field", "words"),
    [
        ({"stay-days": "0"}, "days", "from 1 to 365"),
        ({"stay-first": "soon"}, "first", "Give a date"),
        ({"stay-minutes": ""}, "minutes", "Give a number"),
    ],
)
def test_a_stay_that_cannot_be_is_told_beside_its_field(build, site, changes, field, words):
    page = site.get(f"/builds/{build.pk}/tilt/stay", STAY | changes).content.decode()
    assert words in page.partition(f'id="err-{field}"')[2].partition("</span>")[0]


def test_anothers_stay_is_not_told(site, stranger):
    assert site.get(f"/builds/{build_for(stranger).pk}/tilt/stay", STAY).status_code == 404


def test_the_year_whose_weekends_count_is_kept_as_told(fill, build, monkeypatch):
    """No figure of a stored plan changes because a new year has begun."""
    assert fill(build, "tilt", weekends="on", year="2028").status_code == 200
    assert brief_data(Build.objects.get(pk=build.pk))["plan"]["year"] == 2028
    assert "year" in fill(build, "tilt", year="1999").context["form"].errors
    monkeypatch.setattr("web.tilt.models.timezone.localdate", lambda: date(2031, 8, 1))
    assert brief_data(Build.objects.get(pk=build.pk))["plan"]["year"] == 2028
    assert brief_data(build_for(build.owner))["plan"]["year"] == 2032, "a new plan takes the year that most of it lies in"
