"""Accounts: in, out, the demo, the lock after wrong passwords, and leaving with everything."""

from __future__ import annotations

import pytest
from django.contrib.auth.models import User

from tests.web.conftest import PASSWORD, build_for
from web.builds.models import Build

pytestmark = pytest.mark.django_db


def test_sign_up_signs_in_and_keeps_the_password_as_argon2(client):
    answer = client.post("/account/sign-up/", {"username": "runa", "password1": PASSWORD, "password2": PASSWORD}, follow=True)
    assert answer.redirect_chain[-1][0] == "/builds/"
    assert User.objects.get(username="runa").password.startswith("argon2")
    assert "Nothing planned yet" in answer.content.decode()


@pytest.mark.parametrize(
    ("name", "one", "two", "said"),
    [
        ("runa", "12345678901", "12345678901", "entirely numeric"),
        ("runa", PASSWORD, "other", "match"),
        ("demo", PASSWORD, PASSWORD, "taken"),
        ("Demo", PASSWORD, PASSWORD, "taken"),
        ("", PASSWORD, PASSWORD, "required"),
    ],
)
def test_a_refused_sign_up_says_why_and_keeps_the_name(client, name, one, two, said):
    page = client.post("/account/sign-up/", {"username": name, "password1": one, "password2": two}).content.decode()
    assert said in page
    assert not User.objects.filter(username=name).exists()
    assert f'value="{name}"' in page or not name


def test_sign_in_out_and_a_new_password(client, person):
    assert client.post("/account/sign-in/", {"username": "maren", "password": PASSWORD}).status_code == 302
    assert client.get("/builds/").status_code == 200
    new = "a taller walnut 8"
    client.post("/account/password/", {"old_password": PASSWORD, "new_password1": new, "new_password2": new})
    assert client.post("/account/sign-out/").status_code == 302
    assert client.get("/builds/").status_code == 302
    assert client.post("/account/sign-in/", {"username": "maren", "password": new}).status_code == 302


def test_six_wrong_passwords_lock_that_name_and_no_other(client, person, stranger):
    for _ in range(6):
        last = client.post("/account/sign-in/", {"username": "maren", "password": "wrong"})
    assert last.status_code == 429
    assert "quarter of an hour" in last.content.decode()
    assert client.post("/account/sign-in/", {"username": "maren", "password": PASSWORD}).status_code == 429
    assert client.post("/account/sign-in/", {"username": "tove", "password": PASSWORD}).status_code == 302


def test_the_demo_exists_only_while_it_is_on(client, settings):
    settings.DEMO = False
    assert client.post("/account/demo/").status_code == 404
    assert "demo" not in client.get("/").content.decode()
    settings.DEMO = True
    assert client.post("/account/demo/", follow=True).context["user"].username == "demo"
    assert client.get("/account/demo/").status_code == 405


def test_the_demo_holds_the_three_builds_and_keeps_what_a_visitor_changed(demo, client, settings):
    settings.DEMO = True
    client.post("/account/demo/")
    assert list(Build.objects.of(demo).values_list("name", flat=True).order_by("pk")) == [
        "Honey house",
        "Kiln pergola",
        "Lookout pole",
    ]
    honey = Build.objects.get(name="Honey house")
    client.post(f"/builds/{honey.pk}/rename/", {"name": "Bee barn"})
    client.post("/account/demo/")
    client.post("/account/demo/")
    assert list(Build.objects.of(demo).values_list("name", flat=True).order_by("pk")) == [
        "Bee barn",
        "Kiln pergola",
        "Lookout pole",
        "Honey house",  # made anew for the next visitor, once
    ]


def test_the_demo_account_cannot_be_deleted(demo, client, settings):
    settings.DEMO = True
    client.post("/account/demo/")
    client.post("/account/delete/", {"word": "delete"})
    assert User.objects.filter(username="demo").exists()


def test_deleting_an_account_deletes_its_rows_and_no_others(site, person, stranger):
    build_for(person)
    other = build_for(stranger)
    assert site.post("/account/delete/", {"word": "yes"}).status_code == 422
    assert site.post("/account/delete/", {"word": "delete"}, follow=True).status_code == 200
    assert not User.objects.filter(username="maren").exists()
    assert list(Build.objects.all()) == [other]


def test_anonymous_requests_are_redirected_to_sign_in(client):
    answer = client.get("/account/")
    assert answer.status_code == 302
    assert answer["Location"].startswith("/account/sign-in/")
