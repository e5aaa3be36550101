"""Accounts: in, out, the recovery code and the mail, the lock after wrong passwords, and leaving with everything."""

from __future__ import annotations

import random
import re

import pytest
from axes.models import AccessLog
from django.contrib.auth.models import User
from django.core import mail
from django.http import HttpResponse

from tests.web.conftest import PASSWORD, build_for
from web.accounts.models import Account
from web.accounts.recovery import is_code_of
from web.accounts.throttle import address_of
from web.builds.models import Build
from web.middleware import TrustedProxyMiddleware
from web.place.forms import PlaceStep

pytestmark = pytest.mark.django_db


def test_sign_up_signs_in_and_keeps_the_password_as_argon2(client):
    answer = client.post("/account/sign-up/", {"username": "runa", "password1": PASSWORD, "password2": PASSWORD}, follow=True)
    assert answer.redirect_chain[-1][0] == "/account/recovery/"
    assert User.objects.get(username="runa").password.startswith("argon2")
    assert "Nothing planned yet" in client.get("/builds/").content.decode()


@pytest.mark.parametrize(
    ("name", "one", "two", "said"),
    [
        ("runa", "12345678901", "12345678901", "entirely numeric"),
        ("runa", PASSWORD, "other", "match"),
        ("demo", PASSWORD, PASSWORD, "taken"),
        ("Demo", PASSWORD, PASSWORD, "taken"),
        ("demo-visitor-1", PASSWORD, PASSWORD, "taken"),
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


def sign_up(client, name):
    return client.post("/account/sign-up/", {"username": name, "password1": PASSWORD, "password2": PASSWORD})


def test_accents_tell_people_apart_and_width_and_case_do_not(client):
    for name, taken in (
        ("zoe", False),
        ("zöe", False),
        ("ZOE", True),
        ("ｚｏｅ", True),
        ("ZÖE", True),
        ("zo\u0065\u0308", False),
    ):
        answer = sign_up(client, name)
        assert ("That name is taken." in answer.content.decode()) is taken, name
        client.post("/account/sign-out/")
    assert {user.username for user in User.objects.all()} == {"zoe", "zöe", "zoë"}
    for typed, who in (("Zoe", "zoe"), ("ＺÖe", "zöe"), ("zoë", "zoë")):
        answer = client.post("/account/sign-in/", {"username": typed, "password": PASSWORD}, follow=True)
        assert answer.context["user"].username == who
        client.post("/account/sign-out/")


def test_tries_under_one_name_do_not_lock_a_like_one(client):
    sign_up(client, "zoe")
    client.post("/account/sign-out/")
    for _ in range(7):
        client.post("/account/sign-in/", {"username": "zöe", "password": "wrong"})
    assert client.post("/account/sign-in/", {"username": "zoe", "password": PASSWORD}).status_code == 302


def test_another_address_is_not_locked_out(client, person):
    """Nobody locks somebody else out: the lock is on name and address together."""
    for _ in range(7):
        last = client.post("/account/sign-in/", {"username": "maren", "password": "wrong"}, REMOTE_ADDR="198.51.100.7")
    assert last.status_code == 429
    answer = client.post("/account/sign-in/", {"username": "maren", "password": PASSWORD}, REMOTE_ADDR="203.0.113.9")
    assert answer.status_code == 302
    told = client.get("/builds/").content.decode()
    assert "a wrong password was tried" in told
    assert "change your password" in told
    assert "a wrong password was tried" not in client.get("/builds/").content.decode()


def test_trying_many_names_is_slowed_down(client, person, settings):
    settings.FAILED_SIGN_INS_AN_HOUR = 5
    where = f"198.51.100.{random.randrange(256)}:{random.randrange(10**9)}"  # an address that no other run has used
    for number in range(6):
        client.post("/account/sign-in/", {"username": f"name{number}", "password": "wrong"}, REMOTE_ADDR=where)
    slowly = [client.post("/account/sign-in/", {"username": "maren", "password": "no"}, REMOTE_ADDR=where) for _ in range(2)]
    assert slowly[-1].status_code == 429
    assert "wait 10 seconds" in slowly[-1].content.decode()
    assert client.post("/account/sign-in/", {"username": "maren", "password": PASSWORD}).status_code == 302


def test_asking_for_many_accounts_is_slowed_down(client, settings):
    settings.SIGN_UPS_AN_HOUR = 3
    where = f"198.51.100.8:{random.randrange(10**9)}"
    answers = [client.post("/account/sign-up/", {"username": "maren"}, REMOTE_ADDR=where).status_code for _ in range(4)]
    assert answers == [200, 200, 200, 429]


@pytest.mark.parametrize(
    ("proxies", "peer", "said", "address"),
    [
        (["10.0.0.0/8"], "10.0.0.1", "203.0.113.5", "203.0.113.5"),
        (["10.0.0.0/8"], "10.0.0.1", "6.6.6.6, 203.0.113.5, 10.0.0.2", "203.0.113.5"),
        (["10.0.0.0/8"], "203.0.113.9", "6.6.6.6", "203.0.113.9"),
        (["10.0.0.0/8"], "10.0.0.1", "nonsense", "10.0.0.1"),
        ([], "127.0.0.1", "6.6.6.6", "127.0.0.1"),
    ],
)
def test_only_a_trusted_proxy_says_who_asks(rf, settings, proxies, peer, said, address):
    settings.TRUSTED_PROXIES = proxies
    request = rf.get("/", REMOTE_ADDR=peer, headers={"X-Forwarded-For": said, "X-Forwarded-Proto": "https"})
    TrustedProxyMiddleware(lambda asked: HttpResponse())(request)
    assert address_of(request) == address
    assert ("HTTP_X_FORWARDED_PROTO" in request.META) is (peer == "10.0.0.1")


def code_shown(page: str) -> str:
    return re.search(r'<p class="code"[^>]*>([0-9A-Z-]+)</p>', page)[1]


def test_the_recovery_code_is_shown_once_and_brings_one_back_in(client):
    sign_up(client, "runa")
    code = code_shown(client.get("/account/recovery/").content.decode())
    assert client.get("/account/recovery/").status_code == 302  # once
    assert code not in Account.objects.get().recovery
    client.post("/account/sign-out/")
    new = "a taller walnut 8"
    asked = {"username": "Runa", "new_password1": new, "new_password2": new}
    wrong = client.post("/account/forgotten/", {**asked, "code": "AAAA-BBBB-CCCC-DDDD-EEEE"})
    assert "not the recovery code" in wrong.content.decode()
    assert (
        "not the recovery code"
        in client.post("/account/forgotten/", {**asked, "username": "tove", "code": code}).content.decode()
    )
    assert "match" in client.post("/account/forgotten/", {**asked, "new_password2": "x", "code": code}).content.decode()
    again = client.post("/account/forgotten/", {**asked, "code": code.lower().replace("-", " ")}, follow=True)
    assert again.context["user"].username == "runa"
    assert code_shown(again.content.decode()) != code
    client.post("/account/sign-out/")
    assert "not the recovery code" in client.post("/account/forgotten/", {**asked, "code": code}).content.decode()
    assert client.post("/account/sign-in/", {"username": "runa", "password": new}).status_code == 302


def test_a_new_code_voids_the_old_one(site, person):
    assert "once more" in site.get("/account/recovery/?new").content.decode()
    refused = site.post("/account/recovery/", {"password": "not mine"})
    assert refused.status_code == 422 and "This is not your password." in refused.content.decode()
    assert site.post("/account/recovery/").status_code == 422
    first = code_shown(site.post("/account/recovery/", {"password": PASSWORD}, follow=True).content.decode())
    second = code_shown(site.post("/account/recovery/", {"password": PASSWORD}, follow=True).content.decode())
    person.refresh_from_db()
    assert is_code_of(person, second)
    assert not is_code_of(person, first)
    assert not is_code_of(None, second)


def test_wrong_codes_are_bounded(client, person, settings):
    settings.CODES_AN_HOUR = 3
    name = f"runa{random.randrange(10**9)}"
    asked = {"username": name, "code": "x", "new_password1": PASSWORD, "new_password2": PASSWORD}
    answers = [client.post("/account/forgotten/", asked).status_code for _ in range(4)]
    assert answers == [200, 200, 200, 429]


def test_a_link_by_mail_sets_a_new_password(site, person):
    assert "Enter a valid email" in site.post("/account/mail/", {"email": "nowhere", "password": PASSWORD}).content.decode()
    refused = site.post("/account/mail/", {"email": "thief@example.org", "password": "not mine"})
    assert refused.status_code == 422 and "This is not your password." in refused.content.decode()
    person.refresh_from_db()
    assert person.email == ""
    site.post("/account/mail/", {"email": "maren@example.org", "password": PASSWORD})
    site.post("/account/sign-out/")
    for address in ("nobody@example.org", "maren@example.org"):
        assert "Look into your mail" in site.post("/account/by-mail/", {"email": address}, follow=True).content.decode()
    assert len(mail.outbox) == 1
    link = re.search(r"http://[^/]+(/account/by-mail/\S+)", mail.outbox[0].body)[1]
    page = site.get(link, follow=True)
    new = "a taller walnut 8"
    site.post(page.redirect_chain[-1][0], {"new_password1": new, "new_password2": new})
    assert site.post("/account/sign-in/", {"username": "maren", "password": new}).status_code == 302
    site.post("/account/sign-out/")
    assert "used up" in site.get(link, follow=True).content.decode()


def test_without_a_mail_server_no_link_is_offered(client, settings):
    settings.MAIL_ON = False
    assert client.get("/account/by-mail/").status_code == 404
    assert client.post("/account/by-mail/", {"email": "a@example.org"}).status_code == 404


def test_the_log_of_sign_ins_goes_with_the_account(client, person, stranger):
    for name in ("maren", "tove"):
        client.post("/account/sign-in/", {"username": name, "password": "wrong"})
        client.post("/account/sign-in/", {"username": name, "password": PASSWORD})
        client.post("/account/sign-out/")
    client.post("/account/sign-in/", {"username": "maren", "password": PASSWORD})
    client.post("/account/delete/", {"word": "delete"})
    assert {log.username for log in AccessLog.objects.all()} == {"tove"}


def test_signing_out_leaves_nothing_on_the_browser(site, person):
    """Pages that were kept for the shed and the field go with the session, as the browser is told."""
    assert site.post("/account/sign-out/")["Clear-Site-Data"] == '"cache", "storage"'
    site.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
    assert site.post("/account/delete/", {"word": "delete"})["Clear-Site-Data"] == '"cache", "storage"'


@pytest.mark.parametrize(
    ("languages", "guessed"),
    [("en-US,en;q=0.9", "us"), ("en-GB,en;q=0.8", ""), ("de-AT,de;q=0.9,en-US;q=0.5", "metric"), ("", ""), ("*", "")],
)
def test_units_are_guessed_from_the_browser_and_asked(client, db, languages, guessed):
    page = client.get("/account/sign-up/", headers={"accept-language": languages})
    assert page.context["form"]["units"].value() == guessed
    told = {"username": "runa", "password1": "a crooked walnut 9", "password2": "a crooked walnut 9", "units": "us"}
    assert client.post("/account/sign-up/", told).status_code == 302
    assert User.objects.get(username="runa").account.units == "us"


def test_new_builds_begin_in_the_units_of_the_person(client, db, person):
    client.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
    page = client.post("/account/", {"units": "us"}, follow=True).content.decode()
    assert "New builds begin so" in page
    owner = User.objects.get(pk=person.pk)
    build = Build.objects.create(owner=owner, name="Rack by the fjord")
    step = PlaceStep(
        build,
        {
            "version": "1",
            "latitude": "60.4",
            "longitude": "5.3",
            "elevation": "40 m",
            "sky_kind": "made-up",
            "sky_name": "green-maritime",
        },
    )
    assert step.is_valid(), step.errors
    step.apply(build)
    assert build.units == "us" and build.currency == "¤"
    owner.account.units = ""
    step.apply(build)
    assert build.units == "metric"
