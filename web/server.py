"""How the web server keeps its threads from slow clients and its cores from too many requests at once."""

from __future__ import annotations

import io
import os
import socket
import struct
import threading
from collections.abc import Callable, Iterable
from typing import Any

from gunicorn.workers.gthread import ThreadWorker

SILENT = 10  # seconds without a byte, after which a client that has not finished its request is dropped
DEAF = 60  # seconds without taking a byte of the answer
AT_ONCE = max(2, os.cpu_count() or 2)  # requests of one process that compute at the same time; the others wait their turn
Application = Callable[[dict[str, Any], Callable[..., Any]], Iterable[bytes]]


class PatientWorker(ThreadWorker):
    """Gunicorn's worker with threads, whose sockets do not wait for ever."""

    def handle(self, conn: Any) -> Any:
        for option, seconds in ((socket.SO_RCVTIMEO, SILENT), (socket.SO_SNDTIMEO, DEAF)):
            conn.sock.setsockopt(socket.SOL_SOCKET, option, struct.pack("ll", seconds, 0))
        return super().handle(conn)


class Turns:
    """A WSGI application of which a few requests run at once. A body is read before its turn comes, so that whoever sends it
    slowly holds up a thread and nobody else."""

    def __init__(self, application: Application, largest: int, at_once: int = AT_ONCE) -> None:
        self._application, self._largest = application, largest
        self._turns = threading.BoundedSemaphore(at_once)

    def __call__(self, environ: dict[str, Any], start_response: Callable[..., Any]) -> Iterable[bytes]:
        if environ.get("PATH_INFO") == "/healthz":  # alive, however many wait
            return self._application(environ, start_response)
        try:
            length = int(environ.get("CONTENT_LENGTH") or 0)
        except ValueError:
            length = 0
        if 0 < length <= self._largest:
            environ["wsgi.input"] = io.BytesIO(environ["wsgi.input"].read(length))
        with self._turns:
            return self._application(environ, start_response)
