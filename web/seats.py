"""Marks by which a browser tells whose the things are that it kept: of the session, and of the account. They say nothing to anybody else."""

from __future__ import annotations

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.utils.crypto import salted_hmac


def seat_of(request: HttpRequest) -> str:
    """The mark of this session: pages that were kept under another are not shown; empty where nobody is signed in."""
    session, user = getattr(request, "session", None), getattr(request, "user", None)
    if session is None or user is None or not user.is_authenticated or not session.session_key:
        return ""
    return salted_hmac("seat", session.session_key).hexdigest()[:20]


def account_of(request: HttpRequest) -> str:
    """The mark of the person: what was typed without a connection waits for the same one, over many sessions."""
    user = getattr(request, "user", None)
    return salted_hmac("account", str(user.pk)).hexdigest()[:20] if user is not None and user.is_authenticated else ""


class SeatMiddleware:
    """Tells the mark of the session with every page of somebody who is signed in."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        if response.get("Content-Type", "").startswith("text/html") and "_cached_user" in request.__dict__:
            response["X-Seat"] = seat_of(request)
        return response
