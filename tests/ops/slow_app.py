"""The smallest application behind the real server settings."""

from collections.abc import Callable, Iterable
from typing import Any

from web.server import Turns


def answer(environ: dict[str, Any], start_response: Callable[..., Any]) -> Iterable[bytes]:
    length = len(environ["wsgi.input"].read())
    start_response("200 OK", [("Content-Type", "text/plain")])
    return [str(length).encode()]


application = Turns(answer, 16_000_000)
