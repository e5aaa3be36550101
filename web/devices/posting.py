"""What played devices send, and how: a batch is sent again until it is kept, which counts once."""

from __future__ import annotations

import json
import time
import urllib.error
import urllib.request
from typing import Any

from django.core.management.base import CommandError
from django.utils import timezone

from sundial.errors import BriefError
from web.builds.models import Build
from web.devices.models import Token
from web.log.store import source_named
from web.numbers import whole

TRIES = 8


def build_named(told: str) -> Build:
    """A build by its number or name. CommandError where there is none."""
    rows = Build.objects.whole().filter(deleted_at=None)
    number = whole(told)
    found = rows.filter(name=told).order_by("demo", "-pk").first() if number is None else rows.filter(pk=number).first()
    if found is None:
        raise CommandError(f"there is no build {told!r}")
    return found


def new_key(build: Build, name: str, utc_offset: float) -> str:
    """A new key of a played device each time; the ones of earlier runs are taken away."""
    try:
        source = source_named(build, name, utc_offset)
    except BriefError as error:
        raise CommandError(str(error)) from None
    Token.objects.filter(build=build, name=name, revoked_at=None).update(revoked_at=timezone.now())
    return Token.made(build, source, name)[1]


def asked(url: str, secret: str, body: dict[str, Any] | None = None) -> dict[str, Any]:
    """The answer to a batch, or to a question where there is no body. CommandError where it is refused or nobody answers."""
    data = None if body is None else json.dumps(body).encode()
    request = urllib.request.Request(  # noqa: S310
        url,
        data,
        method="GET" if body is None else "POST",
        headers={"Content-Type": "application/json", "Authorization": f"Bearer {secret}"},
    )
    for attempt in range(TRIES):
        try:
            with urllib.request.urlopen(request, timeout=20) as answer:  # noqa: S310
                found: dict[str, Any] = json.loads(answer.read())
                return found
        except urllib.error.HTTPError as error:
            if error.code in (429, 503):  # too often, or the database is away: the same again
                time.sleep(5)
                continue
            raise CommandError(f"refused: {error.read()[:300].decode(errors='replace')}") from None
        except urllib.error.URLError as error:
            if attempt == TRIES - 1:
                raise CommandError(f"{url} cannot be reached: {error.reason}") from None
            time.sleep(2**attempt)
    raise CommandError(f"{url} did not answer in {TRIES} tries")
