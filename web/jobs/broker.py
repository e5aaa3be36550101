"""Whether the broker answers. Without it everything but long work goes on."""

from __future__ import annotations

import socket
import time
from urllib.parse import urlparse

from django.conf import settings

ASK_AGAIN = 2.0  # seconds
_last: tuple[float, bool] = (-1e9, False)


def broker_is_up() -> bool:
    """True where something listens at the broker's address; asked at most every two seconds."""
    global _last
    if settings.CELERY_TASK_ALWAYS_EAGER:
        return True
    when, up = _last
    if time.monotonic() - when < ASK_AGAIN:
        return up
    address = urlparse(settings.CELERY_BROKER_URL)
    try:
        socket.create_connection((address.hostname or "127.0.0.1", address.port or 6379), 0.3).close()
        up = True
    except OSError:
        up = False
    _last = (time.monotonic(), up)
    return up
