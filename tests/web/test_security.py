"""What protects people: policy headers, tokens, limits on uploads, and a database that may go away."""

from __future__ import annotations

import io
import re
from pathlib import Path

import pytest
from django.core.cache import cache
from django.core.handlers.wsgi import WSGIRequest
from django.db import OperationalError
from django.test import Client, RequestFactory

from web.builds.models import Build
from web.middleware import UploadLimitMiddleware
from web.server import Turns

pytestmark = pytest.mark.django_db
TEMPLATES = [
    path
    for path in Path(__file__).parents[2].glob("web/**/templates/**/*.html")
    if path.name
    not in ("book.html", "card.html", "chapter.html", "sheet.html", "target.html", "template.html", "wiring_chapter.html")
]  # these become PDF


@pytest.mark.parametrize("station", ["place", "frame", "tilt", "worth", "wind", "cutting", "log"])
def test_pages_carry_a_strict_policy_and_obey_it(site, build, station):
    answer = site.get(f"/builds/{build.pk}/{station}/")
    policy = answer["Content-Security-Policy"]
    assert "script-src 'self'" in policy
    assert "style-src 'self'" in policy
    assert "unsafe" not in policy
    assert answer["X-Frame-Options"] == "DENY"
    assert answer["X-Content-Type-Options"] == "nosniff"
    page = answer.content.decode()
    assert not re.search(r"<script(?![^>]*\bsrc=)", page)
    assert not re.search(r"\s(style|on\w+)=\"", page)


@pytest.mark.parametrize("path", TEMPLATES, ids=lambda path: path.name)
def test_templates_hold_no_inline_script_style_or_raw_text(path):
    text = path.read_text()
    assert not re.search(r"<style|\sstyle=|\son[a-z]+=\"|\|safe|autoescape off|https?://(?!www\.w3\.org)", text)
    for form in re.findall(r"<form[^>]*method=\"post\".*?</form>", text, re.DOTALL):
        assert "csrf_token" in form


def test_a_post_without_its_token_is_refused_in_words(person, build):
    strict = Client(enforce_csrf_checks=True)
    strict.force_login(person, backend="django.contrib.auth.backends.ModelBackend")
    answer = strict.post(f"/builds/{build.pk}/delete/")
    assert answer.status_code == 403
    assert "waited too long" in answer.content.decode()
    assert Build.objects.get().deleted_at is None


def test_one_person_cannot_take_the_whole_machine(site, build, person, stranger, settings, monkeypatch):
    """Processor time is counted for each person and minute; another person goes on, and so does the next minute."""
    address = f"/builds/{build.pk}/tilt/"
    settings.PERSON_SECONDS = 0.001
    keys = [f"work:{who.pk}:{minute}" for who in (person, stranger) for minute in (100_000_000, 100_000_001)]
    cache.delete_many(keys)
    monkeypatch.setattr("web.middleware.time.time", lambda: 6_000_000_000.0)
    assert site.get(address).status_code == 200
    refused = site.get(address)
    assert refused.status_code == 429
    assert "Nothing was lost" in refused.content.decode()
    other = Client()
    other.force_login(stranger, backend="django.contrib.auth.backends.ModelBackend")
    assert other.get("/builds/").status_code == 200
    monkeypatch.setattr("web.middleware.time.time", lambda: 6_000_000_060.0)
    assert site.get(address).status_code == 200
    cache.delete_many(keys)


def test_names_are_shown_as_text(site, build):
    site.post(f"/builds/{build.pk}/rename/", {"name": "<img src=x>"})
    page = site.get(f"/builds/{build.pk}/tilt/").content.decode()
    assert "<img src=x>" not in page
    assert "&lt;img src=x&gt;" in page


def test_an_upload_of_200_mb_is_read_away_and_refused():
    """The server reads it away before the request takes a turn, and the application answers."""

    class Endless(io.RawIOBase):
        taken = 0

        def read(self, size: int = -1) -> bytes:
            self.taken += size
            return b"x" * size

    def application(environ, start_response):
        request = WSGIRequest(environ)
        answer = UploadLimitMiddleware(lambda _: pytest.fail("the view was reached"))(request)
        start_response(str(answer.status_code), [])
        return [answer.content, request.META["wsgi.input"].read()]

    body, status = Endless(), []
    environ = RequestFactory()._base_environ()
    environ |= {"REQUEST_METHOD": "POST", "PATH_INFO": "/builds/1/place/", "CONTENT_LENGTH": "200000000", "wsgi.input": body}
    said, left = Turns(application, 16_000_000)(environ, lambda code, heads: status.append(code))
    assert status == ["413"] and b"200 MB" in said and left == b""
    assert body.taken == 200_000_000


def test_a_database_that_is_away_gives_a_clear_page_and_comes_back(site, build, monkeypatch):
    def away(*args, **kwargs):
        raise OperationalError(2006, "Server has gone away")

    with monkeypatch.context() as broken:
        broken.setattr(Build.objects.__class__, "of", away, raising=False)
        broken.setattr("web.builds.shell.own_build", away)
        answer = site.get(f"/builds/{build.pk}/tilt/")
        assert answer.status_code == 503
        assert "away for a moment" in answer.content.decode()
        assert answer["Retry-After"] == "5"
    assert site.get(f"/builds/{build.pk}/tilt/").status_code == 200


def test_a_database_that_is_away_before_the_person_is_known_gives_the_same_page(site, build, monkeypatch):
    def away(request):
        raise OperationalError(2002, "Can't connect")

    site.raise_request_exception = False
    with monkeypatch.context() as broken:
        broken.setattr("django.contrib.auth.middleware.get_user", away)
        answer = site.get(f"/builds/{build.pk}/tilt/")
        assert answer.status_code == 503
        assert "away for a moment" in answer.content.decode()
    assert site.get(f"/builds/{build.pk}/tilt/").status_code == 200


def test_programming_errors_are_not_shown_as_an_absent_database(site, build, monkeypatch):
    def wrong(*args, **kwargs):
        raise OperationalError(1054, "Unknown column")

    monkeypatch.setattr("web.builds.shell.own_build", wrong)
    with pytest.raises(OperationalError):
        site.get(f"/builds/{build.pk}/tilt/")


def test_pages_that_are_not_there(site):
    answer = site.get("/builds/999999/tilt/")
    assert answer.status_code == 404
    assert "Nothing is here" in answer.content.decode()
    assert site.get("/nowhere/").status_code == 404
