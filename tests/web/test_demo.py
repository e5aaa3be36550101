"""The demo: an own copy for each visitor, thrown away after a day."""

from __future__ import annotations

import re
import uuid
from datetime import timedelta

import pytest
from django.contrib.auth.models import User
from django.test import Client
from django.utils import timezone

from tests.web.conftest import PASSWORD
from web.accounts.chores import purge_visitors
from web.accounts.demo import ensure_demo, new_visitor
from web.accounts.models import Account
from web.builds import registry
from web.builds.drawing import Scale, nice_step, ticks
from web.builds.models import Build, StoredResult
from web.builds.results import Results

pytestmark = pytest.mark.django_db
NAMES = ["Honey house", "Kiln pergola", "Lookout pole", "Goat trailer"]


@pytest.fixture(autouse=True)
def demo_on(settings):
    settings.DEMO = True


def names(user: User) -> list[str]:
    return list(Build.objects.of(user).values_list("name", flat=True).order_by("pk"))


def test_the_demo_exists_only_while_it_is_on(client, settings):
    settings.DEMO = False
    assert client.post("/account/demo/").status_code == 404
    assert "/account/demo/" not in client.get("/").content.decode()
    settings.DEMO = True
    assert client.post("/account/demo/", follow=True).context["user"].account.is_visitor
    assert client.get("/account/demo/").status_code == 405


def test_no_visitor_sees_anothers_copy():
    one, other = Client(), Client()
    people = [who.post("/account/demo/", follow=True).context["user"] for who in (one, other)]
    assert people[0] != people[1]
    assert names(people[0]) == names(people[1]) == NAMES
    honey = Build.objects.get(owner=people[0], name="Honey house")
    one.post(f"/builds/{honey.pk}/rename/", {"name": "Bee barn"})
    assert names(people[0])[0] == "Bee barn"
    assert names(people[1]) == names(new_visitor()) == NAMES
    assert other.get(f"/builds/{honey.pk}/tilt/").status_code == 404
    again = one.post("/account/demo/", follow=True).context["user"]
    assert again == people[0]  # pressed again it is the same copy
    assert one.session.get_expiry_age() <= 86400


def test_a_copy_has_what_is_worked_out_for_the_original():
    original = ensure_demo()
    honey = Build.objects.whole().get(owner=original, name="Honey house")
    made = Results(honey)["summary"]
    twin = Build.objects.whole().get(owner=new_visitor(), name="Honey house")
    assert Results(twin).peek("summary") == made
    assert (twin.where, twin.chosen_day, twin.version) == (honey.where, honey.chosen_day, 1)


def test_a_day_later_the_copy_is_gone_and_nothing_else(person):
    passing, staying = new_visitor(), new_visitor()
    Account.objects.filter(user=passing).update(demo_until=timezone.now() - timedelta(minutes=1))
    assert purge_visitors() == 1
    assert not User.objects.filter(pk=passing.pk).exists()
    assert not StoredResult.objects.filter(build__owner=passing.pk).exists()
    assert {person, staying} <= set(User.objects.all())
    assert names(ensure_demo()) == NAMES


def test_nobody_signs_in_as_the_original_and_a_visitor_has_no_code(client):
    ensure_demo()
    assert client.post("/account/sign-in/", {"username": "demo-original", "password": ""}).status_code == 200
    client.post("/account/demo/")
    assert client.post("/account/recovery/").status_code == 404
    assert client.get("/account/mail/").status_code == 404
    page = client.get("/account/").content.decode()
    assert "yours alone until" in page


def test_a_visitor_may_make_an_account(client):
    client.post("/account/demo/")
    client.post("/account/sign-up/", {"username": "runa", "password1": PASSWORD, "password2": PASSWORD})
    assert not client.get("/builds/").context["rows"]


def test_many_visitors_from_one_place_wait(client, settings):
    settings.VISITORS_AN_HOUR = 0
    assert client.post("/account/demo/", REMOTE_ADDR="198.51.100.9").status_code == 429


def test_an_original_of_an_older_version_is_made_anew_and_a_good_one_is_left():
    original = ensure_demo()
    before = dict(Build.objects.of(original).values_list("name", "pk"))
    assert dict(Build.objects.of(ensure_demo()).values_list("name", "pk")) == before
    Build.objects.filter(pk=before["Honey house"]).update(creation_key=uuid.uuid4())  # as an older brief made it
    after = dict(Build.objects.of(ensure_demo()).values_list("name", "pk"))
    assert after["Honey house"] != before["Honey house"]
    assert {name: pk for name, pk in after.items() if name != "Honey house"} == {
        name: pk for name, pk in before.items() if name != "Honey house"
    }
    assert Build.objects.get(pk=after["Honey house"]).frame.structure["kind"] == "prop"


def test_no_page_shows_a_number_of_a_machine(client):
    """1e-13 is nothing, and 1e+06 is a million."""
    person = client.post("/account/demo/", follow=True).context["user"]
    for build in Build.objects.of(person):
        for station in registry.stations():
            page = client.get(f"/builds/{build.pk}/{station.key}/").content.decode()
            text = re.sub(r"<(script|style).*?</\1>|<[^>]+>", " ", page, flags=re.S)
            assert not re.findall(r"(?<![\w.#])\d+(?:\.\d+)?e[+-]?\d+\b", text), (build.name, station.key)


def test_an_axis_of_nothing_has_one_mark_and_no_bars():
    noise = 2e-13
    scale = Scale(0, noise, 100, 10)
    assert [tick.text for tick in ticks(scale, nice_step(noise))] == ["0"] and scale(noise) == pytest.approx(100, abs=0.01)
    assert [tick.text for tick in ticks(Scale(0, 0.3, 100, 10), nice_step(0.3))][:2] == ["0", "0.1"]
