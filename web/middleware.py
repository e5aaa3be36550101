"""What can go wrong around any view: the database is away, its disk is full, two writers lock each other out, an upload is far
too large, one person takes all there is, the core refuses what a build holds. And what is known of a request: whose it is
behind proxies, and a line in the log."""

import errno
import logging
import secrets
import time
from collections.abc import Callable
from contextlib import suppress

from django.conf import settings
from django.core.cache import cache
from django.db import DatabaseError, IntegrityError, InterfaceError, OperationalError, connection
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.template import Context, Engine

from sundial.errors import BriefError
from web.addresses import client_address, is_trusted, networks
from web.callers import CALLERS
from web.jobs.broker import broker_is_up
from web.logs import request_id

access = logging.getLogger("web.access")
AWAY = {1053, 1040, 2002, 2003, 2006, 2013, 2055, 4031}  # MariaDB and client error numbers: gone, refused, lost, shutting down
FULL = {1021, 1114}  # the disk is full, the table is full: what InnoDB says when nothing more can be written
LOCKED = {1205, 1213}  # a lock was waited for too long, a deadlock: the transaction was rolled back
NO_PARENT = 1452  # a row whose build or person is not there any more
TRIES = 3
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


def disk_is_full(error: BaseException) -> bool:
    """True where a file or a table could not grow."""
    if isinstance(error, OSError):
        return error.errno in (errno.ENOSPC, errno.EDQUOT)
    code = error.args[0] if isinstance(error, DatabaseError) and error.args else None
    return code in FULL or (code == 1030 and "28" in str(error.args[1:]))


def is_locked(error: BaseException) -> bool:
    """True where two transactions met, and this one was rolled back."""
    return isinstance(error, OperationalError) and bool(error.args) and error.args[0] in LOCKED


def full_page() -> HttpResponse:
    """The write is refused; what was saved before stays."""
    page = Engine.get_default().get_template("full.html").render(Context({}))
    return HttpResponse(page, status=507)


def busy_page() -> HttpResponse:
    """Two changes met, and this one gave way."""
    page = Engine.get_default().get_template("busy.html").render(Context({}))
    return HttpResponse(page, status=503, headers={"Retry-After": "1"})


def gone_page() -> HttpResponse:
    """What this belongs to was deleted while it was on its way."""
    page = Engine.get_default().get_template("gone.html").render(Context({}))
    return HttpResponse(page, status=410)


def trouble_page(error: BaseException) -> HttpResponse | None:
    """The page for what a database or a disk may do at any time; None where the error is our own."""
    if disk_is_full(error):
        return full_page()
    if is_locked(error):
        return busy_page()
    if isinstance(error, IntegrityError) and error.args and error.args[0] == NO_PARENT:
        return gone_page()
    return away_page() if isinstance(error, Exception) and database_is_away(error) else None


class TrustedProxyMiddleware:
    """The client's address where a proxy that is trusted says it; what anybody else says in such headers is dropped."""

    def __init__(self, get_response: Handler) -> None:
        self.get_response = get_response
        self.trusted = networks(settings.TRUSTED_PROXIES)

    def __call__(self, request: HttpRequest) -> HttpResponse:
        meta = request.META
        if is_trusted(meta.get("REMOTE_ADDR", ""), self.trusted):
            meta["REMOTE_ADDR"] = client_address(meta, self.trusted)
        else:
            for name in ("HTTP_X_FORWARDED_FOR", "HTTP_X_FORWARDED_PROTO", "HTTP_X_FORWARDED_HOST", "HTTP_X_REQUEST_ID"):
                meta.pop(name, None)
        return self.get_response(request)


class RequestLogMiddleware:
    """Gives every request an id, tells it in the answer, and writes one line when it is done."""

    def __init__(self, get_response: Handler) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        given = request.META.get("HTTP_X_REQUEST_ID", "")
        mine = given if given.isascii() and given.isalnum() and len(given) <= 40 else secrets.token_hex(6)
        token, start = request_id.set(mine), time.perf_counter()
        try:
            response = self.get_response(request)
            response["X-Request-ID"] = mine
            user = getattr(request, "user", None) if hasattr(request, "_cached_user") else None
            match = request.resolver_match
            secret = match is not None and "token" in match.kwargs
            told = {
                "method": request.method,
                "path": f"/{match.route}" if secret and match else request.path[:200],
                "status": response.status_code,
                "milliseconds": round((time.perf_counter() - start) * 1000),
                "user": user.pk if user is not None else None,
            }
            access.info("request", extra=told)
            return response
        finally:
            request_id.reset(token)


class DatabaseAwayMiddleware:
    """Answers with a clear page while the database is away, its disk full, or two changes meet; what comes after works as before."""

    def __init__(self, get_response: Handler) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        try:
            return self.get_response(request)
        except (DatabaseError, InterfaceError, OSError) as error:
            page = trouble_page(error)
            if page is None:
                raise
            return page

    def process_exception(self, request: HttpRequest, error: Exception) -> HttpResponse | None:
        """A page that two locks kept apart is simply asked for again: reading it wrote nothing that counts."""
        match = request.resolver_match
        again = match is not None and request.method in ("GET", "HEAD") and not connection.in_atomic_block
        for _ in range(TRIES - 1):
            if not (again and match and is_locked(error)):
                break
            try:
                response: HttpResponse = match.func(request, *match.args, **match.kwargs)
                return response
            except OperationalError as met:
                error = met
        return trouble_page(error)


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
    """Refuses a request with a body over the limit; the server has read it away, so that the browser hears the answer."""

    def __init__(self, get_response: Handler) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        try:
            length = int(request.META.get("CONTENT_LENGTH") or 0)
        except ValueError:
            length = 0
        if length <= settings.UPLOAD_LIMIT:
            return self.get_response(request)
        words = (
            f"That file has {length / 1e6:.0f} MB. A year of weather has under 16 MB: nothing was changed, choose another file."
        )
        return HttpResponse(words, status=413, content_type="text/plain; charset=utf-8")


class FairShareMiddleware:
    """Bounds the computing of one person's requests, or of one address's that nobody is signed in at: processor time in each minute, counted
    for all web workers together. The server learns whose a session is, and shares its turns by that (``web.server.FairTurns``).

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
        who = str(request.user.pk) if known else f"at {request.META.get('REMOTE_ADDR') or 'local'}"
        if known:
            CALLERS.remember(request.META, f"person {who}")
        if not broker_is_up():  # the cache lives there: a hung one would be waited for at every count
            return self.get_response(request)
        key = f"work:{who}:{int(time.time() // 60)}"
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
