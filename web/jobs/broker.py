"""Whether the broker answers. Without it everything but long work goes on."""

from __future__ import annotations

import socket
import threading
import time
from urllib.parse import urlparse

import redis
from django.conf import settings

ASK_AGAIN = 2.0  # seconds
PATIENCE = 0.3  # seconds for an answer: one that hangs counts as away
_last: tuple[float, bool] = (-1e9, True)
_asking = threading.Lock()


def broker_is_up() -> bool:
    """True where the broker answered; asked at most every two seconds, by one thread of a process while the others take its last answer."""
    global _last
    if settings.CELERY_TASK_ALWAYS_EAGER:
        return True
    when, up = _last
    if time.monotonic() - when < ASK_AGAIN or not _asking.acquire(blocking=when < 0):
        return up
    try:
        if time.monotonic() - _last[0] >= ASK_AGAIN:
            _last = (time.monotonic(), _answers(settings.CELERY_BROKER_URL))
        return _last[1]
    finally:
        _asking.release()


def _answers(url: str) -> bool:
    """Whether what listens there says so; of a broker that is not Redis, whether anything listens."""
    address = urlparse(url)
    try:
        if not address.scheme.startswith("redis"):
            socket.create_connection((address.hostname or "127.0.0.1", address.port or 5672), PATIENCE).close()
            return True
        with redis.Redis.from_url(url, socket_timeout=PATIENCE, socket_connect_timeout=PATIENCE) as client:
            return bool(client.ping())
    except (OSError, redis.RedisError):
        return False
