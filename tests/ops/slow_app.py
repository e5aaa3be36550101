"""The smallest application behind the real server settings."""

import os
import time
from collections.abc import Callable, Iterable
from pathlib import Path
from typing import Any
from urllib.parse import parse_qs

from web.server import Turns


def answer(environ: dict[str, Any], start_response: Callable[..., Any]) -> Iterable[bytes]:
    length = len(environ["wsgi.input"].read())
    asked = parse_qs(environ.get("QUERY_STRING", ""))
    if "until" in asked:  # held up until that file is there
        while not Path(asked["until"][0]).exists():
            time.sleep(0.01)
    start_response("200 OK", [("Content-Type", "text/plain")])
    return [str(os.getpid() if "who" in asked else length).encode()]


application = Turns(answer, 16_000_000)
