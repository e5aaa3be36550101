"""What can go wrong around any view: the database is away, an upload is far too large, one person takes all there is, the core
refuses what a build holds."""

import time
from collections.abc import Callable
from contextlib import suppress

from django.conf import settings
from django.core.cache import cache
from django.db import InterfaceError, OperationalError
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.template import Context, Engine

from sundial.errors import BriefError

AWAY = {1053, 1040, 2002, 2003, 2006, 2013, 2055, 4031}  # MariaDB and client error numbers: gone, refused, lost, shutting down
Handler = Callable[[HttpRequest], HttpResponse]


def database_is_away(error: Exception) -> bool:
    """True where the error says that the server cannot be reached (not that a query was wrong)."""
    return isinstance(error, InterfaceError) or (
        isinstance(error, OperationalError) and bool(error.args) and error.args[0] in AWAY
    )


def away_page() -> HttpResponse:
    """A page that needs no database, says that nothing was lost, and tries again by itself."""
    page = Engine.get_default().get_template("away.html").render(Context({}))
    return HttpResponse(page, status=503, headers={"Retry-After": "5", "Refresh": "5"})


class DatabaseAwayMiddleware:
    """Answers 503 with a clear page while the database is away; the next request after it is back works as before."""

    def __init__(self, get_response: Handler) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        try:
            return self.get_response(request)
        except (OperationalError, InterfaceError) as error:
            if database_is_away(error):
                return away_page()
            raise

    def process_exception(self, request: HttpRequest, error: Exception) -> HttpResponse | None:
        return away_page() if database_is_away(error) else None


class RefusalMiddleware:
    """Tells a core's refusal that no view has told: a build whose parts do not fit together any more, asked for a file."""

    def __init__(self, get_response: Handler) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, error: Exception) -> HttpResponse | None:
        if not isinstance(error, BriefError):
            return None
        return render(request, "refused.html", {"refusal": str(error)}, status=422)


class UploadLimitMiddleware:
    """Refuses a request with a body over the limit, after reading it away so that the browser hears the answer."""

    def __init__(self, get_response: Handler) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        try:
            length = int(request.META.get("CONTENT_LENGTH") or 0)
        except ValueError:
            length = 0
        if length <= settings.UPLOAD_LIMIT:
            return self.get_response(request)
        left = min(length, 1_000_000_000)
        while left > 0:
            part = request.META["wsgi.input"].read(min(left, 1 << 20))
            if not part:
                break
            left -= len(part)
        words = (
            f"That file has {length / 1e6:.0f} MB. A year of weather has under 16 MB: nothing was changed, choose another file."
        )
        return HttpResponse(words, status=413, content_type="text/plain; charset=utf-8")


class FairShareMiddleware:
    """Bounds the computing of one person's requests: processor time in each minute, counted for all web workers together.

    Refused in words beyond ``settings.PERSON_SECONDS``. Without the cache nothing is counted and nothing refused.
    """

    def __init__(self, get_response: Handler) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        try:
            known = request.user.is_authenticated
        except (OperationalError, InterfaceError) as error:
            if database_is_away(error):  # each middleware's exceptions are made a response before the one around it sees them
                return away_page()
            raise
        if not known:
            return self.get_response(request)
        key = f"work:{request.user.pk}:{int(time.time() // 60)}"
        if (cache.get(key) or 0) >= settings.PERSON_SECONDS * 1000:
            words = "That was a great deal of reckoning within a minute. Nothing was lost: go on in a moment."
            return HttpResponse(words, status=429, content_type="text/plain; charset=utf-8", headers={"Retry-After": "30"})
        start = time.thread_time()
        try:
            return self.get_response(request)
        finally:
            spent = int((time.thread_time() - start) * 1000)
            if not cache.add(key, spent, timeout=120):
                with suppress(ValueError):  # the cache is away
                    cache.incr(key, spent)
