"""Who asks too often is slowed down: counters in the cache, shared by all web workers. Without the cache nothing is counted."""

from __future__ import annotations

from dataclasses import dataclass

from django.conf import settings
from django.core.cache import cache
from django.http import HttpRequest

AN_HOUR = 3600
BETWEEN = 10  # seconds between tries of an address that has failed often


@dataclass(frozen=True)
class Counter:
    """Counts what happens in an hour, by who does it."""

    name: str

    def add(self, who: str) -> int:
        """One more; how many it makes."""
        key = f"throttle:{self.name}:{who}"
        if cache.add(key, 1, timeout=AN_HOUR):
            return 1
        try:
            return int(cache.incr(key))
        except ValueError:  # ended just now, or the cache is away
            return 1

    def count(self, who: str) -> int:
        """How many there were within the hour."""
        return int(cache.get(f"throttle:{self.name}:{who}") or 0)


FAILED_SIGN_INS, SIGN_UPS, VISITORS, CODES = Counter("failed"), Counter("sign-ups"), Counter("visitors"), Counter("codes")


def address_of(request: HttpRequest) -> str:
    """The client's address, proxies that are trusted looked through (see ``TrustedProxyMiddleware``)."""
    return str(request.META.get("REMOTE_ADDR") or "local")


def must_wait(request: HttpRequest) -> bool:
    """Whether an address that failed under many names tries again too soon: from then on one try in ten seconds is taken."""
    where = address_of(request)
    if FAILED_SIGN_INS.count(where) < settings.FAILED_SIGN_INS_AN_HOUR:
        return False
    return not cache.add(f"throttle:slow:{where}", 1, timeout=BETWEEN)
